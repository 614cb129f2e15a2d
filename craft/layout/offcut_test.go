package layout

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/slab"
	"idletimber/craft/tool"
)

func slabRing(length float64) geom.Ring {
	return slab.Draw(
		slab.Slab{
			Length: length,
			Show: []slab.Station{
				{X: 0, Left: 110, Right: -90},
				{X: length / 2, Left: 125, Right: -104},
				{X: length, Left: 96, Right: -112},
			},
		},
		nil,
	).Show.Ring()
}

// raster measures the offcuts without any geometry but where a point lies.
func raster(face geom.Ring, sawn []Sawn) (area float64) {
	const along, across = 0.5, 0.5
	box := face.Bounds()
	near := make([]geom.Index, len(sawn))
	for i, s := range sawn {
		near[i] = geom.NewIndex(s.Outline)
	}
	for x := box.MinX + along/2; x < box.MaxX; x += along {
		for y := box.MinY + across/2; y < box.MaxY; y += across {
			p := geom.Point{X: x, Y: y}
			if face.Contains(p) && !dust(p, sawn, near) {
				area += along * across
			}
		}
	}
	return area
}

// dust tells what the saws and the boards take.
func dust(p geom.Point, sawn []Sawn, near []geom.Index) bool {
	inStretch := false
	for _, s := range merged(sawn) {
		if p.X >= s.From && p.X <= s.To {
			inStretch = true
			whole := geom.Bounds{MinX: s.From, MaxX: s.To, MinY: -500, MaxY: 500}
			if !slices.ContainsFunc(cells(s.boards, whole), func(c geom.Bounds) bool {
				return p.X >= c.MinX && p.X <= c.MaxX && p.Y >= c.MinY && p.Y <= c.MaxY
			}) {
				return true
			}
		} else if p.X > s.From-tool.CrossKerf && p.X < s.To+tool.CrossKerf {
			return true
		}
	}
	for i, b := range sawn {
		if _, d := near[i].Nearest(p); inStretch && (b.Outline.Contains(p) || d < b.Kerf) {
			return true
		}
	}
	return false
}

func sawnAt(x, y, angle, length, width float64) Sawn {
	d := board.Design{Shape: board.Rectangle, Length: length, Width: width, Corner: 18}
	o := board.Draw(d, nil).Outline.Map(geom.Placement{X: x, Y: y, Angle: angle}.Out)
	b := o.Bounds()
	return Sawn{Outline: o, From: b.MinX - 3, To: b.MaxX + 3, Kerf: 1.5}
}

func TestOffcutsAgreeWithARaster(t *testing.T) {
	face := slabRing(900)
	for name, sawn := range map[string][]Sawn{
		"one in the middle":       {sawnAt(450, 4, 0, 320, 150)},
		"two along the slab":      {sawnAt(200, 0, 2, 300, 150), sawnAt(650, 5, -3, 330, 140)},
		"two side by side":        {sawnAt(300, 52, 0, 320, 84), sawnAt(320, -46, 0, 300, 84)},
		"to the very end":         {sawnAt(747, 0, 0, 300, 150)},
		"reaching over the edges": {sawnAt(450, 0, 0, 200, 260)},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			var sum float64
			for _, r := range Offcuts(face, sawn) {
				sum += r.Area()
				assert.Positive(t, r.SignedArea())
			}
			assert.InEpsilon(t, raster(face, sawn), sum, 0.002)
		})
	}
}

// A blank's ends come off whole, and no offcut is a closed frame: each is cut by cuts
// that somebody makes.
func TestEndsComeOffWhole(t *testing.T) {
	face := geom.Bounds{MinX: 0, MaxX: 900, MinY: -120, MaxY: 120}.Ring()
	s := sawnAt(450, 0, 0, 320, 150)
	s.From, s.To = 450-160-84, 450+160+84 // with what snipe takes
	var ends, sides int
	for _, r := range Offcuts(face, []Sawn{s}) {
		switch box := r.Bounds(); {
		case math.Abs(box.MaxX-box.MinX-81) < 0.5:
			assert.InDelta(t, 240, box.MaxY-box.MinY, 0.5)
			ends++
		case math.Abs(box.MaxX-box.MinX-320) < 0.5:
			sides++
		}
	}
	assert.Equal(t, []int{2, 2}, []int{ends, sides})
	for name, sawn := range map[string][]Sawn{
		"meshing":       {sawnAt(300, 20, 0, 200, 100), sawnAt(420, -60, 0, 160, 90)},
		"three abreast": {sawnAt(300, 80, 0, 200, 60), sawnAt(330, 0, 0, 260, 60), sawnAt(300, -80, 5, 180, 50)},
	} {
		for _, r := range Offcuts(face, sawn) {
			for _, b := range sawn {
				assert.False(t, r.Contains(b.Outline.Centroid()), name)
			}
		}
	}
}

func TestOffcutsKeepApart(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		face := slabRing(900)
		s := sawnAt(
			rapid.Float64Range(150, 750).Draw(t, "x"),
			rapid.Float64Range(-40, 40).Draw(t, "y"),
			rapid.Float64Range(-12, 12).Draw(t, "angle"),
			rapid.Float64Range(120, 260).Draw(t, "length"),
			rapid.Float64Range(60, 170).Draw(t, "width"),
		)
		for _, r := range Offcuts(face, []Sawn{s}) {
			if gap := geom.Gap(r, s.Outline); gap < s.Kerf-0.1 {
				t.Fatalf("an offcut comes within %v mm of the board", gap)
			}
			for _, p := range r {
				if _, d := face.Nearest(p); !face.Contains(p) && d > 0.1 {
					t.Fatalf("an offcut reaches %v mm off the slab", d)
				}
			}
		}
	})
}

func TestNothingSawnLeavesTheWhole(t *testing.T) {
	face := slabRing(500)
	rings := Offcuts(face, nil)
	require.Len(t, rings, 1)
	assert.Equal(t, face.Area(), rings[0].Area())
}
