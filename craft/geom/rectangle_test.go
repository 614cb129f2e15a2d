package geom

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// seededRoom is a board with live edges and a handful of flaws.
func seededRoom(seed uint64) Room {
	rng := rand.New(rand.NewPCG(seed, 5))
	f := func(lo, hi float64) float64 { return lo + (hi-lo)*rng.Float64() }
	length, width := f(400, 1400), f(120, 360)
	var lower, upper Ring
	const n = 9
	for i := range n {
		x := length * float64(i) / (n - 1)
		lean := f(-0.02, 0.02) * (x - length/2)
		lower = append(lower, Point{x, -width/2 + f(-25, 25) + lean})
		upper = append(Ring{{x, width/2 + f(-25, 25) + lean}}, upper...)
	}
	m := Room{Sheet: append(lower, upper...)}
	for range rng.IntN(7) {
		c := Point{f(30, length-30), f(-width/2, width/2)}
		if rng.IntN(2) == 0 {
			m.Holes = append(m.Holes, Ellipse{Centre: c, A: f(3, 25), B: f(3, 15), Angle: f(0, 180)}.Ring(24))
			continue
		}
		d := Point{f(20, 120), f(-25, 25)}
		w := Point{-d.Y, d.X}.Scale(f(0.2, 3) / d.Len())
		m.Holes = append(m.Holes, Ring{c.Sub(w), c.Add(d).Sub(w), c.Add(d).Add(w), c.Add(w)})
	}
	return m
}

// exhaustive tries every stretch between two of many places along the room, at many
// angles: as wide as is free all along, by cutting the room across, no more.
func exhaustive(m Room, tilt float64) (best float64) {
	type interval struct{ lo, hi float64 }
	for angle := -tilt; angle <= tilt; angle += 0.5 {
		in := Placement{Angle: angle}.In
		rings := []Ring{m.Sheet.Map(in).Turned()}
		for _, h := range m.Holes {
			rings = append(rings, h.Map(in).Turned())
		}
		box := m.Sheet.Map(in).Bounds()
		step := (box.MaxX - box.MinX) / 140
		free := func(x float64) (out []interval) {
			ys := rings[0].Spans(x)
			for k := 0; k+1 < len(ys); k += 2 {
				out = append(out, interval{ys[k], ys[k+1]})
			}
			for _, r := range rings[1:] {
				ys := r.Spans(x)
				for k := 0; k+1 < len(ys); k += 2 {
					var left []interval
					for _, o := range out {
						if o.lo < ys[k] {
							left = append(left, interval{o.lo, min(o.hi, ys[k])})
						}
						if o.hi > ys[k+1] {
							left = append(left, interval{max(o.lo, ys[k+1]), o.hi})
						}
					}
					out = left
				}
			}
			return out
		}
		meet := func(a, b []interval) (out []interval) {
			for _, p := range a {
				for _, q := range b {
					if lo, hi := max(p.lo, q.lo), min(p.hi, q.hi); hi > lo {
						out = append(out, interval{lo, hi})
					}
				}
			}
			return out
		}
		const fine = 4 // cuts within a step, so that little is missed between two
		var cuts [][]interval
		for x := box.MinX + step/fine/2; x < box.MaxX; x += step / fine {
			cuts = append(cuts, free(x))
		}
		for i := 0; i < len(cuts); i += fine {
			common := cuts[i]
			for k := i; k < len(cuts) && len(common) > 0; k++ {
				common = meet(common, cuts[k])
				for _, c := range common {
					best = max(best, float64(k-i)*step/fine*(c.hi-c.lo))
				}
			}
		}
	}
	return best
}

// The largest rectangle is within 1 % of what an exhaustive check finds, and lies
// free.
func TestLargestRectangle(t *testing.T) {
	const tilt = 10
	for seed := range uint64(50) {
		m := seededRoom(seed)
		r := m.Largest(tilt, nil)
		want := exhaustive(m, tilt)
		assert.GreaterOrEqual(
			t,
			r.Area(),
			0.99*want,
			"room %d: %.0f × %.0f at %.2f°",
			seed,
			r.Length,
			r.Width,
			r.At.Angle,
		)
		assert.LessOrEqual(t, math.Abs(r.At.Angle), float64(tilt))
		for _, p := range r.Ring().Dense(3) {
			_, off := m.Sheet.Nearest(p)
			require.True(t, m.Sheet.Contains(p) || off < 0.01, "room %d", seed)
			for _, h := range m.Holes {
				_, off := h.Nearest(p)
				require.False(t, h.Contains(p) && off > 0.01, "room %d", seed)
			}
		}
		for _, h := range m.Holes {
			require.False(t, r.Ring().Contains(h.Centroid()), "room %d", seed)
		}
	}
}

// One that covers a place covers it, and is no larger than one anywhere.
func TestLargestRectangleOverAPlace(t *testing.T) {
	for seed := range uint64(20) {
		m := seededRoom(seed)
		anywhere := m.Largest(10, nil)
		over := m.Largest(10, &Point{anywhere.At.X, anywhere.At.Y})
		assert.InEpsilon(t, anywhere.Area(), over.Area(), 0.01, "room %d", seed)
		corner := anywhere.At.Out(Point{anywhere.Length/2 + 4, 0})
		if !m.Sheet.Contains(corner) {
			continue
		}
		beyond := m.Largest(10, &corner)
		assert.LessOrEqual(t, beyond.Area(), 1.005*anywhere.Area(), "room %d", seed)
		if beyond.Area() > 0 {
			_, off := beyond.Ring().Nearest(corner)
			assert.True(t, beyond.Ring().Contains(corner) || off < 0.01, "room %d", seed)
		}
	}
	assert.Zero(t, seededRoom(1).Largest(10, &Point{-1e4, 0}).Area())
}

func ExampleRoom_Largest() {
	board := Bounds{MinX: 0, MinY: -100, MaxX: 900, MaxY: 100}.Ring()
	knot := Ellipse{Centre: Point{300, 0}, A: 12, B: 12}.Ring(64)
	r := Room{Sheet: board, Holes: []Ring{knot}}.Largest(0, nil)
	fmt.Printf("%.0f × %.0f mm", r.Length, r.Width)
	// Output: 588 × 200 mm
}

func BenchmarkLargestRectangle(b *testing.B) {
	m := seededRoom(3)
	for b.Loop() {
		m.Largest(10, nil)
	}
}
