package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The rates of the trade: set-up and a minute for so much.
func TestRates(t *testing.T) {
	for _, c := range []struct {
		kind     Kind
		quantity float64
		minutes  float64
	}{
		{CrossCut, 2, 3 + 2},
		{Curve, 900, 3 + 6},
		{Planing, 10, 5 + 10},
		{Bore, 2, 3 + 2},
		{EdgeWork, 2000, 6 + 5},
		{LiveEdge, 600, 4 + 10},
		{CleanVoid, 20, 2 + 4},
		{ThinGlue, 12, 3 + 6},
		{Putty, 2, 3 + 2},
		{Pour, 100, 12 + 2},
		{Water, 1, 2 + 1},
		{Wipe, 1, 2 + 1},
		{Coat, 0.25, 4 + 5},
		{Buff, 0.25, 3 + 5},
		{Fitting, 4, 5 + 8},
		{Note, 0, 10},
	} {
		s := Work("step", c.kind, c.quantity, nil)
		assert.InDelta(t, c.minutes, s.Minutes, 1e-9, c.kind)
		assert.Equal(t, s.Usual, s.Minutes, "without a log the pace is one")
		assert.Equal(t, s.Minutes, s.Working.Value)
		assert.NotEmpty(t, s.Working.Terms, c.kind)
	}
}

func TestThePaceStretchesASteps(t *testing.T) {
	pace := Learn([]Sample{{Curve, 10, 20}, {Curve, 10, 20}, {Curve, 10, 20}, {Curve, 10, 20}})
	assert.InDelta(
		t,
		1.5,
		pace[Curve],
		1e-9,
		"half way from one to two with as many samples as the estimate counts for",
	)
	s := Work("outline", Curve, 1500, pace)
	assert.InDelta(t, 13*1.5, s.Minutes, 1e-9)
	assert.InDelta(t, 13, s.Usual, 1e-9, "what the log is compared with")
	assert.InDelta(
		t,
		1.0,
		Learn([]Sample{{Curve, 0, 20}, {Curve, 10, 0}}).Of(Curve),
		1e-9,
		"what was not measured teaches nothing",
	)
}

// Every kind that a step may have can be handed over.
func TestKindsAreListed(t *testing.T) {
	for _, k := range []Kind{Sanding, GlueUp, Curve, Wipe, Slicing} {
		assert.Contains(t, Kinds(), k)
	}
}
