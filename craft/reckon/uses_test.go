package reckon

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/plan"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
)

// Of any board, however far it has come and however its plan changed after that: what finished steps took stays what it
// was, and the shelf, the shopping list and the bill add up to the same, item by item, in whole cents.
func TestWhatAnyBoardTakesAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		j := anyBoard(t)
		of := plan.Board(j.Boards[0].ID)
		first, err := Reckon(j, Request{})
		require.NoError(t, err)
		steps := first.Boards[0].Course.Steps
		done := rapid.IntRange(0, len(steps)).Draw(t, "done")
		was := map[string][]stage.Use{}
		for i, s := range steps[:done] {
			e := LogEntry{Subject: of, Entry: plan.Entry{Step: s.Key, Event: plan.Finish, Minutes: 3}}
			e.At, e.Uses = j.Now.AddDate(0, 0, i-len(steps)), []stage.Use{}
			for _, u := range first.Boards[0].Uses {
				if u.Step == s.Key {
					e.Uses = append(e.Uses, u)
				}
			}
			was[s.Key] = e.Uses
			j.Log = append(j.Log, e)
			if rapid.IntRange(0, 5).Draw(t, "slip") == 0 { // pressed, and taken back
				e.Event, e.Uses, e.Minutes = plan.Undo, nil, 0
				j.Log = append(j.Log, e)
				delete(was, s.Key)
			}
		}
		b := &j.Boards[0]
		b.Sand.Last = rapid.SampledFrom([]int{0, 150, 180, 220, 320}).Draw(t, "last")
		b.Finish.School = rapid.SampledFrom([]string{"oil", "paste alone", "hard wax"}).Draw(t, "changed")
		b.Fill.Resin = rapid.SampledFrom([]string{"quick", "deep pour"}).Draw(t, "poured")
		out, err := Reckon(j, Request{})
		require.NoError(t, err)
		r := out.Boards[0]

		open := map[string]bool{}
		for _, s := range r.Course.Steps {
			open[s.Key] = s.State != plan.Done
		}
		took := map[string][]stage.Use{}
		sums := map[stage.Use]float64{} // by kind, item and unit
		var taken []shelf.Taken
		var needs []shelf.Need
		gone := map[stage.Use]float64{}
		for _, u := range r.Uses {
			key := stage.Use{Kind: u.Kind, Item: u.Item, Unit: u.Unit}
			sums[key] += u.Amount
			if was[u.Step] != nil {
				took[u.Step] = append(took[u.Step], u)
				taken = append(taken, shelf.Taken{Use: u, At: j.Now})
				gone[key] += u.Amount
				continue
			}
			known, ok := open[u.Step]
			require.True(t, ok, "nothing is taken by a step that is not there: %v", u)
			if known {
				needs = append(needs, shelf.Need{Use: u, Of: of})
			} else { // it was over without a press: what came after it is done
				sums[key] -= u.Amount
			}
		}
		for step, uses := range was {
			assert.ElementsMatch(t, uses, took[step], step)
		}

		var products []shelf.Product
		for key := range sums {
			products = append(products, shelf.Product{Name: key.Item, Kind: key.Kind, Item: key.Item, Unit: key.Unit,
				Count: 20, Counted: j.Now, Pack: 7, Cents: 100 + 37*len(key.Item)})
		}
		stands, list := shelf.Stand(products, taken, needs, j.Now, j.Shop.Rules)
		for i, p := range products {
			key := stage.Use{Kind: p.Kind, Item: p.Item, Unit: p.Unit}
			assert.InDelta(t, 20-gone[key], stands[i].Left-stands[i].Over, 1e-6, p.Item)
			ahead, left := sums[key]-gone[key], max(0, 20-gone[key])
			assert.InDelta(t, min(left, ahead), stands[i].Reserved, 1e-6, p.Item)
			short := 0.0
			for _, b := range list {
				if b.Item == p.Item && b.Kind == p.Kind && b.Unit == p.Unit {
					short += b.Short
				}
			}
			assert.InDelta(t, max(0, ahead-left), short, 1e-6, p.Item)
		}

		var all []stage.Use
		for _, u := range taken {
			all = append(all, u.Use)
		}
		for _, n := range needs {
			all = append(all, n.Use)
		}
		lines, cents := shelf.Bill(all, products)
		for _, l := range lines {
			each := float64(100+37*len(l.Item)) / 7
			assert.InDelta(t, sums[stage.Use{Kind: l.Kind, Item: l.Item, Unit: l.Unit}], l.Amount, 1e-6)
			assert.InDelta(t, l.Amount*each, l.Cents, 0.5+1e-6, "to the cent")
			cents -= l.Cents
		}
		assert.Zero(t, cents)
		assert.False(t, math.IsNaN(r.Course.InAll()))
	})
}
