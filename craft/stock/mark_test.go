package stock

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

// Every kind of flaw that is offered begins as one that is taken.
func TestAMarkBeginsRight(t *testing.T) {
	for _, m := range FlawMarks {
		t.Run(m.Kind, func(t *testing.T) {
			f := Flaw{ID: "f", Kind: Kind(m.Kind)}
			switch m.Drawn {
			case "oval":
				f.A, f.B = m.Least, m.Least*m.Share
			case "line":
				f.Line = []geom.Point{{X: 10}, {X: 10 + m.Least}}
			case "area":
				f.Line = []geom.Point{{X: 10}, {X: 10 + m.Least}, {X: 10, Y: m.Least * m.Share}}
			}
			start, err := json.Marshal(m.Start)
			require.NoError(t, err)
			require.NoError(t, json.Unmarshal(start, &f))
			assert.Empty(t, f.Check("flaw", 500))
		})
	}
}
