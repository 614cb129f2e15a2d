package glue

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
)

// The parts of a panel, striped, chevron or end grain, sum to it within a hundredth of a
// per cent, and every point of it has exactly one.
func TestPartsSumToTheirPanel(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		s := Striped{
			rapid.SliceOfN(rapid.Float64Range(8, 30), 2, 20).Draw(t, "strips"), f("length", 400, 900),
		}
		degrees, width, kerf := f("degrees", 35, 75), f("slice", 20, 60), f("kerf", 1, 3)
		thick, turned := f("thick", 15, 50), rapid.Bool().Draw(t, "turned")
		arrows, blocks := s.Chevron(degrees, width, kerf, true), s.EndGrain(thick, width, kerf)
		for _, c := range []struct {
			parts      []Part
			long, wide float64
		}{
			{s.Parts(), s.Length, s.Across()},
			{s.ChevronParts(degrees, width, kerf, true), arrows.Length, arrows.Width},
			{s.EndGrainParts(thick, width, kerf, turned), blocks.Length, blocks.Width},
		} {
			if c.long*c.wide < 100 {
				continue
			}
			var sum float64
			for _, p := range c.parts {
				sum += p.Ring.Area()
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
	s := Striped{[]float64{20, 14, 20, 31, 20, 20, 20, 9, 20, 20, 20, 20}, 700}
	parts := s.ChevronParts(60, 35, 1.5, true)
	made := s.Chevron(60, 35, 1.5, true)
	assert.Greater(t, made.Count, 10)
	for slice := range made.Count {
		mid := made.Width/2 - float64(slice)*35 - 17.5
		at, want := 0.0, 60.0
		if slice%2 == 1 {
			want = -60
		}
		for i, w := range s.Widths {
			var found *Part
			for k := range parts {
				if parts[k].Slice == slice && parts[k].Strip == i {
					found = &parts[k]
				}
			}
			if assert.NotNil(t, found) && i > 0 && i < len(s.Widths)-1 { // the outer ones are trimmed
				line := found.Ring.Spans(mid)
				assert.InDelta(t, w, (line[1]-line[0])*math.Sin(60*math.Pi/180), 1e-6)
				assert.InDelta(t, at, line[0], 1e-6, "they follow each other")
				assert.InDelta(t, want, found.Lean, 1e-9)
			}
			if found != nil {
				at = found.Ring.Spans(mid)[1]
			}
		}
	}
}

// Every slice that is drawn is cut from wood all over, in both lay-ups; kerfs lie between
// them, and together they are what the formula says.
func TestDrawnCutsAreTheSlices(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		s := Striped{rapid.SliceOfN(rapid.Float64Range(8, 40), 2, 14).Draw(t, "strips"), f("length", 400, 900)}
		degrees, width, kerf := f("degrees", 35, 75), f("slice", 20, 60), f("kerf", 0.8, 3)
		staggered := rapid.Bool().Draw(t, "staggered")
		made := s.Chevron(degrees, width, kerf, staggered)
		wood := s.Parts()
		if staggered {
			wood = s.SetOn(degrees)
		}
		cuts := s.ChevronCuts(degrees, width, kerf, made.Count)
		if len(cuts) != made.Count {
			t.Fatalf("%d cuts of %d slices", len(cuts), made.Count)
		}
		for i, cut := range cuts {
			var held float64
			for _, p := range wood {
				if c := geom.Clip(cut, p.Ring); len(c) > 2 {
					held += c.Area()
				}
			}
			if whole := made.Each * width; math.Abs(cut.Area()-whole) > 1e-6*whole ||
				math.Abs(held-whole) > 1e-4*whole {
				t.Fatalf("slice %d of %.1f mm² is cut from %.1f of wood", i, whole, held)
			}
			if i > 0 {
				apart := (cut[0].X - cuts[i-1][3].X) * math.Sin(degrees*math.Pi/180)
				if math.Abs(apart-kerf) > 1e-6 {
					t.Fatalf("%.2f mm between slices, the kerf is %.2f", apart, kerf)
				}
			}
		}
	})
}
