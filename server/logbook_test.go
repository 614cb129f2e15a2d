package server_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"image"
	"image/jpeg"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// lines are the lines of the log that a question finds.
func (m *maker) lines(query string) (out []object) {
	m.t.Helper()
	status, got := m.call("GET", "/api/log?"+query, nil)
	require.Equal(m.t, 200, status, "%v", got)
	for _, l := range got["lines"].([]any) {
		out = append(out, l.(object))
	}
	return out
}

// What is written down at any step stands in the log with its words and its picture, is found there, and adds up.
func TestTheLogbook(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	m.key = ""
	board := m.firstBoard()
	to := id(board["board"].(object))
	steps := board["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)["steps"].([]any)
	open := object(nil)
	for _, d := range steps {
		if d.(object)["state"] == "to do" && d.(object)["minutes"].(float64) > 0 {
			open = d.(object)
			break
		}
	}
	require.NotNil(t, open)
	step, path := open["key"], "/api/boards/"+to+"/press"
	press := func(body object) (int, object) {
		body["step"] = step
		if body["event"] == nil {
			body["event"] = "note"
		}
		if body["minutes"] == nil {
			body["minutes"] = 0
		}
		return m.call("POST", path, body)
	}
	status, _ := press(object{"what": "words", "words": "grain turns 100% at_the knot"})
	assert.Equal(t, 200, status)
	status, problem := press(object{"what": "words", "words": "  "})
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.words", problem["errors"].([]any)[0].(object)["location"])
	status, _ = press(object{"what": "picture"})
	assert.Equal(t, 422, status, "without one")
	status, _ = press(object{"what": "moisture", "value": 9.5})
	assert.Equal(t, 200, status)
	status, _ = press(object{"what": "moisture", "value": 950})
	assert.Equal(t, 422, status)
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 64, 48)), nil))
	status, answer := press(object{"what": "picture", "picture": picture.Bytes(), "words": "before"})
	assert.Equal(t, 200, status, "%v", answer)
	for _, days := range []float64{2, 5} {
		status, _ = press(object{"what": "mishap", "value": days, "words": "slipped"})
		assert.Equal(t, 200, status)
	}
	status, _ = press(object{"what": "back"})
	assert.Equal(t, 200, status, "the five days were a mistake")

	// What was finished an hour ago can be set back, but not before it was begun.
	status, _ = press(object{"event": "finish", "minutes": 17, "ago": 60})
	assert.Equal(t, 200, status)
	finished := m.lines("board=" + to)[0]
	for _, l := range m.lines("board=" + to) {
		if l["event"] == "finish" && l["minutes"] == 17.0 {
			finished = l
		}
	}
	at, err := time.Parse(time.RFC3339, finished["at"].(string))
	require.NoError(t, err)
	assert.WithinDuration(t, now.Add(-time.Hour), at, time.Second)
	for _, before := range []string{"start", "pause", "undo"} { // whatever came last at it
		status, _ = press(object{"event": "undo"})
		require.Equal(t, 200, status)
		events := []string{"start", "pause"}
		if before == "start" {
			events = events[:1]
		}
		for _, e := range events {
			status, answer = press(object{"event": e})
			require.Equal(t, 200, status, "%v", answer)
		}
		if before == "undo" {
			status, _ = press(object{"event": "undo"})
			require.Equal(t, 200, status)
		}
		status, _ = press(object{"event": "finish", "minutes": 17, "ago": 300})
		require.Equal(t, 200, status)
		_, sheet := m.call("GET", "/api/boards/"+to, nil)
		told := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
		for _, d := range told["course"].(object)["steps"].([]any) {
			if d.(object)["key"] == step {
				assert.Equal(t, "done", d.(object)["state"], before)
			}
		}
	}

	assert.Len(t, m.lines("text=100%25+at_the"), 1, "signs of a pattern mean themselves")
	assert.Empty(t, m.lines("text=100_+at_the"))
	assert.Equal(t, "grain turns 100% at_the knot", m.lines("text=TURNS+100")[0]["words"])
	pictured := m.lines("text=before&notes=true")
	require.Len(t, pictured, 1)
	status, header, data := m.raw("GET", "/api/pictures/"+pictured[0]["picture"].(string), nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "image/jpeg", header.Get("Content-Type"))
	assert.NotEmpty(t, data)
	assert.Len(t, m.lines("notes=true&board="+to), 6)
	var newest []object // page by page
	for page := 0; ; page++ {
		some := m.lines(fmt.Sprint("page=", page))
		newest = append(newest, some...)
		if len(some) < 100 {
			break
		}
	}
	oldest := m.lines("order=oldest")
	assert.Len(t, oldest, 100, "a page")
	for i, l := range oldest {
		assert.Equal(t, newest[len(newest)-1-i]["id"], l["id"])
	}
	for i := 1; i < len(oldest); i++ {
		assert.LessOrEqual(t, oldest[i-1]["at"], oldest[i]["at"])
	}
	for _, l := range m.lines("kind=" + finished["kind"].(string)) {
		assert.Equal(t, finished["kind"], l["kind"])
	}
	day := now.Format(time.DateOnly)
	for _, l := range m.lines("from=" + day + "&to=" + day) {
		at, _ := time.Parse(time.RFC3339, l["at"].(string))
		assert.Less(t, now.Sub(at).Abs(), 25*time.Hour)
	}
	status, problem = m.call("GET", "/api/log?from=midsummer", nil)
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["errors"].([]any)[0].(object)["message"], "2031-06-21")

	status, ledger := m.call("GET", "/api/log/ledger", nil)
	require.Equal(t, 200, status)
	assert.Equal(t, 2.0, ledger["daysLost"])
	sum := 0.0
	for _, month := range ledger["months"].([]any) {
		sum += month.(object)["hours"].(float64)
	}
	assert.InDelta(t, ledger["hours"], sum, 1e-6)

	status, _, data = m.raw("GET", "/api/log.csv?board="+to+"&order=oldest", nil)
	require.Equal(t, 200, status)
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 1+len(m.lines("board="+to)))

	// Nobody else sees any of it.
	other := s.other()
	assert.Empty(t, other.lines(""))
	status, _ = other.call("GET", "/api/pictures/"+pictured[0]["picture"].(string), nil)
	assert.Equal(t, 404, status)
	assert.Empty(t, other.lines("board="+to))
}
