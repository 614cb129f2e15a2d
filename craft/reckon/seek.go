package reckon

import (
	"fmt"
	"iter"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/nest"
	"idletimber/craft/rule"
)

// Wish is a board that is to be laid, so many times.
type Wish struct {
	Board   Board   `json:"board" doc:"As drawn; its place does not matter"`
	Least   int     `json:"least" doc:"How many there must be"`
	Most    int     `json:"most"`
	Worth   float64 `json:"worth,omitempty" doc:"Of one; 0 for its area in dm²"`
	Turn    bool    `json:"turn" doc:"May be turned end for end"`
	Flip    bool    `json:"flip,omitempty" doc:"Its show face may be the slab's under face"`
	Tilt    float64 `json:"tilt,omitempty" doc:"By how many degrees it may be tilted from the grain"`
	Longest float64 `json:"longest,omitempty" doc:"May be stretched to this length; 0 for as drawn"`
	Widest  float64 `json:"widest,omitempty"`
}

// Seeking is what a search for a lay-out is to do.
type Seeking struct {
	Wishes []Wish `json:"wishes"`
	Seed   uint64 `json:"seed,omitempty"`
}

// MostWished bounds the boards of one search.
const MostWished = 40

// Check reports what cannot be sought.
func (s Seeking) Check(field string) (ps craft.Problems) {
	if len(s.Wishes) == 0 {
		ps.Add(field+".wishes", "nothing is wished for", "name a board at least")
	}
	sum := 0
	for i, w := range s.Wishes {
		at := fmt.Sprintf("%s.wishes[%d]", field, i)
		ps = append(ps, w.Board.Check(at+".board")...)
		ps.Range(at+".most", float64(w.Most), 1, MostWished)
		ps.Range(at+".least", float64(w.Least), 0, float64(max(w.Most, 0)))
		ps.Range(at+".worth", w.Worth, 0, 1e6)
		ps.Range(at+".tilt", w.Tilt, 0, 30)
		if w.Longest != 0 {
			ps.Length(at+".longest", w.Longest, w.Board.Design.Length, 5000)
		}
		if w.Widest != 0 {
			ps.Length(at+".widest", w.Widest, w.Board.Design.Width, 2000)
		}
		if w.Board.Design.Shape == board.Plank && w.Flip {
			ps.Add(at+".flip", "a plank follows the edges of its face", "lay it flipped as a board of its own")
		}
		sum += max(w.Most, 0)
	}
	if sum > MostWished {
		ps.Add(field+".wishes", fmt.Sprintf("%d boards are too many for one search", sum), fmt.Sprintf("wish for at most %d", MostWished))
	}
	return ps
}

// Placed is a board that a proposal lays.
type Placed struct {
	Wish      int            `json:"wish"`
	Placement geom.Placement `json:"placement"`
	Design    board.Design   `json:"design"`
	Path      string         `json:"path" doc:"In the board's own frame"`
	Holes     []string       `json:"holes"`
}

// Proposal is one way to lay what is wished for.
type Proposal struct {
	Boards []Placed `json:"boards"`
	Worth  float64  `json:"worth"`
	Yield  float64  `json:"yield" doc:"Share of the slab that boards cover, those laid before too, %"`
	Rest   float64  `json:"rest" doc:"Length of the slab that is left whole at its better end, mm"`
	Short  []string `json:"short" doc:"What is wished for and is not laid, in words"`
	Met    bool     `json:"met" doc:"All that must be laid is"`
}

// Sought is how far a search has come.
type Sought struct {
	Moves     int        `json:"moves" doc:"Tried so far"`
	Better    bool       `json:"-"`
	Proposals []Proposal `json:"proposals" doc:"The best first, clearly different, three at the most"`
}

// A search looks for other proposals once the first has come to rest: so many
// moves are its own, and then every other one.
const (
	alone     = 2500
	proposals = 3
)

// Seek searches for lay-outs of what is wished for about the boards of a job,
// which stay where they are, until it is broken off. No proposal gives a stop
// that the board would not have anywhere. The same seed gives the same steps.
// The error is as of Reckon.
func Seek(j Job, s Seeking) (iter.Seq[Sought], error) {
	if ps := s.Check("search"); len(ps) > 0 {
		return nil, ps
	}
	if j.Slab == nil {
		return nil, craft.Problems{{Field: "slab", Wrong: "there is no slab", Right: "give the slab to lay on"}}
	}
	b, shaped, err := set(j)
	if err != nil {
		return nil, err
	}
	k := &seeker{bench: b, seeking: s, laid: shaped}
	k.prepare()
	return k.search, nil
}

// seeker is one search.
type seeker struct {
	*bench
	seeking Seeking
	laid    []board.Shaped
	problem nest.Problem
	wish    []int             // of each piece
	own     []map[string]bool // stops that a wished board has anywhere
	around  []layout.Neighbour
}

// prepare states the problem: the sheet is the usable wood short of its ends
// and of what is laid, with what is to be kept out as holes.
func (k *seeker) prepare() {
	rules := k.job.Shop.Rules
	sheet := k.usable
	if !k.wood.NaturalEnds {
		box := sheet.Bounds()
		square := rules.Get(rule.Squaring)
		if cut := geom.Clip(sheet, geom.Bounds{MinX: square, MaxX: k.wood.Length - square, MinY: box.MinY - 1, MaxY: box.MaxY + 1}.Ring()); len(cut) > 2 {
			sheet = cut
		}
	}
	k.problem.Sheet.Outline = sheet
	for _, w := range k.seeking.Wishes {
		k.problem.Apart = max(k.problem.Apart, layout.Apart(w.Board.Cut.Saw, rules))
	}
	k.around = slices.Clone(k.taken)
	for i, s := range k.laid {
		k.around = append(k.around, neighbour(k.job.Boards[i], s))
	}
	for _, n := range k.around {
		k.problem.Sheet.Holes = append(k.problem.Sheet.Holes, n.Outline.Outset(k.problem.Apart))
	}
	for _, f := range k.wood.Flaws {
		for _, at := range f.Sections() {
			switch {
			case f.Shunned():
				k.problem.Sheet.Holes = append(k.problem.Sheet.Holes, at.Footprint())
			case f.Wish == "" && !f.Sound():
				k.problem.Soft = append(k.problem.Soft, at.Footprint())
			}
		}
	}
	k.problem.Bad = k.bad
	for i, w := range k.seeking.Wishes {
		k.own = append(k.own, k.ownStops(w.Board))
		piece := k.piece(w)
		for n := range w.Most {
			piece.Must = n < w.Least
			k.problem.Pieces = append(k.problem.Pieces, piece)
			k.wish = append(k.wish, i)
		}
	}
}

// piece is a wished board as it is laid by the search.
func (k *seeker) piece(w Wish) nest.Piece {
	d := w.Board
	if d.Design.Shape == board.Plank {
		return k.plank(w)
	}
	s := board.Draw(d.Design, nil)
	p := nest.Piece{Parts: []geom.Ring{s.Outline.Simplified(geom.Fine)}, Worth: w.worth(s), Tilt: w.Tilt, Flips: w.Flip, Turns: []float64{0}}
	if w.Turn {
		p.Turns = append(p.Turns, 180)
	}
	return p
}

func (w Wish) worth(s board.Shaped) float64 {
	if w.Worth > 0 {
		return w.Worth
	}
	return s.Outline.Area() / 1e4
}

// plankStep is how far apart the places of a plank are tried, mm.
const plankStep = 6

// plank lists the places of a plank, whose outline follows the wood.
func (k *seeker) plank(w Wish) nest.Piece {
	var p nest.Piece
	d := w.Board
	half := d.Design.Length / 2
	for x := half; x <= k.wood.Length-half; x += plankStep {
		for _, turn := range []float64{0, 180} {
			if turn > 0 && !w.Turn {
				continue
			}
			d.Placement = geom.Placement{X: x, Angle: turn}
			if !d.Design.KeepLeft || !d.Design.KeepRight {
				d.Placement.Y = (k.wood.Left(x) + k.wood.Right(x)) / 2
			}
			s := k.place(d).Shaped()
			if len(s.Outline) < 3 {
				continue
			}
			box := s.Outline.Bounds()
			if box.MaxX-box.MinX < d.Design.Length-1 { // its ends hang off
				continue
			}
			p.Poses = append(p.Poses, nest.Pose{At: d.Placement, Parts: []geom.Ring{s.Outline.Map(d.Placement.Out).Simplified(geom.Fine)}})
			p.Worth = w.worth(s)
		}
	}
	if len(p.Poses) == 0 {
		p.Parts = []geom.Ring{geom.Bounds{MaxX: 10 * k.wood.Length, MaxY: 1}.Ring()} // fits nowhere
	}
	return p
}

// at is a wished board where a search lays it.
func (k *seeker) at(l nest.Laid, id string) Board {
	d := k.seeking.Wishes[k.wish[l.Piece]].Board
	d.ID, d.Placement, d.Mates = id, l.At, nil
	return d
}

// stops are the checks that come out as a stop for a board at its place among
// others.
func (k *seeker) stops(d Board, others []layout.Neighbour) map[string]bool {
	place := k.place(d)
	place.Others, place.Bare = others, true
	s := d.Fit.Cut(place.Shaped())
	verdicts := place.Check(s)
	r := Reckoned{Blank: place.Blank(s.Outline.Map(d.Placement.Out))}
	r.Budget = k.budget(d, r.Blank, d.Cut.FlattenWhole, 0)
	r.Voids = k.measure(d, s.Outline.Map(d.Placement.Out), r.Budget)
	c := k.conditions(d, s, r)
	c.Bare = true
	out := map[string]bool{}
	for _, v := range append(verdicts, board.CheckWhereLaid(s, c)...) {
		if v.Level == craft.Stop {
			out[v.Check] = true
		}
	}
	return out
}

// ownStops are the stops of a board on the best of wood: in the middle of a
// clean slab as large as it needs.
func (k *seeker) ownStops(d Board) map[string]bool {
	clean := *k.bench
	clean.wood.Slab.Flaws = nil
	d.Placement = geom.Placement{X: k.wood.Length / 2}
	out := (&seeker{bench: &clean}).stops(d, nil)
	delete(out, "inside")
	return out
}

// bad names the pieces of a layout that have a stop where they lie.
func (k *seeker) bad(l nest.Layout) (out []int) {
	boards := make([]Board, len(l.Laid))
	rings := make([]layout.Neighbour, len(l.Laid))
	for i, o := range l.Laid {
		boards[i] = k.at(o, fmt.Sprint("sought ", o.Piece))
		rings[i] = neighbour(boards[i], k.place(boards[i]).Shaped())
	}
	for i, o := range l.Laid {
		others := slices.Concat(k.around, rings[:i], rings[i+1:])
		for check := range k.stops(boards[i], others) {
			if !k.own[k.wish[o.Piece]][check] {
				out = append(out, o.Piece)
				break
			}
		}
	}
	return out
}

// search runs the search for the first proposal, and beside it, once that has
// come to rest, those for others.
func (k *seeker) search(yield func(Sought) bool) {
	type stream struct {
		next  func() (nest.Step, bool)
		stop  func()
		best  nest.Layout
		moves int
	}
	var streams []*stream
	defer func() {
		for _, s := range streams {
			s.stop()
		}
	}()
	open := func() {
		next, stop := iter.Pull(k.problem.Search(k.seeking.Seed + uint64(len(streams))))
		streams = append(streams, &stream{next: next, stop: stop})
	}
	open()
	var found []Proposal
	moves, turn := 0, 0
	for {
		if moves > alone && len(streams) < proposals {
			open()
		}
		s := streams[turn%len(streams)]
		turn++
		step, ok := s.next()
		if !ok {
			return
		}
		moves, s.moves = moves+step.Moves-s.moves, step.Moves
		better := step.Better
		if better {
			s.best = step.Best
			bests := make([]nest.Layout, 0, len(streams))
			for _, o := range streams {
				if len(o.best.Laid) > 0 {
					bests = append(bests, o.best)
				}
			}
			found = k.propose(bests)
		}
		if !yield(Sought{Moves: moves, Better: better, Proposals: found}) {
			return
		}
	}
}

// propose draws the layouts, the best first, and leaves out what is hardly
// different.
func (k *seeker) propose(bests []nest.Layout) (out []Proposal) {
	slices.SortStableFunc(bests, func(a, b nest.Layout) int {
		switch {
		case a.Better(b):
			return -1
		case b.Better(a):
			return 1
		}
		return 0
	})
	out = []Proposal{}
	var kept []nest.Layout
	for _, l := range bests {
		if len(kept) > 0 && (l.Must < kept[0].Must || l.Worth < 0.85*kept[0].Worth) || slices.ContainsFunc(kept, func(o nest.Layout) bool { return k.alike(l, o) }) {
			continue
		}
		kept = append(kept, l)
		out = append(out, k.proposal(l))
	}
	return out
}

// alike reports layouts that a maker would not tell apart: of most boards there
// is one of the same wish at much the same place.
func (k *seeker) alike(l, o nest.Layout) bool {
	const close = 25 // mm
	same := 0
	for _, a := range l.Laid {
		for _, b := range o.Laid {
			if k.wish[a.Piece] == k.wish[b.Piece] && math.Hypot(a.At.X-b.At.X, a.At.Y-b.At.Y) < close {
				same++
				break
			}
		}
	}
	return 3*same > 2*max(len(l.Laid), len(o.Laid))
}

// proposal draws a layout, its boards stretched where they may be.
func (k *seeker) proposal(l nest.Layout) Proposal {
	p := Proposal{Boards: []Placed{}, Short: []string{}, Rest: l.Rest, Met: true}
	boards := make([]Board, len(l.Laid))
	rings := make([]geom.Ring, len(l.Laid))
	for i, o := range l.Laid {
		boards[i] = k.at(o, fmt.Sprint("sought ", o.Piece))
		rings[i] = neighbour(boards[i], k.place(boards[i]).Shaped()).Outline
	}
	area := 0.0
	for _, n := range k.around {
		area += n.Outline.Area()
	}
	count := make([]int, len(k.seeking.Wishes))
	for i, o := range l.Laid {
		w := k.seeking.Wishes[k.wish[o.Piece]]
		boards[i] = k.stretched(k.wish[o.Piece], boards[i], slices.Concat(rings[:i], rings[i+1:]))
		s := k.place(boards[i]).Shaped()
		rings[i] = s.Outline.Map(boards[i].Placement.Out)
		area += s.Outline.Area()
		placed := Placed{Wish: k.wish[o.Piece], Placement: boards[i].Placement, Design: boards[i].Design, Path: s.Path.ToSVG(), Holes: []string{}}
		for _, h := range s.HolePaths {
			placed.Holes = append(placed.Holes, h.ToSVG())
		}
		p.Boards = append(p.Boards, placed)
		p.Worth += w.worth(s)
		count[k.wish[o.Piece]]++
	}
	p.Yield = 100 * area / max(k.usable.Area(), 1)
	for i, w := range k.seeking.Wishes {
		switch {
		case count[i] < w.Least:
			p.Met = false
			p.Short = append(p.Short, fmt.Sprintf("%s: %d of at least %d", w.Board.Name, count[i], w.Least))
		case count[i] < w.Most:
			p.Short = append(p.Short, fmt.Sprintf("%s: %d of %d", w.Board.Name, count[i], w.Most))
		}
	}
	return p
}

// stretched makes a board as long and then as wide as it may be and fits.
func (k *seeker) stretched(wish int, d Board, others []geom.Ring) Board {
	w := k.seeking.Wishes[wish]
	if d.Design.Shape == board.Plank {
		return d
	}
	around := slices.Clone(k.around)
	for _, r := range others {
		around = append(around, layout.Neighbour{Outline: r})
	}
	const grazing = 0.1 // mm, as the search allows
	sheet := geom.NewIndex(k.problem.Sheet.Outline)
	fits := func(d Board) bool {
		place := k.place(d)
		place.Others, place.Bare = around, true
		ring := place.Shaped().Outline.Map(d.Placement.Out)
		for _, q := range ring.Dense(4) {
			if _, off := sheet.Nearest(q); off > grazing && !sheet.Contains(q) {
				return false
			}
		}
		for _, h := range k.problem.Sheet.Holes {
			if geom.Gap(ring, h) <= 0 {
				return false
			}
		}
		for _, o := range others {
			if geom.Gap(ring, o) < k.problem.Apart {
				return false
			}
		}
		stops := k.stops(d, around)
		for check := range stops {
			if !k.own[wish][check] {
				return false
			}
		}
		return true
	}
	d = stretch(d, w.Longest, w.Widest, fits)
	return d
}

// stretch makes a board longer and then wider while it fits, about its middle or
// from either end.
func stretch(d Board, longest, widest float64, fits func(Board) bool) Board {
	grow := func(to float64, size func(*Board) *float64, along geom.Point) {
		for step := math.Floor(to - *size(&d)); step >= 1; step = math.Floor(step / 2) {
			for _, anchor := range []float64{0, 0.5, -0.5} {
				for *size(&d)+step <= to {
					bigger := d
					*size(&bigger) += step
					q := bigger.Placement.Out(along.Scale(anchor * step))
					bigger.Placement.X, bigger.Placement.Y = q.X, q.Y
					if !fits(bigger) {
						break
					}
					d = bigger
				}
			}
		}
	}
	grow(longest, func(b *Board) *float64 { return &b.Design.Length }, geom.Point{X: 1})
	grow(widest, func(b *Board) *float64 { return &b.Design.Width }, geom.Point{Y: 1})
	return d
}
