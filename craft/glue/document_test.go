package glue

import (
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/species"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// shop are the conditions of a usual shop.
func shop() Conditions {
	return Conditions{Warmth: 20, Swing: 4, Kit: tool.Usual()}
}

// of is a panel of some strips of a species each, all alike.
func of(construction string, width, thick, length float64, woods ...string) Panel {
	p := Panel{Construction: construction, Glue: Glues[0].Name, Kerf: 3, Caul: 30}
	for i, w := range woods {
		p.Strips = append(p.Strips, Strip{
			ID: fmt.Sprintf("s%d", i+1), Species: w, Width: width, Thickness: thick, Length: length,
		})
	}
	return p
}

func finding(r stage.Record, check string) (v craft.Verdict) {
	for _, o := range r.Verdicts {
		if o.Check == check {
			return o
		}
	}
	return v
}

func TestHowPartsStand(t *testing.T) {
	woods := []string{"Sugar maple", "Black walnut", "Sugar maple"}
	for construction, want := range map[string][3]float64{ // length, width, thickness
		Flat: {600, 120, 24}, OnEdge: {600, 72, 40}, Stacked: {600, 72, 40}, Unequal: {600, 120, 24},
	} {
		s := of(construction, 40, 24, 600, woods...).Shape()
		assert.Equal(t, want, [3]float64{s.Length, s.Width, s.Thinnest}, construction)
	}
	p := of(Blocks, 40, 24, 600, woods...)
	p.Slice = 38
	s := p.Shape()
	assert.Equal(t, [3]float64{72, 14 * 38, 38}, [3]float64{s.Length, s.Width, s.Thinnest},
		"14 slices of 41 in 600, each as thick as the panel, flattened")
	p.Clean = new(2.5)
	s = p.Shape()
	assert.Equal(t, [3]float64{72, 14 * 35, 38}, [3]float64{s.Length, s.Width, s.Thinnest},
		"where flattening takes 2.5 a face, a slice lies 35 wide")
	made, _ := Make(p, shop())
	assert.InDelta(t, 38-2*(2.5+rule.Set(nil).Get(rule.SandFace)), made.Flat, 1e-9)
	assert.True(t, p.heres(nil)[0].End)
	p = of(Arrows, 18, 20, 600, woods...)
	p.Degrees, p.Slice = 45, 40
	s = p.Shape()
	assert.InDelta(t, 54*math.Sqrt2-40, s.Length, 1e-9)
	assert.Equal(t, 90-30.0, func() float64 { // on edge the rings stand the other way
		q := of(OnEdge, 40, 24, 600, woods...)
		q.Strips[0].Rings = 30
		return q.heres(nil)[0].Rings
	}())
}

// Turned on edge or not, a panel is the wood of its strips.
func TestVolumesStay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := Panel{Construction: Flat, Glue: Glues[0].Name}
		width, thick := rapid.Float64Range(10, 120).Draw(t, "w"), rapid.Float64Range(8, 60).Draw(t, "t")
		for i := range rapid.IntRange(1, 40).Draw(t, "n") {
			p.Strips = append(p.Strips, Strip{
				ID: fmt.Sprint(i), Species: "Sugar maple", Length: 500, Width: width, Thickness: thick,
			})
		}
		volume := func() float64 {
			s := p.Shape()
			var sum float64
			for _, part := range s.Parts {
				sum += part.Ring.Area() * s.Thinnest
			}
			return sum
		}
		flat := volume()
		p.Construction = OnEdge
		if on := volume(); math.Abs(on-flat) > 1e-6*flat {
			t.Fatalf("%g mm³ flat, %g on edge", flat, on)
		}
	})
}

func TestUnequalLengths(t *testing.T) {
	p := of(Unequal, 60, 22, 400, "Pear", "Pear", "Pear")
	p.Strips[1].Length, p.Strips[1].Along = 560, 0
	s := p.Shape()
	assert.Equal(t, 560.0, s.Length)
	assert.InDelta(t, 60*(400+560+400), s.Outline.Area(), 1e-6)
	assert.Greater(t, s.Outline.SignedArea(), 0.0, "anticlockwise")
	p.Strips[2].Along = 395
	assert.Empty(t, p.Check("glue", nil), "it lies beside the long one")
	p.Strips[2].Along = 550
	assert.Equal(t, "glue.strips[2].along", p.Check("glue", nil)[0].Field)
}

func TestBadPanelsNameTheField(t *testing.T) {
	good := of(Flat, 40, 24, 600, "Sugar maple", "Pear")
	require.Empty(t, good.Check("glue", nil))
	for _, c := range []struct {
		field string
		spoil func(p *Panel)
	}{
		{"glue.strips", func(p *Panel) { p.Strips = nil }},
		{"glue.strips", func(p *Panel) { p.Strips = make([]Strip, 400) }},
		{"glue.spares", func(p *Panel) { p.Spares = make([]Strip, 400) }},
		{"glue.construction", func(p *Panel) { p.Construction = "heap" }},
		{"glue.glue", func(p *Panel) { p.Glue = "paste" }},
		{"glue.slice", func(p *Panel) { p.Construction, p.Slice = Blocks, 0 }},
		{"glue.slice", func(p *Panel) { p.Construction, p.Slice, p.Degrees = Arrows, 390, 45 }},
		{"glue.slice", func(p *Panel) {
			p.Construction, p.Slice = Blocks, 5
			for range 40 {
				p.Strips = append(p.Strips, p.Strips[0].copied(p.fresh(nil)))
			}
		}},
		{"glue.clean", func(p *Panel) { p.Clean = new(-1.0) }},
		{"glue.degrees", func(p *Panel) { p.Construction, p.Slice, p.Degrees = Arrows, 20, 3 }},
		{"glue.strips[1].id", func(p *Panel) { p.Strips[1].ID = p.Strips[0].ID }},
		{"glue.strips[0].width", func(p *Panel) { p.Strips[0].Width = math.NaN() }},
		{"glue.strips[1].length", func(p *Panel) { p.Strips[1].Length = 0 }},
		{"glue.strips[1].species", func(p *Panel) { p.Strips[1].Species = "Moonwood" }},
		{"glue.strips[1].paint", func(p *Panel) { p.Strips[1].Paint = "blue" }},
		{"glue.strips[0].along", func(p *Panel) { p.Strips[1].Along = 590 }},
	} {
		p := good
		p.Strips = append([]Strip{}, good.Strips...)
		c.spoil(&p)
		ps := p.Check("glue", nil)
		if assert.NotEmpty(t, ps, c.field) {
			assert.Equal(t, c.field, ps[0].Field)
			assert.NotEmpty(t, ps[0].Right)
		}
	}
}

// A flaw of a strip shows where the strip lies, on the face that it comes up with.
func TestFlawsGoWithTheirStrips(t *testing.T) {
	knot := stock.Flaw{
		ID: "k", Kind: stock.Knot, State: "loose", Depth: 6, Centre: geom.Point{X: 100, Y: 8}, A: 10, B: 4,
	}
	p := of(Flat, 40, 24, 600, "Sugar maple", "Pear")
	p.Strips[1].Flaws = []stock.Flaw{knot}
	one := func(p Panel) stock.Flaw {
		flaws := p.Flaws(p.Shape())
		require.Len(t, flaws, 1)
		return flaws[0]
	}
	f := one(p)
	assert.Equal(t, geom.Point{X: 100, Y: -20 + 8}, f.Centre)
	assert.False(t, f.Under)
	p.Strips[1].Flipped = true
	f = one(p)
	assert.Equal(t, geom.Point{X: 100, Y: -20 - 8}, f.Centre)
	assert.True(t, f.Under)
	p.Strips[1].Turned = true
	assert.InDelta(t, 500, one(p).Centre.X, 1e-9)
	p.Over = true
	assert.False(t, one(p).Under)

	// On edge it is hidden, unless it comes to the edge that is turned up: the right one.
	p = of(OnEdge, 40, 24, 600, "Sugar maple", "Pear")
	p.Strips[0].Flaws = []stock.Flaw{knot}
	assert.Empty(t, p.Flaws(p.Shape()))
	knot.Centre.Y = -17
	p.Strips[0].Flaws = []stock.Flaw{knot}
	f = one(p)
	assert.False(t, f.Under)
	assert.InDelta(t, 7, f.Depth, 1e-9, "from the edge to where it ends")
	assert.InDelta(t, 24-3, f.Centre.Y, 1e-9, "its wide face is to the left: the first 6 mm of it")
	assert.InDelta(t, 3, f.B, 1e-9)
	p.Strips[0].Flipped = true
	f = one(p)
	assert.True(t, f.Under, "rolled the other way that edge is down")
	assert.InDelta(t, 3, f.Centre.Y, 1e-9)
}

// What helps against a flaw that shows, helps.
func TestAFlawThatShows(t *testing.T) {
	p := of(Flat, 40, 24, 600, "Sugar maple", "Pear", "Sugar maple")
	p.Strips[1].Flaws = []stock.Flaw{{
		ID: "k", Kind: stock.Hole, Depth: 6, Centre: geom.Point{X: 100}, A: 5, B: 5,
	}}
	p.Spares = []Strip{{ID: "x", Species: "Pear", Width: 40, Thickness: 24, Length: 600}}
	_, r := Make(p, shop())
	v := finding(r, "showing")
	assert.Equal(t, craft.Mind, v.Level)
	require.Len(t, v.Remedies, 2, "flaw down, or the spare one")
	for _, remedy := range v.Remedies {
		next := struct {
			Glue *Panel `json:"glue"`
		}{&p}
		require.NoError(t, remedy.Patch.Apply(&next))
		_, r := Make(*next.Glue, shop())
		assert.Empty(t, finding(r, "showing").Check, remedy.Label)
	}
}

// Five flat plain-sawn strips of 40 move by 2.57 mm over four points.
func TestMovementSumsThePartsOfAPanel(t *testing.T) {
	p := of(Flat, 40, 24, 600, "Sugar maple", "Black walnut", "Sugar maple", "Black walnut", "Sugar maple")
	across, along := p.movement(p.Shape(), nil)
	assert.InDelta(t, 2.57, across*4, 0.005)
	assert.InDelta(t, 0, along, 1e-9)
	maple, _ := species.Find("Sugar maple")
	p = of(Arrows, 20, 20, 700, "Sugar maple", "Sugar maple", "Sugar maple", "Sugar maple")
	p.Degrees, p.Slice, p.Staggered = 60, 30, true
	across, along = p.movement(p.Shape(), nil)
	s := p.Shape()
	sin, cos := math.Sincos(60 * math.Pi / 180)
	assert.InDelta(t, s.Width*maple.CT*cos*cos, across, 1e-6, "90° − θ across the slices")
	assert.InDelta(t, s.Length*maple.CT*sin*sin, along, 1e-6, "θ along them")
	p = of(Blocks, 40, 24, 600, "Sugar maple", "Sugar maple", "Sugar maple")
	p.Slice = 38
	s = p.Shape()
	across, along = p.movement(s, nil)
	assert.InDelta(t, s.Width/s.Length, across/along, 1e-6, "end grain moves both ways")
}

func TestClampUp(t *testing.T) {
	p := of(OnEdge, 40, 24, 500, "Sugar maple", "Black walnut", "Sugar maple")
	made, r := Make(p, shop())
	require.Len(t, made.Pressed, 1)
	k := made.Pressed[0]
	assert.InDelta(t, 24000, k.Force, 1e-9)
	assert.InDelta(t, 108, k.Spacing, 1e-9)
	assert.Equal(t, 6, k.Count)
	assert.InDelta(t, 8, k.Grams, 1e-9, "two joints of {200 cm²}")
	assert.Equal(t, 0, k.Short)
	assert.True(t, made.Cauls == (72 > 150 || 40 < 25))
	c := shop()
	c.Kit.Clamps = []tool.Clamps{{Kind: "bar clamp", Length: 900, Count: 4}, {Kind: "F-clamp", Length: 100, Count: 9}}
	made, r = Make(p, c)
	assert.Equal(t, 2, made.Pressed[0].Short, "what does not open wide enough is no help")
	v := finding(r, "clamps")
	assert.Equal(t, craft.Mind, v.Level)
	require.Len(t, v.Remedies, 1)
	next := struct {
		Glue *Panel `json:"glue"`
	}{&p}
	require.NoError(t, v.Remedies[0].Patch.Apply(&next))
	made, _ = Make(*next.Glue, c)
	assert.Equal(t, 0, made.Pressed[0].Short, "stouter cauls")
	assert.Equal(t, 4, made.Pressed[0].Count)
}

// Clamps as they are set press hard enough, by turns below and above, nowhere farther
// apart than their pressure meets, and not one is set that is not owned.
func TestClampsAsTheyAreSet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		p := of(
			OnEdge,
			f("height", 15, 60),
			f("thick", 12, 40),
			f("length", 150, 900),
			"Sugar maple",
			"Pear",
			"Pear",
			"Pear",
		)
		p.Caul = f("caul", 0, 60)
		c, owned := shop(), 0
		c.Kit.Clamps = nil
		for i, k := range tool.ClampKinds {
			n := rapid.IntRange(0, 6).Draw(t, k.Kind)
			c.Kit.Clamps = append(c.Kit.Clamps, tool.Clamps{Kind: k.Kind, Length: 200 + 200*float64(i), Count: n})
			owned += n
		}
		made, r := Make(p, c)
		for _, k := range made.Pressed {
			if k.Caul != p.Caul || math.Abs(k.Wide+2*p.Caul-k.Reach) > 1e-9 {
				t.Fatalf("cauls of %g for %g: they open %g for %g", k.Caul, p.Caul, k.Reach, k.Wide)
			}
			if len(k.Clamps) > owned || len(k.Clamps)+k.Short != k.Count {
				t.Fatalf("%d set, %d short of %d", len(k.Clamps), k.Short, k.Count)
			}
			if short := finding(r, "clamps").Check != ""; k.Short > 0 && !short {
				t.Fatal("what is short is not told")
			}
			if k.Short > 0 {
				continue
			}
			var press, last float64
			for i, at := range k.Clamps {
				kind := tool.Clamps{Kind: at.Kind}
				if press += at.Force; at.Force > kind.Rating()+1e-6 {
					t.Fatalf("a %s is tightened to %.0f N", at.Kind, at.Force)
				}
				if i > 0 && (at.X-last > k.Spacing+1e-6 || at.Below == k.Clamps[i-1].Below) {
					t.Fatalf("%v: clamp %d is %.1f from the one before, of %.1f", k.Clamps, i, at.X-last, k.Spacing)
				}
				last = at.X
			}
			if press < k.Force-1e-6 {
				t.Fatalf("they press with %.0f N of %.0f", press, k.Force)
			}
			if n := len(k.Clamps); k.Clamps[0].X > k.Spacing/2+1e-6 || k.Length-k.Clamps[n-1].X > k.Spacing/2+1e-6 {
				t.Fatal("an end is not pressed")
			}
		}
	})
}

// Somebody comes back for every wait, and glue is never met by a machine before it bears.
func TestStepsOfAPanel(t *testing.T) {
	for _, construction := range Constructions {
		n := Need{
			Length: 380, Width: 240, Thickness: 30, Use: Serving, Species: []string{"Sugar maple", "Black walnut"},
			Stock: 24, Plank: 90,
		}
		p := n.New(construction, shop())
		require.Empty(t, p.Check("glue", nil), construction)
		made, r := Make(p, shop())
		require.NotEmpty(t, r.Steps, construction)
		assert.Equal(t, construction == "end grain" || construction == "chevron", made.Again, construction)
		assert.Equal(t, construction != "flat" && construction != "unequal lengths" && construction != "chevron",
			made.Edge, construction)
		assert.Equal(t, "trim", r.Steps[len(r.Steps)-1].Key, construction)
		seen := map[string]bool{}
		cured := 0.0
		for i, s := range r.Steps {
			assert.False(t, seen[s.Key], s.Key)
			seen[s.Key] = true
			if s.Wait > 0 {
				assert.NotEmpty(t, s.WaitFor, s.Key)
				require.Less(t, i+1, len(r.Steps), "%s: nobody ends its wait", s.Key)
			}
			for _, key := range s.After {
				assert.True(t, seen[key], "%s waits for %s", s.Key, key)
			}
			switch s.Kind {
			case plan.GlueUp:
				cured = s.Wait
			case plan.Scrape:
				cured += s.Wait
			case plan.Planing, plan.CrossCut, plan.Slicing:
				if seen["glue-1"] {
					assert.GreaterOrEqual(t, cured, Glues[0].Machine, "%s, %s", construction, s.Key)
				}
			}
		}
		assert.Greater(t, made.Days, 0.9)
		assert.GreaterOrEqual(t, made.Length, 380.0, construction)
		assert.GreaterOrEqual(t, made.Width, 240.0-1e-6, construction)
		if construction != Flat && construction != Unequal &&
			construction != Arrows { // those are as thick as their planks
			assert.GreaterOrEqual(t, made.Flat, 30.0-1e-6, construction)
		}
	}
}

func TestChoosing(t *testing.T) {
	best := func(n Need) (of string) {
		for _, c := range n.Choose(shop()) {
			if c.Best {
				assert.NotEmpty(t, c.Why)
				of = c.Construction
			}
		}
		return of
	}
	n := Need{
		Length:    380,
		Width:     240,
		Thickness: 30,
		Use:       Carving,
		Species:   []string{"Sugar maple"},
		Stock:     24,
		Plank:     90,
	}
	assert.Equal(t, Blocks, best(n))
	n.Use = Serving
	assert.Equal(t, Flat, best(n))
	n.Keen = true
	assert.Equal(t, Blocks, best(n), "a keen cook minds the knives")
	n.Keen = false
	n.Width, n.Thickness, n.Species = 340, 18, []string{"Eastern white pine"}
	assert.Equal(t, Stacked, best(n))
	ps := Need{}.Check("need", nil)
	assert.NotEmpty(t, ps)
}

// Remedies of panels are patches on the piece, and each helps.
func TestGlueAndItsRemedies(t *testing.T) {
	p := of(OnEdge, 40, 24, 500, "Sugar maple", "Black walnut", "Sugar maple")
	p.Glue = "PVA, D3"
	for _, warmth := range []float64{6, 9, 12, 20} {
		c := shop()
		c.Warmth = warmth
		_, r := Make(p, c)
		v := finding(r, "glue")
		assert.NotEqual(t, craft.Good, v.Level)
		for _, remedy := range v.Remedies {
			assert.Equal(t, craft.OnPanel, remedy.On)
			next := struct {
				Glue *Panel `json:"glue"`
			}{&p}
			require.NoError(t, remedy.Patch.Apply(&next))
			_, r := Make(*next.Glue, c)
			assert.Less(t, finding(r, "glue").Level.Rank(), v.Level.Rank(), "%s at %g °C", remedy.Label, warmth)
		}
	}
}

func TestWhatIsToldOfAPanel(t *testing.T) {
	p := of(Flat, 40, 24, 500, "Sugar maple", "Black walnut", "Sugar maple")
	p.Strips[2].Width, p.Strips[1].Moisture, p.Strips[0].Moisture = 45, 12, 8
	p.Strips[1].Thickness, p.Strips[1].Paint, p.Strips[0].Problem = 28, "untested", "no place"
	_, r := Make(p, shop())
	for check, level := range map[string]craft.Level{
		"symmetry": craft.Good, "moisture of parts": craft.Mind, "even strips": craft.Mind, "paint": craft.Mind,
		"piece": craft.Stop,
	} {
		assert.Equal(t, level, finding(r, check).Level, check)
	}
	data, err := json.Marshal(r.Verdicts)
	require.NoError(t, err)
	assert.NotContains(t, string(data), "NaN")
}

// Rings lie as the strip does: heart down in a plain-sawn one face up, to the right when it
// is rolled onto its edge; turned over or end for end, the other way.
func TestTheEndsOfStrips(t *testing.T) {
	p := of(Flat, 60, 24, 500, "Pear", "Pear")
	centre := func() (x, y float64) {
		made, _ := Make(p, shop())
		e := made.Ends[1]
		assert.Equal(t, 60.0, p.Strips[1].Width)
		assert.NotEmpty(t, e.Rings)
		return e.X - e.Left - e.Width/2, e.Y - e.Height/2
	}
	x, y := centre()
	assert.InDelta(t, 0, x, 1e-9)
	assert.InDelta(t, -pith, y, 1e-9)
	p.Strips[1].Flipped = true
	_, y = centre()
	assert.InDelta(t, pith, y, 1e-9)
	p.Strips[1].Flipped, p.Construction = false, OnEdge
	x, y = centre()
	assert.InDelta(t, pith, x, 1e-9, "the rings stand")
	assert.InDelta(t, 0, y, 1e-9)
	p.Strips[1].Turned = true
	x, _ = centre()
	assert.InDelta(t, -pith, x, 1e-9)
}

// What came open is a step with its wait, and somebody comes back for it.
func TestARepair(t *testing.T) {
	for _, what := range []string{OpenedJoint, SplitPly} {
		p := of(OnEdge, 40, 24, 500, "Sugar maple", "Black walnut", "Sugar maple")
		p.Repair = what
		made, r := Make(p, shop())
		n := len(r.Steps)
		assert.Equal(t, "repaired", r.Steps[n-1].Key)
		assert.Equal(t, 0.0, r.Steps[n-1].Wait)
		assert.InDelta(t, Glues[0].Machine, r.Steps[n-2].Wait+r.Steps[n-3].Wait, 1e-9)
		assert.Contains(t, r.Steps[n-3].Title, what)
		assert.Greater(t, made.Days, 1.9)
	}
	p := of(Flat, 40, 24, 500, "Pear")
	p.Repair = "lost"
	assert.Equal(t, "glue.repair", p.Check("glue", nil)[0].Field)
}

// 40 strips: the sub-assemblies, the glue and the clamps within a millisecond or two.
func BenchmarkMake40(b *testing.B) {
	woods := make([]string, 40)
	for i := range woods {
		woods[i] = []string{"Sugar maple", "Black walnut"}[i%2]
	}
	p := of(Arrows, 18, 24, 900, woods...)
	p.Degrees, p.Slice, p.Staggered = 45, 40, true
	for b.Loop() {
		Make(p, shop())
	}
}
