package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math"
	"net"
	"net/http"
	"net/url"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever is sent, the answer stays small, tells no secret and costs little.
func TestAnswersToBadInputAreBounded(t *testing.T) {
	s := newSite(t)
	for _, fields := range []int{8000, 70000} {
		body := strings.Builder{}
		body.WriteString(`{"email": "a@b.example", "password": "hunter-secret"`)
		for i := range fields {
			fmt.Fprintf(&body, `,"f%d":1`, i)
		}
		body.WriteString("}")
		begun := time.Now()
		status, _, answer := s.visitor().raw("POST", "/api/sign-in", []byte(body.String()))
		assert.Less(t, time.Since(begun), 3*time.Second)
		assert.Equal(t, 422, status)
		assert.Less(t, len(answer), 20000)
		assert.NotContains(t, string(answer), "hunter-secret")
		assert.Contains(t, string(answer), fmt.Sprintf("and %d more", fields-20))
	}
	xs, ys := strings.Repeat("x", 100000), strings.Repeat("y", 100000)
	for name, body := range map[string]string{
		"a long name":  `{"email": "a@b.example", "password": "hunter-secret", "` + xs + `": 1}`,
		"a long value": `{"email": "` + xs + `", "password": "` + ys + `"}`,
		"of a kind":    `{"email": {"password": "hunter-secret"}, "password": ["hunter-secret"]}`,
	} {
		_, _, answer := s.visitor().raw("POST", "/api/sign-in", []byte(body))
		assert.Less(t, len(answer), 20000, name)
		assert.NotContains(t, string(answer), "hunter-secret", name)
		assert.NotContains(t, string(answer), "yyyy", name)
	}
}

// However many saves meet, each takes one connection at a time, and health none
// of them.
func TestBurstsOfStaleSaves(t *testing.T) {
	s := newSite(t)
	s.store.DB.SetMaxOpenConns(4)
	m := s.sample()
	sheet := m.firstBoard()
	board, piece := sheet["board"].(object), sheet["piece"].(string)
	_, slab := m.call("GET", "/api/pieces/"+piece, nil)
	_, shop := m.call("GET", "/api/shop", nil)
	path := "/api/boards/" + id(board)
	for name, c := range map[string]struct {
		method, path string
		body         object
	}{
		"board": {"PUT", path, object{"version": 99, "board": board}},
		"piece": {"PUT", "/api/pieces/" + piece, object{"version": 99, "slab": slab["slab"]}},
		"shop":  {"PUT", "/api/shop", object{"version": 99, "shop": shop["shop"]}},
		"layout": {"PUT", "/api/pieces/" + piece + "/layout",
			object{"boards": []object{{"version": 99, "board": board}}}},
		"turn":   {"POST", "/api/pieces/" + piece + "/turn", object{"version": 99}},
		"copies": {"POST", path + "/copies", object{"version": 99, "count": 1}},
		"cut":    {"POST", "/api/pieces/" + piece + "/cut", object{"version": 99, "how": []int{}}},
	} {
		body := encode(c.body)
		var wait sync.WaitGroup
		statuses := make(chan int, 200)
		slowest := atomic.Int64{}
		for range 200 {
			wait.Go(func() {
				status, _, _ := m.raw(c.method, c.path, body)
				statuses <- status
			})
		}
		for range 10 {
			wait.Go(func() {
				begun := time.Now()
				status, _, _ := s.visitor().raw("GET", "/api/health", nil)
				assert.Equal(t, 200, status, name)
				slowest.Store(max(slowest.Load(), int64(time.Since(begun))))
			})
		}
		wait.Wait()
		close(statuses)
		for status := range statuses {
			assert.Contains(t, []int{409, 503}, status, name)
		}
		assert.Less(t, time.Duration(slowest.Load()), 5*time.Second, "%s: health waits for nobody's connection", name)
	}
}

// relay is a connection to the database that can be cut or frozen.
type relay struct {
	listener net.Listener
	frozen   atomic.Bool
	mu       sync.Mutex
	down     bool
	open     []net.Conn
}

// through leads the address of a database through a relay.
func through(t testing.TB, address string) (*relay, string) {
	at, err := url.Parse(address)
	require.NoError(t, err)
	target := at.Host
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at.Host = l.Addr().String()
	r := &relay{listener: l}
	t.Cleanup(func() {
		l.Close()
		r.cut()
	})
	go func() {
		for {
			in, err := l.Accept()
			if err != nil {
				return
			}
			r.join(in, target)
		}
	}()
	return r, at.String()
}

func (r *relay) join(in net.Conn, target string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	out, err := net.Dial("tcp", target)
	if err != nil || r.down {
		in.Close()
		return
	}
	r.open = append(r.open, in, out)
	go r.copy(out, in)
	go r.copy(in, out)
}

// copy carries bytes, but none while it is frozen.
func (r *relay) copy(to, from net.Conn) {
	defer to.Close()
	part := make([]byte, 32<<10)
	for {
		n, err := from.Read(part)
		if err != nil {
			return
		}
		for r.frozen.Load() {
			time.Sleep(5 * time.Millisecond)
		}
		if _, err := to.Write(part[:n]); err != nil {
			return
		}
	}
}

// cut breaks every connection and takes no new ones until it is mended.
func (r *relay) cut() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.down = true
	for _, c := range r.open {
		c.Close()
	}
	r.open = nil
}

func (r *relay) mend() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.down = false
}

func TestADatabaseThatIsAway(t *testing.T) {
	s, line := newSiteThrough(t)
	m := s.sample()
	line.cut()
	for _, path := range []string{"/api/me", "/api/boards", "/api/bench", "/api/health"} {
		status, header, answer := m.raw("GET", path, nil)
		assert.Equal(t, 503, status, path)
		assert.Contains(t, header.Get("Content-Type"), "json", path)
		assert.Contains(t, string(answer), "try again", path)
	}
	status, _, page := m.raw("GET", "/boards", nil)
	assert.Equal(t, 200, status, "the interface itself is there")
	assert.Contains(t, string(page), "Idle Timber")
	line.mend()
	require.Eventually(t, func() bool {
		status, _, _ := m.raw("GET", "/api/boards", nil)
		return status == 200
	}, 10*time.Second, 50*time.Millisecond)
}

func TestADatabaseThatIsFrozen(t *testing.T) {
	s, line := newSiteThrough(t)
	m := s.sample()
	line.frozen.Store(true)
	begun := time.Now()
	status, _, _ := m.raw("GET", "/api/health", nil)
	assert.Equal(t, 503, status)
	assert.Less(t, time.Since(begun), 4*time.Second)
	status, _, answer := m.raw("GET", "/api/me", nil)
	assert.Equal(t, 503, status)
	assert.Contains(t, string(answer), "try again")
	assert.Less(t, time.Since(begun), 20*time.Second, "every query has its time")
	line.frozen.Store(false)
	require.Eventually(t, func() bool {
		status, _, _ := m.raw("GET", "/api/me", nil)
		return status == 200
	}, 20*time.Second, 50*time.Millisecond)
}

// A save whose answer was lost is asked again under its name, and stored once.
func TestASaveIsKnownAgain(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	board, piece := sheet["board"].(object), sheet["piece"].(string)
	path := "/api/boards/" + id(board)
	count := func() float64 {
		_, list := m.call("GET", "/api/boards", nil)
		return list["total"].(float64)
	}
	key := 0
	twice := func(method, path string, body object) (first, second object) {
		t.Helper()
		key++
		m.key = fmt.Sprintf("00000000-0000-4000-8000-%012d", key)
		defer func() { m.key = "" }()
		status, first := m.call(method, path, body)
		require.Contains(t, []int{200, 204}, status, "%s %s: %v", method, path, first)
		again, second := m.call(method, path, body)
		assert.Equal(t, status, again, "%s %s: %v", method, path, second)
		return first, second
	}
	board["name"] = "Named once"
	first, second := twice("PUT", path, object{"version": sheet["version"], "board": board})
	assert.Equal(t, first["version"], second["version"])

	before := count()
	first, second = twice("POST", "/api/boards", object{"piece": piece, "name": "One more"})
	assert.Equal(t, first["board"].(object)["id"], second["board"].(object)["id"])
	assert.Equal(t, before+1, count())
	_, sheet = m.call("GET", path, nil)
	first, second = twice("POST", path+"/copies", object{"version": sheet["version"], "count": 2})
	assert.Equal(t, first, second)
	assert.Equal(t, before+3, count())

	_, shop := m.call("GET", "/api/shop", nil)
	first, second = twice("PUT", "/api/shop", shop)
	assert.Equal(t, first["version"], second["version"])

	_, sheet = m.call("GET", path, nil)
	steps := sheet["reckoning"].(object)["boards"].([]any)[0].(object)["course"].(object)["steps"].([]any)
	for _, step := range steps {
		if step.(object)["state"] == "to do" {
			twice("POST", path+"/log", object{"step": step.(object)["key"], "event": "start", "minutes": 0})
			break
		}
	}
	_, book := m.call("GET", "/api/log", nil)
	starts := 0
	for _, line := range book["lines"].([]any) {
		if line.(object)["event"] == "start" {
			starts++
		}
	}
	assert.Equal(t, 1, starts)

	m.key = "not a name"
	status, problem := m.call("PUT", path, object{"version": 1, "board": board})
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(problem), "UUID")
}

// A client that sends slowly and has not signed in is not waited for.
func TestABodyWithoutASessionIsNotRead(t *testing.T) {
	s := newSite(t)
	c, err := net.Dial("tcp", strings.TrimPrefix(s.url, "http://"))
	require.NoError(t, err)
	defer c.Close()
	fmt.Fprintf(c, "POST /api/reckon HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\n"+
		"Content-Length: 100000\r\n\r\n{")
	require.NoError(t, c.SetReadDeadline(time.Now().Add(10*time.Second)))
	answer, err := io.ReadAll(c) // until the server closes
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(answer, []byte("HTTP/1.1 401")), "%.60s", answer)
}

func TestAnswersAreCompressed(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	req, err := http.NewRequest("GET", s.url+"/api/tables", nil)
	require.NoError(t, err)
	req.Header.Set("Accept-Encoding", "gzip")
	for _, c := range m.Jar.Cookies(req.URL) {
		req.AddCookie(c)
	}
	res, err := http.DefaultTransport.RoundTrip(req)
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, "gzip", res.Header.Get("Content-Encoding"))
	_, _, plain := m.raw("GET", "/api/tables", nil)
	assert.Less(t, len(data)*3, len(plain))
}

// No number that is sent keeps the server busy.
func TestRequestsEnd(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	board := sheet["board"].(object)
	path, piece := "/api/boards/"+id(board), "/api/pieces/"+sheet["piece"].(string)
	_, taken := m.call("POST", "/api/pictures/sample", object{"seed": 1})
	find := "/api/pictures/" + id(taken["picture"].(object)) + "/find"
	try := func(name string, statuses []int, method, path string, body any) {
		t.Helper()
		begun := time.Now()
		status, answer := m.call(method, path, body)
		assert.Less(t, time.Since(begun), 3*time.Second, name)
		assert.Contains(t, statuses, status, "%s: %v", name, answer)
	}
	refused := []int{422}
	trace := "/api/pictures/" + id(taken["picture"].(object)) + "/trace"
	for _, far := range []float64{11, 300, 3000, 1e9} {
		try("trace "+fmt.Sprint(far), []int{200, 422}, "POST", trace, object{
			"marks": []object{{"x": 0, "y": 0}, {"x": 60, "y": 0}}, "distance": far, "tolerance": 0.5, "hand": false,
		})
	}
	for _, far := range []float64{5001, 1e6, 1e12, 9.2e18, 1e308} {
		name := fmt.Sprint(far)
		line := []object{{"x": -100, "y": -far}, {"x": 0, "y": 0, "kind": "smooth"},
			{"x": far, "y": far, "kind": "smooth"}}
		try("split "+name, refused, "POST", path+"/split", object{"version": 1, "gap": 1, "line": line})
		try("line "+name, refused, "POST", "/api/lines", object{"line": line})
		corners := []object{{"x": 10, "y": 10}, {"x": far, "y": 10}, {"x": far, "y": far}, {"x": 10, "y": far}}
		try("find "+name, refused, "POST", find, object{"corners": corners, "thickness": 30, "tolerance": 1,
			"under": false, "sheet": object{"width": 210, "height": 297}})
	}
	tiny := []object{{"x": 0, "y": 0}, {"x": 5e-324, "y": 0}, {"x": 5e-324, "y": 5e-324}}
	try("simplify", refused, "POST", "/api/outlines/simplify", object{"tolerance": 1, "line": tiny})

	_, p := m.call("GET", piece, nil)
	slab := p["slab"].(object)
	slab["show"].([]any)[1].(object)["x"] = 5e-324
	try("a station next to another", []int{200, 422}, "PUT", piece, object{"version": p["version"], "slab": slab})
	status, rack := m.call("GET", "/api/pieces", nil)
	assert.Equal(t, 200, status, "the rack is there: %v", rack["detail"])

	bent := board["design"].(object)
	bent["shape"] = "free"
	for _, n := range []int{100, 400} {
		nodes := []object{}
		for i := range n {
			a := 2 * math.Pi * float64(i) / float64(n)
			nodes = append(nodes, object{"x": 150 * math.Cos(a), "y": 60 * math.Sin(a), "run": "batten", "rise": 0.2})
		}
		bent["nodes"] = nodes
		try(fmt.Sprint(n, " battens"), []int{200, 422}, "POST", path+"/draft", board)
	}
	layout, _ := m.call("GET", piece+"/layout", nil)
	require.Equal(t, 200, layout)
	for _, shape := range []string{"paddle", "heart", "round", "oval", "teardrop"} {
		bent["shape"], bent["nodes"] = shape, nil
		delete(bent, "nodes")
		try("biggest "+shape, []int{200, 422}, "POST", piece+"/biggest",
			object{"boards": []any{}, "board": board, "free": true})
	}
}

// An answer that cannot be written is a fault as a whole, not half an answer.
func TestAnswersAreWholeOrNone(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	p := m.piece("Weir")
	_, err := s.store.DB.Exec(`UPDATE pieces SET doc = jsonb_set(doc, '{show,1,x}', '1e-320') WHERE id = $1`, id(p))
	require.NoError(t, err)
	for _, path := range []string{"/api/pieces", "/api/pieces/" + id(p), "/api/bench"} {
		status, header, answer := m.raw("GET", path, nil)
		var any any
		assert.NoError(t, json.Unmarshal(answer, &any), "%s: %.200s", path, answer)
		if status != 200 {
			assert.Contains(t, header.Get("Content-Type"), "problem")
		}
	}
}

// A reckoning ends when its client leaves: nobody's question holds a core.
func TestAReckoningEndsWithItsClient(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	sheet := m.firstBoard()
	_, _, file := m.raw("GET", "/api/boards/"+id(sheet["board"].(object))+"/job.json", nil)
	var job object
	require.NoError(t, json.Unmarshal(file, &job))
	first := job["boards"].([]any)[0].(object)
	nodes := []object{}
	for i := range 70 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 70)
		nodes = append(nodes, object{"x": 150 * cos, "y": 60 * sin})
	}
	design := first["design"].(object)
	design["shape"], design["nodes"] = "free", nodes
	many := []object{}
	for i := range 55 {
		b := maps.Clone(first)
		b["id"] = fmt.Sprint("b", i)
		many = append(many, b)
	}
	job["boards"], job["taken"], job["log"] = many, nil, nil
	data, err := json.Marshal(job)
	require.NoError(t, err)

	begun := time.Now()
	status, _, answer := m.raw("POST", "/api/reckon", data)
	whole := time.Since(begun)
	require.Equal(t, 200, status, "%.300s", answer)

	reckoning := func() bool {
		stacks := make([]byte, 4<<20)
		return bytes.Contains(stacks[:runtime.Stack(stacks, true)], []byte("reckon.Reckon("))
	}
	ctx, leave := context.WithCancel(t.Context())
	left := make(chan time.Time, 1)
	go func() {
		for !reckoning() {
			runtime.Gosched()
		}
		left <- time.Now()
		leave()
	}()
	req, err := http.NewRequestWithContext(ctx, "POST", s.url+"/api/reckon", bytes.NewReader(data))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	_, err = m.Do(req)
	require.ErrorIs(t, err, context.Canceled)
	at := <-left
	require.Eventually(t, func() bool { return !reckoning() }, time.Minute, time.Millisecond)
	assert.Less(t, time.Since(at), whole/2, "of %s", whole)
}
