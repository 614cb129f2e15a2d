package server_test

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// thing is what of the shelf something is of.
type thing struct{ kind, item, unit string }

// amounts are so much of each thing.
type amounts map[thing]float64

func (a amounts) add(b amounts, sign float64) {
	for of, n := range b {
		a[of] += sign * n
	}
}

// work is a board as its sheet tells: the steps that are done and those that are not, and what each takes.
type work struct {
	done, open []string
	takes      map[string]amounts
}

func (m *maker) work(board string) work {
	m.t.Helper()
	_, sheet := m.call("GET", "/api/boards/"+board, nil)
	r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
	out := work{takes: map[string]amounts{}}
	for _, x := range r["course"].(object)["steps"].([]any) {
		if s := x.(object); s["state"] == "done" {
			out.done = append(out.done, s["key"].(string))
		} else {
			out.open = append(out.open, s["key"].(string))
		}
	}
	for _, x := range r["uses"].([]any) {
		u := x.(object)
		step := u["step"].(string)
		if out.takes[step] == nil {
			out.takes[step] = amounts{}
		}
		out.takes[step][thing{u["kind"].(string), u["item"].(string), u["unit"].(string)}] += u["amount"].(float64)
	}
	return out
}

// ahead is what the steps take that are still to be done.
func (w work) ahead() amounts {
	out := amounts{}
	for _, step := range w.open {
		out.add(w.takes[step], 1)
	}
	return out
}

// Whatever is pressed, taken back, pressed again or sent twice, on whatever board: the shelf, the shopping list and the
// price agree to the gram and the cent with what the steps say, added up plainly.
func TestUsesShelfPriceAndListAgree(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, listed := m.call("GET", "/api/boards", nil)
	items := slices.DeleteFunc(listed["items"].([]any), func(l any) bool { return l.(object)["given"] == true })
	slices.SortFunc(items, func(a, b any) int { // ids are drawn anew each time
		return cmp.Compare(a.(object)["name"].(string), b.(object)["name"].(string))
	})
	var boards []string
	for _, l := range items {
		boards = append(boards, id(l.(object)))
	}
	// All that the boards take lies on the shelf, counted after what was done before.
	_, was := m.call("GET", "/api/shelf", nil)
	for _, p := range was["items"].([]any) {
		m.call("DELETE", "/api/shelf/"+id(p.(object)), nil)
	}
	ahead := amounts{}
	for _, b := range boards {
		ahead.add(m.work(b).ahead(), 1)
	}
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
	// What each step took is remembered from its sheet when it is pressed, and forgotten when that is taken back.
	took := map[string]map[string]amounts{} // by board and step
	counted := amounts{}                    // what was gone when the shelf was counted
	early := map[string]bool{}              // boards and steps done by then
	for _, b := range boards {
		w := m.work(b)
		took[b] = map[string]amounts{}
		for _, step := range w.done {
			took[b][step] = w.takes[step]
			counted.add(w.takes[step], 1)
			early[b+step] = true
		}
	}
	takenBy := func(board string) amounts {
		out := amounts{}
		for _, a := range took[board] {
			out.add(a, 1)
		}
		return out
	}
	press := func() {
		board := boards[random.IntN(len(boards))]
		w := m.work(board)
		event, step := "finish", ""
		switch {
		case len(w.open) > 0 && (random.IntN(3) > 0 || len(w.done) == 0):
			step = w.open[0]
			took[board][step] = w.takes[step]
		case len(w.done) > 0:
			event, step = "undo", w.done[len(w.done)-1]
			if early[board+step] { // what was counted lies there, whether it was done or not
				counted.add(took[board][step], -1)
				early[board+step] = false
			}
			delete(took[board], step)
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
	// What is weighed after a coat is on is what it took.
	weighed := 0
	weigh := func() {
		for _, board := range boards {
			for _, step := range slices.Sorted(maps.Keys(took[board])) {
				a := took[board][step]
				for of := range a {
					if of.kind != "finish" || of.unit != "g" || !strings.HasPrefix(step, "coat-") {
						continue
					}
					status, got := m.call("POST", "/api/boards/"+board+"/press",
						object{"step": step, "event": "note", "what": "grams", "value": 11, "minutes": 0})
					require.Equal(t, http.StatusOK, status, "%v", got)
					if early[board+step] {
						counted[of] += 11 - a[of]
					}
					a[of] = 11
					weighed++
					return
				}
			}
		}
	}
	// A plan that changes takes nothing back of what is done.
	change := func() {
		board := boards[random.IntN(len(boards))]
		_, sheet := m.call("GET", "/api/boards/"+board, nil)
		sheet["board"].(object)["sand"].(object)["last"] = []int{180, 220, 320}[random.IntN(3)]
		status, got := m.save(sheet)
		require.Equal(t, 200, status, "%v", got)
	}
	for round := range 4 {
		for range 12 {
			press()
		}
		weigh()
		change()
		taken, ahead := amounts{}, amounts{}
		for _, b := range boards {
			taken.add(takenBy(b), 1)
			ahead.add(m.work(b).ahead(), 1)
		}
		_, list := m.call("GET", "/api/shelf/shopping", nil)
		short := amounts{}
		for _, x := range list["lines"].([]any) {
			l := x.(object)
			short[thing{l["kind"].(string), l["item"].(string), l["unit"].(string)}] = l["short"].(float64)
		}
		for of, path := range products {
			_, p := m.call("GET", "/api/shelf/"+path, nil)
			stands := p["stands"].(object)
			what := fmt.Sprintf("round %d, %v", round, of)
			left := 50 - (taken[of] - counted[of])
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
			all := takenBy(board)
			all.add(m.work(board).ahead(), 1)
			sum := 0.0
			for _, x := range price["uses"].([]any) {
				u := x.(object)
				of := thing{u["kind"].(string), u["item"].(string), u["unit"].(string)}
				assert.InDelta(t, all[of], u["amount"], 1e-6, "%v", of)
				if u["priced"] == true {
					assert.Equal(t, math.Floor(all[of]*cents[of]+0.5+1e-6), u["cents"], "%v", of)
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
	assert.Positive(t, weighed)
}
