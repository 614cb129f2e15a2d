package server_test

import (
	"bufio"
	"encoding/json"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/store"
)

// found is a stream of ways out: in their order, how soon the first came and all, and what it told at its end.
type found struct {
	ways       []object
	first, all time.Duration
	over       object
}

func (f found) of(key string) object {
	for _, w := range f.ways {
		if w["key"] == key {
			return w
		}
	}
	return nil
}

// waysOut reads the ways out of what has gone wrong on a board, or of a board to practise on.
func (m *maker) waysOut(path string) (f found) {
	m.t.Helper()
	req, err := http.NewRequest("GET", m.url+path+"/ways", nil)
	require.NoError(m.t, err)
	req.Header.Set("Accept", "text/event-stream")
	begun := time.Now()
	res, err := m.Do(req)
	require.NoError(m.t, err)
	defer res.Body.Close()
	lines := bufio.NewScanner(res.Body)
	lines.Buffer(nil, 1<<22)
	event := ""
	for lines.Scan() {
		if name, ok := strings.CutPrefix(lines.Text(), "event: "); ok {
			event = name
		}
		data, ok := strings.CutPrefix(lines.Text(), "data: ")
		if !ok {
			continue
		}
		var news object
		require.NoError(m.t, json.Unmarshal([]byte(data), &news))
		switch event {
		case "found":
			if f.first == 0 {
				f.first = time.Since(begun)
			}
			f.ways = slices.Insert(f.ways, int(news["at"].(float64)), news["way"].(object))
		case "over":
			f.all, f.over = time.Since(begun), news
			return f
		default:
			require.Failf(m.t, "the stream failed", "%s %v", event, news)
		}
	}
	require.Fail(m.t, "the stream broke off")
	return f
}

// wentWrong tells that something went wrong on a board, at its next step.
func (m *maker) wentWrong(board string, report object) (int, object) {
	m.t.Helper()
	_, sheet := m.call("GET", "/api/boards/"+board+"/rescue", nil)
	return m.call("POST", "/api/boards/"+board+"/press", object{
		"step": sheet["next"], "event": "note", "minutes": 0, "what": "mishap", "value": 0.5, "words": "slipped",
		"mishap": report,
	})
}

// bitten is a cut into the side of a board.
var bitten = object{"kind": "deep", "area": []object{
	{"x": -20, "y": 80}, {"x": -12, "y": 70}, {"x": 4, "y": 70}, {"x": 12, "y": 80},
}}

// What goes wrong is told once, stops the board until it is decided, has ways out in the order of the rules, and one
// that is taken is the plan until it is taken back; nobody else sees any of it.
func TestSomethingWentWrong(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	board := m.named("Wasp catcher")
	path := "/api/boards/" + board
	_, before := m.call("GET", path, nil)
	m.key = store.NewID()
	for range 2 {
		status, body := m.wentWrong(board, bitten)
		require.Equal(t, 200, status, "%v", body)
	}
	m.key = ""
	_, sheet := m.call("GET", path+"/rescue", nil)
	assert.True(t, sheet["fresh"].(bool))
	assert.Len(t, sheet["board"].(object)["mishaps"], 1, "sent twice, told once")
	_, doc := m.call("GET", path, nil)
	reckoned := doc["reckoning"].(object)["boards"].([]any)[0].(object)
	assert.Equal(t, "stop", reckoned["level"])
	_, bench := m.call("GET", "/api/bench", nil)
	told := false
	for _, b := range bench["boards"].([]any) {
		told = told || b.(object)["mishap"] == "Cut too deep"
	}
	assert.True(t, told, "the bench says so")
	held := 0
	for _, b := range bench["boards"].([]any) {
		if holds, ok := b.(object)["holds"].([]any); ok {
			held += len(holds)
		}
	}
	assert.Positive(t, held, "of a panel it is told on its boards")

	f := m.waysOut(path)
	t.Logf("first of %d ways after %v, all after %v", len(f.ways), f.first, f.all)
	require.NotNil(t, f.of("fair-gentle-mirrored"))
	require.NotNil(t, f.of("rack"))
	for i, w := range f.ways[1:] {
		was := f.ways[i]
		if w["lost"] == was["lost"] && math.Ceil(w["lateBy"].(float64)) == math.Ceil(was["lateBy"].(float64)) {
			assert.LessOrEqual(
				t,
				w["worth"].(float64),
				was["worth"].(float64)+0.5,
				"%v before %v",
				was["key"],
				w["key"],
			)
		}
	}
	for _, w := range f.ways {
		assert.NotEqual(t, "stop", w["level"])
		assert.Contains(t, w["for"], "own", "who does not mind it oneself minds nothing")
	}

	for _, way := range []string{"/rescue", "/ways"} {
		status, _, _ := o.raw("GET", path+way, nil)
		if way == "/ways" {
			req, _ := http.NewRequest("GET", m.url+path+way, nil)
			req.Header.Set("Accept", "text/event-stream")
			res, err := o.Do(req)
			require.NoError(t, err)
			text, _ := bufio.NewReader(res.Body).ReadString('\n')
			res.Body.Close()
			assert.NotContains(t, text, "found")
			continue
		}
		assert.Equal(t, 404, status, way)
	}
	mishap := id(sheet["mishap"].(object))
	status, _ := o.call("POST", path+"/rescue", object{"mishap": mishap, "way": "fair"})
	assert.Equal(t, 404, status)
	status, body := m.call("POST", path+"/rescue", object{"mishap": mishap, "way": "by magic"})
	assert.Equal(t, 422, status, "%v", body)
	status, _ = m.call("POST", path+"/rescue", object{"mishap": "another", "way": "fair"})
	assert.Equal(t, 409, status)

	status, sheet = m.call("POST", path+"/rescue", object{"mishap": mishap, "way": "fair-gentle-mirrored"})
	require.Equal(t, 200, status, "%v", sheet)
	assert.False(t, sheet["fresh"].(bool))
	_, doc = m.call("GET", path, nil)
	reckoned = doc["reckoning"].(object)["boards"].([]any)[0].(object)
	assert.NotEqual(t, "stop", reckoned["level"])
	way := f.of("fair-gentle-mirrored")
	assert.InDelta(t, way["work"].(float64), reckoned["course"].(object)["handsOn"].(float64), 1e-6,
		"the plan is what was offered")
	assert.Equal(t, way["cents"], sheet["mishap"].(object)["out"].(object)["cents"])
	status, _ = m.call("POST", path+"/rescue", object{"mishap": mishap, "way": "fair"})
	assert.Equal(t, 409, status, "it is decided")

	costs := m.listed("/api/log/mishaps")
	var deep object
	for _, c := range costs {
		if c["kind"] == "deep" {
			deep = c
		}
	}
	require.NotNil(t, deep)
	assert.Equal(t, 2.0, deep["times"], "with the board of the sample that waits")
	assert.Equal(t, 1.0, deep["open"])
	assert.InDelta(t, 0.5+math.Max(0, way["later"].(float64)), deep["days"].(float64), 0.06)
	assert.Empty(t, o.listed("/api/log/mishaps"))

	status, _ = m.call("POST", path+"/rescue/back", object{"mishap": mishap})
	require.Equal(t, 200, status)
	_, doc = m.call("GET", path, nil)
	assert.Equal(
		t,
		before["board"].(object)["design"],
		doc["board"].(object)["design"],
		"taken back it is what it was",
	)
	status, _ = m.call("POST", path+"/rescue/back", object{"mishap": mishap})
	assert.Equal(t, 409, status)
	said := []any{}
	for _, l := range m.lines("notes=true&order=oldest") {
		if l["name"] == "Wasp catcher's board" {
			said = append(said, l["said"])
		}
	}
	assert.Equal(t, []any{"something went wrong: 0.5 days lost", "the way out", "not decided after all"},
		said[max(0, len(said)-3):])
}

// Begun again it is a new board in its place, for whom it was for, in its run, on free wood; a spare takes its place;
// its wood goes back on the rack. Each can be taken back.
func TestGivenUpAfterAMishap(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	board := m.named("Lantern")
	path := "/api/boards/" + board
	_, sheet := m.call("GET", path+"/rescue", nil)
	mishap := id(sheet["mishap"].(object))
	give := sheet["board"].(object)["give"].(object)
	m.plank("Plank to begin again", "London plane", 900, 240, 28)
	f := m.waysOut(path)
	begin := ""
	for _, w := range f.ways {
		if w["act"] == "begin" {
			begin = w["key"].(string)
		}
	}
	require.NotEmpty(t, begin, "the rack holds another plank")
	status, sheet := m.call("POST", path+"/rescue", object{"mishap": mishap, "way": begin})
	require.Equal(t, 200, status, "%v", sheet)
	other := sheet["mishap"].(object)["out"].(object)["other"].(string)
	_, again := m.call("GET", "/api/boards/"+other, nil)
	assert.Equal(t, give["for"], again["board"].(object)["give"].(object)["for"])
	reckoned := again["reckoning"].(object)["boards"].([]any)[0].(object)
	assert.NotEqual(t, "stop", reckoned["level"])
	_, was := m.call("GET", path, nil)
	assert.Empty(t, was["board"].(object)["give"].(object)["for"], "nobody waits for the one that is given up")
	assert.Empty(t, was["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)["steps"])
	status, _ = m.call("POST", path+"/rescue/back", object{"mishap": mishap})
	require.Equal(t, 200, status)
	_, gone := m.call("GET", "/api/boards/"+other, nil)
	assert.True(t, gone["binned"].(bool))
	_, was = m.call("GET", path, nil)
	assert.Equal(t, give["for"], was["board"].(object)["give"].(object)["for"])

	pieces := func() float64 {
		_, rack := m.call("GET", "/api/pieces?q=Left", nil)
		return rack["total"].(float64)
	}
	n := pieces()
	status, sheet = m.call("POST", path+"/rescue", object{"mishap": mishap, "way": "rack"})
	require.Equal(t, 200, status, "%v", sheet)
	assert.Equal(t, n+1, pieces(), "its wood is on the rack")

	// A spare of the run: one that nobody gets.
	spare := m.named("Basket weaver")
	_, doc := m.call("GET", "/api/boards/"+spare, nil)
	free := doc["board"].(object)
	free["give"].(object)["for"], free["give"].(object)["person"] = "", ""
	status, body := m.call("PUT", "/api/boards/"+spare, object{"version": doc["version"], "board": free})
	require.Equal(t, 200, status, "%v", body)
	hurt := m.named("Wasp catcher")
	status, body = m.wentWrong(hurt, bitten)
	require.Equal(t, 200, status, "%v", body)
	_, sheet = m.call("GET", "/api/boards/"+hurt+"/rescue", nil)
	mishap = id(sheet["mishap"].(object))
	f = m.waysOut("/api/boards/" + hurt)
	require.NotNil(t, f.of("spare-"+spare))
	status, sheet = m.call("POST", "/api/boards/"+hurt+"/rescue", object{"mishap": mishap, "way": "spare-" + spare})
	require.Equal(t, 200, status, "%v", sheet)
	_, doc = m.call("GET", "/api/boards/"+spare, nil)
	assert.Equal(t, "the wasp catcher", doc["board"].(object)["give"].(object)["for"])
	status, _ = m.call("POST", "/api/boards/"+hurt+"/rescue/back", object{"mishap": mishap})
	require.Equal(t, 200, status)
	_, doc = m.call("GET", "/api/boards/"+spare, nil)
	assert.Empty(t, doc["board"].(object)["give"].(object)["for"])
}

// What cannot be is refused with the field that is wrong, and nothing is stored.
func TestAMishapThatCannotBe(t *testing.T) {
	m := newSite(t).sample()
	board := m.named("Wasp catcher")
	corner := []object{{"x": 0, "y": 0}, {"x": 20, "y": 20}, {"x": 20, "y": 0}, {"x": 0, "y": 20}}
	for field, report := range map[string]object{
		"kind":      {"kind": "haunted"},
		"thickness": {"kind": "thin"},
		"area":      {"kind": "deep", "area": corner},
		"depth":     {"kind": "tearout", "area": corner[:3], "depth": 900},
		"place":     {"kind": "offcentre"},
		"mishap":    {"kind": "deep"},
	} {
		status, body := m.wentWrong(board, report)
		assert.Equal(t, 422, status, "%s: %v", field, body)
		text, _ := json.Marshal(body)
		assert.Contains(t, string(text), field)
	}
	_, sheet := m.call("GET", "/api/boards/"+board+"/rescue", nil)
	assert.False(t, sheet["fresh"].(bool))
	status, body := m.call("POST", "/api/boards/"+board+"/press", object{
		"step": sheet["next"], "event": "note", "minutes": 0, "what": "words", "words": "slipped", "mishap": bitten,
	})
	assert.Equal(t, 422, status, "%v", body)
	status, _ = m.call("POST", "/api/boards/"+board+"/rescue", object{"mishap": "none", "way": "fair"})
	assert.Equal(t, 409, status)
}

// Boards to practise on are the same for everybody, and leave nothing behind.
func TestPracticeLeavesNothing(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	_, before, _ := m.raw("GET", "/api/log", nil)
	_ = before
	cases := o.listed("/api/practice")
	require.Len(t, cases, 12)
	for _, c := range cases {
		path := "/api/practice/" + c["key"].(string)
		_, sheet := o.call("GET", path, nil)
		f := o.waysOut(path)
		require.NotEmpty(t, f.ways)
		_, answer := o.call("GET", path+"/answer?way=nothing", nil)
		assert.Equal(t, false, answer["right"])
		best := ""
		for _, w := range f.ways {
			if slices.Contains(w["for"].([]any), sheet["whom"]) {
				best = w["key"].(string)
				break
			}
		}
		assert.Equal(t, best, answer["best"], c["key"])
		_, answer = o.call("GET", path+"/answer?way="+best, nil)
		assert.Equal(t, true, answer["right"])
	}
	status, _ := o.call("GET", "/api/practice/nothing", nil)
	assert.Equal(t, 404, status)
	_, boards := o.call("GET", "/api/boards", nil)
	assert.Zero(t, boards["total"])
	assert.Empty(t, o.lines(""))
}

// The first way out is shown within 300 ms, all within 2 s; what a board of the sample comes to with them is told.
func BenchmarkWaysOut(b *testing.B) {
	m := newSite(b).sample()
	path := "/api/boards/" + m.named("Lantern")
	var first, all time.Duration
	for b.Loop() {
		f := m.waysOut(path)
		first, all = first+f.first, all+f.all
	}
	b.ReportMetric(float64(first.Milliseconds())/float64(b.N), "ms/first")
	b.ReportMetric(float64(all.Milliseconds())/float64(b.N), "ms/all")
}
