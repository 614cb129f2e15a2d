package main

import (
	"bytes"
	"context"
	"encoding/xml"
	"io"
	"log/slog"
	"net/http/httptest"
	"os"
	"strings"
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

// site is a process behind a proxy, as the command wants it, and its database.
func site(t *testing.T) (url, database string) {
	t.Helper()
	ctx := context.Background()
	database, err := postgres.NewDatabase(ctx)
	require.NoError(t, err)
	st, err := store.Open(ctx, store.Config{URL: database}, time.Now)
	require.NoError(t, err)
	srv, err := server.New(
		server.Config{Store: st, Clock: time.Now, Log: slog.New(slog.DiscardHandler), Web: fstest.MapFS{},
			Demo: demo.Email, Proxies: []string{"127.0.0.1/32"}, Searches: 1},
	)
	require.NoError(t, err)
	require.NoError(t, demo.Load(ctx, srv, time.Now()))
	web := httptest.NewServer(srv)
	t.Cleanup(func() {
		srv.Close()
		web.Close()
		st.Close()
	})
	return web.URL, database
}

// Makers sign up, each from an address of their own, work, and all that they do is answered and counted.
func TestACrowdAtWork(t *testing.T) {
	url, _ := site(t)
	c := crowd{urls: []string{url}, makers: 12, think: 40 * time.Millisecond, lasts: 2 * time.Second, streams: true}
	tally, err := c.work(context.Background())
	require.NoError(t, err)
	assert.Empty(t, tally.why)
	assert.Empty(t, tally.wrong)
	assert.NotEmpty(t, tally.took["POST board/draft"])
	assert.Contains(t, tally.String(), "0 errors\n")
	m := &maker{url: url, address: "10.1.1.1", http: client(1)}
	job, err := sampleJob(context.Background(), url, m.http)
	require.NoError(t, err)
	require.NoError(t, m.arrive(context.Background(), "each@example.org", job))
	sum := 0
	for _, a := range acts { // those too that chance has left out
		sum += a.share
		r, err := a.do(context.Background(), m)
		require.NoError(t, err, a.name)
		assert.Equal(t, 200, r.status, "%s: %.200s", a.name, r.body)
	}
	assert.Equal(t, 1000, sum)
	_, err = crowd{urls: []string{"http://127.0.0.1:1"}, makers: 1}.work(context.Background())
	assert.ErrorContains(t, err, "start the processes with demo")
}

// A database is filled as it is told, and the questions are asked at each size.
func TestGrowing(t *testing.T) {
	url, database := site(t)
	all := sizes
	defer func() { sizes = all }()
	sizes = []int{10, 100}
	lines, err := grownLines(context.Background(), url, database, 1)
	require.NoError(t, err)
	require.Len(t, lines, len(growing)*len(measured))
	for _, l := range lines {
		require.Len(t, l.p95, 2, "%s, %s", l.grown, l.what)
		assert.Positive(t, l.p95[1])
	}
	var out bytes.Buffer
	table(&out, lines)
	assert.Contains(t, out.String(), "| log lines")
	assert.Equal(t, len(lines)+2, strings.Count(out.String(), "\n"))
	drawing := xml.NewDecoder(strings.NewReader(plotted(lines)))
	for err = nil; err == nil; {
		_, err = drawing.Token()
	}
	assert.ErrorIs(t, err, io.EOF, "it is whole")
	assert.Equal(t, len(lines), strings.Count(plotted(lines), "<polyline"))
}

func TestAt(t *testing.T) {
	took := []time.Duration{5, 1, 4, 2, 3}
	assert.EqualValues(t, 3, at(took, 50))
	assert.EqualValues(t, 5, at(took, 99))
	assert.EqualValues(t, 5, at(took, 100))
	assert.Zero(t, at(nil, 50))
}
