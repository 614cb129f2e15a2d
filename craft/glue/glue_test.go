package glue

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/species"
)

func TestStrips(t *testing.T) {
	n, width := Count(317, 24.4)
	assert.Equal(t, 13, n)
	assert.InDelta(t, 317.2, width, 1e-9)
	assert.InDelta(t, 42.3, Raised(40, nil), 1e-9)
	assert.Equal(t, 3, RipYield(150, 43, 3, nil))
	assert.Equal(t, []float64{540, 420}, []float64{RoughLength(400, false, nil), RoughLength(400, true, nil)})
	assert.Equal(t, []int{2, 3, 0}, []int{Spares(13, false), Spares(13, true), Spares(0, true)})
}

func TestChevron(t *testing.T) {
	for _, c := range []struct {
		of                   Striped
		degrees, width, kerf float64
		staggered            bool
		n                    int
		long, wide, yield    float64
	}{
		{Even(20, 18, 600), 45, 40, 3, false, 4, 469.1, 160, 34.7},
		{Even(20, 18, 600), 45, 40, 3, true, 9, 469.1, 360, 78.2},
		{Even(12, 20, 700), 60, 35, 1.5, false, 13, 256.9, 455, 69.6},
		{Even(12, 20, 700), 60, 35, 1.5, true, 16, 256.9, 560, 85.6},
	} {
		s := c.of.Chevron(c.degrees, c.width, c.kerf, c.staggered)
		assert.Equal(t, c.n, s.Count)
		assert.InDelta(t, c.long, s.Length, 0.05)
		assert.InDelta(t, c.wide, s.Width, 1e-9)
		assert.InDelta(t, c.yield, 100*s.Yield, 0.05)
	}
	end := Even(8, 40, 500).EndGrain(45, Raised(38, nil), 3)
	assert.Equal(t, 11, end.Count) // 11 slices of 40.3 and 10 kerfs are 473.3
	assert.Equal(t, []float64{320, 495}, []float64{end.Length, end.Width})
}

// The slices of a chevron lie on the striped panel: cut one after the other, with their
// kerfs, all within its length, and no more would.
func TestChevronSlicesLieOnTheirPanel(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		s := Even(rapid.IntRange(2, 30).Draw(t, "n"), f("strip", 10, 40), f("length", 200, 1200))
		degrees, width, kerf := f("degrees", 25, 80), f("width", 15, 70), f("kerf", 0.8, 3.5)
		staggered := rapid.Bool().Draw(t, "staggered")
		out := s.Chevron(degrees, width, kerf, staggered)
		// Along the strips a slice takes its width over the sine; the slant takes what it leans.
		sin := math.Sin(degrees * math.Pi / 180)
		lean := s.Across() / math.Tan(degrees*math.Pi/180)
		if staggered {
			lean /= float64(len(s.Widths))
		}
		takes := func(n int) float64 { return (float64(n)*width+float64(n-1)*kerf)/sin + lean }
		if out.Count > 0 && takes(out.Count) > s.Length+1e-6 {
			t.Fatalf("%d slices take %.1f of %.1f", out.Count, takes(out.Count), s.Length)
		}
		if takes(out.Count+1) < s.Length-1e-6 {
			t.Fatalf("one more slice would be had than %d", out.Count)
		}
		if out.Yield > 1+1e-9 {
			t.Fatalf("more wood than there was: %g", out.Yield)
		}
	})
}

func TestBending(t *testing.T) {
	e := species.Species{Density: 705, Group: "hardwood"}.Modulus()
	assert.InDelta(t, 11930, e, 10)
	assert.InDelta(t, 54.7, LeastRadius(1, e, 109), 0.05)
	least := LeastRadius(3.2, e, 109)
	assert.InDelta(t, 175, least, 0.5)
	for radius, level := range map[float64]craft.Level{229: craft.Good, 200: craft.Mind, 170: craft.Stop} {
		assert.Equal(t, level, Bends(radius, least))
	}
	for plies, radius := range map[int]float64{2: 160, 3: 135, 4: 128, 6: 123.4} {
		assert.InDelta(t, radius, SpringBack(120, plies), 0.05)
		assert.InDelta(t, 120, SpringBack(FormRadius(120, plies), plies), 1e-9, "a free rim comes to what is wanted")
	}
	assert.True(t, math.IsInf(SpringBack(120, 1), 1))
	assert.InDelta(t, math.Pi*(100+9)+50, PlyLength(180, 100, 3, 3), 1e-9)
}

func TestGluesByTheirTables(t *testing.T) {
	d4, ok := Find("PVA, D4")
	require.True(t, ok)
	poly, _ := Find("polyurethane")
	ca, _ := Find("CA")
	_, ok = Find("paste")
	assert.False(t, ok)
	assert.InDelta(t, 8, d4.OpenAt(15), 1e-9)
	assert.InDelta(t, 6.5, d4.OpenAt(25), 1e-9)
	assert.InDelta(t, 2, d4.OpenAt(60), 1e-9)
	assert.InDelta(t, 10, poly.OpenAt(30), 1e-9)
	assert.InDelta(t, 180, d4.ClampedAt(10), 1e-9)
	assert.InDelta(t, 2*day, d4.MachineAt(10), 1e-9)
	assert.InDelta(t, day, d4.MachineAt(27), 1e-9, "warmth hurries nothing")
	assert.InDelta(t, 4, d4.Grams(500*40, false), 1e-9)
	assert.InDelta(t, 5.2, d4.Grams(500*40, true), 1e-9)
	assert.Equal(t, craft.Stop, d4.Level(8, true, true))
	assert.Equal(t, craft.Stop, ca.Level(20, false, true))
	d3, _ := Find("PVA, D3")
	assert.Equal(t, craft.Mind, d3.Level(20, true, true))
	assert.Equal(t, craft.Good, d4.Level(20, true, true))
}

func TestClamps(t *testing.T) {
	force := Force(500*40, false)
	assert.InDelta(t, 24000, force, 1e-9)
	n, spacing := Clamps(force, 6000, 500, 24, 30)
	assert.Equal(t, 6, n)
	assert.InDelta(t, 108, spacing, 1e-9)
	n, _ = Clamps(force, 6000, 200, 24, 30)
	assert.Equal(t, 4, n, "by the force")
	assert.Equal(t, 26, FaceClamps(500*400, 2700))
}

// No joint waits longer than its open time, in any sub-assembly nor in the last
// clamping; nothing is left out, and with fewer rounds it would not do.
func TestNoJointWaitsLongerThanItsOpenTime(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		joints := rapid.SliceOfN(rapid.Float64Range(2000, 40000), 1, 39).Draw(t, "joints")
		open, brush := rapid.Float64Range(2, 20).Draw(t, "open"), rapid.Bool().Draw(t, "brush")
		runs, err := Rounds(joints, open, brush)
		if err != nil {
			return
		}
		at := 0
		var last float64
		for _, r := range runs {
			if r[0] != at || r[1] <= r[0] {
				t.Fatalf("%v leaves a strip out", runs)
			}
			seconds := 0.0 // once more, joint by joint
			for k := r[0]; k+1 < r[1]; k++ {
				seconds += joints[k]*1e-6*1000 + 20
			}
			if brush {
				seconds *= 1.5
			}
			if seconds/60 > open+1e-9 {
				t.Fatalf("%v takes %.2f of %.2f min", r, seconds/60, open)
			}
			if at = r[1]; at <= len(joints) {
				last += joints[at-1]*1e-6*1000 + 20
			}
		}
		if brush {
			last *= 1.5
		}
		if at != len(joints)+1 || last/60 > open+1e-9 {
			t.Fatalf("%v: the last clamping takes %.2f of %.2f min", runs, last/60, open)
		}
	})
}

func TestColours(t *testing.T) {
	white, err := ParseLab("#ffffff")
	require.NoError(t, err)
	black, err := ParseLab("#000000")
	require.NoError(t, err)
	assert.InDelta(t, 100, white.L, 0.01)
	assert.InDelta(t, 100, white.Apart(black), 0.01)
	red, err := ParseLab("#ff0000")
	require.NoError(t, err)
	assert.InDelta(t, 53.24, red.L, 0.01)
	assert.InDelta(t, 80.09, red.A, 0.02)
	assert.InDelta(t, 67.20, red.B, 0.02)
	for _, bad := range []string{"", "fff", "#12345", "#gg0000", "#1234567"} {
		_, err := ParseLab(bad)
		assert.Error(t, err, bad)
	}
}

// woods are the colours of five woods.
var woods = []string{"#e8d3a9", "#5b3a26", "#c08a5a", "#a0522d", "#f0e2c4"}

// twelve are strips of five woods by turns.
func twelve(t testing.TB) (colours []Lab) {
	for i := range 12 {
		c, err := ParseLab(woods[i%5])
		require.NoError(t, err)
		colours = append(colours, c)
	}
	return colours
}

// The proposed order is no worse than any other, tried one by one.
func TestOrderIsTheBest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kinds := rapid.SliceOfN(rapid.SampledFrom(woods), 1, 7).Draw(t, "strips")
		colours := make([]Lab, len(kinds))
		for i, k := range kinds {
			colours[i], _ = ParseLab(k)
		}
		got := rate(colours, Order(colours))
		order := make([]int, len(kinds))
		for i := range order {
			order[i] = i
		}
		permuted(order, 0, func(o []int) {
			if r := rate(colours, o); r.over(got) {
				t.Fatalf("%v is better than %v: %v over %v", o, Order(colours), r, got)
			}
		})
	})
}

func permuted(o []int, k int, each func([]int)) {
	if k == len(o) {
		each(o)
		return
	}
	for i := k; i < len(o); i++ {
		o[k], o[i] = o[i], o[k]
		permuted(o, k+1, each)
		o[k], o[i] = o[i], o[k]
	}
}

// Twelve strips of five kinds: every strip has its place, and no exchange betters them.
func TestOrderOfMany(t *testing.T) {
	colours := twelve(t)
	order := Order(colours)
	for i, k := range slices.Sorted(slices.Values(order)) {
		assert.Equal(t, i, k)
	}
	assert.Greater(t, rate(colours, order).least, 10.0, "no two alike beside each other")
}

func BenchmarkOrder12(b *testing.B) {
	colours := twelve(b)
	for b.Loop() {
		Order(colours)
	}
}
