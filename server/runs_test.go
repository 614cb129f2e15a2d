package server_test

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/server"
)

// boardIDs are the ids of the boards on the first page.
func (m *maker) boardIDs() (out []string) {
	_, list := m.call("GET", "/api/boards", nil)
	for _, b := range list["items"].([]any) {
		if !b.(object)["given"].(bool) {
			out = append(out, id(b.(object)))
		}
	}
	return out
}

// ableStep finds an operation that may be done on some boards, and its open steps.
func ableStep(t *testing.T, sheet object) (operation object, steps []object) {
	for _, o := range sheet["matrix"].(object)["operations"].([]any) {
		steps = nil
		for _, c := range o.(object)["cells"].([]any) {
			cell := c.(object)
			if cell["state"] == "ready" || cell["state"] == "waits" {
				steps = append(steps, object{"board": id(cell["subject"].(object)), "step": cell["step"]})
			}
		}
		if len(steps) > 1 {
			return o.(object), steps
		}
	}
	t.Fatal("no operation is open on two boards")
	return nil, nil
}

func TestARunOverHTTP(t *testing.T) {
	clock := now
	s := newSite(t, func(c *server.Config) { c.Clock = func() time.Time { return clock } })
	m := s.sample()
	ids := m.boardIDs()[:4]
	status, problem := m.call(
		"POST",
		"/api/runs",
		object{"run": object{"name": "", "count": 4, "spares": 1}, "boards": ids},
	)
	assert.Equal(t, 422, status, problem)
	status, sheet := m.call(
		"POST",
		"/api/runs",
		object{
			"run": object{
				"name":   "Orchard thanks",
				"count":  4,
				"spares": 1,
				"people": []any{object{"name": "Odile"}},
			},
			"boards": ids,
		},
	)
	require.Equal(t, 200, status, sheet)
	assert.Len(t, sheet["boards"], 4)
	_, list := m.call("GET", "/api/boards", nil)
	named := 0
	for _, b := range list["items"].([]any) {
		if of, ok := b.(object)["run"].(object); ok && of["name"] == "Orchard thanks" {
			named++
		}
		assert.NotEmpty(t, b.(object)["slab"])
	}
	assert.Equal(t, 4, named)

	// One press finishes an operation on several boards; its minutes are shared among them.
	operation, steps := ableStep(t, sheet)
	path := "/api/runs/" + id(sheet) + "/log"
	m.key = uuid.NewString()
	pressed := object{"steps": steps, "event": "finish", "minutes": 40, "at": now, "late": true}
	status, after := m.call("POST", path, pressed)
	require.Equal(t, 200, status, after)
	done := func(sheet object) (n int) {
		for _, o := range sheet["matrix"].(object)["operations"].([]any) {
			if o.(object)["key"] != operation["key"] {
				continue
			}
			for _, c := range o.(object)["cells"].([]any) {
				if st := c.(object)["state"]; st == "done" || st == "drying" {
					n++
				}
			}
		}
		return n
	}
	before := done(sheet)
	assert.Equal(t, before+len(steps), done(after))
	_, log := m.call("GET", "/api/log", nil)
	sum, lines := 0.0, 0
	for _, l := range log["lines"].([]any) {
		line := l.(object)
		if line["event"] == "finish" && line["title"] == operation["title"] &&
			line["at"] == now.Format(time.RFC3339Nano) {
			sum, lines = sum+line["minutes"].(float64), lines+1
		}
	}
	assert.Equal(t, len(steps), lines)
	assert.InDelta(t, 40, sum, 1e-6)

	// A phone that was away for a day sends it again: it is taken once.
	clock = clock.Add(25 * time.Hour)
	status, _ = m.call("POST", path, pressed)
	assert.Equal(t, 200, status)
	_, again := m.call("GET", "/api/log", nil)
	assert.Len(t, again["lines"], len(log["lines"].([]any)))
	m.key = ""
	status, after = m.call("POST", path, object{"steps": steps, "event": "undo", "minutes": 0})
	assert.Equal(t, 200, status)
	assert.Equal(t, before, done(after))

	status, _ = m.call(
		"POST",
		path,
		object{"steps": []any{object{"board": ids[0], "step": "nonsense"}}, "event": "finish",
			"minutes": 1},
	)
	assert.Equal(t, 422, status)
	other := s.visitor()
	status, _ = other.call("POST", "/api/sign-up", object{"email": "b@b.example", "password": "amber weir lattice"})
	require.Equal(t, 200, status)
	status, _ = other.call("GET", "/api/runs/"+id(sheet), nil)
	assert.Equal(t, 404, status)
	status, _ = other.call(
		"POST",
		"/api/runs",
		object{"run": object{"name": "Theirs", "count": 1, "spares": 0}, "boards": ids[:1]},
	)
	assert.Equal(t, 404, status, "nobody takes another's boards")

	for _, ext := range []string{"csv", "xlsx"} {
		status, head, data := m.raw("GET", "/api/runs/"+id(sheet)+"/matrix."+ext, nil)
		assert.Equal(t, 200, status)
		assert.Contains(t, head.Get("Content-Disposition"), "Orchard")
		assert.NotEmpty(t, data)
	}
	saved := after["run"].(object)
	saved["name"] = "Orchard supper"
	status, after = m.call("PUT", "/api/runs/"+id(sheet), object{"version": after["version"], "run": saved})
	require.Equal(t, 200, status)
	status, _ = m.call("PUT", "/api/runs/"+id(sheet), object{"version": 1, "run": saved})
	assert.Equal(t, 409, status)
	status, after = m.call("POST", "/api/runs/"+id(sheet)+"/boards", object{"boards": ids[:1], "out": true})
	require.Equal(t, 200, status)
	assert.Len(t, after["boards"], 3)
	status, _ = m.call("DELETE", "/api/runs/"+id(sheet), nil)
	assert.Equal(t, 204, status)
	_, runs, _ := m.raw("GET", "/api/runs", nil)
	assert.NotNil(t, runs)
}

// What two phones press stands both; the later finish counts, and it is told.
func TestTwoPhonesDisagree(t *testing.T) {
	m := newSite(t).sample()
	board, step := "", ""
	for _, b := range m.boardIDs() {
		_, sheet := m.call("GET", "/api/boards/"+b, nil)
		course := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)
		for _, d := range course["steps"].([]any) {
			if d.(object)["state"] == "to do" {
				board, step = b, d.(object)["key"].(string)
				break
			}
		}
	}
	require.NotEmpty(t, step)
	press := func(event string, ago time.Duration, minutes float64) object {
		m.key = uuid.NewString()
		status, sheet := m.call("POST", "/api/boards/"+board+"/log",
			object{"step": step, "event": event, "minutes": minutes, "at": now.Add(-ago), "late": true})
		require.Equal(t, 200, status, sheet)
		course := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)
		for _, d := range course["steps"].([]any) {
			if d.(object)["key"] == step {
				return d.(object)
			}
		}
		return nil
	}
	assert.Equal(t, "done", press("finish", 20*time.Minute, 7)["state"])
	told := press("finish", 10*time.Minute, 9)
	assert.Equal(t, 2.0, told["finished"])
	assert.Equal(t, 9.0, told["spent"])
	// One that was pressed sooner comes later: the later finish still counts.
	told = press("finish", 15*time.Minute, 30)
	assert.Equal(t, 3.0, told["finished"])
	assert.Equal(t, 9.0, told["spent"])
	assert.Equal(
		t,
		"done",
		press("start", 5*time.Minute, 0)["state"],
		"what is finished stays so until it is taken back",
	)
	assert.Equal(t, "to do", press("undo", time.Minute, 0)["state"])
}

func TestThePlanOverHTTP(t *testing.T) {
	m := newSite(t).sample()
	_, plan := m.call("GET", "/api/plan", nil)
	require.NotEmpty(t, plan["courses"])
	require.NotEmpty(t, plan["sessions"])
	assert.Nil(t, plan["costs"])
	late := plan["lateBy"].(float64)
	// What would help the latest boards is what their own sheets say, wood milled thinner among it.
	_, told := m.call("GET", "/api/plan/helps", nil)
	require.NotEmpty(t, told["boards"])
	thinner := false
	for _, b := range told["boards"].([]any) {
		_, sheet := m.call("GET", "/api/boards/"+id(b.(object)), nil)
		own := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["helps"].([]any)
		helps := b.(object)["helps"].([]any)
		assert.Equal(t, own[0], helps[0], "the best of all")
		assert.Subset(t, own, helps)
		for _, h := range helps {
			thinner = thinner || strings.HasPrefix(h.(object)["label"].(string), "Mill it to ")
		}
	}
	assert.True(t, thinner)
	assert.Equal(t, false, plan["looked"])
	status, better := m.call("POST", "/api/plan/improve", object{})
	require.Equal(t, 200, status, better)
	assert.Equal(t, true, better["looked"])
	assert.LessOrEqual(t, better["lateBy"].(float64), late)

	// A step that is locked to a day lies on it, and the others give way.
	var step string
	var on time.Time
	for _, c := range better["courses"].([]any) {
		for _, d := range c.(object)["steps"].([]any) {
			st := d.(object)
			if starts, ok := st["starts"].(string); ok && st["state"] == "to do" && st["minutes"].(float64) > 0 {
				at, err := time.Parse(time.RFC3339, starts)
				require.NoError(t, err)
				if at.After(on) {
					subject := c.(object)["subject"].(object)
					step, on = subject["kind"].(string)+":"+id(subject)+"/"+st["key"].(string), at
				}
			}
		}
	}
	day := on.AddDate(0, 0, 7).Format(time.DateOnly)
	status, pinned := m.call("POST", "/api/plan/pins", object{"step": step, "day": day})
	require.Equal(t, 200, status, pinned)
	require.NotNil(t, pinned["costs"])
	found := false
	for _, c := range pinned["courses"].([]any) {
		for _, d := range c.(object)["steps"].([]any) {
			if st := d.(object); st["pinned"] == day {
				found = true
				assert.Nil(t, st["unkept"])
				assert.Equal(t, day, st["starts"].(string)[:len(day)])
			}
		}
	}
	assert.True(t, found)
	for _, bad := range []object{{"step": "board:x/nothing", "day": day}, {"step": step, "day": "soon"}} {
		status, _ = m.call("POST", "/api/plan/pins", bad)
		assert.Equal(t, 422, status)
	}
	// The calendar is read by whoever knows its address, until it gets another or none.
	_, feed := m.call("POST", "/api/plan/feed", object{"on": true})
	anybody := m.site.visitor()
	path := feed["path"].(string)
	status, head, data := anybody.raw("GET", path, nil)
	require.Equal(t, 200, status)
	assert.Contains(t, head.Get("Content-Type"), "text/calendar")
	assert.Contains(t, string(data), "BEGIN:VALARM")
	_, again := m.call("POST", "/api/plan/feed", object{"on": true})
	assert.NotEqual(t, path, again["path"])
	status, _, _ = anybody.raw("GET", path, nil)
	assert.Equal(t, 404, status, "the address before has ended")
	_, none := m.call("POST", "/api/plan/feed", object{"on": false})
	assert.Empty(t, none["path"])
	for range 40 {
		status, _, _ = anybody.raw("GET", "/api/calendar/AAAAAAAAAAAAAAAAAAAAAAAAAA.ics", nil)
	}
	assert.Equal(t, 429, status, "guessing is slow")

	_, free := m.call("POST", "/api/plan/pins", object{"step": step, "day": ""})
	assert.Nil(t, free["costs"])
	assert.Equal(t, better["last"], free["last"])
}

// crowdedBench is a sample shop with 60 boards more in work, whose courses are reckoned once.
func crowdedBench(b *testing.B) (m *maker, courses []object) {
	s := newSite(b)
	m = s.sample()
	first := id(m.firstBoard()["board"].(object))
	_, err := s.store.DB.Exec(`WITH p AS (INSERT INTO pieces (workshop_id, name, species, doc, created_at)
			SELECT p.workshop_id, p.name, p.species, p.doc, p.created_at FROM pieces p, generate_series(1, 60)
			WHERE p.id = (SELECT piece_id FROM boards WHERE id::text = $1) RETURNING id)
		INSERT INTO boards (workshop_id, piece_id, name, due, doc, created_at)
		SELECT b.workshop_id, p.id, b.name, b.due, b.doc, b.created_at FROM boards b, p WHERE b.id::text = $1`, first)
	require.NoError(b, err)
	_, bench := m.call("GET", "/api/bench", nil)
	for _, on := range bench["boards"].([]any) {
		if c := on.(object)["course"].(object); c["subject"].(object)["kind"] == "board" {
			courses = append(courses, c)
		}
	}
	require.Greater(b, len(courses), 60)
	return m, courses
}

// p95 is how long it took in all but the slowest twentieth.
func p95(b *testing.B, took []time.Duration) {
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
}

// The budget of a press at the bench is 50 ms at p95, with 60 boards in work.
func BenchmarkPressOf60Boards(b *testing.B) {
	m, courses := crowdedBench(b)
	var took []time.Duration
	for n := 0; b.Loop(); n++ {
		course := courses[n/2%len(courses)]
		step := ""
		for _, d := range course["steps"].([]any) {
			if d.(object)["state"] == "to do" {
				step = d.(object)["key"].(string)
				break
			}
		}
		press := encode(object{"step": step, "event": []string{"start", "undo"}[n%2], "minutes": 0})
		begin := time.Now()
		status, _, answer := m.raw("POST", "/api/boards/"+id(course["subject"].(object))+"/press", press)
		took = append(took, time.Since(begin))
		require.Equal(b, 200, status, string(answer))
	}
	p95(b, took)
}

// The plan and the shopping list of 60 boards, as they are asked for again and again.
func BenchmarkPlanOf60Boards(b *testing.B) {
	m, _ := crowdedBench(b)
	for _, path := range []string{"/api/plan", "/api/plan/helps", "/api/shelf/shopping"} {
		b.Run(path, func(b *testing.B) {
			var took []time.Duration
			for b.Loop() {
				begin := time.Now()
				status, _, answer := m.raw("GET", path, nil)
				took = append(took, time.Since(begin))
				require.Equal(b, 200, status, string(answer))
			}
			p95(b, took)
		})
	}
}

func TestARunOnPaper(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	status, made := m.call("POST", "/api/runs", object{
		"run": object{"name": "Supper", "count": 2, "spares": 0}, "boards": m.boardIDs()[:2]})
	require.Equal(t, 200, status)
	other := s.other()
	for _, path := range []string{"/sheet.pdf", "/labels.pdf"} {
		status, header, data := m.raw("GET", "/api/runs/"+id(made)+path, nil)
		assert.Equal(t, 200, status)
		assert.Equal(t, "application/pdf", header.Get("Content-Type"))
		assert.True(t, bytes.HasPrefix(data, []byte("%PDF-")))
		status, _, _ = other.raw("GET", "/api/runs/"+id(made)+path, nil)
		assert.Equal(t, 404, status, "nobody else's")
	}
	status, empty := m.call("POST", "/api/runs", object{
		"run": object{"name": "Nothing yet", "count": 0, "spares": 0}, "boards": []string{}})
	require.Equal(t, 200, status)
	status, _ = m.call("GET", "/api/runs/"+id(empty)+"/labels.pdf", nil)
	assert.Equal(t, 422, status)
	status, _, _ = m.raw("GET", "/api/runs/"+id(empty)+"/sheet.pdf", nil)
	assert.Equal(t, 200, status)
}

// What cannot be spread is told at once, by the design that asks it; what can be stretched is.
func TestARunsDesignsAreStretched(t *testing.T) {
	m := newSite(t).sample()
	board := strings.TrimPrefix(m.boardNamed("Ladder"), "/api/boards/")
	m.plank("Supper plank", "Pear", 900, 260, 30)
	doc := object{
		"name":    "Supper",
		"count":   1,
		"spares":  0,
		"people":  []object{},
		"designs": []object{{"board": board, "count": 1, "longest": 40}},
	}
	status, made := m.call("POST", "/api/runs", object{"run": doc, "boards": []string{}})
	require.Equal(t, 200, status, "%v", made)
	path := "/api/runs/" + id(made)
	status, problem := m.call("POST", path+"/searches", object{"pieces": []string{}, "seconds": 60})
	assert.Equal(t, 422, status)
	text := fmt.Sprint(problem["errors"])
	assert.Contains(t, text, "run.designs[0].longest")
	assert.Contains(t, text, "is longer as drawn")

	doc["designs"] = []object{{"board": board, "count": 1, "longest": 5001}}
	status, problem = m.call("POST", "/api/runs", object{"run": doc, "boards": []string{}})
	assert.Equal(t, 422, status, "%v", problem)

	doc["designs"] = []object{{"board": board, "count": 1, "longest": 700, "worth": 3}}
	status, made = m.call("POST", "/api/runs", object{"run": doc, "boards": []string{}})
	require.Equal(t, 200, status, "%v", made)
	status, search := m.call("POST", "/api/runs/"+id(made)+"/searches", object{"pieces": []string{}, "seconds": 60})
	require.Equal(t, 200, status, "%v", search)
	spread := m.watch(id(search), func(n object) bool { return n["state"] == "done" })["spread"].(object)
	assert.InDelta(t, 3, spread["worth"], 1e-9)
	laid := spread["pieces"].([]any)[0].(object)["boards"].([]any)[0].(object)["design"].(object)
	_, drawn := m.call("GET", "/api/boards/"+board, nil)
	design := drawn["board"].(object)["design"].(object)
	assert.Greater(t, laid["length"], design["length"])
}

// A run from a design and people with days: a search lays it over the pieces, those who need theirs first get the
// first, and the same is begun again.
func TestARunLaidOverPieces(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	board := strings.TrimPrefix(m.boardNamed("Ladder"), "/api/boards/")
	m.plank("Supper plank", "Pear", 900, 260, 30)
	m.plank("Second plank", "Pear", 860, 240, 30)
	people := []object{{"name": "Ida", "day": "2031-06-20"}, {"name": "Jon"}, {"name": "Ada", "day": "2031-06-01"}}
	doc := object{"name": "Supper", "day": "2031-06-21", "count": 3, "spares": 1, "people": people,
		"designs": []object{{"board": board, "count": 4}}}
	status, made := m.call("POST", "/api/runs", object{"run": doc, "boards": []string{}})
	require.Equal(t, 200, status, "%v", made)
	path := "/api/runs/" + id(made)
	status, search := m.call("POST", path+"/searches", object{"pieces": []string{}, "seconds": 60})
	require.Equal(t, 200, status, "%v", search)
	news := m.watch(id(search), func(n object) bool { return n["state"] == "done" })
	spread := news["spread"].(object)
	laid := []object{}
	for _, p := range spread["pieces"].([]any) {
		for _, b := range p.(object)["boards"].([]any) {
			b := b.(object)
			laid = append(laid, object{"piece": p.(object)["piece"], "want": b["want"], "placement": b["placement"],
				"design": b["design"]})
		}
	}
	require.NotEmpty(t, laid)
	short := 0.0
	for _, b := range spread["buy"].([]any) {
		short += b.(object)["boards"].(float64)
	}
	assert.Equal(t, 4.0, float64(len(laid))+short)

	other := s.other()
	status, _ = other.call("POST", path+"/lay", object{"boards": laid})
	assert.Equal(t, 404, status, "nobody else's")
	m.key = uuid.NewString()
	status, run := m.call("POST", path+"/lay", object{"boards": laid})
	require.Equal(t, 200, status, "%v", run)
	status, again := m.call("POST", path+"/lay", object{"boards": laid})
	m.key = ""
	require.Equal(t, 200, status)
	boards := again["boards"].([]any)
	require.Len(t, boards, len(laid), "asked twice, laid once")
	got := map[string]string{}
	for i, b := range boards {
		got[b.(object)["for"].(string)] = b.(object)["due"].(string)
		if i == 0 {
			assert.Equal(t, "Ada", b.(object)["for"], "who needs it first")
		}
	}
	if len(laid) == 4 {
		assert.Equal(t, map[string]string{"Ada": "2031-06-01", "Ida": "2031-06-20", "Jon": "2031-06-21",
			"": "2031-06-21"}, got)
		assert.Empty(t, again["run"].(object)["people"])
		assert.Empty(t, again["run"].(object)["designs"])
	}
	for _, b := range boards { // each has its place, clear of what was laid before
		_, sheet := m.call("GET", "/api/boards/"+id(b.(object)), nil)
		for _, v := range sheet["reckoning"].(object)["boards"].([]any)[0].(object)["verdicts"].([]any) {
			if v := v.(object); v["stage"] == "layout" {
				assert.NotEqual(t, "stop", v["level"], "%v", v)
			}
		}
	}

	// Somebody comes later: the spare is dealt.
	run = again["run"].(object)
	run["people"] = []object{{"name": "Kim"}}
	status, saved := m.call("PUT", path, object{"version": again["version"], "run": run})
	require.Equal(t, 200, status, "%v", saved)
	status, dealt := m.call("POST", path+"/deal", nil)
	require.Equal(t, 200, status, "%v", dealt)
	if len(laid) == 4 {
		assert.Empty(t, dealt["run"].(object)["people"])
	}

	status, copied := m.call("POST", path+"/copy", nil)
	require.Equal(t, 200, status, "%v", copied)
	assert.Equal(t, "Supper, again", copied["run"].(object)["name"])
	assert.Empty(t, copied["boards"])
	designs := copied["run"].(object)["designs"].([]any)
	require.Len(t, designs, 1)
	assert.Equal(t, float64(len(laid)), designs[0].(object)["count"])

	status, _ = other.call("POST", path+"/copy", nil)
	assert.Equal(t, 404, status)
	doc["designs"] = []object{{"board": uuid.NewString(), "count": 1}}
	_, made = m.call("POST", "/api/runs", object{"run": doc, "boards": []string{}})
	status, problem := m.call("POST", "/api/runs/"+id(made)+"/searches", object{"pieces": []string{}, "seconds": 5})
	assert.Equal(t, 422, status, "%v", problem)
	assert.Contains(t, string(encode(problem)), "what it is made like is gone")
}

// An evening's order is told operation by operation, and may be changed: what goes ahead is begun first.
func TestTheOrderOfAnEvening(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, bench := m.call("GET", "/api/bench", nil)
	turns := bench["turns"].([]any)
	require.Greater(t, len(turns), 1)
	assert.Equal(t, false, bench["ahead"])
	last := turns[len(turns)-1].(object)["steps"].([]any)[0].(object)
	subject := last["subject"].(object)
	key := subject["kind"].(string) + ":" + id(subject) + "/" + last["step"].(string)
	status, _ := m.call("POST", "/api/plan/ahead", object{"steps": []string{key}})
	require.Less(t, status, 300)
	_, bench = m.call("GET", "/api/bench", nil)
	assert.Equal(t, true, bench["ahead"])
	at := -1
	for i, turn := range bench["turns"].([]any) {
		for _, step := range turn.(object)["steps"].([]any) {
			if step := step.(object); step["step"] == last["step"] && id(step["subject"].(object)) == id(subject) {
				at = i
			}
		}
	}
	assert.GreaterOrEqual(t, at, 0, "it is still done this evening")
	assert.Less(t, at, len(turns)-1, "and sooner")
	status, _ = m.call("POST", "/api/plan/ahead", object{"steps": []string{}})
	require.Less(t, status, 300)
	_, bench = m.call("GET", "/api/bench", nil)
	assert.Equal(t, turns, bench["turns"].([]any), "as it was")
}

// A set-up that is kept and chosen for an operation of a run is told at the bench, at that step of its boards only.
func TestASetUpIsToldAtTheBench(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, at := m.call("GET", "/api/shop", nil)
	shop := at["shop"].(object)
	shop["setups"] = []object{{"name": "Long stop", "kind": "curve", "stop": 300, "end": "butt"}}
	status, saved := m.call("PUT", "/api/shop", object{"version": at["version"], "shop": shop})
	require.Equal(t, 200, status, "%v", saved)
	_, sheet := m.call("POST", "/api/runs", object{
		"run": object{"name": "Two", "count": 2, "spares": 0}, "boards": m.boardIDs()[:2]})
	operation := sheet["matrix"].(object)["operations"].([]any)[0].(object)
	run := sheet["run"].(object)
	run["setups"] = object{operation["key"].(string): "Long stop", "something else": "gone"}
	status, saved = m.call("PUT", "/api/runs/"+id(sheet), object{"version": sheet["version"], "run": run})
	require.Equal(t, 200, status, "%v", saved)
	_, bench := m.call("GET", "/api/bench", nil)
	told := 0
	for _, b := range bench["boards"].([]any) {
		setups, _ := b.(object)["setups"].(object)
		for step, set := range setups {
			assert.Equal(t, "Long stop", set.(object)["name"])
			for _, c := range operation["cells"].([]any) {
				if c.(object)["step"] == step {
					told++
				}
			}
		}
	}
	assert.Positive(t, told)
}

// An order of the maker's own holds wherever a date is told: a board's sheet says what the plan says.
func TestOneDateEverywhere(t *testing.T) {
	m := newSite(t).sample()
	m.key = ""
	agree := func(why string) {
		_, plan := m.call("GET", "/api/plan", nil)
		for _, c := range plan["courses"].([]any) {
			course := c.(object)
			if course["subject"].(object)["kind"] != "board" {
				continue
			}
			_, sheet := m.call("GET", "/api/boards/"+id(course["subject"].(object)), nil)
			own := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)
			for _, key := range []string{"finish", "latestStart", "late"} {
				assert.Equal(t, course[key], own[key], "%s: %s of %s", why, key, course["name"])
			}
		}
	}
	agree("as it comes")
	_, plan := m.call("GET", "/api/plan", nil)
	courses := plan["courses"].([]any)
	last := courses[len(courses)-1].(object)
	for i := len(courses) - 1; last["subject"].(object)["kind"] != "board"; i-- {
		last = courses[i].(object)
	}
	steps := []string{}
	for _, d := range last["steps"].([]any) {
		if st := d.(object); st["state"] == "to do" && st["minutes"].(float64) > 0 {
			steps = append(steps, "board:"+id(last["subject"].(object))+"/"+st["key"].(string))
		}
	}
	require.NotEmpty(t, steps)
	status, _ := m.call("POST", "/api/plan/ahead", object{"steps": steps})
	require.Equal(t, 204, status)
	agree("with an order of its own")
	status, _ = m.call("POST", "/api/plan/improve", object{})
	require.Equal(t, 200, status)
	agree("improved")
}
