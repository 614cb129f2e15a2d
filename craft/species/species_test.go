package species

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTable(t *testing.T) {
	require.Len(t, All, 45)
	hex := regexp.MustCompile(`^#[0-9A-F]{6}$`)
	for _, s := range All {
		assert.Greater(t, s.CT, s.CR, "%s moves more along the rings than across them", s.Name)
		assert.Regexp(t, hex, s.Light, s.Name)
		assert.Regexp(t, hex, s.Dark, s.Name)
		assert.Contains(t, []string{"suitable", "caution", "never"}, s.Food, s.Name)
	}
	assert.Empty(t, Check("species", "Pear", nil))
	assert.Len(t, Check("species", "Basalt", nil), 1)
	assert.Contains(t, Check("species", "", nil).Error(), UnknownName)
}

// Of the woods of the table about one in ten is worse in any one respect.
func TestUnknownWoodIsCautious(t *testing.T) {
	u, ok := Find(UnknownName)
	require.True(t, ok)
	u.Name = "Mine"
	assert.Empty(t, u.Check("s"))
	worse := map[string]int{}
	for _, s := range All {
		for what, is := range map[string]bool{
			"weaker": s.MOR < u.MOR, "splits": s.TensionPerp < u.TensionPerp, "heavier": s.Density > u.Density,
			"harder": s.Janka > u.Janka, "moves": s.CT > u.CT, "moves radially": s.CR > u.CR,
		} {
			if is {
				worse[what]++
			}
		}
	}
	for what, n := range worse {
		assert.LessOrEqual(t, n, 5, what)
	}
	assert.NotEqual(t, "suitable", u.Food)
}

// A quarter of the strength is what a neck is allowed: 27, 12.7, 5.1, 2.8 MPa.
func TestStrengthAtAnAngle(t *testing.T) {
	for _, c := range []struct{ degrees, allowable, within float64 }{
		{0, 27.25, 0.3}, {15, 12.7, 0.05}, {30, 5.1, 0.05}, {45, 2.8, 0.05}, {90, 1.5, 1e-9},
	} {
		assert.InDelta(t, c.allowable, hankinson(109, 6, c.degrees)/4, c.within, "%v°", c.degrees)
	}
}

func TestOwnSpeciesNameTheirFaults(t *testing.T) {
	good, _ := Find("Pear")
	good.Name = "Quince"
	require.Empty(t, good.Check("s"))
	got, ok := FindIn([]Species{good}, "Quince")
	assert.True(t, ok)
	assert.Equal(t, good, got)
	assert.Empty(t, Check("species", "Quince", []Species{good}))
	_, ok = FindIn(nil, "Quince")
	assert.False(t, ok)
	for field, change := range map[string]func(*Species){
		"s.name": func(s *Species) { s.Name = "Pear" }, "s.group": func(s *Species) { s.Group = "grass" },
		"s.density": func(s *Species) { s.Density = 5 }, "s.janka": func(s *Species) { s.Janka = 0 },
		"s.mor": func(s *Species) { s.MOR = 1e9 }, "s.tensionPerp": func(s *Species) { s.TensionPerp = -1 },
		"s.cr": func(s *Species) { s.CR = 1 }, "s.ct": func(s *Species) { s.CT = 0 },
		"s.pores": func(s *Species) { s.Pores = "many" }, "s.food": func(s *Species) { s.Food = "tasty" },
		"s.dust": func(s *Species) { s.Dust = "" }, "s.light": func(s *Species) { s.Light = "brown" },
		"s.dark": func(s *Species) { s.Dark = "#12" },
	} {
		s := good
		change(&s)
		ps := s.Check("s")
		require.Len(t, ps, 1, field)
		assert.Equal(t, field, ps[0].Field)
	}
}
