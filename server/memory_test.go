package server_test

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/demo"
	"idletimber/server"
	"idletimber/store"
)

var answers = flag.Int("answers", 120, "answers of processes that remember, each compared with a fresh one's")

// What is remembered is never other than what would be reckoned anew, whatever is
// changed in whichever order at whichever process.
func TestWhatIsRememberedIsNeverStale(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	processes := []*maker{m, m.at(s.beside(workless)), m.at(s.beside(workless))}
	seen := 0
	all := func() (out []string) {
		_, list := m.call("GET", "/api/boards", nil)
		for _, b := range list["items"].([]any) {
			out = append(out, id(b.(object)))
		}
		return out
	}
	random := rand.New(rand.NewPCG(7, 11))
	any := func(ids []string) string { return ids[random.IntN(len(ids))] }
	ids := all()
	ctx := context.Background()
	me, err := s.store.AccountByEmail(ctx, demo.Email)
	require.NoError(t, err)
	another := store.Instrument{Name: "another", Kind: "room sensor"}
	sensor, err := s.store.NewInstrument(ctx, me.Workshop, another, []byte("a key of its own"))
	require.NoError(t, err)
	read := 0
	warm := func() { // a pour of the day before cures by the warmth of the room
		read++
		celsius := 19 + 8*random.Float64()
		_, err := s.store.Take(ctx, store.Taken{
			Instrument: sensor, At: now.Add(time.Duration(read-20) * time.Hour), Temperature: &celsius,
		})
		require.NoError(t, err)
	}
	change := func(n int) string {
		m := processes[random.IntN(3)]
		b := "/api/boards/" + any(ids)
		status, sheet := m.call("GET", b, nil)
		if status != 200 {
			return "gone"
		}
		piece := "/api/pieces/" + sheet["piece"].(string)
		switch n % 9 {
		case 0:
			m.call("POST", b+"/given", object{"given": sheet["given"] == false})
		case 1:
			m.call("DELETE", b, nil)
		case 2:
			m.call("POST", b+"/restore", nil)
		case 3, 4:
			board := sheet["board"].(object)
			place := board["placement"].(object)
			place["x"] = place["x"].(float64) + random.Float64()*80 - 40
			m.call("PUT", b, object{"version": sheet["version"], "board": board})
		case 5:
			_, p := m.call("GET", piece, nil)
			slab := p["slab"].(object)
			slab["hollow"] = random.Float64() * 3
			m.call("PUT", piece, object{"version": p["version"], "slab": slab})
		case 6:
			m.call("POST", b+"/mate", object{"version": sheet["version"], "side": "left", "width": 60, "gap": 1})
		case 7:
			_, doc := m.call("GET", "/api/shop", nil)
			doc["shop"].(object)["rules"] = object{"kerf": 1 + random.Float64()}
			m.call("PUT", "/api/shop", doc)
		case 8:
			warm()
		}
		return fmt.Sprint(n%9, " on ", b)
	}
	compare := func(what string) {
		fresh, err := server.New(server.Config{Store: s.store, Clock: func() time.Time { return now },
			Log: slog.New(slog.DiscardHandler), Web: fstest.MapFS{}, Demo: demo.Email})
		require.NoError(t, err)
		defer fresh.Close()
		web := httptest.NewServer(fresh)
		defer web.Close()
		anew, other := *m, *m.site
		other.url, anew.site = web.URL, &other
		for _, path := range []string{"/api/bench", "/api/boards"} {
			_, _, reckoned := anew.raw("GET", path, nil)
			for n, m := range processes {
				_, _, remembered := m.raw("GET", path, nil)
				require.JSONEq(t, string(reckoned), string(remembered), "%s of process %d after %s", path, n, what)
				seen++
			}
		}
	}
	// A board that lies under a given one, which is then moved, or binned.
	_, under := m.call("GET", "/api/boards/"+ids[0], nil)
	_, over := m.call("POST", "/api/boards", object{"piece": under["piece"], "name": "Given"})
	board := over["board"].(object)
	board["placement"] = under["board"].(object)["placement"]
	path := "/api/boards/" + id(board)
	_, over = m.call("PUT", path, object{"version": over["version"], "board": board})
	m.call("POST", path+"/given", object{"given": true})
	compare("it was given")
	board["placement"] = object{"x": 5000, "y": 0, "angle": 0, "flip": false}
	status, _ := m.call("PUT", path, object{"version": over["version"], "board": board})
	require.Equal(t, 200, status)
	compare("it was moved")
	m.call("DELETE", path, nil)
	compare("it was binned")
	for range 3 {
		m.call("GET", "/api/bench", nil)
		warm()
		compare("the room was read")
	}
	for n := 0; seen < *answers; n++ {
		processes[n%3].call("GET", "/api/bench", nil) // so that it is remembered
		compare(fmt.Sprint(n, ": ", change(random.IntN(9))))
	}
}

// The interface takes in every job file that the command reckons, old ones too.
func TestOldJobFilesAreTakenIn(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	files, err := filepath.Glob("../formats/testdata/golden/*.job.json")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		var job object
		require.NoError(t, json.Unmarshal(data, &job))
		for _, f := range job["slab"].(object)["flaws"].([]any) { // as they were marked once
			delete(f.(object), "wish")
			f.(object)["keepOut"] = true
		}
		data = encode(job)
		status, _, answer := m.raw("POST", "/api/jobs", data)
		assert.Equal(t, 200, status, "%s: %.300s", file, answer)
		status, _, answer = m.raw("POST", "/api/reckon", data)
		assert.Equal(t, 200, status, "%s: %.300s", file, answer)
	}
}
