package board

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
)

// apart is by how much two outlines stray from each other, mm.
func apart(a, b geom.Ring) (most float64) {
	for _, pair := range [][2]geom.Ring{{a, b}, {b, a}} {
		for _, p := range pair[0] {
			_, off := pair[1].Nearest(p)
			most = max(most, off)
		}
	}
	return most
}

// sane is a design as it is made, of a shape.
func sane(t *rapid.T, shape Shape) Design {
	f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
	pick := func(name string, of ...string) string { return rapid.SampledFrom(of).Draw(t, name) }
	d := Design{
		Shape: shape, Length: f("length", 200, 500), Width: f("width", 110, 180), Corner: f("corner", 0, 40),
		Neck: f("neck", 40, 60), NeckLength: f("neck length", 60, 120), Shoulder: f("shoulder", 8, 30),
		Tip: f("tip", 4, 15), Angle: f("angle", -20, 20), KeepLeft: true, KeepRight: rapid.Bool().Draw(t, "right"),
		HandleEnd: End{
			Kind: pick("end", "", "square", "left", "curve", "tab"), Rise: f("rise", -30, 30), Width: 50, Length: 60,
		},
		Handle: Handle{
			Kind:     pick("handle", "none", "hole", "slot", "notch"),
			Diameter: f("diameter", 15, 28), Length: f("slot", 60, 90),
			Setback: f("setback", 50, 70), Offset: f("offset", -9, 9), Far: rapid.Bool().Draw(t, "far"),
			Right: rapid.Bool().Draw(t, "side"),
		},
		Edge: Edge{Kind: "none"},
	}
	if shape == HalfMoon {
		d.Width = min(d.Width, d.Length/2)
	}
	if d.Handle.Kind == Notch {
		d.Handle.Setback = d.Length / 2
	}
	return d
}

// Whatever the shape, drawing on from it by points keeps its line, its tightest inward
// bend and its notches, and leaves no point off the line.
func TestDrawingOnFromAShapeKeepsIt(t *testing.T) {
	for _, name := range Shapes {
		if Shape(name) == Free {
			continue
		}
		rapid.Check(t, func(t *rapid.T) {
			d := sane(t, Shape(name))
			if len(d.Check("d")) > 0 {
				t.Skip()
			}
			was := Draw(d, oddWood)
			drawnOn := was.ByPoints(false)
			assert.Empty(t, drawnOn.Check("d"), name)
			is := Draw(drawnOn, oddWood)
			bend := min(60, tightest(finely(was)))
			if bend > 10 && d.Handle.Kind != Notch { // less is as good as a corner
				assert.Greater(t, tightest(finely(is)), 0.9*bend-0.5, "%s: no blade would turn as tight", name)
			}
			assert.Less(t, apart(was.Outline, is.Outline), 0.25, "%s %+v %+v", name, d, drawnOn.Nodes)
			for i, hole := range was.Holes {
				assert.Less(t, hole.Centroid().Sub(is.Holes[i].Centroid()).Len(), 0.3, "a hole of the %s", name)
			}
			line := geom.Largest(geom.Flatten(was.Line, geom.True))
			for _, n := range drawnOn.Nodes {
				_, off := line.Nearest(n.Point())
				assert.Less(t, off, 0.1, name)
			}
		})
	}
}

func finely(s Shaped) geom.Ring { return geom.Largest(geom.Flatten(s.Path, bendFine)) }

// Half a template of a symmetrical shape, arcs and all, is the shape; whole again it
// has its points again.
func TestHalfOfAShapeMirrorsToTheShape(t *testing.T) {
	for _, shape := range []Shape{Rectangle, Square, Oval, Circle, Paddle, Teardrop, Heart} {
		rapid.Check(t, func(t *rapid.T) {
			d := sane(t, shape)
			if len(d.Check("d")) > 0 {
				t.Skip()
			}
			was := Draw(d, nil)
			half := was.ByPoints(true)
			if len(half.Check("d")) > 0 {
				t.Skip()
			}
			is := Draw(half, nil)
			assert.Less(t, apart(was.Outline, is.Outline), 0.25, "%s %+v %+v", shape, d, half)
			if bend := min(60, tightest(finely(was))); bend > 10 { // less is as good as a corner
				assert.Greater(t, min(60, tightest(finely(is))), 0.8*bend-1, shape)
			}

			assert.Less(t, apart(Draw(is.ByPoints(false), nil).Outline, is.Outline), 0.1, shape)
			assert.Equal(t, half.Nodes, is.ByPoints(true).Nodes, "half of a half")
		})
	}
}

// A line drawn clockwise is halved as the same line the other way round.
func TestHalvedWhicheverWayItRuns(t *testing.T) {
	round := []Node{{X: 100, Y: -40, Run: "arc", Rise: 20}, {X: 100, Y: 40}, {X: -100, Y: 40}, {X: -100, Y: -40}}
	back := []Node{{X: 100, Y: 40, Run: "arc", Rise: 20}, {X: 100, Y: -40}, {X: -100, Y: -40}, {X: -100, Y: 40}}
	area := math.Pi // of neither
	for _, nodes := range [][]Node{round, back} {
		half := halved(nodes)
		assert.InDelta(t, 120, half[0].X, 1e-6)
		assert.InDelta(t, 0, half[0].Y, 1e-9)
		got := geom.Largest(geom.Flatten(freePath(whole(half)), geom.True)).Area()
		assert.InDelta(t, geom.Largest(geom.Flatten(freePath(round), geom.True)).Area(), got, 1)
		area = got
	}
	assert.Greater(t, area, 200*80.0)
}

// A board that is cut otherwise keeps its holes where they were bored: on its centre
// line or off it, from either end, on the local width.
func TestCutOtherwiseHolesStay(t *testing.T) {
	for _, shape := range []Shape{Rectangle, Oval, Paddle, Teardrop, Heart, HalfMoon, Free} {
		d := soft(400, 240)
		d.Shape, d.Tip, d.Shoulder, d.Neck, d.NeckLength = shape, 20, 20, 70, 120
		if shape == Free {
			d.Nodes = []Node{{X: -190, Y: -110}, {X: 180, Y: -40}, {X: 200, Y: 90}, {X: -150, Y: 110}}
		}
		d.Handle = Handle{Kind: Hole, Diameter: 25, Setback: 40}
		d.More = []Handle{
			{Kind: HeartCut, Diameter: 40, Length: 42, Setback: 90, Offset: 5, Far: true},
			{Kind: CordHole, Diameter: 10, Setback: 120, Local: true},
		}
		was := Draw(d, nil)
		cut := d
		line := geom.Clip(was.Outline, geom.Bounds{MinX: -170, MinY: -300, MaxX: 156.2, MaxY: 95}.Ring())
		cut.AsCut = FewNodes(line)
		is := Draw(cut, nil)
		require.Len(t, is.Holes, len(was.Holes), shape)
		for i := range was.Holes {
			assert.InDelta(t, 0, is.Holes[i].Centroid().Sub(was.Holes[i].Centroid()).Len(), 1e-6, "%s %d", shape, i)
		}
		assert.Less(t, is.Outline.Area(), was.Outline.Area())
		by := Draw(is.ByPoints(false), nil)
		for i := range was.Holes {
			assert.InDelta(t, 0, by.Holes[i].Centroid().Sub(was.Holes[i].Centroid()).Len(), 0.02,
				"%s %d, drawn on", shape, i)
		}
	}
}

// A notch that is cut into an outline only at the second try leaves the outline as it lies.
func TestAnOutlineIsNotTurnedByItsNotch(t *testing.T) {
	d := Design{
		Shape: Bladed, Length: 259.35817479257685, Width: 173.14453125, Corner: 1.200822469914293e-11,
		Angle: 2.37921142578125, Edge: Edge{Kind: "none"},
		Handle: Handle{
			Kind: Notch, Diameter: 26.64616163331084, Length: 69.54405897855759, Setback: 129.67908739628842,
			Offset: 5.641677046142845e-14, Far: true, Right: true,
		},
	}
	was := Draw(d, oddWood)
	assert.Less(t, apart(was.Outline, Draw(was.ByPoints(false), oddWood).Outline), 0.25)
}
