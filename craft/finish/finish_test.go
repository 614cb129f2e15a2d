package finish

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/plan"
)

var surface = Surface{Whole: 224800, End: 8800}

func TestOil(t *testing.T) {
	p, _ := Make(surface, Choice{School: Oil, Ratio: 3}, 20, nil)
	require.Len(t, p.Coats, 3)
	for i, want := range []float64{17.3, 8.6, 4.3} {
		assert.InDelta(t, want, p.Coats[i].Grams, 0.05)
	}
	assert.InDelta(t, 30.2, p.Grams.Value, 0.1)
	assert.Equal(t, 12.0*60, p.Coats[0].Wait)
	assert.Zero(t, p.Coats[2].Wait)
	assert.Nil(t, p.Paste)
}

func TestPaste(t *testing.T) {
	p := MixPaste(500, 3)
	assert.InDelta(t, 375, p.OilG, 1e-9)
	assert.InDelta(t, 441, p.OilML, 0.5)
	assert.InDelta(t, 125, p.WaxG, 1e-9)
	for ratio, degrees := range map[float64]float64{2: 50, 3: 45, 4: 40} {
		assert.Equal(t, degrees, MixPaste(1, ratio).Weeps)
	}
}

func TestOilThenPaste(t *testing.T) {
	p, _ := Make(surface, Choice{School: OilThenPaste, Coats: 2, Ratio: 3}, 20, nil)
	require.Len(t, p.Coats, 3)
	last := p.Coats[2]
	assert.Equal(t, Paste, last.Product)
	assert.InDelta(t, 17.28*25/70, last.Grams, 0.01)
	require.NotNil(t, p.Paste)
	assert.InDelta(t, last.Grams, p.Paste.OilG+p.Paste.WaxG, 1e-9)
}

func TestEverySchoolEndsInFood(t *testing.T) {
	for _, s := range Schools {
		p, r := Make(surface, Choice{School: s.Name, Ratio: 3}, 20, nil)
		assert.NotEmpty(t, p.Coats, s.Name)
		assert.Positive(t, p.Food.Value, s.Name)
		assert.Positive(t, p.Grams.Value, s.Name)
		var used float64
		for _, u := range r.Uses {
			used += u.Amount
		}
		assert.InDelta(t, p.Grams.Value, used, 1e-9, "the shelf gives what the coats take")
		assert.Equal(t, p.Food.Value*day, r.Steps[len(r.Steps)-1].Rest, "%s rests after its last step", s.Name)
	}
}

func TestChoiceCheck(t *testing.T) {
	assert.Empty(t, Choice{School: "oil", Coats: 4, Ratio: 3}.Check("finish"))
	assert.Len(t, Choice{School: "oil", Coats: 40, Ratio: 0}.Check("finish"), 2)
	assert.NotEmpty(t, Choice{School: "paint", Ratio: 3}.Check("finish"))
}

// Wood that soaks or dries holds its place until the wait is over, and no longer.
func TestWhatACoatHolds(t *testing.T) {
	for school, want := range map[string]string{OilBath: plan.Bath, OilThenPaste: plan.Rack, Oil: plan.Rack} {
		t.Run(school, func(t *testing.T) {
			_, r := Make(Surface{Whole: 2e5, End: 1e4}, Choice{School: school, Ratio: 3}, 20, plan.Pace{})
			waits := 0
			for _, s := range r.Steps {
				if s.Wait == 0 || s.Key == "wipe" { // spirits flash off wherever it lies
					assert.Empty(t, s.Holds, s.Key)
					continue
				}
				waits++
				assert.Equal(t, []string{want}, s.Holds, s.Key)
			}
			assert.Positive(t, waits)
		})
	}
}

// Soak, wiping, haze and buffing each have their time and their hand: what the panel
// says of a coat is what the plan waits.
func TestEveryWaitOfACoatIsKept(t *testing.T) {
	for _, school := range Schools {
		p, r := Make(surface, Choice{School: school.Name, Coats: school.Most, Ratio: 3}, 10, nil)
		steps := map[string]plan.Step{}
		for _, s := range r.Steps {
			steps[s.Key] = s
		}
		assert.InDelta(t, 40, steps["wipe"].Wait, 1e-9, "spirits at 10 °C")
		for i, coat := range p.Coats {
			name := fmt.Sprintf("%s, coat %d", school.Name, i+1)
			put, wiped := steps[fmt.Sprintf("coat-%d", i+1)], steps[fmt.Sprintf("wipe-%d", i+1)]
			buffed, last := steps[fmt.Sprintf("buff-%d", i+1)], i == len(p.Coats)-1
			assert.Equal(t, coat.Soak, put.Wait, name)
			assert.Equal(t, coat.Soak < unattended, put.Attended, "%s: somebody comes back, but not in the night", name)
			assert.Equal(t, coat.Product != Paste, wiped.Key != "", "%s: paste is buffed, the others wiped", name)
			assert.Equal(t, coat.Buff >= 0, buffed.Key != "", name)
			end := wiped
			if buffed.Key != "" {
				end = buffed
				if wiped.Key != "" {
					assert.Equal(t, coat.Buff, wiped.Wait, name)
				}
			}
			if !last {
				assert.Equal(t, coat.Wait, end.Wait, name)
			} else {
				assert.Equal(t, p.Food.Value*day, end.Rest, name)
			}
		}
	}
}
