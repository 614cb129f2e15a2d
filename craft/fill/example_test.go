package fill_test

import (
	"fmt"

	"idletimber/craft/fill"
	"idletimber/craft/rule"
)

// Resin and hardener for a knot hole and a crack, with what soaks in and what
// stays in the cup.
func Example() {
	voids := []fill.Void{
		{Name: "missing knot 1", Volume: 18, Depth: 12, Chosen: fill.Epoxy},
		{Name: "crack 2", Volume: 6, Depth: 20, Chosen: fill.Epoxy},
	}
	const temperature, step = 21, 0.1 // °C, and the scale's in g
	mix, _, _ := fill.Pour(voids, fill.Choice{Resin: "casting"}, temperature, step, rule.Set{})
	fmt.Printf(
		"%.0f ml of void: %.1f g of resin, %.1f g of hardener\n",
		mix.Net.Value,
		mix.ResinG.Value,
		mix.HardenerG.Value,
	)
	// Output: 24 ml of void: 25.9 g of resin, 11.5 g of hardener
}
