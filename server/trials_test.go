package server_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// boardNamed is the path of a board of the sample shop.
func (m *maker) boardNamed(name string) string {
	m.t.Helper()
	_, list := m.call("GET", "/api/boards?q="+name, nil)
	require.NotEmpty(m.t, list["items"], name)
	return "/api/boards/" + id(list["items"].([]any)[0].(object))
}

// A trial is begun, scored, saved, drafted and put away; nobody reads another's.
func TestATrialOverHTTP(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, _, list := m.raw("GET", "/api/trials", nil)
	assert.Contains(t, string(list), "Two pastes")
	assert.Contains(t, string(list), "not told apart yet")

	status, made := m.call("POST", "/api/trials", object{
		"name": "Sealed ends", "question": "?", "rounds": []any{},
		"samples": []any{
			object{"mark": "plain", "treatment": "", "control": true},
			object{"mark": "hole", "treatment": "oil"},
		},
	})
	require.Equal(t, 200, status, made)
	path := "/api/trials/" + made["id"].(string)
	doc := made["trial"].(object)
	round := func(bare, oiled float64) object {
		return object{"at": "2031-03-03T19:00:00Z", "did": []any{"sponge"}, "times": 2, "scores": []any{
			object{"beads": bare}, object{"beads": oiled},
		}}
	}
	var rounds []any
	for range 6 {
		rounds = append(rounds, round(1, 7))
	}
	doc["rounds"] = rounds
	status, draft := m.call("POST", path+"/draft", doc)
	require.Equal(t, 200, status, draft)
	pair := draft["result"].(object)["pairs"].([]any)[0].(object)
	assert.InDelta(t, 2.0/64, pair["p"], 1e-12)
	assert.Equal(t, true, pair["told"])
	_, stored := m.call("GET", path, nil)
	assert.Empty(t, stored["trial"].(object)["rounds"], "a draft stores nothing")

	status, saved := m.call("PUT", path, object{"version": 1, "trial": doc})
	require.Equal(t, 200, status, saved)
	assert.Equal(t, 2.0, saved["version"])
	status, clash := m.call("PUT", path, object{"version": 1, "trial": doc})
	assert.Equal(t, 409, status)
	assert.NotEmpty(t, clash["stored"])

	_, _, csv := m.raw("GET", path+"/scores.csv", nil)
	lines := strings.Split(strings.TrimSpace(string(csv)), "\n")
	assert.Len(t, lines, 1+6*2)
	assert.Contains(t, lines[2], "hole,oil")

	doc["rounds"] = []any{object{"at": "2031-03-03T19:00:00Z", "did": []any{"kicked"}, "times": 2, "scores": []any{}}}
	status, said := m.call("PUT", path, object{"version": 2, "trial": doc})
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(said), "trial.rounds[0].did")
	other := s.other()
	for _, method := range []string{"GET", "PUT", "DELETE"} {
		status, _ := other.call(method, path, object{"version": 2, "trial": made["trial"]})
		assert.Contains(t, []int{404, 422}, status, method)
	}
	status, _ = m.call("DELETE", path, nil)
	assert.Equal(t, 204, status)
	_, _, list = m.raw("GET", "/api/trials", nil)
	assert.NotContains(t, string(list), "Sealed ends")
	status, _ = m.call("POST", path+"/restore", nil)
	assert.Equal(t, 204, status)
	status, _ = m.call("GET", "/api/trials/not-an-id", nil)
	assert.Equal(t, 404, status)
}

// Two ways of making by the log of their boards; how often a product was washed out is what the
// chooser knows it by.
func TestTrialsTeach(t *testing.T) {
	m := newSite(t).sample()
	pickers := m.boardNamed("pickers")
	ladder := m.boardNamed("ladder")
	_, made := m.call("POST", "/api/trials", object{
		"name": "By eye", "question": "", "rounds": []any{}, "samples": []any{}, "ways": []any{
			object{"name": "by eye", "boards": []any{strings.TrimPrefix(pickers, "/api/boards/")}, "liked": 2},
			object{"name": "with a template", "boards": []any{strings.TrimPrefix(ladder, "/api/boards/")}},
		},
	})
	ways := made["ways"].([]any)
	require.Len(t, ways, 2, made)
	for _, w := range ways {
		assert.Greater(t, w.(object)["minutes"], 30.0, "all their steps")
	}
	assert.NotEmpty(t, made["told"])

	_, sheet := m.call("GET", pickers, nil)
	washes := func() float64 {
		board, err := json.Marshal(sheet["board"])
		require.NoError(t, err)
		_, _, data := m.raw("POST", pickers+"/finishes", board)
		var options []object
		require.NoError(t, json.Unmarshal(data, &options))
		var paste float64
		for _, o := range options {
			if o["name"] == "paste alone" {
				paste = o["washes"].(float64)
			}
		}
		return paste
	}
	usual := washes()
	require.Positive(t, usual)
	round := func(bare, paste float64) object {
		return object{"at": "2031-03-03T19:00:00Z", "did": []any{"sponge"}, "times": 20, "scores": []any{
			object{"beads": bare}, object{"beads": paste},
		}}
	}
	status, said := m.call("POST", "/api/trials", object{
		"name": "Washed", "question": "", "rounds": []any{round(1, 6), round(1, 1)}, "samples": []any{
			object{"mark": "plain", "treatment": "", "control": true},
			object{"mark": "hole", "treatment": "paste", "product": "paste"},
		},
	})
	require.Equal(t, 200, status, said)
	assert.Equal(t, 40.0, washes(), "the maker's own trial comes first")
}

// What is noted at a coat: the grams teach, the look changes the plan, and both are taken back.
func TestNotesAtACoat(t *testing.T) {
	m := newSite(t).sample()
	path := m.boardNamed("pickers")
	coats := func() []any {
		_, sheet := m.call("GET", path, nil)
		return reckonedOf(sheet)["finish"].(object)["coats"].([]any)
	}
	note := func(step, what string, value float64) (int, object) {
		return m.call(
			"POST",
			path+"/log",
			object{"step": step, "event": "note", "minutes": 0, "what": what, "value": value},
		)
	}
	third := coats()[2].(object)["grams"].(float64)
	status, said := note("coat-2", "grams", 40)
	require.Equal(t, 200, status, said)
	assert.Equal(t, 40.0, coats()[1].(object)["used"])
	assert.Greater(t, coats()[2].(object)["grams"], third, "this maker puts on more")
	status, _ = note("coat-2", "back", 0)
	require.Equal(t, 200, status)
	assert.InDelta(t, third, coats()[2].(object)["grams"], 1e-9)

	status, _ = note("wipe-2", "full", 0)
	require.Equal(t, 200, status)
	assert.Len(t, coats(), 2, "it has enough")
	note("wipe-2", "back", 0)
	note("wipe-2", "dry", 0)
	assert.Len(t, coats(), 3, "another one is planned anyway")
	for _, wrong := range []object{
		{"step": "wipe-2", "what": "leak"}, {"step": "coat-2", "what": "grams", "value": 0},
	} {
		wrong["event"], wrong["minutes"] = "note", 0
		status, _ := m.call("POST", path+"/log", wrong)
		assert.Equal(t, 422, status, wrong)
	}
	_, _, log := m.raw("GET", "/api/log", nil)
	assert.Contains(t, string(log), "still wet: it has enough")
}

// At the sander and at the wet board: corners, scratches, the colour that ends a wait; on the Bench too.
func TestNotesWhileItIsSanded(t *testing.T) {
	m := newSite(t).sample()
	path := m.boardNamed("boatman")
	_, sheet := m.call("GET", path, nil)
	for _, s := range reckonedOf(sheet)["course"].(object)["steps"].([]any) {
		step := s.(object)["key"].(string)
		status, said := m.call("POST", path+"/log", object{"step": step, "event": "finish", "minutes": 4})
		require.Equal(t, 200, status, said)
		if step == "raise-80" {
			break
		}
	}
	for i, mm := range []float64{20, 20.1, 20, 20.9} {
		status, said := m.call("POST", path+"/log",
			object{"step": "sand-80", "event": "note", "minutes": 0, "what": "thick", "value": mm})
		require.Equal(t, 200, status, "%d: %v", i, said)
	}
	status, said := m.call("POST", path+"/log", object{
		"step": "raise-80", "event": "note", "minutes": 0, "what": "scratch", "place": object{"x": 12, "y": -8},
	})
	require.Equal(t, 200, status, said)
	at := reckonedOf(said)["atSander"].(object)
	assert.Len(t, at["read"], 4)
	assert.Equal(t, []any{object{"x": 12.0, "y": -8.0}}, at["scratches"])
	told := ""
	for _, v := range reckonedOf(said)["verdicts"].([]any) {
		if v.(object)["check"] == "even-passes" {
			told = v.(object)["level"].(string)
		}
	}
	assert.Equal(t, "mind", told)
	status, _ = m.call(
		"POST",
		path+"/log",
		object{"step": "raise-80", "event": "note", "minutes": 0, "what": "scratch"},
	)
	assert.Equal(t, 422, status, "where is it?")
	status, said = m.call(
		"POST",
		path+"/log",
		object{"step": "raise-80", "event": "note", "minutes": 0, "what": "colour"},
	)
	require.Equal(t, 200, status, said)
	for _, s := range reckonedOf(said)["course"].(object)["steps"].([]any) {
		if step := s.(object); step["key"] == "raise-80" {
			assert.Equal(t, step["doneAt"], step["waitUntil"], "it is dry by its colour")
		}
	}
	_, bench := m.call("GET", "/api/bench", nil)
	found := false
	for _, b := range bench["boards"].([]any) {
		if sanding, ok := b.(object)["sanding"].(object); ok && len(sanding["scratches"].([]any)) == 1 {
			found = true
			assert.NotEmpty(t, b.(object)["coats"])
		}
	}
	assert.True(t, found)
}

// Bad input for a trial names the field and what would be right; nothing of it is stored.
func TestTrialsThatCannotBe(t *testing.T) {
	m := newSite(t).sample()
	_, _, before := m.raw("GET", "/api/trials", nil)
	sample := func(mark string) object { return object{"mark": mark, "treatment": ""} }
	many := []any{}
	for range 9 {
		many = append(many, sample("plain"))
	}
	score := func(v any) []any {
		return []any{
			object{
				"at":     "2031-03-03T19:00:00Z",
				"did":    []any{"soap"},
				"times":  1,
				"scores": []any{object{"feel": v}},
			},
		}
	}
	twice := []any{sample("hole"), sample("hole")}
	for field, trial := range map[string]object{
		"body.name":                      {"name": "", "samples": []any{}, "rounds": []any{}},
		"body":                           {"name": "t", "samples": many, "rounds": []any{}},
		"body.samples[1].mark":           {"name": "t", "samples": twice, "rounds": []any{}},
		"body.rounds[0].scores":          {"name": "t", "samples": []any{}, "rounds": score(3)},
		"body.rounds[0].scores[0].feel":  {"name": "t", "samples": []any{sample("hole")}, "rounds": score(11)},
		"body.rounds[0].scores[0].feel ": {"name": "t", "samples": []any{sample("hole")}, "rounds": score("smooth")},
	} {
		trial["question"] = "?"
		status, said := m.call("POST", "/api/trials", trial)
		assert.Equal(t, 422, status, field)
		assert.Contains(t, fmt.Sprint(said), strings.TrimSpace(field))
	}
	_, _, after := m.raw("GET", "/api/trials", nil)
	assert.Equal(t, string(before), string(after))
}
