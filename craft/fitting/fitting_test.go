package fitting

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft"
)

func TestMake(t *testing.T) {
	items, verdicts := Make(Choice{}, false, 18, nil)
	assert.Empty(t, items)
	assert.Empty(t, verdicts)
	items, verdicts = Make(Choice{Feet: true, Cord: true}, true, 18, nil)
	assert.Len(t, items, 3)
	assert.Equal(t, craft.Good, craft.Worst(verdicts))
	assert.Equal(t, 14.0, items[1].Amount)
	_, verdicts = Make(Choice{Feet: true, Cord: true}, false, 12, nil)
	assert.Len(t, verdicts, 2)
	assert.Equal(t, craft.Mind, craft.Worst(verdicts))
}
