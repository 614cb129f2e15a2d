package glue

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Base is what the pattern of a panel is glued on, as a face: flush-trimmed to it.
type Base struct {
	Species   string  `json:"species" doc:"By its name in the table"`
	Thickness float64 `json:"thickness" mm:"2,100" doc:"mm"`
	Sheet     bool    `json:"sheet,omitempty" doc:"Sheet stock, which does not move"`
	Across    bool    `json:"across,omitempty" doc:"Its grain runs across the panel's length"`
	Both      bool    `json:"both,omitempty" doc:"A face like it on its other side: both balance"`
	Cents     int     `json:"cents,omitempty" range:"0,1e8" doc:"Its price"`
}

// Slope is the profile of a core: from its high end, as thick as its strips, to its low
// one, along the panel.
type Slope struct {
	Drop      float64 `json:"drop" mm:"0.5,60" doc:"How much lower the low end lies, mm"`
	ToButt    bool    `json:"toButt,omitempty" doc:"Water runs to the butt end, not to the far one"`
	Fence     float64 `json:"fence,omitempty" mm:"0,80" doc:"How far fences stand above the high end; 0 without"`
	Thickness float64 `json:"thickness,omitempty" mm:"0,60" doc:"Of the fences"`
	Upper     bool    `json:"upper,omitempty" doc:"A fence across the high end too"`
}

// lowest is how thick the low end of a slope is at least, mm (rule).
const lowest = 4

func (p Panel) checkLayers(field string, own []species.Species) (ps craft.Problems) {
	if b := p.Base; b != nil {
		ps.InRange(field+".base", *b)
		ps = append(ps, species.Check(field+".base.species", b.Species, own)...)
	}
	if s := p.Slope; s != nil {
		ps.InRange(field+".slope", *s)
		if t := p.thinnest(); len(p.Strips) > 0 && !(s.Drop <= t-lowest) {
			ps.Add(field+".slope.drop", fmt.Sprintf("the low end would be %.1f mm thick", t-s.Drop),
				fmt.Sprintf("drop by at most %.1f mm, so that it keeps %d", max(0, t-lowest), lowest))
		}
		if p.Again() {
			ps.Add(field+".slope", "a panel that is cut again has no profile in its strips",
				"slope a panel of strips, or leave it flat")
		}
	}
	return ps
}

// faces is how many faces of the pattern there are.
func (b Base) faces() float64 {
	if b.Both {
		return 2
	}
	return 1
}

// layered adds to a size what lies under the face, or takes off what a slope does.
func (p Panel) layered(s *Shape) {
	if b := p.Base; b != nil {
		face := s.Thinnest * (b.faces() - 1)
		s.Thinnest, s.Thickest = s.Thinnest+face+b.Thickness, s.Thickest+face+b.Thickness
	}
	if p.Slope != nil {
		s.Thinnest -= p.Slope.Drop
	}
}

// backed is the wood of a face with what lies under it: as dense as both by their
// thickness, as strong as the weaker.
func (p Panel) backed(face stock.Here, own []species.Species) stock.Here {
	b := p.Base
	if b == nil {
		return face
	}
	under, _ := species.FindIn(own, b.Species)
	t := p.thinnest()
	switch p.Construction {
	case Blocks:
		t = p.Slice
	case Arrows:
		t = p.sliced()
	}
	t *= b.faces()
	face.Species.Density = (face.Species.Density*t + under.Density*b.Thickness) / (t + b.Thickness)
	face.Species.MOR = min(face.Species.MOR, under.MOR)
	return face
}

// fits judges whether face and base move alike: one held across the other's grain, or by
// what does not move, splits or cups.
func (p Panel) fits(r *stage.Record, shape Shape, c Conditions) {
	b := p.Base
	if b == nil {
		return
	}
	across, along := p.movement(shape, c.Own)
	var under [2]float64 // mm a point, across and along
	if !b.Sheet {
		wood, _ := species.FindIn(c.Own, b.Species)
		under[0] = shape.Width * wood.CT
		if b.Across {
			under = [2]float64{0, shape.Length * wood.CT}
		}
	}
	apart := max(math.Abs(across-under[0]), math.Abs(along-under[1])) * c.Swing
	wide := shape.Width
	if math.Abs(along-under[1]) > math.Abs(across-under[0]) {
		wide = shape.Length
	}
	level, finding := craft.Good, "Face and base move alike"
	const alike = 0.3 // mm a year (rule)
	switch {
	case p.sheet(), apart <= alike:
	case wide > crossing && !b.Both:
		level = craft.Stop
		finding = fmt.Sprintf("Face and base move unlike by %s a year: it splits or cups",
			craft.Length(math.Round(apart*100)/100))
	default:
		level = craft.Mind
		finding = fmt.Sprintf("Face and base move unlike by %s a year, held by a face on both sides",
			craft.Length(math.Round(apart*100)/100))
		if !b.Both {
			finding = fmt.Sprintf("Face and base move unlike by %s a year; it is narrow",
				craft.Length(math.Round(apart*100)/100))
		}
	}
	v := verdict("face and base", "", level, finding,
		"A thin panel across another's grain, or on a rigid back, cannot move: solid wood splits, or the whole cups.",
		craft.Figure{
			Key: "glue.apart", Label: "They move unlike by", Value: apart, Unit: craft.MM,
			Formula: "difference of their movement across and along, the greater × points",
			Source:  "Wood Handbook, chapter 4",
			Terms:   []craft.Term{{Name: "wide", Value: wide, Unit: craft.MM}},
		})
	v.Limit = alike
	if level == craft.Stop {
		change := func(field string, to any) map[string]any {
			return map[string]any{"base": map[string]any{field: to}}
		}
		if !b.Sheet {
			v.Remedies = append(v.Remedies, onPanel("Turn the base's grain", change("across", !b.Across)))
		}
		v.Remedies = append(v.Remedies, onPanel("Face both sides", change("both", true)),
			onPanel("Leave the base out", map[string]any{"base": nil}))
	}
	r.Verdicts = append(r.Verdicts, v)
	p.pressFaces(r, shape, c)
}

// pressFaces tells whether the clamps that are owned press the face all over.
func (p Panel) pressFaces(r *stage.Record, shape Shape, c Conditions) {
	area := shape.Width * shape.Length
	var force float64
	for _, k := range c.Kit.Clamps {
		force += float64(k.Count) * k.Rating()
	}
	need := area * FacePressure
	if force >= need {
		return
	}
	v := verdict(
		"face clamps",
		"",
		craft.Mind,
		"The clamps that are owned do not press the face all over",
		"A face bond wants thick cauls and pressure everywhere: bags of sand or water, weights, or a "+
			"press; or glue it in "+
			"the clamps of a friend. Where it is not pressed it lifts.",
		craft.Figure{
			Key: "glue.facing", Label: "Force on the face", Value: need, Unit: craft.Newton,
			Formula: "face × {0.35 MPa}", Terms: []craft.Term{
				{Name: "face", Value: area / 100, Unit: craft.CM2},
				{Name: "clamps of the usual kind", Value: float64(FaceClamps(area, tool.ClampKinds[0].Rating))},
				{Name: "all clamps that are owned give", Value: force, Unit: craft.Newton},
			}, Source: "rule of the trade", Rule: true,
		},
	)
	v.Limit = force
	r.Verdicts = append(r.Verdicts, v)
}

// runs judges whether water runs off a sloped core.
func (p Panel) runs(r *stage.Record, shape Shape, c Conditions) {
	s := p.Slope
	if s == nil {
		return
	}
	percent := 100 * s.Drop / shape.Length
	end := map[bool]string{true: "butt", false: "far"}[s.ToButt]
	const least = 1.5 // per cent: water runs over an oiled face (rule)
	level, finding := craft.Good, fmt.Sprintf("Water runs to the %s end, which stays open", end)
	if percent < least {
		level, finding = craft.Mind, "So little of a slope that water stands on it"
	}
	v := verdict("drains", "", level, finding, "Juice that stands softens the finish and the glue.", craft.Figure{
		Key: "glue.slope", Label: "Slope", Value: percent, Unit: craft.Percent, Rule: true,
		Formula: "drop ÷ length", Source: "rule of the trade", Terms: []craft.Term{
			{Name: "drop", Value: s.Drop, Unit: craft.MM}, {Name: "length", Value: shape.Length, Unit: craft.MM},
			{Name: "high end", Value: shape.Thinnest + s.Drop, Unit: craft.MM}, {Name: "low end", Value: shape.Thinnest,
				Unit: craft.MM},
		},
	})
	v.Limit, v.AtLeast = least, true
	if level == craft.Mind {
		drop := math.Ceil(least*shape.Length) / 100
		if drop <= p.thinnest()-lowest {
			remedy := onPanel("Drop by {}", map[string]any{"slope": map[string]any{"drop": drop}})
			remedy.Amount, remedy.Unit = drop, craft.MM
			v.Remedies = append(v.Remedies, remedy)
		}
	}
	r.Verdicts = append(r.Verdicts, v)
	if !s.Upper || s.Fence == 0 {
		return
	}
	across, _ := p.movement(shape, c.Own)
	level, finding = craft.Good, "The fence across the high end is short enough"
	if shape.Width > crossing {
		level, finding = craft.Stop, fmt.Sprintf(
			"The fence across the high end holds the core, which moves by %s a year across its grain",
			craft.Length(math.Round(across*c.Swing*100)/100))
	}
	w := verdict(
		"fence crosses",
		"",
		level,
		finding,
		"Glued fast across the grain, the core splits or the fence lets go.",
		craft.Figure{
			Key: "glue.fence", Label: "The core moves under it by", Value: across * c.Swing, Unit: craft.MM,
			Formula: "sum of each strip's width × its movement a point × points", Source: "Wood Handbook, chapter 4",
		},
	)
	if level == craft.Stop {
		w.Remedies = append(w.Remedies,
			onPanel("Fences along both sides only", map[string]any{"slope": map[string]any{"upper": nil}}))
	}
	r.Verdicts = append(r.Verdicts, w)
}

// sunken tells of strips that lie lower than both neighbours: no plane nor sander reaches
// their face when they are glued.
func (p Panel) sunken(r *stage.Record, c Conditions) {
	deep := 2 * p.clean()
	for i := 1; i+1 < len(p.Strips); i++ {
		_, before := p.Section(p.Strips[i-1])
		_, mine := p.Section(p.Strips[i])
		_, after := p.Section(p.Strips[i+1])
		by := min(before, after) - mine
		if by <= deep || p.Strips[i].Shaped != "" || p.Again() {
			continue
		}
		v := verdict("reach", fmt.Sprintf("Strip %d", i+1), craft.Mind, fmt.Sprintf(
			"Strip %d lies %s lower than its neighbours: its face cannot be reached when it is glued",
			i+1,
			craft.Length(by),
		),
			"Sand it to its last grit and tape it before, and say so at the strip; or rip it as high as the others.",
			craft.Figure{
				Key: "glue.sunken", Label: "Lower by", Value: by, Unit: craft.MM,
				Formula: "the lower neighbour − this strip, as they stand", Source: "the strips",
			})
		v.Limit = deep
		next := slices.Clone(p.Strips)
		next[i].Shaped = "recess"
		v.Remedies = append(v.Remedies, onPanel("Finish it before it is glued", map[string]any{"strips": next}))
		r.Verdicts = append(r.Verdicts, v)
	}
}

// afterward are the steps of a base and of a slope's fences, when the pattern is glued.
func (p Panel) afterward(r *stage.Record, out Glued, glue Glue, c Conditions) {
	work := func(key string, kind plan.Kind, quantity float64) plan.Step {
		return plan.Work(key, kind, quantity, c.Pace)
	}
	glueOn := func(key, title, detail string, area float64, joints int) {
		once{key, title, detail, area, joints, p.Brush}.glued(r, glue, c)
		scraped(r, key+"-scrape", "Scrape the beads", "Off before any machine", 2*(out.Length+out.Width), glue, c)
		r.Use(stage.Glue, glue.Name, glue.Grams(area, false), craft.Gram, key)
	}
	if b := p.Base; b != nil {
		const passes = 2
		r.Step("Flatten the face's back", "Only the side that is glued", work("flatten-back", plan.Planing, passes))
		faces := b.faces()
		glueOn("face", "Glue the face on its base", "Thick cauls, from the middle out; left proud all round by "+
			craft.Length(proud), faces*out.Length*out.Width, int(faces))
		r.Step("Trim it flush with its base", "Bearing on the base, after the band saw", work("flush", plan.EdgeWork,
			faces*2*(out.Length+out.Width)))
	}
	if s := p.Slope; s != nil {
		sand := plan.Timed("slope-sand", plan.Sanding, slopeMinutes(out), 2, "a sander's rate on the face", nil, c.Pace)
		r.Step("Sand the slope", "To its last grit: the fences keep the sander out", sand).Divisible = true
		if s.Fence > 0 {
			long := 2 * out.Length
			if s.Upper {
				long += out.Width
			}
			glueOn(
				"fences",
				"Glue the fences on",
				"Inside corners taped, glue sparing beside them",
				long*max(s.Thickness, 1),
				2,
			)
		}
	}
}

// proud is how far what is trimmed flush stands over before it is, mm (rule).
const proud = 1.6

// slopeMinutes are minutes to sand a face that no machine planes (rule: 4 min for 0.01 m²).
func slopeMinutes(out Glued) float64 { return 2 + 4*out.Length*out.Width*1e-4 }
