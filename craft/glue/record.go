package glue

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Conditions are what a panel is glued in.
type Conditions struct {
	Warmth float64 // of the shop, °C
	Swing  float64 // percent points of moisture between the home's seasons
	Kit    tool.Kit
	Rules  rule.Set
	Pace   plan.Pace
	Own    []species.Species
	Sheets []Glue    // what data sheets of the shop's products say
	Before []Earlier // other panels
}

// Earlier is the pattern of another panel.
type Earlier struct{ Name, Pattern string }

// Glued is what gluing a panel comes to.
type Glued struct {
	Construction string     `json:"construction" doc:"How its parts stand"`
	Edge         bool       `json:"edge" doc:"Its strips stand on edge when they are first glued"`
	Again        bool       `json:"again" doc:"It is cut into slices and glued again"`
	Parts        []Drawn    `json:"parts" doc:"As they lie in it"`
	First        []Drawn    `json:"first,omitempty" doc:"Before it is cut again: its strips as they are first glued"`
	FirstBox     [4]float64 `json:"firstBox" doc:"Bounds of those: min x, min y, max x, max y"`
	Ends         []End      `json:"ends" doc:"The ends of its strips with their rings, from the butt"`
	Cuts         []string   `json:"cuts,omitempty" doc:"The cuts of its slices on them, as SVG paths"`
	Length       float64    `json:"length" doc:"As it comes out of the clamps, mm"`
	Width        float64    `json:"width" doc:"mm"`
	Thickness    float64    `json:"thickness" doc:"Before it is flattened, mm"`
	Flat         float64    `json:"flat" doc:"When both faces are flat and sanded, mm"`
	Slices       Slices     `json:"slices" doc:"Of a panel that is cut again"`
	Other        *Slices    `json:"other,omitempty" doc:"The same in the other lay-up: square, or staggered"`
	Shares       []Share    `json:"shares" doc:"What part of its face each species is"`
	Pressed      []Pressed  `json:"pressed" doc:"Each time that clamps are tightened"`
	Grams        float64    `json:"grams" doc:"Glue in all"`
	Cauls        bool       `json:"cauls" doc:"Across both ends, above and below, wrapped"`
	EndClamp     bool       `json:"endClamp" doc:"Smooth dense wood slides: a clamp along it"`
	Slant        bool       `json:"slant" doc:"Its strips rise both ways: it is planed at a slant"`
	Symmetric    bool       `json:"symmetric" doc:"Its left half is the mirror image of its right"`
	SpareRule    int        `json:"spareRule" doc:"Strips that should be cut besides"`
	Days         float64    `json:"days" doc:"Until it can be machined, its waits alone"`
}

// Drawn is a part as it is drawn in the panel's frame.
type Drawn struct {
	Strip int     `json:"strip" doc:"Its place among the strips, from 0"`
	Path  string  `json:"path" doc:"Outline as SVG path data, mm"`
	Light string  `json:"light" doc:"Lighter colour of its wood"`
	Dark  string  `json:"dark" doc:"Darker colour"`
	Lean  float64 `json:"lean" doc:"Its grain off the panel's length, degrees"`
	End   bool    `json:"end" doc:"Its end grain shows"`
}

// Share is what part of the face a species is.
type Share struct {
	Species string  `json:"species"`
	Percent float64 `json:"percent"`
}

// wood is the species of a strip.
func (c Conditions) wood(s Strip) species.Species {
	w, _ := species.FindIn(c.Own, s.Species)
	return w
}

// glue is the glue of a name, by its data sheet where there is one.
func (c Conditions) glue(name string) Glue {
	usual, _ := Find(name)
	for _, own := range c.Sheets {
		if own.Name == usual.Name {
			return own
		}
	}
	return usual
}

// Make works out how a panel is glued, what is judged of it, and its steps.
func Make(p Panel, c Conditions) (Glued, stage.Record) {
	shape := p.Shape()
	glue := c.glue(p.Glue)
	rules := c.Rules
	out := Glued{
		Construction: p.Construction, Edge: p.Edge(), Again: p.Again(),
		Length: shape.Length, Width: shape.Width, Thickness: shape.Thinnest,
		Flat:   max(0, shape.Thinnest-2*(p.flattened()+rules.Get(rule.SandFace))),
		Slices: shape.Slices, Shares: p.shares(shape), Symmetric: p.symmetric(),
		SpareRule: Spares(len(p.Strips), p.sheet()), Parts: p.drawn(shape.Parts, c),
		Pressed: []Pressed{}, Ends: p.ends(),
	}
	r := stage.Record{Stage: craft.Glue}
	if p.Again() {
		p.again(&out, c)
	}
	var soft, dense bool
	for _, s := range p.Strips {
		w := c.wood(s)
		soft, dense = soft || w.Group == "softwood", dense || w.Hard()
	}
	out.EndClamp = dense && len(p.Strips) > 1
	out.Cauls = shape.Width > 150 || shape.Thinnest < 25
	out.Slant = p.rises()
	press := pressing{
		key: "glue", of: "Strip", joints: p.joints(), widths: p.striped().Widths, softwood: soft, glue: glue,
		warmth: c.Warmth, brush: p.Brush, sheet: p.sheet(), caul: p.Caul, owned: c.Kit.Clamps,
	}
	first, tooSlow := press.up()
	out.Pressed = append(out.Pressed, first...)
	var second []Pressed
	if p.Again() {
		press.key, press.of, press.joints = "glue-again", "Slice", p.sliceJoints(shape)
		press.widths = make([]float64, max(1, shape.Slices.Count))
		for i := range press.widths {
			press.widths[i] = shape.Width / float64(len(press.widths))
		}
		var err error
		if second, err = press.up(); err != nil && tooSlow == nil {
			tooSlow = err
		}
		out.Pressed = append(out.Pressed, second...)
	}
	for _, k := range out.Pressed {
		out.Grams += k.Grams
	}
	p.verdicts(&r, out, shape, glue, c)
	p.repeats(&r, c.Before)
	p.open(&r, out, glue, tooSlow, c)
	p.steps(&r, &out, first, second, glue, c)
	p.figures(&r, out, shape, glue, c)
	return out, r
}

// flattened is what is planed off each face of it, mm: nothing of a sloped core.
func (p Panel) flattened() float64 {
	if p.Slope != nil {
		return 0
	}
	return p.clean()
}

func (p Panel) sheet() bool {
	return slices.ContainsFunc(p.Strips, func(s Strip) bool { return s.Sheet })
}

// drawn are parts with their colours.
func (p Panel) drawn(parts []Part, c Conditions) []Drawn {
	out := make([]Drawn, len(parts))
	for i, part := range parts {
		w := c.wood(p.Strips[part.Strip])
		out[i] = Drawn{part.Strip, part.Ring.SVG(), w.Light, w.Dark, part.Lean, p.Construction == Blocks}
	}
	return out
}

// Patches are parts of wood as they are drawn, whatever strips they were.
func Patches(wood []stock.Patch) []Drawn {
	out := make([]Drawn, len(wood))
	for i, p := range wood {
		out[i] = Drawn{
			Path: p.Ring.SVG(), Light: p.Species.Light, Dark: p.Species.Dark, Lean: p.Fibres, End: p.End,
		}
	}
	return out
}

// shares are the parts of the face by species, the greatest first, then as they lie.
func (p Panel) shares(shape Shape) []Share {
	out := []Share{}
	var all float64
	for _, part := range shape.Parts {
		name, area := p.Strips[part.Strip].Species, part.Ring.Area()
		all += area
		i := slices.IndexFunc(out, func(s Share) bool { return s.Species == name })
		if i < 0 {
			i, out = len(out), append(out, Share{Species: name})
		}
		out[i].Percent += area
	}
	for i := range out {
		out[i].Percent *= 100 / max(all, 1e-9)
	}
	slices.SortStableFunc(
		out,
		func(a, b Share) int { return cmp.Compare(math.Round(b.Percent), math.Round(a.Percent)) },
	)
	return out
}

// symmetric reports strips whose order is its own mirror image.
func (p Panel) symmetric() bool {
	n := len(p.Strips)
	for i := range n / 2 {
		if p.Strips[i].Species != p.Strips[n-1-i].Species || math.Abs(p.lopsided(i)) > even {
			return false
		}
	}
	return true
}

// lopsided is by how much a strip is wider than its mirror image, mm.
func (p Panel) lopsided(i int) float64 {
	a, _ := p.Section(p.Strips[i])
	b, _ := p.Section(p.Strips[len(p.Strips)-1-i])
	return a - b
}

// even is by how much two outer strips may differ, mm (rule).
const even = 2

// rises reports strips that are turned end for end against each other: their grain rises
// both ways.
func (p Panel) rises() bool {
	return slices.ContainsFunc(p.Strips, func(s Strip) bool { return s.Turned != p.Strips[0].Turned })
}

// again draws a panel that is cut into slices: before it is cut, its cuts, and the other
// lay-up.
func (p Panel) again(out *Glued, c Conditions) {
	striped := p.striped()
	parts, cuts := striped.Parts(), striped.SquareCuts(p.Slice, p.Kerf, out.Slices.Count)
	if p.Construction == Arrows {
		other := striped.Chevron(p.Degrees, p.Slice, p.Kerf, !p.Staggered)
		out.Other = &other
		if p.Staggered {
			parts = striped.SetOn(p.Degrees)
		}
		cuts = striped.ChevronCuts(p.Degrees, p.Slice, p.Kerf, out.Slices.Count)
	}
	out.First = p.drawn(parts, c)
	for _, cut := range cuts {
		out.Cuts = append(out.Cuts, cut.SVG())
	}
	for i := range out.First {
		out.First[i].End = false
		box := parts[i].Ring.Bounds()
		out.FirstBox[0], out.FirstBox[1] = min(out.FirstBox[0], box.MinX), min(out.FirstBox[1], box.MinY)
		out.FirstBox[2], out.FirstBox[3] = max(out.FirstBox[2], box.MaxX), max(out.FirstBox[3], box.MaxY)
	}
}

// open judges whether every joint is closed within its open time.
func (p Panel) open(r *stage.Record, out Glued, glue Glue, tooSlow error, c Conditions) {
	if len(out.Pressed) == 0 {
		return
	}
	longest := slices.MaxFunc(out.Pressed, func(a, b Pressed) int { return cmp.Compare(a.Spread, b.Spread) })
	v := craft.Verdict{
		Check: "open time", Stage: craft.Glue, Level: craft.Good, Limit: longest.Open,
		Finding: "Every joint is closed while the glue is open",
		Reason:  "A film of glue that has skinned over holds nothing: the joint opens later, under water or a knife.",
		Figure: craft.Figure{
			Key: "glue.spread", Stage: craft.Glue, Label: "Spreading the longest of its clampings takes",
			Value: longest.Spread, Unit: craft.Minute, Rule: true,
			Formula: "10 s for {100 cm²} of joint + 20 s a joint, half as much again by brush",
			Terms: []craft.Term{
				{Name: "joint", Value: longest.Area / 100, Unit: craft.CM2},
				{Name: "joints", Value: float64(len(longest.Joints)), Unit: craft.Count},
				{Name: "open at the shop's warmth", Value: longest.Open, Unit: craft.Minute},
				{Name: "warmth", Value: c.Warmth, Unit: craft.Celsius},
			},
			Source: "rule of the trade; open time of the glue",
		},
	}
	if n := len(out.Pressed); n > 1 && tooSlow == nil && !p.Again() {
		v.Finding = fmt.Sprintf("Glued in %d sub-assemblies, then all together: each is closed in time", n-1)
	}
	if tooSlow != nil {
		v.Level, v.Finding = craft.Stop, "It cannot be closed in time: "+tooSlow.Error()
		for _, g := range Glues {
			if g.Bears && g.OpenAt(c.Warmth) > glue.OpenAt(c.Warmth) && c.Warmth >= g.Least {
				v.Remedies = append(v.Remedies, onPanel("Take "+g.Name, map[string]any{"glue": g.Name}))
			}
		}
		if p.Brush {
			v.Remedies = append(v.Remedies, onPanel("Spread it with a roller", map[string]any{"brush": nil}))
		}
	}
	r.Verdicts = append(r.Verdicts, v)
}

// onPanel is a remedy that changes the panel.
func onPanel(label string, change map[string]any) craft.Remedy {
	return craft.Remedy{Label: label, On: craft.OnPanel, Patch: craft.Patch{"glue": change}}
}

// movement is that of the panel across its width and along its length a percent
// point of moisture, mm.
func (p Panel) movement(shape Shape, own []species.Species) (across, along float64) {
	grain := p.Grain(shape, own)
	mid, half := shape.Length/2, shape.Width/2
	across = stock.Movement(grain.Along(geom.Point{X: mid, Y: -half}, geom.Point{X: mid, Y: half}))
	along = stock.Movement(grain.Along(geom.Point{}, geom.Point{X: shape.Length}))
	return across, along
}
