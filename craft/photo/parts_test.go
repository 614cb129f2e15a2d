package photo

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
)

// slanted is a view of a sheet of A4 from aside, through a lens that bends.
func slanted(t testing.TB, bend float64) View {
	v := View{mid: geom.Point{X: 799.5, Y: 599.5}, bounds: geom.Bounds{MaxX: 1599, MaxY: 1199}}
	v.reach = v.mid.Len()
	out, ok := v.with(
		ring4(297, 210),
		[4]geom.Point{{X: -0.3, Y: 0.25}, {X: 0.28, Y: 0.2}, {X: 0.22, Y: -0.18}, {X: -0.25, Y: -0.2}},
		bend,
	)
	require.True(t, ok)
	return out
}

func TestViewThereAndBack(t *testing.T) {
	for _, bend := range []float64{0, 0.02, -0.02} {
		v := slanted(t, bend)
		for x := -150.0; x < 450; x += 75 {
			for y := -100.0; y < 310; y += 60 {
				p := geom.Point{X: x, Y: y}
				assert.InDelta(t, 0, v.Plane(v.Pixel(p)).Sub(p).Len(), 0.02, "bend %v at %v", bend, p)
			}
		}
	}
}

func TestHomographyMeetsItsPoints(t *testing.T) {
	from := ring4(297, 210)
	to := [4]geom.Point{{X: 3, Y: 4}, {X: 40, Y: 9}, {X: 38, Y: 33}, {X: 1, Y: 25}}
	h, ok := homography(from, to)
	require.True(t, ok)
	for i := range from {
		assert.InDelta(t, 0, apply(h, from[i]).Sub(to[i]).Len(), 1e-9)
	}
	back, ok := invert(h)
	require.True(t, ok)
	assert.InDelta(t, 0, apply(back, to[2]).Sub(from[2]).Len(), 1e-6)
	_, ok = homography(from, [4]geom.Point{{}, {}, {}, {}})
	assert.False(t, ok)
}

// The best run of offsets, against all runs tried one by one.
func TestSmoothestIsTheBest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const n, m = 5, 4
		scores := make([][]float64, n)
		for i := range scores {
			scores[i] = make([]float64, m)
			for j := range scores[i] {
				scores[i][j] = rapid.Float64Range(0, 1).Draw(t, "score")
			}
		}
		got := smoothest(scores)
		worth := func(path []int) (sum float64) {
			for i, j := range path {
				sum += scores[i][j]
				if i > 0 {
					sum -= 0.035 * float64((j-path[i-1])*(j-path[i-1]))
				}
			}
			return sum
		}
		if got[0] != got[n-1] {
			t.Fatal("the ring does not close")
		}
		best := math.Inf(-1)
		for code := range 1 << (2 * n) {
			path := make([]int, n)
			for i := range path {
				path[i] = code >> (2 * i) & 3
			}
			if path[0] == got[0] && path[n-1] == got[0] {
				best = max(best, worth(path))
			}
		}
		if worth(got) < best-1e-9 {
			t.Fatalf("%v is worth %v, the best %v", got, worth(got), best)
		}
	})
}

func TestBorderOfADisc(t *testing.T) {
	g := raster{min: geom.Point{X: -60, Y: -50}, step: 1, w: 121, h: 101}
	u := make([]float32, g.w*g.h)
	for k := range u {
		u[k] = float32(min(1, max(0, 0.5+30-g.place(k).Len())))
		if g.place(k).Sub(geom.Point{X: 50, Y: 40}).Len() < 4 {
			u[k] = 1 // a speck elsewhere
		}
	}
	r := border(u, g)
	assert.InEpsilon(t, math.Pi*30*30, r.Area(), 0.01)
	assert.Positive(t, r.SignedArea())
	assert.Nil(t, border(make([]float32, len(u)), g))
}

func TestSettleFollowsThePullSmoothly(t *testing.T) {
	g := raster{step: 1, w: 40, h: 40}
	n := g.w * g.h
	pull, flat := make([]float32, n), [2][]float32{make([]float32, n), make([]float32, n)}
	for k := range n {
		pull[k] = 2
		if k%g.w < 20 {
			pull[k] = -2
		}
		flat[0][k], flat[1][k] = 1, 1
	}
	pull[5*g.w+5], pull[30*g.w+35] = 3, -3 // specks of dirt on either side
	u := make([]float32, n)
	require.NoError(t, settle(nil, u, pull, flat, g, 200))
	assert.Greater(t, u[5*g.w+5], float32(0.5))
	assert.Less(t, u[30*g.w+35], float32(0.5))
	assert.Greater(t, u[20*g.w+10], float32(0.9))
	assert.Less(t, u[20*g.w+30], float32(0.1))
}

func TestMixtureKnowsItsColours(t *testing.T) {
	var all []feature
	for i := range 400 {
		d := float64(i%7) * 0.02
		all = append(all, feature{1 + d, 2 - d, 3}, feature{4 - d, 0.5, 1 + d})
	}
	m := newMixture(all, 2)
	assert.Greater(t, m.log(feature{1.05, 1.95, 3}), m.log(feature{2.5, 1.2, 2}))
	assert.Greater(t, m.log(feature{3.95, 0.5, 1.05}), m.log(feature{0, 0, 0}))
}

func TestEvenSpacing(t *testing.T) {
	r := even(geom.Bounds{MaxX: 100, MaxY: 50}.Ring(), 2)
	for i := range r {
		a, b := r.Edge(i)
		assert.LessOrEqual(t, b.Sub(a).Len(), 2.0+1e-6)
	}
	assert.InEpsilon(t, 5000, r.Area(), 0.01)
}
