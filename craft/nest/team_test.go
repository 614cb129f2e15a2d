package nest

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// told are the steps of some workers, until so many moves were made by each.
func (p Problem) told(seed uint64, workers, moves int, cores Cores) (out [][]Step) {
	for steps := range p.Search(seed, make([][]Laid, workers), cores) {
		out = append(out, append([]Step{}, steps...))
		if steps[0].Moves >= moves {
			break
		}
	}
	return out
}

// However many cores there are, the same seed gives the same steps; and what searches together lays nothing askew.
func TestASearchIsTheSameOnAnyCores(t *testing.T) {
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

// What one has found, the others go on from, a few epochs later.
func TestAllGoOnFromTheBest(t *testing.T) {
	p := cutUp(3)
	var bests []Layout // after each epoch, of all
	for steps := range p.Search(1, make([][]Laid, 3), NewCores(2)) {
		best := Layout{}
		for i, step := range steps {
			if n := len(bests) - slack; n >= 0 && step.Moves > 800 { // by then each has found something itself
				assert.False(t, bests[n].Better(step.Best), "worker %d knows what was found", i)
			}
			if step.Best.Better(best) {
				best = step.Best
			}
		}
		bests = append(bests, best)
		if steps[0].Moves >= 1600 {
			break
		}
	}
	require.NotEmpty(t, bests[len(bests)-1].Laid)
	lieFree(t, p.Problem, bests[len(bests)-1])
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
