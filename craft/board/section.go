package board

import (
	"cmp"
	"math"
	"slices"

	"idletimber/craft/geom"
)

// Section is a cut through a board, drawn true: across it, u runs to the left;
// along it, toward the handle. The show face lies at 0, the under face at −t.
type Section struct {
	Along bool       `json:"along" doc:"It lies along the board; otherwise across"`
	At    float64    `json:"at" doc:"Where it is cut: x of a cross section, y of a long one"`
	Path  string     `json:"path" doc:"SVG path data in u and height, mm"`
	Box   [4]float64 `json:"box" doc:"Around what is drawn: least x, least y, most x, most y, mm"`
}

// Sections are the cross section where the board is widest, and the long one
// along its middle.
func Sections(s Shaped, t float64) []Section {
	box := s.Outline.Bounds()
	if len(s.Outline) < 3 || t <= 0 {
		return []Section{}
	}
	at, most := 0.0, -1.0
	for i := range 41 {
		x := box.MinX + (box.MaxX-box.MinX)*(float64(i)+0.5)/41
		if from, to, ok := across(s.Outline, x); ok && to-from > most+0.5 {
			at, most = x, to-from
		}
	}
	if mid := (box.MinX + box.MaxX) / 2; s.widthAt(mid) > 0.97*most { // the middle, where it is as wide
		at = mid
	}
	for _, c := range s.Cavities { // through a recess, where there is one
		if c.Run == 0 && len(c.Rim) > 2 {
			b := c.Rim.Bounds()
			at = (b.MinX + b.MaxX) / 2
			break
		}
	}
	for _, b := range s.Bores { // or through what is bored into a side
		if b.Side() {
			at = b.A.X
		}
	}
	return []Section{s.section(t, at, false), s.section(t, (box.MinY+box.MaxY)/2, true)}
}

// section cuts the board and draws every solid stretch.
func (s Shaped) section(t, at float64, along bool) Section {
	place := func(u float64) geom.Point {
		if along {
			return geom.Point{X: u, Y: at}
		}
		return geom.Point{X: at, Y: u}
	}
	spans := func(r geom.Ring) []float64 {
		if along {
			return r.Spans(at)
		}
		return r.SpansAcross(at, nil)
	}
	first, last := right, left
	if along {
		first, last = farEnd, handleEnd
	}
	type end struct {
		u    float64
		side string
	}
	var ends []end
	for i, u := range spans(s.Outline) {
		ends = append(ends, end{u, []string{first, last}[i%2]})
	}
	for _, h := range s.Holes {
		for _, u := range spans(h) {
			ends = append(ends, end{u, inHoles})
		}
	}
	for i := range ends { // few: sorted in place
		for k := i; k > 0 && ends[k].u < ends[k-1].u; k-- {
			ends[k], ends[k-1] = ends[k-1], ends[k]
		}
	}
	sec := Section{Along: along, At: at, Box: [4]float64{math.Inf(1), -t, math.Inf(-1), 0}}
	for i := 0; i+1 < len(ends); i += 2 {
		a, b := ends[i], ends[i+1]
		sec.Box[0], sec.Box[2] = min(sec.Box[0], a.u), max(sec.Box[2], b.u)
		var faces [2][]geom.Point // the show face, then the under face
		for k, under := range []bool{false, true} {
			slant := 0.0
			if under != s.Design.WideUnder {
				slant = s.Design.Slant
			}
			u0, u1 := a.u+slant*btof(a.side != inHoles), b.u-slant*btof(b.side != inHoles)
			faces[k] = s.faceLine(u0, u1, s.edgeFor(a.side, under), s.edgeFor(b.side, under), under, t, place)
		}
		if s.Design.Slant > 0 { // the narrower face reaches the wider one along the slanting edges
			wide, narrow := 0, 1
			if s.Design.WideUnder {
				wide, narrow = 1, 0
			}
			w := faces[wide]
			faces[narrow] = slices.Concat(w[:1], faces[narrow], w[len(w)-1:])
		}
		for _, ring := range solid(faces[0], faces[1]) {
			sec.Path += ring.Simplified(0.02).SVG()
		}
	}
	for _, h := range s.Fitted(t) {
		if h.Top <= 0 || h.Bottom >= t { // open to a face
			continue
		}
		if us := spans(h.Ring); len(us) > 1 { // drawn against the clock: it is no wood
			sec.Path += geom.Ring{
				{X: us[0], Y: -h.Top}, {X: us[0], Y: -h.Bottom},
				{X: us[len(us)-1], Y: -h.Bottom}, {X: us[len(us)-1], Y: -h.Top},
			}.SVG()
		}
	}
	if math.IsInf(sec.Box[0], 1) {
		sec.Box[0], sec.Box[2] = 0, 0
	}
	return sec
}

// solid is the wood between two lines that run from left to right: closed lines, one for
// each stretch where the upper lies above the lower.
func solid(upper, lower []geom.Point) (out []geom.Ring) {
	const thin = 1e-3 // mm
	us := make([]float64, 0, len(upper)+len(lower))
	for _, line := range [][]geom.Point{upper, lower} {
		for _, p := range line {
			us = append(us, p.X)
		}
	}
	slices.Sort(us)
	us = slices.Compact(us)
	up, low := follow(upper), follow(lower)
	var hi, lo geom.Ring
	end := func() {
		if len(hi) > 1 {
			slices.Reverse(lo)
			out = append(out, append(hi, lo...))
		}
		hi, lo = nil, nil
	}
	var u0, gap0 float64
	for i, u := range us {
		h, l := up(u), low(u)
		gap := h - l
		if i > 0 && (gap0 > thin) != (gap > thin) && gap0 != gap { // where they cross, or nearly touch
			share := max(0, min(1, gap0/(gap0-gap)))
			at := u0 + (u-u0)*share
			p := geom.Point{X: at, Y: up(at)}
			hi, lo = append(hi, p), append(lo, p)
			if gap0 > thin {
				end()
			}
		}
		if gap > thin {
			hi, lo = append(hi, geom.Point{X: u, Y: h}), append(lo, geom.Point{X: u, Y: l})
		}
		u0, gap0 = u, gap
	}
	end()
	return out
}

// follow is the height of a line that runs from left to right, asked anywhere along it.
func follow(line []geom.Point) func(u float64) float64 {
	return func(u float64) float64 {
		i, _ := slices.BinarySearchFunc(line, u, func(p geom.Point, u float64) int { return cmp.Compare(p.X, u) })
		switch {
		case i == 0:
			return line[0].Y
		case i == len(line):
			return line[len(line)-1].Y
		}
		a, b := line[i-1], line[i]
		if b.X-a.X < 1e-12 {
			return b.Y
		}
		return a.Y + (b.Y-a.Y)*(u-a.X)/(b.X-a.X)
	}
}

// edgeFor is the profile at the end of a stretch; a finger bevel counts as one.
func (s Shaped) edgeFor(side string, under bool) Edge {
	e := s.Design.EdgeAt(side, under)
	h, ok := s.Design.bevel()
	ends := side == handleEnd || side == farEnd
	if !ok || side == inHoles || !under && !h.Both || h.Where == "ends" && !ends || h.Where == "sides" && ends {
		return e
	}
	return Edge{Kind: "finger", Size: h.Flat, Angle: h.Angle}
}

// faceLine is one face of a section between two ends, with its profiles and
// what is sunk into it.
func (s Shaped) faceLine(
	u0, u1 float64,
	a, b Edge,
	under bool,
	t float64,
	place func(float64) geom.Point,
) []geom.Point {
	const fine = 14
	even := 1
	if slices.ContainsFunc(s.Cavities, func(c Cavity) bool { return c.Recess.Under == under }) {
		even = 240
	}
	slots := slices.DeleteFunc(slices.Clone(s.Slots), func(t Slot) bool { return t.Under != under })
	type sunk struct {
		ring geom.Ring
		deep float64
	}
	var bores []sunk // from this face
	for _, b := range s.Bores {
		if through := b.Long(t) >= t; !b.Side() && b.Long(t) >= b.Bites && (b.Under == under || through) {
			bores = append(bores, sunk{b.Ring(), b.Long(t)})
		}
	}
	var us []float64
	step := func(from, to float64, n int) {
		for i := range n {
			us = append(us, from+(to-from)*float64(i)/float64(n))
		}
	}
	ra, rb := min(s.run(a, t), (u1-u0)/2), min(s.run(b, t), (u1-u0)/2)
	step(u0, u0+ra, fine)
	step(u0+ra, u1-rb, even)
	step(u1-rb, u1, fine)
	us = append(us, u1)
	for _, t := range slots {
		const wall = 1e-4 // upright, drawn as two points
		for _, u := range crossed(t.Ring(), place) {
			if u > u0+wall && u < u1-wall {
				us = append(us, u-wall, u+wall)
			}
		}
	}
	for _, b := range bores {
		for _, u := range crossed(b.ring, place) {
			us = append(us, max(u0, min(u-1e-4, u1)), max(u0, min(u+1e-4, u1)))
		}
	}
	slices.Sort(us)
	out := make([]geom.Point, 0, len(us))
	for _, u := range us {
		depth := max(s.profile(a, u-u0, t), s.profile(b, u1-u, t))
		p := place(u)
		for _, c := range s.Cavities {
			if c.Recess.Under == under && len(c.Rim) > 2 && c.Rim.Contains(p) &&
				(c.Inner == nil || !c.Inner.Contains(p)) {
				depth = max(depth, c.depthAt(p))
			}
		}
		for _, o := range slots {
			depth = max(depth, o.depthAt(p))
		}
		for _, b := range bores {
			if b.ring.Contains(p) {
				depth = max(depth, b.deep)
			}
		}
		depth = min(depth, t)
		z := -depth
		if under {
			z = depth - t
		}
		out = append(out, geom.Point{X: u, Y: z})
	}
	return out
}

// crossed is where a section passes into a ring and out of it.
func crossed(ring geom.Ring, place func(float64) geom.Point) []float64 {
	if at := place(0); place(1).X > at.X { // along the board
		return ring.Spans(at.Y)
	}
	return ring.SpansAcross(place(0).X, nil)
}

// run is how far a profile reaches in from its edge, mm.
func (s Shaped) run(e Edge, t float64) float64 {
	if e.Kind == "finger" {
		h, _ := s.Design.bevel()
		_, deep := UnderBevel(t, e.Size, e.Angle, h.Both)
		return deep
	}
	return e.Run()
}

// profile is how deep a profile has cut the face at a distance from its edge.
func (s Shaped) profile(e Edge, d, t float64) float64 {
	reach := s.run(e, t)
	if reach <= 0 || d >= reach {
		return 0
	}
	switch e.Kind {
	case "round-over", "eased":
		return e.Size - math.Sqrt(max(0, e.Size*e.Size-(e.Size-d)*(e.Size-d)))
	case "finger":
		h, _ := s.Design.bevel()
		high, _ := UnderBevel(t, e.Size, e.Angle, h.Both)
		return high * (1 - d/reach)
	}
	return e.Depth() * (1 - d/reach)
}
