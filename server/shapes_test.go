package server_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// board reads a board by a part of its name.
func (m *maker) board(name string) object {
	m.t.Helper()
	_, list := m.call("GET", "/api/boards", nil)
	for _, l := range list["items"].([]any) {
		if strings.Contains(l.(object)["name"].(string), name) {
			_, sheet := m.call("GET", "/api/boards/"+l.(object)["id"].(string), nil)
			return sheet
		}
	}
	m.t.Fatalf("no board %q", name)
	return nil
}

// list asks for a list.
func (m *maker) list(path string) (out []any) {
	m.t.Helper()
	_, _, data := m.raw("GET", path, nil)
	_ = json.Unmarshal(data, &out) // a refusal is no list
	return out
}

// at is what a path of names and places leads to in an answer.
func at(v any, path ...any) any {
	for _, p := range path {
		switch p := p.(type) {
		case string:
			v = v.(object)[p]
		case int:
			v = v.([]any)[p]
		}
	}
	return v
}

func (m *maker) save(sheet object) (int, object) {
	m.t.Helper()
	return m.call(
		"PUT",
		"/api/boards/"+at(sheet, "board", "id").(string),
		object{"version": sheet["version"], "board": sheet["board"]},
	)
}

func TestTemplatesAreKept(t *testing.T) {
	site := newSite(t)
	m, stranger := site.sample(), site.other()
	paddle := m.board("Beekeeper")
	status, kept := m.call(
		"POST",
		"/api/templates",
		object{"name": "small paddle", "design": at(paddle, "board", "design")},
	)
	require.Equal(t, 200, status)
	assert.NotEmpty(t, kept["path"])
	status, problem := m.call("POST", "/api/templates", object{"name": "", "design": at(paddle, "board", "design")})
	assert.Equal(t, 422, status)
	assert.Equal(t, "name", at(problem, "errors", 0, "location"))
	assert.Len(t, m.list("/api/templates"), 1)
	assert.Empty(t, stranger.list("/api/templates"), "another workshop's shapes are not shown")
	status, _ = stranger.call("DELETE", "/api/templates/"+kept["id"].(string), nil)
	assert.Equal(t, 404, status)
	status, _ = m.call("DELETE", "/api/templates/"+kept["id"].(string), nil)
	assert.Equal(t, 204, status)
	assert.Empty(t, m.list("/api/templates"))
}

func TestEarlierVersionsComeBack(t *testing.T) {
	site := newSite(t)
	m := site.sample()
	sheet := m.board("cheese")
	length := at(sheet, "board", "design", "length")
	for _, to := range []float64{350, 340} { // two changes within minutes are one
		at(sheet, "board", "design").(object)["length"] = to
		status, saved := m.save(sheet)
		require.Equal(t, 200, status)
		sheet = saved
	}
	url := "/api/boards/" + at(sheet, "board", "id").(string) + "/versions"
	versions := m.list(url)
	require.Len(t, versions, 1)
	assert.Equal(t, length, at(versions[0], "board", "design", "length"))
	assert.NotEmpty(t, at(versions[0], "path"))
	assert.Empty(t, site.other().list(url))
}

// A board is set beside what it was: each reckoned where it lies, nothing stored, and not
// for another workshop.
func TestVariantsSideBySide(t *testing.T) {
	site := newSite(t)
	m := site.sample()
	sheet := m.board("cheese")
	now, longer := sheet["board"].(object), object{}
	text, err := json.Marshal(now)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &longer))
	longer["design"].(object)["length"] = at(now, "design", "length").(float64) + 60
	url := "/api/boards/" + at(sheet, "board", "id").(string) + "/variants"
	asked, err := json.Marshal(object{"boards": []any{now, longer}})
	require.NoError(t, err)
	status, _, answer := m.raw("POST", url, asked)
	require.Equal(t, 200, status, "%s", answer)
	var body []object
	require.NoError(t, json.Unmarshal(answer, &body))
	require.Len(t, body, 2)
	assert.Greater(t, at(body[1], "mass").(float64), at(body[0], "mass").(float64))
	assert.Positive(t, at(body[0], "handsOn").(float64))
	assert.Equal(
		t,
		at(now, "design", "length"),
		at(m.board("cheese"), "board", "design", "length"),
		"nothing is stored",
	)
	status, _ = site.other().call("POST", url, object{"boards": []any{now}})
	assert.Equal(t, 404, status)
}

func TestABoardIsDrawnOnFreely(t *testing.T) {
	m := newSite(t).sample()
	sheet := m.board("Beekeeper")
	url := "/api/boards/" + at(sheet, "board", "id").(string)
	status, nodes := m.call("POST", url+"/nodes", sheet["board"].(object))
	require.Equal(t, 200, status)
	require.Greater(t, len(nodes["nodes"].([]any)), 6)
	design := at(sheet, "board", "design").(object)
	design["shape"], design["nodes"] = "free", nodes["nodes"]
	status, saved := m.save(sheet)
	require.Equal(t, 200, status)
	area := func(s object) float64 {
		for _, f := range at(s, "reckoning", "boards", 0, "figures").([]any) {
			if at(f, "key") == "shape.area" {
				return at(f, "value").(float64)
			}
		}
		return 0
	}
	assert.InEpsilon(t, area(m.board("Beekeeper")), area(saved), 0.001)
	status, half := m.call("POST", url+"/nodes?half=true", sheet["board"].(object))
	require.Equal(t, 200, status)
	assert.Equal(t, true, half["half"])
	for _, n := range half["nodes"].([]any) {
		assert.GreaterOrEqual(t, at(n, "y"), 0.0, "half of a template lies on one side")
	}
	design["nodes"] = []object{{"x": 0, "y": 0}, {"x": 100, "y": 100}, {"x": 100, "y": 0}, {"x": 0, "y": 100}}
	sheet["version"] = saved["version"]
	status, problem := m.save(sheet)
	assert.Equal(t, 422, status)
	assert.Equal(t, "board.design.nodes", at(problem, "errors", 0, "location"))
}

func TestSameAgain(t *testing.T) {
	m := newSite(t).sample()
	sheet := m.board("cheese")
	url := "/api/boards/" + at(sheet, "board", "id").(string)
	status, laid := m.call("POST", url+"/copies", object{"version": sheet["version"], "count": 8})
	require.Equal(t, 200, status)
	require.Len(t, laid["boards"], 8)
	_, copied := m.call("GET", "/api/boards/"+at(laid, "boards", 7).(string), nil)
	assert.Equal(t, at(sheet, "board", "design"), at(copied, "board", "design"))
	assert.Contains(t, at(copied, "board", "name"), ", 9")
	status, _ = m.call("POST", url+"/copies", object{"version": sheet["version"], "count": 8})
	assert.Equal(t, 409, status, "made on a version that is not the newest")
	status, _ = m.call("POST", url+"/copies", object{"version": 2, "count": 99})
	assert.Equal(t, 422, status)
}

func TestSplitAndMate(t *testing.T) {
	site := newSite(t)
	m := site.sample()
	sheet := m.board("bread")
	url := "/api/boards/" + at(sheet, "board", "id").(string)
	line := []object{
		{"x": -200, "y": 10, "kind": "smooth"},
		{"x": 0, "y": -20, "kind": "smooth"},
		{"x": 200, "y": 10, "kind": "smooth"},
	}
	status, _ := m.call("POST", url+"/split", object{"version": sheet["version"], "line": line[:2], "gap": 0.8})
	assert.Equal(t, 422, status)
	status, laid := m.call("POST", url+"/split", object{"version": sheet["version"], "line": line, "gap": 0.8})
	require.Equal(t, 200, status, laid)
	_, first := m.call("GET", url, nil)
	set := at(first, "reckoning", "boards", 0, "shape", "set").([]any)
	require.Len(t, set, 1)
	level := ""
	for _, v := range at(first, "reckoning", "boards", 0, "verdicts").([]any) {
		if at(v, "check") == "mate" {
			level = at(v, "level").(string)
		}
	}
	assert.Equal(t, "good", level)
	_, second := m.call("GET", "/api/boards/"+at(laid, "boards", 0).(string), nil)
	assert.Equal(t, at(first, "board", "id"), at(second, "board", "mates", 0, "board"))
	status, laid = m.call(
		"POST",
		url+"/mate",
		object{"version": first["version"], "side": "handle end", "width": 80, "gap": 1},
	)
	require.Equal(t, 200, status, laid)
	status, _ = site.other().call("POST", url+"/mate", object{"version": 3, "side": "left", "width": 80, "gap": 1})
	assert.Equal(t, 404, status)
}

// Three boards of one plank, cut along straight lines, nest in every order: each pair can be
// asked to mate, or each with the middle one, and a pair that nests nowhere is named.
func TestASetIsAskedToMate(t *testing.T) {
	m := newSite(t).sample()
	sheet := m.board("bread")
	board := sheet["board"].(object)
	design := board["design"].(object)
	design["handle"].(object)["kind"] = "none"
	for field, v := range (object{"shape": "rectangle", "length": 300, "width": 150, "corner": 0}) {
		design[field] = v
	}
	for _, field := range []string{"more", "recesses", "edges", "asCut", "slant"} {
		delete(design, field)
	}
	url := "/api/boards/" + id(board)
	status, sheet := m.call("PUT", url, object{"version": sheet["version"], "board": board})
	require.Equal(t, 200, status, sheet)
	status, laid := m.call(
		"POST",
		url+"/mate",
		object{"version": sheet["version"], "side": "right", "width": 60, "gap": 1},
	)
	require.Equal(t, 200, status, laid)
	_, sheet = m.call("GET", url, nil)
	status, laid = m.call(
		"POST",
		url+"/mate",
		object{"version": sheet["version"], "side": "left", "width": 60, "gap": 1},
	)
	require.Equal(t, 200, status, laid)

	_, set := m.call("GET", url+"/set?gap=1", nil)
	require.Len(t, set["boards"], 3)
	pairs := set["pairs"].([]any)
	require.Len(t, pairs, 6, "each against every other, both ways")
	must := 0
	for _, p := range pairs {
		assert.Equal(t, true, at(p, "fits"), p)
		if at(p, "must") == true {
			must++
		}
	}
	assert.Equal(t, 4, must, "the board with either mate; the two mates not with each other")
	status, problem := m.call("POST", url+"/set", object{"which": "every pair", "gap": 1})
	require.Equal(t, 204, status, problem)
	_, set = m.call("GET", url+"/set?gap=1", nil)
	for _, p := range set["pairs"].([]any) {
		assert.Equal(t, true, at(p, "must"))
	}
	for _, b := range set["boards"].([]any) {
		_, s := m.call("GET", "/api/boards/"+at(b, "id").(string), nil)
		judged := 0
		for _, v := range at(s, "reckoning", "boards", 0, "verdicts").([]any) {
			if at(v, "check") == "mate" {
				judged++
				assert.Equal(t, "good", at(v, "level"), at(v, "finding"))
			}
		}
		assert.Equal(t, 2, judged, at(b, "name"))
	}
	status, _ = m.call("GET", url+"/set?gap=99", nil)
	assert.Equal(t, 422, status)
}

// A board that nests with one on another slab is measured against it, on its
// sheet and in the list, whenever either changes; never against a stranger's.
func TestAMateOnAnotherSlab(t *testing.T) {
	site := newSite(t)
	m := site.sample()
	cheese, bread := m.board("cheese"), m.board("bread")
	require.NotEqual(t, cheese["piece"], bread["piece"])
	id := at(bread, "board", "id").(string)
	mateOf := func(s object) (level string) {
		for _, v := range at(s, "reckoning", "boards", 0, "verdicts").([]any) {
			if at(v, "check") == "mate" {
				level = at(v, "level").(string)
			}
		}
		return level
	}
	cheese["board"].(object)["mates"] = []object{
		{"board": id, "gap": 0.8, "at": object{"x": 0, "y": 10, "angle": 0, "flip": false}},
	}
	status, saved := m.save(cheese)
	require.Equal(t, 200, status, saved)
	assert.Equal(t, "stop", mateOf(saved), "one upon the other")
	inList := func() (level string) {
		_, list := m.call("GET", "/api/boards", nil)
		for _, b := range list["items"].([]any) {
			if at(b, "id") == at(cheese, "board", "id") {
				level = at(b, "level").(string)
			}
		}
		return level
	}
	assert.Equal(t, "stop", inList())

	// The other is made small, and stands far off: it hardly touches.
	design := at(bread, "board", "design").(object)
	design["shape"], design["length"], design["width"], design["corner"] = "rectangle", 60, 40, 2
	bread["board"].(object)["mates"] = nil
	cheese["board"].(object)["mates"].([]object)[0]["at"].(object)["y"] = 900
	cheese["version"] = saved["version"]
	_, saved = m.save(cheese)
	assert.Equal(t, "mind", mateOf(saved))
	status, _ = m.save(bread)
	require.Equal(t, 200, status)
	_, drafted := m.call(
		"POST",
		"/api/boards/"+at(cheese, "board", "id").(string)+"/draft?weigh=true",
		cheese["board"].(object),
	)
	set := at(drafted, "boards", 0, "shape", "set").([]any)
	require.Len(t, set, 1)
	assert.Contains(t, at(set[0], "path"), "30", "as the other is now")

	stranger := site.other()
	_, piece := stranger.call("POST", "/api/pieces", m.piece("Weir")["slab"].(object))
	_, theirs := stranger.call("POST", "/api/boards", object{"piece": piece["id"], "name": "Theirs"})
	theirs["board"].(object)["mates"] = []object{
		{"board": id, "gap": 0.8, "at": object{"x": 0, "y": 10, "angle": 0, "flip": false}},
	}
	status, seen := stranger.save(theirs)
	require.Equal(t, 200, status)
	assert.Empty(t, at(seen, "reckoning", "boards", 0, "shape", "set"), "nobody measures another workshop's board")
}

// A draft works out remedies, and what each would make worse, only when it is asked.
func TestADraftWeighsRemedies(t *testing.T) {
	m := newSite(t).sample()
	sheet := m.board("bread")
	design := at(sheet, "board", "design").(object)
	for k, v := range (object{"shape": "rectangle", "length": 360, "width": 140, "thickness": 20, "recesses": []object{
		{"kind": "well", "length": 120, "width": 80, "radius": 6, "depth": 12, "juice": 125, "x": 0, "y": 0}}}) {
		design[k] = v
	}
	design["handle"].(object)["kind"] = "none"
	asked := func(query string) (remedies, worsen int) {
		status, drafted := m.call(
			"POST",
			"/api/boards/"+at(sheet, "board", "id").(string)+"/draft"+query,
			sheet["board"].(object),
		)
		require.Equal(t, 200, status, drafted)
		for _, v := range at(drafted, "boards", 0, "verdicts").([]any) {
			for _, r := range at(v, "remedies").([]any) {
				remedies++
				if r.(object)["worsens"] != nil {
					worsen++
				}
			}
		}
		return remedies, worsen
	}
	remedies, _ := asked("")
	assert.Zero(t, remedies)
	remedies, worsen := asked("?weigh=true")
	assert.Positive(t, remedies)
	assert.Positive(t, worsen)
}

func TestFilesForTheShop(t *testing.T) {
	site := newSite(t)
	m := site.sample()
	sheet := m.board("Beekeeper")
	url, stranger := "/api/boards/"+at(sheet, "board", "id").(string), site.other()
	for name, starts := range map[string]string{"/template.pdf": "%PDF", "/template.pdf?paper=Whole&half=true": "%PDF",
		"/template.pdf?paper=Tabloid": "%PDF", "/outline.svg": "<?xml", "/outline.dxf": "0\nSECTION"} {
		status, _, body := m.raw("GET", url+name, nil)
		assert.Equal(t, 200, status, name)
		assert.True(t, strings.HasPrefix(string(body), starts), name)
		status, _, _ = stranger.raw("GET", url+name, nil)
		assert.Equal(t, 404, status, name)
	}
	status, _, _ := m.raw("GET", url+"/template.pdf?paper=Napkin", nil)
	assert.Equal(t, 422, status)
}

// Whatever shape is typed, half of it or wrong, the answer is a reckoning or a
// list of fields.
func TestOddShapesNeverCrash(t *testing.T) {
	m := newSite(t).sample()
	sheet := m.board("Beekeeper")
	url := "/api/boards/" + at(sheet, "board", "id").(string) + "/draft"
	design := at(sheet, "board", "design").(object)
	for i, change := range []object{
		{"shape": "free", "nodes": []object{}}, {"shape": "half moon", "width": 900.0, "length": 40.0},
		{"shape": "heart", "shoulder": 900.0, "tip": 900.0}, {"shape": "teardrop", "tip": 900.0},
		{"shape": "blade", "angle": 59.0, "width": 900.0}, {"shape": "plank", "keepLeft": true, "inset": 400.0},
		{"shape": "plank", "farEnd": object{"kind": "tab", "width": 3000.0, "length": 2900.0, "round": 900.0}},
		{"handle": object{"kind": "own", "nodes": []object{{"x": 0.0, "y": 0.0}}}},
		{"handle": object{"kind": "notch", "diameter": 300.0, "length": 1000.0, "setback": 4.0}},
		{"handle": object{"kind": "crescent", "diameter": 400.0, "length": 5.0, "setback": 50.0}},
		{"recesses": []object{{"kind": "groove", "depth": 90.0, "radius": 1.0, "inset": 499.0, "x": 0.0, "y": 0.0}}},
		{"recesses": []object{{"kind": "ring", "depth": 9.0, "radius": 30.0, "length": 10.0, "x": 0.0, "y": 0.0}}},
		{"recesses": []object{{"kind": "slope", "depth": 9.0, "deep": 9.0, "radius": 30.0, "length": 10.0, "width": 8.0,
			"x": 2000.0, "y": 0.0, "count": 24, "spread": "middle"}}}, {"slant": 60.0},
		{"edges": []object{{"where": "left", "kind": "bevel", "size": 50.0, "angle": 1.0}}},
	} {
		was := object{}
		for k, v := range change {
			was[k] = design[k]
			design[k] = v
		}
		status, answer := m.call("POST", url, sheet["board"].(object))
		assert.Contains(t, []int{200, 422}, status, fmt.Sprint(i, answer))
		for k, v := range was {
			if v == nil {
				delete(design, k)
			} else {
				design[k] = v
			}
		}
	}
}
