package server_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// river makes one of pieces of the rack.
func (m *maker) river(name string, pieces ...string) object {
	m.t.Helper()
	status, p := m.call("POST", "/api/rivers", object{"name": name, "resin": "deep pour", "pieces": pieces})
	require.Equal(m.t, 200, status, p)
	return p
}

func castOf(p object) object { return p["wood"].(object)["river"].(object) }

// From one plank to a panel that boards are cut from: it is dated at the bench, poured with a
// scale, and its mould goes on the shelf, where the next river finds it.
func TestARiverFromTheRack(t *testing.T) {
	m := newSite(t).sample()
	from := id(m.piece("Weir"))
	p := m.river("Weir river", from)
	_, kept := m.call("GET", "/api/pieces/"+from, nil)
	assert.Equal(t, "Weir river", kept["slab"].(object)["reserved"])
	of := castOf(p)
	volume := of["volume"].(object)["value"].(float64)
	assert.Greater(t, volume, 300.0)
	assert.Len(t, of["banks"], 2)
	assert.Equal(t, "planned", of["state"])

	// Drawn apart, it holds more: live, before it is saved.
	doc := p["slab"].(object)
	banks := doc["river"].(object)["banks"].([]any)
	at := banks[1].(object)["at"].(object)
	at["y"] = at["y"].(float64) + 6
	doc["river"].(object)["width"] = doc["river"].(object)["width"].(float64) + 12
	status, drafted := m.call("POST", "/api/pieces/"+id(p)+"/draft", doc)
	require.Equal(t, 200, status, drafted)
	assert.Greater(t, drafted["river"].(object)["volume"].(object)["value"], volume)
	status, _ = m.call("PUT", "/api/pieces/"+id(p), object{"version": p["version"], "slab": doc})
	require.Equal(t, 200, status)

	// A board on it waits for it, and both are on the bench.
	status, sheet := m.call("POST", "/api/boards", object{"piece": id(p), "name": "River board"})
	require.Equal(t, 200, status, sheet)
	assert.NotEmpty(t, reckonedOf(sheet)["parts"])
	_, bench := m.call("GET", "/api/bench", nil)
	var cast object
	for _, b := range bench["boards"].([]any) {
		if b.(object)["cast"] == true {
			cast = b.(object)
		}
	}
	require.NotNil(t, cast)
	status, said := m.call("POST", "/api/pieces/"+id(p)+"/cut", object{"version": 2, "how": []int{0}})
	assert.Equal(t, 409, status, said)

	press := func(body object) object {
		t.Helper()
		status, now := m.call("POST", "/api/pieces/"+id(p)+"/log", body)
		require.Equal(t, 200, status, "%v: %v", body, now)
		return castOf(now)
	}
	for _, s := range cast["course"].(object)["steps"].([]any) {
		key := s.(object)["key"].(string)
		if key == "pour-1" {
			weighed := press(object{"step": key, "event": "note", "minutes": 0, "what": "resin", "value": 40})
			pour := weighed["pourings"].([]any)[0].(object)
			assert.InDelta(t, 40, pour["weighed"].([]any)[0].(object)["resinG"], 1e-9)
		}
		press(object{"step": key, "event": "finish", "minutes": 5})
	}
	_, kept = m.call("GET", "/api/pieces/"+from, nil)
	assert.Equal(t, true, kept["cut"], "it is off the rack since its banks were cut")
	_, now := m.call("GET", "/api/pieces/"+id(p), nil)
	assert.Equal(t, "ready", castOf(now)["state"])
	assert.Equal(t, "deep pour", castOf(now)["curing"].(object)["kind"])
	_, shop := m.call("GET", "/api/shop", nil)
	moulds := shop["shop"].(object)["moulds"].([]any)
	require.Len(t, moulds, 1)
	assert.Equal(t, "mould of Weir river", moulds[0].(object)["name"])
	assert.EqualValues(t, 1, moulds[0].(object)["uses"])
	press(object{"step": "demould", "event": "undo", "minutes": 0})
	_, shop = m.call("GET", "/api/shop", nil)
	assert.Empty(t, shop["shop"].(object)["moulds"], "it is not off after all")
}

// Asked for again under its name, because the answer was lost, it is there once, and its wood is kept.
func TestARiverIsMadeOnce(t *testing.T) {
	m := newSite(t).sample()
	from := id(m.piece("Weir"))
	m.key = "00000000-0000-4000-8000-000000000015"
	one, two := m.river("Weir river", from), m.river("Weir river", from)
	m.key = ""
	assert.Equal(t, id(one), id(two))
	_, kept := m.call("GET", "/api/pieces/"+from, nil)
	assert.Equal(t, "Weir river", kept["slab"].(object)["reserved"])
	_, list := m.call("GET", "/api/pieces", nil)
	assert.EqualValues(t, 13, list["total"], "one more than there were")
}

func TestWhatCannotBeARiver(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	weir := id(m.piece("Weir"))
	for i, body := range []object{
		{"name": "", "resin": "casting", "pieces": []string{weir}},
		{"name": "x", "resin": "treacle", "pieces": []string{weir}},
		{"name": "x", "resin": "casting", "pieces": []string{}},
		{"name": "x", "resin": "casting", "pieces": []string{weir, weir}},
		{"name": "x", "resin": "casting", "pieces": []string{weir, weir, weir}},
	} {
		status, said := m.call("POST", "/api/rivers", body)
		assert.Equal(t, 422, status, "%d: %v", i, said)
	}
	status, _ := m.call("POST", "/api/rivers", object{"name": "x", "resin": "casting", "pieces": []string{"nowhere"}})
	assert.Equal(t, 404, status)
	status, _ = s.other().
		call("POST", "/api/rivers", object{"name": "x", "resin": "casting", "pieces": []string{weir}})
	assert.Equal(t, 404, status, "another workshop's wood")
	// A river of a river is none.
	p := m.river("one", weir)
	status, said := m.call("POST", "/api/rivers", object{"name": "x", "resin": "casting", "pieces": []string{id(p)}})
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(said), "solid wood")
}

// How long the answer to one step of a drag takes.
func BenchmarkDragABank(b *testing.B) {
	m := newSite(b).sample()
	p := m.river("Weir river", id(m.piece("Weir")))
	doc := p["slab"].(object)
	at := doc["river"].(object)["banks"].([]any)[1].(object)["at"].(object)
	y := at["y"].(float64)
	var took []time.Duration
	for i := 0; b.Loop(); i++ {
		at["y"] = y + float64(i%20)/2
		from := time.Now()
		if status, said := m.call("POST", "/api/pieces/"+id(p)+"/draft", doc); status != 200 {
			b.Fatal(said)
		}
		took = append(took, time.Since(from))
	}
	p95(b, took)
}
