package server_test

import (
	"bufio"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// wished is what a search asks for.
func wished(fresh any, length, width float64, least, most int) object {
	var board object
	text, _ := json.Marshal(fresh)
	_ = json.Unmarshal(text, &board)
	board["id"], board["name"] = "wish", "Wish"
	design := board["design"].(object)
	design["length"], design["width"] = length, width
	return object{"board": board, "least": least, "most": most, "turn": true}
}

// watch reads the news of a search until want is satisfied.
func (m *maker) watch(id string, want func(object) bool) object {
	m.t.Helper()
	res, err := m.Get(m.url + "/api/searches/" + id + "/news")
	require.NoError(m.t, err)
	defer res.Body.Close()
	require.Equal(m.t, http.StatusOK, res.StatusCode)
	lines := bufio.NewScanner(res.Body)
	lines.Buffer(nil, 1<<22)
	for lines.Scan() {
		data, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		var news object
		require.NoError(m.t, json.Unmarshal([]byte(data), &news))
		if want(news) {
			return news
		}
	}
	m.t.Fatalf("the news ended: %v", lines.Err())
	return nil
}

func is(state string) func(object) bool {
	return func(n object) bool { return n["state"] == state }
}

func (m *maker) search(piece string, seconds float64, wishes ...object) string {
	m.t.Helper()
	status, doc := m.call(
		"POST",
		"/api/pieces/"+piece+"/searches",
		object{"boards": []any{}, "seconds": seconds, "seeking": object{"wants": wishes}},
	)
	require.Equal(m.t, 200, status, doc)
	return doc["id"].(string)
}

func TestSearchesRunOneAtATime(t *testing.T) {
	m := newSite(t).sample()
	piece := id(m.piece("Chestnut"))
	_, layout := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	wish := wished(layout["fresh"], 150, 90, 1, 6)
	first := m.search(piece, 100, wish)
	second := m.search(piece, 100, wish)
	news := m.watch(first, func(n object) bool { return n["state"] == "running" && len(n["proposals"].([]any)) > 0 })
	assert.Equal(t, true, news["proposals"].([]any)[0].(object)["met"])
	assert.EqualValues(t, 1, m.watch(second, is("waiting"))["ahead"])

	status, _ := m.call("POST", "/api/searches/"+first+"/stop", nil)
	assert.Equal(t, 204, status)
	stopped := m.watch(first, is("stopped"))
	assert.NotEmpty(t, stopped["proposals"], "the best is kept")
	m.watch(second, is("running"))

	// Another workshop does not hear of it.
	other := m.other()
	res, err := other.Get(other.url + "/api/searches/" + second + "/news")
	require.NoError(t, err)
	defer res.Body.Close()
	lines := bufio.NewScanner(res.Body)
	for lines.Scan() {
		assert.NotContains(t, lines.Text(), "proposals")
	}
	status, _ = other.call("POST", "/api/searches/"+second+"/stop", nil)
	assert.Equal(t, 404, status)
	status, _ = other.call("GET", "/api/pieces/"+piece+"/layout", nil)
	assert.Equal(t, 404, status)

	m.call("POST", "/api/searches/"+second+"/stop", nil)
	m.watch(second, is("stopped"))
}

func TestASearchThatNobodyWatchesIsGivenUp(t *testing.T) {
	m := newSite(t).sample()
	piece := id(m.piece("Chestnut"))
	_, layout := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	wish := wished(layout["fresh"], 150, 90, 1, 6)
	first := m.search(piece, 100, wish)
	second := m.search(piece, 0.1+0.9, wish)
	// Nobody watches the first, so that the second comes to run before 100 s.
	start := time.Now()
	m.watch(second, is("done"))
	assert.Less(t, time.Since(start), 60*time.Second)
	status, _ := m.call("POST", "/api/searches/"+first+"/stop", nil)
	assert.Contains(t, []int{204, 404}, status)
}

func TestWhatASearchRefuses(t *testing.T) {
	m := newSite(t).sample()
	piece := id(m.piece("Chestnut"))
	_, layout := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	status, problem := m.call(
		"POST",
		"/api/pieces/"+piece+"/searches",
		object{
			"boards":  []any{},
			"seconds": 5,
			"seeking": object{"wants": []any{wished(layout["fresh"], 150, 90, 9, 2)}},
		},
	)
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(problem), "wants[0].least")
	status, _ = m.call(
		"POST",
		"/api/pieces/"+piece+"/searches",
		object{
			"boards":  []any{},
			"seconds": 500,
			"seeking": object{"wants": []any{wished(layout["fresh"], 150, 90, 0, 2)}},
		},
	)
	assert.Equal(t, 422, status)
}

func TestALayoutIsStoredAsAWhole(t *testing.T) {
	m := newSite(t).sample()
	piece := id(m.piece("Weir"))
	_, layout := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	boards := layout["boards"].([]any)
	require.NotEmpty(t, boards)
	first := boards[0].(object)
	first["board"].(object)["placement"].(object)["x"] = 333.0
	var fresh object
	text, _ := json.Marshal(layout["fresh"])
	require.NoError(t, json.Unmarshal(text, &fresh))
	fresh["id"] = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e5f"
	status, after := m.call(
		"PUT",
		"/api/pieces/"+piece+"/layout",
		object{"boards": []any{first, object{"version": 0, "board": fresh}}},
	)
	require.Equal(t, 200, status, after)
	assert.Len(t, after["boards"], len(boards)+1)

	// A stale save changes nothing and brings what is stored.
	first["board"].(object)["placement"].(object)["x"] = 444.0
	fresh["id"] = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e60"
	status, both := m.call(
		"PUT",
		"/api/pieces/"+piece+"/layout",
		object{"boards": []any{object{"version": 0, "board": fresh}, first}},
	)
	assert.Equal(t, 409, status)
	assert.Len(t, both["stored"], len(boards)+1)
	_, now := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	assert.Len(t, now["boards"], len(boards)+1)

	// An id in use is refused, also when another workshop uses it.
	fresh["id"] = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e5f"
	status, _ = m.call(
		"PUT",
		"/api/pieces/"+piece+"/layout",
		object{"boards": []any{object{"version": 0, "board": fresh}}},
	)
	assert.Equal(t, 422, status)

	status, after = m.call(
		"PUT",
		"/api/pieces/"+piece+"/layout",
		object{"boards": []any{}, "binned": []any{fresh["id"]}},
	)
	require.Equal(t, 200, status)
	assert.Len(t, after["boards"], len(boards))
	status, after = m.call(
		"PUT",
		"/api/pieces/"+piece+"/layout",
		object{"boards": []any{object{"version": 1, "board": fresh}}},
	)
	require.Equal(t, 200, status, after)
	assert.Len(t, after["boards"], len(boards)+1, "it comes out of the bin")
}

func TestTheBiggestOnAPiece(t *testing.T) {
	m := newSite(t).sample()
	piece := id(m.piece("Chestnut"))
	_, layout := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	wish := wished(layout["fresh"], 150, 90, 1, 1)
	status, clean := m.call(
		"POST",
		"/api/pieces/"+piece+"/biggest",
		object{"boards": []any{}, "board": wish["board"], "free": true},
	)
	require.Equal(t, 200, status, clean)
	assert.Greater(t, clean["area"], 30000.0)
	status, _ = m.call(
		"POST",
		"/api/pieces/"+piece+"/biggest",
		object{"boards": []any{}, "board": wish["board"], "free": true, "spot": object{"x": -50, "y": 0}},
	)
	assert.Equal(t, 422, status)
}

// A board's twin on the other of two leaves goes where its board goes, in the
// mirror; whichever of them is changed, and until it is let go.
func TestTwinsOnTwoLeaves(t *testing.T) {
	site := newSite(t)
	m := site.sample()
	p := m.piece("Chestnut")
	slab := p["slab"].(object)
	slab["readings"], slab["name"], slab["flaws"] = []object{
		{"x": 100, "y": 0, "thickness": 70},
	}, "To be opened", []object{}
	_, thick := m.call("POST", "/api/pieces", slab)
	status, made := m.call(
		"POST",
		"/api/pieces/"+id(thick)+"/resaw",
		object{"version": thick["version"], "how": object{"leaves": 2, "kerf": 1.5, "cleanup": 1, "matched": true}},
	)
	require.Equal(t, 200, status, made)
	here, there := at(made, "pieces", 0).(string), at(made, "pieces", 1).(string)
	get := func(piece string) object {
		_, doc := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
		return doc
	}
	layout := get(here)
	assert.Equal(t, there, at(layout, "partner", "id"))
	const one, two = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e81", "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e82"
	board := wished(layout["fresh"], 220, 90, 1, 1)["board"].(object)
	board["id"], board["placement"], board["twin"] = one, object{
		"x":     300,
		"y":     21,
		"angle": 4,
		"flip":  false,
	}, object{
		"board": two,
		"piece": there,
	}
	design := board["design"].(object)
	design["shape"], design["angle"] = "blade", 15

	// A draft tells how the twin lies before there is one.
	_, drafted := m.call("POST", "/api/pieces/"+here+"/layout/draft", object{"boards": []any{board}})
	require.Len(t, drafted["twins"], 1)
	assert.Equal(t, two, at(drafted, "twins", 0, "id"))
	status, saved := m.call(
		"PUT",
		"/api/pieces/"+here+"/layout",
		object{"boards": []any{object{"version": 0, "board": board}}},
	)
	require.Equal(t, 200, status, saved)
	twin := func() object { return at(get(there), "boards", 0, "board").(object) }
	assert.Equal(t, object{"x": 300.0, "y": -21.0, "angle": -4.0, "flip": false}, twin()["placement"])
	assert.Equal(t, -15.0, at(twin(), "design", "angle"))
	assert.Equal(t, one, at(twin(), "twin", "board"))

	// Moved there, it moves here; changed on its sheet, the twin changes.
	back := at(get(there), "boards", 0).(object)
	back["board"].(object)["placement"] = object{"x": 350, "y": -10, "angle": 0, "flip": false}
	status, saved = m.call("PUT", "/api/pieces/"+there+"/layout", object{"boards": []any{back}})
	require.Equal(t, 200, status, saved)
	assert.Equal(
		t,
		object{"x": 350.0, "y": 10.0, "angle": 0.0, "flip": false},
		at(get(here), "boards", 0, "board", "placement"),
	)
	_, sheet := m.call("GET", "/api/boards/"+one, nil)
	at(sheet, "board", "design").(object)["width"] = 100
	status, _ = m.save(sheet)
	require.Equal(t, 200, status)
	assert.Equal(t, 100.0, at(twin(), "design", "width"))

	// A leaf that is turned over keeps its boards on the same wood.
	_, leaf := m.call("GET", "/api/pieces/"+there, nil)
	status, _ = m.call("POST", "/api/pieces/"+there+"/turn", object{"version": leaf["version"]})
	require.Equal(t, 200, status)
	turned := twin()["placement"]
	again := at(get(here), "boards", 0).(object)
	again["board"].(object)["name"] = "Renamed"
	status, saved = m.call("PUT", "/api/pieces/"+here+"/layout", object{"boards": []any{again}})
	require.Equal(t, 200, status, saved)
	assert.Equal(t, turned, twin()["placement"])

	// A search for pairs asks for the other leaf.
	wish := wished(layout["fresh"], 120, 60, 1, 2)
	wish["twin"] = true
	news := m.watch(m.search(here, 2, wish), func(n object) bool { return len(n["proposals"].([]any)) > 0 })
	assert.Equal(t, true, at(news, "proposals", 0, "met"))

	wished := object{"boards": []any{}, "seconds": 1, "seeking": object{"wants": []any{wish}}}
	status, problem := m.call("POST", "/api/pieces/"+id(p)+"/searches", wished)
	assert.Equal(t, 422, status, "a piece that is no leaf")
	assert.Contains(t, at(problem, "errors", 0, "message"), "without twins")

	// Let go, each goes its own way.
	again = at(get(here), "boards", 0).(object)
	delete(again["board"].(object), "twin")
	status, _ = m.call("PUT", "/api/pieces/"+here+"/layout", object{"boards": []any{again}})
	require.Equal(t, 200, status)
	assert.Nil(t, twin()["twin"])

	// A board that lies elsewhere, and knows nothing of it, is no twin.
	again = at(get(here), "boards", 0).(object)
	_, cheese := m.call("GET", "/api/boards", nil)
	again["board"].(object)["twin"] = object{"board": at(cheese, "items", 0, "id"), "piece": there}
	status, saved = m.call("PUT", "/api/pieces/"+here+"/layout", object{"boards": []any{again}})
	require.Equal(t, 200, status, saved)
	assert.Nil(t, at(saved, "boards", 0, "board").(object)["twin"])

	// An id that is in use in another workshop is none that a twin can have.
	_, _, mine := m.raw("GET", "/api/boards/"+one+"/job.json", nil)
	_, _, theirs := m.site.signUp("a@b.example").raw("POST", "/api/jobs", mine)
	var took object
	require.NoError(t, json.Unmarshal(theirs, &took))
	again = at(get(here), "boards", 0).(object)
	again["board"].(object)["twin"] = object{"board": at(took, "boards", 0), "piece": there}
	status, problem = m.call("PUT", "/api/pieces/"+here+"/layout", object{"boards": []any{again}})
	assert.Equal(t, 422, status, problem)
	status, problem = m.call("PUT", "/api/boards/"+one, again)
	assert.Equal(t, 422, status, problem)
	stranger := object{"boards": []any{}, "binned": []any{at(took, "boards", 0)}}
	status, problem = m.call("PUT", "/api/pieces/"+here+"/layout", stranger)
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.binned[0]", at(problem, "errors", 0, "location"))

	// Binned, it lets its twin go; a job file brings no twin along.
	again = at(saved, "boards", 0).(object)
	const three = "0b6c7e53-3f0e-4a53-9f5e-0a1b2c3d4e83"
	again["board"].(object)["twin"] = object{"board": three, "piece": there}
	status, saved = m.call("PUT", "/api/pieces/"+here+"/layout", object{"boards": []any{again}})
	require.Equal(t, 200, status, saved)
	_, _, job := m.raw("GET", "/api/boards/"+one+"/job.json", nil)
	var file object
	require.NoError(t, json.Unmarshal(job, &file))
	status, taken := m.call("POST", "/api/jobs", file)
	require.Equal(t, 200, status, taken)
	_, sheet = m.call("GET", "/api/boards/"+at(taken, "boards", 0).(string), nil)
	assert.Nil(t, sheet["board"].(object)["twin"])
	status, _ = m.call("PUT", "/api/pieces/"+here+"/layout", object{"boards": []any{}, "binned": []any{one}})
	require.Equal(t, 200, status)
	_, sheet = m.call("GET", "/api/boards/"+three, nil)
	assert.Nil(t, sheet["board"].(object)["twin"])
}
