package glue

import (
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// Shape is a panel as it comes out of the clamps, in the frame of package stock.
type Shape struct {
	Length, Width      float64
	Thinnest, Thickest float64
	Parts              []Part
	Outline            geom.Ring // where it is no rectangle; otherwise nil
	Slices             Slices    // of a panel that is cut again
}

// striped are the strips as they are first glued.
func (p Panel) striped() Striped {
	s := Striped{Widths: make([]float64, len(p.Strips))}
	from, to, shortest := math.Inf(-1), math.Inf(1), math.Inf(1)
	for i, strip := range p.Strips {
		s.Widths[i], _ = p.Section(strip)
		from, to = max(from, strip.Along), min(to, strip.Along+strip.Length)
		shortest = min(shortest, strip.Length)
	}
	s.Length = to - from
	if p.Construction == Arrows { // how they are set on is the lay-up's
		s.Length = shortest
	}
	return s
}

// Shape draws the panel.
func (p Panel) Shape() Shape {
	s, out := p.striped(), p.Size()
	switch p.Construction {
	case Arrows:
		out.Parts = s.ChevronParts(p.Degrees, p.Slice, p.Kerf, p.Staggered)
	case Blocks:
		out.Parts = s.EndGrainParts(p.sliced(), p.Slice, p.Kerf, p.Reversed)
	case Unequal:
		p.step(&out)
	default:
		out.Parts = s.Parts()
	}
	if p.Over {
		out.turn()
	}
	return out
}

// thinnest is how thick the striped panel is at its thinnest.
func (p Panel) thinnest() float64 {
	t := math.Inf(1)
	for _, strip := range p.Strips {
		_, thick := p.Section(strip)
		t = min(t, thick)
	}
	return t
}

// clean is what flattening takes off each face of strips that are glued, mm.
func (p Panel) clean() float64 {
	if p.Clean == nil {
		return rule.Set(nil).Get(rule.GlueClean)
	}
	return *p.Clean
}

// sliced is how thick the striped panel is when it is cut into slices: flattened on both
// faces.
func (p Panel) sliced() float64 {
	const least = 1 // mm
	return max(least, p.thinnest()-2*p.clean())
}

// Size is the shape of the panel without its parts and outline.
func (p Panel) Size() Shape {
	s := p.striped()
	out := Shape{Length: s.Length, Width: s.Across(), Thinnest: math.Inf(1)}
	for _, strip := range p.Strips {
		_, thick := p.Section(strip)
		out.Thinnest, out.Thickest = min(out.Thinnest, thick), max(out.Thickest, thick)
	}
	switch p.Construction {
	case Arrows:
		out.Slices = s.Chevron(p.Degrees, p.Slice, p.Kerf, p.Staggered)
		out.Thinnest, out.Thickest = p.sliced(), p.sliced()
	case Blocks:
		out.Slices = s.EndGrain(p.sliced(), p.Slice, p.Kerf)
		out.Thinnest, out.Thickest = p.Slice, p.Slice
	case Unequal:
		from, to := p.reach()
		out.Length = to - from
	}
	if p.Again() {
		out.Length, out.Width = out.Slices.Length, out.Slices.Width
	}
	p.layered(&out)
	return out
}

// reach is from the first butt to the last end of its strips.
func (p Panel) reach() (from, to float64) {
	from, to = math.Inf(1), math.Inf(-1)
	for _, s := range p.Strips {
		from, to = min(from, s.Along), max(to, s.Along+s.Length)
	}
	return from, to
}

// face is the panel's face.
func (s Shape) face() geom.Ring {
	if s.Outline != nil {
		return s.Outline
	}
	return geom.Bounds{MaxX: s.Length, MinY: -s.Width / 2, MaxY: s.Width / 2}.Ring()
}

// turn lays the other face up.
func (s *Shape) turn() {
	over := func(r geom.Ring) geom.Ring {
		r = r.Map(geom.Placement{Flip: true}.Out)
		slices.Reverse(r)
		return r
	}
	for i, part := range s.Parts {
		s.Parts[i].Ring, s.Parts[i].Lean = over(part.Ring), -part.Lean
	}
	if s.Outline != nil {
		s.Outline = over(s.Outline)
	}
}

// step draws strips that end at different places.
func (p Panel) step(out *Shape) {
	butt, _ := p.reach()
	left := out.Width / 2
	var butts, fars geom.Ring // from the left edge to the right
	for i, s := range p.Strips {
		across, _ := p.Section(s)
		from, to, right := s.Along-butt, s.Along-butt+s.Length, left-across
		box := geom.Bounds{MinX: from, MaxX: to, MinY: right, MaxY: left}
		out.Parts = append(out.Parts, Part{Strip: i, Ring: box.Ring()})
		butts = append(butts, geom.Point{X: from, Y: left}, geom.Point{X: from, Y: right})
		fars = append(fars, geom.Point{X: to, Y: left}, geom.Point{X: to, Y: right})
		left = right
	}
	out.Outline = butts
	for i := len(fars) - 1; i >= 0; i-- {
		out.Outline = append(out.Outline, fars[i])
	}
	out.Outline = out.Outline.Simplified(0.001)
}

// Grain is what is where in the panel, or in the piece that was cut from it.
func (p Panel) Grain(shape Shape, own []species.Species) stock.Grain {
	here := p.heres(own)
	patches := make([]stock.Patch, len(shape.Parts))
	for i, part := range shape.Parts {
		h := p.backed(here[part.Strip], own)
		h.Fibres = part.Lean
		patches[i] = stock.Patch{Here: h, Ring: part.Ring}
	}
	if p.Cut != nil {
		return stock.Glued(patches).Seen(*p.Cut)
	}
	return stock.Glued(patches)
}

// heres are the strips as they stand in the panel.
func (p Panel) heres(own []species.Species) []stock.Here {
	here := make([]stock.Here, len(p.Strips))
	for i, s := range p.Strips {
		wood, _ := species.FindIn(own, s.Species)
		here[i] = stock.Here{Species: wood, Rings: s.Rings, End: p.Construction == Blocks}
		if p.Edge() {
			here[i].Rings = 90 - s.Rings
		}
	}
	return here
}

// Cents is what its strips cost, the spare ones too.
func (p Panel) Cents() (sum int) {
	for _, s := range p.All() {
		sum += s.Cents
	}
	if p.Base != nil {
		sum += p.Base.Cents
	}
	return sum
}

// All are its strips and the spare ones.
func (p Panel) All() []Strip { return append(append([]Strip{}, p.Strips...), p.Spares...) }

// Main is the species that most of its face shows.
func (p Panel) Main() string {
	most, area := "", map[string]float64{}
	for _, s := range p.Strips {
		across, _ := p.Section(s)
		area[s.Species] += across
		if most == "" || area[s.Species] > area[most] {
			most = s.Species
		}
	}
	return most
}

// Flaws are what of its strips' flaws opens in a face of the panel when it is flattened.
// What is cut into slices is marked on the panel when it is seen.
func (p Panel) Flaws(shape Shape) (out []stock.Flaw) {
	if p.Again() {
		return nil
	}
	for _, part := range shape.Parts {
		strip, box := p.Strips[part.Strip], part.Ring.Bounds()
		butt := box.MinX // of the strip, which may lie beyond the panel's end
		if p.Construction != Unequal {
			butt = strip.Along - p.butt()
		}
		for _, f := range strip.Flaws {
			at := geom.Placement{X: butt, Y: (box.MinY + box.MaxY) / 2}
			if p.Over {
				at.Y = -at.Y
			}
			if strip.Turned {
				at.X, at.Angle = butt+strip.Length, 180
			}
			if !p.Edge() {
				at.Flip = strip.Flipped
			} else if seen, ok := strip.onEdge(f, p.clean()); ok {
				f = seen
			} else {
				continue
			}
			f = f.Out(at)
			if p.Over {
				f = f.Out(geom.Placement{Flip: true})
			}
			f.ID = strip.ID + "/" + f.ID
			if c := f.Footprint().Bounds(); c.MaxX > 0 && c.MinX < shape.Length {
				f.Centre.X = min(max(f.Centre.X, 0), shape.Length)
				out = append(out, f)
			}
		}
	}
	return out
}

// butt is how far the last of the strips begins: there the panel does.
func (p Panel) butt() float64 {
	at := math.Inf(-1)
	for _, s := range p.Strips {
		at = max(at, s.Along)
	}
	return at
}

// onEdge is a flaw of a strip that is turned about its length, its wide face to the left
// or, flipped, to the right, as it is seen from above; false for one that stays hidden.
func (s Strip) onEdge(f stock.Flaw, clean float64) (stock.Flaw, bool) {
	box := f.Footprint().Bounds()
	from, to := 0.0, s.Thickness // below the wide face
	if !f.Through && !f.Sound() {
		if to = f.Depth; f.Under {
			from, to = s.Thickness-f.Depth, s.Thickness
		}
	}
	left, right := s.Thickness/2-from, s.Thickness/2-to
	above, below := box.MinY+s.Width/2, box.MaxY+s.Width/2 // below the edge that comes up, the right one
	if s.Flipped {
		left, right = -right, -left
		above, below = s.Width/2-box.MaxY, s.Width/2-box.MinY
	}
	up, down := above <= clean, below >= s.Width-clean
	if !up && !down {
		return f, false
	}
	f.Under, f.Through, f.Tilt = !up, up && down, nil
	if f.Depth = below - max(0, above); f.Under {
		f.Depth = s.Width - above
	}
	middle := geom.Point{X: (box.MinX + box.MaxX) / 2, Y: (left + right) / 2}
	const thin = 0.2
	switch f.Kind {
	case stock.Crack:
		f.Line, f.Width = []geom.Point{{X: box.MinX, Y: middle.Y}, {X: box.MaxX, Y: middle.Y}}, max(thin, left-right)
	case stock.Bark, stock.Soft, stock.Pocket, stock.Gone:
		f.Line = geom.Bounds{MinX: box.MinX, MaxX: box.MaxX, MinY: right, MaxY: max(left, right+thin)}.Ring()
	default:
		f.Centre, f.Angle = middle, 0
		f.A, f.B = max(thin, (box.MaxX-box.MinX)/2), max(thin, (left-right)/2)
	}
	return f, true
}

// Off is the panel as a piece knows it that is cut from it, whose frame lies so in it.
func (p *Panel) Off(at geom.Placement) *Panel {
	if p == nil {
		return nil
	}
	out := *p
	if p.Cut != nil {
		at = p.Cut.Of(at)
	}
	out.Cut = &at
	return &out
}

// Turn is the panel, or the piece that was cut from it, with its other face up.
func (p *Panel) Turn() *Panel {
	if p == nil {
		return nil
	}
	out := *p
	if p.Cut == nil {
		out.Over = !p.Over
		return &out
	}
	over := p.Cut.Of(geom.Placement{Flip: true})
	out.Cut = &over
	return &out
}
