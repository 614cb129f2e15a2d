package craft

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestOverAndUnder(t *testing.T) {
	for _, c := range []struct {
		value, mind, stop float64
		over              Level
	}{
		{0.5, 0.7, 1, Good}, {0.7, 0.7, 1, Good}, {0.71, 0.7, 1, Mind}, {1, 0.7, 1, Mind}, {1.01, 0.7, 1, Stop},
		{math.Inf(1), 0.7, 1, Stop},
	} {
		assert.Equal(t, c.over, Over(c.value, c.mind, c.stop), "%v", c.value)
		assert.Equal(t, c.over, Under(-c.value, -c.mind, -c.stop), "%v mirrored", c.value)
	}
}

func TestWorst(t *testing.T) {
	assert.Equal(t, Good, Worst(nil))
	assert.Equal(t, Mind, Worst([]Verdict{{Level: Good}, {Level: Mind}, {Level: Good}}))
	assert.Equal(t, Stop, Worst([]Verdict{{Level: Mind}, {Level: Stop}, {Level: Mind}}))
}

func TestProblemsNameTheFieldAndTheWayOut(t *testing.T) {
	var ps Problems
	ps.Range("shop.air.humidity", 50, 1, 99)
	ps.Length("board.length", 300, 30, 5000)
	ps.OneOf("board.shape", "plank", "rectangle", "plank")
	assert.Empty(t, ps)
	ps.Range("shop.air.humidity", math.NaN(), 1, 99)
	ps.Length("board.length", 9000, 30, 5000)
	ps.OneOf("board.shape", "cloud", "rectangle", "plank")
	assert.Len(t, ps, 3)
	assert.Contains(t, ps.Error(), "board.length: 9000 mm is out of range; give a length from 30 to 5000 mm")
	assert.Contains(t, ps.Error(), `"cloud" is not known; choose one of ["rectangle" "plank"]`)
	for _, p := range ps {
		assert.NotEmpty(t, p.Right)
	}
}

func TestLengthInAText(t *testing.T) {
	assert.Equal(t, "under {12.5}", "under "+Length(12.5))
}

func TestEveryStageOnce(t *testing.T) {
	seen := map[Stage]bool{}
	for _, s := range Stages {
		assert.False(t, seen[s.Stage], s)
		seen[s.Stage] = true
	}
	assert.Len(t, Stages, 10)
}

// What lies at a limit by its arithmetic is at the limit.
func TestAtTheLimitIsNotBeyondIt(t *testing.T) {
	assert.Equal(t, Good, Under(9.999999996, 10, 5))
	assert.Equal(t, Good, Over(0.1+0.2, 0.3, 1))
	assert.Equal(t, Mind, Over(1000.0000001, 300, 1000))
	assert.Equal(t, Mind, Under(9.9999, 10, 5))
	assert.Equal(t, Stop, Over(1.001, 0.3, 1))
}

func TestCapital(t *testing.T) {
	for text, want := range map[string]string{"oil": "Oil", "": "", "édge": "Édge", "A": "A", "2 to 1": "2 to 1"} {
		assert.Equal(t, want, Capital(text))
	}
}
