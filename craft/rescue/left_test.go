package rescue

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// scaled is a design so many times as big.
func scaled(d board.Design, share float64) board.Design {
	d.Length, d.Width, d.Corner = d.Length*share, d.Width*share, min(d.Corner, min(d.Length, d.Width)*share/3)
	d.Tip, d.Shoulder = d.Tip*share, d.Shoulder*share
	d.Neck, d.NeckLength = d.Neck*share, d.NeckLength*share
	return d
}

// exhaustive is the area of the largest board of a design that is found when every place of a grid is tried, both ways
// round, with ever smaller boards.
func exhaustive(l Left, d board.Design, grid, fine float64) (best float64) {
	var drawn []geom.Ring // ever smaller
	for share := 1.0; share > 0.15; share -= fine {
		drawn = append(drawn, board.Draw(scaled(d, share), nil).Outline)
	}
	fits := func(ring geom.Ring) bool {
		for _, p := range ring.Dense(4) {
			if !l.Outline.Contains(p) {
				return false
			}
			for _, g := range l.Gone {
				if _, off := g.Nearest(p); off < Beyond || g.Contains(p) {
					return false
				}
			}
		}
		for _, g := range l.Gone {
			if ring.Contains(g[0]) {
				return false
			}
		}
		return true
	}
	keeps := func(ring geom.Ring) bool {
		for _, k := range l.Kept {
			for _, p := range k {
				if !ring.Contains(p) {
					return false
				}
			}
		}
		return true
	}
	box := l.Outline.Bounds()
	for x := box.MinX; x <= box.MaxX; x += grid {
		for y := box.MinY; y <= box.MaxY; y += grid {
			for _, angle := range []float64{0, 180} {
				at := geom.Placement{X: x, Y: y, Angle: angle}
				for _, outline := range drawn {
					if outline.Area() <= best {
						break
					}
					ring := outline.Map(at.Out)
					if fits(ring) {
						if keeps(ring) {
							best = max(best, ring.Area())
						}
						break
					}
				}
			}
		}
	}
	return best
}

// mishap is a board with one or two cuts into its sides, whose hole is bored.
func mishap(random *rand.Rand) (board.Design, Left) {
	kinds := []board.Design{
		{Shape: board.Rectangle, Length: 380, Width: 210, Corner: 14},
		{Shape: board.Oval, Length: 400, Width: 230},
		{Shape: board.Teardrop, Length: 400, Width: 220, Tip: 30},
		{Shape: board.Paddle, Length: 430, Width: 190, Neck: 60, NeckLength: 120, Shoulder: 25},
	}
	d := kinds[random.IntN(len(kinds))]
	l := Left{Outline: board.Draw(d, nil).Outline}
	for range 1 + random.IntN(2) {
		x, deep := (random.Float64()-0.5)*300, 2+random.Float64()*25
		l.Gone = append(l.Gone, cutInto(l.Outline, x, 2+random.Float64()*30, deep, (random.Float64()-0.5)*30))
	}
	if random.IntN(2) == 0 {
		hole := geom.Ellipse{Centre: geom.Point{X: -d.Length/2 + 40}, A: 15, B: 15}.Ring(60)
		l.Kept = append(l.Kept, hole.Grown(12))
	}
	return d, l
}

// The largest board of the same kind is at most 3 % smaller than the largest of all that a fine search finds, lies in
// what is left, and keeps the hole; one is found whenever that finds one.
func TestTheLargestRedrawIsOffered(t *testing.T) {
	random := rand.New(rand.NewPCG(19, 3))
	found := 0
	for range 12 {
		d, l := mishap(random)
		want := exhaustive(l, d, 10, 0.01)
		got, ok := l.Redraw(d, false, nil)
		if want == 0 {
			continue
		}
		require.True(t, ok, "%v", d)
		found++
		ring := got.Outline()
		assert.GreaterOrEqual(t, ring.Area(), 0.97*want, "%v", d)
		for _, g := range l.Gone {
			assert.LessOrEqual(t, raster(ring, g.Grown(Beyond-0.1)), 0.13)
		}
		for _, p := range ring {
			_, off := l.Outline.Nearest(p)
			assert.True(t, off < 0.1 || l.Outline.Contains(p), "it lies in what there was")
		}
		for _, k := range l.Kept {
			assert.InDelta(t, k.Area(), raster(ring, k), 0.01*k.Area())
		}
	}
	assert.Greater(t, found, 3)
}

// A straight cut leaves as much as any that a finer search finds, and nothing of what is gone.
func TestAnAngledEndLeavesTheMost(t *testing.T) {
	random := rand.New(rand.NewPCG(19, 5))
	for range 10 {
		const grid = 2.5
		_, l := mishap(random)
		got, degrees, ok := l.Angled(30)
		wood := points(l.Outline, grid)
		var gone []geom.Point
		for _, g := range l.Gone {
			for _, p := range g.Grown(Beyond).Dense(0.2) {
				if l.Outline.Contains(p) {
					gone = append(gone, p)
				}
			}
		}
		most := 0.0
		for a := -30.0; a <= 30; a += 0.4 {
			for _, far := range []float64{0, 180} {
				most = max(most, float64(leftBy(wood, gone, l.Kept, a+far))*grid*grid)
			}
		}
		require.Equal(t, most > 0, ok)
		if !ok {
			continue
		}
		assert.LessOrEqual(t, math.Abs(degrees), 30.0)
		assert.GreaterOrEqual(t, got.Area(), 0.99*most)
		for _, g := range l.Gone {
			assert.LessOrEqual(t, raster(got, g.Grown(Beyond-0.05)), 0.13)
		}
	}
}

// points are the middles of the squares of a grid that lie in a ring.
func points(r geom.Ring, grid float64) (out []geom.Point) {
	box := r.Bounds()
	for x := box.MinX + grid/2; x <= box.MaxX; x += grid {
		for y := box.MinY + grid/2; y <= box.MaxY; y += grid {
			if p := (geom.Point{X: x, Y: y}); r.Contains(p) {
				out = append(out, p)
			}
		}
	}
	return out
}

// leftBy is how many points a cut in a direction leaves, short of all that is gone; 0 where it takes what is kept.
func leftBy(wood, gone []geom.Point, kept []geom.Ring, degrees float64) (left int) {
	at := geom.Placement{Angle: degrees}
	reach := math.Inf(1)
	for _, p := range gone {
		reach = min(reach, at.In(p).X)
	}
	for _, k := range kept {
		for _, p := range k {
			if at.In(p).X > reach {
				return 0
			}
		}
	}
	for _, p := range wood {
		if at.In(p).X < reach {
			left++
		}
	}
	return left
}

// Mirrored, both sides are alike, and neither has more than the one that was cut.
func TestAMirroredLineIsAlikeOnBothSides(t *testing.T) {
	outline := outlines()["oval"]
	l := Left{Outline: outline, Gone: []geom.Ring{cutInto(outline, 60, 10, 8, 12)}}
	one, ok := l.Fair(radius, false)
	require.True(t, ok)
	both, ok := l.Fair(radius, true)
	require.True(t, ok)
	assert.InDelta(t, outline.Area()-2*(outline.Area()-one.Area()), both.Area(), 1)
	for _, p := range both {
		_, off := both.Nearest(geom.Point{X: p.X, Y: -p.Y})
		assert.Less(t, off, 0.05)
	}
	l.Kept = []geom.Ring{geom.Ellipse{Centre: geom.Point{X: 60, Y: 100}, A: 12, B: 12}.Ring(40)}
	_, ok = l.Fair(radius, false)
	assert.False(t, ok, "it would cut into a hole that is there")
}

func BenchmarkRedraw(b *testing.B) {
	d, l := mishap(rand.New(rand.NewPCG(19, 4)))
	for b.Loop() {
		l.Redraw(d, false, nil)
	}
}
