package board

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Cut is how a board is cut out.
type Cut struct {
	Saw  string
	Pace plan.Pace
}

// Reckon shapes a board: what each recess takes, and the record of the stage, at
// the saw, the drill and the router.
func Reckon(s Shaped, c Conditions, cut Cut) ([]RecessWork, stage.Record) {
	area := s.Area()
	density := craft.Term{Name: "density", Value: stock.Density(c.Wood.Over(s.Outline)), Unit: "kg/m³"}
	face := craft.Term{Name: "face", Value: area / 100, Unit: craft.CM2}
	r := stage.Record{Stage: craft.Shape, Verdicts: CheckShape(s, c), Figures: []craft.Figure{
		{
			Key: "shape.area", Stage: craft.Shape, Label: "Face", Value: area / 100, Unit: craft.CM2,
			Formula: "outline − holes", Source: "measured on the outline",
		},
		{
			Key: "shape.round", Stage: craft.Shape, Label: "Round the outline", Value: s.Outline.Perimeter(),
			Unit:    craft.MM,
			Formula: "length of the outline", Source: "measured on the outline",
		},
		{
			Key: "shape.mass", Stage: craft.Shape, Label: "Weighs", Value: s.Mass(c.Thickness, c.Wood), Unit: craft.KG,
			Formula: "(face × final thickness, less what slanting edges and recesses take) × density",
			Terms: []craft.Term{
				face, {Name: "final thickness", Value: c.Thickness, Unit: craft.MM},
				{Name: "volume", Value: s.Volume(c.Thickness) / 1000, Unit: craft.ML}, density,
			},
			Source: "species table",
		},
	}}
	for _, h := range s.Handles {
		r.Figures = append(r.Figures, h.OffCentre(s))
	}
	work := Work(s, c)
	s.steps(&r, work, cut)
	return work, r
}

// steps lists the work in order: bores, inner cuts, outline, recesses, edges.
func (s Shaped) steps(r *stage.Record, work []RecessWork, cut Cut) {
	bored, sawn := 0, 0.0
	var holes, entered, marks []string
	for i, h := range s.Handles {
		marks = append(marks, s.boreMark(i)...)
		if name := h.Name(); !slices.Contains(holes, name) {
			holes = append(holes, name)
		}
		bored++
		switch h.Kind {
		case Slotted:
			bored++ // two bored holes and the short cut between
		case Hole, CordHole:
		default:
			sawn += s.Holes[i].Perimeter()
			entered = append(entered, h.Name())
		}
	}
	if bored > 0 {
		detail := strings.Join(append(marks, "Back it with scrap"), ". ")
		if c := s.Design.Handle; c.Kind != Hole && c.Kind != CordHole && len(entered) > 0 {
			detail += "; an entry hole inside the waste of the " + strings.Join(entered, ", ")
		}
		r.Step("Bore the "+strings.Join(holes, " and "), detail, plan.Work("bore", plan.Bore, float64(bored), cut.Pace))
	}
	if sawn > 0 {
		inner := plan.Work("inner-cuts", plan.Curve, sawn, cut.Pace).On("blade threaded through")
		r.Step(
			"Saw out the "+strings.Join(entered, " and "),
			"Blade through the entry hole; file or sand to the line",
			inner,
		)
	}
	perimeter := s.Outline.Perimeter() - s.Natural()
	r.Step(
		"Saw the outline",
		"Outside the line; sand to it",
		plan.Work("outline", plan.Curve, perimeter, cut.Pace).On(cut.Saw),
	)
	sunk := 0.0
	var names []string
	for _, w := range work {
		sunk += w.Volume
		names = append(names, w.Name)
	}
	if sunk > 0 {
		test := plan.Timed("recess-test", plan.HogOut, 5, 5, "a test cut", nil, cut.Pace)
		r.Step("Test the recess on scrap", "Template, bush and depth, in scrap of the same wood", test)
		r.Step(
			"Hog out the "+strings.Join(names, ", "),
			"Each pass no deeper than half the bit; clamp the board and the template",
			plan.Work("recess", plan.HogOut, sunk, cut.Pace),
		)
	}
	if n := s.Worked(); n > 0 {
		edge := s.Design.Edge
		r.Step(s.Design.edgeTitle(), "A test cut on scrap first; end grain first, then along the grain",
			plan.Work("edges", plan.EdgeWork, n, cut.Pace).On(fmt.Sprintf("%s %g", edge.Kind, edge.Size)))
	}
	if _, ok := s.Design.bevel(); ok {
		r.Step("Cut the finger bevel", "Leave the flat standing at the edge",
			plan.Work("finger-bevel", plan.EdgeWork, perimeter/2, cut.Pace).On("finger bevel"))
	}
	if n := s.Natural(); n > 0 {
		r.Step(
			"Clean the live edge",
			"Bark off, knock back what is knife-thin",
			plan.Work("live-edge", plan.LiveEdge, n, cut.Pace),
		)
	}
}

// boreMark tells the bit of a bored hole and where its middle is marked: from the
// nearer end and from the centre line.
func (s Shaped) boreMark(i int) []string {
	h := s.Handles[i]
	if !h.bored() {
		return nil
	}
	hole, box := s.Holes[i].Bounds(), s.Outline.Bounds()
	x, y := (hole.MinX+hole.MaxX)/2, (hole.MinY+hole.MaxY)/2
	end, from := "the handle end", box.MaxX-x
	if x-box.MinX < from {
		end, from = "the far end", x-box.MinX
	}
	across := "on the centre line"
	const seen = 0.05 // mm
	if y > seen {
		across = craft.Length(y) + " to the left of the centre line"
	} else if y < -seen {
		across = craft.Length(-y) + " to the right of the centre line"
	}
	bit, off := craft.Size(h.Diameter), craft.Length(from)
	return []string{fmt.Sprintf("Bit of %s, its middle %s from %s, %s", bit, off, end, across)}
}

func (d Design) edgeTitle() string {
	kind := d.Edge.Kind
	if kind == "none" || kind == "" || d.Edge.Size == 0 || len(d.Edges) > 0 {
		return "Shape the edges"
	}
	return fmt.Sprintf("%s the edges", strings.ToUpper(kind[:1])+kind[1:])
}
