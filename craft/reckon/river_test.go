package reckon

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/river"
	"idletimber/craft/slab"
)

// livePlank is a piece with both live edges, as it lies on the rack.
func livePlank(name, wood string) slab.Slab {
	return slab.Slab{
		Name: name, Species: wood, Length: 700, LiveLeft: true, LiveRight: true,
		Show: []slab.Station{
			{X: 0, Left: 95, Right: -88},
			{X: 220, Left: 108, Right: -80},
			{X: 430, Left: 92, Right: -97},
			{X: 700, Left: 101, Right: -90},
		},
		Under: []slab.Station{
			{X: 0, Left: 99, Right: -92},
			{X: 220, Left: 113, Right: -85},
			{X: 430, Left: 97, Right: -101},
			{X: 700, Left: 106, Right: -95},
		},
		Readings: []slab.Reading{{X: 300, Thickness: 32}},
	}
}

// cast is a scene with a river of one plank, ripped and its halves exchanged.
func cast(t *testing.T) Scene {
	t.Helper()
	s := sample()
	from := livePlank("Pear from the lane", "Pear")
	r, err := slab.NewRiver([]slab.Slab{from}, []string{"p1"}, "deep pour", s.Shop.Rules, nil)
	require.NoError(t, err)
	made := slab.Slab{Name: "River", Moisture: s.Slab.Moisture, River: &r}
	require.Empty(t, made.Check("slab", s.Now, nil))
	made = made.Settled()
	s.Slab, s.Piece, s.Boards, s.Taken = &made, "r1", nil, nil
	s.Sheets = []river.Sheet{{Name: "ply", Length: 1200, Width: 900, Thickness: 18}}
	return s
}

// One plank ripped: its live edges face each other, the rips lie along the walls, and a river runs
// between them.
func TestAPlankRippedIntoARiver(t *testing.T) {
	s := cast(t)
	out := must(t, s).Slab
	require.NotNil(t, out.River)
	assert.Len(t, out.River.Banks, 2)
	assert.Greater(t, out.River.Least, 20.0)
	assert.InDelta(
		t,
		60,
		out.River.Volume.Value*1000/s.Slab.River.Depth/s.Slab.River.Length,
		8,
		"about as wide as is usual",
	)
	for _, v := range out.Verdicts {
		if v.Check == "river-lies" || v.Check == "river-gap" || v.Check == "river-sheet" {
			assert.Equal(t, craft.Good, v.Level, v.Check+": "+v.Finding)
		}
	}
	assert.Equal(t, Planned, out.River.State)
	assert.NotEmpty(t, out.River.Cautions["pour-1"])
	assert.InDelta(t, out.River.Volume.Value, out.River.Mix.Net.Value, 1e-9)
	// Two pieces face each other too.
	two, err := slab.NewRiver(
		[]slab.Slab{livePlank("a", "Pear"), livePlank("b", "Hornbeam")},
		[]string{"a", "b"},
		"casting",
		s.Shop.Rules,
		nil,
	)
	require.NoError(t, err)
	s.Slab.River = &two
	settled := s.Slab.Settled()
	s.Slab = &settled
	out = must(t, s).Slab
	for _, v := range out.Verdicts {
		if v.Check == "river-lies" {
			assert.Equal(t, craft.Good, v.Level, v.Finding)
		}
	}
	// One live edge only, on either side: the piece is turned so that it faces the river.
	for _, left := range []bool{true, false} {
		a := livePlank("a", "Pear")
		a.LiveLeft, a.LiveRight = left, !left
		r, err := slab.NewRiver([]slab.Slab{a, a}, []string{"a", "b"}, "casting", s.Shop.Rules, nil)
		require.NoError(t, err)
		s.Slab.River = &r
		settled := s.Slab.Settled()
		s.Slab = &settled
		out = must(t, s).Slab
		assert.Greater(t, out.River.Least, 20.0, "left %v", left)
		i := slices.IndexFunc(out.Verdicts, func(v craft.Verdict) bool { return v.Check == "river-lies" })
		assert.Equal(t, craft.Good, out.Verdicts[i].Level, "left %v", left)
	}
}

// A live edge is completed to a straight side: resin lies all along it, and its volume is the mould
// less the wood, by a raster.
func TestALiveEdgeIsCompleted(t *testing.T) {
	for _, left := range []bool{true, false} {
		s := cast(t)
		from := livePlank("Pear", "Pear")
		from.LiveLeft, from.LiveRight = left, !left
		r := slab.Straightened(from, "p1", "deep pour", s.Shop.Rules, nil)
		s.Slab.River = &r
		settled := s.Slab.Settled()
		s.Slab = &settled
		require.Empty(t, s.Slab.Check("slab", s.Now, nil))
		out := must(t, s).Slab
		i := slices.IndexFunc(out.Verdicts, func(v craft.Verdict) bool { return v.Check == "river-lies" })
		assert.Equal(t, craft.Good, out.Verdicts[i].Level, out.Verdicts[i].Finding)
		var free float64
		bank, step := r.Banks[0], r.Depth/8
		for h := step / 2; h < r.Depth; h += step {
			ring := geom.Ring{}
			for k, q := range bank.Show {
				ring = append(ring, q.Lerp(bank.Under[k], 1-h/bank.Thickness))
			}
			for x := 0.5; x < r.Length; x++ {
				for y := -r.Width/2 + 0.5; y < r.Width/2; y++ {
					if !ring.Contains(bank.At.In(geom.Point{X: x, Y: y})) {
						free += step / 1000
					}
				}
			}
		}
		assert.InEpsilon(t, free, out.River.Volume.Value, 0.01)
		for _, w := range out.River.Widths {
			assert.GreaterOrEqual(t, w, 2.9, "resin all along")
		}
	}
}

// Boards are laid on the panel before it is cast; they wait for it, weigh with its resin, and do
// not move where that is.
func TestBoardsOnARiver(t *testing.T) {
	s := cast(t)
	b := NewBoardOn("b", "Long board", *s.Slab, s.Shop)
	b.Design.Length, b.Design.Width = 300, 160
	two := b
	two.ID, two.Name, two.Placement.X = "c", "Short board", 520
	two.Design.Length, b.Placement.X = 200, 200
	s.Boards = []Board{b, two}
	out := must(t, s)
	require.Len(t, out.Boards, 2)
	for _, r := range out.Boards {
		assert.NotEmpty(t, r.Parts)
		assert.Equal(t, []string{"panel:r1/" + river.LastKey}, r.Course.Steps[0].After)
		assert.True(
			t,
			r.Course.Steps[0].Starts.After(*out.Slab.River.Course.Steps[len(out.Slab.River.Course.Steps)-1].Starts),
		)
	}
	find := func(key string) float64 {
		i := slices.IndexFunc(out.Boards[0].Figures, func(f craft.Figure) bool { return f.Key == key })
		require.GreaterOrEqual(t, i, 0, key)
		return out.Boards[0].Figures[i].Value
	}
	mass, moves := find("shape.mass"), find("wood.movement")
	box := out.Boards[0].Box
	pear := (box[2] - box[0]) * (box[3] - box[1]) * out.Boards[0].Budget.Sanded * 1e-9 * 690
	assert.InDelta(t, pear, mass, 0.6*pear, "wood and resin")
	whole := slab.Slab{
		Name: "w", Species: "Pear", Length: 700,
		Show:     []slab.Station{{X: 0, Left: 120, Right: -120}, {X: 700, Left: 120, Right: -120}},
		Readings: []slab.Reading{{Thickness: 32}}, Moisture: s.Slab.Moisture,
	}
	s.Slab, s.Piece = &whole, ""
	out = must(t, s)
	assert.Less(t, moves, find("wood.movement"), "resin does not move")
}

// A river is poured and cures at the bench as any pour does: a cold night moves the date.
func TestARiverCures(t *testing.T) {
	s := cast(t)
	s.Shop.Air.Temperature = 20
	of := plan.Panel("r1")
	poured := s.Now.Add(-20 * time.Hour)
	for _, step := range must(t, s).Slab.River.Course.Steps {
		s.Log = append(
			s.Log,
			LogEntry{
				Subject: of,
				Entry:   plan.Entry{Step: step.Key, Event: plan.Finish, At: poured, Minutes: 5, Of: "deep pour"},
			},
		)
		if step.Key == fill.WatchKey+"1" {
			break
		}
	}
	until := func() time.Time {
		c := must(t, s).Slab.River.Course
		i := slices.IndexFunc(c.Steps, func(d plan.Dated) bool { return d.Key == fill.WatchKey+"1" })
		return *c.Steps[i].WaitUntil
	}
	usual := until()
	for at := poured; at.Before(s.Now); at = at.Add(2 * time.Hour) {
		s.Warmth = append(s.Warmth, fill.Warmth{At: at, Celsius: 17})
	}
	cold := until()
	assert.True(t, cold.After(usual))
	out := must(t, s)
	require.NotNil(t, out.Slab.River.Curing)
	assert.Equal(t, cold.Unix(), out.Slab.River.Curing.Sand.Unix())
	// Changing the kind afterwards does not change what was poured.
	other := *s.Slab.River
	other.Fill.Resin = "casting"
	s.Slab.River = &other
	assert.Equal(t, "deep pour", must(t, s).Slab.River.Curing.Kind)
}

// Every way out of what is judged of a river helps it: on rivers of many kinds.
func TestRemediesOfARiver(t *testing.T) {
	tried := 0
	for _, warm := range []float64{12, 20, 31} {
		for _, kind := range fill.Kinds() {
			for _, depth := range []float64{18, 55} {
				s := cast(t)
				own := *s.Slab.River
				own.Depth, own.Fill.Resin = depth, kind
				own.Kept = "a small one"
				s.Shop.Moulds = []river.Kept{{Name: "a small one", Length: 200, Width: 100, Height: 30}}
				s.Shop.Air.Temperature = warm
				s.Slab.River = &own
				settled := s.Slab.Settled()
				s.Slab = &settled
				before := must(t, s).Slab
				for _, v := range before.Verdicts {
					for _, r := range v.Remedies {
						next, doc := s, *s.Slab
						mine := own
						doc.River = &mine
						require.NoError(t, r.Patch.Apply(&doc), r.Label)
						doc = doc.Settled()
						next.Slab = &doc
						after := must(t, next).Slab
						tried++
						assert.Less(
							t,
							graver(after.Verdicts, v.Check),
							graver(before.Verdicts, v.Check),
							"%s: %s",
							v.Check,
							r.Label,
						)
						assert.LessOrEqual(
							t,
							stopsIn(after.Verdicts),
							stopsIn(before.Verdicts),
							"%s: %s",
							v.Check,
							r.Label,
						)
					}
				}
			}
		}
	}
	assert.Greater(t, tried, 25)
}

func graver(all []craft.Verdict, check string) (sum int) {
	for _, v := range all {
		if v.Check == check {
			sum += v.Level.Rank()
		}
	}
	return sum
}

func stopsIn(all []craft.Verdict) (n int) {
	for _, v := range all {
		if v.Level == craft.Stop {
			n++
		}
	}
	return n
}
