package board

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
)

// A round traced into a corner is what is left when a disc of its radius is rolled round inside
// the line: the same, found by shrinking and growing, without a tangent.
func TestATracedRoundIsBlendedIn(t *testing.T) {
	lines := map[string]func(round float64) []Node{
		"an arc on a straight line": func(r float64) []Node {
			return []Node{{X: -150, Round: r}, {X: 0}, {X: 150, Round: r, Run: "arc", Rise: 90}}
		},
		"a batten on a straight line": func(r float64) []Node {
			return []Node{{X: -150, Round: r}, {X: 0}, {X: 150, Round: r, Run: "batten", Rise: 80}}
		},
		"two arcs": func(r float64) []Node {
			return []Node{
				{X: -120, Round: r, Run: "arc", Rise: 50},
				{X: 120, Round: r, Run: "arc", Rise: 80},
				{X: 0, Y: 90, Round: r},
			}
		},
		"a curve through points": func(r float64) []Node {
			return []Node{
				{
					X:     -120,
					Y:     -60,
					Kind:  "corner",
					Round: r,
				}, {X: 0, Y: -75, Kind: "smooth"}, {X: 120, Y: -60, Kind: "corner", Round: r},
				{X: 110, Y: 60, Round: r}, {X: -110, Y: 60, Round: r},
			}
		},
	}
	for name, line := range lines {
		for _, radius := range []float64{4, 12, 20} {
			for turn := range 4 {
				nodes, bare := line(radius), line(0)
				for _, list := range [][]Node{nodes, bare} {
					for i, o := range list {
						for range turn {
							o.X, o.Y = -o.Y, o.X
						}
						list[i] = o
					}
				}
				got := geom.Largest(geom.Flatten(freePath(nodes), geom.Fine))
				whole := geom.Largest(geom.Flatten(freePath(bare), geom.Fine))
				want := whole.Shrunk(radius).Grown(radius)
				what := fmt.Sprintf("%s, %v, turned %d", name, radius, turn)
				require.False(t, got.SelfCrosses(), what)
				assert.Less(t, got.Area(), whole.Area(), what)
				for _, pair := range [][2]geom.Ring{{got, want}, {want, got}} {
					far := geom.NewIndex(pair[1])
					for _, p := range pair[0] {
						_, d := far.Nearest(p)
						require.Less(t, d, 0.3, "%s: at %v", what, p)
					}
				}
			}
		}
	}
}

// Whatever is traced into whichever corner, the line runs round once, and within what it was
// where the corner points outward.
func TestNoTracedRoundCrossesItself(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(3, 7).Draw(t, "corners")
		var nodes []Node
		for i := range n {
			far := rapid.Float64Range(60, 140).Draw(t, "far")
			at := 2 * math.Pi * float64(i) / float64(n)
			nodes = append(nodes, Node{
				X: far * math.Cos(at), Y: far * math.Sin(at),
				Kind: rapid.SampledFrom([]string{"", "corner", "smooth"}).Draw(t, "kind"),
				Run:  rapid.SampledFrom([]string{"", "", "arc", "batten"}).Draw(t, "run"),
				Rise: rapid.Float64Range(-8, 25).Draw(t, "rise"),
			})
		}
		bare := slices.Clone(nodes)
		whole := geom.Largest(geom.Flatten(freePath(bare), geom.Fine))
		if whole.SelfCrosses() {
			t.Skip("crossed before")
		}
		for i := range nodes {
			nodes[i].Round = rapid.Float64Range(0, 60).Draw(t, "round")
		}
		got := geom.Largest(geom.Flatten(freePath(nodes), geom.Fine))
		if got.SelfCrosses() {
			t.Fatalf("crosses itself")
		}
		if r := got.Area() / whole.Area(); r < 0.5 || r > 1.3 {
			t.Fatalf("the area is %.2f of what it was", r)
		}
	})
}

// A round that is traced into a curve counts as often as it takes longer to draw; one between
// straight lines counts for nothing more.
func TestRoundsOnCurvesCount(t *testing.T) {
	line := []Node{{X: -100, Round: 5}, {X: 100, Round: 5}, {Y: 90, Round: 5}}
	assert.Equal(t, 3, Design{Nodes: line}.DrawnBy())
	line[0].Run, line[0].Rise = "arc", 10
	assert.Equal(t, 3+2*20, Design{Nodes: line}.DrawnBy(), "both ends of the arc")
	line[0].Kind = "smooth"
	assert.Equal(t, 3+1+2*20, Design{Nodes: line}.DrawnBy(), "a smooth point has no corner, and bends both runs")
}
