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
