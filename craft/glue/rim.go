package glue

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stage"
)

// Rim is thin plies bent dry round a board's outline and glued on each other, on the board
// itself or on a form.
type Rim struct {
	Species string  `json:"species" doc:"Of the plies"`
	Plies   int     `json:"plies" range:"1,12" doc:"How many lie on each other"`
	Ply     float64 `json:"ply" mm:"0.4,12" doc:"Thickness of one"`
	Height  float64 `json:"height,omitempty" mm:"0,120" doc:"Of the rim; 0 for the board's thickness"`
	Free    bool    `json:"free,omitempty" doc:"Glued on a form of its own, then on the board"`
	Glue    string  `json:"glue" doc:"By its name in the table"`
}

// Check reports what is out of range or unknown.
func (m *Rim) Check(field string) (ps craft.Problems) {
	if m == nil {
		return nil
	}
	ps.InRange(field, *m)
	if len(m.Species) > 100 || m.Species == "" {
		ps.Add(field+".species", "the species is missing or too long", "name the wood of the plies")
	}
	if _, ok := Find(m.Glue); !ok {
		ps.Add(field+".glue", fmt.Sprintf("%q is no known glue", m.Glue), "choose one of the table")
	}
	return ps
}

// overWidth is by how much plies are ripped wider than the rim is high, over is how far a
// rim reaches beyond its end until it is trimmed, mm (rules).
const overWidth = 1.6

// Corner is where the outline turns at once, so that two rims meet.
type Corner struct {
	At    geom.Point `json:"at"`
	Turn  float64    `json:"turn" doc:"Angle between their tangents, degrees"`
	Mitre float64    `json:"mitre" doc:"Half of it"`
}

// Bending is an outline as a rim follows it.
type Bending struct {
	Tightest float64    `json:"tightest" doc:"Least radius that is bent, mm; 0 where nothing is"`
	At       geom.Point `json:"at" doc:"Where that is"`
	Corners  []Corner   `json:"corners" doc:"Where rims meet in a mitre"`
	Runs     []float64  `json:"runs" doc:"Length of each rim from corner to corner, mm"`
	Turns    []float64  `json:"turns" doc:"By how many degrees each turns"`
}

// sharp is the radius below which a bend is a corner, mm: no ply follows it.
const sharp = 4

// Follow is an outline as a rim follows it; the ring runs anticlockwise.
func Follow(outline geom.Ring) (out Bending) {
	at, radius := outline.Radii()
	n := len(at)
	out.Corners = []Corner{}
	if n == 0 {
		return out
	}
	direction := func(i int) float64 { // of the outline some way from a point
		d := at[(i+1)%n].Sub(at[(i+n)%n])
		return math.Atan2(d.Y, d.X) * 180 / math.Pi
	}
	step := outline.Perimeter() / float64(n)
	corner := func(i int) bool { return math.Abs(radius[(i+n)%n]) < sharp }
	from := slices.IndexFunc(radius, func(r float64) bool { return math.Abs(r) >= sharp })
	if from < 0 {
		return out
	}
	run, turn := 0.0, 0.0
	for k := 1; k <= n; k++ {
		i := (from + k) % n
		if !corner(i) {
			run += step
			turn += math.Abs(math.Remainder(direction(i)-direction(i-1+n), 360))
			if r := math.Abs(radius[i]); out.Tightest == 0 || r < out.Tightest {
				out.Tightest, out.At = r, at[i]
			}
			continue
		}
		first := i
		for k < n && corner(from+k+1) {
			k++
		}
		last := (from + k) % n
		const beside = 4 // points clear of the corner
		by := math.Abs(math.Remainder(direction(last+beside)-direction(first+n-beside), 360))
		middle := at[(first+((last-first+n)%n)/2)%n]
		out.Corners = append(out.Corners, Corner{middle, by, by / 2})
		out.Runs, out.Turns = append(out.Runs, run), append(out.Turns, turn)
		run, turn = 0, 0
	}
	switch n := len(out.Runs); {
	case n == 0:
		out.Runs, out.Turns = []float64{run}, []float64{turn}
	default: // the last goes on into the first
		out.Runs[0], out.Turns[0] = out.Runs[0]+run, out.Turns[0]+turn
	}
	if math.IsInf(out.Tightest, 1) {
		out.Tightest = 0
	}
	return out
}

// Rimmed is what the rim goes round.
type Rimmed struct {
	Outline   geom.Ring
	Thickness float64 // mm
	Across    float64 // how far it reaches across its grain, mm; 0 for sheet stock, which does not move
	Moves     float64 // by how much that moves across the year, mm
}

// Bent is what a rim comes to.
type Bent struct {
	Bending
	Least   float64   `json:"least" doc:"Radius at which a ply breaks, mm"`
	Lengths []float64 `json:"lengths" doc:"Of the plies of each rim, mm"`
	Form    float64   `json:"form" doc:"Radius of the form for its tightest bend, mm; 0 where the board is the form"`
	Adds    float64   `json:"adds" doc:"By how much the board grows all round, mm"`
}

// Make works out a rim: its bends, plies, mitres, what is judged, and its steps.
func (m Rim) Make(b Rimmed, c Conditions) (Bent, stage.Record) {
	wood, _ := species.FindIn(c.Own, m.Species)
	glue := c.glue(m.Glue)
	adds := float64(m.Plies) * m.Ply
	out := Bent{Bending: Follow(b.Outline), Least: LeastRadius(m.Ply, wood.Modulus(), wood.MOR), Adds: adds}
	for i, run := range out.Runs {
		// Round the outside of all plies, and over at both ends.
		out.Lengths = append(out.Lengths, run+out.Turns[i]*math.Pi/180*adds+PlyLength(0, 0, 1, m.Ply))
	}
	if m.Free && out.Tightest > 0 {
		out.Form = FormRadius(out.Tightest, m.Plies)
	}
	r := stage.Record{Stage: craft.Glue}
	m.judge(&r, out, b, wood)
	m.steps(&r, out, b, glue, c)
	mm := func(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.MM} }
	r.Figures = append(r.Figures, craft.Figure{
		Key: "rim.length", Stage: craft.Glue, Label: "Plies, the longest", Value: slices.Max(out.Lengths),
		Unit:    craft.MM,
		Formula: "length of the outline from corner to corner + its turn × all plies + {25} over at each end",
		Terms: []craft.Term{
			mm("all plies", adds),
			{Name: "rims", Value: float64(len(out.Runs))},
		}, Source: "geometry; rule",
		Rule: true,
	})
	if m.Free {
		r.Figures = append(r.Figures, craft.Figure{
			Key: "rim.form", Stage: craft.Glue, Label: "Radius of the form", Value: out.Form, Unit: craft.MM,
			Formula: "tightest radius × (1 − 1 ÷ plies²): off the form it springs back to what is wanted",
			Terms:   []craft.Term{mm("tightest radius", out.Tightest), {Name: "plies", Value: float64(m.Plies)}},
			Source:  "spring-back of laminations",
		})
	}
	return out, r
}

// judge judges the bend, and the board within it.
func (m Rim) judge(r *stage.Record, out Bent, b Rimmed, wood species.Species) {
	if out.Tightest > 0 {
		v := verdict("rim bends", "", Bends(out.Tightest, out.Least), "The plies follow the tightest bend",
			"A ply bent tighter than its wood gives breaks on its outside, or works loose later.", craft.Figure{
				Key: "rim.tightest", Label: "Tightest bend", Value: out.Tightest, Unit: craft.MM,
				Formula: "against 1.3 × ply × stiffness ÷ (2 × bending strength)", Terms: []craft.Term{
					{
						Name:  "ply",
						Value: m.Ply,
						Unit:  craft.MM,
					}, {Name: "stiffness", Value: wood.Modulus(), Unit: craft.MPa},
					{Name: "bending strength", Value: wood.MOR, Unit: craft.MPa},
					{Name: "breaks at", Value: out.Least, Unit: craft.MM},
				}, Source: "Wood Handbook", Rule: true,
			})
		const clear = 1.3
		v.Limit, v.AtLeast = clear*out.Least, true
		v.Mark = &craft.Mark{AX: out.At.X - 3, AY: out.At.Y, BX: out.At.X + 3, BY: out.At.Y}
		if v.Level != craft.Good {
			v.Finding = fmt.Sprintf("Plies of %s bend to %s safely, the outline asks for %s", craft.Length(m.Ply),
				craft.Length(clear*out.Least), craft.Length(out.Tightest))
			ply := math.Floor(m.Ply*out.Tightest/(clear*out.Least)*10) / 10
			plies := int(math.Ceil(float64(m.Plies) * m.Ply / max(ply, 0.1)))
			const thinnest, most = 0.4, 12
			if ply >= thinnest && plies <= most {
				remedy := craft.Remedy{Label: "Take thinner plies, of {}", Amount: ply, Unit: craft.MM,
					Patch: craft.Patch{"rim": map[string]any{"ply": ply, "plies": plies}}}
				v.Remedies = append(v.Remedies, remedy)
			}
		}
		r.Verdicts = append(r.Verdicts, v)
	}
	if m.Free && m.Plies < 2 {
		v := verdict("rim holds", "", craft.Stop, "One ply does not hold its bend off the form",
			"It is the glue between plies that keeps the shape.", craft.Figure{
				Key: "rim.plies", Label: "Plies", Value: 1, Formula: "glued on each other",
				Source: "spring-back of laminations",
			})
		v.Limit, v.AtLeast = 2, true
		v.Remedies = []craft.Remedy{{
			Label: "Take two plies", Patch: craft.Patch{"rim": map[string]any{"plies": 2}},
		}, {
			Label: "Bend it on the board itself", Patch: craft.Patch{"rim": map[string]any{"free": nil}},
		}}
		r.Verdicts = append(r.Verdicts, v)
	}
	level, finding := craft.Good, "The board inside the rim does not move"
	switch {
	case b.Across > crossing:
		level, finding = craft.Stop, fmt.Sprintf(
			"The rim crosses the grain of solid wood %s wide: the board moves by %s a year, the rim does not",
			craft.Length(math.Round(b.Across)), craft.Length(math.Round(b.Moves*100)/100))
	case b.Across > 0:
		finding = "The board inside the rim is narrow enough to move within it"
	}
	v := verdict(
		"rim crosses",
		"",
		level,
		finding,
		"What is held fast across its grain splits in winter or bursts the rim in summer. A rim goes "+
			"round sheet stock.",
		craft.Figure{
			Key: "rim.moves", Label: "Board moves within the rim by", Value: b.Moves, Unit: craft.MM,
			Formula: "width across the grain × movement a point × points", Source: "Wood Handbook, chapter 4",
			Terms: []craft.Term{{Name: "across the grain", Value: b.Across, Unit: craft.MM}},
		},
	)
	v.Limit = 0
	if level == craft.Stop {
		v.Remedies = []craft.Remedy{{Label: "Leave the rim off", Patch: craft.Patch{"rim": nil}}}
	}
	r.Verdicts = append(r.Verdicts, v)
}

// crossing is how wide solid wood may be that is glued fast across its grain, mm (rule).
const crossing = 100

// steps are those of a rim, after its board is shaped.
func (m Rim) steps(r *stage.Record, out Bent, b Rimmed, glue Glue, c Conditions) {
	rims := len(out.Runs)
	high := m.Height
	if high == 0 {
		high = b.Thickness
	}
	work := func(key string, kind plan.Kind, quantity float64) plan.Step {
		return plan.Work("rim-"+key, kind, quantity, c.Pace)
	}
	r.Step("Rip the plies", fmt.Sprintf("%d of %s × %s, wider by %s", m.Plies*rims, craft.Length(m.Ply),
		craft.Length(high+overWidth), craft.Length(overWidth)), work("rip", plan.Rip, float64(m.Plies*rims)))
	form := "The board is the form, taped so that glue does not hold"
	if m.Free {
		form = fmt.Sprintf("A form of radius %s at the tightest bend, taped", craft.Length(math.Round(out.Form)))
		r.Step("Saw the form", form, work("form", plan.Curve, b.Outline.Perimeter()))
	}
	var area float64
	for _, l := range out.Lengths {
		area += l * high * float64(m.Plies-1)
	}
	if !m.Free {
		for _, l := range out.Lengths { // and onto the board
			area += l * high
		}
	}
	bend := func(key, title, detail string, area float64, joints int) {
		once{"rim-" + key, title, detail, area, joints, false}.glued(r, glue, c)
		scraped(
			r,
			"rim-"+key+"-scrape",
			"Scrape the rim",
			"Beads off before any machine",
			b.Outline.Perimeter(),
			glue,
			c,
		)
		r.Use(stage.Glue, glue.Name, glue.Grams(area, false), craft.Gram, "rim-"+key)
	}
	if m.Plies > 1 || !m.Free {
		bend("bend", "Bend and glue the plies", form, area, max(1, m.Plies-1)*rims)
	}
	const passes = 2
	r.Step("Plane the rim flush", "Off by "+craft.Length(overWidth)+", both edges", work("flush", plan.Planing, passes))
	if n := len(out.Corners); n > 0 {
		r.Step(
			"Mitre the rims",
			fmt.Sprintf("%d mitres, half the angle between the rims: %.0f°; cut slightly proud, trimmed to fit",
				n, out.Corners[0].Mitre),
			work("mitre", plan.CrossCut, float64(2*n)),
		)
	}
	if m.Free {
		bend("on", "Glue the rim on", "Round the board, with tape or a band clamp", b.Outline.Perimeter()*high, rims)
	}
}
