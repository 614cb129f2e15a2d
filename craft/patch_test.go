package craft

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type inner struct {
	Size float64 `json:"size"`
	Note string  `json:"note,omitempty"`
}

type document struct {
	Name  string  `json:"name"`
	Inner inner   `json:"inner"`
	List  []inner `json:"list,omitempty"`
}

func TestPatchThereAndBack(t *testing.T) {
	a := document{"a", inner{1, "old"}, []inner{{1, ""}, {2, ""}}}
	b := document{"a", inner{3, ""}, []inner{{1, ""}}}
	p := Difference(a, b)
	assert.Equal(
		t,
		Patch{"inner": map[string]any{"size": 3.0, "note": nil}, "list": []any{map[string]any{"size": 1.0}}},
		p,
	)
	require.NoError(t, p.Apply(&a))
	assert.Equal(t, b, a)
	assert.Empty(t, Difference(b, b))
	assert.ErrorContains(t, Patch{"inner": 4}.Apply(&a), "patch")
	assert.Equal(t, b, a, "a patch that fails changes nothing")
}
