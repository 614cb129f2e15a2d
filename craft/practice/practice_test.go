package practice

import (
	"cmp"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
)

var now = time.Date(2031, 5, 5, 8, 0, 0, 0, time.UTC)

func ways(t *testing.T, c Case) (out []reckon.WayOut) {
	t.Helper()
	s, err := c.Scene(now)
	require.NoError(t, err, c.Key)
	found, err := reckon.WaysOut(s, reckon.Rescuing{Mishap: Mishap})
	require.NoError(t, err, c.Key)
	for o := range found {
		whom := cmp.Or(s.Boards[0].Give.Whom, "gift")
		if o.Way != nil && slices.Contains(o.Way.For, whom) {
			out = append(out, *o.Way)
		}
	}
	slices.SortFunc(out, func(a, b reckon.WayOut) int {
		if a.Before(b) {
			return -1
		}
		return 1
	})
	return out
}

// The best answer to every case is what the rules put first.
func TestTheBestAnswerIsTheBest(t *testing.T) {
	for _, c := range Cases() {
		of := ways(t, c)
		for i, w := range of[:min(5, len(of))] {
			t.Logf(
				"%s %d: %s (%s) worth %.0f late %.1f later %.1f minutes %.0f, for %v",
				c.Key,
				i,
				w.Label,
				w.Key,
				w.Worth,
				w.LateBy,
				w.Later,
				w.Minutes,
				w.For,
			)
		}
		assert.Equal(t, c.best, of[0].Key, c.Key)
		assert.Greater(t, len(of), 1, "%s: there is something to choose", c.Key)
	}
}
