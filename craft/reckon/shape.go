package reckon

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/shop"
)

// Shape is a board's shape as it is drawn and as it is worked, in the board's
// own frame.
type Shape struct {
	CutLine   string             `json:"cutLine" doc:"Where the saw is led, outside the outline: SVG path data; open where natural edges are left"`
	Allowance float64            `json:"allowance" doc:"From the outline to that line, mm"`
	Planned   string             `json:"planned,omitempty" doc:"The outline as it was planned, where it was cut otherwise"`
	Narrow    string             `json:"narrow,omitempty" doc:"The narrower face of a board whose edges slant"`
	Recesses  []Sunk             `json:"recesses"`
	Sections  []board.Section    `json:"sections"`
	Stretches []board.Stretch    `json:"stretches" doc:"The outline as the router meets it, in the order in which it is best cut"`
	Entries   []board.Entry      `json:"entries"`
	Work      []board.RecessWork `json:"work" doc:"What each recess takes"`
	Balance   geom.Point         `json:"balance"`
	Feet      []geom.Point       `json:"feet"`
	Set       []Nested           `json:"set" doc:"The boards that this one must mate with"`
}

// Sunk is a recess as it is drawn.
type Sunk struct {
	Index int    `json:"index" doc:"In the design"`
	Path  string `json:"path" doc:"Its rim and, where it runs round, its inner line"`
	Under bool   `json:"under"`
	Name  string `json:"name"`
}

// Nested is another board of the set, where it nests.
type Nested struct {
	Board string         `json:"board"`
	Name  string         `json:"name"`
	Path  string         `json:"path"`
	Holes []string       `json:"holes"`
	At    geom.Placement `json:"at" doc:"In this board's frame"`
}

func (b *bench) shape(d Board, s board.Shaped, r Reckoned, c board.Conditions) Shape {
	out := Shape{Work: r.Shape.Work, Recesses: []Sunk{}, Feet: []geom.Point{}, Set: []Nested{}, Balance: s.Balance()}
	out.Allowance = board.Allowance(shop.Wander(d.Cut.Saw), b.job.Shop.Rules)
	out.CutLine = s.CutLine(out.Allowance)
	if s.Planned != nil {
		out.Planned = s.Planned.ToSVG()
	}
	if slant := s.Design.Slant; slant > 0 {
		out.Narrow = s.Outline.Shrunk(slant).SVG()
	}
	for _, cavity := range s.Cavities {
		if len(cavity.Rim) < 3 {
			continue
		}
		path := cavity.Rim.SVG()
		if len(cavity.Inner) > 2 {
			path += cavity.Inner.SVG()
		}
		if len(cavity.Lip) > 2 {
			path += cavity.Lip.SVG()
		}
		out.Recesses = append(out.Recesses, Sunk{cavity.Index, path, cavity.Recess.Under, cavity.Name(s.Design.Recesses)})
	}
	out.Sections = board.Sections(s, r.Budget.Sanded)
	out.Stretches = board.Stretches(s, c.Signed)
	out.Entries = board.Entries(s, c.Bits)
	out.Feet = append(out.Feet, c.FootSpots...)
	for _, m := range d.Mates {
		if i := b.boardAt(m.Board); i >= 0 {
			o := b.shaped[i]
			n := Nested{m.Board, b.job.Boards[i].Name, o.Path.ToSVG(), []string{}, m.At}
			for _, h := range o.HolePaths {
				n.Holes = append(n.Holes, h.ToSVG())
			}
			out.Set = append(out.Set, n)
		}
	}
	return out
}

func (b *bench) boardAt(id string) int {
	return slices.IndexFunc(b.job.Boards, func(o Board) bool { return o.ID == id })
}

// mates judges every board that this one must mate with; one that lies on
// another slab cannot be measured here.
func (b *bench) mates(d Board, s board.Shaped) (out []craft.Verdict) {
	for _, m := range d.Mates {
		if i := b.boardAt(m.Board); i >= 0 {
			out = append(out, board.MateVerdict(s.Outline, b.shaped[i].Outline.Map(m.At.Out), m.Gap, b.job.Boards[i].Name))
		}
	}
	return out
}

// warn says at each remedy that changes the design what it would make worse, in
// the shape or on the slab. One that only moves the board is offered where
// nothing is in its way.
func (b *bench) warn(d Board, verdicts []craft.Verdict, r Reckoned) {
	level := map[string]int{}
	for _, v := range verdicts {
		level[v.Check+"/"+v.Subject] = v.Level.Rank()
	}
	for i := range verdicts {
		for k := range verdicts[i].Remedies {
			remedy := &verdicts[i].Remedies[k]
			next := d
			if _, ok := remedy.Patch["design"]; !ok || remedy.Patch.Apply(&next) != nil {
				continue
			}
			place := b.place(next)
			place.Bare = true
			shaped := next.Fit.Cut(place.Shaped())
			then := b.conditions(next, shaped, r)
			then.Bare = true
			if t := next.Design.Thickness; t != d.Design.Thickness && t > 0 {
				then.Thickness = min(t, then.Most)
			}
			var worse []string
			for _, v := range slices.Concat(board.Check(shaped, then), place.Check(shaped)) {
				was, known := level[v.Check+"/"+v.Subject]
				if v.Level.Rank() > was && (known || v.Level == craft.Stop) {
					worse = append(worse, strings.ToLower(v.Finding[:1])+v.Finding[1:])
				}
			}
			if len(worse) > 0 {
				remedy.Worsens = strings.Join(worse, "; ")
			}
		}
	}
}

// handleNames names what is bored or cut through the board, in its order.
func handleNames(s board.Shaped) string {
	var names []string
	for _, h := range s.Handles {
		if !slices.Contains(names, h.Name()) {
			names = append(names, h.Name())
		}
	}
	return strings.Join(names, " and ")
}

// shapeSteps are the steps at the saw, the drill and the router.
func (b *bench) shapeSteps(d Board, r Reckoned, add adder, work worker) {
	var perimeter float64
	for _, c := range r.Cuts {
		if c.Tool == d.Cut.Saw {
			perimeter = c.Length
		}
	}
	bored, sawn := 0, 0.0
	var entered []string
	for i, h := range r.shaped.Handles {
		bored++
		switch h.Kind {
		case "slot":
			bored++ // two bored holes and the short cut between
			continue
		case "hole", "cord":
			continue
		}
		sawn += r.shaped.Holes[i].Perimeter()
		entered = append(entered, h.Name())
	}
	if bored > 0 {
		detail := "Back it with scrap"
		if c := d.Design.Handle; c.Kind != "hole" && c.Kind != "cord" && len(entered) > 0 {
			detail += "; an entry hole inside the waste of the " + strings.Join(entered, ", ")
		}
		add(craft.Shape, "Bore the "+handleNames(r.shaped), detail, work("bore", plan.Bore, float64(bored)))
	}
	if sawn > 0 {
		add(craft.Shape, "Saw out the "+strings.Join(entered, " and "), "Blade through the entry hole; file or sand to the line", work("inner-cuts", plan.Curve, sawn))
	}
	add(craft.Shape, "Saw the outline", "Outside the line; sand to it", work("outline", plan.Curve, perimeter))
	sunk := 0.0
	var names []string
	for _, w := range r.Shape.Work {
		sunk += w.Volume
		names = append(names, w.Name)
	}
	if sunk > 0 {
		add(craft.Shape, "Test the recess on scrap", "Template, bush and depth, in scrap of the same wood", plan.Timed("recess-test", plan.HogOut, 5, 5, "a test cut", nil, b.pace))
		add(craft.Shape, "Hog out the "+strings.Join(names, ", "), "Each pass no deeper than half the bit; clamp the board and the template", work("recess", plan.HogOut, sunk))
	}
	if n := r.shaped.Worked(); n > 0 {
		detail := "A test cut on scrap first; end grain first, then along the grain"
		add(craft.Shape, edgeTitle(d.Design), detail, work("edges", plan.EdgeWork, n))
	}
	if slices.ContainsFunc(d.Design.Handles(), func(h board.Handle) bool { return h.Kind == "bevel" }) {
		add(craft.Shape, "Cut the finger bevel", "Leave the flat standing at the edge", work("finger-bevel", plan.EdgeWork, perimeter/2))
	}
	if n := r.natural; n > 0 {
		add(craft.Shape, "Clean the live edge", "Bark off, knock back what is knife-thin", work("live-edge", plan.LiveEdge, n))
	}
}

func edgeTitle(d board.Design) string {
	kind := d.Edge.Kind
	if kind == "none" || kind == "" || d.Edge.Size == 0 || len(d.Edges) > 0 {
		return "Shape the edges"
	}
	return fmt.Sprintf("%s the edges", strings.ToUpper(kind[:1])+kind[1:])
}
