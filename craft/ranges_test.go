package craft

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

type end struct {
	Rise float64 `json:"rise" mm:"-10,10"`
}

type plank struct {
	Length float64 `json:"length" mm:"30,5000" doc:"along the grain"`
	Turns  int     `json:"turns,omitempty" range:"0,4"`
	Neck   float64 `json:"neck" mm:"10,300,when"`
	Ends   []end   `json:"ends"`
	end
}

func TestRangesStandAtTheFields(t *testing.T) {
	var ps Problems
	ps.InRange("p", plank{Length: 40})
	assert.Empty(t, ps, "a neck matters only where it is asked for")
	ps.InRange("p", plank{Length: 20, Turns: 9})
	assert.Equal(t, Problems{
		{"p.length", "20 mm is out of range", "give a length from 30 to 5000 mm"},
		{"p.turns", "9 is out of range", "give a value from 0 to 4"},
	}, ps)
	ps = nil
	ps.InRangeOf("", plank{}, "neck")
	assert.Equal(t, "neck", ps[0].Field)
	ps = nil
	ps.InRange("p", plank{Length: math.NaN()})
	assert.Len(t, ps, 1)

	all := RangesOf(plank{})
	assert.Len(t, all, 5)
	assert.Equal(t, -10.0, all["ends.rise"].Least)
	assert.True(t, all["length"].Length)
	assert.Equal(t, 4.0, all["turns"].Most)
}
