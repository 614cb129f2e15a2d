package nest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// told are the steps of some workers, until so many moves were made by each.
func (p Problem) told(seed uint64, workers, moves int, cores Cores) (out [][]Step) {
	for steps := range p.Together(seed, make([][]Laid, workers), cores) {
		out = append(out, append([]Step{}, steps...))
		if steps[0].Moves >= moves {
			break
		}
	}
	return out
}

// However many cores there are, the same seed gives the same steps; and what searches together lays nothing askew.
func TestTogetherIsTheSameOnAnyCores(t *testing.T) {
	p := cutUp(3)
	one := p.told(5, 3, 700, nil)
	assert.Equal(t, one, p.told(5, 3, 700, NewCores(1)))
	assert.Equal(t, one, p.told(5, 3, 700, NewCores(3)))
	assert.NotEqual(t, one, p.told(6, 3, 700, nil))
	for _, steps := range one {
		for _, step := range steps {
			lieFree(t, p.Problem, step.Best)
		}
	}
}

// What one has found, the others go on from.
func TestAllGoOnFromTheBest(t *testing.T) {
	p := cutUp(3)
	best := Layout{}
	after := false // the epoch in which it was found is the first in which others know it
	for steps := range p.Together(1, make([][]Laid, 3), NewCores(2)) {
		for _, step := range steps {
			if after {
				assert.False(t, best.Better(step.Best))
			}
		}
		for _, step := range steps {
			if step.Best.Better(best) {
				best = step.Best
			}
		}
		after = steps[0].Moves > 700
		if steps[0].Moves >= 1600 {
			break
		}
	}
	require.NotEmpty(t, best.Laid)
	lieFree(t, p.Problem, best)
}

// Who waits for workers learns that one has broken off, and can recover.
func TestAWorkerThatBreaksOffIsTold(t *testing.T) {
	p := cutUp(3).Problem
	p.Bad = func(Layout) []int { panic("no plan") }
	for _, cores := range []Cores{nil, NewCores(2)} {
		assert.PanicsWithValue(t, "no plan", func() { p.told(1, 3, 100, cores) })
		assert.Empty(t, cores, "every core is given back")
	}
}
