package server_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/server"
)

// atThePour is a board of the sample shop at its pour: all before is done, and the pour begun.
func (m *maker) atThePour(name string) (path string) {
	m.t.Helper()
	_, list := m.call("GET", "/api/boards", nil)
	for _, b := range list["items"].([]any) {
		if strings.HasPrefix(b.(object)["name"].(string), name) {
			path = "/api/boards/" + id(b.(object))
		}
	}
	require.NotEmpty(m.t, path)
	_, sheet := m.call("GET", path, nil)
	for _, s := range reckonedOf(sheet)["course"].(object)["steps"].([]any) {
		step := s.(object)
		if step["key"] == "pour-1" {
			status, _ := m.call("POST", path+"/log", object{"step": "pour-1", "event": "start", "minutes": 0})
			require.Equal(m.t, 200, status)
			return path
		}
		if step["state"] != "done" {
			status, said := m.call("POST", path+"/log", object{"step": step["key"], "event": "finish", "minutes": 4})
			require.Equal(m.t, 200, status, said)
		}
	}
	require.Fail(m.t, "no pour")
	return ""
}

func reckonedOf(sheet object) object {
	return sheet["reckoning"].(object)["boards"].([]any)[0].(object)
}

func pouringOf(sheet object) object { return reckonedOf(sheet)["pourings"].([]any)[0].(object) }

// A pour from the scale to the account, over HTTP; what it came to is learned, and taken back with
// the note.
func TestAPourIsWrittenDown(t *testing.T) {
	m := newSite(t).sample()
	path := m.atThePour("Gatekeepers")
	note := func(more object) object {
		t.Helper()
		body := object{"step": "pour-1", "event": "note", "minutes": 0}
		for k, v := range more {
			body[k] = v
		}
		status, sheet := m.call("POST", path+"/log", body)
		require.Equal(t, 200, status, sheet)
		return pouringOf(sheet)
	}
	p := note(object{"what": "tare", "shown": 11.4})
	assert.Equal(t, "resin", p["ask"].(object)["what"])
	want := p["ask"].(object)["grams"].(float64)
	p = note(object{"what": "resin", "shown": 11.4 + want + 1})
	assert.InDelta(t, want+1, p["weighed"].([]any)[0].(object)["resinG"], 1e-9, "what the scale shows, less the cup")
	assert.Equal(t, "hardener", p["ask"].(object)["what"])
	hard := p["ask"].(object)["grams"].(float64)
	p = note(object{"what": "hardener", "value": hard})
	assert.Equal(t, "mix", p["phase"])
	note(object{"what": "mix"})
	p = note(object{"what": "poured"})
	assert.Equal(t, "watch", p["phase"])
	for p["phase"] == "watch" {
		p = note(object{"what": "look", "value": 0.4})
	}
	p = note(object{"what": "used", "value": 5})
	assert.Equal(t, "over", p["phase"])
	_, sheet := m.call("GET", path, nil)
	assert.Equal(t, p, pouringOf(sheet), "a page that was away comes back to the same place")

	// It teaches: another pour of the shop is mixed by it.
	soak := func() (v float64) {
		_, sheet := m.call("GET", path, nil)
		for _, f := range reckonedOf(sheet)["figures"].([]any) {
			if f.(object)["key"] == "fill.total" {
				for _, term := range f.(object)["terms"].([]any) {
					if term.(object)["name"] == "soak" {
						v = term.(object)["value"].(float64)
					}
				}
			}
		}
		return v
	}
	assert.Greater(t, soak(), 1.10)
	note(object{"what": "back"})
	assert.InDelta(t, 1.10, soak(), 1e-9, "taken back, it teaches nothing")

	// The log is in words.
	_, _, data := m.raw("GET", "/api/log", nil)
	assert.Contains(t, string(data), "scale set to nought")

	for _, wrong := range []object{
		{"step": "pour-1", "event": "note", "minutes": 0, "what": "song"},
		{"step": "pour-1", "event": "note", "minutes": 0, "what": "resin", "value": 0},
		{"step": "pour-1", "event": "note", "minutes": 0, "what": "resin", "shown": -3},
		{"step": "sand-80", "event": "note", "minutes": 0, "what": "resin", "value": 5},
		{"step": "nothing", "event": "note", "minutes": 0, "what": "resin", "value": 5},
		{"step": "dam", "event": "note", "minutes": 0, "what": "leak"},
		{"step": "dam", "event": "note", "minutes": 0, "what": "leak", "place": object{"x": 1e300, "y": 0}},
	} {
		status, said := m.call("POST", path+"/log", wrong)
		assert.Equal(t, 422, status, "%v: %v", wrong, said)
	}
}

// A leak is kept where it was marked, however the board is moved after.
func TestLeaksAreMarkedOnTheWood(t *testing.T) {
	m := newSite(t).sample()
	path := m.atThePour("Gatekeepers")
	status, sheet := m.call("POST", path+"/log", object{
		"step": "dam", "event": "note", "minutes": 0, "what": "leak", "place": object{"x": 40, "y": -12},
	})
	require.Equal(t, 200, status, sheet)
	at := pouringOf(sheet)["leaks"].([]any)[0].(object)
	board := sheet["board"].(object)["placement"].(object)
	assert.InDelta(t, board["x"].(float64)+40, at["x"], 3, "turned by a degree or two")
	assert.InDelta(t, board["y"].(float64)-12, at["y"], 3)
}

// No round is left when none are found; the plan is shorter by it.
func TestNoPinholesLeft(t *testing.T) {
	m := newSite(t).sample()
	path := m.atThePour("Gatekeepers")
	rounds := func(sheet object) (n int) {
		for _, s := range reckonedOf(sheet)["course"].(object)["steps"].([]any) {
			if key := s.(object)["key"].(string); strings.HasPrefix(key, "pinholes-") &&
				!strings.HasSuffix(key, "-flush") {
				n++
			}
		}
		return n
	}
	look := func(round string, holes int) object {
		status, sheet := m.call("POST", path+"/log", object{
			"step": "pinholes-" + round, "event": "note", "minutes": 0, "what": "holes", "value": holes,
		})
		require.Equal(t, 200, status, sheet)
		return sheet
	}
	assert.Equal(t, 2, rounds(look("1", 5)))
	assert.Equal(t, 3, rounds(look("2", 1)))
	assert.Equal(t, 2, rounds(look("3", 0)))
}

// A scale: what it sends has settled when two readings agree; nonsense is refused and said, and
// nothing of it is kept.
func TestAScaleThatSendsNonsense(t *testing.T) {
	at := now
	m := newSite(t, func(c *server.Config) { c.Clock = func() time.Time { return at } }).sample()
	status, scale := m.call(
		"POST",
		"/api/instruments",
		object{"name": "real scale", "kind": "scale", "simulated": false},
	)
	require.Equal(t, 200, status)
	push := func(body string) (int, string) {
		req, err := http.NewRequest(http.MethodPost, m.url+"/api/readings", strings.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Authorization", "Bearer "+scale["key"].(string))
		req.Header.Set("Content-Type", "application/json")
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		var said json.RawMessage
		_ = json.NewDecoder(res.Body).Decode(&said)
		return res.StatusCode, string(said)
	}
	for _, nonsense := range []string{
		`{}`, `{"grams": 1e12}`, `{"grams": "much"}`, `{"percent": 9}`, `{"grams": null}`, `[]`, `grams`,
	} {
		status, said := push(nonsense)
		assert.GreaterOrEqual(t, status, 400, "%s: %s", nonsense, said)
		assert.Less(t, status, 500, nonsense)
	}
	last := func() any {
		_, _, data := m.raw("GET", "/api/instruments", nil)
		var all []object
		require.NoError(t, json.Unmarshal(data, &all))
		for _, i := range all {
			if id(i) == id(scale) {
				return i["last"]
			}
		}
		return nil
	}
	assert.Nil(t, last(), "nothing was kept")
	stream := m.listen()
	next := func() (r object) {
		for {
			line, err := stream.ReadString('\n')
			require.NoError(t, err)
			if text, ok := strings.CutPrefix(line, "data: "); ok && strings.Contains(text, "settled") {
				require.NoError(t, json.Unmarshal([]byte(text), &r))
				return r
			}
		}
	}
	for _, c := range []struct {
		grams   string
		later   time.Duration
		settled bool
	}{
		{"118.4", time.Second, false}, {"118.5", time.Second, true}, {"430", time.Second, false}, // it jumps
		{"118.4", time.Second, false}, {"118.4", 9 * time.Second, false}, {"118.4", time.Second, true},
	} {
		at = at.Add(c.later)
		status, said := push(`{"grams": ` + c.grams + `}`)
		require.Equal(t, 204, status, said)
		r := next()
		assert.Equal(t, c.settled, r["settled"], "%+v", c)
	}
	assert.InDelta(t, 118.4, last().(object)["grams"], 1e-9)

	// More than the scale is said to bear is nonsense too.
	_, shop := m.call("GET", "/api/shop", nil)
	shop["shop"].(object)["scaleMost"] = 500
	status, _ = m.call("PUT", "/api/shop", shop)
	require.Equal(t, 200, status)
	status, said := push(`{"grams": 600}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "500")
}
