package fill

import (
	"fmt"
	"math"
	"strings"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Coat is one filler in a void, from the one below it up to the next.
type Coat struct {
	Filler string  `json:"filler" doc:"What"`
	Depth  float64 `json:"depth" doc:"How much of the void's depth it fills, mm"`
	Volume float64 `json:"volume" doc:"ml"`
	Layers int     `json:"layers" doc:"In how many it goes in, each with its wait"`
	Wait   float64 `json:"wait" doc:"Minutes until the next, or until it can be worked; of resin by its kind"`
	Colour string  `json:"colour,omitempty" doc:"Which of it, by the wood"`
}

// Underneath are the fillers that may lie below another.
var Underneath = []string{ThinCA, MediumCA, GlueDust, Putty, Wicked}

// narrow tells of a void that is narrow and deep: nothing thick runs to its bottom (rule).
func (v Void) narrow() bool { return v.Width <= 1.5 && v.Depth > 6 }

// told lists what goes into the void and how it is filled, now that its filler is chosen.
func (v *Void) told(c Choice, r Resin, air float64) {
	v.Coats, v.Recipe, v.Dam, v.Tone = []Coat{}, []string{}, "", nil
	f := fillerOf(v.Chosen)
	if f.Name == Leave {
		return
	}
	if !f.takes() {
		v.recipe(f, c)
		return
	}
	left := v.Depth
	for _, o := range c.Below[v.Flaw] {
		if left <= 0 {
			break
		}
		v.coat(fillerOf(o.Filler), min(o.Depth, left))
		left -= o.Depth
	}
	switch {
	case left <= 0:
	case f.then != "":
		top := fillerOf(f.then)
		v.coat(fillerOf(f.first), max(0, left-topping))
		v.coat(top, min(left, topping))
	default:
		v.coat(f, left)
	}
	for i := range v.Coats {
		o := &v.Coats[i]
		o.Volume = v.Volume // of one filler it is the whole; of more it is shared below
		if o.Filler == Epoxy {
			o.Wait = r.pours(o.Depth) * r.SandHours * 60 * slower(air)
		}
	}
	v.share()
	v.recipe(f, c)
	if v.resinML() > 0 {
		v.Dam, v.Tone = v.dam(), c.Colour.tone(v.resinDepth())
	}
}

// topping is how deep putty goes on top of what was run in, mm (rule).
const topping = 3

// takes tells whether something is put into the void at all.
func (f Filler) takes() bool {
	_, without := endsOf[f.Name]
	return !without
}

// layers is in how many layers a filler goes in so deep, mm.
func (f Filler) layers(depth float64) int {
	if f.layer == 0 {
		return 1
	}
	return max(1, int(math.Ceil(depth/f.layer-1e-9)))
}

// coat adds a filler that fills so much of the depth.
func (v *Void) coat(f Filler, depth float64) {
	o := Coat{Filler: f.Name, Depth: depth, Layers: f.layers(depth), Wait: f.Wait, Colour: v.shade(f.Name)}
	v.Coats = append(v.Coats, o)
}

// share gives each coat its part of the volume: by its depth, and in a V by its width there too.
func (v *Void) share() {
	if len(v.Coats) < 2 {
		return
	}
	below := func(z float64) float64 { // share of the volume deeper than z
		rest := max(0, 1-z/v.Depth)
		if v.tapers {
			return rest * rest
		}
		if v.bowl { // half an ellipsoid
			u := 1 - rest
			return 1 - 1.5*u + 0.5*u*u*u
		}
		return rest
	}
	deep := v.Depth
	for i := range v.Coats {
		o := &v.Coats[i]
		o.Volume = v.Volume * (below(deep-o.Depth) - below(deep))
		deep -= o.Depth
	}
}

// resinML is how much resin goes into the void, ml, and resinDepth how deep it stands, mm.
func (v Void) resinML() (ml float64) {
	for _, o := range v.Coats {
		if o.Filler == Epoxy {
			ml += o.Volume
		}
	}
	return ml
}

func (v Void) resinDepth() (mm float64) {
	for _, o := range v.Coats {
		if o.Filler == Epoxy {
			mm += o.Depth
		}
	}
	return mm
}

// shade is which of a filler goes into wood like this: dark into dark wood, clear into light.
func (v Void) shade(filler string) string {
	dark := v.wood.HidesPencil()
	switch filler {
	case ThinCA, MediumCA:
		switch {
		case !dark:
			return "clear"
		case filler == ThinCA:
			return "dark"
		}
		return "dark, or tinted"
	case Putty:
		if v.zone == stock.HeartAndSap {
			return "one for the heart, one for the sap"
		}
		if v.wood.Name != "" {
			return "to match " + strings.ToLower(v.wood.Name)
		}
	case GlueDust:
		if v.wood.Name != "" {
			return dust + strings.ToLower(v.wood.Name)
		}
	}
	return ""
}

// DustOf is what the sanding dust of a species is called on a bill: it is kept by the wood that it comes of.
func DustOf(species string) string { return "sanding " + dust + strings.ToLower(species) }

const dust = "dust of "

// What a millilitre of glue with dust packed into it holds (rules): glue, ml, and dust, g.
const (
	glueIn = 0.6
	dustIn = 0.3
)

// takes is what so much of it, ml, takes from the shelf at a step.
func (o Coat) takes(r *stage.Record, ml float64, step string) {
	if o.Filler != GlueDust || !strings.HasPrefix(o.Colour, dust) {
		r.Use(stage.Filler, o.Filler, ml, craft.ML, step)
		return
	}
	r.Use(stage.Filler, "glue for dust", glueIn*ml, craft.ML, step)
	r.Use(stage.Filler, "sanding "+o.Colour, dustIn*ml, craft.Gram, step)
}

// recipe tells in words how the void is filled, in order.
func (v *Void) recipe(f Filler, c Choice) {
	say := func(format string, args ...any) { v.Recipe = append(v.Recipe, fmt.Sprintf(format, args...)) }
	switch f.Name {
	case SandOut:
		say("Sand it out, one grit coarser on that face")
		return
	case Steam:
		say("A damp cloth and a hot iron, five minutes, a little at a time; an hour to dry")
		return
	case Hardened:
		say("Press a nail in: it holds, so it stays as figure. Thin CA or thin epoxy wicked in until it takes no more")
		return
	}
	if v.narrow() {
		say("Probe it with a wire: how deep is it?")
	}
	switch {
	case v.kind == stock.Pocket:
		say("Rout it to its template, before the board is cut out; blow it out")
	case v.kind == stock.Soft:
		say("Dig it out to sound wood: a rotary tool, then air")
	case f.Name == MediumCA || f.Name == Epoxy:
		say("A pick or a rotary tool to sound wood, then air")
	default:
		say("Brush and blow it out")
	}
	if len(v.Outs) > 0 && v.resinML() == 0 {
		say("Tape on the edge where it runs out")
	}
	for _, o := range v.Coats {
		say("%s", o.words(c))
	}
	if v.zone == stock.HeartAndSap {
		say("It crosses from heart to sap: a colour for each, clear where in doubt")
	}
	if f.Name == Putty || f.then == Putty {
		say("Putty takes no oil and stays as it is")
	}
	if v.wood.ColourChange != "" && f.Name != Leave {
		say("The wood changes after (%s), the filler does not", v.wood.ColourChange)
	}
	say("Wet it and look: it should read as a knot or a line")
}

// words tell of one coat.
func (o Coat) words(c Choice) string {
	var out string
	switch o.Filler {
	case Epoxy:
		return fmt.Sprintf("Epoxy, %s, %s deep", c.Colour, craft.Length(o.Depth))
	case Wicked, ThinCA:
		out = craft.Capital(o.Filler)
		if o.Colour != "" {
			out += ", " + o.Colour
		}
		out += ", run in until it stands"
	case MediumCA:
		out = "Medium CA, " + o.Colour + ", accelerator on each layer"
	case GlueDust:
		out = "Glue and sanding dust packed in proud, sanded flush"
		if o.Colour != "" {
			out = "Glue and the " + o.Colour + " packed in proud, sanded flush"
		}
	default:
		out = craft.Capital(o.Filler) + " on top, proud"
		if o.Colour != "" {
			out += ", " + o.Colour
		}
	}
	if o.Layers > 1 {
		return fmt.Sprintf("%s, %d layers, %s each", out, o.Layers, craft.In(o.Wait, craft.Minute))
	}
	return out + ", " + craft.In(o.Wait, craft.Minute)
}

// wide is a void through which resin presses tape off: it is sealed as well (rule), mm.
const wide = 15

// dam is what keeps the resin in.
func (v Void) dam() string {
	var parts []string
	switch {
	case v.Through && v.Width > wide:
		parts = append(parts, "sheathing tape and sealant beneath")
	case v.Through:
		parts = append(parts, "tape beneath, pressed with a roller")
	}
	if len(v.Outs) > 0 {
		at := "tape over the end, on a clean cut"
		if v.live {
			at = "clay or hot glue at the live edge"
		} else if v.Width > wide {
			at = "a dam of clay or hot glue across it, outside the line"
		}
		parts = append(parts, at)
	}
	if len(parts) == 0 {
		parts = append(parts, "tape round its rim keeps the face clean")
	}
	return strings.Join(append(parts, "a tray beneath"), "; ")
}

// profile is a void cut across where it is widest: x from its middle, y down from the face as
// flattening leaves it.
func (s Site) profile(f stock.Flaw, v Void) geom.Ring {
	wide := func(down float64) float64 { // at a depth below the face as it is now
		share := 1 - (down+s.Off)/f.Depth
		switch {
		case f.Through:
		case f.Kind == stock.Crack && !f.Slot:
			return f.Width * max(0, share)
		case f.Kind == stock.Knot:
			return 2 * min(f.A, f.B) * math.Sqrt(max(0, share*(2-share)))
		}
		if f.Kind == stock.Crack {
			return f.Width
		}
		return v.Width
	}
	const levels = 12
	deep := min(v.Depth, s.Thickness)
	if f.Through {
		deep = s.Thickness
	}
	out := geom.Ring{}
	for i := range levels + 1 {
		y := deep * float64(i) / levels
		out = append(out, geom.Point{X: -wide(y) / 2, Y: y})
	}
	for i := levels; i >= 0; i-- {
		y := deep * float64(i) / levels
		out = append(out, geom.Point{X: wide(y) / 2, Y: y})
	}
	return out
}

// outs are the places where a flaw runs out of the outline, the middle of each stretch of the
// outline that lies in it, in the slab's frame.
func (s Site) outs(f stock.Flaw) []geom.Point {
	out := []geom.Point{}
	if len(s.Outline) < 3 {
		return out
	}
	closed := append(s.Outline[:len(s.Outline):len(s.Outline)], s.Outline[0])
	for _, part := range geom.Within(closed, f.Footprint()) {
		out = append(out, geom.Halfway(part))
	}
	return out
}
