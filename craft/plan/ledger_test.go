package plan

import (
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheLedgerAddsUp(t *testing.T) {
	worked := func(kind Kind, estimated, actual float64, when string) Worked {
		return Worked{Sample{kind, estimated, actual}, at(when)}
	}
	got := Add([]Worked{
		worked(Sanding, 20, 30, "2031-04-02 19:00"),
		worked(Coat, 10, 8, "2031-04-30 23:30"),
		worked(Sanding, 20, 24, "2031-03-04 19:00"),
	}, []Lost{{CrossCut, 3, at("2031-04-03 12:00")}, {Sanding, 1.5, at("2031-04-03 12:00")}}, zone)
	require.Len(t, got.Kinds, 3)
	sanding := got.Kinds[0]
	assert.Equal(t, KindTook{
		Kind: Sanding, Steps: 2, Estimated: 40, Actual: 54, Pace: 1.12, Mishaps: 1, DaysLost: 1.5,
		Points: []Against{{20, 24}, {20, 30}},
	}, sanding)
	assert.Equal(t, CrossCut, got.Kinds[2].Kind, "only a mishap is known of it")
	assert.Equal(t, []Month{{"2031-04", 38. / 60, 0.5}, {"2031-03", 0.4, 0.4}}, got.Months)
	assert.InDelta(t, 62./60, got.Hours, 1e-9)
	assert.InDelta(t, 4.5, got.DaysLost, 1e-9)
	assert.Equal(t, Ledger{Kinds: []KindTook{}, Months: []Month{}}, Add(nil, nil, zone))
}

// However the log is shuffled, kinds and months come to the same hours.
func TestKindsAndMonthsAgree(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	var worked []Worked
	for range 600 {
		worked = append(worked, Worked{
			Sample{Kinds()[r.IntN(len(Kinds()))], 1 + 30*r.Float64(), 1 + 30*r.Float64()},
			monday.Add(time.Duration(r.IntN(400*24)) * time.Hour),
		})
	}
	got := Add(worked, nil, zone)
	byKind, byMonth := 0.0, 0.0
	for _, k := range got.Kinds {
		byKind += k.Actual / 60
		assert.Len(t, k.Points, min(k.Steps, mostPoints))
	}
	for _, m := range got.Months {
		byMonth += m.Hours
		assert.LessOrEqual(t, m.Dusty, m.Hours+1e-9)
	}
	assert.InDelta(t, got.Hours, byKind, 1e-6)
	assert.InDelta(t, got.Hours, byMonth, 1e-6)
	r.Shuffle(len(worked), func(i, k int) { worked[i], worked[k] = worked[k], worked[i] })
	again := Add(worked, nil, zone)
	assert.InDelta(t, got.Hours, again.Hours, 1e-6)
	assert.Equal(t, len(got.Months), len(again.Months))
}
