package money

import (
	"math"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// The worked example: 77.81 in all, 104.02 before it is rounded up to 105.
func TestWorkedExample(t *testing.T) {
	r := Rates{Hour: 1800, Overhead: 5, Margin: 25, Fee: 6.5, Step: 100}
	got := r.Of(Costs{Wood: 1240, Supplies: 410, Hours: 3.2})
	lines := map[string]float64{}
	for _, l := range got.Lines {
		lines[l.Key] = l.Value
	}
	assert.Equal(t, 5760.0, lines["money.work"])
	assert.Equal(t, 371.0, lines["money.overhead"])
	assert.Equal(t, 7781, got.Cost)
	assert.Equal(t, 10402.0, lines["money.fee"])
	assert.Equal(t, 10500, got.Price)
}

func TestHalfACentGoesUp(t *testing.T) {
	for _, tt := range []struct {
		cents float64
		want  int
	}{{0, 0}, {0.5, 1}, {1.4999, 1}, {1.005 * 100, 101}, {370.5, 371}, {2.5, 3}} {
		assert.Equal(t, tt.want, Round(tt.cents), "%v", tt.cents)
	}
}

// The lines above the cost add up to it to the cent; the price covers cost, margin and fee, and no more than a step.
func TestLinesAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		whole := func(name string, hi int) int { return rapid.IntRange(0, hi).Draw(t, name) }
		share := func(name string, hi float64) float64 {
			return math.Round(rapid.Float64Range(0, hi).Draw(t, name)*100) / 100
		}
		r := Rates{Hour: whole("hour", 9000), Overhead: share("overhead", 60), ByHour: whole("by hour", 500),
			Margin: share("margin", 200), Fee: share("fee", 40), Step: 1 + whole("step", 999)}
		c := Costs{
			Wood: whole("wood", 90000), Supplies: whole("supplies", 20000), Made: whole("made", 9000),
			Bought: whole("bought", 9000), Hours: share("hours", 40),
		}
		got := r.Of(c)
		sum := 0
		for _, l := range got.Lines {
			if l.Key == "money.cost" {
				break
			}
			sum += int(l.Value)
		}
		assert.Equal(t, got.Cost, sum)

		exact := func(v float64) *big.Rat { return new(big.Rat).SetFloat64(math.Round(v * 100)) } // hundredths
		paid := new(big.Rat).Mul(big.NewRat(int64(got.Price), 1), new(big.Rat).Sub(big.NewRat(1, 1),
			new(big.Rat).Quo(exact(r.Fee), big.NewRat(10000, 1))))
		least := new(big.Rat).Mul(big.NewRat(int64(got.Cost), 1), new(big.Rat).Add(big.NewRat(1, 1),
			new(big.Rat).Quo(exact(r.Margin), big.NewRat(10000, 1))))
		kept, _ := new(big.Rat).Sub(paid, least).Float64()
		assert.Greater(t, kept, -1.01, "what is left after the fee covers cost and margin to a cent")
		assert.LessOrEqual(t, kept, float64(r.Step)+1)
		assert.Zero(t, got.Price%r.Step)
	})
}

func TestCheck(t *testing.T) {
	assert.Empty(t, Usual().Check("r"))
	bad := Rates{Sign: "much too long", Fee: 100}
	fields := []string{}
	for _, p := range bad.Check("r") {
		fields = append(fields, p.Field)
	}
	assert.ElementsMatch(t, []string{"r.fee", "r.step", "r.sign"}, fields)
}
