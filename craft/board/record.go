package board

import (
	"fmt"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// KeepClear is how far saws and clamps keep from a live edge, mm (rule).
const KeepClear = 8

// Cut is how a board is cut out.
type Cut struct {
	Makes Makes // who makes what
	Pace  plan.Pace
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
	s.steps(&r, c, cut.Makes, cut)
	return work, r
}

// drains tells whether anything that is sunk should lead water off.
func (s Shaped) drains() bool {
	return slices.ContainsFunc(s.Design.Recesses, func(r Recess) bool { return r.Kind == "slope" || r.Lip != "" })
}

// under are the works under a key.
func (m Makes) under(key string) (out Makes) {
	for _, o := range m {
		if o.Key == key {
			out = append(out, o)
		}
	}
	return out
}

// step is some works as one step: their minutes together, with one set-up where one tool
// makes them.
func (m Makes) step(key string, pace plan.Pace) plan.Step {
	step := m[0].Step(key, m[0].Task, pace)
	if len(m) == 1 {
		return step
	}
	terms := []craft.Term{}
	minutes, setup := 0.0, 0.0
	for i, o := range m {
		s := o.Step(key, o.Task, nil)
		if share := s.SetupMinutes; i > 0 && o.tool() == m[i-1].tool() {
			s.Usual -= share
		} else {
			setup += share
		}
		minutes += s.Usual
		terms = append(terms, craft.Term{Name: o.Name, Value: s.Usual, Unit: craft.Minute})
	}
	return plan.Timed(key, m[0].Kind, minutes, setup, "each in its turn, one set-up a tool", terms, pace).
		On(m[0].tool())
}

// tool is the name of what makes it; empty where nothing owned does.
func (m Made) tool() string {
	if m.By == nil {
		return ""
	}
	return m.By.Tool
}

// steps lists the work in order: bores, inner cuts, outline, recesses, edges.
func (s Shaped) steps(r *stage.Record, c Conditions, all Makes, cut Cut) {
	var holes, entered, waste, marks []string
	for i, e := range Entries(s, c.Tools.Bores()) {
		marks = append(marks, s.boreMark(i)...)
		if !slices.Contains(holes, e.Name) {
			holes = append(holes, e.Name)
		}
		if e.Sawn > 0 && !slices.Contains(entered, e.Name) {
			entered = append(entered, e.Name)
		}
		if e.Sawn > 0 && e.Second == nil && !slices.Contains(waste, e.Name) {
			waste = append(waste, e.Name)
		}
	}
	if m := all.under(BoreKey); len(m) > 0 {
		detail := strings.Join(append(marks, "Back it with scrap"), ". ")
		if len(waste) > 0 {
			detail += "; an entry hole inside the waste of the " + strings.Join(waste, ", ")
		}
		r.Step("Bore the "+strings.Join(holes, " and "), detail+". "+m[0].How(), m.step(BoreKey, cut.Pace))
	}
	if m := all.under(InnerKey); len(m) > 0 {
		r.Step(
			"Saw out the "+strings.Join(entered, " and "),
			"Blade through the bored hole; file or sand to the line. "+m[0].How(),
			m.step(InnerKey, cut.Pace),
		)
	}
	m := all.under(OutlineKey)
	then := "sand to it"
	if c.Trim {
		then = "trim and sand to it"
	}
	detail := "Outside the line; " + then + ". " + m[0].How()
	if s.Natural() > 0 {
		detail += ". Keep " + craft.Length(KeepClear) + " away from the live edge with saw, clamps and fence"
	}
	r.Step("Saw the outline", detail, m.step(OutlineKey, cut.Pace))
	if m := all.under(TrimKey); len(m) > 0 {
		proud := c.Rules.Get(rule.SandEdge)
		along := ""
		if m[0].tool() == tool.RouterTool {
			along = ", bearing against it"
		}
		r.Step(
			"Trim it to its template",
			"The template "+craft.Length(proud)+" larger all round, stuck on"+along+": so much stays to be sanded. "+
				m[0].How(),
			m.step(TrimKey, cut.Pace).On(m[0].tool()+", "+tool.FlushTrim),
		)
	}
	if m := all.under(RecessKey); len(m) > 0 {
		var names []string
		for _, o := range m {
			names = append(names, o.Name)
		}
		test := plan.Timed("recess-test", plan.HogOut, 5, 5, "a test cut", nil, cut.Pace)
		r.Step("Test the recess on scrap", "Template, bush and depth, in scrap of the same wood", test)
		detail := "Each pass no deeper than half the bit; clamp the board and the template. " + m[0].How()
		if len(s.Carving(c)) > 0 {
			detail = "Along the grain, from both ends down to the middle: turn the work there. " + m[0].How()
		}
		r.Step("Sink the "+strings.Join(names, ", "), detail, m.step(RecessKey, cut.Pace))
		if s.drains() {
			r.Step("Water test", "Pour a glass in: it must run where it should and stand nowhere; dry it at once",
				plan.Timed("water-test", plan.Water, 3, 3, "a glass of water", nil, cut.Pace))
		}
	}
	s.fitted(r, all, cut)
	if m := all.under(EdgesKey); len(m) > 0 {
		edge, detail := s.Design.Edge, "A test cut on scrap first; end grain first, then along the grain. "+m[0].How()
		if len(s.Fades()) > 0 {
			detail += ". Where it ends at the live edge, stop short and fade it by hand"
		}
		r.Step(s.Design.edgeTitle(), detail,
			m.step(EdgesKey, cut.Pace).On(fmt.Sprintf("%s, %s %g", m[0].tool(), edge.Kind, edge.Size)))
	}
	if n := s.workedBy()["eased"]; n > 0 {
		key := EdgesKey
		if len(all.under(EdgesKey)) > 0 {
			key = EaseKey
		}
		r.Step("Ease the edges", "By hand, with a block", plan.Work(key, plan.EdgeWork, n, cut.Pace).On("eased"))
	}
	if m := all.under(BevelKey); len(m) > 0 {
		r.Step("Cut the finger bevel", "Leave the flat standing at the edge. "+m[0].How(),
			m.step(BevelKey, cut.Pace).On(m[0].tool()+", finger bevel"))
	}
}

// fitted lists the work that is done for fittings before the board is sanded.
func (s Shaped) fitted(r *stage.Record, all Makes, cut Cut) {
	ways := []string{}
	for _, b := range s.Bores {
		if !b.Late {
			ways = append(ways, b.How)
		}
	}
	if m := all.under(makeFitBores); len(m) > 0 {
		r.Step("Bore for the fittings", strings.Join(append(ways, m[0].How()), ". "), m.step(makeFitBores, cut.Pace))
	}
	sawn, routed := []string{}, []string{}
	for _, o := range s.Slots {
		if o.Width <= narrowSlot {
			sawn = append(sawn, o.How)
		} else {
			routed = append(routed, o.How)
		}
	}
	if m := all.under(makeFitSlots); len(m) > 0 {
		r.Step("Slot for the fittings", strings.Join(append(sawn, m[0].How()), ". "), m.step(makeFitSlots, cut.Pace))
	}
	if slices.ContainsFunc(s.Slots, func(o Slot) bool { return o.Of == "slicer" }) {
		r.Step(
			"Dry-fit the slicer",
			"Arm in its bore, wire in its slot, before the edges are shaped: it must swing free",
			plan.Timed("fit-dry", plan.DryFit, 4, 0, "a try", nil, cut.Pace),
		)
	}
	if m := all.under(makeGrooves); len(m) > 0 {
		r.Step("Groove for the fittings", strings.Join(append(routed, m[0].How()), ". "),
			m.step(makeGrooves, cut.Pace))
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
	return fmt.Sprintf("%s the edges", craft.Capital(kind))
}
