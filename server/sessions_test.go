package server_test

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/server"
)

const goodPassword = "amber weir lattice"

// signUp is a maker with a workshop of their own.
func (s *site) signUp(email string) *maker {
	s.t.Helper()
	m := s.visitor()
	status, problem := m.call("POST", "/api/sign-up", object{"email": email, "password": goodPassword})
	require.Equal(s.t, 200, status, "%v", problem)
	return m
}

// listen opens the stream of readings.
func (m *maker) listen() *bufio.Reader {
	m.t.Helper()
	req, err := http.NewRequest("GET", m.url+"/api/news", nil)
	require.NoError(m.t, err)
	req.Header.Set("Accept", "text/event-stream")
	res, err := m.Do(req)
	require.NoError(m.t, err)
	require.Equal(m.t, 200, res.StatusCode)
	m.t.Cleanup(func() { res.Body.Close() })
	lines := bufio.NewReader(res.Body)
	_, err = lines.ReadString('\n')
	require.NoError(m.t, err)
	return lines
}

// over waits for a stream to end.
func over(t *testing.T, lines *bufio.Reader, why string) {
	t.Helper()
	done := make(chan struct{})
	go func() {
		defer close(done)
		_, _ = io.Copy(io.Discard, lines)
	}()
	select {
	case <-done:
	case <-time.After(10 * time.Second):
		t.Fatal("the stream goes on after ", why)
	}
}

func TestStreamsEndWithTheirSignIn(t *testing.T) {
	s := newSite(t, func(c *server.Config) { c.Look = 50 * time.Millisecond })
	m := s.signUp("a@b.example")
	elsewhere := func() *maker {
		o := s.visitor()
		status, _ := o.call("POST", "/api/sign-in", object{"email": "a@b.example", "password": goodPassword})
		require.Equal(t, 200, status)
		return o
	}
	out, other, third := elsewhere(), elsewhere(), elsewhere()
	mine := m.listen()
	leaving := out.listen()
	theirs := other.listen()
	deleted := third.listen()

	status, _ := out.call("POST", "/api/sign-out", nil)
	require.Equal(t, 204, status)
	over(t, leaving, "a sign-out")

	// A sign-in that ends by another server, or by its time, is noticed at the next look.
	_, list := m.calls("GET", "/api/me/sign-ins")
	require.Len(t, list, 3)
	_, err := s.store.DB.Exec(`DELETE FROM sign_ins WHERE id NOT IN (SELECT id FROM sign_ins ORDER BY since LIMIT 2)`)
	require.NoError(t, err)
	over(t, deleted, "its sign-in has ended elsewhere")

	status, _ = m.call("POST", "/api/password", object{"old": goodPassword, "new": "walnut ferry kestrel"})
	require.Equal(t, 200, status)
	over(t, theirs, "a new password")
	line, err := mine.ReadString('\n')
	require.NoError(t, err, "the one that changed it goes on, and is told that it is alive")
	for !strings.Contains(line, "alive") {
		line, err = mine.ReadString('\n')
		require.NoError(t, err)
	}
}

// calls is call for an answer that is a list.
func (m *maker) calls(method, path string) (int, []object) {
	status, _, data := m.raw(method, path, nil)
	var out []object
	require.NoError(m.t, json.Unmarshal(data, &out), "%s", data)
	return status, out
}

func TestSignInsAreListedAndEnded(t *testing.T) {
	s := newSite(t)
	m := s.signUp("a@b.example")
	for range 3 {
		status, _ := s.visitor().call("POST", "/api/sign-in", object{"email": "a@b.example", "password": goodPassword})
		require.Equal(t, 200, status)
	}
	_, list := m.calls("GET", "/api/me/sign-ins")
	require.Len(t, list, 4)
	here := 0
	for _, l := range list {
		assert.Equal(t, "127.0.0.1", l["address"])
		assert.Contains(t, l["agent"], "Go-http-client")
		if l["here"] == true {
			here++
		}
	}
	assert.Equal(t, 1, here)
	for _, l := range list {
		if l["here"] != true {
			status, _ := m.call("DELETE", "/api/me/sign-ins/"+id(l), nil)
			require.Equal(t, 204, status)
			break
		}
	}
	_, list = m.calls("GET", "/api/me/sign-ins")
	assert.Len(t, list, 3)
	status, _ := m.call("DELETE", "/api/me/sign-ins", nil)
	require.Equal(t, 204, status)
	_, list = m.calls("GET", "/api/me/sign-ins")
	assert.Len(t, list, 1)

	other := s.signUp("c@d.example")
	_, theirs := other.calls("GET", "/api/me/sign-ins")
	status, _ = m.call("DELETE", "/api/me/sign-ins/"+id(theirs[0]), nil)
	assert.Equal(t, 204, status)
	status, _ = other.call("GET", "/api/me", nil)
	assert.Equal(t, 200, status, "nobody ends another's")
}

func TestTokensAreHashedInTheStore(t *testing.T) {
	s := newSite(t)
	_, header, _ := s.visitor().raw("POST", "/api/sign-in/sample", nil)
	token := strings.SplitN(strings.TrimPrefix(header.Get("Set-Cookie"), "idletimber="), ";", 2)[0]
	require.NotEmpty(t, token)
	var n int
	require.NoError(t, s.store.DB.Get(&n, `SELECT count(*) FROM sessions WHERE token = $1`, token))
	assert.Zero(t, n)
	require.NoError(t, s.store.DB.Get(&n, `SELECT count(*) FROM sessions`))
	assert.Equal(t, 1, n)
}

func TestBehindAProxyThatSpeaksHTTPS(t *testing.T) {
	s := newSite(t, func(c *server.Config) { c.Proxies = []string{"127.0.0.1/32"} })
	_, header, _ := s.visitor().raw("POST", "/api/sign-in/sample", nil)
	assert.True(t, strings.HasPrefix(header.Get("Set-Cookie"), "__Host-idletimber="))
	assert.Contains(t, header.Get("Set-Cookie"), "Secure")
	assert.Contains(t, header.Get("Set-Cookie"), "Path=/")
	assert.Contains(t, header.Get("Strict-Transport-Security"), "max-age")
	assert.Equal(t, "same-origin", header.Get("Cross-Origin-Resource-Policy"))

	_, header, _ = newSite(t).visitor().raw("POST", "/api/sign-in/sample", nil)
	assert.NotContains(t, header.Get("Set-Cookie"), "Secure")
	assert.Empty(t, header.Get("Strict-Transport-Security"))
	_, err := server.New(server.Config{Proxies: []string{"nonsense"}})
	assert.ErrorContains(t, err, "proxies")
}

func TestWeakPasswordsAreRefusedWithAReason(t *testing.T) {
	s := newSite(t)
	for password, why := range map[string]string{
		"short":                         "fewer than 10",
		"password12":                    "tried first",
		"qwertyuiop":                    "",
		"aaaaaaaaaaaa":                  "repeats itself",
		"abcdefghij":                    "",
		"maker@b.example":               "",
		"idletimber!":                   "",
		strings.Repeat("abcabcabc", 22): "repeats",
	} {
		begun := time.Now()
		wanted := object{"email": "maker@b.example", "password": password}
		status, problem := s.visitor().call("POST", "/api/sign-up", wanted)
		assert.Equal(t, 422, status, password)
		assert.Contains(t, fmt.Sprint(problem["errors"]), why, password)
		assert.NotContains(t, fmt.Sprint(problem), password)
		assert.Less(t, time.Since(begun), time.Second)
	}
	status, problem := s.visitor().call("POST", "/api/sign-up",
		object{"email": "Sample@IdleTimber.invalid", "password": goodPassword})
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(problem), "sample shop")
}

// from is a request from a client behind a proxy.
func (m *maker) from(address, method, path string, body any) int {
	req, err := http.NewRequest(method, m.url+path, bytes.NewReader(encode(body)))
	require.NoError(m.t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Forwarded-For", address)
	res, err := m.Do(req)
	require.NoError(m.t, err)
	defer res.Body.Close()
	return res.StatusCode
}

// Guesses are slowed down by who makes them; the owner comes in from elsewhere, and
// from there too after a while.
func TestGuessesLockNobodyOut(t *testing.T) {
	clock := now
	var mu sync.Mutex
	s := newSite(t, func(c *server.Config) {
		c.Proxies = []string{"127.0.0.1/32"}
		c.Clock = func() time.Time {
			mu.Lock()
			defer mu.Unlock()
			return clock
		}
	})
	s.signUp("a@b.example")
	guess := object{"email": "A@b.example", "password": "guess"}
	right := object{"email": "a@b.example", "password": goodPassword}
	for range 5 {
		assert.Equal(t, 401, s.visitor().from("192.0.2.1", "POST", "/api/sign-in", guess))
	}
	assert.Equal(t, 429, s.visitor().from("192.0.2.1", "POST", "/api/sign-in", guess))
	assert.Equal(t, 200, s.visitor().from("192.0.2.2", "POST", "/api/sign-in", right), "the owner, from elsewhere")
	mu.Lock()
	clock = clock.Add(31 * time.Second)
	mu.Unlock()
	assert.Equal(t, 200, s.visitor().from("192.0.2.1", "POST", "/api/sign-in", right), "and from there, after a while")

	many := 0
	for i := range 60 { // one address on many accounts
		if s.visitor().from("192.0.2.3", "POST", "/api/sign-in",
			object{"email": fmt.Sprintf("m%d@b.example", i), "password": "guess"}) == 429 {
			many++
		}
	}
	assert.Equal(t, 20, many)
	opened := 0
	for i := range 12 {
		if s.visitor().from("192.0.2.4", "POST", "/api/sign-up",
			object{"email": fmt.Sprintf("n%d@b.example", i), "password": goodPassword}) == 200 {
			opened++
		}
	}
	assert.Equal(t, 10, opened)
	for range 20 {
		assert.Equal(t, 401, s.visitor().from("192.0.2.5", "POST", "/api/readings", object{"below": true}))
	}
	assert.Equal(t, 429, s.visitor().from("192.0.2.5", "POST", "/api/readings", object{"below": true}))
}

// Sixty who guess at once do not keep an honest maker waiting.
func TestGuessersDoNotSlowDownOthers(t *testing.T) {
	s := newSite(t, func(c *server.Config) { c.Proxies = []string{"127.0.0.1/32"} })
	require.Equal(t, 200, s.visitor().from("192.0.2.1", "POST", "/api/sign-up",
		object{"email": "a@b.example", "password": goodPassword}))
	done := make(chan struct{})
	var wait sync.WaitGroup
	for i := range 60 {
		m := s.visitor()
		wait.Go(func() {
			for n := 0; ; n++ {
				select {
				case <-done:
					return
				default:
					m.from(fmt.Sprintf("198.51.100.%d", i), "POST", "/api/sign-in",
						object{"email": fmt.Sprintf("g%d@b.example", n), "password": "guess"})
				}
			}
		})
	}
	slowest := time.Duration(0)
	for range 10 {
		m := s.visitor()
		begun := time.Now()
		assert.Equal(t, 200, m.from("192.0.2.1", "POST", "/api/sign-in",
			object{"email": "a@b.example", "password": goodPassword}))
		slowest = max(slowest, time.Since(begun))
	}
	close(done)
	wait.Wait()
	t.Log("the slowest of ten honest sign-ins took ", slowest)
	assert.Less(t, slowest, 3*time.Second)
}

func TestWhoSignedInIsLoggedWithoutSecrets(t *testing.T) {
	s := newSite(t)
	m := s.signUp("a@b.example")
	s.visitor().call("POST", "/api/sign-in", object{"email": "a@b.example", "password": "a wrong one"})
	m.call("GET", "/api/me", nil)
	log := s.log.String()
	assert.Contains(t, log, "signed in")
	assert.Contains(t, log, "sign-in refused")
	assert.Contains(t, log, "127.0.0.1")
	for _, secret := range []string{goodPassword, "a wrong one", "a@b.example"} {
		assert.NotContains(t, log, secret)
	}
	for line := range strings.Lines(log) {
		assert.True(t, json.Valid([]byte(line)), line)
	}
}

// A workshop can be taken along: its job files are read again. Then it can be
// deleted, by its owner alone.
func TestAWorkshopIsTakenAlongAndDeleted(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	m.call("POST", "/api/pictures/sample", object{"seed": 1})
	status, begun := m.call("POST", "/api/me/everything", nil)
	require.Equal(t, 200, status, begun)
	m.watch(id(begun), is("done"))
	status, _, data := m.raw("GET", "/api/searches/"+id(begun)+"/file", nil)
	require.Equal(t, 200, status)
	archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	other := s.signUp("a@b.example")
	kinds := map[string]int{}
	for _, f := range archive.File {
		folder, _, _ := strings.Cut(f.Name, "/")
		kinds[folder]++
		if folder != "pieces" {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		job, err := io.ReadAll(r)
		require.NoError(t, err)
		status, _, answer := other.raw("POST", "/api/jobs", job)
		assert.Equal(t, 200, status, "%s: %s", f.Name, answer)
	}
	_, mine := m.call("GET", "/api/boards", nil)
	_, theirs := other.call("GET", "/api/boards", nil)
	assert.Equal(t, mine["total"], theirs["total"])
	_, rack := other.call("GET", "/api/pieces", nil)
	assert.EqualValues(t, kinds["pieces"], rack["total"])
	assert.Equal(t, 2, kinds["trials"], "a trial and its scores")
	assert.Equal(t, 1, kinds["pictures"])
	assert.Equal(t, 1, kinds["shop.json"])
	assert.Equal(t, 1, kinds["shelf.json"])
	assert.Equal(t, 1, kinds["people.json"])
	assert.Equal(t, 1, kinds["occasions.json"])

	status, problem := m.call("POST", "/api/me/delete", object{"password": "anything"})
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["detail"], "sample")
	lines := other.listen()
	status, _ = other.call("POST", "/api/me/delete", object{"password": "a wrong one"})
	assert.Equal(t, 422, status)
	status, _, _ = other.raw("POST", "/api/me/delete", encode(object{"password": goodPassword}))
	assert.Equal(t, 204, status)
	over(t, lines, "the account is deleted")
	status, _ = other.call("GET", "/api/me", nil)
	assert.Equal(t, 401, status)
	status, _ = s.visitor().call("POST", "/api/sign-in", object{"email": "a@b.example", "password": goodPassword})
	assert.Equal(t, 401, status)
	var left int
	require.NoError(t, s.store.DB.Get(&left, `SELECT count(*) FROM workshops`))
	assert.Equal(t, 1, left, "the sample shop alone")
}

// Two hundred streams that were open leave nothing behind.
func TestStreamsAreReleased(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	settled := func() (goroutines int, heap uint64) {
		http.DefaultTransport.(*http.Transport).CloseIdleConnections()
		runtime.GC()
		var mem runtime.MemStats
		runtime.ReadMemStats(&mem)
		return runtime.NumGoroutine(), mem.HeapAlloc
	}
	before, heap := settled()
	ctx, leave := context.WithCancel(t.Context())
	for range 200 {
		req, err := http.NewRequestWithContext(ctx, "GET", s.url+"/api/news", nil)
		require.NoError(t, err)
		req.Header.Set("Accept", "text/event-stream")
		res, err := m.Do(req)
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode)
		defer res.Body.Close()
	}
	open, _ := settled()
	require.Greater(t, open, before+200)
	leave()
	require.Eventually(t, func() bool {
		now, used := settled()
		return now <= before+20 && used < heap+8<<20
	}, 20*time.Second, 50*time.Millisecond)
}
