package reckon

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/aftercare"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/giving"
	"idletimber/craft/plan"
	"idletimber/craft/sanding"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
)

// made is the sample with every step done, and given away.
func made(t *testing.T) Scene {
	j := sample()
	at := j.Now.AddDate(0, -3, 0)
	for _, s := range must(t, j).Boards[0].Course.Steps {
		at = at.Add(time.Hour)
		j.Log = append(j.Log, LogEntry{Subject: plan.Board(j.Boards[0].ID), Entry: plan.Entry{
			Step: s.Key, Event: plan.Finish, At: at, Minutes: s.Minutes,
		}})
	}
	r := must(t, j).Boards[0]
	require.True(t, r.Course.Done)
	require.True(t, r.Gift.Ready.Before(j.Now), "it has been ready for food since")
	return j
}

// A board that came back is dated like any work: what its sign asks for and nothing else, from a washed-out surface,
// each wait with somebody who ends it.
func TestEverySignMakesAPlan(t *testing.T) {
	for _, sign := range aftercare.Signs() {
		j := made(t)
		j.Boards[0].Returned = &aftercare.Return{At: j.Now, Sign: sign.Key}
		j.Boards[0].Fit = fitting.Choice{Feet: true}
		out := must(t, j).Boards[0]
		assert.False(t, out.Course.Done, sign.Key)
		require.NotNil(t, out.Course.Finish, sign.Key)
		kinds := []craft.Stage{}
		for i, s := range out.Course.Steps {
			assert.Equal(t, plan.ToDo, s.State, "%s %s", sign.Key, s.Key)
			kinds = append(kinds, s.Stage)
			if i == len(out.Course.Steps)-1 {
				assert.Equal(t, "note", s.Key, sign.Key)
			}
		}
		for _, of := range []craft.Stage{craft.Layout, craft.Flatten, craft.Shape} {
			assert.NotContains(t, kinds, of, sign.Key)
		}
		for _, n := range out.Stick {
			needed := n.Stage == craft.Wood || slices.Contains(kinds, n.Stage)
			assert.Equal(t, needed, n.Needed, "%s %s", sign.Key, n.Stage)
		}
		assert.Equal(t, sign.Sands, slices.Contains(kinds, craft.Sand), sign.Key)
		assert.Equal(t, sign.Sands, slices.Contains(kinds, craft.Fit), "%s: its feet come off to be sanded", sign.Key)
		assert.Equal(t, sign.Coats != aftercare.NoCoats, slices.Contains(kinds, craft.Finish), sign.Key)
		if sign.Sands {
			assert.Equal(t, 120, out.Sanding.Grits[0], sign.Key)
			for _, l := range out.Sanding.Ladders {
				assert.Equal(t, sanding.WashedOut, l.Start, sign.Key)
			}
		}
		if sign.Rests > 0 {
			assert.Greater(t, out.Course.Finish.Sub(j.Now).Hours(), 24*sign.Rests, sign.Key)
		}
		for _, u := range out.Uses {
			i := slices.IndexFunc(out.Course.Steps, func(s plan.Dated) bool { return s.Key == u.Step })
			assert.GreaterOrEqual(t, i, 0, "%s takes %s for %q", sign.Key, u.Item, u.Step)
		}
	}
}

// What was done before it came back is over: done since, it is ready again.
func TestWhatWasDoneBeforeIsNotAskedForAgain(t *testing.T) {
	j := made(t)
	j.Boards[0].Returned = &aftercare.Return{At: j.Now.AddDate(0, 0, -30), Sign: "dry"}
	at := j.Now.AddDate(0, 0, -29)
	steps := must(t, j).Boards[0].Course.Steps
	assert.Less(t, len(steps), 7, "a look, a wipe, its last coat with its buffing, back")
	for _, s := range steps {
		at = at.Add(time.Hour)
		j.Log = append(j.Log, LogEntry{Subject: plan.Board(j.Boards[0].ID), Entry: plan.Entry{
			Step: s.Key, Event: plan.Finish, At: at, Minutes: 1,
		}})
	}
	r := must(t, j).Boards[0]
	assert.True(t, r.Course.Done)
	assert.Equal(t, float64(len(steps)), r.Course.InAll(), "only what was done since")
	assert.Len(t, Since(j.Log, nil), len(j.Log))
}

// What a data sheet says goes before the usual figures, in steps, quantities, verdicts and on the card.
func TestDataSheetsGoFirst(t *testing.T) {
	j := sample()
	j.Boards[0].Finish = finish.Choice{School: "oil", Ratio: 3}
	usual := must(t, j).Boards[0]
	product := func(kind stage.Kind, item string, s shelf.Sheet) shelf.Product {
		return shelf.Product{Name: item, Kind: kind, Item: item, Unit: craft.Gram, Counted: j.Now, Sheet: &s}
	}
	j.Sheeted = []shelf.Product{
		product(stage.Resin, usual.Mix.Kind+" resin", shelf.Sheet{Mass: 88, Sanded: 200, Coldest: 30}),
		product(
			stage.Finish,
			finish.Oil,
			shelf.Sheet{Face: 140, Food: 9, Contents: "linseed, cold-pressed", Nut: true},
		),
	}
	own := must(t, j).Boards[0]
	assert.InDelta(t, 2*usual.Finish.Coats[0].Grams, own.Finish.Coats[0].Grams, 1e-9)
	assert.Equal(t, 9.0, own.Finish.Food.Value)
	assert.Contains(t, own.Care, "In its finish: linseed, cold-pressed.")
	assert.Contains(t, own.Care, "It holds nut oil: not for anyone who must keep away from nuts.")
	assert.Greater(t, own.Mix.HardenerG.Value, usual.Mix.HardenerG.Value)
	assert.True(t, slices.ContainsFunc(own.Verdicts, func(v craft.Verdict) bool {
		return v.Level == craft.Stop && v.Stage == craft.Fill
	}), "it is too cold for it")
	assert.True(t, own.Course.Finish.After(*usual.Course.Finish))
	j.Sheeted[0].Kind = "bark"
	_, err := Reckon(j, Request{})
	assert.ErrorContains(t, err, "sheeted[0].kind")
}

// The card follows what the board is made into.
func TestTheCardFollowsTheBoard(t *testing.T) {
	j := sample()
	keys := func() (out []string) {
		for _, l := range must(t, j).Boards[0].Gift.Lines {
			out = append(out, l.Key)
		}
		return out
	}
	assert.Contains(t, keys(), "faces")
	j.Boards[0].Give.Mark = &giving.Mark{Length: 30, Width: 15}
	assert.NotContains(t, keys(), "faces", "a mark makes it one-sided")
	assert.False(t, must(t, j).Boards[0].Reversible)
	j.Boards[0].Give.Mark = nil
	j.Boards[0].Fit.Feet = true
	assert.Contains(t, keys(), "feet")
	j.Boards[0].Give.Sent = true
	assert.True(t, slices.ContainsFunc(must(t, j).Boards[0].Uses, func(u stage.Use) bool { return u.Item == "box" }))
}
