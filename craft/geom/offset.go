package geom

import (
	"math"
	"slices"
)

// offset moves a ring outward by d mm, its corners rounded, or inward where d is negative; of what is left it is the
// largest part, without what it closes in.
func (r Ring) offset(d float64) Ring {
	for try := range 4 {
		if parts, ok := r.offsets(d, try); ok {
			return Largest(parts)
		}
	}
	return r.Outset(d)
}

// offsets are the rims of all that lies within d mm of what a ring encloses, or no nearer than −d to its outside:
// anticlockwise, and clockwise about what they close in.
//
// Every side is moved by itself. At a corner that opens, an arc joins two sides; at one that closes, they are cut where
// they cross, or else led by way of the corner. So drawn, the line winds once more about whatever a side or a corner
// sweeps over, and what it winds about at all is what is wanted (Chen and McMains 2005): its rim is every stretch of
// the line with one winding to its left and none to its right. Windings change only where the line crosses itself.
//
// Where lines fall together no such stretch can be told, ok is false, and another try has every corner moved by less
// than a hundred-thousandth of a millimetre.
func (r Ring) offsets(d float64, try int) (rims []Ring, ok bool) {
	line := r.shifted(try).moved(d)
	if len(line) < 3 {
		return nil, true
	}
	at, ok := line.selfCrossings()
	if !ok {
		return nil, false
	}
	if len(at) == 0 {
		if line.SignedArea() > 0 {
			return []Ring{line}, true
		}
		return nil, true
	}
	return line.rims(at)
}

// shifted is the ring without doubled points, anticlockwise; on another try with its points a little beside where they
// were.
func (r Ring) shifted(try int) Ring {
	const apart, beside = 1e-9, 2e-6 // mm
	out := make(Ring, 0, len(r))
	for i, p := range r {
		if try > 0 {
			sin, cos := math.Sincos(float64(i)*2.399963 + float64(try)) // all about, none like its neighbours
			p = Point{p.X + float64(try)*beside*cos, p.Y + float64(try)*beside*sin}
		}
		if len(out) == 0 || p.Sub(out[len(out)-1]).Len() > apart {
			out = append(out, p)
		}
	}
	for len(out) > 1 && out[0].Sub(out[len(out)-1]).Len() <= apart {
		out = out[:len(out)-1]
	}
	if out.SignedArea() < 0 {
		slices.Reverse(out)
	}
	return out
}

// moved is the line of all sides of an anticlockwise ring moved outward by d mm, joined at its corners.
func (r Ring) moved(d float64) Ring {
	n := len(r)
	if n < 3 {
		return nil
	}
	along := make([]Point, n) // of each side, of length 1
	long := make([]float64, n)
	for i := range r {
		a, b := r.Edge(i)
		long[i] = b.Sub(a).Len()
		along[i] = b.Sub(a).Scale(1 / long[i])
	}
	// What a side loses at its ends where it is cut by its neighbours.
	cut := make([]float64, n) // at the corner where side i begins
	for i := range r {
		in, out := along[(i+n-1)%n], along[i]
		if turn := in.X*out.Y - in.Y*out.X; turn*d < 0 {
			cut[i] = math.Abs(d * turn / (1 + in.X*out.X + in.Y*out.Y))
		}
	}
	trimmed := func(i int) bool { // corner i, before side i
		before := (i + n - 1) % n
		return cut[i]+cut[before] < 0.999*long[before] && cut[i]+cut[(i+1)%n] < 0.999*long[i]
	}
	// straight is by how much the ends of two sides lie apart that go on into each other, mm.
	const straight = 1e-4
	step := 2 * math.Acos(max(0, 1-Fine/2/math.Abs(d))) // between the points of an arc
	line := make(Ring, 0, 2*n)
	for i, p := range r {
		in, out := along[(i+n-1)%n], along[i]
		from, to := Point{in.Y * d, -in.X * d}, Point{out.Y * d, -out.X * d}
		turn := math.Atan2(in.X*out.Y-in.Y*out.X, in.X*out.X+in.Y*out.Y)
		switch {
		case math.Abs(turn*d) < straight:
			line = append(line, p.Add(to))
		case turn*d < 0 && trimmed(i):
			line = append(line, p.Add(to).Add(out.Scale(cut[i])))
		case turn*d < 0:
			line = append(line, p.Add(from), p, p.Add(to))
		default:
			line = append(line, p.Add(from))
			pieces := int(math.Ceil(math.Abs(turn) / step))
			for k := 1; k < pieces; k++ {
				sin, cos := math.Sincos(turn * float64(k) / float64(pieces))
				line = append(line, p.Add(Point{from.X*cos - from.Y*sin, from.X*sin + from.Y*cos}))
			}
			if pieces > 0 {
				line = append(line, p.Add(to))
			}
		}
	}
	return line
}

// meeting is a place at which a line crosses itself, as one of the two sides that cross there sees it.
type meeting struct {
	side  int
	along float64 // share of the side, from 0 to 1
	place int     // of the meetings' places
	left  int     // 1 where the other side crosses to the left, −1 to the right
	at    Point
}

// selfCrossings are the meetings of a closed line with itself, along the line; ok is false where two sides touch and
// do not cross clearly.
func (r Ring) selfCrossings() (out []meeting, ok bool) {
	ix := NewIndex(r)
	boxes := make([]Bounds, len(r))
	for i := range r {
		a, b := r.Edge(i)
		boxes[i] = Bounds{min(a.X, b.X), min(a.Y, b.Y), max(a.X, b.X), max(a.Y, b.Y)}
	}
	for i, j := range ix.pairs(ix) {
		if j >= i || !boxes[i].meets(boxes[j]) {
			continue
		}
		mine, theirs, left, ok := r.crossing(i, j)
		if !ok {
			return nil, false
		}
		if left != 0 {
			a, b := r.Edge(i)
			at, place := a.Lerp(b, mine), len(out)/2
			out = append(out, meeting{i, mine, place, left, at}, meeting{j, theirs, place, -left, at})
		}
	}
	slices.SortFunc(out, func(p, q meeting) int {
		switch {
		case p.side != q.side:
			return p.side - q.side
		case p.along < q.along:
			return -1
		case p.along > q.along:
			return 1
		}
		return p.place - q.place
	})
	return out, true
}

// crossing is where two sides cross, as shares of both, and whether the other crosses to the left of the first, 1, to
// its right, −1, or not at all; ok is false where they touch and do not cross clearly.
func (r Ring) crossing(i, j int) (mine, theirs float64, left int, ok bool) {
	const clear = 1e-9 // mm by which the ends of a side lie beside another that it crosses
	a, b := r.Edge(i)
	c, d := r.Edge(j)
	if i-j == 1 || i-j == len(r)-1 {
		return 0, 0, 0, !foldsBack(a, b, c, d)
	}
	u, v := cross(c, d, a), cross(c, d, b)
	w, x := cross(a, b, c), cross(a, b, d)
	most, least := clear*d.Sub(c).Len(), clear*b.Sub(a).Len()
	switch {
	case u > most && v > most, u < -most && v < -most, w > least && x > least, w < -least && x < -least:
		return 0, 0, 0, true
	case math.Abs(u) <= most, math.Abs(v) <= most, math.Abs(w) <= least, math.Abs(x) <= least:
		return 0, 0, 0, false
	case w < x: // the other comes from the right
		left = 1
	default:
		left = -1
	}
	return u / (u - v), w / (w - x), left, true
}

// foldsBack reports two sides that follow each other and lie on each other.
func foldsBack(a, b, c, d Point) bool {
	p, q := b.Sub(a), d.Sub(c)
	return p.X*q.X+p.Y*q.Y < 0 && math.Abs(p.X*q.Y-p.Y*q.X) < 1e-9*p.Len()*q.Len()
}

// rims are the stretches of a line between its meetings that have one winding to their left and none to their right,
// joined.
func (r Ring) rims(at []meeting) (rims []Ring, ok bool) {
	n := len(at)
	// Stretch k runs from meeting k to the next one.
	right := make([]int, n)
	right[0] = r.windingRightOf(at)
	for k := 1; k < n; k++ {
		right[k] = right[k-1] - at[k].left
	}
	twin := make([]int, n) // the other meeting at the same place
	first := make([]int, n/2)
	for k := range first {
		first[k] = -1
	}
	for k, m := range at {
		if o := first[m.place]; o < 0 {
			first[m.place] = k
		} else {
			twin[k], twin[o] = o, k
		}
	}
	for k, m := range at { // as seen by both that cross
		if before, other := right[(k+n-1)%n], right[(twin[k]+n-1)%n]; other != before-m.left {
			return nil, false
		}
	}
	used := make([]bool, n)
	for from := range at {
		if used[from] || right[from] != 0 {
			continue
		}
		var rim Ring
		for k := from; !used[k]; {
			used[k] = true
			end := (k + 1) % n
			rim = append(rim, at[k].at)
			for i := at[k].side; i != at[end].side; {
				i = (i + 1) % len(r)
				rim = append(rim, r[i])
			}
			if k = end; right[k] != 0 {
				k = twin[end]
			}
			if right[k] != 0 {
				return nil, false
			}
		}
		rims = append(rims, rim)
	}
	return rims, true
}

// windingRightOf is how often a line winds about what lies to the right of its stretch from its first meeting to the
// second.
func (r Ring) windingRightOf(at []meeting) (w int) {
	a, b := r.Edge(at[0].side)
	end := b
	if len(at) > 1 && at[1].side == at[0].side {
		end = at[1].at
	}
	const beside = 1e-8 // mm
	d := b.Sub(a)
	p := at[0].at.Lerp(end, 0.5).Add(Point{d.Y, -d.X}.Scale(beside / d.Len()))
	for i := range r {
		a, b := r.Edge(i)
		switch {
		case a.Y <= p.Y && b.Y > p.Y && cross(a, b, p) > 0:
			w++
		case a.Y > p.Y && b.Y <= p.Y && cross(a, b, p) < 0:
			w--
		}
	}
	return w
}
