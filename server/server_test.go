package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/demo"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
)

var postgres *pgserver.Server

func TestMain(m *testing.M) { os.Exit(pgserver.Around(m, &postgres)) }

var now = time.Date(2031, 4, 22, 15, 30, 0, 0, time.UTC)

type object = map[string]any

// site is a server and what its log said.
type site struct {
	t        testing.TB
	url      string
	log      *said
	store    *store.Store
	server   *server.Server
	database store.Config
	end      func() // of the process
}

func newSite(t testing.TB, change ...func(*server.Config)) *site {
	t.Helper()
	url, err := postgres.NewDatabase(context.Background())
	require.NoError(t, err)
	return newSiteOn(t, store.Config{URL: url}, change...)
}

// newSiteThrough is a site with a line to its database that can be cut.
func newSiteThrough(t testing.TB, change ...func(*server.Config)) (*site, *relay) {
	t.Helper()
	url, err := postgres.NewDatabase(context.Background())
	require.NoError(t, err)
	line, url := through(t, url)
	return newSiteOn(t, store.Config{URL: url}, change...), line
}

func newSiteOn(t testing.TB, database store.Config, change ...func(*server.Config)) *site {
	t.Helper()
	s := newProcess(t, database, change...)
	require.NoError(t, demo.Load(context.Background(), s.server, now))
	return s
}

// beside is another process on the same database.
func (s *site) beside(change ...func(*server.Config)) *site {
	s.t.Helper()
	return newProcess(s.t, s.database, change...)
}

func newProcess(t testing.TB, database store.Config, change ...func(*server.Config)) *site {
	t.Helper()
	ctx := context.Background()
	st, err := store.Open(ctx, database, func() time.Time { return now })
	require.NoError(t, err)
	s := &site{t: t, log: &said{}, store: st, database: database}
	config := server.Config{
		Store:    st,
		Clock:    func() time.Time { return now },
		Log:      slog.New(slog.NewJSONHandler(s.log, nil)),
		Demo:     demo.Email,
		Patience: 3 * time.Second,
		Searches: 1,
		Web: fstest.MapFS{
			"index.html":  {Data: []byte("<!doctype html><title>Idle Timber</title>")},
			"assets/a.js": {Data: []byte("1")},
		},
	}
	for _, c := range change {
		c(&config)
	}
	srv, err := server.New(config)
	require.NoError(t, err)
	web := httptest.NewServer(srv)
	s.url, s.server = web.URL, srv
	s.end = sync.OnceFunc(func() {
		srv.Close()
		web.Close()
		st.Close()
	})
	t.Cleanup(s.end)
	return s
}

// said is a log that is read while it is written.
type said struct {
	mu   sync.Mutex
	text bytes.Buffer
}

func (l *said) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.Write(p)
}

func (l *said) String() string {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.text.String()
}

// maker is somebody with a browser.
type maker struct {
	*site
	http.Client
	key string // of a save
}

func (s *site) visitor() *maker {
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	return &maker{site: s, Client: http.Client{Jar: jar}}
}

// sample is a maker in the sample shop.
func (s *site) sample() *maker {
	m := s.visitor()
	status, _ := m.call("POST", "/api/sign-in/sample", nil)
	require.Equal(s.t, 200, status)
	return m
}

func (m *maker) raw(method, path string, body []byte) (int, http.Header, []byte) {
	m.t.Helper()
	req, err := http.NewRequest(method, m.url+path, bytes.NewReader(body))
	require.NoError(m.t, err)
	req.Header.Set("Content-Type", "application/json")
	if m.key != "" {
		req.Header.Set("Idempotency-Key", m.key)
	}
	res, err := m.Do(req)
	require.NoError(m.t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(m.t, err)
	return res.StatusCode, res.Header, data
}

func (m *maker) call(method, path string, body any) (int, object) {
	m.t.Helper()
	data := []byte{}
	if body != nil {
		var err error
		data, err = json.Marshal(body)
		require.NoError(m.t, err)
	}
	status, _, answer := m.raw(method, path, data)
	var out object
	_ = json.Unmarshal(answer, &out) // some answers are empty
	return status, out
}

func (m *maker) firstBoard() object {
	m.t.Helper()
	status, list := m.call("GET", "/api/boards", nil)
	require.Equal(m.t, 200, status, "%v", list)
	items := list["items"].([]any)
	_, sheet := m.call("GET", "/api/boards/"+items[0].(object)["id"].(string), nil)
	return sheet
}

func id(o object) string { return o["id"].(string) }

func TestAccounts(t *testing.T) {
	s := newSite(t)
	m := s.visitor()
	status, _ := m.call("GET", "/api/me", nil)
	assert.Equal(t, 401, status)
	for _, c := range []struct{ email, password, where string }{
		{"nonsense", "long enough here", "body.email"}, {"a@b.example", "short", "body.password"},
	} {
		status, problem := m.call("POST", "/api/sign-up", object{"email": c.email, "password": c.password})
		assert.Equal(t, 422, status)
		assert.Equal(t, c.where, problem["errors"].([]any)[0].(object)["location"])
	}
	status, problem := m.call(
		"POST",
		"/api/sign-up",
		object{"email": "a@b.example", "password": "amber weir lattice", "timeZone": "Nowhere/Far"},
	)
	assert.Equal(t, 422, status)
	assert.Equal(t, "shop.timeZone", problem["errors"].([]any)[0].(object)["location"])
	status, _ = m.call(
		"POST",
		"/api/sign-up",
		object{"email": "a@b.example", "password": "amber weir lattice", "timeZone": "Europe/Vienna"},
	)
	require.Equal(t, 200, status)
	_, doc := m.call("GET", "/api/shop", nil)
	assert.Equal(t, "Europe/Vienna", doc["shop"].(object)["timeZone"])
	status, me := m.call("GET", "/api/me", nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "a@b.example", me["email"])
	again := object{"email": "A@B.example", "password": goodPassword}
	status, _ = s.visitor().call("POST", "/api/sign-up", again)
	assert.Equal(t, 422, status)

	status, _ = m.call("POST", "/api/password", object{"old": "wrong", "new": "walnut ferry kestrel"})
	assert.Equal(t, 422, status)
	elsewhere := s.visitor()
	status, _ = elsewhere.call("POST", "/api/sign-in", object{"email": "a@b.example", "password": "amber weir lattice"})
	require.Equal(t, 200, status)
	status, _ = m.call("POST", "/api/password", object{"old": "amber weir lattice", "new": "walnut ferry kestrel"})
	assert.Equal(t, 200, status)
	status, _ = m.call("GET", "/api/me", nil)
	assert.Equal(t, 200, status, "the session that changed it stays open")
	status, _ = elsewhere.call("GET", "/api/me", nil)
	assert.Equal(t, 401, status, "the others are closed")
	status, _ = m.call("POST", "/api/sign-out", nil)
	assert.Equal(t, 204, status)
	status, _ = m.call("GET", "/api/me", nil)
	assert.Equal(t, 401, status)
	status, _ = m.call("POST", "/api/sign-in", object{"email": "a@b.example", "password": "walnut ferry kestrel"})
	assert.Equal(t, 200, status)
}

func TestNothingCrossesOver(t *testing.T) {
	s := newSite(t)
	theirs := s.sample().firstBoard()
	board, piece := theirs["board"].(object), theirs["piece"].(string)
	m := s.visitor()
	m.call("POST", "/api/sign-up", object{"email": "a@b.example", "password": "amber weir lattice"})
	_, slab := s.sample().call("GET", "/api/pieces/"+piece, nil)
	for _, c := range []struct {
		method, path string
		body         any
	}{
		{"GET", "/api/pieces/" + piece, nil},
		{"PUT", "/api/pieces/" + piece, object{"version": 1, "slab": slab["slab"]}},
		{"DELETE", "/api/pieces/" + piece, nil},
		{"POST", "/api/pieces/" + piece + "/restore", nil},
		{"POST", "/api/boards", object{"piece": piece, "name": "squatter"}},
		{"GET", "/api/boards/" + id(board), nil},
		{"PUT", "/api/boards/" + id(board), object{"version": 1, "board": board}},
		{"DELETE", "/api/boards/" + id(board), nil},
		{"POST", "/api/boards/" + id(board) + "/restore", nil},
		{"POST", "/api/boards/" + id(board) + "/draft", board},
		{"POST", "/api/boards/" + id(board) + "/log", object{"step": "outline", "event": "start", "minutes": 0}},
		{"POST", "/api/boards/" + id(board) + "/given", object{"given": true}},
		{"GET", "/api/boards/" + id(board) + "/sheet.pdf", nil},
		{"GET", "/api/boards/" + id(board) + "/outline.svg", nil},
		{"GET", "/api/boards/" + id(board) + "/job.json", nil},
		{"GET", "/api/boards/" + id(board) + "/versions", nil},
		{"GET", "/api/boards/made-up", nil},
		{"GET", "/api/boards/' OR 1=1 --", nil},
	} {
		status, _ := m.call(c.method, strings.ReplaceAll(c.path, " ", "%20"), c.body)
		assert.Equal(t, 404, status, "%s %s", c.method, c.path)
		status, _ = s.visitor().call(c.method, strings.ReplaceAll(c.path, " ", "%20"), c.body)
		assert.Equal(t, 401, status, "%s %s without signing in", c.method, c.path)
	}
	for _, path := range []string{"/api/pieces", "/api/boards"} {
		_, list := m.call("GET", path, nil)
		assert.Equal(t, 0.0, list["total"], path)
	}
	assert.Equal(t, board["name"], s.sample().firstBoard()["board"].(object)["name"])
}

func TestCookiesAndOrigins(t *testing.T) {
	s := newSite(t)
	req, _ := http.NewRequest("GET", s.url+"/api/me", nil)
	req.AddCookie(&http.Cookie{Name: "idletimber", Value: "made-up"})
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 401, res.StatusCode)

	req, _ = http.NewRequest("POST", s.url+"/api/sign-in/sample", nil)
	req.Header.Set("Sec-Fetch-Site", "cross-site")
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 403, res.StatusCode)
	req, _ = http.NewRequest("POST", s.url+"/api/sign-in/sample", nil)
	req.Header.Set("Origin", "https://elsewhere.example")
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 403, res.StatusCode)

	_, header, _ := s.visitor().raw("POST", "/api/sign-in/sample", nil)
	cookie := header.Get("Set-Cookie")
	assert.Contains(t, cookie, "HttpOnly")
	assert.Contains(t, cookie, "SameSite=Lax")
	assert.Contains(t, header.Get("Content-Security-Policy"), "default-src 'self'")
	assert.NotContains(t, header.Get("Content-Security-Policy"), "unsafe")
}

func TestBadInputGetsAClearAnswer(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	board := sheet["board"].(object)
	path := "/api/boards/" + id(board)
	spoiled := func(change func(object)) object {
		data, _ := json.Marshal(board)
		var copy object
		require.NoError(t, json.Unmarshal(data, &copy))
		change(copy)
		return copy
	}
	for name, c := range map[string]struct {
		body   []byte
		status int
		says   string
	}{
		"malformed": {[]byte(`{"version": 1,`), 400, ""},
		"empty":     {nil, 400, ""},
		"too large": {bytes.Repeat([]byte(" "), 1<<20+10), 413, ""},
		"negative width": {encode(object{"version": 1,
			"board": spoiled(func(b object) { b["design"].(object)["width"] = -4 })}), 422, "board.design.width"},
		"huge length": {encode(object{"version": 1,
			"board": spoiled(func(b object) { b["design"].(object)["length"] = 1e300 })}), 422, "board.design.length"},
		"letters": {encode(object{"version": 1,
			"board": spoiled(func(b object) { b["design"].(object)["length"] = "wide" })}), 422, "design.length"},
		"unknown field": {encode(object{"version": 1, "board": spoiled(func(b object) { b["colour"] = "green" })}),
			422, "colour"},
		"unknown shape": {encode(object{"version": 1,
			"board": spoiled(func(b object) { b["design"].(object)["shape"] = "cloud" })}), 422, "shape"},
	} {
		status, _, answer := m.raw("PUT", path, c.body)
		assert.Equal(t, c.status, status, "%s: %s", name, answer)
		assert.Contains(t, string(answer), c.says, name)
	}
	assert.Equal(t, sheet["version"], m.firstBoard()["version"], "nothing was stored")

	_, piece := m.call("GET", "/api/pieces/"+sheet["piece"].(string), nil)
	for where, spoil := range map[string]func(object){
		"show[1].x":      func(v object) { v["show"].([]any)[1].(object)["x"] = 99999 },
		"show[0].left":   func(v object) { v["show"].([]any)[0].(object)["left"] = -400 },
		"species":        func(v object) { v["species"] = "Unobtainium" },
		"flaws[0].depth": func(v object) { v["flaws"] = []any{flawWith(v, "depth", -1)} },
		"flaws[0].line": func(v object) {
			f := flawWith(v, "kind", "bark")
			f["depth"], f["through"] = 5, false
			f["line"] = []any{object{"x": 0, "y": 0}, object{"x": 9, "y": 9}, object{"x": 9, "y": 0},
				object{"x": 0, "y": 9}}
			v["flaws"] = []any{f}
		},
	} {
		data, _ := json.Marshal(piece["slab"])
		var slab object
		require.NoError(t, json.Unmarshal(data, &slab))
		spoil(slab)
		status, _, answer := m.raw(
			"PUT",
			"/api/pieces/"+id(piece),
			encode(object{"version": piece["version"], "slab": slab}),
		)
		assert.Equal(t, 422, status, "%s: %s", where, answer)
		assert.Contains(t, string(answer), where)
	}
	slab := piece["slab"].(object)
	slab["notes"] = "a\x00b"
	for _, c := range []struct {
		method, path string
		body         any
	}{
		{"PUT", "/api/pieces/" + id(piece), object{"version": piece["version"], "slab": slab}},
		{"POST", "/api/pieces", slab},
		{"GET", "/api/pieces?q=%00", nil}, {"GET", "/api/boards?q=%ff", nil},
		{"POST", "/api/sign-in", object{"email": "a\x00@b.example", "password": "long enough here"}},
		{"POST", "/api/boards", object{"piece": sheet["piece"], "name": "a\x00b"}},
	} {
		status, problem := m.call(c.method, c.path, c.body)
		assert.Equal(t, 422, status, "%s %s", c.method, c.path)
		assert.Contains(t, problem["detail"], "character", c.path)
	}
	status, _ := m.call("GET", "/api/nothing", nil)
	assert.Equal(t, 404, status)
}

// What went wrong inside is told to the log, not to the world.
func TestFaultsKeepTheirReasons(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, err := s.store.DB.Exec(`ALTER TABLE pieces RENAME TO gone`)
	require.NoError(t, err)
	status, problem := m.call("GET", "/api/pieces", nil)
	assert.Equal(t, 500, status)
	assert.Contains(t, problem["detail"], "number")
	assert.NotContains(t, fmt.Sprint(problem), "pieces")
	assert.Contains(t, s.log.String(), "pieces\\\" does not exist")
}

func flawWith(slab object, key string, value any) object {
	f := slab["flaws"].([]any)[0].(object)
	f["through"] = false
	f[key] = value
	return f
}

func encode(v any) []byte {
	data, _ := json.Marshal(v)
	return data
}

func TestStaleSavesGetBothVersions(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	board := sheet["board"].(object)
	path := "/api/boards/" + id(board)
	board["name"] = "First"
	status, saved := m.call("PUT", path, object{"version": 1, "board": board})
	require.Equal(t, 200, status)
	assert.Equal(t, 2.0, saved["version"])
	board["name"] = "Second"
	status, conflict := m.call("PUT", path, object{"version": 1, "board": board})
	require.Equal(t, 409, status)
	assert.Equal(t, "First", conflict["stored"].(object)["name"])
	assert.Equal(t, "Second", conflict["yours"].(object)["name"])
	assert.Equal(t, 2.0, conflict["version"])
}

func TestDraftsStoreNothing(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	board := sheet["board"].(object)
	board["placement"].(object)["y"] = 500.0
	status, r := m.call("POST", "/api/boards/"+id(board)+"/draft", board)
	require.Equal(t, 200, status)
	first := r["boards"].([]any)[0].(object)
	assert.Equal(t, "stop", first["level"])
	assert.Equal(t, 1.0, m.firstBoard()["version"])
}

func TestTheLogMovesTheBench(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	board := m.firstBoard()["board"].(object)
	path := "/api/boards/" + id(board) + "/log"
	status, _ := m.call("POST", path, object{"step": "cross-cut", "event": "pause", "minutes": 0})
	assert.Equal(t, 409, status, "a step that was not started cannot pause")
	status, _ = m.call("POST", path, object{"step": "no-such", "event": "start", "minutes": 0})
	assert.Equal(t, 422, status)
	status, _ = m.call("POST", path, object{"step": "cross-cut", "event": "finish", "minutes": 7})
	require.Equal(t, 200, status)
	_, bench := m.call("GET", "/api/bench", nil)
	done := ""
	for _, b := range bench["boards"].([]any) {
		course := b.(object)["course"].(object)
		if course["subject"].(object)["id"] == id(board) {
			done = course["steps"].([]any)[0].(object)["state"].(string)
		}
	}
	assert.Equal(t, "done", done)
	_, log := m.call("GET", "/api/log", nil)
	assert.Equal(t, 7.0, log["lines"].([]any)[0].(object)["minutes"])
	status, _ = m.call("POST", path, object{"step": "cross-cut", "event": "undo", "minutes": 0})
	assert.Equal(t, 200, status)
}

func TestJobsGoOutAndIn(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	board := m.firstBoard()["board"].(object)
	for _, file := range []struct{ name, kind string }{{"sheet.pdf", "application/pdf"},
		{"outline.svg", "image/svg+xml"}, {"job.json", "application/json"}} {
		status, header, data := m.raw("GET", "/api/boards/"+id(board)+"/"+file.name, nil)
		assert.Equal(t, 200, status, "%s: %.300s", file.name, data)
		assert.Equal(t, file.kind, header.Get("Content-Type"))
		assert.Contains(t, header.Get("Content-Disposition"), "attachment")
	}
	_, _, job := m.raw("GET", "/api/boards/"+id(board)+"/job.json", nil)
	status, _, answer := m.raw("POST", "/api/reckon", job)
	assert.Equal(t, 200, status, "%.300s", answer)

	other := s.visitor()
	other.call("POST", "/api/sign-up", object{"email": "a@b.example", "password": "amber weir lattice"})
	status, _, answer = other.raw("POST", "/api/jobs", job)
	require.Equal(t, 200, status, "%.300s", answer)
	taken := other.firstBoard()
	assert.Equal(t, board["name"], taken["board"].(object)["name"])
	assert.NotEqual(t, id(board), id(taken["board"].(object)))
	status, _, _ = other.raw("POST", "/api/jobs", []byte(`{"schema": 1}`))
	assert.Equal(t, 422, status)
}

func TestBinAndRestore(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	board := m.firstBoard()["board"].(object)
	status, _ := m.call("DELETE", "/api/boards/"+id(board), nil)
	assert.Equal(t, 204, status)
	status, sheet := m.call("GET", "/api/boards/"+id(board), nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, true, sheet["binned"])
	_, list := m.call("GET", "/api/boards?bin=true", nil)
	assert.Equal(t, 1.0, list["total"])
	m.call("POST", "/api/boards/"+id(board)+"/restore", nil)
	_, list = m.call("GET", "/api/boards?bin=true", nil)
	assert.Equal(t, 0.0, list["total"])

	piece := sheet["piece"].(string)
	status, problem := m.call("DELETE", "/api/pieces/"+piece, nil)
	assert.Equal(t, 409, status, "boards still to be made lie on it")
	assert.Contains(t, problem["detail"], "boards")
	_, doc := m.call("GET", "/api/pieces/"+piece, nil)
	for _, b := range doc["boards"].([]any) {
		m.call("DELETE", "/api/boards/"+id(b.(object)), nil)
	}
	status, _ = m.call("DELETE", "/api/pieces/"+piece, nil)
	assert.Equal(t, 204, status)
	m.call("POST", "/api/boards/"+id(board)+"/restore", nil)
	_, doc = m.call("GET", "/api/pieces/"+piece, nil)
	assert.Equal(t, false, doc["binned"], "a board comes back with its piece")
}

func TestGivenBoardsKeepTheirPlace(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	board := sheet["board"].(object)
	status, _ := m.call("POST", "/api/boards/"+id(board)+"/given", object{"given": true})
	require.Equal(t, 204, status)
	_, laid := m.call("POST", "/api/boards", object{"piece": sheet["piece"], "name": "Another"})
	taken := laid["reckoning"].(object)["taken"].([]any)
	require.Len(t, taken, 1)
	assert.Equal(t, board["name"], taken[0].(object)["name"])
	_, bench := m.call("GET", "/api/bench", nil)
	for _, b := range bench["boards"].([]any) {
		assert.NotEqual(t, id(board), b.(object)["course"].(object)["board"], "nothing is left to do on it")
	}
}

// A tool that would save minutes on a board would have saved them too when it is given away.
func TestSavingsCountGivenBoards(t *testing.T) {
	clock := now
	s := newSite(t, func(c *server.Config) { c.Clock = func() time.Time { return clock } })
	m := s.sample()
	_, at := m.call("GET", "/api/shop", nil)
	shop := at["shop"].(object)
	shop["tools"] = []object{{"kind": "hand saw"}, {"kind": "hand plane"}, {"kind": "hand drill"}}
	status, _ := m.call("PUT", "/api/shop", object{"version": at["version"], "shop": shop})
	require.Equal(t, 200, status)
	savings := func() (minutes, boards map[string]float64) {
		status, _, body := m.raw("GET", "/api/shop/savings", nil)
		require.Equal(t, 200, status)
		var list []struct {
			Tool            string
			Minutes, Boards float64
		}
		require.NoError(t, json.Unmarshal(body, &list))
		minutes, boards = map[string]float64{}, map[string]float64{}
		for _, o := range list {
			minutes[o.Tool], boards[o.Tool] = o.Minutes, o.Boards
		}
		return minutes, boards
	}
	minutes, boards := savings()
	require.NotEmpty(t, minutes)
	board := m.firstBoard()["board"].(object)
	status, _ = m.call("POST", "/api/boards/"+id(board)+"/given", object{"given": true})
	require.Equal(t, 204, status)
	after, count := savings()
	assert.Equal(t, boards, count)
	assert.InDeltaMapValues(t, minutes, after, 1e-6)
	clock = now.AddDate(0, 0, 91)
	_, count = savings()
	assert.NotEqual(t, boards, count, "what was given more than 90 days ago is past")
}

func TestPagesAndHealth(t *testing.T) {
	s := newSite(t)
	m := s.visitor()
	status, health := m.call("GET", "/api/health", nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "ok", health["status"])
	for _, path := range []string{"/", "/boards/some-id?stage=sand", "/timber"} {
		status, header, body := m.raw("GET", path, nil)
		assert.Equal(t, 200, status, path)
		assert.Contains(t, string(body), "Idle Timber", path)
		assert.Equal(t, "no-cache", header.Get("Cache-Control"))
	}
	status, header, _ := m.raw("GET", "/assets/a.js", nil)
	assert.Equal(t, 200, status)
	assert.Contains(t, header.Get("Cache-Control"), "immutable")
	status, _, _ = m.raw("GET", "/assets/gone.js", nil)
	assert.Equal(t, 404, status)
	status, _, doc := m.raw("GET", "/openapi.json", nil)
	assert.Equal(t, 200, status)
	described, err := server.Describe()
	require.NoError(t, err)
	assert.JSONEq(t, string(described), string(doc), "the command and the server describe the same")

	require.NoError(t, s.store.Close())
	status, _ = m.call("GET", "/api/health", nil)
	assert.Equal(t, 503, status)
}

// A handler that panics answers 500 with an id, and the server lives on.
func TestPanicsAreAnswered(t *testing.T) {
	s := newSite(t)
	srv, err := server.New(
		server.Config{Store: s.store, Log: slog.New(slog.DiscardHandler), Web: fstest.MapFS{}, Demo: demo.Email},
	) // without a clock
	require.NoError(t, err)
	defer srv.Close()
	web := httptest.NewServer(srv)
	defer web.Close()
	s.url = web.URL
	m := s.sample()
	status, problem := m.call("GET", "/api/bench", nil)
	assert.Equal(t, 500, status)
	assert.Contains(t, problem["detail"], "number")
	status, _ = m.call("GET", "/api/health", nil)
	assert.Equal(t, 200, status)
}

func TestRequestsAreLogged(t *testing.T) {
	s := newSite(t)
	_, header, _ := s.visitor().raw("GET", "/api/health", nil)
	assert.NotEmpty(t, header.Get("X-Request-Id"))
	assert.Contains(t, s.log.String(), header.Get("X-Request-Id"))
	assert.NotContains(t, s.log.String(), "password")
}

// A hundred makers at once, reading and writing: no error.
func TestManyAtOnce(t *testing.T) {
	s := newSite(t)
	var wait sync.WaitGroup
	var mu sync.Mutex
	var took []time.Duration
	failures := map[int]int{}
	for i := range 100 {
		wait.Go(func() {
			m := s.sample()
			sheet := m.firstBoard()
			board := sheet["board"].(object)
			for k := range 3 {
				begin := time.Now()
				var status int
				switch (i + k) % 4 {
				case 0:
					status, _ = m.call("POST", "/api/boards/"+id(board)+"/draft", board)
				case 1:
					status, _ = m.call("GET", "/api/bench", nil)
				case 2:
					status, _ = m.call("GET", "/api/pieces", nil)
				default:
					_, now := m.call("GET", "/api/boards/"+id(board), nil)
					status, _ = m.call(
						"PUT",
						"/api/boards/"+id(board),
						object{"version": now["version"], "board": now["board"]},
					)
				}
				mu.Lock()
				took = append(took, time.Since(begin))
				if status != 200 && status != 409 {
					failures[status]++
				}
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	assert.Empty(t, failures)
	slices.Sort(took)
	t.Logf("p50 %v, p99 %v", took[len(took)/2], took[len(took)*99/100])
}

// The budget of a hundred makers at once, each in a workshop of their own and
// at work about once a second, is a p99 of 300 ms.
func BenchmarkHundredMakers(b *testing.B) {
	later := atomic.Int64{}
	s := newSite(b, func(c *server.Config) {
		c.Clock = func() time.Time { return now.Add(time.Duration(later.Load())) }
	})
	sample := s.sample()
	_, _, job := sample.raw("GET", "/api/boards/"+id(sample.firstBoard()["board"].(object))+"/job.json", nil)
	var makers []*maker
	for i := range 100 {
		later.Add(int64(5 * time.Minute)) // or so many sign-ups would be too many
		m := s.visitor()
		m.call(
			"POST",
			"/api/sign-up",
			object{"email": fmt.Sprintf("maker%d@example.org", i), "password": "amber weir lattice"},
		)
		status, _, _ := m.raw("POST", "/api/jobs", job)
		require.Equal(b, 200, status)
		makers = append(makers, m)
	}
	var mu sync.Mutex
	var took []time.Duration
	for b.Loop() {
		var wait sync.WaitGroup
		for i, m := range makers {
			wait.Go(func() {
				sheet := m.firstBoard()
				board := sheet["board"].(object)
				body, path := encode(board), "/api/boards/"+id(board)
				for k := range 8 {
					time.Sleep(time.Duration(700+(i*37+k*101)%600) * time.Millisecond) // a maker thinks
					begin := time.Now()
					var status int
					switch (i + k) % 4 {
					case 0, 1:
						status, _, _ = m.raw("POST", path+"/draft", body)
					case 2:
						status, _, _ = m.raw("GET", "/api/bench", nil)
					default:
						board["name"] = fmt.Sprint("named ", k)
						var saved object
						status, saved = m.call("PUT", path, object{"version": sheet["version"], "board": board})
						sheet["version"] = saved["version"]
					}
					mu.Lock()
					took = append(took, time.Since(begin))
					mu.Unlock()
					if status != 200 {
						b.Error(status)
					}
				}
			})
		}
		wait.Wait()
	}
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*99/100].Microseconds())/1000, "p99-ms")
	b.ReportMetric(float64(took[len(took)/2].Microseconds())/1000, "p50-ms")
}

// The budget of a draft's round trip is 40 ms at p95.
func BenchmarkDraft(b *testing.B) {
	s := newSite(b)
	m := s.sample()
	board := m.firstBoard()["board"].(object)
	body := encode(board)
	took := []time.Duration{}
	for b.Loop() {
		begin := time.Now()
		status, _, _ := m.raw("POST", "/api/boards/"+id(board)+"/draft", body)
		took = append(took, time.Since(begin))
		if status != 200 {
			b.Fatal(status)
		}
	}
	p95(b, took)
}

// The budget of one page of a list of 10 000 boards is 50 ms at p95.
func BenchmarkListOf10000Boards(b *testing.B) {
	s := newSite(b)
	m := s.sample()
	board := m.firstBoard()["board"].(object)
	_, err := s.store.DB.Exec(`WITH p AS (INSERT INTO pieces (workshop_id, name, species, doc, created_at)
			SELECT p.workshop_id, p.name, p.species, p.doc, p.created_at FROM pieces p, generate_series(1, 2000)
			WHERE p.id = (SELECT piece_id FROM boards WHERE id::text = $1) RETURNING id)
		INSERT INTO boards (workshop_id, piece_id, name, due, doc, created_at, given_at)
		SELECT b.workshop_id, p.id, b.name || n, b.due + n, b.doc, b.created_at,
			CASE WHEN n > 1 OR random() > 0.02 THEN b.created_at END
		FROM boards b, p, generate_series(1, 5) n WHERE b.id::text = $1`, id(board))
	require.NoError(b, err)
	_, err = s.store.DB.Exec(`ANALYZE`)
	require.NoError(b, err)
	m.raw("GET", "/api/boards", nil) // what is in work is reckoned once
	took := []time.Duration{}
	page := 0
	for b.Loop() {
		begin := time.Now()
		status, _, _ := m.raw("GET", fmt.Sprintf("/api/boards?page=%d", page%400), nil)
		took = append(took, time.Since(begin))
		page++
		if status != 200 {
			b.Fatal(status)
		}
	}
	p95(b, took)
}
