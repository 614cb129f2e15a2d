package rule

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestASetHoldsOnlyWhatDiffers(t *testing.T) {
	s := Set{Soak: 1.25}
	assert.Equal(t, 1.25, s.Get(Soak))
	assert.Equal(t, 8.0, s.Get(CupLoss), "the rest is usual")
	assert.Equal(t, 1.1, Set(nil).Get(Soak))
}

func TestUsualValuesLieWithinTheirRanges(t *testing.T) {
	seen := map[Key]bool{}
	for _, r := range All {
		assert.False(t, seen[r.Key], "%s is listed twice", r.Key)
		seen[r.Key] = true
		assert.NotEmpty(t, r.Label, r.Key)
		assert.Empty(t, Set{r.Key: r.Usual}.Check("rules"), r.Key)
		assert.Len(t, Set{r.Key: r.Max + 1}.Check("rules"), 1, r.Key)
	}
}

func TestUnknownRules(t *testing.T) {
	ps := Set{"luck": 1}.Check("shop.rules")
	assert.Len(t, ps, 1)
	assert.Equal(t, "shop.rules.luck", ps[0].Field)
}
