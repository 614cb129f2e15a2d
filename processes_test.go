package main

import (
	"bufio"
	"encoding/json"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/pgserver"
)

// worker is a process that works for others.
func worker(t *testing.T, database string) *exec.Cmd {
	t.Helper()
	cmd := exec.Command(os.Args[0], "work", "--database", database, "--searches", "1")
	cmd.Env = append(os.Environ(), "IDLETIMBER_TEST_MAIN=1")
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { cmd.Process.Kill() })
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	require.Contains(t, line, "works, 1 searches")
	return cmd
}

// search begins a search on the first piece of the rack and returns its id.
func (s *service) search(seconds string) string {
	s.t.Helper()
	_, list := s.call("GET", "/api/pieces", "")
	piece := regexp.MustCompile(`"id":"([^"]+)"`).FindSubmatch(list)[1]
	_, layout := s.call("GET", "/api/pieces/"+string(piece)+"/layout", "")
	var doc struct{ Fresh json.RawMessage }
	require.NoError(s.t, json.Unmarshal(layout, &doc))
	status, answer := s.call("POST", "/api/pieces/"+string(piece)+"/searches", `{"boards": [], "seconds": `+seconds+`,
		"seeking": {"seed": 1, "wants": [{"board": `+string(doc.Fresh)+`, "least": 1, "most": 9, "worth": 1,
			"turn": true}]}}`)
	require.Equal(s.t, 200, status, "%s", answer)
	var search struct{ ID string }
	require.NoError(s.t, json.Unmarshal(answer, &search))
	return search.ID
}

// told is how far a search has come.
type told struct {
	State     string
	Seconds   float64
	Proposals []struct{ Worth float64 }
}

func (n told) worth() float64 {
	if len(n.Proposals) == 0 {
		return 0
	}
	return n.Proposals[0].Worth
}

// follow reads the news of a search until enough is told.
func (s *service) follow(id string, enough func(told) bool) told {
	s.t.Helper()
	req, err := http.NewRequest("GET", s.url+"/api/searches/"+id+"/news", nil)
	require.NoError(s.t, err)
	req.Header.Set("Accept", "text/event-stream")
	res, err := s.http.Do(req)
	require.NoError(s.t, err)
	defer res.Body.Close()
	lines := bufio.NewScanner(res.Body)
	lines.Buffer(nil, 1<<22)
	for lines.Scan() {
		data, ok := strings.CutPrefix(lines.Text(), "data: ")
		var n told
		if ok && json.Unmarshal([]byte(data), &n) == nil && enough(n) {
			return n
		}
	}
	require.Fail(s.t, "the news ended", "%v", lines.Err())
	return told{}
}

// A worker that is killed loses nothing but seconds: another takes its search over, with the best so far, and one that
// is told to end hands it over at once. Whoever looks on at another process sees it go on.
func TestAWorkerIsKilled(t *testing.T) {
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	s := start(t, "demo", "--database", pg.URL, "--searches", "0", "--metrics", "127.0.0.1:0")
	s.call("POST", "/api/sign-in/sample", "")
	first := worker(t, pg.URL)
	search := s.search("100")
	before := s.follow(search, func(n told) bool { return n.worth() > 0 && n.Seconds > 1 })
	require.NoError(t, first.Process.Kill())
	first.Wait()
	second := worker(t, pg.URL)
	begun := time.Now()
	after := s.follow(search, func(n told) bool { return n.State == "running" && n.Seconds > before.Seconds+1 })
	assert.Less(t, time.Since(begun), 20*time.Second)
	assert.GreaterOrEqual(t, after.worth(), before.worth(), "nothing is lost")

	third := worker(t, pg.URL)
	require.NoError(t, second.Process.Signal(syscall.SIGTERM))
	begun = time.Now()
	require.NoError(t, second.Wait(), "it ends without an error")
	assert.Less(t, time.Since(begun), 10*time.Second)
	last := s.follow(search, func(n told) bool { return n.State == "running" && n.Seconds > after.Seconds })
	assert.GreaterOrEqual(t, last.worth(), after.worth())
	status, _ := s.call("POST", "/api/searches/"+search+"/stop", "")
	assert.Equal(t, 204, status)
	s.follow(search, func(n told) bool { return n.State == "stopped" })
	require.NoError(t, third.Process.Signal(syscall.SIGTERM))
	require.NoError(t, third.Wait())
	s.stop()
}

// All workshops are written into one file while the application serves, and taken in elsewhere.
func TestExportAndImport(t *testing.T) {
	folder := func() string {
		dir, err := os.MkdirTemp("", "idletimber-archive-*")
		require.NoError(t, err)
		t.Cleanup(func() { os.RemoveAll(dir) })
		require.NoError(t, os.Chmod(dir, 0o755)) // PostgreSQL may run as another user
		return dir
	}
	here, there := folder(), folder()
	s := start(t, "demo", "--data", here)
	s.call("POST", "/api/sign-in/sample", "")
	_, boards := s.call("GET", "/api/boards", "")
	file := filepath.Join(here, "all.zip")
	out, err := execute("export", file, "--data", here)
	require.NoError(t, err, "while it serves")
	assert.Contains(t, out, "1 workshops")
	info, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), "it holds secrets")
	s.stop()

	out, err = execute("import", file, "--data", there)
	require.NoError(t, err)
	assert.Contains(t, out, "is taken in")
	again := start(t, "demo", "--data", there)
	again.call("POST", "/api/sign-in/sample", "")
	_, same := again.call("GET", "/api/boards", "")
	assert.JSONEq(t, string(boards), string(same))
	again.stop()

	_, err = execute("import", file, "--data", there)
	assert.ErrorContains(t, err, "here already")
	_, err = execute("export", file, "--data", there, "--workshop", "nobody@example.org")
	assert.ErrorContains(t, err, "no workshop of nobody@example.org")
	require.NoError(t, os.WriteFile(file, []byte("text"), 0o600))
	_, err = execute("import", file, "--data", there)
	assert.ErrorContains(t, err, "no archive")
}

// What a process is told wrongly it says before it begins.
func TestWrongSettings(t *testing.T) {
	_, err := execute("work")
	assert.ErrorContains(t, err, "--database")
	pg, stop, err := pgserver.Temporary()
	require.NoError(t, err)
	defer stop()
	_, err = execute("serve", "--database", pg.URL, "--addr", "127.0.0.1:0", "--connections", "3")
	assert.ErrorContains(t, err, "3 connections are too few: a process needs 6")
	_, err = execute("serve", "--database", pg.URL, "--addr", "127.0.0.1:0", "--profiles", "0.0.0.0:0")
	assert.ErrorContains(t, err, "not on loopback")
	_, err = execute("work", "--database", pg.URL, "--cores", "0")
	assert.ErrorContains(t, err, "0 cores are too few")
}
