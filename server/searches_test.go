package server

import (
	"bytes"
	"context"
	"iter"
	"log/slog"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
)

// A search that breaks off ends by itself, keeps what it had found, and lets the
// next one run.
func TestASearchThatBreaksOff(t *testing.T) {
	var log bytes.Buffer
	s := newSearches(time.Minute, slog.New(slog.NewTextHandler(&log, nil)))
	found := []reckon.Proposal{{Worth: 1}}
	s.seek = func(_ reckon.Scene, k reckon.Seeking) (iter.Seq[reckon.Sought], error) {
		return func(yield func(reckon.Sought) bool) {
			if yield(reckon.Sought{Moves: 1, Better: true, Proposals: found}) && k.Seed == 1 {
				panic("an outline that nobody thought of")
			}
		}, nil
	}
	last := func(seed uint64) (news SearchNews) {
		r := &searchRun{workshop: "w", seeking: reckon.Seeking{Seed: seed}, limit: time.Minute}
		require.NoError(t, s.add(r))
		s.watch(context.Background(), r, nil, func(n SearchNews) error {
			news = n
			return nil
		})
		return news
	}
	broken := last(1)
	assert.Equal(t, "failed", broken.State)
	assert.Equal(t, found, broken.Proposals)
	assert.Contains(t, log.String(), "nobody thought of")
	assert.Equal(t, "done", last(2).State)
}

// One maker's many searches do not keep the others waiting, nor out.
func TestWorkshopsTakeTurns(t *testing.T) {
	s := newSearches(time.Minute, slog.New(slog.DiscardHandler))
	gate := make(chan struct{})
	var order []string
	s.seek = func(j reckon.Scene, _ reckon.Seeking) (iter.Seq[reckon.Sought], error) {
		return func(func(reckon.Sought) bool) {
			<-gate
			order = append(order, j.Shop.Name)
		}, nil
	}
	add := func(workshop, name string) (*searchRun, error) {
		r := &searchRun{workshop: workshop, limit: time.Minute}
		r.job.Shop.Name = name
		return r, s.add(r)
	}
	for _, name := range []string{"a1", "a2", "a3", "a4"} {
		_, err := add("a", name)
		require.NoError(t, err)
	}
	_, err := add("a", "a5")
	assert.ErrorContains(t, err, "stop one")
	_, err = add("b", "b1")
	require.NoError(t, err)
	_, err = add("c", "c1")
	require.NoError(t, err)
	last, err := add("b", "b2")
	require.NoError(t, err)
	assert.Equal(t, 4, last.news.Ahead)
	for range 7 {
		gate <- struct{}{}
	}
	require.Eventually(t, func() bool {
		s.mu.Lock()
		defer s.mu.Unlock()
		return len(s.queue) == 0
	}, time.Minute, time.Millisecond)
	assert.Equal(t, []string{"a1", "b1", "c1", "a2", "b2", "a3", "a4"}, order)
}
