package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var killRounds = flag.Int("kill-rounds", 4, "how often the server or its database is killed")

// saver is a maker who saves two boards of a piece together, again and again, and
// asks again under the same name when an answer is lost.
type saver struct {
	t        *testing.T
	url      *atomic.Value // of the server that runs now
	http     http.Client
	piece    string
	boards   []map[string]any // with their versions
	acked    int
	saves    int
	repeated int
}

func (s *saver) call(method, path, key string, body any) (int, map[string]any, error) {
	data, err := json.Marshal(body)
	if err != nil {
		return 0, nil, err
	}
	req, err := http.NewRequest(method, s.url.Load().(string)+path, bytes.NewReader(data))
	if err != nil {
		return 0, nil, err
	}
	req.Header.Set("Content-Type", "application/json")
	if key != "" {
		req.Header.Set("Idempotency-Key", key)
	}
	res, err := s.http.Do(req)
	if err != nil {
		return 0, nil, err
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	if err != nil {
		return 0, nil, err
	}
	var out map[string]any
	if len(text) > 0 {
		err = json.Unmarshal(text, &out)
	}
	return res.StatusCode, out, err
}

// until asks until it is answered in order.
func (s *saver) until(method, path, key string, body any) map[string]any {
	for begun := time.Now(); time.Since(begun) < time.Minute; {
		status, out, err := s.call(method, path, key, body)
		switch {
		case err == nil && status == 200:
			return out
		case err == nil && status < 500:
			s.t.Errorf("%s %s: %d %v", method, path, status, out)
			return nil
		}
		time.Sleep(20 * time.Millisecond) // the server is away
	}
	s.t.Errorf("%s %s is not answered", method, path)
	return nil
}

// stored is the number that both boards carry in the store.
func (s *saver) stored() int {
	layout := s.until("GET", "/api/pieces/"+s.piece+"/layout", "", nil)
	var numbers []int
	boards, _ := layout["boards"].([]any)
	for _, b := range boards {
		n, err := strconv.Atoi(b.(map[string]any)["board"].(map[string]any)["name"].(string))
		assert.NoError(s.t, err)
		numbers = append(numbers, n)
	}
	if assert.Len(s.t, numbers, 2) && assert.Equal(s.t, numbers[0], numbers[1], "both or none") {
		return numbers[0]
	}
	return -1
}

// save saves the next number, and holds the server to what it said of it.
func (s *saver) save() {
	n := s.acked + 1
	body := []map[string]any{}
	for _, b := range s.boards {
		board := b["board"].(map[string]any)
		board["name"] = strconv.Itoa(n)
		body = append(body, map[string]any{"version": b["version"], "board": board})
	}
	wanted, key, path := map[string]any{"boards": body}, uuid.NewString(), "/api/pieces/"+s.piece+"/layout"
	status, out, err := s.call("PUT", path, key, wanted)
	s.saves++
	if err != nil || status >= 500 {
		s.repeated++
		there := s.stored()
		said := fmt.Sprint(out["detail"])
		switch {
		case strings.Contains(said, "nothing was stored"):
			assert.Equal(s.t, s.acked, there, said)
		case strings.Contains(said, "is stored"):
			assert.Equal(s.t, n, there, said)
		default:
			assert.Contains(s.t, []int{s.acked, n}, there, "nothing that was acknowledged is lost")
		}
		out = s.until("PUT", path, key, wanted)
	} else if !assert.Equal(s.t, 200, status, "%v", out) {
		return
	}
	s.take(out)
	s.acked = n
}

func (s *saver) take(layout map[string]any) {
	s.boards = nil
	boards, _ := layout["boards"].([]any)
	for _, b := range boards {
		s.boards = append(s.boards, b.(map[string]any))
	}
}

func newSaver(t *testing.T, url *atomic.Value, name string) *saver {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	s := &saver{t: t, url: url, http: http.Client{Jar: jar, Timeout: 15 * time.Second}}
	s.until("POST", "/api/sign-up", "", map[string]any{"email": name + "@example.org",
		"password": "amber weir lattice"})
	piece := s.until("POST", "/api/pieces/sized", "", map[string]any{"name": name, "species": "Pear", "length": 900,
		"width": 200, "thickness": 30, "stock": "plank", "reclaimed": false})
	s.piece = piece["id"].(string)
	for range 2 {
		s.until("POST", "/api/boards", "", map[string]any{"piece": s.piece, "name": "0"})
	}
	s.take(s.until("GET", "/api/pieces/"+s.piece+"/layout", "", nil))
	return s
}

// However the server or its database is killed during saves: nothing that was
// acknowledged is lost, nothing is stored by half, and nothing is said to be stored
// that is not, nor the reverse.
func TestKillsDuringSaves(t *testing.T) {
	dir, err := os.MkdirTemp("", "idletimber-kill-*")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	require.NoError(t, os.Chmod(dir, 0o755))
	running := start(t, "serve", "--data", dir)
	var url atomic.Value
	url.Store(running.url)
	var savers []*saver
	for i := range 3 {
		savers = append(savers, newSaver(t, &url, fmt.Sprint("maker", i)))
	}
	done := make(chan struct{})
	var wait sync.WaitGroup
	for _, s := range savers {
		wait.Go(func() {
			for {
				select {
				case <-done:
					return
				default:
					s.save()
				}
			}
		})
	}
	for round := range *killRounds {
		time.Sleep(time.Duration(100+rand.IntN(500)) * time.Millisecond) // kills come when they come
		if round%2 == 0 {
			require.NoError(t, running.cmd.Process.Kill())
			running.cmd.Wait()
			running = start(t, "serve", "--data", dir)
			url.Store(running.url)
			continue
		}
		pid, err := os.ReadFile(filepath.Join(dir, "postgres", "postmaster.pid"))
		require.NoError(t, err)
		n, err := strconv.Atoi(strings.SplitN(string(pid), "\n", 2)[0])
		require.NoError(t, err)
		if err := syscall.Kill(n, syscall.SIGKILL); !errors.Is(err, syscall.ESRCH) {
			require.NoError(t, err)
		}
		savers[0].stored() // it is answered again
	}
	close(done)
	wait.Wait()
	saves, repeated := 0, 0
	for _, s := range savers {
		assert.Equal(t, s.acked, s.stored())
		saves, repeated = saves+s.saves, repeated+s.repeated
	}
	t.Logf("%d saves under %d kills, %d of them asked again", saves, *killRounds, repeated)
	assert.Positive(t, saves)
	running.stop()
}
