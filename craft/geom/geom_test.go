package geom

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"
	"pgregory.net/rapid"
)

func TestSoftRectangle(t *testing.T) {
	rings := Flatten(SoftRectangle(300, 200, 20), Fine)
	require.Len(t, rings, 1)
	assert.InEpsilon(t, 300*200-(4-math.Pi)*400, rings[0].Area(), 0.001)
	assert.InEpsilon(t, 2*260+2*160+2*math.Pi*20, rings[0].Perimeter(), 0.001)
	assert.Positive(t, rings[0].SignedArea())
	assert.InDelta(t, 0, rings[0].Centroid().Len(), 1e-6)
}

func TestPaddle(t *testing.T) {
	ring := Flatten(Paddle(PaddleSize{Length: 400, Width: 180, Corner: 20, Neck: 45, NeckLength: 120, Shoulder: 20}),
		Fine)[0]
	box := ring.Bounds()
	assert.InDelta(t, 400, box.MaxX-box.MinX, 1e-6)
	assert.InDelta(t, 180, box.MaxY-box.MinY, 1e-6)
	across := ring.Turned().Spans(120)
	require.Len(t, across, 2)
	assert.InDelta(t, 45, across[1]-across[0], 0.01, "the neck keeps its width")
	corners := (4 - math.Pi) * 20 * 20
	tip := (4 - math.Pi) / 2 * 22.5 * 22.5
	hollows := (4 - math.Pi) / 2 * 20 * 20
	assert.InEpsilon(t, 280*180+120*45-corners-tip+hollows, ring.Area(), 0.001)
}

func TestWithin(t *testing.T) {
	square := Flatten(SoftRectangle(100, 100, 0), Fine)[0]
	parts := Within([]Point{{-80, 0}, {80, 0}, {80, 80}, {0, 80}, {0, 0}}, square)
	require.Len(t, parts, 2)
	assert.InDelta(t, 100, Length(parts[0]), 1e-9)
	assert.InDelta(t, 50, Length(parts[1]), 1e-9)
	assert.Empty(t, Within([]Point{{60, 60}, {90, 90}}, square))
}

func TestGapAndCommon(t *testing.T) {
	a := Flatten(SoftRectangle(100, 100, 0), Fine)[0]
	move := func(x float64) Ring { return a.Map(func(p Point) Point { return Point{p.X + x, p.Y} }) }
	assert.InDelta(t, 7, Gap(a, move(107)), 1e-9)
	assert.Zero(t, Gap(a, move(50)))
	assert.Zero(t, Gap(a, a.Map(func(p Point) Point { return p.Scale(0.2) })))
	assert.InDelta(t, 5000, Largest(Common(a, move(50))).Area(), 1)
	assert.Empty(t, Common(a, move(200)))
	assert.InDelta(t, 5000, Clip(a, move(50)).Area(), 1e-6)
	assert.Empty(t, Clip(a, move(200)))
	assert.InDelta(t, 5, a.Bounds().Apart(move(105).Bounds()), 1e-9)
}

// A hole of 25 mm with 12 mm of wood to a straight edge thins over 21.4 mm.
func TestFindWeb(t *testing.T) {
	board := Flatten(SoftRectangle(400, 200, 0), Fine)[0]
	hole := round(Point{200 - 12 - 12.5, 0}, 25)
	web := FindWebs(hole, board, 1)[0]
	assert.InDelta(t, 12, web.Width, 0.05)
	assert.InDelta(t, 21.4, web.Span, 0.15) // the rim is flattened at 0.05
	assert.InDelta(t, 90, web.Direction(), 1, "an end web runs across the grain")
	assert.InDelta(t, 0, math.Mod(web.Direction()+90, 180), 1)
}

func TestBowl(t *testing.T) {
	e := Ellipse{Centre: Point{3, 4}, A: 17, B: 11, Angle: 30}
	all := Flatten(SoftRectangle(500, 500, 0).Translate(3, 4), Fine)[0]
	half := Flatten(SoftRectangle(250, 500, 0).Transform(canvas.Identity.Translate(3, 4).Rotate(70).Translate(125, 0)),
		Fine)[0]
	assert.InEpsilon(t, 2.0/3*math.Pi*17*11*11, e.Bowl(all, 11, 0), 0.001)
	assert.InEpsilon(t, math.Pi/3*17*11*11, e.Bowl(half, 11, 0), 0.002)
	assert.InEpsilon(t, 0.5, e.Share(half), 0.002)
	// What lies deeper than h: πab[(d−h) − (d³−h³)/(3d²)].
	assert.InEpsilon(t, math.Pi*17*11*(8-(1331-27)/(3*121.0)), e.Bowl(all, 11, 3), 0.002)
	assert.Zero(t, e.Bowl(all, 11, 11))
}

func TestSelfCrosses(t *testing.T) {
	assert.True(t, Ring{{0, 0}, {10, 10}, {10, 0}, {0, 10}}.SelfCrosses())
	assert.False(t, Ring{{0, 0}, {10, 0}, {10, 10}, {0, 10}}.SelfCrosses())
}

func TestPlacementThereAndBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string) float64 { return rapid.Float64Range(-2000, 2000).Draw(t, name) }
		place := Placement{X: f("x"), Y: f("y"), Angle: f("angle"), Flip: rapid.Bool().Draw(t, "flip")}
		p := Point{f("px"), f("py")}
		if q := place.In(place.Out(p)); q.Sub(p).Len() > 1e-6 {
			t.Fatalf("%v became %v", p, q)
		}
	})
}

func TestOutsetAndSVG(t *testing.T) {
	square := Ring{{0, 0}, {100, 0}, {100, 50}, {0, 50}}
	assert.InDelta(t, 102*52, square.Outset(1).Area(), 1e-9)
	round := Ellipse{A: 100, B: 100}.Ring(360)
	for _, p := range round.Outset(2) {
		assert.InDelta(t, 102, p.Len(), 0.01)
	}
	assert.Equal(t, "M-1.25 0.00L0.01 12345.68z", Ring{{-1.254, -0.001}, {0.0051, 12345.678}}.SVG())
}

// round is a hole of a diameter about c.
func round(c Point, diameter float64) Ring {
	return Flatten(Oval(diameter, diameter).Translate(c.X, c.Y), Fine)[0]
}
