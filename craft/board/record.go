package board

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
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
			Formula: "(face × final thickness, less what edges and recesses take) × density",
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
	s.steps(&r, work, c.Tools.Bits, cut)
	return work, r
}

// steps lists the work in order: bores, inner cuts, outline, recesses, edges.
func (s Shaped) steps(r *stage.Record, work []RecessWork, bits []float64, cut Cut) {
	bored, sawn := 0, 0.0
	var holes, entered, waste, marks []string
	for i, e := range Entries(s, bits) {
		marks = append(marks, s.boreMark(i)...)
		if !slices.Contains(holes, e.Name) {
			holes = append(holes, e.Name)
		}
		bored += e.Bored()
		sawn += e.Sawn
		if e.Sawn > 0 && !slices.Contains(entered, e.Name) {
			entered = append(entered, e.Name)
		}
		if e.Sawn > 0 && e.Second == nil && !slices.Contains(waste, e.Name) {
			waste = append(waste, e.Name)
		}
	}
	if bored > 0 {
		detail := strings.Join(append(marks, "Back it with scrap"), ". ")
		if len(waste) > 0 {
			detail += "; an entry hole inside the waste of the " + strings.Join(waste, ", ")
		}
		r.Step("Bore the "+strings.Join(holes, " and "), detail, plan.Work("bore", plan.Bore, float64(bored), cut.Pace))
	}
	if sawn > 0 {
		inner := plan.Work("inner-cuts", plan.Curve, sawn, cut.Pace).On("blade threaded through")
		r.Step(
			"Saw out the "+strings.Join(entered, " and "),
			"Blade through the bored hole; file or sand to the line",
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
	s.fitted(r, cut)
	if n := s.Worked(); n > 0 {
		edge := s.Design.Edge
		r.Step(s.Design.edgeTitle(), "A test cut on scrap first; end grain first, then along the grain",
			plan.Work("edges", plan.EdgeWork, n, cut.Pace).On(fmt.Sprintf("%s %g", edge.Kind, edge.Size)))
	}
	if _, ok := s.Design.bevel(); ok {
		r.Step("Cut the finger bevel", "Leave the flat standing at the edge",
			plan.Work("finger-bevel", plan.EdgeWork, perimeter/2, cut.Pace).On("finger bevel"))
	}
}

// fitted lists the work that is done for fittings before the board is sanded.
func (s Shaped) fitted(r *stage.Record, cut Cut) {
	bores, ways := 0.0, []string{}
	for _, b := range s.Bores {
		if !b.Late {
			bores++
			ways = append(ways, b.How)
		}
	}
	if bores > 0 {
		r.Step("Bore for the fittings", strings.Join(ways, ". "), plan.Work("fit-bores", plan.Bore, bores, cut.Pace))
	}
	sawn, routed := []string{}, []string{}
	volume := 0.0
	for _, o := range s.Slots {
		if tool.SlotTool(o.Width) == tool.TableSaw {
			sawn = append(sawn, o.How)
			continue
		}
		routed, volume = append(routed, o.How), volume+o.volume()/1000
	}
	if n := len(sawn); n > 0 {
		r.Step("Slot for the fittings", strings.Join(sawn, ". "),
			plan.Work("fit-slots", plan.CrossCut, float64(n), cut.Pace))
	}
	if len(routed) > 0 {
		r.Step("Groove for the fittings", strings.Join(routed, ". "),
			plan.Work("fit-grooves", plan.HogOut, volume, cut.Pace))
	}
}

// boreMark tells the bit of a bored hole and where its middle is marked, of a slot
// those of both ends: from the nearer end and from the centre line.
func (s Shaped) boreMark(i int) (out []string) {
	h := s.Handles[i]
	if !h.bored() {
		return nil
	}
	at := []geom.Point{s.Holes[i].Centroid()}
	if h.Kind == Slotted {
		axis := s.slotAxis(i)
		at = axis[:]
	}
	box := s.Outline.Bounds()
	for _, p := range at {
		end, from := "the handle end", box.MaxX-p.X
		if p.X-box.MinX < from {
			end, from = "the far end", p.X-box.MinX
		}
		across := "on the centre line"
		const seen = 0.05 // mm
		if p.Y > seen {
			across = craft.Length(p.Y) + " to the left of the centre line"
		} else if p.Y < -seen {
			across = craft.Length(-p.Y) + " to the right of the centre line"
		}
		bit, off := craft.Size(h.Diameter), craft.Length(from)
		out = append(out, fmt.Sprintf("Bit of %s, its middle %s from %s, %s", bit, off, end, across))
	}
	return out
}

func (d Design) edgeTitle() string {
	kind := d.Edge.Kind
	if kind == "none" || kind == "" || d.Edge.Size == 0 || len(d.Edges) > 0 {
		return "Shape the edges"
	}
	return fmt.Sprintf("%s the edges", strings.ToUpper(kind[:1])+kind[1:])
}
