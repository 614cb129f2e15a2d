package rescue

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

// radius is the tightest bend of a batten in these tests, mm.
const radius = 60

// outlines are those that boards have: with straight sides, round, and with a neck.
func outlines() map[string]geom.Ring {
	flat := func(r []geom.Ring) geom.Ring { return geom.Largest(r) }
	return map[string]geom.Ring{
		"rectangle": flat(geom.Flatten(geom.SoftRectangle(400, 220, 12), geom.True)),
		"oval":      flat(geom.Flatten(geom.Oval(420, 240), geom.True)),
		"teardrop":  flat(geom.Flatten(geom.Teardrop(420, 230, 30), geom.True)),
	}
}

// cutInto is a saw cut into the side of a board at x, so wide and so deep, askew by some degrees.
func cutInto(outline geom.Ring, x, wide, deep, askew float64) geom.Ring {
	ys := outline.SpansAcross(x, nil)
	top := ys[len(ys)-1]
	at := geom.Placement{X: x, Y: top, Angle: askew}
	return geom.Ring{{X: -wide / 2, Y: -deep}, {X: wide / 2, Y: -deep}, {X: wide / 2, Y: 30}, {X: -wide / 2, Y: 30}}.
		Map(at.Out)
}

// raster counts the area of a ring that lies in some others, by points.
func raster(r geom.Ring, in geom.Ring) (area float64) {
	const grid = 0.25
	box := in.Bounds()
	for x := box.MinX; x <= box.MaxX; x += grid {
		for y := box.MinY; y <= box.MaxY; y += grid {
			if p := (geom.Point{X: x, Y: y}); in.Contains(p) && r.Contains(p) {
				area += grid * grid
			}
		}
	}
	return area
}

// A line that is drawn anew passes what is gone, is smooth, adds no wood, and is the old one elsewhere.
func TestRefairedLinesAreFair(t *testing.T) {
	random := rand.New(rand.NewPCG(19, 1))
	for _, name := range []string{"rectangle", "oval", "teardrop"} {
		outline := outlines()[name]
		for range 25 {
			x, wide := (random.Float64()-0.5)*150, 1+random.Float64()*40
			deep, askew := 0.5+random.Float64()*12, (random.Float64()-0.5)*40
			bite := cutInto(outline, x, wide, deep, askew)
			line, ok := Refair(outline, []geom.Ring{bite}, radius)
			require.True(t, ok, "%s: %.1f wide %.1f deep %.0f° at %.0f", name, wide, deep, askew, x)
			assert.LessOrEqual(t, raster(line, bite.Grown(Beyond-0.02)), 0.13, "what is gone, and half a mm more")
			assert.Positive(t, line.SignedArea())
			for i, p := range line {
				_, off := outline.Nearest(p)
				assert.True(t, outline.Contains(p) || off < 0.05, "%s: wood is added at %v", name, p)
				n := len(line)
				if turn := turned(line[(i+n-1)%n], p, line[(i+1)%n]) * 180 / math.Pi; turn > 1 {
					_, near := bite.Nearest(p)
					assert.Greater(t, near, 1.0, "%s: it turns by %.2f° at %v", name, turn, p)
				}
			}
		}
	}
}

// searched is the least sum of depths of all lines on a grid of heights and slopes whose second difference is -1, 0 or
// 1 of its units at every step, that are nowhere less deep than they must be: every one of them is tried.
func searched(deep []float64, size, radius float64) float64 {
	unit := size * size / radius
	highest := 0
	need := make([]int, len(deep))
	for i, d := range deep {
		need[i] = int(math.Ceil(d/unit - 1e-9))
		highest = max(highest, need[i])
	}
	highest += highest/8 + 3
	steepest := int(math.Sqrt(2*float64(highest))) + 2
	const none = 1 << 30
	at := func(h, v int) int { return h*(2*steepest+1) + v + steepest }
	least := make([]int, (highest+1)*(2*steepest+1))
	for i := range least {
		least[i] = none
	}
	least[at(0, 0)] = 0
	for i := range need {
		next := make([]int, len(least))
		for k := range next {
			next[k] = none
		}
		for h := range highest + 1 {
			for v := -steepest; v <= steepest; v++ {
				now := least[at(h, v)]
				for _, u := range []int{-1, 0, 1} {
					w := v + u
					to := h + w
					if now == none || w < -steepest || w > steepest || to < need[i] || to > highest {
						continue
					}
					next[at(to, w)] = min(next[at(to, w)], now+to)
				}
			}
		}
		least = next
	}
	return float64(least[at(0, 0)]) * unit * size
}

// What a line takes off is no more than a twentieth over the least that any can.
func TestARefairedLineTakesLittle(t *testing.T) {
	random := rand.New(rand.NewPCG(19, 2))
	for range 12 {
		const size, n = 1.0, 300
		deep := make([]float64, n)
		for range 1 + random.IntN(3) { // cuts side by side, each sloped
			at, wide := 120+random.IntN(60), 1+random.IntN(30)
			high, slope := 0.5+random.Float64()*10, (random.Float64()-0.5)*0.3
			for i := range wide {
				deep[at+i] = max(deep[at+i], high+slope*float64(i))
			}
		}
		got, first, ok := bend(deep, size, radius)
		require.True(t, ok)
		sum := 0.0
		for i, d := range got {
			sum += d * size
			assert.GreaterOrEqual(t, d, deep[first+i])
			if i > 0 && i < len(got)-1 {
				assert.LessOrEqual(t, math.Abs(got[i-1]-2*d+got[i+1]), 1.05*size*size/radius)
			}
		}
		assert.Less(t, sum, 1.05*searched(deep, size, radius))
	}
}

// The first ways out are to be seen in 300 ms.
func BenchmarkRefair(b *testing.B) {
	outline := outlines()["oval"]
	bite := cutInto(outline, 30, 12, 9, 10)
	for b.Loop() {
		if _, ok := Refair(outline, []geom.Ring{bite}, radius); !ok {
			b.Fatal("no way out")
		}
	}
}
