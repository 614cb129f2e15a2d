package glue

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
)

// roundish is a rectangle with rounded corners, anticlockwise, about its middle.
func roundish(long, wide, corner float64) geom.Ring {
	var r geom.Ring
	for k := range 4 {
		cx, cy := long/2-corner, wide/2-corner
		if k == 1 || k == 2 {
			cx = -cx
		}
		if k > 1 {
			cy = -cy
		}
		for i := range 401 {
			sin, cos := math.Sincos(math.Pi/2*float64(k) + math.Pi/2*float64(i)/400)
			r = append(r, geom.Point{X: cx + corner*cos, Y: cy + corner*sin})
		}
	}
	return r
}

func TestAnOutlineAsARimFollowsIt(t *testing.T) {
	circle := Follow(roundish(300, 300, 150))
	assert.Empty(t, circle.Corners)
	require.Len(t, circle.Runs, 1)
	assert.InDelta(t, 2*math.Pi*150, circle.Runs[0], 2)
	assert.InDelta(t, 360, circle.Turns[0], 3)
	assert.InDelta(t, 150, circle.Tightest, 6)

	round := Follow(roundish(400, 240, 60))
	assert.Empty(t, round.Corners)
	assert.InDelta(t, 60, round.Tightest, 3)

	square := Follow(geom.Bounds{MinX: 0, MaxX: 400, MinY: 0, MaxY: 240}.Ring())
	require.Len(t, square.Corners, 4)
	for _, c := range square.Corners {
		assert.InDelta(t, 90, c.Turn, 1)
		assert.InDelta(t, 45, c.Mitre, 0.5)
	}
	assert.InDelta(t, 400+240, square.Runs[0]+square.Runs[1], 25, "from corner to corner")
	assert.InDelta(t, 0, square.Turns[0], 1)
}

func TestRims(t *testing.T) {
	on := func(r geom.Ring, across float64) Rimmed {
		return Rimmed{Outline: r, Thickness: 20, Across: across, Moves: across / 100}
	}
	rim := Rim{Species: "Sugar maple", Plies: 3, Ply: 3.2, Glue: Glues[0].Name}
	out, r := rim.Make(on(roundish(600, 460, 229), 0), shop())
	assert.InDelta(t, 175, out.Least, 1)
	assert.Equal(t, craft.Good, finding(r, "rim bends").Level)
	assert.Equal(t, craft.Good, finding(r, "rim crosses").Level, "over sheet stock")
	out, r = rim.Make(on(roundish(600, 460, 120), 180), shop())
	assert.Equal(t, craft.Stop, finding(r, "rim bends").Level)
	v := finding(r, "rim crosses")
	assert.Equal(t, craft.Stop, v.Level)
	assert.InDelta(t, 1.8, v.Figure.Value, 1e-9, "the movement is the number")
	assert.Equal(t, 9.6, math.Round(out.Adds*10)/10)
	rim.Plies, rim.Free = 1, true
	_, r = rim.Make(on(roundish(600, 460, 229), 0), shop())
	assert.Equal(t, craft.Stop, finding(r, "rim holds").Level)
	rim.Plies = 3
	out, r = rim.Make(on(roundish(600, 460, 180), 0), shop())
	assert.InDelta(t, out.Tightest*(1-1./9), out.Form, 1e-9)
	assert.InDelta(t, out.Tightest, SpringBack(out.Form, 3), 1e-9)
	waits := map[plan.Kind]float64{}
	for i, s := range r.Steps {
		waits[s.Kind] += s.Wait
		assert.True(t, s.Wait == 0 || s.WaitFor != "" && i+1 <= len(r.Steps))
		assert.Equal(t, craft.Glue, s.Stage)
	}
	assert.InDelta(t, 2*Glues[0].Machine, waits[plan.GlueUp]+waits[plan.Scrape], 1e-6, "bent, and glued on")
	var none *Rim
	assert.Empty(t, none.Check("rim"))
	assert.NotEmpty(t, (&Rim{Plies: 0, Ply: 40, Glue: "paste"}).Check("rim"))
}

// Every remedy of a rim helps its own check.
func TestRemediesOfARim(t *testing.T) {
	type board struct {
		Rim *Rim `json:"rim,omitempty"`
	}
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		rim := Rim{
			Species: rapid.SampledFrom([]string{"Sugar maple", "Robinia", "Norway spruce"}).Draw(t, "wood"),
			Plies:   rapid.IntRange(1, 8).Draw(t, "plies"), Ply: f("ply", 0.6, 6), Free: rapid.Bool().Draw(t, "free"),
			Glue: Glues[0].Name,
		}
		b := Rimmed{Outline: roundish(f("long", 300, 600), f("wide", 220, 290), f("corner", 10, 100)), Thickness: 20}
		_, r := rim.Make(b, shop())
		for _, v := range r.Verdicts {
			for _, remedy := range v.Remedies {
				next := board{&rim}
				if err := remedy.Patch.Apply(&next); err != nil {
					t.Fatal(err)
				}
				if len(next.Rim.Check("rim")) > 0 {
					t.Fatal(next.Rim.Check("rim"))
				}
				_, then := next.Rim.Make(b, shop())
				if after := finding(then, v.Check); after.Level.Rank() >= v.Level.Rank() {
					t.Fatal(fmt.Sprintf("%q does not help: %s, then %s", remedy.Label, v.Finding, after.Finding))
				}
			}
		}
	})
}
