package board

import (
	"fmt"
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// The kinds of surfaces that are sanded, each by a way of its own.
const (
	ShowFace  = "show face"
	UnderFace = "under face"
	SawnEdges = "edges"
	EndGrain  = "end grain"
	HoleWall  = "inside of a hole"
	BoredWall = "inside of a bored hole"
	SawnSlot  = "inside of a slot"
	Profiled  = "profile"
	EasedEdge = "eased edge"
	Floor     = "floor of a recess"
	Wall      = "wall of a recess"
	Corner    = "inside corner"
	LiveEdge  = "live edge"
)

// Surface is a part of a board's surface.
type Surface struct {
	Kind   string
	Name   string
	Area   float64       // mm²
	Wood   []stock.Patch // what it is made of
	Under  bool          // it is seen from the under face alone
	Gouged bool          // carved by hand, because no bit cuts it

	// Where it is seen, in the board's frame: what it covers of a face, or the lines along which
	// it stands.
	Rings []geom.Ring
	Lines [][]geom.Point
}

// cornerBand is how wide an inside corner is that is scraped by itself, mm, on the floor and on the
// wall alike (rule).
const cornerBand = 2

// Surfaces lists the surfaces of a board t mm thick that are sanded, the show face first. What a
// later cut takes away is none: an edge whose profiles take its whole height, a face where a
// recess is sunk into it or a profile runs in over it. Gouged tells of each recess whether it is
// carved.
func (s Shaped) Surfaces(t float64, wood stock.Grain, gouged func(Recess) bool) []Surface {
	whole := wood.Over(s.Outline)
	var out []Surface
	add := func(u Surface) {
		const least = 1 // mm²: less is no surface
		if u.Wood == nil {
			u.Wood = whole
		}
		if u.Area > least || u.Kind == ShowFace { // which is there even where the cuts leave nothing of it
			out = append(out, u)
		}
	}
	rings := append([]geom.Ring{s.Outline}, s.Holes...)
	for _, under := range []bool{false, true} {
		area := s.Area() - s.profiledFace(under, t)
		for _, c := range s.Cavities {
			if c.Recess.Under == under {
				area -= c.Rim.Area() - c.Inner.Area()
			}
		}
		for _, slot := range s.Slots {
			if slot.Under == under {
				area -= slot.Ring().Area()
			}
		}
		name := ShowFace
		if under {
			name = UnderFace
		}
		add(Surface{Kind: name, Name: name, Area: max(0, area), Under: under, Rings: rings})
	}
	edges, profiles := s.outlined(t, wood)
	for _, u := range edges {
		add(u)
	}
	for i, h := range s.Holes {
		kind := HoleWall
		if s.Handles[i].bored() && s.Handles[i].Kind != Slotted { // a slot is sawn between its two bores
			kind = BoredWall
		}
		add(Surface{
			Kind: kind, Name: fmt.Sprintf("inside of %s %d", s.Handles[i].Name(), i+1),
			Area: h.Perimeter() * s.upright(inHoles, t), Wood: wood.Over(h),
			Lines: [][]geom.Point{append(slices.Clone(h), h[0])},
		})
	}
	for _, u := range profiles {
		add(u)
	}
	for _, c := range s.Cavities {
		for _, u := range c.surfaces(s.Design.Recesses) {
			u.Gouged = gouged(c.Recess)
			add(u)
		}
	}
	for _, o := range s.Slots {
		if o.Full {
			continue
		}
		long, deep := o.B.Sub(o.A).Len(), (o.DepthA+o.DepthB)/2
		add(Surface{
			Kind: SawnSlot, Name: "inside of the " + o.Name, Area: long * (2*deep + o.Width), Under: o.Under,
			Rings: []geom.Ring{o.Ring()},
		})
	}
	for _, b := range s.Bores {
		if b.Late || !b.Side() { // screws and magnets sit in those into a face
			continue
		}
		add(Surface{
			Kind: BoredWall, Name: "inside of the " + b.Name, Area: math.Pi * b.Diameter * b.Long(t),
			Lines: [][]geom.Point{{b.A, b.B}},
		})
	}
	return out
}

// upright is how much of the thickness stands between the profiles of a side, mm.
func (s Shaped) upright(side string, t float64) float64 {
	show, under := s.Taken(side, t)
	return max(0, t-show-under)
}

// slope is how far it is over a profile from the face to the edge, mm, in a board t thick.
func (s Shaped) slope(e Edge, t float64) float64 {
	depth, run := min(t, s.profile(e, 0, t)), s.run(e, t)
	if e.Kind == "round-over" || e.Kind == "eased" {
		return math.Pi / 2 * min(e.Size, t)
	}
	return math.Hypot(depth, run)
}

// profiledFace is how much of a face its profiles run in over, mm².
func (s Shaped) profiledFace(under bool, t float64) (area float64) {
	for i := range s.Outline {
		if a, b := s.Outline.Edge(i); !s.natural(a, b) {
			area += b.Sub(a).Len() * s.run(s.edgeFor(sideOf(a, b), under), t)
		}
	}
	for _, h := range s.Holes {
		area += h.Perimeter() * s.run(s.edgeFor(inHoles, under), t)
	}
	return area
}

// ran is a profile as it is run along a side: how far over it is, and how far in.
type ran struct {
	kind, name string
	slope, in  float64
}

// runs are the profiles of a side, on either face; none that is not run.
func (s Shaped) runs(side string, t float64) (out []ran) {
	for _, under := range []bool{false, true} {
		e := s.edgeFor(side, under)
		r := ran{Profiled, e.Kind, s.slope(e, t), s.run(e, t)}
		switch e.Kind {
		case "eased":
			r.kind = EasedEdge
		case "finger":
			r.name = "finger bevel"
		}
		if r.slope > 0 {
			out = append(out, r)
		}
	}
	return out
}

// outlined are the surfaces along its outline: sawn edges, those across the fibres by themselves,
// natural ones, and the profiles by their kinds, with those in holes.
func (s Shaped) outlined(t float64, wood stock.Grain) (edges, profiles []Surface) {
	sawn, ends, live := Surface{Kind: SawnEdges, Name: SawnEdges}, Surface{Kind: EndGrain, Name: EndGrain},
		Surface{Kind: LiveEdge, Name: LiveEdge}
	type along struct {
		upright float64
		runs    []ran
	}
	sides := map[string]along{}
	of := func(side string) along {
		a, known := sides[side]
		if !known {
			a = along{s.upright(side, t), s.runs(side, t)}
			sides[side] = a
		}
		return a
	}
	profile := func(runs []ran, a, b geom.Point, inward float64) {
		d := b.Sub(a)
		n := d.Len()
		for _, r := range runs {
			i := slices.IndexFunc(profiles, func(u Surface) bool { return u.Name == r.name })
			if i < 0 {
				i = len(profiles)
				profiles = append(profiles, Surface{Kind: r.kind, Name: r.name})
			}
			profiles[i].Area += r.slope * n
			off := geom.Point{X: -d.Y, Y: d.X}.Scale(inward * r.in / n)
			profiles[i].line(a.Add(off), b.Add(off))
		}
	}
	inward := math.Copysign(1, s.Outline.SignedArea())
	for i := range s.Outline {
		a, b := s.Outline.Edge(i)
		d := b.Sub(a)
		long := d.Len()
		if long == 0 {
			continue
		}
		if s.natural(a, b) {
			live.Area += long * t
			live.line(a, b)
			continue
		}
		side := of(sideOf(a, b))
		if side.upright > 0 {
			sin, cos := math.Sincos(wood.At(a.Lerp(b, 0.5)).Fibres * math.Pi / 180)
			u := &sawn
			if math.Abs(d.X*cos+d.Y*sin)/long < math.Sqrt2/2 { // it runs across the fibres
				u = &ends
			}
			u.Area += long * side.upright
			u.line(a, b)
		}
		profile(side.runs, a, b, inward)
	}
	if inside := of(inHoles).runs; len(inside) > 0 {
		for _, h := range s.Holes {
			out := -math.Copysign(1, h.SignedArea())
			for i := range h {
				if a, b := h.Edge(i); a != b {
					profile(inside, a, b, out)
				}
			}
		}
	}
	return []Surface{sawn, ends, live}, profiles
}

// line adds a stretch to where it is seen, to the last one where it goes on from it.
func (u *Surface) line(a, b geom.Point) {
	if n := len(u.Lines); n > 0 {
		if last := u.Lines[n-1]; last[len(last)-1] == a {
			u.Lines[n-1] = append(last, b)
			return
		}
	}
	u.Lines = append(u.Lines, []geom.Point{a, b})
}

// surfaces are the floor of a cavity, its walls, and the corner between them, which is square
// where no cove rounds it. What a round bit cuts is one hollow.
func (c Cavity) surfaces(of []Recess) []Surface {
	if len(c.Rim) < 3 {
		return nil
	}
	r, name := c.Recess, c.Name(of)
	rings := []geom.Ring{c.Rim}
	if c.Inner != nil {
		rings = append(rings, c.Inner)
	}
	all := Surface{Kind: Floor, Name: name, Under: r.Under, Rings: rings}
	switch {
	case c.Run > 0:
		all.Area = c.Run * hollowed(r.Radius, r.Depth)
		return []Surface{all}
	case r.Kind == "bowl":
		l, w := r.size()
		all.Area = domed(l/2, w/2, r.Depth)
		return []Surface{all}
	}
	round := c.Rim.Perimeter()
	deep := r.Depth
	if r.Kind == "slope" {
		deep = (r.Depth + r.Deep) / 2
	}
	floor := Surface{Kind: Floor, Name: "floor of " + name, Area: c.Rim.Area(), Under: r.Under, Rings: rings}
	line := [][]geom.Point{append(slices.Clone(c.Rim), c.Rim[0])}
	wall := Surface{Kind: Wall, Name: "wall of " + name, Area: round * deep, Under: r.Under, Lines: line}
	if r.Cove > 0 { // floor and wall run into each other over a quarter of a round
		arc := math.Pi / 2 * r.Cove
		floor.Area += round * (arc/2 - r.Cove)
		wall.Area += round * (arc/2 - r.Cove)
		return []Surface{floor, wall}
	}
	band := min(cornerBand, deep/2)
	floor.Area -= round * band
	wall.Area -= round * band
	corner := Surface{Kind: Corner, Name: "corner of " + name, Area: 2 * band * round, Under: r.Under, Lines: line}
	return []Surface{floor, wall, corner}
}

// hollowed is how far it is from rim to rim down through a groove of a round-nosed bit, mm.
func hollowed(radius, depth float64) float64 {
	if depth >= radius {
		return math.Pi*radius + 2*(depth-radius)
	}
	return 2 * radius * math.Acos((radius-depth)/radius)
}

// domed is the surface of half an ellipsoid, mm², by Thomsen's approximation, within 1.1 %.
func domed(a, b, c float64) float64 {
	const p = 1.6075
	pow := func(x, y float64) float64 { return math.Pow(x*y, p) }
	return 2 * math.Pi * math.Pow((pow(a, b)+pow(a, c)+pow(b, c))/3, 1/p)
}

// Drinks are the surfaces of a board t mm thick that take finish, mm²: each face, the edges, and
// what is bored, slotted and sunk; and the end grain in each, which is what lies across the fibres.
type Drinks struct {
	Show, Under, Edges, Cavities       float64
	ShowEnd, UnderEnd, EdgesEnd, Inner float64 // end grain in them
}

// Whole is all of it, and the end grain in it, mm².
func (d Drinks) Whole() (whole, end float64) {
	return d.Show + d.Under + d.Edges + d.Cavities, d.ShowEnd + d.UnderEnd + d.EdgesEnd + d.Inner
}

// Thirst is what of a board t mm thick drinks.
func (s Shaped) Thirst(t float64, wood stock.Grain) (d Drinks) {
	area, end := s.Area(), stock.EndArea(wood.Over(s.Outline))
	d = Drinks{Show: area, Under: area, ShowEnd: end, UnderEnd: end}
	edge := func(r geom.Ring, whole, end *float64) {
		for i := range r {
			p, q := r.Edge(i)
			side := q.Sub(p)
			l := side.Len()
			if l == 0 {
				continue
			}
			sin, cos := math.Sincos(wood.At(p).Fibres * math.Pi / 180)
			along := (side.X*cos + side.Y*sin) / l
			*whole += l * t
			*end += l * t * (1 - along*along)
		}
	}
	edge(s.Outline, &d.Edges, &d.EdgesEnd)
	for _, h := range s.Holes {
		edge(h, &d.Cavities, &d.Inner)
	}
	for _, c := range s.Cavities { // its walls drink beside its floor, which counts as face
		var floor float64
		for _, u := range c.surfaces(s.Design.Recesses) {
			floor += u.Area
		}
		d.Cavities += max(0, floor-(c.Rim.Area()-c.Inner.Area()))
	}
	for _, b := range s.Bores { // what is bored and slotted before the finish drinks too
		if !b.Late {
			d.Cavities += math.Pi * b.Diameter * b.Long(t)
		}
	}
	for _, o := range s.Slots {
		d.Cavities += o.B.Sub(o.A).Len() * (o.DepthA + o.DepthB)
	}
	return d
}
