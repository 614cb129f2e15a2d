package geom

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func blob(t *rapid.T) Ring {
	n := rapid.IntRange(8, 200).Draw(t, "n")
	var r Ring
	for i := range n {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		k := rapid.Float64Range(80, 120).Draw(t, "k")
		r = append(r, Point{2 * k * cos, k * sin})
	}
	return r
}

func TestSimplifiedStaysWithin(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r, tolerance := blob(t), rapid.Float64Range(0.01, 15).Draw(t, "tolerance")
		s := r.Simplified(tolerance)
		if len(s) > len(r) || len(s) < 2 {
			t.Fatalf("%d of %d nodes", len(s), len(r))
		}
		for _, p := range r {
			if _, d := s.Nearest(p); d > tolerance+1e-9 {
				t.Fatalf("a node lies %v off, more than %v", d, tolerance)
			}
		}
		if again := s.Simplified(0); len(again) > len(s) {
			t.Fatal("nodes came from nowhere")
		}
	})
}

func TestSimplifiedKeepsCorners(t *testing.T) {
	square := Bounds{0, 0, 100, 60}.Ring()
	assert.ElementsMatch(t, square, square.Dense(1).Simplified(0.1))
	triangle := Ring{{}, {X: 5}, {Y: 5}}
	assert.Equal(t, triangle, triangle.Simplified(100))
}

func TestLengthwise(t *testing.T) {
	bar := Bounds{0, 0, 300, 80}.Ring()
	for _, angle := range []float64{0, 30, 88, 90, 135, -20} {
		turned := bar.Map(Placement{X: 50, Y: -20, Angle: angle}.Out)
		r := turned.Lengthwise()
		b := r.Bounds()
		assert.InDelta(t, 300, b.MaxX, 1e-6, "%v°", angle)
		assert.InDelta(t, 40, b.MaxY, 1e-6)
		assert.InDelta(t, -40, b.MinY, 1e-6)
		assert.Positive(t, r.SignedArea())
	}
}

func TestGrownAndLess(t *testing.T) {
	square := Bounds{0, 0, 100, 60}.Ring()
	grown := square.Grown(2)
	assert.InEpsilon(t, 100*60+2*(100+60)*2+math.Pi*4, grown.Area(), 1e-4)
	back := Ring{square[3], square[2], square[1], square[0]}
	assert.InEpsilon(t, grown.Area(), back.Grown(2).Area(), 1e-9, "whichever way it runs")
	assert.Equal(t, square, square.Grown(0))

	left := square.Less(Bounds{40, -5, 60, 65}.Ring())
	require.Len(t, left, 2)
	assert.InDelta(t, 2*40*60, left[0].Area()+left[1].Area(), 0.1)
	frame := square.Less(Bounds{40, 20, 60, 40}.Ring())
	var sum float64
	for _, r := range frame {
		sum += r.SignedArea()
	}
	assert.InDelta(t, 100*60-20*20, sum, 0.1, "a hole runs the other way")
	assert.Empty(t, square.Less(Bounds{-1, -1, 101, 61}.Ring()))
}

func TestBoxAsARing(t *testing.T) {
	r := Bounds{1, 2, 5, 9}.Ring()
	assert.InDelta(t, 28, r.SignedArea(), 1e-9)
	assert.Equal(t, Bounds{1, 2, 5, 9}, r.Bounds())
	assert.Nil(t, Ring(nil).Map(func(p Point) Point { return p }))
}

func ExampleRing_Simplified() {
	r := Ring{{0, 0}, {50, 0.02}, {100, 0}, {100, 60}, {0, 60}}
	fmt.Println(r.Simplified(0.05))
	// Output: [{0 0} {100 0} {100 60} {0 60}]
}
