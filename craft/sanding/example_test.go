package sanding_test

import (
	"fmt"

	"idletimber/craft/rule"
	"idletimber/craft/sanding"
)

// The quickest ladder over the grits in the drawer, for a planed face of pear.
func Example() {
	face := sanding.Surface{Name: "faces", Area: 2 * 360 * 180, Rate: 1, Wood: 7380}
	shop := sanding.Conditions{Owned: []int{80, 100, 120, 150, 180, 220}, Rules: rule.Set{}}
	const planed = 120 // µm of roughness
	for _, g := range sanding.Quickest(face, planed, 80, 220, shop) {
		fmt.Print("P", g, " ")
	}
	// Output: P80 P100 P150 P220
}
