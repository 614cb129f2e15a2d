package species

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTable(t *testing.T) {
	require.Len(t, All, 44)
	hex := regexp.MustCompile(`^#[0-9A-F]{6}$`)
	for _, s := range All {
		assert.Greater(t, s.CT, s.CR, "%s moves more along the rings than across them", s.Name)
		assert.Regexp(t, hex, s.Light, s.Name)
		assert.Regexp(t, hex, s.Dark, s.Name)
		assert.Contains(t, []string{"suitable", "caution", "never"}, s.Food, s.Name)
	}
	assert.Empty(t, Check("species", "Pear"))
	assert.Len(t, Check("species", "Basalt"), 1)
}

// A quarter of the strength is what a neck is allowed: 27, 12.7, 5.1, 2.8 MPa.
func TestStrengthAtAnAngle(t *testing.T) {
	for _, c := range []struct{ degrees, allowable, within float64 }{
		{0, 27.25, 0.3}, {15, 12.7, 0.05}, {30, 5.1, 0.05}, {45, 2.8, 0.05}, {90, 1.5, 1e-9},
	} {
		assert.InDelta(t, c.allowable, hankinson(109, 6, c.degrees)/4, c.within, "%v°", c.degrees)
	}
}
