package server_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"net/http"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// thing is what of the shelf something is of.
type thing struct{ kind, item, unit string }

// taken and ahead add up, plainly, what the steps of some boards took, and what those still to be done take.
func (m *maker) addUp(boards []string) (taken, ahead map[thing]float64) {
	m.t.Helper()
	taken, ahead = map[thing]float64{}, map[thing]float64{}
	for _, b := range boards {
		_, sheet := m.call("GET", "/api/boards/"+b, nil)
		r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
		done := map[string]bool{}
		for _, s := range r["course"].(object)["steps"].([]any) {
			done[s.(object)["key"].(string)] = s.(object)["state"] == "done"
		}
		weighed := map[string]float64{} // what coats really took
		for _, x := range r["finish"].(object)["coats"].([]any) {
			weighed[x.(object)["key"].(string)] = x.(object)["used"].(float64)
		}
		for _, x := range r["uses"].([]any) {
			u := x.(object)
			if g := weighed[u["step"].(string)]; g > 0 && u["unit"] == "g" {
				u["amount"] = g
			}
			of := thing{u["kind"].(string), u["item"].(string), u["unit"].(string)}
			if done[u["step"].(string)] {
				taken[of] += u["amount"].(float64)
			} else {
				ahead[of] += u["amount"].(float64)
			}
		}
	}
	return taken, ahead
}

// Whatever is pressed, taken back, pressed again or sent twice, on whatever board: the shelf, the shopping list and the
// price agree to the gram and the cent with what the steps say, added up plainly.
func TestUsesShelfPriceAndListAgree(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, listed := m.call("GET", "/api/boards", nil)
	var boards []string
	for _, l := range listed["items"].([]any) {
		if l.(object)["given"] != true {
			boards = append(boards, id(l.(object)))
		}
	}
	// All that the boards take lies on the shelf, counted after what was done before.
	_, was := m.call("GET", "/api/shelf", nil)
	for _, p := range was["items"].([]any) {
		m.call("DELETE", "/api/shelf/"+id(p.(object)), nil)
	}
	before, ahead := m.addUp(boards)
	products := map[thing]string{}
	cents := map[thing]float64{}
	for of := range ahead {
		if of.kind == "wood" {
			continue
		}
		pack, price := 7.0, 1+math.Mod(float64(len(of.item))*37, 900)
		status, made := m.call(
			"POST",
			"/api/shelf",
			object{"name": "All of " + of.item, "kind": of.kind, "item": of.item,
				"unit": of.unit, "count": 50, "counted": now, "pack": pack, "cents": price, "days": 2},
		)
		require.Equal(t, 200, status, "%v", made)
		products[of], cents[of] = id(made), price/pack
	}
	require.Greater(t, len(products), 10)

	others := map[string]bool{} // that panels and rivers take as well
	_, pieces := m.call("GET", "/api/pieces", nil)
	for _, p := range pieces["items"].([]any) {
		_, piece := m.call("GET", "/api/pieces/"+id(p.(object)), nil)
		wood := piece["wood"].(object)
		for _, made := range []string{"parts", "river"} {
			if of, ok := wood[made].(object); ok {
				for _, u := range of["uses"].([]any) {
					others[u.(object)["item"].(string)] = true
				}
			}
		}
	}

	random := rand.New(rand.NewPCG(18, 11))
	press := func() {
		board := boards[random.IntN(len(boards))]
		_, sheet := m.call("GET", "/api/boards/"+board, nil)
		steps := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)["steps"].([]any)
		var done, open []string
		for _, x := range steps {
			if x.(object)["state"] == "done" {
				done = append(done, x.(object)["key"].(string))
			} else {
				open = append(open, x.(object)["key"].(string))
			}
		}
		event, step := "finish", ""
		switch {
		case len(open) > 0 && (random.IntN(3) > 0 || len(done) == 0):
			step = open[0]
		case len(done) > 0:
			event, step = "undo", done[len(done)-1]
		default:
			return
		}
		m.key = uuid.NewString()
		times := 1 + random.IntN(2) // a phone that lost the answer sends it again
		for range times {
			status, got := m.call(
				"POST",
				"/api/boards/"+board+"/press",
				object{"step": step, "event": event, "minutes": 3},
			)
			require.Equal(t, http.StatusOK, status, "%v", got)
		}
		m.key = ""
	}
	for round := range 4 {
		for range 12 {
			press()
		}
		taken, ahead := m.addUp(boards)
		_, list := m.call("GET", "/api/shelf/shopping", nil)
		short := map[thing]float64{}
		for _, x := range list["lines"].([]any) {
			l := x.(object)
			short[thing{l["kind"].(string), l["item"].(string), l["unit"].(string)}] = l["short"].(float64)
		}
		for of, path := range products {
			_, p := m.call("GET", "/api/shelf/"+path, nil)
			stands := p["stands"].(object)
			what := fmt.Sprintf("round %d, %v", round, of)
			left := 50 - (taken[of] - before[of])
			over, _ := stands["over"].(float64)
			assert.InDelta(t, left, stands["left"].(float64)-over, 1e-6, what)
			if others[of.item] {
				continue
			}
			assert.InDelta(t, min(max(left, 0), ahead[of]), stands["reserved"], 1e-6, what)
			assert.InDelta(t, max(0, ahead[of]-max(left, 0)), short[of], 1e-6, what)
		}
		// The price takes each item once, rounded by itself.
		for _, board := range boards[:3] {
			_, price := m.call("GET", "/api/boards/"+board+"/price", nil)
			done, todo := m.addUp([]string{board})
			sum := 0.0
			for _, x := range price["uses"].([]any) {
				u := x.(object)
				of := thing{u["kind"].(string), u["item"].(string), u["unit"].(string)}
				assert.InDelta(t, done[of]+todo[of], u["amount"], 1e-6, "%v", of)
				if u["priced"] == true {
					assert.Equal(t, math.Floor((done[of]+todo[of])*cents[of]+0.5+1e-6), u["cents"], "%v", of)
				}
				sum += u["cents"].(float64)
			}
			for _, x := range price["lines"].([]any) {
				if x.(object)["key"] == "money.supplies" {
					assert.Equal(t, sum, x.(object)["value"])
				}
			}
		}
	}
}
