package reckon_test

import (
	"fmt"
	"time"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
)

// A board on a plank: what it comes to, and when it is ready.
func Example() {
	plank := slab.Slab{
		Name: "Pear from the lane", Species: "Pear", Length: 600,
		Show:     []slab.Station{{X: 0, Left: 120, Right: -120}, {X: 600, Left: 115, Right: -118}},
		Readings: []slab.Reading{{X: 300, Thickness: 31}},
	}
	board := reckon.NewBoard("b", "Ladder crew's board", plank.Length)
	scene := reckon.Scene{
		Schema: reckon.Schema,
		Now: time.Date(
			2031,
			6,
			2,
			18,
			0,
			0,
			0,
			time.UTC,
		), Slab: &plank, Boards: []reckon.Board{board}, Shop: shop.Usual(),
	}
	r, err := reckon.Reckon(scene, reckon.Request{})
	if err != nil {
		fmt.Println(err)
		return
	}
	b := r.Boards[0]
	fmt.Printf("%s: %s\n", board.Name, b.Level)
	for _, v := range b.Verdicts {
		if v.Level != craft.Good {
			fmt.Println(v.Level+":", v.Finding)
		}
	}
	// Output:
	// Ladder crew's board: mind
	// mind: No moisture reading yet. Read it with a meter before you cut
}
