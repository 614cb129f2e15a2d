package board

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
)

func parse(t require.TestingT, path string) []geom.Ring {
	p, err := canvas.ParseSVGPath(path)
	require.NoError(t, err)
	return geom.Flatten(p, geom.True)
}

func freely(nodes ...Node) Design {
	return Design{
		Shape:  Free,
		Length: 300,
		Width:  200,
		Nodes:  nodes,
		Handle: Handle{Kind: "none"},
		Edge:   Edge{Kind: "none"},
	}
}

func TestFreeOutlines(t *testing.T) {
	square := []Node{{X: -100, Y: -100}, {X: 100, Y: -100}, {X: 100, Y: 100}, {X: -100, Y: 100}}
	change := func(i int, f func(*Node)) []Node {
		out := append([]Node{}, square...)
		f(&out[i])
		return out
	}
	r := geom.Batten{Chord: 200, Rise: 30}
	bent := 0.0
	knots := r.Knots(4000)
	for i := range 4000 {
		bent += (knots[i].Y + knots[i+1].Y) / 2 * (knots[i+1].X - knots[i].X)
	}
	for name, c := range map[string]struct {
		nodes []Node
		want  float64
	}{
		"straight":         {square, 40000},
		"one corner round": {change(2, func(n *Node) { n.Round = 30 }), 40000 - 900*(1-math.Pi/4)},
		"one corner cut":   {change(2, func(n *Node) { n.Cut = 30 }), 40000 - 450},
		"an edge moved in": {change(1, func(n *Node) { n.In = 12 }), 200 * 188},
		"a half round":     {change(1, func(n *Node) { n.Run, n.Rise = "arc", 100 }), 40000 + math.Pi*5000},
		"hollowed":         {change(1, func(n *Node) { n.Run, n.Rise = "arc", -100 }), 40000 - math.Pi*5000},
		"a bent batten":    {change(1, func(n *Node) { n.Run, n.Rise = "batten", 30 }), 40000 + bent},
	} {
		require.Empty(t, freely(c.nodes...).Check("design"), name)
		assert.InEpsilon(t, c.want, Draw(freely(c.nodes...), nil).Outline.Area(), 0.0005, name)
	}
}

func TestABadOutlineIsNamed(t *testing.T) {
	crossed := freely(Node{X: -100, Y: -100}, Node{X: 100, Y: 100}, Node{X: 100, Y: -100}, Node{X: -100, Y: 100})
	ps := crossed.Check("design")
	require.NotEmpty(t, ps)
	assert.Equal(t, "design.nodes", ps[0].Field)
	assert.NotEmpty(t, freely().Check("design"))
	assert.NotEmpty(t, freely(Node{X: 0, Y: 0}, Node{X: 1, Y: 0}, Node{X: 0, Y: 1}).Check("design"))
	odd := freely(Node{X: -100, Y: -100, Kind: "wavy"}, Node{X: math.NaN(), Y: -100}, Node{X: 0, Y: 100})
	assert.GreaterOrEqual(t, len(odd.Check("design")), 2)
}

// Half a template and its mirror make one outline that is its own mirror image.
func TestHalfATemplateIsMirrored(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 9).Draw(t, "nodes")
		onLine := rapid.Bool().Draw(t, "from the line")
		var half []Node
		for i := range n {
			x := 150 - 300*float64(i)/float64(n-1)
			y := rapid.Float64Range(30, 90).Draw(t, "y")
			if onLine && (i == 0 || i == n-1) {
				y = 0
			}
			node := Node{X: x, Y: y, Kind: rapid.SampledFrom([]string{"", "smooth", "corner"}).Draw(t, "kind")}
			if i < n-1 && rapid.Bool().Draw(t, "arc") {
				node.Run, node.Rise = "arc", rapid.Float64Range(-6, 6).Draw(t, "rise")
			}
			half = append(half, node)
		}
		if n == 2 && onLine {
			return
		}
		d := Design{
			Shape:  Free,
			Half:   true,
			Length: 300,
			Width:  180,
			Nodes:  half,
			Handle: Handle{Kind: "none"},
			Edge:   Edge{Kind: "none"},
		}
		if len(d.Check("design")) > 0 {
			return // it happens to cross itself
		}
		ring := geom.Largest(geom.Flatten(Draw(d, nil).Path, geom.True))
		other := ring.Map(func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} })
		for _, p := range ring {
			if _, off := other.Nearest(p); off > 0.03 {
				t.Fatalf("%v is %g mm off its mirror image", p, off)
			}
		}
	})
}

// Any outline that can be made is valid: it runs once round, anticlockwise, and
// its nodes read back from its ring give it again.
func TestOutlinesComeBackFromTheirRing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(3, 14).Draw(t, "nodes")
		var nodes []Node
		for i := range n {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			r := rapid.Float64Range(70, 150).Draw(t, "r")
			nodes = append(
				nodes,
				Node{
					X:     r * cos,
					Y:     r * sin,
					Kind:  rapid.SampledFrom([]string{"", "smooth", "corner"}).Draw(t, "kind"),
					Round: rapid.Float64Range(0, 40).Draw(t, "round"),
				},
			)
		}
		d := freely(nodes...)
		if len(d.Check("design")) > 0 {
			return
		}
		ring := Draw(d, nil).Outline
		if ring.SelfCrosses() || ring.SignedArea() <= 0 {
			t.Fatal("the outline is not sound")
		}
		again := Draw(freely(NodesOf(ring, 0.01)...), nil).Outline
		if math.Abs(again.Area()-ring.Area()) > 0.001*ring.Area() {
			t.Fatalf("area %g came back as %g", ring.Area(), again.Area())
		}
		// Twice the size is four times the area.
		for i := range nodes {
			nodes[i].X, nodes[i].Y, nodes[i].Round = 2*nodes[i].X, 2*nodes[i].Y, 2*nodes[i].Round
		}
		if twice := Draw(freely(nodes...), nil).Outline.Area(); math.Abs(twice-4*ring.Area()) > 0.002*twice {
			t.Fatalf("%g is not four times %g", twice, ring.Area())
		}
	})
}

// Mirrored, a board with all its cuts is judged the same; the grain turns with it.
func TestAMirroredBoardIsJudgedTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		d := Design{
			Shape: Shape(
				rapid.SampledFrom([]string{"rectangle", "oval", "paddle", "teardrop", "heart"}).Draw(t, "shape"),
			),
			Length:     f("length", 300, 500),
			Width:      f("width", 180, 280),
			Corner:     20,
			Neck:       60,
			NeckLength: 120,
			Shoulder:   25,
			Tip:        10,
			Handle: Handle{
				Kind:     rapid.SampledFrom([]string{"hole", "heart", "drop"}).Draw(t, "handle"),
				Diameter: 30,
				Length:   40,
				Setback:  f("setback", 35, 60),
				Offset:   f("offset", -8, 8),
			},
			Edge: Edge{Kind: "round-over", Size: 3},
			Recesses: []Recess{
				{
					Kind:   "well",
					X:      f("x", -60, -20),
					Y:      f("y", -15, 15),
					Length: 70,
					Width:  50,
					Radius: 6,
					Depth:  f("depth", 5, 14),
				},
			},
		}
		c := maple()
		grain := f("grain", -40, 40)
		c = c.grained(grain)
		one := judged(Draw(d, nil), c)
		c = c.grained(-grain)
		two := judged(Draw(d.Mirrored(), nil), c)
		if len(one) != len(two) {
			t.Fatalf("%d verdicts, mirrored %d", len(one), len(two))
		}
		for i := range one {
			a, b := one[i].Figure.Value, two[i].Figure.Value
			if one[i].Check == "web" && one[i].Limit > 0 &&
				two[i].Limit > 0 { // of two that are as near to breaking either may be named
				a, b = a/one[i].Limit, b/two[i].Limit
			}
			if one[i].Figure.Key != two[i].Figure.Key { // a web at its rule floor by a hair is judged by its stress
				b = a
			}
			if one[i].Check != two[i].Check ||
				one[i].Level != two[i].Level && !nearLimit(one[i]) && !nearLimit(two[i]) ||
				math.Abs(a-b) > 0.02*max(1, math.Abs(a)) {
				t.Fatalf("%s %v %g, mirrored %s %v %g", one[i].Check, one[i].Level, a, two[i].Check, two[i].Level, b)
			}
		}
	})
}

func BenchmarkCheckFreeOutlineOf200Nodes(b *testing.B) {
	var nodes []Node
	for i := range 200 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 200)
		r := 130 + 10*math.Sin(float64(i)/7)
		nodes = append(nodes, Node{X: 1.4 * r * cos, Y: r * sin, Kind: "smooth"})
	}
	d := freely(nodes...)
	d.Handle = Handle{Kind: "hole", Diameter: 30, Setback: 45}
	c := maple()
	for b.Loop() {
		judged(Draw(d, nil), c)
	}
}

// A named shape that is drawn on freely stays the same until a node is moved.
func TestShapesBecomeNodes(t *testing.T) {
	for _, shape := range Shapes {
		d := Design{
			Shape:      Shape(shape),
			Length:     380,
			Width:      180,
			Corner:     20,
			Neck:       60,
			NeckLength: 120,
			Shoulder:   25,
			Tip:        12,
			Angle:      15,
			Handle:     Handle{Kind: "none"},
			Nodes: []Node{
				{X: -150, Y: -70, Kind: "smooth"},
				{X: 150, Y: -60, Run: "batten", Rise: 15},
				{X: 150, Y: 60, Round: 10},
				{X: -140, Y: 70},
			},
		}
		s := Draw(d, nil)
		free := freely(NodesFrom(s.Path)...)
		require.Empty(t, free.Check("design"), shape)
		again := Draw(free, nil)
		assert.InEpsilon(t, s.Outline.Area(), again.Outline.Area(), 0.0005, shape)
		for _, p := range again.Outline {
			if _, d := s.Outline.Nearest(p); d > 0.15 {
				t.Fatalf("%s strays %g mm", shape, d)
			}
		}
	}
}

// nearLimit tells a verdict that a hair would turn.
func nearLimit(v craft.Verdict) bool {
	share := v.Figure.Value / v.Limit
	return math.Abs(share-1) < 0.02 || math.Abs(share-clearOf) < 0.02
}

// A batten is drawn as true with the few curves of a short one as with many.
func TestShortBattensAreTrue(t *testing.T) {
	for _, chord := range []float64{2, 10, 40, 79} {
		for _, rise := range []float64{0.02, 0.2, geom.Steepest} {
			p := &canvas.Path{}
			p.MoveTo(0, 0)
			batten(p, geom.Point{}, geom.Point{X: chord}, rise*chord)
			drawn := geom.Line(p, 0.0005)
			for _, k := range (geom.Batten{Chord: chord, Rise: -rise * chord}).Knots(60) {
				off := math.Inf(1)
				for i := range len(drawn) - 1 {
					on, _ := geom.Ring{drawn[i], drawn[i+1]}.Nearest(k.Point)
					off = min(off, on.Sub(k.Point).Len())
				}
				require.Less(t, off, geom.True, "chord %v, rise %v", chord, rise)
			}
		}
	}
}
