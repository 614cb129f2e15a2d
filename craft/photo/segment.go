package photo

import (
	"cmp"
	"image"
	"maps"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// cells bounds how many places of the plane are looked at to tell wood from
// ground.
const cells = 60000

// farthest is how far from the sheet the slab may reach, mm.
const farthest = 1600

// raster is a grid of places on the plane.
type raster struct {
	min  geom.Point
	step float64 // mm
	w, h int
}

func (r raster) place(k int) geom.Point {
	return geom.Point{X: r.min.X + float64(k%r.w)*r.step, Y: r.min.Y + float64(k/r.w)*r.step}
}

// rim lists the places at the edge of the grid.
func (r raster) rim() (out []int) {
	for k := range r.w * r.h {
		if x, y := k%r.w, k/r.w; x == 0 || y == 0 || x == r.w-1 || y == r.h-1 {
			out = append(out, k)
		}
	}
	return out
}

// gridOver lays a grid over what the picture shows of the plane.
func gridOver(v View) raster {
	b := v.bounds
	box := geom.Bounds{MinX: math.Inf(1), MinY: math.Inf(1), MaxX: math.Inf(-1), MaxY: math.Inf(-1)}
	const a = 8
	for i := range a + 1 {
		for j := range a + 1 {
			p := v.Plane(geom.Point{X: b.MaxX * float64(i) / a, Y: b.MaxY * float64(j) / a})
			box = geom.Bounds{
				MinX: min(box.MinX, p.X),
				MinY: min(box.MinY, p.Y),
				MaxX: max(box.MaxX, p.X),
				MaxY: max(box.MaxY, p.Y),
			}
		}
	}
	box.MinX, box.MinY = max(box.MinX, -farthest), max(box.MinY, -farthest)
	box.MaxX, box.MaxY = min(box.MaxX, v.paper.MaxX+farthest), min(box.MaxY, v.paper.MaxY+farthest)
	step := max(1, math.Sqrt((box.MaxX-box.MinX)*(box.MaxY-box.MinY)/cells))
	return raster{
		min:  geom.Point{X: box.MinX, Y: box.MinY},
		step: step,
		w:    int((box.MaxX-box.MinX)/step) + 1,
		h:    int((box.MaxY-box.MinY)/step) + 1,
	}
}

// feature describes a colour so that light and shade matter less than hue.
type feature [3]float64

func featureOf(c colour) feature {
	r, g, b := float64(c[0]), float64(c[1]), float64(c[2])
	l := (r + g + b) / 3
	return feature{l / 60, 10 * (r - g) / (l + 20), 10 * (g - b) / (l + 20)}
}

// What is known of a place beforehand.
const (
	open = iota
	wood
	ground
	paper
)

// segment tells the wood around the sheet from the ground and returns its
// border on the plane, about a grid step exact.
func segment(watch craft.Watch, img *image.RGBA, v View) (geom.Ring, error) {
	g := gridOver(v)
	n := g.w * g.h
	src := smaller(
		img,
		int(min(32, max(1, math.Round(v.pixels(geom.Point{X: v.paper.MaxX / 2, Y: v.paper.MaxY / 2})*g.step)))),
	)
	look, known := make([]feature, n), make([]uint8, n)
	margin := 0.015 * v.bounds.MaxX
	for k := range n {
		p := g.place(k)
		px := v.Pixel(p)
		depth := v.bounds.Depth(px)
		look[k] = featureOf(src.at(px.X, px.Y))
		switch d := v.paper.Depth(p); {
		case depth < margin:
			known[k] = ground
		case d > -1.5:
			known[k] = paper
		case d > -9:
			known[k] = wood
		}
	}
	is := make([]bool, n)
	for k := range n {
		is[k] = known[k] == wood
	}
	ring, err := divide(watch, g, look, known, is, func(u []float32) []bool {
		return holding(u, []int{slices.Index(known, paper)}, g)
	})
	if err == nil && ring.Area() < 1.05*v.paper.MaxX*v.paper.MaxY {
		err = ErrNoEdge
	}
	return ring, err
}

// divide tells two sorts of places apart by their colours, from those that are taken to be of
// the first one, and returns the border of the part of it that counts.
func divide(
	watch craft.Watch,
	g raster,
	look []feature,
	known []uint8,
	is []bool,
	part func(u []float32) []bool,
) (geom.Ring, error) {
	n := len(look)
	u := make([]float32, n)
	weights := contrast(look, g)
	for round := range 3 {
		var in, out []feature
		for k := range n {
			switch {
			case known[k] == paper:
			case is[k]:
				in = append(in, look[k])
			case round > 0 || known[k] == ground:
				out = append(out, look[k])
			}
		}
		if len(in) < 50 || len(out) < 50 {
			return nil, ErrNoEdge
		}
		woods, grounds := newMixture(in, min(3+round, 5)), newMixture(out, 8)
		pull := make([]float32, n)
		for k := range n {
			switch known[k] {
			case paper:
				pull[k] = -8
			case ground:
				pull[k] = 8
			default:
				pull[k] = float32(min(6, max(-6, grounds.log(look[k])-woods.log(look[k]))))
			}
		}
		if err := settle(watch, u, pull, weights, g, 40); err != nil {
			return nil, err
		}
		is = part(u)
	}
	for k := range n { // only the part that counts
		if !is[k] {
			u[k] = min(u[k], 0.49)
		} else {
			u[k] = max(u[k], 0.51)
		}
	}
	ring := border(u, g)
	if len(ring) < 8 {
		return nil, ErrNoEdge
	}
	return ring, nil
}

// contrast is how easily a border runs between a place and its right and upper
// neighbour: easily where the colours differ.
func contrast(look []feature, g raster) [2][]float32 {
	var out [2][]float32
	var mean float64
	diff := func(a, b feature) float64 {
		var s float64
		for i := range a {
			s += (a[i] - b[i]) * (a[i] - b[i])
		}
		return s
	}
	for d, next := range []int{1, g.w} {
		out[d] = make([]float32, len(look))
		for k := 0; k+next < len(look); k++ {
			s := diff(look[k], look[k+next])
			out[d][k] = float32(s)
			mean += s
		}
	}
	mean = mean/float64(2*len(look)) + 1e-9
	for d := range out {
		for k, s := range out[d] {
			out[d][k] = float32(0.15 + 0.85*math.Exp(-float64(s)/(2*mean)))
		}
	}
	return out
}

// settle finds the smoothest division that follows the pull of each place:
// the convex two-part segmentation of Chan, Esedoglu and Nikolova (2006), by
// the iteration of Chambolle and Pock (2011). u comes out near 1 for wood.
// It ends with the error of the watch, which is asked at every round.
func settle(watch craft.Watch, u, pull []float32, weights [2][]float32, g raster, rounds int) error {
	n := len(u)
	px, py, bar := make([]float32, n), make([]float32, n), slices.Clone(u)
	const tau, sigma, smooth = 0.35, 0.35, 2.2
	for range rounds {
		if err := watch.Ask(); err != nil {
			return err
		}
		inRows(g.h, func(row int) {
			for x := range g.w {
				k := row*g.w + x
				var dx, dy float32
				if x+1 < g.w {
					dx = bar[k+1] - bar[k]
				}
				if row+1 < g.h {
					dy = bar[k+g.w] - bar[k]
				}
				wx, wy := smooth*weights[0][k], smooth*weights[1][k]
				px[k] = min(wx, max(-wx, px[k]+sigma*dx))
				py[k] = min(wy, max(-wy, py[k]+sigma*dy))
			}
		})
		inRows(g.h, func(row int) {
			for x := range g.w {
				k := row*g.w + x
				div := px[k] + py[k]
				if x > 0 {
					div -= px[k-1]
				}
				if row > 0 {
					div -= py[k-g.w]
				}
				before := u[k]
				u[k] = min(1, max(0, before+tau*(div-pull[k])))
				bar[k] = 2*u[k] - before
			}
		})
	}
	return nil
}

// holding is the part that holds some places, its holes closed.
func holding(u []float32, from []int, g raster) []bool {
	n := len(u)
	part := flood(n, g, from, func(k int) bool { return u[k] > 0.5 })
	outside := flood(n, g, g.rim(), func(k int) bool { return !part[k] })
	out := make([]bool, n)
	for k := range n {
		out[k] = !outside[k]
	}
	return out
}

func flood(n int, g raster, from []int, in func(int) bool) []bool {
	seen := make([]bool, n)
	overrun(seen, g, from, in)
	return seen
}

// overrun goes on from places to their neighbours as far as they are in, marks all as seen that
// were not, and lists those.
func overrun(seen []bool, g raster, from []int, in func(int) bool) (part []int) {
	n := len(seen)
	visit := func(k int) {
		if !seen[k] && in(k) {
			seen[k] = true
			part = append(part, k)
		}
	}
	for _, k := range from {
		if k >= 0 {
			visit(k)
		}
	}
	for i := 0; i < len(part); i++ {
		k := part[i]
		if k%g.w > 0 {
			visit(k - 1)
		}
		if k%g.w < g.w-1 {
			visit(k + 1)
		}
		if k >= g.w {
			visit(k - g.w)
		}
		if k+g.w < n {
			visit(k + g.w)
		}
	}
	return part
}

// border follows the line u = ½ (marching squares) and returns the largest
// ring, on the plane.
func border(u []float32, g raster) geom.Ring {
	// An edge between two neighbours is named by the lower one and its direction.
	type edge struct {
		k, dir int
	}
	next := map[edge]edge{}
	cross := func(e edge) geom.Point {
		step := 1
		if e.dir == 1 {
			step = g.w
		}
		a, b := float64(u[e.k]), float64(u[e.k+step])
		return g.place(e.k).Lerp(g.place(e.k+step), (0.5-a)/(b-a))
	}
	for y := range g.h - 1 {
		for x := range g.w - 1 {
			k := y*g.w + x
			at := [4]int{k, k + 1, k + g.w + 1, k + g.w}
			sides := [4]edge{{k, 0}, {k + 1, 1}, {k + g.w, 0}, {k, 1}}
			code := 0
			for i, c := range at {
				if u[c] > 0.5 {
					code |= 1 << i
				}
			}
			if code == 0 || code == 15 {
				continue
			}
			// The wood lies to the left of the line: it enters a square where the
			// corners turn from wood to ground and leaves where they turn back.
			for i := range 4 {
				in, after := code>>i&1 == 1, code>>((i+1)%4)&1 == 1
				if !in || after {
					continue
				}
				for j := 1; j < 4; j++ { // the nearest way back to wood
					s := (i + 4 - j) % 4
					if code>>s&1 == 0 && code>>((s+1)%4)&1 == 1 {
						next[sides[i]] = sides[s]
						break
					}
				}
			}
		}
	}
	var best geom.Ring
	done := map[edge]bool{}
	starts := slices.SortedFunc(maps.Keys(next), func(a, b edge) int { // the same ring every time
		return cmp.Or(cmp.Compare(a.k, b.k), cmp.Compare(a.dir, b.dir))
	})
	for _, e := range starts {
		var ring geom.Ring
		for !done[e] {
			done[e] = true
			ring = append(ring, cross(e))
			to, ok := next[e]
			if !ok {
				break
			}
			e = to
		}
		if len(ring) > 2 && (best == nil || ring.Area() > best.Area()) {
			best = ring
		}
	}
	if best.SignedArea() < 0 {
		slices.Reverse(best)
	}
	return best
}
