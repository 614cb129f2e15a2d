package geom

import "math"

// Web is the wood left between a hole and something else: its least width b
// from A on the hole to B, and the span l over which it stays under one and a
// half times as wide, mm.
type Web struct {
	Width, Span float64
	A, B        Point
}

// FindWeb finds the web between a hole and another ring. The span is measured
// straight between the two ends of the thin stretch.
func FindWeb(hole, other Ring) Web {
	rim := hole.Dense(1)
	n := len(rim)
	near := make([]Point, n)
	dist := make([]float64, n)
	at, far := 0, NewIndex(other)
	for i, p := range rim {
		near[i], dist[i] = far.Nearest(p)
		if dist[i] < dist[at] {
			at = i
		}
	}
	b := dist[at]
	thin := func(i int) bool { return dist[(i%n+n)%n] <= 1.5*b }
	from, to := at, at
	for to-from < n && thin(to+1) {
		to++
	}
	for to-from < n && thin(from-1) {
		from--
	}
	// Where the width passes the limit between two points of the rim.
	end := func(in, out int) Point {
		i, k := (in%n+n)%n, (out%n+n)%n
		return rim[i].Lerp(rim[k], (1.5*b-dist[i])/(dist[k]-dist[i]))
	}
	span := 0.0
	if to-from < n-1 {
		span = end(to, to+1).Sub(end(from, from-1)).Len()
	}
	if to-from >= n/2 { // thin more than half the way round: the hole's own size is the span
		box := hole.Bounds()
		span = max(box.MaxX-box.MinX, box.MaxY-box.MinY)
	}
	return Web{Width: b, Span: span, A: rim[at], B: near[at]}
}

// SpanAngle is the angle in degrees, 0 to 90, between the web's span and the
// direction grain (degrees, same frame): the span runs square to the least
// width.
func (w Web) SpanAngle(grain float64) float64 {
	d := w.B.Sub(w.A)
	along := math.Atan2(d.Y, d.X)*180/math.Pi + 90
	a := math.Mod(math.Abs(along-grain), 180)
	return min(a, 180-a)
}
