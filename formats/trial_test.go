package formats

import (
	"bytes"
	"encoding/csv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/trial"
)

// The scores of a trial as a table: what was not looked at is empty, times are the workshop's, and
// words that a spreadsheet would reckon with are set off.
func TestTrialCSV(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Vienna")
	require.NoError(t, err)
	tr := trial.Trial{
		Name: "t", Samples: []trial.Sample{{Mark: "plain", Control: true}, {Mark: "hole", Treatment: "=oil"}},
		Rounds: []trial.Round{
			{
				At: time.Date(2031, 7, 1, 18, 30, 0, 0, time.UTC), Did: []string{"sponge", "soap"}, Times: 3,
				By:     "the miller",
				Scores: []trial.Score{{Beads: new(0.0)}, {Beads: new(7.5), Feel: new(9.0)}},
			},
			{At: time.Date(2031, 7, 2, 18, 30, 0, 0, time.UTC), Did: []string{"rinsed"}, Times: 1,
				Scores: []trial.Score{{Colour: new(2.0)}}},
		},
	}
	data, err := TrialCSV(tr, zone)
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 1+2+1)
	assert.Equal(t, []string{
		"1", "2031-07-01 20:30", "sponge, soap", "3", "the miller", "plain", "", "yes", "", "0", "", "",
	}, rows[1])
	assert.Equal(t, "'=oil", rows[2][6])
	assert.Equal(t, []string{"", "9", "7.5", ""}, rows[2][7:11])
	assert.Equal(t, "2", rows[3][10])
	for _, row := range rows {
		assert.Len(t, row, len(rows[0]))
	}
	empty, err := TrialCSV(trial.Trial{}, zone)
	require.NoError(t, err)
	assert.Equal(t, 1, bytes.Count(empty, []byte("\n")))
}
