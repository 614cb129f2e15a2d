package server_test

import (
	"encoding/json"
	"maps"
	"net/http"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/server"
)

// need is a small panel for serving.
func need(species ...string) object {
	return object{
		"length": 320, "width": 150, "thickness": 18, "use": "serving", "species": species, "stock": 24, "plank": 50,
	}
}

// plank puts a plain plank on the rack.
func (m *maker) plank(name, species string, length, width, thickness float64) string {
	m.t.Helper()
	status, p := m.call("POST", "/api/pieces/sized", object{
		"name": name, "species": species, "stock": "plank", "length": length, "width": width, "thickness": thickness,
		"reclaimed": false,
	})
	require.Equal(m.t, 200, status, p)
	return id(p)
}

// ask posts a question and returns its answer as it came.
func (m *maker) ask(path string, body any) []byte {
	m.t.Helper()
	data, err := json.Marshal(body)
	require.NoError(m.t, err)
	status, _, answer := m.raw("POST", path, data)
	require.Equal(m.t, 200, status, string(answer))
	return answer
}

// panel makes a panel, of pieces where there are some.
func (m *maker) panel(construction string, need object, pieces ...string) object {
	m.t.Helper()
	status, p := m.call("POST", "/api/panels", object{
		"name": "Stripes", "construction": construction, "need": need, "pieces": pieces,
	})
	require.Equal(m.t, 200, status, p)
	return p
}

func stripsOf(p object) (out []object) {
	for _, s := range p["slab"].(object)["glue"].(object)["strips"].([]any) {
		out = append(out, s.(object))
	}
	return out
}

func (m *maker) savePiece(p object) (int, object) {
	return m.call("PUT", "/api/pieces/"+id(p), object{"version": p["version"], "slab": p["slab"]})
}

func reservedOn(m *maker, piece string) []any {
	_, p := m.call("GET", "/api/pieces/"+piece, nil)
	list, _ := p["wood"].(object)["reserved"].([]any)
	return list
}

func TestAPanelFromThreePieces(t *testing.T) {
	m := newSite(t).signUp("joiner@example.org")
	pear, robinia := m.plank("Pear", "Pear", 600, 120, 26), m.plank("Robinia", "Robinia", 600, 120, 26)
	chestnut := m.plank("Chestnut", "Sweet chestnut", 600, 120, 26)
	choices := m.ask("/api/panels/choose", need("Pear", "Robinia"))
	assert.Contains(t, string(choices), `"best":true`)
	p := m.panel("flat", need("Pear"), pear, robinia, chestnut)
	strips := stripsOf(p)
	require.Len(t, strips, 3)
	assert.Equal(t, []any{"Pear", "Robinia", "Sweet chestnut"},
		[]any{strips[0]["species"], strips[1]["species"], strips[2]["species"]})
	for _, s := range strips {
		assert.Nil(t, s["problem"], s)
		assert.Less(t, s["thickness"], 26.0, "flattened")
	}
	assert.Len(t, reservedOn(m, pear), 1)
	assert.Equal(t, "planned", p["wood"].(object)["parts"].(object)["state"])
	assert.ElementsMatch(t, []any{pear, robinia, chestnut}, p["sources"])

	// Its wood is kept for it.
	status, _ := m.call("DELETE", "/api/pieces/"+pear, nil)
	assert.Equal(t, http.StatusConflict, status, "a strip is to be cut from it")
	status, _ = m.call("POST", "/api/pieces/"+pear+"/resaw",
		object{"version": 1, "how": object{"leaves": 2, "kerf": 1.5, "cleanup": 1, "matched": false}})
	assert.Equal(t, http.StatusConflict, status)

	// A strip that is dropped lets its wood go.
	glued := p["slab"].(object)["glue"].(object)
	delete(strips[0], "piece")
	status, p = m.savePiece(p)
	require.Equal(t, 200, status, p)
	assert.Empty(t, reservedOn(m, pear))
	status, _ = m.call("DELETE", "/api/pieces/"+pear, nil)
	assert.Less(t, status, 300)

	// One that its piece does not hold says so, and nothing is lost.
	glued = p["slab"].(object)["glue"].(object)
	stripsOf(p)[1]["length"] = 4000
	stripsOf(p)[0]["length"], stripsOf(p)[2]["length"] = 4000, 4000
	status, p = m.savePiece(p)
	require.Equal(t, 200, status, p)
	assert.Contains(t, stripsOf(p)[1]["problem"], "no place")
	assert.Contains(t, stripsOf(p)[2]["problem"], "no place")
	assert.NotNil(t, glued)

	// In the bin it lets all go, and has it again when it comes back.
	stripsOf(p)[0]["length"], stripsOf(p)[1]["length"], stripsOf(p)[2]["length"] = 460, 460, 460
	status, p = m.savePiece(p)
	require.Equal(t, 200, status)
	require.Len(t, reservedOn(m, robinia), 1)
	status, _ = m.call("DELETE", "/api/pieces/"+id(p), nil)
	require.Less(t, status, 300)
	assert.Empty(t, reservedOn(m, robinia))
	status, _ = m.call("POST", "/api/pieces/"+id(p)+"/restore", nil)
	require.Less(t, status, 300)
	assert.Len(t, reservedOn(m, robinia), 1)
}

func TestAPanelFollowsItsPieces(t *testing.T) {
	m := newSite(t).signUp("joiner@example.org")
	plank := m.plank("Pear", "Pear", 600, 170, 26)
	p := m.panel("flat", need("Pear"), plank)
	assert.InDelta(t, 24, stripsOf(p)[0]["thickness"], 1e-9)
	_, piece := m.call("GET", "/api/pieces/"+plank, nil)
	slab := piece["slab"].(object)
	slab["readings"] = []any{object{"x": 300, "y": 0, "thickness": 22}}
	slab["priceCents"] = 2000
	status, _ := m.savePiece(piece)
	require.Equal(t, 200, status)
	_, p = m.call("GET", "/api/pieces/"+id(p), nil)
	assert.InDelta(t, 21, stripsOf(p)[0]["thickness"], 1e-9, "its piece is thinner than was thought")
	assert.Greater(t, stripsOf(p)[0]["cents"], 100.0)
	assert.InDelta(t, 21, p["wood"].(object)["parts"].(object)["thickness"], 1e-9)
}

func TestPanelsOfEachOther(t *testing.T) {
	m := newSite(t).signUp("joiner@example.org")
	a := m.panel("flat", need("Pear"))
	b := m.panel("flat", need("Robinia"), id(a))
	for _, s := range stripsOf(a) {
		s["piece"] = id(b)
	}
	status, answer := m.savePiece(a)
	assert.Equal(t, 422, status)
	assert.Contains(t, problem(answer), "made of itself")
	_, a = m.call("GET", "/api/pieces/"+id(a), nil)
	stripsOf(a)[0]["piece"] = id(a)
	status, answer = m.savePiece(a)
	assert.Equal(t, 422, status, "nor of itself at once")
	assert.Contains(t, problem(answer), "made of itself")
}

// problem is all that an answer says is wrong.
func problem(o object) (all string) {
	list, _ := o["errors"].([]any)
	for _, e := range list {
		all += e.(object)["location"].(string) + ": " + e.(object)["message"].(string) + "\n"
	}
	return all
}

func TestBadPanels(t *testing.T) {
	m := newSite(t).signUp("joiner@example.org")
	for field, spoil := range map[string]func(object){
		"body.need.species":    func(o object) { o["need"].(object)["species"] = []any{} },
		"body.need.species[0]": func(o object) { o["need"].(object)["species"] = []any{"Moonwood"} },
		"body.need.width":      func(o object) { o["need"].(object)["width"] = 9000 },
		"body.construction":    func(o object) { o["construction"] = "heap" },
		"slab.name":            func(o object) { o["name"] = "" },
	} {
		o := object{"name": "x", "construction": "flat", "need": need("Pear")}
		spoil(o)
		status, answer := m.call("POST", "/api/panels", o)
		assert.Equal(t, 422, status, field)
		assert.Contains(t, problem(answer), field)
	}
	p := m.panel("flat", need("Pear"))
	strips := p["slab"].(object)["glue"].(object)
	for _, list := range [][]any{{}, slices.Repeat([]any{stripsOf(p)[0]}, 400)} {
		strips["strips"] = list
		status, answer := m.savePiece(p)
		assert.Equal(t, 422, status)
		assert.Contains(t, problem(answer), "slab.glue.strips")
		status, answer = m.call("POST", "/api/pieces/"+id(p)+"/draft", p["slab"])
		assert.Equal(t, 422, status, answer)
	}
	_, again := m.call("GET", "/api/pieces/"+id(p), nil)
	assert.NotEmpty(t, stripsOf(again), "nothing is lost")
}

func TestNobodyGluesAnothersWood(t *testing.T) {
	s := newSite(t)
	mine, other := s.signUp("joiner@example.org"), s.other()
	theirs := other.plank("Pear", "Pear", 600, 120, 26)
	p := mine.panel("flat", need("Pear"), theirs)
	assert.Nil(t, stripsOf(p)[0]["piece"], "a piece of another workshop is none")
	stripsOf(p)[0]["piece"] = theirs
	status, p := mine.savePiece(p)
	require.Equal(t, 200, status)
	assert.Contains(t, stripsOf(p)[0]["problem"], "nowhere on the rack")
	assert.Empty(t, reservedOn(other, theirs))
	status, _ = other.call("GET", "/api/pieces/"+id(p), nil)
	assert.Equal(t, 404, status)
	status, _ = other.call("POST", "/api/pieces/"+id(p)+"/log", object{"step": "rip", "event": "finish", "minutes": 5})
	assert.Equal(t, 404, status)
}

// A panel is glued step by step at the bench, and its board waits for it.
func TestAPanelAtTheBench(t *testing.T) {
	clock := time.Date(2031, 5, 5, 8, 0, 0, 0, time.UTC)
	m := newSite(t, func(c *server.Config) { c.Clock = func() time.Time { return clock } }).signUp("joiner@example.org")
	p := m.panel("on edge", need("Pear", "Robinia"))
	bench := func() []any {
		_, b := m.call("GET", "/api/bench", nil)
		list, _ := b["boards"].([]any)
		return slices.DeleteFunc(list, func(o any) bool { return o.(object)["glued"] == nil })
	}
	require.Len(t, bench(), 1, "also without a board on it")
	status, sheet := m.call("POST", "/api/boards", object{"piece": id(p), "name": "For the gate"})
	require.Equal(t, 200, status, sheet)
	first := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)["steps"].([]any)[0].(object)
	assert.Equal(t, []any{"panel:" + id(p) + "/trim"}, first["after"])
	status, answer := m.call(
		"POST",
		"/api/pieces/"+id(p)+"/log",
		object{"step": "fly", "event": "finish", "minutes": 0},
	)
	assert.Equal(t, 422, status, answer)
	steps := func() (keys []string) {
		_, now := m.call("GET", "/api/pieces/"+id(p), nil)
		for _, s := range now["wood"].(object)["parts"].(object)["course"].(object)["steps"].([]any) {
			if s.(object)["state"] != "done" {
				keys = append(keys, s.(object)["key"].(string))
			}
		}
		return keys
	}
	state := ""
	for _, key := range steps() {
		clock = clock.Add(30 * time.Minute)
		status, now := m.call(
			"POST",
			"/api/pieces/"+id(p)+"/log",
			object{"step": key, "event": "finish", "minutes": 12},
		)
		require.Equal(t, 200, status, now)
		state = now["wood"].(object)["parts"].(object)["state"].(string)
		if key == "glue-1" {
			assert.Equal(t, "in clamps", state)
		}
		if key == "scrape" {
			assert.Equal(t, "curing", state)
		}
	}
	assert.Equal(t, "ready", state)
	assert.Empty(t, bench())
	_, log := m.call("GET", "/api/log", nil)
	line := log["lines"].([]any)[0].(object)
	assert.Equal(t, "Stripes", line["name"])
	assert.Equal(t, "panel", line["subject"].(object)["kind"])
	// The pieces of its strips may be cut up now.
	_, now := m.call("GET", "/api/pieces/"+id(p), nil)
	status, _ = m.call("POST", "/api/pieces/"+id(p)+"/cut", object{"version": now["version"], "how": []any{0}})
	assert.Equal(t, 200, status)
}

func TestTheOrderOfStripsIsProposed(t *testing.T) {
	m := newSite(t).signUp("joiner@example.org")
	p := m.panel("on edge", need("Pear", "Pear", "Robinia", "Robinia"))
	var ordered struct{ Strips []struct{ Species string } }
	arrange := func(how string, more object) {
		ask := object{"panel": p["slab"].(object)["glue"], "how": how}
		maps.Copy(ask, more)
		require.NoError(t, json.Unmarshal(m.ask("/api/panels/arrange", ask), &ordered))
	}
	arrange("order", nil)
	for i := 1; i < len(ordered.Strips); i++ {
		assert.NotEqual(t, ordered.Strips[i].Species, ordered.Strips[i-1].Species, "no two alike beside each other")
	}
	arrange("width", object{"width": 317})
	assert.Len(t, ordered.Strips, 14, "of 24 each")
	status, answer := m.call("POST", "/api/panels/arrange", object{"panel": p["slab"].(object)["glue"], "how": "width"})
	assert.Equal(t, 422, status)
	assert.Contains(t, problem(answer), "body.width")
	again := m.panel("on edge", need("Pear", "Pear", "Robinia", "Robinia"))
	kept := again["wood"].(object)["parts"].(object)["kept"].([]any)[0].(object)
	assert.Equal(t, "Stripes", kept["name"])
	assert.Equal(t, []any{"Pear", "Pear", "Robinia", "Robinia"}, kept["species"].([]any)[:4])
	found := false
	for _, v := range again["wood"].(object)["verdicts"].([]any) {
		found = found || v.(object)["check"] == "pattern"
	}
	assert.True(t, found, "a pattern that was there before is told")
}

// The budget of a draft while a strip is dragged is 16 ms at p95.
func BenchmarkDraftOfAStrip(b *testing.B) {
	m := newSite(b).sample()
	p := m.piece("chevron")
	slab := p["slab"].(object)
	glued := slab["glue"].(object)
	strips := glued["strips"].([]any)
	var bodies [][]byte
	for i := range strips { // each dragged to the next place
		next := slices.Clone(strips)
		k := (i + 1) % len(next)
		next[i], next[k] = next[k], next[i]
		glued["strips"] = next
		bodies = append(bodies, encode(slab))
	}
	var took []time.Duration
	for b.Loop() {
		begin := time.Now()
		status, _, _ := m.raw("POST", "/api/pieces/"+id(p)+"/draft", bodies[len(took)%len(bodies)])
		took = append(took, time.Since(begin))
		if status != 200 {
			b.Fatal(status)
		}
	}
	p95(b, took)
}
