package server_test

import (
	"context"
	"fmt"
	"io"
	"iter"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
	"idletimber/demo"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
)

// at lets the same maker ask another process.
func (m *maker) at(s *site) *maker {
	other := *m
	other.site = s
	return &other
}

// sought is a way of seeking that yields what it is told, for as long as somebody wants to know.
func sought(worths ...float64) func(reckon.Scene, reckon.Seeking) (iter.Seq[reckon.Sought], error) {
	return func(_ reckon.Scene, k reckon.Seeking) (iter.Seq[reckon.Sought], error) {
		return func(yield func(reckon.Sought) bool) {
			best := k.From
			for i, w := range worths {
				if len(best) == 0 || w > best[0].Worth {
					best = []reckon.Proposal{{Worth: w}}
				}
				if !yield(reckon.Sought{Moves: i + 1, Better: true, Proposals: best}) {
					return
				}
			}
			for moves := len(worths) + 1; yield(reckon.Sought{Moves: moves, Proposals: best}); moves++ {
			}
		}, nil
	}
}

// by is a process that seeks so.
func by(seek server.Seek) func(*server.Config) { return func(c *server.Config) { c.Seek = seek } }

// workless is a process that leaves long work to others.
func workless(c *server.Config) { c.Searches = 0 }

func (m *maker) wish(piece string) object {
	_, layout := m.call("GET", "/api/pieces/"+piece+"/layout", nil)
	return wished(layout["fresh"], 150, 90, 1, 6)
}

func worth(news object) float64 {
	all, _ := news["proposals"].([]any)
	if len(all) == 0 {
		return 0
	}
	return all[0].(object)["worth"].(float64)
}

// A search that is begun at one process, is worked at by a second and looked on and stopped at a third.
func TestASearchOverThreeProcesses(t *testing.T) {
	first := newSite(t, workless)
	first.beside(by(sought(1, 2, 3)))
	third := first.beside(workless)
	m := first.sample()
	piece := id(m.piece("Chestnut"))
	search := m.search(piece, 100, m.wish(piece))
	news := m.at(third).watch(search, func(n object) bool { return worth(n) == 3 })
	assert.Equal(t, "running", news["state"])
	status, _ := m.at(third).call("POST", "/api/searches/"+search+"/stop", nil)
	assert.Equal(t, 204, status)
	assert.EqualValues(t, 3, worth(m.watch(search, is("stopped"))))
	status, _ = m.call("POST", "/api/searches/"+search+"/stop", nil)
	assert.Equal(t, 404, status, "it is over")
}

// A process that ends hands its searches to another, with the best so far.
func TestASearchIsHandedOn(t *testing.T) {
	first := newSite(t, workless)
	leaving := first.beside(by(sought(5)))
	m := first.sample()
	piece := id(m.piece("Chestnut"))
	search := m.search(piece, 100, m.wish(piece))
	m.watch(search, func(n object) bool { return worth(n) == 5 })
	leaving.end()
	assert.Contains(t, leaving.log.String(), "handed back")
	waiting := m.watch(search, is("waiting"))
	assert.EqualValues(t, 5, worth(waiting))
	first.beside(by(sought(4)))
	news := m.watch(search, is("running"))
	assert.EqualValues(t, 5, worth(news), "what was found stays")
	assert.Greater(t, news["moves"], 0.0)
}

// A process that hangs, or is killed, is taken over from; when it comes back it finds that it has nothing to do.
func TestASearchIsTakenOver(t *testing.T) {
	first := newSite(t, workless)
	ctx := context.Background()
	m := first.sample()
	piece := id(m.piece("Chestnut"))
	search := m.search(piece, 100, m.wish(piece))
	var job int64
	require.NoError(t, first.store.DB.Get(&job, `SELECT job FROM errands WHERE id = $1`, search))
	_, err := first.store.DB.Exec(
		`UPDATE river_job SET state = 'running', attempted_at = now(), attempt = 1 WHERE id = $1`,
		job,
	)
	require.NoError(t, err)
	e, err := first.store.BeginErrand(ctx, search, job, time.Minute) // and it never says anything again
	require.NoError(t, err)
	found := map[string]any{"proposals": []reckon.Proposal{{Worth: 7}}}
	_, err = first.store.BeatErrand(ctx, e.ID, job, store.Progress{Moves: 9, Seconds: 2, Found: found}, time.Minute)
	require.NoError(t, err)

	first.beside(by(sought(6, 8)))
	start := time.Now()
	news := m.watch(search, func(n object) bool { return worth(n) == 8 })
	assert.Less(t, time.Since(start), 15*time.Second)
	assert.Greater(t, news["seconds"], 2.0, "its time goes on")
	assert.Greater(t, news["moves"], 9.0)
	_, err = first.store.BeatErrand(ctx, e.ID, job, store.Progress{}, time.Minute)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, first.store.EndErrand(ctx, e.ID, job, store.Done, nil), store.ErrNotFound)
	m.call("POST", "/api/searches/"+search+"/stop", nil)
}

// A search that breaks off ends by itself, keeps what it had found, and lets the
// next one run; one that takes its process with it each time is not begun for ever.
func TestASearchThatBreaksOff(t *testing.T) {
	s := newSite(t, by(func(_ reckon.Scene, k reckon.Seeking) (iter.Seq[reckon.Sought], error) {
		if k.Seed > 1 {
			return sought(1)(reckon.Scene{}, k)
		}
		return func(yield func(reckon.Sought) bool) {
			if yield(reckon.Sought{Moves: 1, Better: true, Proposals: []reckon.Proposal{{Worth: 1}}}) && k.Seed == 1 {
				panic("an outline that nobody thought of")
			}
		}, nil
	}))
	m := s.sample()
	piece := id(m.piece("Chestnut"))
	begin := func(seed int) string {
		status, doc := m.call("POST", "/api/pieces/"+piece+"/searches", object{"boards": []any{}, "seconds": 100,
			"seeking": object{"wants": []any{m.wish(piece)}, "seed": seed}})
		require.Equal(t, 200, status, doc)
		return id(doc)
	}
	broken := m.watch(begin(1), is("failed"))
	assert.EqualValues(t, 1, worth(broken))
	assert.Contains(t, broken["wrong"], "something went wrong here")
	assert.Contains(t, s.log.String(), "nobody thought of")
	m.watch(begin(0), is("done"))

	search := begin(2)
	m.watch(search, is("running"))
	_, err := s.store.DB.Exec(`UPDATE errands SET tries = 4, beat_at = now() - interval '1 hour', job = 0
		WHERE id = $1`, search)
	require.NoError(t, err)
	_, err = s.store.DB.Exec(
		`INSERT INTO river_job (id, args, kind, max_attempts, queue, state, attempted_at, attempt)
		VALUES (0, '{}', 'errand', 1, 'searches', 'running', now(), 1)`,
	)
	require.NoError(t, err)
	m.watch(search, is("failed"))
}

// What only another version knows waits for it, and is not given up.
func TestAnErrandOfAnotherVersion(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	me, err := s.store.AccountByEmail(context.Background(), demo.Email)
	require.NoError(t, err)
	errand, err := s.store.NewErrand(
		context.Background(), me.Workshop, "of tomorrow", "papers", object{}, 4, time.Minute)
	require.NoError(t, err)
	_, err = s.store.DB.Exec(`UPDATE errands SET tries = 3 WHERE id = $1`, errand) // one more, and it is given up
	require.NoError(t, err)
	m.watch(errand, func(n object) bool { // a page looks on meanwhile
		require.Contains(t, []string{"waiting", "running"}, n["state"])
		return strings.Count(s.log.String(), "another version of the program") > 2
	})
}

// An errand for which the database goes away is taken up again.
func TestAnErrandWhoseDatabaseGoesAway(t *testing.T) {
	begun := make(chan struct{}, 9)
	s, line := newSiteThrough(t, by(func(j reckon.Scene, k reckon.Seeking) (iter.Seq[reckon.Sought], error) {
		begun <- struct{}{}
		return sought(3)(j, k)
	}))
	m := s.sample()
	piece := id(m.piece("Chestnut"))
	search := m.search(piece, 100, m.wish(piece))
	<-begun
	m.watch(search, func(n object) bool { return worth(n) == 3 })
	line.cut()
	line.mend()
	require.Eventually(t, func() bool {
		status, _ := m.call("GET", "/api/me", nil)
		return status == 200
	}, time.Minute, 50*time.Millisecond)
	news := m.watch(search, func(n object) bool { return n["state"] == "running" && n["seconds"].(float64) > 1 })
	assert.EqualValues(t, 3, worth(news))
	status, _ := m.call("POST", "/api/searches/"+search+"/stop", nil)
	assert.Equal(t, 204, status)
	m.watch(search, is("stopped"))
}

// One maker's many searches do not keep the others waiting, nor out.
func TestWorkshopsTakeTurns(t *testing.T) {
	gate := make(chan struct{})
	order := make(chan string, 20)
	s := newSite(t, by(func(_ reckon.Scene, k reckon.Seeking) (iter.Seq[reckon.Sought], error) {
		return func(func(reckon.Sought) bool) {
			order <- k.Wants[0].Board.Name
			<-gate
		}, nil
	}))
	makers := map[string]*maker{"a": s.sample(), "b": s.other(), "c": s.signUp("c@c.example")}
	pieces := map[string]string{"a": id(makers["a"].piece("Chestnut"))}
	for _, name := range []string{"b", "c"} {
		_, layout := makers["a"].call("GET", "/api/pieces/"+pieces["a"], nil)
		status, made := makers[name].call("POST", "/api/pieces", layout["slab"])
		require.Equal(t, 200, status, made)
		pieces[name] = id(made)
	}
	add := func(name string) (int, object) {
		who := name[:1]
		wish := makers[who].wish(pieces[who])
		wish["board"].(object)["name"] = name
		return makers[who].call("POST", "/api/pieces/"+pieces[who]+"/searches",
			object{"boards": []any{}, "seconds": 100, "seeking": object{"wants": []any{wish}}})
	}
	var last object
	for _, name := range []string{"a1", "a2", "a3", "a4", "a5", "b1", "c1", "b2"} {
		status, doc := add(name)
		if name == "a5" {
			assert.Equal(t, 429, status)
			assert.Contains(t, doc["detail"], "stop one")
			continue
		}
		require.Equal(t, 200, status, doc)
		stop := make(chan struct{})
		who := makers[name[:1]]
		go func() { // each has a page that looks on
			res, err := who.Get(who.url + "/api/searches/" + id(doc) + "/news")
			if err == nil {
				<-stop
				res.Body.Close()
			}
		}()
		t.Cleanup(func() { close(stop) })
		last = doc
		if name == "a1" {
			assert.Equal(t, "a1", <-order)
		}
	}
	assert.EqualValues(t, 4, makers["b"].watch(id(last), is("waiting"))["ahead"], "a1, b1, c1 and a2")
	got := []string{"a1"}
	for range 6 {
		gate <- struct{}{}
		got = append(got, <-order)
	}
	gate <- struct{}{}
	assert.Equal(t, []string{"a1", "b1", "c1", "a2", "b2", "a3", "a4"}, got)
}

// Without a process that works, papers are not made, and it is said so in time; who waits for one does not hold it.
func TestAPaperOfAnotherProcess(t *testing.T) {
	first := newSite(t, workless)
	m := first.sample()
	run := id(m.listed("/api/runs")[0])

	done := make(chan int)
	go func() {
		status, _, data := m.raw("GET", "/api/runs/"+run+"/sheet.pdf", nil)
		if status == 200 && !strings.HasPrefix(string(data), "%PDF") {
			status = 0
		}
		done <- status
	}()
	first.beside()
	assert.Equal(t, 200, <-done)
	status, problem := m.call("GET", "/api/runs/"+store.NewID()+"/sheet.pdf", nil)
	assert.Equal(t, 404, status, problem)
	assert.Contains(t, fmt.Sprint(problem["detail"]), "no such thing")
	other := first.signUp("o@o.example")
	status, begun := m.call("POST", "/api/me/everything", nil)
	require.Equal(t, 200, status)
	m.watch(id(begun), is("done"))
	status, _, _ = other.raw("GET", "/api/searches/"+id(begun)+"/file", nil)
	assert.Equal(t, 404, status, "another workshop's")
}

// Behind a pooler in transaction mode all goes on as without one: what is stored, searched, made and heard, at two
// processes that share fewer connections than either may take.
func TestBehindAPooler(t *testing.T) {
	direct, err := postgres.NewDatabase(context.Background())
	require.NoError(t, err)
	waiting, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	pooled, stop, err := pgserver.Pool(waiting, direct, 6)
	require.NoError(t, err)
	defer stop()
	s := newSiteOn(t, store.Config{URL: pooled, Direct: direct}, workless)
	defer s.end()
	worker := s.beside()
	defer worker.end()
	m := s.sample()
	heard := m.follow()
	piece := id(m.piece("Chestnut"))
	news := m.watch(m.search(piece, 1, m.wish(piece)), is("done"))
	assert.Positive(t, worth(news))
	status, _, _ := m.raw("GET", "/api/runs/"+id(m.listed("/api/runs")[0])+"/sheet.pdf", nil)
	assert.Equal(t, 200, status)
	var wait sync.WaitGroup
	for n := range 40 {
		wait.Go(func() {
			at := m.at([]*site{s, worker}[n%2])
			for _, path := range []string{"/api/bench", "/api/boards", "/api/plan", "/api/shelf", "/api/log"} {
				status, _, answer := at.raw("GET", path, nil)
				assert.Equal(t, 200, status, "%s: %.200s", path, answer)
			}
			status, doc := at.call("POST", "/api/people", object{"name": fmt.Sprint("Rung ", n)})
			assert.Equal(t, 200, status, doc)
		})
	}
	wait.Wait()
	next(t, heard, "changed")
	_, people := m.call("GET", "/api/people?q=Rung", nil)
	assert.EqualValues(t, 40, people["total"])
	assert.NotContains(t, s.log.String()+worker.log.String(), `"level":"ERROR"`)
}

// What is measured can be read, apart from all else, and readiness tells of a process that ends.
func TestSeenFromOutside(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	m.call("GET", "/api/boards", nil)
	run := id(m.listed("/api/runs")[0])
	m.raw("GET", "/api/runs/"+run+"/sheet.pdf", nil)
	side := httptest.NewServer(s.server.Metrics())
	defer side.Close()
	outside := s.visitor().at(&site{t: t, url: side.URL})
	status, _, text := outside.raw("GET", "/metrics", nil)
	require.Equal(t, 200, status)
	for _, line := range []string{
		`idletimber_request_seconds_count{method="GET",route="/api/boards",status="200"} 1`,
		`idletimber_errand_seconds_count{kind="run sheet",state="done"} 1`,
		`go_sql_max_open_connections{db_name="idletimber"} 20`, `idletimber_streams 0`, `go_memstats_heap_alloc_bytes`,
		`go_sql_wait_duration_seconds_total`, `process_resident_memory_bytes`,
	} {
		assert.Contains(t, string(text), line)
	}
	assert.NotContains(t, string(text), "sample@", "nobody's address")
	ready := func() int {
		status, _, _ := outside.raw("GET", "/ready", nil)
		return status
	}
	assert.Equal(t, 200, ready())
	s.server.Drain()
	assert.Equal(t, 503, ready())
	status, _, _ = outside.raw("GET", "/live", nil)
	assert.Equal(t, 200, status)
}

// Limits are settings: of bodies, of long work, of streams.
func TestLimitsAreSettings(t *testing.T) {
	s := newSite(t, by(sought(1)), func(c *server.Config) {
		c.Limits = server.Limits{Body: 20_000, Errands: 1, Streams: 2}
	})
	m := s.sample()
	piece := id(m.piece("Chestnut"))
	status, _ := m.call("POST", "/api/people", object{"name": "Ulla", "likes": strings.Repeat("long boards ", 2000)})
	assert.Equal(t, 413, status)
	m.search(piece, 100, m.wish(piece))
	status, problem := m.call("POST", "/api/me/everything", nil)
	assert.Equal(t, 429, status)
	assert.Contains(t, problem["detail"], "1 of your searches and papers")

	first, second := m.follow(), m.follow()
	req, err := http.NewRequest("GET", s.url+"/api/news", nil)
	require.NoError(t, err)
	req.Header.Set("Accept", "text/event-stream")
	res, err := m.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	_, err = io.ReadAll(res.Body)
	require.NoError(t, err, "one too many ends, and its page tries again")
	m.call("POST", "/api/people", object{"name": "Ulla"})
	next(t, first, "changed")
	next(t, second, "changed")
}
