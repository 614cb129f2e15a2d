package fill_test

import (
	"fmt"

	"idletimber/craft/fill"
)

// Resin and hardener for a knot hole and a crack, with what soaks in and what
// stays in the cup.
func Example() {
	voids := []fill.Void{
		{Name: "missing knot 1", Volume: 18, Depth: 12, Width: 30},
		{Name: "crack 2", Volume: 6, Depth: 20, Width: 6},
	}
	const temperature, step = 21, 0.1 // °C, and the scale's in g
	c := fill.Choice{Resin: "casting"}
	mix, _, _ := fill.Pour(
		fill.Choose(voids, c, temperature, false),
		c,
		fill.Conditions{Temperature: temperature, ScaleStep: step},
	)
	fmt.Printf(
		"%.0f ml of void: %.1f g of resin, %.1f g of hardener\n",
		mix.Net.Value,
		mix.ResinG.Value,
		mix.HardenerG.Value,
	)
	// Output: 24 ml of void: 25.9 g of resin, 11.5 g of hardener
}
