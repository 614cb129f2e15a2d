package server_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStalePiecesAndShopsGetBothVersions(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	piece := m.piece("Weir")
	slab := piece["slab"].(object)
	slab["name"] = "Mine"
	status, _ := m.call("PUT", "/api/pieces/"+id(piece), object{"version": 1, "slab": slab})
	require.Equal(t, 200, status)
	slab["name"] = "Mine again"
	status, conflict := m.call("PUT", "/api/pieces/"+id(piece), object{"version": 1, "slab": slab})
	require.Equal(t, 409, status)
	assert.Equal(t, "Mine", conflict["stored"].(object)["name"])
	assert.Equal(t, "Mine again", conflict["yours"].(object)["name"])

	_, doc := m.call("GET", "/api/shop", nil)
	shop := doc["shop"].(object)
	shop["name"] = "First"
	status, _ = m.call("PUT", "/api/shop", object{"version": doc["version"], "shop": shop})
	require.Equal(t, 200, status)
	status, conflict = m.call("PUT", "/api/shop", object{"version": doc["version"], "shop": shop})
	require.Equal(t, 409, status)
	assert.Equal(t, doc["version"].(float64)+1, conflict["version"])
	shop["units"] = "cubits"
	status, problem := m.call("PUT", "/api/shop", object{"version": doc["version"], "shop": shop})
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["errors"].([]any)[0].(object)["location"], "units")
}

func TestLengthsAreReadAsTheyAreWritten(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	for _, c := range []struct {
		text, unit string
		mm         float64
		shown      string
	}{
		{"182", "mm", 182, "182 mm"}, {"18,5 cm", "mm", 185, "185 mm"}, {"7/8", "mm", 22.225, "22.2 mm"},
		{"1 3/4", "in", 44.45, `1 3/4"`}, {`2' 6 1/2"`, "in", 774.7, `30 1/2"`},
	} {
		status, read := m.call("POST", "/api/lengths", object{"text": c.text, "unit": c.unit, "signed": false})
		require.Equal(t, 200, status, c.text)
		assert.InDelta(t, c.mm, read["mm"], 1e-9, c.text)
		assert.Equal(t, c.shown, read["text"], c.text)
	}
	for _, text := range []string{"", "wide", "1/0", "-4", "1,200", "11 m"} {
		status, problem := m.call("POST", "/api/lengths", object{"text": text, "unit": "mm", "signed": false})
		assert.Equal(t, 422, status, text)
		assert.Equal(t, "body.text", problem["errors"].([]any)[0].(object)["location"], text)
	}
}

func TestRackAndBoardsAreSearchedAndPaged(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	for path, total := range map[string]float64{
		"/api/pieces": 12, "/api/pieces?q=PLANE": 3, "/api/pieces?q=nothing": 0, "/api/pieces?page=1": 12,
		"/api/pieces?bin=true": 0,
		"/api/boards":          16, "/api/boards?q=beekeeper": 1, "/api/boards?q=" + strings.Repeat("x", 100): 0,
	} {
		status, list := m.call("GET", path, nil)
		assert.Equal(t, 200, status, path)
		assert.Equal(t, total, list["total"], path)
	}
	_, second := m.call("GET", "/api/pieces?page=1", nil)
	assert.Empty(t, second["items"])
	for _, path := range []string{"/api/pieces?page=-1", "/api/pieces?page=many",
		"/api/boards?q=" + strings.Repeat("x", 101)} {
		status, _ := m.call("GET", path, nil)
		assert.Equal(t, 422, status, path)
	}
}

// What is too large is refused before it is read, and the answer says so.
func TestLargeBodies(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	status, _, answer := m.raw("POST", "/api/pieces/sized", []byte(`{"name":"`+strings.Repeat("9", 2<<20)+`"}`))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)
	assert.Contains(t, string(answer), "too large")
}
