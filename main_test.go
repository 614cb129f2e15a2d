package main

import (
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/http/httptrace"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/pgserver"
)

// TestMain lets the test binary stand in for the command.
func TestMain(m *testing.M) {
	if os.Getenv("IDLETIMBER_TEST_MAIN") != "" {
		main()
		return
	}
	os.Exit(m.Run())
}

// service is a running command.
type service struct {
	t    *testing.T
	cmd  *exec.Cmd
	url  string
	http http.Client
}

func start(t *testing.T, args ...string) *service {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	s := &service{t: t, cmd: exec.Command(os.Args[0], append(args, "--addr", "127.0.0.1:0")...),
		http: http.Client{Jar: jar, Timeout: time.Minute}}
	s.cmd.Env = append(os.Environ(), "IDLETIMBER_TEST_MAIN=1")
	out, err := s.cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, s.cmd.Start())
	t.Cleanup(func() { s.cmd.Process.Kill() })
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	s.url = regexp.MustCompile(`http://[^ ]*[^/ ]`).FindString(line)
	require.NotEmpty(t, s.url, line)
	return s
}

func (s *service) call(method, path, body string) (int, []byte) {
	s.t.Helper()
	req, err := http.NewRequest(method, s.url+path, strings.NewReader(body))
	require.NoError(s.t, err)
	req.Header.Set("Content-Type", "application/json")
	res, err := s.http.Do(req)
	require.NoError(s.t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(s.t, err)
	return res.StatusCode, data
}

// stop interrupts the command as Ctrl-C does and waits for it.
func (s *service) stop() {
	s.t.Helper()
	require.NoError(s.t, s.cmd.Process.Signal(os.Interrupt))
	require.NoError(s.t, s.cmd.Wait(), "it ends without an error")
}

// The sample shop is loaded once: a restart keeps what was changed. Stopping
// leaves no database running.
func TestDemoStartsStopsAndKeeps(t *testing.T) {
	dir, err := os.MkdirTemp("", "idletimber-demo-*")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755)) // PostgreSQL may run as another user

	s := start(t, "demo", "--data", dir)
	status, _ := s.call("POST", "/api/sign-in/sample", "")
	require.Equal(t, 200, status)
	_, list := s.call("GET", "/api/boards", "")
	board := regexp.MustCompile(`"id":"([^"]+)"`).FindSubmatch(list)
	require.NotNil(t, board, "%s", list)
	status, _ = s.call("DELETE", "/api/boards/"+string(board[1]), "")
	require.Equal(t, 204, status)
	total := func(s *service) int {
		_, data := s.call("GET", "/api/boards", "")
		var page struct{ Total int }
		require.NoError(t, json.Unmarshal(data, &page))
		return page.Total
	}
	left := total(s)
	running := filepath.Join(dir, "postgres", "postmaster.pid")
	require.FileExists(t, running)
	s.stop()
	assert.NoFileExists(t, running)

	again := start(t, "demo", "--data", dir)
	again.call("POST", "/api/sign-in/sample", "")
	assert.Equal(t, left, total(again))
	again.stop()

	plain := start(t, "serve", "--data", dir)
	status, _ = plain.call("POST", "/api/sign-in/sample", "")
	assert.Equal(t, 404, status, "the sample shop opens in demo mode only")
	plain.stop()
}

// A request in work is answered although the command is told to stop.
func TestStoppingFinishesRequests(t *testing.T) {
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	s := start(t, "demo", "--database", pg.URL)
	s.call("POST", "/api/sign-in/sample", "")
	body, rest := io.Pipe()
	reading := make(chan struct{})
	ctx := httptrace.WithClientTrace(context.Background(),
		&httptrace.ClientTrace{Got100Continue: func() { close(reading) }})
	req, err := http.NewRequestWithContext(ctx, "POST", s.url+"/api/reckon", body)
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Expect", "100-continue") // so that one sees when the server waits for the body
	answered := make(chan int, 1)
	go func() {
		res, err := s.http.Do(req)
		if err != nil {
			answered <- 0
			return
		}
		res.Body.Close()
		answered <- res.StatusCode
	}()
	select {
	case <-reading:
	case status := <-answered:
		require.Fail(t, "answered before its body came", "status %d", status)
	}
	require.NoError(t, s.cmd.Process.Signal(os.Interrupt))
	address := strings.TrimPrefix(s.url, "http://")
	require.Eventually(t, func() bool { // it takes no new connections
		c, err := net.Dial("tcp", address)
		if err == nil {
			c.Close()
		}
		return err != nil
	}, time.Minute, 20*time.Millisecond)
	_, err = io.WriteString(rest, `{"schema": "one"}`)
	require.NoError(t, err)
	require.NoError(t, rest.Close())
	assert.NotZero(t, <-answered, "it is answered")
	assert.NoError(t, s.cmd.Wait())
}

func TestServeOnAnExistingDatabase(t *testing.T) {
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	s := start(t, "serve", "--database", pg.URL)
	status, data := s.call("GET", "/api/health", "")
	assert.Equal(t, 200, status, "%s", data)
	s.stop()
}

func execute(args ...string) (string, error) {
	var out bytes.Buffer
	c := command()
	c.SetOut(&out)
	c.SetErr(io.Discard)
	c.SetArgs(args)
	err := c.Execute()
	return out.String(), err
}

func TestReckonAFile(t *testing.T) {
	page, err := os.ReadFile("docs/job-format.md")
	require.NoError(t, err)
	job := regexp.MustCompile("(?s)```json\n(.*?)```").FindSubmatch(page)[1]
	file := filepath.Join(t.TempDir(), "job.json")
	require.NoError(t, os.WriteFile(file, job, 0o600))
	out, err := execute("reckon", file)
	require.NoError(t, err)
	again, err := execute("reckon", file)
	require.NoError(t, err)
	assert.Equal(t, out, again, "the same job gives the same reckoning")
	var r struct {
		Boards []struct{ Figures []any }
	}
	require.NoError(t, json.Unmarshal([]byte(out), &r))
	assert.NotEmpty(t, r.Boards[0].Figures)

	require.NoError(t, os.WriteFile(file, bytes.Replace(job, []byte(`"schema": 1`), []byte(`"schema": 7`), 1), 0o600))
	_, err = execute("reckon", file)
	assert.ErrorContains(t, err, "schema 7 is not known")
	_, err = execute("reckon", file+".gone")
	assert.Error(t, err)
}

func TestDescriptions(t *testing.T) {
	for _, name := range []string{"schema", "openapi"} {
		out, err := execute(name)
		require.NoError(t, err)
		assert.True(t, json.Valid([]byte(out)), name)
		assert.Contains(t, out, "ReckonBoard", name)
	}
}

// A device stands in from outside: it pushes as many readings as it is told,
// and says when the server does not know its key.
func TestInstrumentPushes(t *testing.T) {
	var bodies, keys []string
	known := true
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		body, _ := io.ReadAll(r.Body)
		bodies, keys = append(bodies, string(body)), append(keys, r.Header.Get("Authorization"))
		if !known {
			w.WriteHeader(http.StatusUnauthorized)
		}
	}))
	defer s.Close()
	_, err := execute("instrument", "--url", s.URL, "--key", "K", "--count", "2", "--every", "1ms")
	require.NoError(t, err)
	require.Len(t, bodies, 2)
	assert.Contains(t, bodies[0], "humidity")
	assert.Equal(t, "Bearer K", keys[1])
	_, err = execute("instrument", "--url", s.URL, "--key", "K", "--kind", "moisture meter", "--percent", "3",
		"--count", "1")
	require.NoError(t, err)
	assert.JSONEq(t, `{"below": true}`, bodies[2])
	known = false
	_, err = execute("instrument", "--url", s.URL, "--key", "gone", "--count", "1")
	assert.ErrorContains(t, err, "401")
}

// A page that looks on a search, or listens for readings, does not keep the command
// from stopping.
func TestStoppingEndsSearchesAndStreams(t *testing.T) {
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	s := start(t, "demo", "--database", pg.URL)
	s.call("POST", "/api/sign-in/sample", "")
	_, list := s.call("GET", "/api/pieces", "")
	piece := regexp.MustCompile(`"id":"([^"]+)"`).FindSubmatch(list)[1]
	_, layout := s.call("GET", "/api/pieces/"+string(piece)+"/layout", "")
	var doc struct{ Fresh json.RawMessage }
	require.NoError(t, json.Unmarshal(layout, &doc))
	status, answer := s.call("POST", "/api/pieces/"+string(piece)+"/searches", `{"boards": [], "seconds": 100,
		"seeking": {"seed": 1, "wants": [{"board": `+string(doc.Fresh)+`, "least": 1, "most": 9, "worth": 1,
			"turn": true}]}}`)
	require.Equal(t, 200, status, "%s", answer)
	var search struct{ ID string }
	require.NoError(t, json.Unmarshal(answer, &search))
	for _, path := range []string{"/api/searches/" + search.ID + "/news", "/api/news"} {
		req, err := http.NewRequest("GET", s.url+path, nil)
		require.NoError(t, err)
		req.Header.Set("Accept", "text/event-stream")
		res, err := s.http.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		_, err = bufio.NewReader(res.Body).ReadString('\n')
		require.NoError(t, err, "it has begun")
	}
	begun := time.Now()
	s.stop()
	assert.Less(t, time.Since(begun), 5*time.Second)
}

// Two that begin on an empty database at once both serve; the sample shop is there
// once.
func TestTwoBeginOnOneDatabase(t *testing.T) {
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	both := make(chan *service, 2)
	for range 2 {
		go func() { both <- start(t, "demo", "--database", pg.URL) }()
	}
	for range 2 {
		s := <-both
		status, _ := s.call("POST", "/api/sign-in/sample", "")
		assert.Equal(t, 200, status)
		defer s.stop()
	}
}

// A program does not touch a database that a newer one has been at.
func TestANewerDatabaseIsLeftAlone(t *testing.T) {
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	start(t, "serve", "--database", pg.URL).stop()
	db, err := sql.Open("pgx", pg.URL)
	require.NoError(t, err)
	defer db.Close()
	_, err = db.Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (999, true)`)
	require.NoError(t, err)
	_, err = execute("serve", "--database", pg.URL, "--addr", "127.0.0.1:0")
	assert.ErrorContains(t, err, "newer version")
}
