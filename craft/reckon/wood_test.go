package reckon

import (
	"encoding/json"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/slab"
	"idletimber/craft/species"
)

// damp is the sample piece before it has come to rest.
func damp(due string) Scene {
	j := sample()
	j.Slab.Moisture = []moisture.Reading{
		{At: now.AddDate(0, 0, -20), Percent: 15.4},
		{At: now.AddDate(0, 0, -2), Percent: 14},
	}
	j.Slab.RingRadius = 180
	j.Boards[0].Give.Due = due
	return j
}

func TestTheDateComesFirst(t *testing.T) {
	v := verdict(must(t, damp("2031-06-01")).Boards[0], "dry in time")
	require.NotNil(t, v)
	assert.Equal(t, craft.Mind, v.Level)
	assert.Contains(t, v.Finding, "The date comes first")
	v = verdict(must(t, damp("2032-06-01")).Boards[0], "dry in time")
	require.NotNil(t, v)
	assert.Equal(t, craft.Good, v.Level)
	assert.Nil(t, verdict(must(t, sample()).Boards[0], "dry in time"), "nothing to say of dry wood")
}

func TestBoardsShareTheCost(t *testing.T) {
	j := sample()
	second := j.Boards[0]
	second.ID, second.Name, second.Placement.X, second.Design.Length = "two", "Second", 750, 240
	j.Boards[0].Placement.X = 250
	j.Boards = append(j.Boards, second)
	j.Slab.Bought = &slab.Bought{CostCents: 700}
	out := must(t, j)
	require.Len(t, out.Slab.Boards, 2)
	assert.InDelta(t, 5500, out.Slab.Boards[0].Cents+out.Slab.Boards[1].Cents, 1e-6, "waste and all")
	assert.InDelta(t, out.Slab.Boards[0].Cents, figure(t, out.Boards[0], "layout.price").Value, 1e-9)
	assert.Equal(t, []string{"one"}, out.Slab.Flaws[0].Boards)
	assert.Equal(t, []string{"two"}, out.Slab.Flaws[1].Boards)
	require.Len(t, out.Slab.Flats, 3, "the whole piece, and a blank for each board")
	assert.Greater(t, out.Slab.Flats[1].Flat, out.Slab.Flats[0].Flat, "a blank cut first keeps more")
}

func TestADeeperFlawTellsOnItsBoards(t *testing.T) {
	j := sample()
	before := must(t, j).Slab.Boards[0]
	j.Slab.Flaws[0].Depth = 25
	after := must(t, j).Slab.Boards[0]
	assert.Greater(t, after.Voids, before.Voids)
}

func TestLeftoversAreWhatTheReckoningShows(t *testing.T) {
	j := sample()
	out := asked(t, j, Request{Leftovers: true})
	require.Greater(t, len(out.Slab.Offcuts), 2)
	var keep []int
	for i, o := range out.Slab.Offcuts {
		if o.Keep {
			keep = append(keep, i)
		}
	}
	require.NotEmpty(t, keep)
	parts, err := Leftovers(j, keep)
	require.NoError(t, err)
	for n, p := range parts {
		require.Empty(t, p.Check("part", now, nil))
		assert.InEpsilon(t, out.Slab.Offcuts[keep[n]].Area, slab.Draw(p, nil).Show.Area(), 0.001)
		assert.Equal(t, slab.StockOffcut, p.Stock)
	}
	_, err = Leftovers(j, []int{99})
	assert.ErrorContains(t, err, "there is no offcut 100")
	j.Boards = nil
	_, err = Leftovers(j, nil)
	assert.ErrorContains(t, err, "lay a board on it first")
	assert.Empty(t, must(t, sample()).Slab.Offcuts, "only when asked for")
}

func TestResawThroughTheJob(t *testing.T) {
	j := sample()
	leaves, err := Resaw(j, slab.Resawing{Leaves: 2, Kerf: 1.5, Cleanup: 1.5})
	require.NoError(t, err)
	assert.Len(t, leaves, 2)
	out := must(t, j)
	assert.InDelta(t, leaves[0].Thinnest()-1.5, out.Slab.Leaves[0].Thickness, 0.01)
	j.Slab = nil
	j.Boards = nil
	_, err = Resaw(j, slab.Resawing{Leaves: 2, Kerf: 1.5})
	assert.Error(t, err)
}

func TestAMakersOwnSpecies(t *testing.T) {
	j := sample()
	j.Slab.Species = "Bog oak"
	_, err := Reckon(j, Request{})
	assert.ErrorContains(t, err, "add it with its numbers at Shop")
	own, _ := species.Find("European oak")
	own.Name, own.Density = "Bog oak", 800
	j.Shop.Species = []species.Species{own}
	out := must(t, j)
	assert.InDelta(t, 800, out.Slab.Species.Density, 1e-9)
	j.Shop.Species = append(j.Shop.Species, own)
	j.Shop.Species[0].Food = "perhaps"
	_, err = Reckon(j, Request{})
	assert.ErrorContains(t, err, "is there twice")
	assert.ErrorContains(t, err, "perhaps")
}

func TestTheGiftNoteTellsWhereTheWoodCameFrom(t *testing.T) {
	j := sample()
	j.Slab.Origin = &slab.Origin{Source: "the plane by the weir", Felled: "2029-11"}
	j.Slab.Bought = &slab.Bought{Work: "resawn and sanded"}
	care := must(t, j).Boards[0].Care
	assert.Contains(t, care, "The wood came from the plane by the weir and was felled in November 2029.")
	assert.Contains(t, care, "Done elsewhere: resawn and sanded.")
}

func TestMoreWoodVerdicts(t *testing.T) {
	j := damp("2032-01-01")
	j.Slab.Origin = &slab.Origin{Dried: "air"}
	j.Slab.Stock = slab.StockSheet
	out := must(t, j)
	found := map[string]craft.Verdict{}
	for _, v := range out.Slab.Verdicts {
		found[v.Check] = v
	}
	assert.Equal(t, craft.Mind, found["ends"].Level)
	assert.Contains(t, found["food"].Finding, "never a board that is washed")
	assert.True(t, slices.ContainsFunc(out.Slab.Figures, func(f craft.Figure) bool { return f.Key == "wood.cup" }))
}

func TestFacts(t *testing.T) {
	j := sample()
	f := FactsOf(*j.Slab, j.Shop)
	assert.True(t, f.Ready)
	assert.Equal(t, 4800, f.Cents)
	assert.InDelta(t, 9.3, f.Moisture, 1e-9)
	j.Slab.Reference = 14
	assert.False(t, FactsOf(*j.Slab, j.Shop).Ready)
}

// Any wood that passes its check can be reckoned with, drawn, cut and sawn:
// faces by stations or lines, tilted flaws, ripped edges.
func TestAnyCheckedWoodIsReckoned(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		j := sample()
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		ask := Request{Leftovers: rapid.Bool().Draw(t, "leftovers")}
		line := func(name string) (r geom.Ring) {
			n := rapid.IntRange(3, 14).Draw(t, name+" nodes")
			for i := range n {
				sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
				k := f(name, 0.3, 1)
				r = append(r, geom.Point{X: 450 + 450*k*cos, Y: 160 * k * sin})
			}
			return r
		}
		if rapid.Bool().Draw(t, "by line") {
			j.Slab.Show, j.Slab.Outline = nil, line("show")
		}
		switch rapid.IntRange(0, 2).Draw(t, "under") {
		case 1:
			j.Slab.UnderLine = line("under")
		case 2:
			j.Slab.Under = []slab.Station{{X: 100, Left: f("left", 20, 140), Right: f("right", -140, -20)}}
		}
		j.Slab.RipLeft, j.Slab.RipRight = f("rip left", 0, 60), f("rip right", 0, 60)
		j.Slab.Flaws[0].Through, j.Slab.Flaws[0].Tilt = true, &geom.Point{
			X: f("tilt x", -300, 300),
			Y: f("tilt y", -300, 300),
		}
		j.Slab.RingRadius = f("radius", 0, 900)
		j.Boards[0].Design.Shape = board.Shape(rapid.SampledFrom([]string{"rectangle", "plank"}).Draw(t, "shape"))
		j.Boards[0].Design.KeepLeft = true
		j.Boards[0].Placement.Flip = rapid.Bool().Draw(t, "flip")
		if len(j.Check()) > 0 {
			t.Skip()
		}
		out, err := Reckon(j, ask)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := json.Marshal(out); err != nil {
			t.Fatal(err)
		}
		turned := j
		s := slab.Turn(*j.Slab)
		turned.Slab = &s
		turned.Boards = []Board{j.Boards[0]}
		turned.Boards[0].Placement = j.Boards[0].Placement.Turned()
		again, err := Reckon(turned, Request{})
		if err != nil {
			t.Fatal(err)
		}
		if a, b := out.Boards[0].Level, again.Boards[0].Level; a != b {
			t.Fatalf("turning slab and board together makes %v of %v", b, a)
		}
		if parts, err := Resaw(j, slab.Resawing{Leaves: 2, Kerf: 1.5, Cleanup: 1}); err == nil {
			for _, p := range parts {
				if ps := p.Check("leaf", now, nil); len(ps) > 0 {
					t.Fatal(ps)
				}
			}
		}
		if !ask.Leftovers {
			return
		}
		for i := range out.Slab.Offcuts {
			if !out.Slab.Offcuts[i].Keep {
				continue
			}
			parts, err := Leftovers(j, []int{i})
			if err != nil {
				t.Fatal(err)
			}
			if ps := parts[0].Check("offcut", now, nil); len(ps) > 0 {
				t.Fatal(ps)
			}
		}
	})
}

// A slice across the trunk is told before anything else, with what it would open by; its
// fibres stand, so that what is cut near its edge breaks out.
func TestASliceAcrossTheTrunk(t *testing.T) {
	s := sample()
	s.Slab.Stock = slab.StockSlice
	require.Empty(t, s.Slab.Check("slab", now, nil))
	v := must(t, s).Slab.Verdicts
	at := slices.IndexFunc(v, func(v craft.Verdict) bool { return v.Check == "slice" })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, craft.Mind, v[at].Level)
	for _, o := range v[:at] {
		assert.Equal(t, craft.Stop, o.Level, "only what stops comes before it")
	}
	wood := must(t, s).Slab.Species
	assert.InDelta(t, math.Pi*300*(wood.CT-wood.CR)*s.Shop.Home.Swing(), v[at].Figure.Value, 3)
	assert.Positive(t, v[at].Figure.Value)
}
