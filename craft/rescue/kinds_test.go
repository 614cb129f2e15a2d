package rescue

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft"
)

// Whatever goes wrong, a maker is told what to do at once, has a way out besides giving up, and learns what would have
// kept it from happening; and at every stage at which wood is worked something may.
func TestEveryMishapHasAWayOut(t *testing.T) {
	seen := map[string]bool{}
	for _, k := range Kinds() {
		assert.False(t, seen[k.Key], k.Key)
		seen[k.Key] = true
		assert.NotEmpty(t, k.Stages, k.Key)
		assert.NotEmpty(t, k.Ways, k.Key)
		for _, w := range []Way{Demote, Begin} {
			assert.NotContains(t, k.Ways, w, "%s: that is for every kind", k.Key)
		}
		for _, text := range []string{k.Name, k.Next, k.Before} {
			assert.NotEmpty(t, text, k.Key)
			assert.NotContains(t, text, "!", k.Key)
		}
		for _, text := range []string{k.Next, k.Before} {
			assert.True(t, strings.HasSuffix(text, "."), "%s: %s", k.Key, text)
		}
		assert.Equal(t, k.Check == "", k.Warning() == "", "%s: the check that warns of it has a name", k.Key)
		cuts := false
		for _, m := range k.Marks {
			cuts = cuts || m == Area || m == Line
		}
		for _, w := range k.Ways {
			if w == FairLine || w == AngledEnd {
				assert.True(t, cuts, "%s: a line is drawn about what is marked", k.Key)
			}
		}
	}
	for _, of := range craft.Stages {
		switch of.Stage {
		case craft.Layout, craft.Wood:
			assert.NotEmpty(t, KindsAt(of.Stage, nil), of.Name)
		default:
			assert.Greater(t, len(KindsAt(of.Stage, nil)), 2, of.Name)
		}
	}
}
