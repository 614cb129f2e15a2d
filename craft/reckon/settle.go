package reckon

import (
	"fmt"
	"maps"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
)

// Stored is a board as it is kept, or is to be: on a piece, with the version that
// it has; 0 for a new one. A binned one lies in the offcut bin.
type Stored struct {
	Board   Board
	Piece   string // id of the piece
	Version int
	Binned  bool
}

// Rack is a piece with the boards that are laid on it, as they are kept.
type Rack struct {
	ID     string
	Slab   slab.Slab
	Boards []Stored
}

// There is what is there when boards of a piece are to be stored.
type There struct {
	Piece   Rack
	Partner *Rack             // the leaf that opens like a book with it
	Known   map[string]Stored // boards that are named as twins, wherever they lie, by id
}

// Twins lists the ids of the boards that wanted boards, or those that are there,
// have as their twins: what a There must know.
func Twins(there []Stored, wanted []Stored) []string {
	ids := map[string]bool{}
	for _, s := range slices.Concat(there, wanted) {
		if s.Board.Twin != nil {
			ids[s.Board.Twin.Board] = true
		}
	}
	return slices.Sorted(maps.Keys(ids))
}

// Settle brings boards that are wanted on a piece in line with what is there, and
// returns all that is to be stored, at once or not at all. Where a board goes, its
// twin goes with it; a new twin is laid. A twin that has lost its board, or was let
// go by it, goes its own way. The error, of type craft.Problems, says when a piece
// would hold more boards than it may.
func Settle(there There, wanted []Stored) ([]Stored, error) {
	was := map[string]*Twin{}
	for _, s := range there.Piece.Boards {
		was[s.Board.ID] = s.Board.Twin
	}
	let := map[string]bool{} // twins whose board has let them go
	out := make([]Stored, 0, len(wanted))
	var followed []Stored
	fresh, twins := 0, 0
	for _, s := range wanted {
		s.Piece = there.Piece.ID
		if s.Version == 0 && !s.Binned {
			fresh++
		}
		old := was[s.Board.ID]
		if old != nil && (s.Binned || s.Board.Twin == nil || s.Board.Twin.Board != old.Board) {
			let[old.Board] = true
		}
		if s.Board.Twin != nil && !s.Binned {
			twin, ok := there.follows(&s.Board)
			if ok {
				followed = append(followed, twin)
				if twin.Version == 0 {
					twins++
				}
				delete(let, twin.Board.ID)
			}
		}
		out = append(out, s)
	}
	if n := there.Piece.live() + fresh; fresh > 0 && n > MostBoards {
		return nil, craft.Problems{{
			Field: "body.boards", Wrong: fmt.Sprintf("the slab would hold %d boards", n),
			Right: fmt.Sprintf("lay at most %d on it", MostBoards),
		}}
	}
	if twins > 0 && there.Partner.live()+twins > MostBoards {
		return nil, craft.Problems{{
			Field: "body.boards", Wrong: fmt.Sprintf("%s would hold %d boards", there.Partner.Slab.Name,
				there.Partner.live()+twins),
			Right: fmt.Sprintf("lay at most %d on a leaf", MostBoards),
		}}
	}
	out = append(out, followed...)
	for _, id := range slices.Sorted(maps.Keys(let)) {
		twin, ok := there.Known[id]
		if !ok || twin.Board.Twin == nil || twin.Board.Twin.Piece != there.Piece.ID {
			continue // it has let go already
		}
		twin.Board.Twin = nil
		out = append(out, twin)
	}
	return out, nil
}

// live is how many boards of the piece are not in the bin.
func (r Rack) live() (n int) {
	for _, s := range r.Boards {
		if !s.Binned {
			n++
		}
	}
	return n
}

// follows is the twin of a board where the board has it now; false where it stays
// as it is. A board whose twin went its own way has none any more.
func (t There) follows(b *Board) (twin Stored, ok bool) {
	twin, known := t.Known[b.Twin.Board]
	switch back := twin.Board.Twin; {
	case t.Partner == nil:
		b.Twin = nil
		return twin, false
	case !known: // a new one
		twin = Stored{Board: *b, Piece: t.Partner.ID}
		twin.Board.ID, twin.Board.Name, twin.Board.Mates = b.Twin.Board, b.Name+TwinName, nil
	case twin.Binned:
		return twin, false
	case twin.Piece != t.Partner.ID, back == nil, back.Board != b.ID:
		b.Twin = nil
		return twin, false
	}
	twin.Board = twin.Board.Follow(*b, t.Piece.Slab, t.Partner.Slab)
	twin.Board.Twin = &Twin{Board: b.ID, Piece: t.Piece.ID}
	return twin, true
}

// Again is the same board once more, under another id and name: it mates with nothing, and has never come back.
func (b Board) Again(id, name string) Board {
	b.ID, b.Name, b.Mates, b.Twin, b.Returned = id, name, nil, nil, nil
	return b
}

// copiesApart is how far apart copies are laid, mm.
const copiesApart = 10

// Copies lays a board again, once for each id, beside the first: along the slab,
// then in rows.
func Copies(b Board, shaped board.Shaped, s slab.Slab, ids []string) []Board {
	box := shaped.Outline.Map(b.Placement.Out).Bounds()
	stepX, stepY := box.MaxX-box.MinX+copiesApart, box.MaxY-box.MinY+copiesApart
	out := make([]Board, len(ids))
	col, row := 0, 0
	for i, id := range ids {
		col++
		if box.MaxX+float64(col)*stepX > s.Length {
			col, row = -int(box.MinX/stepX), row+1
		}
		c := b.Again(id, fmt.Sprintf("%s, %d", b.Name, i+2))
		c.Placement.X += float64(col) * stepX
		c.Placement.Y = max(-10000, c.Placement.Y-float64(row)*stepY)
		out[i] = c
	}
	return out
}

// Split cuts a board by a line into two that mate with a gap; the second has the
// given id. On the slab the saw takes its kerf between them. The error says what is
// wrong with the line.
func Split(
	b Board,
	shaped board.Shaped,
	line []board.Node,
	gap float64,
	id string,
	rules rule.Set,
) (first, second Board, err error) {
	parts, err := board.Split(shaped, line, gap)
	if err != nil {
		return first, second, err
	}
	away := parts[1].At
	d := geom.Point{X: parts[1].At.X - parts[0].At.X, Y: parts[1].At.Y - parts[0].At.Y}
	if l := d.Len(); l > 0 {
		d = d.Scale(2 * max(0, b.Cut.Apart(rules)-gap) / l)
		away.X, away.Y = away.X+d.X, away.Y+d.Y
	}
	first, second = b, b
	first.Design, second.Design = parts[0].Design, parts[1].Design
	first.Placement, second.Placement = b.Placement.Holding(parts[0].At), b.Placement.Holding(away)
	first.Mates, first.Twin = nil, nil // its twin stays whole
	for _, m := range b.Mates {
		m.At.X, m.At.Y = m.At.X-parts[0].At.X, m.At.Y-parts[0].At.Y
		first.Mates = append(first.Mates, m)
	}
	second.ID, second.Name, second.Mates, second.Twin = id, b.Name+mateName, nil, nil
	marry(&first, &second, parts[0].At, parts[1].At, gap)
	return first, second, nil
}

// MateBeside makes a board of a width whose edge mates with a side of another; it
// has the given id, and the other one knows it. The error says what is wrong with
// the side.
func MateBeside(
	b Board,
	shaped board.Shaped,
	side string,
	width, gap float64,
	id string,
) (first, mate Board, err error) {
	part, err := board.MateFor(shaped, side, width, gap)
	if err != nil {
		return first, mate, err
	}
	first, mate = b, b
	first.Mates = slices.Clone(b.Mates)
	mate.ID, mate.Name, mate.Mates, mate.Twin = id, b.Name+mateName, nil, nil
	mate.Design, mate.Placement = part.Design, b.Placement.Holding(part.At)
	marry(&first, &mate, geom.Placement{}, part.At, gap)
	return first, mate, nil
}

// mateName follows the name of a board in that of its mate.
const mateName = ", its mate"

// marry makes two boards know each other, by where they stand in one frame.
func marry(one, two *Board, a, b geom.Placement, gap float64) {
	one.Mates = append(one.Mates, board.Mate{Board: two.ID, At: geom.Placement{X: b.X - a.X, Y: b.Y - a.Y}, Gap: gap})
	two.Mates = []board.Mate{{Board: one.ID, At: geom.Placement{X: a.X - b.X, Y: a.Y - b.Y}, Gap: gap}}
}

// Renamed gives boards of a job file ids of their own here. Boards of a set name
// each other by the new ones; twins and mates that are not among them are let go.
func Renamed(boards []Board, id func() string) []Board {
	now := map[string]string{}
	for _, b := range boards {
		now[b.ID] = id()
	}
	out := slices.Clone(boards)
	for i := range out {
		b := &out[i]
		b.ID, b.Twin = now[b.ID], nil
		b.Mates = slices.DeleteFunc(slices.Clone(b.Mates), func(m board.Mate) bool { return now[m.Board] == "" })
		for k := range b.Mates {
			b.Mates[k].Board = now[b.Mates[k].Board]
		}
	}
	return out
}
