package server_test

import (
	"maps"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A piece that is being changed is reckoned with the boards laid on it, and
// nothing is stored.
func TestADraftOfAPieceTellsOnItsBoards(t *testing.T) {
	m := newSite(t).sample()
	p := m.piece("Weir")
	board := func(wood object) object {
		for _, b := range wood["boards"].([]any) {
			if b.(object)["name"] == "Gatekeepers' long board" {
				return b.(object)
			}
		}
		t.Fatal("the board is gone")
		return nil
	}
	slab := maps.Clone(p["slab"].(object))
	flaws := append([]any{}, slab["flaws"].([]any)...)
	deeper := maps.Clone(flaws[1].(object))
	deeper["depth"] = 34
	flaws[1] = deeper
	slab["flaws"] = flaws
	status, wood := m.call("POST", "/api/pieces/"+id(p)+"/draft", slab)
	require.Equal(t, 200, status)
	assert.Greater(t, board(wood)["voids"], board(p["wood"].(object))["voids"])
	_, again := m.call("GET", "/api/pieces/"+id(p), nil)
	assert.Equal(t, p["version"], again["version"])
	assert.Equal(t, p["slab"], again["slab"])

	slab["length"] = -4
	status, problem := m.call("POST", "/api/pieces/"+id(p)+"/draft", slab)
	assert.Equal(t, 422, status)
	assert.Equal(t, "slab.length", problem["errors"].([]any)[0].(object)["location"])
	status, _ = m.call("PUT", "/api/pieces/"+id(p), object{"version": p["version"], "slab": slab})
	assert.Equal(t, 422, status)
}

// What was bought in sanded begins with the next grit.
func TestABoardOfDeliveredWoodBeginsWhereTheYardStopped(t *testing.T) {
	m := newSite(t).sample()
	p := m.piece("from+the+lane")
	slab := p["slab"].(object)
	slab["bought"] = object{"work": "planed and sanded", "thickness": 22, "grit": 120, "costCents": 900}
	status, saved := m.call("PUT", "/api/pieces/"+id(p), object{"version": p["version"], "slab": slab})
	require.Equal(t, 200, status)
	status, sheet := m.call("POST", "/api/boards", object{"piece": id(p), "name": "Delivered"})
	require.Equal(t, 200, status)
	reckoned := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
	assert.Equal(t, "sanded P120", reckoned["sanding"].(object)["start"])
	assert.InDelta(t, 150, reckoned["sanding"].(object)["grits"].([]any)[0], 1e-9)
	assert.Contains(t, reckoned["care"], "Done elsewhere: planed and sanded.")
	for _, f := range saved["wood"].(object)["figures"].([]any) {
		if f.(object)["key"] == "wood.cost" {
			assert.EqualValues(t, 2600+900, f.(object)["value"])
		}
	}
}

func TestAllThatAPieceTellsComesBack(t *testing.T) {
	m := newSite(t).sample()
	p := m.piece("fence")
	slab := p["slab"].(object)
	for key, v := range map[string]any{
		"outline": []object{{"x": 0, "y": -60}, {"x": 1240, "y": -64}, {"x": 1236, "y": 66}, {"x": 3, "y": 61}},
		"underOutline": []object{{"x": 0, "y": -50}, {"x": 1240, "y": -54}, {"x": 1236, "y": 56},
			{"x": 3, "y": 51}},
		"features": []object{{"id": "f", "kind": "streak", "line": []object{{"x": 10, "y": 0}, {"x": 90, "y": 4}},
			"width": 8, "centre": object{"x": 0, "y": 0}, "note": "dark"}},
		"showLook": object{"wetted": "water", "note": "bright", "better": true}, "showChosen": true, "ringRadius": 240,
		"reference": 8.9, "priceBy": "board foot",
		"home": object{"heating": object{"temperature": 20, "humidity": 40},
			"summer": object{"temperature": 24, "humidity": 55}},
		"origin": object{"source": "the fence by the weir", "felled": "1998", "dried": "air", "endsSealed": true},
	} {
		slab[key] = v
	}
	status, _ := m.call("PUT", "/api/pieces/"+id(p), object{"version": p["version"], "slab": slab})
	require.Equal(t, 200, status)
	_, again := m.call("GET", "/api/pieces/"+id(p), nil)
	stored := again["slab"].(object)
	for _, key := range []string{"features", "showLook", "origin", "home", "outline", "underOutline"} {
		require.NotNil(t, stored[key], key)
	}
	assert.Equal(t, "the fence by the weir", stored["origin"].(object)["source"])
	assert.InDelta(t, 8.9, again["wood"].(object)["homeMean"], 1e-9)
	checks := map[any]any{}
	for _, v := range again["wood"].(object)["verdicts"].([]any) {
		checks[v.(object)["check"]] = v.(object)["level"]
	}
	assert.Contains(t, checks, "edge")
}
