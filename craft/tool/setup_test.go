package tool

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestSetupsAreChecked(t *testing.T) {
	good := Setup{Name: "Narrow fence", Kind: "rip", Fence: 82, Lift: 25, End: "butt", Stop: 300}
	assert.Empty(t, CheckSetups("setups", []Setup{good, {Name: "Other", Kind: "bore"}}))
	for field, s := range map[string]Setup{
		"setups[0].name": {Kind: "rip"}, "setups[0].fence": {Name: "a", Fence: 3000},
		"setups[0].end": {Name: "a", End: "middle"}, "setups[0].lift": {Name: "a", Lift: -1},
		"setups[0].note": {Name: "a", Note: strings.Repeat("x", 2001)},
	} {
		ps := CheckSetups("setups", []Setup{s})
		if assert.Len(t, ps, 1, field) {
			assert.Equal(t, field, ps[0].Field)
		}
	}
	assert.ErrorContains(t, CheckSetups("setups", []Setup{good, good}), "twice")
	assert.NotEmpty(t, CheckSetups("setups", make([]Setup, 201)))
}
