package sanding_test

import (
	"fmt"

	"idletimber/craft/sanding"
)

// The quickest ladder over the grits in the drawer, for a planed face of pear.
func Example() {
	face := sanding.Surface{Name: "show face", Area: 360 * 180, Rate: 1, Wood: 7380}
	drawer := []int{80, 100, 120, 150, 180, 220}
	const keptUp = 0.4 // share of the sander's rate
	for _, g := range sanding.Quickest(face, sanding.StartOf(sanding.Planed), 220, drawer, keptUp) {
		fmt.Print("P", g, " ")
	}
	// Output: P80 P100 P150 P220
}
