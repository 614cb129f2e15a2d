package layout

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/making"
	"idletimber/craft/tool"
)

// Board is a board on the slab as the saws see it.
type Board struct {
	ID      string
	Name    string
	Outline geom.Ring // in the slab's frame
	Blank   Blank
	Saw     string
	Sawn    float64 // length of the outline that is sawn, mm
	Inner   []Cut   // its holes, bored and sawn, and what is cut for its fittings
}

// SlabCut is one cut in the order in which a slab is cut up.
type SlabCut struct {
	Number  int         `json:"number" doc:"In the order of cutting"`
	Kind    string      `json:"kind" enum:"cross-cut,rip,curve,bore" doc:"What kind of cut"`
	Title   string      `json:"title" doc:"What is cut"`
	Saw     string      `json:"saw" doc:"What it is sawn with"`
	A       geom.Point  `json:"a" doc:"Where it begins; of a curve the board's middle"`
	B       geom.Point  `json:"b" doc:"Where it ends, on the slab"`
	Length  float64     `json:"length" doc:"mm"`
	Setting float64     `json:"setting,omitempty" doc:"From the butt end of what is cut; of a rip, from its right edge"`
	Level   craft.Level `json:"level" doc:"The worst that is judged of it"`
	Finding string      `json:"finding,omitempty" doc:"Why it is beyond a machine, or strands a board"`
	Pieces  []string    `json:"pieces" doc:"What there is after it: the boards in each piece, or offcut"`
}

// part is a piece of the slab while it is cut up: what is left of it, by
// straight cuts only, and the boards in it.
type part struct {
	box    geom.Bounds
	boards []Board
}

func (p part) name() string {
	switch n := len(p.boards); {
	case n == 0:
		return "offcut"
	case n == 1:
		return p.boards[0].Name
	default:
		return fmt.Sprintf("%s and %d more", p.boards[0].Name, n-1)
	}
}

// CutList is a workable order of cuts: first across the slab, then along it,
// then the holes and the curves. A place where no straight cut passes between
// two boards is told: there a curve saw must follow the line.
func CutList(p Place, boards []Board) []SlabCut {
	whole := p.Usable.Bounds()
	whole.MinX, whole.MaxX = min(whole.MinX, 0), max(whole.MaxX, p.Wood.Length)
	c := cutter{place: p, parts: []part{{whole, boards}}}
	c.ends()
	for c.across() {
	}
	for c.along() {
	}
	for c.across() { // what was beside each other before
	}
	for _, b := range boards {
		for _, hole := range b.Inner {
			mid, kind := b.Outline.Centroid(), "curve"
			if hole.Bored {
				kind = "bore"
			}
			c.add(
				SlabCut{
					Kind:   kind,
					Title:  hole.Title + " of " + b.Name,
					Saw:    hole.Tool,
					A:      mid,
					B:      mid,
					Length: hole.Length,
				},
			)
		}
	}
	for _, part := range c.parts {
		for _, b := range part.boards {
			cut := SlabCut{
				Kind:   "curve",
				Title:  "Saw out " + b.Name + ", outside its line",
				Saw:    b.Saw,
				A:      b.Outline.Centroid(),
				B:      b.Outline.Centroid(),
				Length: b.Sawn,
			}
			switch {
			case len(part.boards) > 1 && !tool.FindSaw(b.Saw).Turns:
				cut.Level, cut.Finding = craft.Mind, "The "+b.Saw+" cannot follow the line between it and its "+
					"neighbour: use a band saw or a jigsaw"
			case p.tooThick(b.Saw) > 0:
				cut.Level, cut.Finding = craft.Mind, "Thicker than the saw takes"
			case len(part.boards) > 1:
				cut.Finding = "No straight cut passes between it and its neighbour: follow the line"
			}
			c.add(cut)
		}
	}
	return c.cuts
}

type cutter struct {
	place Place
	parts []part
	cuts  []SlabCut
}

func (c *cutter) add(cut SlabCut) {
	cut.Number = len(c.cuts) + 1
	cut.Level = cmp.Or(cut.Level, craft.Good)
	cut.Pieces = make([]string, len(c.parts))
	for i, p := range c.parts {
		cut.Pieces[i] = p.name()
	}
	c.cuts = append(c.cuts, cut)
}

// ends cross-cuts the slab where the first blank begins and the last one ends.
func (c *cutter) ends() {
	boards := c.parts[0].boards
	if len(boards) == 0 {
		return
	}
	from, to := math.Inf(1), math.Inf(-1)
	for _, b := range boards {
		from, to = min(from, b.Blank.FromX), max(to, b.Blank.ToX)
	}
	if from > c.parts[0].box.MinX+0.5 {
		c.cross(0, from, "", "Cross-cut the butt end off")
	}
	last := len(c.parts) - 1
	if to < c.parts[last].box.MaxX-0.5 {
		c.cross(last, to, "", "Cross-cut the far end off")
	}
}

// parter is a saw that parts boards straight, with its kerf; without a name it is what
// the shop has for the cut.
type parter struct {
	saw  string
	kerf float64
}

// parting lists the saws for a straight cut between boards, the widest kerf
// first: the usual one, and those that cut the boards out where that has no room.
func parting(boards []Board, usual parter) []parter {
	out := []parter{usual}
	for _, b := range boards {
		t := parter{b.Saw, tool.Kerf(b.Saw)}
		if t.kerf < usual.kerf && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	slices.SortStableFunc(out, func(a, b parter) int { return cmp.Compare(b.kerf, a.kerf) })
	return out
}

// cross cuts a part across at x, with a saw or, where none is named, with what the shop
// has for it.
func (c *cutter) cross(i int, x float64, saw, title string) {
	p := c.parts[i]
	low, high := p, p
	low.box.MaxX, high.box.MinX = x, x
	low.boards, high.boards = nil, nil
	for _, b := range p.boards {
		if b.Outline.Bounds().MaxX <= x {
			low.boards = append(low.boards, b)
		} else {
			high.boards = append(high.boards, b)
		}
	}
	right, left := max(c.place.Wood.Right(x), p.box.MinY), min(c.place.Wood.Left(x), p.box.MaxY)
	cut := SlabCut{
		Kind:    "cross-cut",
		Title:   title,
		Saw:     saw,
		A:       geom.Point{X: x, Y: right},
		B:       geom.Point{X: x, Y: left},
		Length:  left - right,
		Setting: x - p.box.MinX,
	}
	if saw == "" {
		of := c.place.Crossing(cut.Length, min(x-p.box.MinX, p.box.MaxX-x))
		cut.Saw, cut.Level, cut.Finding = sawn(c.place.Shop.Kit, of, tool.MitreSaw)
	}
	c.parts = slices.Replace(c.parts, i, i+1, low, high)
	c.add(cut)
}

// sawn is the saw for a straight cut: the best owned, with what keeps the usual one from
// it.
func sawn(k tool.Kit, of making.Task, usual string) (saw string, level craft.Level, finding string) {
	m := making.By(k, of)
	if m.By == nil {
		return usual, craft.Mind, m.Ways
	}
	if m.By.Tool == usual || !k.Has(usual) {
		return m.By.Tool, "", ""
	}
	return m.By.Tool, craft.Mind, "Not on the " + usual + ", " + making.Refused(k, of, usual) + ": with the " +
		m.By.Tool + ", " + m.By.Why
}

// Bowed is the hollow and wind of a piece, mm, over which it counts as twisted at a saw
// (rule).
const Bowed = 3

// rip cuts a part along at y.
func (c *cutter) rip(i int, y float64, saw string) {
	p := c.parts[i]
	right, left := p, p
	right.box.MaxY, left.box.MinY = y, y
	right.boards, left.boards = nil, nil
	for _, b := range p.boards {
		if b.Outline.Bounds().MaxY <= y {
			right.boards = append(right.boards, b)
		} else {
			left.boards = append(left.boards, b)
		}
	}
	edge := math.Inf(1)
	for x := p.box.MinX; x <= p.box.MaxX; x += 5 {
		edge = min(edge, c.place.Wood.Right(x))
	}
	cut := SlabCut{
		Kind:    "rip",
		Saw:     saw,
		A:       geom.Point{X: p.box.MinX, Y: y},
		B:       geom.Point{X: p.box.MaxX, Y: y},
		Length:  p.box.MaxX - p.box.MinX,
		Setting: y - max(edge, p.box.MinY),
	}
	cut.Title = "Rip between " + right.name() + " and " + left.name()
	if saw == "" {
		of := making.Task{Work: making.Along, Amount: 1, On: tool.Piece{
			Width: min(y-p.box.MinY, p.box.MaxY-y), Height: c.place.Wood.Rough.Thickest,
			Beside: min(y-p.box.MinY, p.box.MaxY-y),
		}}
		cut.Saw, cut.Level, cut.Finding = sawn(c.place.Shop.Kit, of, tool.TableSaw)
	}
	if tool.FindSaw(cut.Saw).Circular && c.place.Wood.Rough.Bowed > Bowed {
		cut.Level, cut.Finding = craft.Mind, "A twisted or cupped piece kicks back on a table saw: flatten a face "+
			"first, or rip it on the band saw"
	}
	c.parts = slices.Replace(c.parts, i, i+1, right, left)
	c.add(cut)
}

// gap is the middle of a stretch between boards through which a straight cut
// passes, by the bounds of their outlines along one axis.
func gap(boards []Board, kerf float64, span func(geom.Bounds) (lo, hi float64)) (float64, bool) {
	sorted := slices.Clone(boards)
	slices.SortStableFunc(sorted, func(a, b Board) int {
		la, _ := span(a.Outline.Bounds())
		lb, _ := span(b.Outline.Bounds())
		return cmp.Compare(la, lb)
	})
	_, reach := span(sorted[0].Outline.Bounds())
	for _, b := range sorted[1:] {
		lo, hi := span(b.Outline.Bounds())
		if lo-reach >= kerf {
			return (lo + reach) / 2, true
		}
		reach = max(reach, hi)
	}
	return 0, false
}

func (c *cutter) across() bool {
	return c.straight(
		parter{"", tool.CrossKerf},
		func(b geom.Bounds) (lo, hi float64) { return b.MinX, b.MaxX },
		func(i int, x float64, saw string) { c.cross(i, x, saw, "Cross-cut between boards") },
	)
}

func (c *cutter) along() bool {
	return c.straight(
		parter{"", tool.Kerf(tool.TrackSaw)},
		func(b geom.Bounds) (lo, hi float64) { return b.MinY, b.MaxY },
		c.rip,
	)
}

// straight makes one straight cut between boards of a part, with the first saw
// for which there is room; false when there is none.
func (c *cutter) straight(
	usual parter,
	span func(geom.Bounds) (lo, hi float64),
	cut func(i int, at float64, saw string),
) bool {
	for i, p := range c.parts {
		if len(p.boards) < 2 {
			continue
		}
		for _, t := range parting(p.boards, usual) {
			if at, ok := gap(p.boards, t.kerf, span); ok {
				cut(i, at, t.saw)
				return true
			}
		}
	}
	return false
}
