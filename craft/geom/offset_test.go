package geom

import (
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var outlines = flag.Int("outlines", 300, "how many outlines are moved and compared with a raster")

// wild is an outline that never crosses itself: star-shaped with hollows, slots and level sides, some on a grid so that
// what is moved falls together.
func wild(rng *rand.Rand) Ring {
	n := 3 + rng.IntN(60)
	size := 10 + 150*rng.Float64()
	var r Ring
	switch rng.IntN(4) {
	case 0: // a comb, all its sides level or upright
		pitch, depth := float64(2+rng.IntN(12)), float64(1+rng.IntN(80))
		teeth := 1 + rng.IntN(8)
		r = Ring{{0, -10}, {2 * pitch * float64(teeth), -10}}
		for k := teeth; k > 0; k-- {
			x := 2 * pitch * float64(k)
			r = append(r, Point{x, depth}, Point{x - pitch, depth}, Point{x - pitch, 0}, Point{x - 2*pitch, 0})
		}
	case 1: // a soft line
		a, f := 0.05+0.4*rng.Float64(), float64(2+rng.IntN(7))
		n = 40 + rng.IntN(200)
		for i := range n {
			t := 2 * math.Pi * float64(i) / float64(n)
			sin, cos := math.Sincos(t)
			d := size * (1 + a*math.Sin(f*t))
			r = append(r, Point{d * cos, d * sin})
		}
	default:
		for i := range n {
			sin, cos := math.Sincos(2 * math.Pi * (float64(i) + 0.6*rng.Float64()) / float64(n))
			d := size * (0.15 + 0.85*rng.Float64())
			p := Point{d * cos, d * sin}
			if n%2 == 0 {
				p = Point{math.Round(p.X), math.Round(p.Y)}
			}
			r = append(r, p)
		}
	}
	if rng.IntN(2) == 0 {
		sin, cos := math.Sincos(2 * math.Pi * rng.Float64())
		r = r.Map(func(p Point) Point { return Point{p.X*cos - p.Y*sin + 300, p.X*sin + p.Y*cos - 80} })
	}
	return r
}

// touchesItself reports an outline that comes as near to itself as rounding.
func touchesItself(r Ring) bool {
	for i := range r {
		a, b := r.Edge(i)
		for j, p := range r {
			if j != i && j != (i+1)%len(r) && NearestOn(a, b, p).Sub(p).Len() < 1e-6 {
				return true
			}
		}
	}
	return false
}

// What lies within a distance of an outline, or no nearer to its outside, point by point of a raster.
func TestOffsetsAgreeWithARaster(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 13))
	left, tries := 0, 0
	for k := range *outlines {
		r := wild(rng)
		if r.SelfCrosses() || touchesItself(r) {
			continue
		}
		size := math.Sqrt(r.Area())
		d := size * (0.001 + 0.4*rng.Float64()*rng.Float64())
		if rng.IntN(3) == 0 {
			d = math.Ceil(d)
		}
		if rng.IntN(2) == 0 {
			d = -d
		}
		var rims []Ring
		ok := false
		for try := 0; !ok && try < 4; try++ {
			rims, ok = r.offsets(d, try)
			if try > 0 {
				tries++
			}
		}
		require.True(t, ok, "outline %d: %v by %g", k, r, d)
		inside := func(p Point) bool {
			in := false
			for _, q := range rims {
				in = in != q.Contains(p)
			}
			return in
		}
		box := r.Bounds()
		const cells = 48
		stepX := (box.MaxX - box.MinX + 2*max(d, 0) + 2) / cells
		stepY := (box.MaxY - box.MinY + 2*max(d, 0) + 2) / cells
		for i := range cells {
			for j := range cells {
				p := Point{box.MinX - max(d, 0) - 1 + (float64(i)+rng.Float64())*stepX,
					box.MinY - max(d, 0) - 1 + (float64(j)+rng.Float64())*stepY}
				_, far := r.Nearest(p)
				if r.Contains(p) {
					far = -far
				}
				if math.Abs(far-d) < Fine/2+1e-4 {
					continue
				}
				if inside(p) != (far < d) {
					require.Fail(t, "differs", "outline %d: %v by %g at %v: %g away", k, r, d, p, far)
				}
			}
		}
		for _, q := range rims {
			if q.SignedArea() > 0 {
				left++
			}
		}
	}
	t.Logf("%d parts left; tried again %d times", left, tries)
	assert.Positive(t, left)
}

func BenchmarkOffset(b *testing.B) {
	for _, n := range []int{50, 200, 800} {
		var r Ring
		for i := range n {
			t := 2 * math.Pi * float64(i) / float64(n)
			sin, cos := math.Sincos(t)
			d := 100 * (1 + 0.3*math.Sin(5*t) + 0.02*math.Sin(37*t))
			r = append(r, Point{2 * d * cos, d * sin})
		}
		for _, d := range []float64{1, 8, -1, -8} {
			b.Run(fmt.Sprintf("points=%d/by=%g", n, d), func(b *testing.B) {
				for b.Loop() {
					if len(r.offset(d)) == 0 {
						b.Fatal("nothing is left")
					}
				}
			})
		}
	}
}
