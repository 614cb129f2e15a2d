package board

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
	"idletimber/craft/stock"
)

// areas are the surfaces of a board 20 thick, by their names.
func areas(s Shaped, wood stock.Grain) map[string]Surface {
	out := map[string]Surface{}
	for _, u := range s.Surfaces(20, wood, func(r Recess) bool { return r.Kind == "bowl" }) {
		out[u.Name] = u
	}
	return out
}

func plain(change func(*Design)) Shaped {
	d := Design{Shape: Rectangle, Length: 400, Width: 200, Thickness: 20, Edge: Edge{Kind: "none"}}
	change(&d)
	return Draw(d, nil)
}

var lengthwise = stock.Uniform{}

// A rectangle by pencil: faces, edges, end grain and a round-over, as it lies and turned.
func TestSurfacesOfARectangle(t *testing.T) {
	u := areas(plain(func(*Design) {}), lengthwise)
	require.Len(t, u, 4)
	assert.InDelta(t, 80_000, u[ShowFace].Area, 1)
	assert.InDelta(t, 80_000, u[UnderFace].Area, 1)
	assert.InDelta(t, 2*400*20, u[SawnEdges].Area, 1)
	assert.InDelta(t, 2*200*20, u[EndGrain].Area, 1)
	assert.True(t, u[UnderFace].Under)

	round := func(d *Design) { d.Edge = Edge{Kind: "round-over", Size: 3} }
	u = areas(plain(round), lengthwise)
	assert.InDelta(t, 80_000-1200*3, u[ShowFace].Area, 1)
	assert.InDelta(t, 2*400*14, u[SawnEdges].Area, 1, "what the profile takes is not sawn edge")
	assert.InDelta(t, 2*1200*math.Pi/2*3, u["round-over"].Area, 10)
	assert.Equal(t, Profiled, u["round-over"].Kind)

	turned := areas(plain(round), stock.Uniform{Fibres: 90})
	assert.InDelta(t, u[SawnEdges].Area, turned[EndGrain].Area, 1, "turned by 90°")
	assert.InDelta(t, u[EndGrain].Area, turned[SawnEdges].Area, 1)

	one := areas(plain(func(d *Design) { d.Edge = Edge{Kind: "chamfer", Size: 4, Face: "under"} }), lengthwise)
	assert.InDelta(t, 80_000, one[ShowFace].Area, 1)
	assert.InDelta(t, 80_000-1200*4, one[UnderFace].Area, 1)
	assert.InDelta(t, 1200*4*math.Sqrt2, one["chamfer"].Area, 5)
}

// What a later cut takes away is not sanded: an edge that is all profile.
func TestAnEdgeThatIsAllProfileIsNotSanded(t *testing.T) {
	u := areas(plain(func(d *Design) { d.Edge = Edge{Kind: "round-over", Size: 10} }), lengthwise)
	assert.NotContains(t, u, SawnEdges)
	assert.NotContains(t, u, EndGrain)
	assert.InDelta(t, 1200*math.Pi*10, u["round-over"].Area, 40)
}

// Floors, walls and corners of what is sunk; a face has no surface where something is sunk into it.
func TestSurfacesOfRecesses(t *testing.T) {
	u := areas(plain(func(d *Design) {
		d.Recesses = []Recess{{Kind: "well", Length: 100, Width: 80, Depth: 8, Radius: 5}}
	}), lengthwise)
	rim := 100.0*80 - (4-math.Pi)*25
	long := 2*(100+80) - (8-2*math.Pi)*5
	assert.InDelta(t, 80_000-rim, u[ShowFace].Area, 5)
	assert.InDelta(t, 80_000, u[UnderFace].Area, 1)
	assert.InDelta(t, rim-long*cornerBand, u["floor of well"].Area, 10)
	assert.InDelta(t, long*(8-cornerBand), u["wall of well"].Area, 10)
	assert.InDelta(t, long*2*cornerBand, u["corner of well"].Area, 5)

	cove := areas(plain(func(d *Design) {
		d.Recesses = []Recess{{Kind: "well", Length: 100, Width: 80, Depth: 8, Radius: 12, Cove: 4}}
	}), lengthwise)
	assert.NotContains(t, cove, "corner of well", "a cove has no corner")

	// A bowl by rings of its depth, a groove by strips across it.
	bowl := areas(plain(func(d *Design) {
		d.Recesses = []Recess{{Kind: "bowl", Length: 80, Width: 80, Depth: 40}}
	}), lengthwise)["bowl"]
	assert.True(t, bowl.Gouged)
	assert.InEpsilon(t, 2*math.Pi*40*40, bowl.Area, 0.012, "half a ball")
	groove := areas(plain(func(d *Design) {
		d.Recesses = []Recess{{Kind: "groove", Inset: 15, Depth: 4, Radius: 6}}
	}), lengthwise)["juice groove"]
	half := math.Sqrt(36 - 4)
	across := 0.0
	const strips = 100_000
	for i := range strips {
		x := -half + (float64(i)+0.5)*2*half/strips
		slope := x / math.Sqrt(36-x*x)
		across += math.Sqrt(1+slope*slope) * 2 * half / strips
	}
	run := 2*(400+200) - 8*(15+half)
	assert.InEpsilon(t, run*across, groove.Area, 0.02)
}

func TestSurfacesOfHoles(t *testing.T) {
	u := areas(plain(func(d *Design) {
		d.Handle = Handle{Kind: CordHole, Diameter: 20, Setback: 30}
	}), lengthwise)
	hole := u["inside of cord hole 1"]
	assert.Equal(t, BoredWall, hole.Kind)
	assert.InDelta(t, math.Pi*20*20, hole.Area, 3)
	assert.InDelta(t, 80_000-math.Pi*100, u[ShowFace].Area, 3)
	require.NotEmpty(t, hole.Lines)
}

// Where surfaces are drawn they lie on the board: lines within a hair of its outline or inside, rings
// within it.
func TestSurfacesAreDrawnOnTheBoard(t *testing.T) {
	s := plain(func(d *Design) {
		d.Edge = Edge{Kind: "round-over", Size: 3}
		d.Handle = Handle{Kind: Slotted, Diameter: 30, Length: 90, Setback: 45}
		d.Recesses = []Recess{{Kind: "well", X: -80, Length: 100, Width: 80, Depth: 8, Radius: 5}}
	})
	box := s.Outline.Bounds()
	for _, u := range areas(s, lengthwise) {
		require.True(t, len(u.Rings)+len(u.Lines) > 0, u.Name)
		for _, r := range u.Rings {
			for _, p := range r {
				assert.GreaterOrEqual(t, box.Depth(p), -1e-6, u.Name)
			}
		}
		for _, line := range u.Lines {
			for _, p := range line {
				assert.GreaterOrEqual(t, box.Depth(p), -1e-6, u.Name)
				assert.False(
					t,
					u.Kind == Profiled && !s.Outline.Contains(p) && !onRing(s.Outline, p),
					"%s: %v",
					u.Name,
					p,
				)
			}
		}
	}
}

func onRing(r geom.Ring, p geom.Point) bool {
	_, away := r.Nearest(p)
	return away < 1e-3
}
