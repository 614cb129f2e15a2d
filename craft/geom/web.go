package geom

import "math"

// Web is the wood left between a hole and something else: its least width b
// from A on the hole to B, and the span l over which it stays under one and a
// half times as wide, mm.
type Web struct {
	Width, Span float64
	A, B        Point
}

// alike is how many times as wide as a web's least width its neighbourhood is
// that counts as the same place.
const alike = 1.02

// FindWebs finds the webs between a hole and another ring that are at most so
// many times as wide as the narrowest, which comes first. Each place is given
// three times, seen from the middle and from the ends of its flat stretch. Each span is measured
// straight between the two ends of its thin stretch.
func FindWebs(hole, other Ring, times float64) []Web {
	rim := hole.Dense(1)
	n := len(rim)
	dist := make([]float64, n)
	at, far := 0, NewIndex(other)
	for i, p := range rim {
		_, dist[i] = far.Nearest(p)
		if dist[i] < dist[at] {
			at = i
		}
	}
	seen := make([]bool, n)
	var out []Web
	for widest := dist[at] * times; at >= 0 && (len(out) == 0 || dist[at] <= widest); at = nextWeb(dist, seen) {
		b := dist[at]
		thin := func(i int) bool { return dist[(i%n+n)%n] <= 1.5*b }
		from, to := at, at
		for to-from < n && thin(to+1) {
			to++
		}
		for to-from < n && thin(from-1) {
			from--
		}
		// What is alike belongs to this web; another that is hardly wider, such as
		// the twin of a symmetrical one, is judged by itself: its grain may be worse.
		for _, way := range []int{1, -1} {
			for k := 0; k < n; k++ {
				i := ((at+way*k)%n + n) % n
				if dist[i] > alike*b {
					break
				}
				seen[i] = true
			}
		}
		// Where the width passes the limit between two points of the rim.
		end := func(in, out int) Point {
			i, k := (in%n+n)%n, (out%n+n)%n
			return rim[i].Lerp(rim[k], (1.5*b-dist[i])/(dist[k]-dist[i]))
		}
		// The stretch is as long as it reaches along the web, square to its width.
		judge := func(a Point) Web {
			across, _ := far.Nearest(a)
			along := across.Sub(a)
			along = Point{-along.Y, along.X}.Scale(1 / max(along.Len(), 1e-9))
			lo, hi := math.Inf(1), math.Inf(-1)
			reach := func(p Point) {
				v := p.X*along.X + p.Y*along.Y
				lo, hi = min(lo, v), max(hi, v)
			}
			for i := from; i <= to; i++ {
				reach(rim[(i%n+n)%n])
			}
			if to-from < n-1 {
				reach(end(to, to+1))
				reach(end(from, from-1))
			}
			return Web{Width: b, Span: hi - lo, A: a, B: across}
		}
		for _, a := range level(rim, dist, at) {
			out = append(out, judge(a))
		}
	}
	return out
}

// level is the stretch about the i-th point of a rim over which it lies hardly
// farther off: its middle and its ends. Where two lines run side by side the
// very least distance is anywhere in it, and where it bends the grain crosses it
// at another angle at each end.
func level(rim Ring, dist []float64, i int) [3]Point {
	n, limit := len(rim), alike*dist[i]
	reach := func(way int) float64 { // in points of the rim, to where the limit is passed
		for k := 1; k < n/2; k++ {
			was, now := dist[((i+way*(k-1))%n+n)%n], dist[((i+way*k)%n+n)%n]
			if now > limit {
				return float64(k-1) + (limit-was)/(now-was)
			}
		}
		return float64(n) / 2
	}
	point := func(at float64) Point {
		k := int(math.Floor(at))
		return rim[(k%n+n)%n].Lerp(rim[((k+1)%n+n)%n], at-float64(k))
	}
	from, to := float64(i)-reach(-1), float64(i)+reach(1)
	return [3]Point{point((from + to) / 2), point(from), point(to)}
}

// nextWeb is the narrowest place that belongs to no web yet and widens on both
// sides; −1 when there is none.
func nextWeb(dist []float64, seen []bool) int {
	best, n := -1, len(dist)
	for i, d := range dist {
		if !seen[i] && (best < 0 || d < dist[best]) && d <= dist[(i+1)%n] && d <= dist[(i+n-1)%n] {
			best = i
		}
	}
	return best
}

// Direction is that of the web's span in degrees: it runs square to the least
// width.
func (w Web) Direction() float64 {
	d := w.B.Sub(w.A)
	return math.Atan2(d.Y, d.X)*180/math.Pi + 90
}
