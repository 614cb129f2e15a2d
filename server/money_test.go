package server_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// line is a line of a price, cents; 0 where it has none.
func line(price object, key string) float64 {
	for _, l := range price["lines"].([]any) {
		if l.(object)["key"] == "money."+key {
			return l.(object)["value"].(float64)
		}
	}
	return 0
}

// What making a panel took is borne by its boards, all of it, each by its part; the rest of a price adds up.
func TestAPanelsWorkIsBorneByItsBoards(t *testing.T) {
	m := newSite(t).sample()
	_, listed := m.call("GET", "/api/boards", nil)
	shares, made := map[string]float64{}, map[string]float64{}
	for _, l := range listed["items"].([]any) {
		b := l.(object)
		_, sheet := m.call("GET", "/api/boards/"+id(b), nil)
		r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
		_, price := m.call("GET", "/api/boards/"+id(b)+"/price", nil)
		sum := 0.0
		for _, key := range []string{"wood", "supplies", "made", "bought", "work", "overhead"} {
			v := line(price, key)
			assert.Equal(t, math.Trunc(v), v, "whole cents")
			sum += v
		}
		assert.Equal(t, sum, price["cost"], b["name"])
		piece := b["piece"].(string)
		shares[piece] += r["share"].(float64)
		made[piece] += line(price, "made")
	}
	_, rates := m.call("GET", "/api/tables", nil)
	hour := rates["rates"].(object)["hour"].(float64)
	panels := 0
	for piece, cents := range made {
		_, p := m.call("GET", "/api/pieces/"+piece, nil)
		wood := p["wood"].(object)
		of, ok := wood["parts"].(object)
		if !ok {
			of, ok = wood["river"].(object)
		}
		if !ok {
			assert.Zero(t, cents)
			continue
		}
		panels++
		minutes := of["course"].(object)["handsOn"].(float64)
		for _, s := range of["course"].(object)["steps"].([]any) {
			minutes += s.(object)["spent"].(float64)
		}
		assert.InDelta(t, 1, shares[piece], 1e-9)
		assert.Greater(t, cents, 0.95*minutes/60*hour, "the hours, but for set-ups that are shared, and glue or resin")
	}
	assert.GreaterOrEqual(t, panels, 2)
}

// The price of a run is that of its boards; each way of a comparison is reckoned in full, and patches to what it says.
func TestPricesOfARunAndOtherWays(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	_, _, runs := m.raw("GET", "/api/runs", nil)
	require.NotEmpty(t, runs)
	board := m.named("Wasp catcher")
	for _, r := range m.listed("/api/runs") {
		_, price := m.call("GET", "/api/runs/"+id(r)+"/price", nil)
		sum := 0.0
		for _, b := range price["boards"].([]any) {
			_, own := m.call("GET", "/api/boards/"+id(b.(object))+"/price", nil)
			assert.Equal(t, own["cost"], b.(object)["cost"])
			sum += b.(object)["cost"].(float64)
		}
		assert.Equal(t, sum, price["cost"])
		status, _ := o.call("GET", "/api/runs/"+id(r)+"/price", nil)
		assert.Equal(t, 404, status)
	}
	_, was := m.call("GET", "/api/boards/"+board+"/price", nil)
	ways := m.listed("/api/boards/" + board + "/compare")
	kinds := []string{}
	for _, c := range ways {
		kinds = append(kinds, c["what"].(string))
		for _, w := range c["ways"].([]any) {
			if w.(object)["chosen"] == true {
				assert.Equal(t, was["cost"], w.(object)["cost"], "%v", c["what"])
			}
			assert.Positive(t, w.(object)["cost"])
		}
	}
	assert.Subset(t, kinds, []string{"Finish", "Saw", "Thickness"})
	for _, path := range []string{"/price", "/compare", "/triage", "/care", "/card.pdf", "/card.png"} {
		status, _ := o.call("GET", "/api/boards/"+board+path, nil)
		assert.Equal(t, 404, status, path)
	}
	months := m.listed("/api/money/months")
	assert.Len(t, months, 12)
	assert.Positive(t, months[0]["wood"])
	assert.Positive(t, months[0]["supplies"])
	assert.NotEmpty(t, m.listed("/api/prices/wood"))
	assert.Empty(t, o.listed("/api/prices/wood"))
}

// A data sheet put on the shelf is reckoned with at once, at the board and at the Bench; put away it is not.
func TestADataSheetOnTheShelf(t *testing.T) {
	m := newSite(t).sample()
	board := m.named("Wasp catcher")
	food := func() float64 {
		_, sheet := m.call("GET", "/api/boards/"+board, nil)
		r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
		return r["finish"].(object)["food"].(object)["value"].(float64)
	}
	ready := func() string {
		_, p := m.call("GET", "/api/plan", nil)
		for _, c := range p["courses"].([]any) {
			if c.(object)["subject"].(object)["id"] == board {
				return c.(object)["finish"].(string)
			}
		}
		return ""
	}
	usual, soon := food(), ready()
	_, shelf := m.call("GET", "/api/shelf?q=food%20grade", nil)
	oil := shelf["items"].([]any)[0].(object)
	p := oil["product"].(object)
	p["sheet"] = object{"food": 20}
	status, saved := m.call("PUT", "/api/shelf/"+id(oil), object{"version": oil["version"], "product": p})
	require.Equal(t, 200, status, "%v", saved)
	assert.Equal(t, 20.0, food())
	assert.Greater(t, ready(), soon, "all that is remembered of the work is reckoned anew")
	p["sheet"] = object{"food": 20_000}
	status, wrong := m.call("PUT", "/api/shelf/"+id(oil), object{"version": saved["version"], "product": p})
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(wrong["errors"]), "sheet.food")
	status, _ = m.call("DELETE", "/api/shelf/"+id(oil), nil)
	assert.Equal(t, 204, status)
	assert.Equal(t, usual, food())
	assert.Equal(t, soon, ready())
}

// Strips of no piece of the rack are bought by their volume; a batch of paste takes its parts, once.
func TestWoodToBuyAndABatch(t *testing.T) {
	m := newSite(t).sample()
	_, found := m.call("GET", "/api/pieces?q=Chevron", nil)
	_, piece := m.call("GET", "/api/pieces/"+id(found["items"].([]any)[0].(object)), nil)
	slab := piece["slab"].(object)
	for _, x := range slab["glue"].(object)["strips"].([]any)[:3] {
		x.(object)["atHand"] = false
		x.(object)["piece"] = ""
	}
	status, saved := m.call("PUT", "/api/pieces/"+id(piece), object{"version": piece["version"], "slab": slab})
	require.Equal(t, 200, status, "%v", saved)
	volume := func(path string) (out float64) {
		_, list := m.call("GET", path, nil)
		for _, w := range list["wood"].([]any) {
			out += w.(object)["volume"].(float64)
			assert.Equal(t, []any{"Chevron offcut tray"}, w.(object)["for"])
		}
		for _, l := range list["lines"].([]any) {
			assert.NotEqual(t, "wood", l.(object)["kind"])
		}
		return out
	}
	usual := volume("/api/shelf/shopping")
	assert.Positive(t, usual)
	assert.InDelta(t, usual*1.30/1.15, volume("/api/shelf/shopping?once=true"), 1e-12)

	left := func(words string) (object, float64) {
		_, shelf := m.call("GET", "/api/shelf?q="+words, nil)
		p := shelf["items"].([]any)[0].(object)
		return p, p["stands"].(object)["left"].(float64)
	}
	tin, before := left("Orchard%20paste")
	_, oil := left("food%20grade")
	_, wax := left("hives")
	m.key = "5f1f6a3e-53a4-4d53-9a27-0f0a2f6d7b11"
	for range 2 { // the answer was lost, and it is sent again
		status, got := m.call("POST", "/api/shelf/"+id(tin)+"/batch?packs=1", nil)
		require.Equal(t, 200, status, "%v", got)
	}
	m.key = ""
	_, now := left("Orchard%20paste")
	assert.InDelta(t, before+60, now, 1e-9)
	_, now = left("food%20grade")
	assert.InDelta(t, oil-45, now, 1e-9)
	_, now = left("hives")
	assert.InDelta(t, wax-15, now, 1e-9)
	oilDoc, _ := left("food%20grade")
	status, wrong := m.call("POST", "/api/shelf/"+id(oilDoc)+"/batch?packs=1", nil)
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(wrong), "not mixed here")
}
