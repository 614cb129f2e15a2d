package glue

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

func numbered(strip int) stock.Here {
	return stock.Here{Species: species.Species{Name: string(rune('a' + strip)), Density: 500 + 10*float64(strip)}}
}

// The parts of a panel, striped or chevron, sum to it within a hundredth of a per cent,
// and every point of it has exactly one.
func TestPartsSumToTheirPanel(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		s := Striped{rapid.IntRange(2, 20).Draw(t, "n"), f("strip", 10, 30), f("length", 400, 900)}
		degrees, width, kerf := f("degrees", 35, 75), f("slice", 20, 60), f("kerf", 1, 3)
		made := s.Chevron(degrees, width, kerf, true)
		for _, c := range []struct {
			parts      []stock.Patch
			long, wide float64
		}{
			{s.Parts(numbered), s.Length, s.Across()},
			{s.ChevronParts(degrees, width, kerf, true, numbered), made.Length, made.Width},
		} {
			if c.long*c.wide < 100 {
				continue
			}
			var sum float64
			for _, p := range c.parts {
				sum += p.Area()
				if p.Ring.SignedArea() < 0 {
					t.Fatal("a part runs clockwise")
				}
			}
			if math.Abs(sum-c.long*c.wide) > 1e-4*c.long*c.wide {
				t.Fatalf("the parts are %.2f mm² of %.2f", sum, c.long*c.wide)
			}
			for range 20 {
				p := geom.Point{X: f("x", 0.001, 0.999) * c.long, Y: (f("y", 0.001, 0.999) - 0.5) * c.wide}
				n, near := 0, math.Inf(1)
				for _, part := range c.parts {
					if part.Ring.Contains(p) {
						n++
					}
					_, d := part.Ring.Nearest(p)
					near = min(near, d)
				}
				if n != 1 && near > 1e-6 {
					t.Fatalf("%v lies on %d parts", p, n)
				}
			}
		}
	})
}

// Slices that are turned back and set end to end are the striped panel again: along a
// line across the strips each is as wide as it was.
func TestAChevronIsItsStripes(t *testing.T) {
	s := Striped{12, 20, 700}
	parts := s.ChevronParts(60, 35, 1.5, true, numbered)
	grain := stock.Glued(parts)
	made := s.Chevron(60, 35, 1.5, true)
	for slice := range made.Count {
		mid := float64(slice)*35 - made.Width/2 + 17.5
		along := grain.Along(geom.Point{X: 0, Y: mid}, geom.Point{X: made.Length, Y: mid})
		assert.Len(t, along, 12)
		for i, stretch := range along {
			assert.Equal(t, numbered(i).Species.Name, stretch.Species.Name)
			if i > 0 && i < 11 { // the outer ones are trimmed
				assert.InDelta(t, 20, stretch.Length()*math.Sin(60*math.Pi/180), 1e-6)
			}
			want := 60.0
			if slice%2 == 1 {
				want = -60
			}
			assert.InDelta(t, want, stretch.Fibres, 1e-9)
		}
	}
}
