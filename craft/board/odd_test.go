package board

import (
	"math"
	"slices"
	"testing"

	"pgregory.net/rapid"

	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// odd is any design, most of which pass their own check.
func odd(t *rapid.T) Design {
	f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
	pick := func(name string, of ...string) string { return rapid.SampledFrom(of).Draw(t, name) }
	handle := func() Handle {
		return Handle{
			Kind:     pick("handle", "none", "hole", "slot", "heart", "drop", "crescent", "notch", "bevel", "cord"),
			Diameter: f("diameter", 3, 200),
			Length:   f("slot", 5, 400),
			Setback:  f("setback", 2, 300),
			Offset:   f("offset", -200, 200),
			Far: rapid.Bool().
				Draw(t, "far"),
			Local: rapid.Bool().Draw(t, "local"),
			Turn:  f("turn", -360, 360),
			Flat:  f("flat", 0, 40),
			Angle: f("handle angle", 0, 75),
			Where: pick("where", "", "ends", "sides", "all"),
			Both:  rapid.Bool().Draw(t, "both"),
		}
	}
	end := func() End {
		return End{
			Kind:   pick("end", "", "square", "left", "right", "angle", "curve", "tab"),
			Angle:  f("end angle", -60, 60),
			Rise:   f("rise", -200, 200),
			Width:  f("tab", 10, 400),
			Length: f("tab length", 10, 400),
			Round:  f("tab round", 0, 200),
		}
	}
	d := Design{
		Shape:      Shape(pick("shape", Shapes...)),
		Length:     f("length", 30, 900),
		Width:      f("width", 20, 500),
		Corner:     f("corner", 0, 300),
		Neck:       f("neck", 10, 200),
		NeckLength: f("neck length", 20, 300),
		Shoulder:   f("shoulder", 0, 100),
		Tip:        f("tip", 0, 300),
		Angle:      f("angle", -60, 60),
		KeepLeft: rapid.Bool().
			Draw(t, "left"),
		KeepRight: rapid.Bool().Draw(t, "right"),
		Inset:     f("inset", 0, 120),
		Slant:     f("slant", 0, 60),
		FarEnd:    end(),
		HandleEnd: end(),
		Handle:    handle(),
		More:      []Handle{handle()},
		Edge: Edge{
			Kind:  pick("edge", "none", "eased", "round-over", "chamfer", "bevel"),
			Size:  f("edge size", 0, 50),
			Angle: f("edge angle", 0, 85),
		},
	}
	for range rapid.IntRange(0, 3).Draw(t, "recesses") {
		d.Recesses = append(
			d.Recesses,
			Recess{
				Kind:   pick("recess", "well", "bowl", "slope", "groove", "ring"),
				X:      f("x", -400, 400),
				Y:      f("y", -300, 300),
				Length: f("rl", 10, 600),
				Width:  f("rw", 5, 400),
				Depth:  f("depth", 0.5, 30),
				Deep:   30 + f("deep", 0, 20),
				Radius: f("rr", 1, 40),
				Cove:   f("cove", 0, 20),
				Inset:  f("ri", 1, 200),
				Count:  rapid.IntRange(0, 6).Draw(t, "count"),
				Spread: pick("spread", "", "ends", "middle"),
				Lip:    pick("lip", "", "left", "far end"),
				Under:  rapid.Bool().Draw(t, "under"),
			},
		)
	}
	for range rapid.IntRange(3, 9).Draw(t, "nodes") {
		d.Nodes = append(
			d.Nodes,
			Node{
				X:     f("nx", -300, 300),
				Y:     f("ny", -200, 200),
				Kind:  pick("kind", "", "smooth", "corner"),
				Run:   pick("run", "", "arc", "batten"),
				Rise:  f("nrise", -80, 80),
				Round: f("round", 0, 80),
				In:    f("in", -20, 20),
			},
		)
	}
	return d
}

// oddWood is wood for planks.
var oddWood = geom.Ring{{X: -400, Y: -90}, {X: 400, Y: -80}, {X: 400, Y: 95}, {X: 0, Y: 110}, {X: -400, Y: 90}}

// Whatever passes its own check can be drawn, judged and cut, however odd.
func TestOddDesignsAreJudged(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := odd(t)
		if len(d.Check("design")) > 0 {
			return
		}
		c := maple()
		c.Usable, c.Tools.Blades, c.Tools.Bits = oddWood, []tool.Blade{
			{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 25},
		}, tool.NewBits(
			8,
			25,
		)
		c.Tools.Router = routerTools()
		s := Draw(d, oddWood)
		judged(s, c)
		Sections(s, c.Thickness)
		Stretches(s, stock.Uniform{Fibres: 10})
		Entries(s, c.Tools.Bores())
		s.CutLine(1)
		for _, w := range Work(s, c) {
			if w.Volume < 0 {
				t.Fatalf("the %s holds %g", w.Name, w.Volume)
			}
		}
		if s.Volume(20) < 0 || s.Mass(20, stock.Uniform{Species: species.Species{Density: 700}}) < 0 {
			t.Fatal("a board weighs something")
		}
	})
}

// In the mirror every outline, hole and recess is its own mirror image, and twice
// in the mirror a design is as it was.
func TestMirroredDesigns(t *testing.T) {
	across := func(r geom.Ring) geom.Ring {
		out := r.Map(func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} })
		slices.Reverse(out)
		return out
	}
	rapid.Check(t, func(t *rapid.T) {
		d := odd(t)
		// Of a size that is made; odder ones end in slivers and ties that fall either way.
		d.Length, d.Width, d.Inset, d.More = max(d.Length, 200), max(d.Width, 120), 0, nil
		d.FarEnd.Length, d.HandleEnd.Length = min(d.FarEnd.Length, 60), min(d.HandleEnd.Length, 60)
		// Or it is cut in two.
		d.FarEnd.Rise, d.HandleEnd.Rise = max(d.FarEnd.Rise, -60), max(d.HandleEnd.Rise, -60)
		d.Handle.Local = false // of two alike widths either may be the local one
		if d.Shape == HalfMoon && d.Handle.Kind == "notch" {
			d.Handle.Kind = "none"
		}
		if len(d.Check("design")) > 0 {
			return
		}
		one, two := Draw(d, oddWood), Draw(d.Mirrored(), across(oddWood))
		if max(one.Outline.Area(), two.Outline.Area()) < 5000 {
			return // a board is larger
		}
		same := func(what string, a, b geom.Ring) {
			if math.Abs(a.Area()-b.Area()) > 0.01*max(a.Area(), b.Area(), 2000) ||
				a.Centroid().Sub(across(b).Centroid()).Len() > 1 {
				t.Fatalf(
					"%s: %.1f about %v, mirrored %.1f about %v",
					what,
					a.Area(),
					a.Centroid(),
					b.Area(),
					b.Centroid(),
				)
			}
		}
		same(string(d.Shape), one.Outline, two.Outline)
		if len(one.Holes) != len(two.Holes) || len(one.Cavities) != len(two.Cavities) {
			t.Fatalf(
				"%d holes and %d recesses, mirrored %d and %d",
				len(one.Holes),
				len(one.Cavities),
				len(two.Holes),
				len(two.Cavities),
			)
		}
		for i := range one.Holes {
			same(one.Handles[i].Kind, one.Holes[i], two.Holes[i])
		}
		for i, c := range one.Cavities {
			if c.Recess.Kind != "groove" {
				same(c.Recess.Kind, c.Rim, two.Cavities[i].Rim)
			}
		}
		if again := Draw(d.Mirrored().Mirrored(), oddWood); math.Abs(again.Area()-one.Area()) > 0.02*one.Area() {
			t.Fatalf("twice mirrored %.1f, was %.1f", again.Area(), one.Area())
		}
	})
}

// routerTools is a small router for tests.
func routerTools() tool.Router {
	return tool.Router{
		Base:   150,
		Bushes: []float64{17, 30},
		Bits: []tool.RouterBit{
			{Kind: "straight", Diameter: 12, Length: 25},
			{Kind: "round nose", Diameter: 12, Length: 14},
			{Kind: "round-over", Diameter: 6, Length: 12, Bearing: 9.5},
		},
	}
}
