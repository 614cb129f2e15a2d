package nest_test

import (
	"fmt"

	"idletimber/craft/geom"
	"idletimber/craft/nest"
)

// Four coasters on an offcut with a knot hole: all fit, none touches the hole.
func Example() {
	box := func(x, y, l, w float64) geom.Ring {
		return geom.Ring{{X: x, Y: y}, {X: x + l, Y: y}, {X: x + l, Y: y + w}, {X: x, Y: y + w}}
	}
	coaster := nest.Piece{Parts: []geom.Ring{box(-50, -50, 100, 100)}, Worth: 1}
	problem := nest.Problem{
		Sheet:  nest.Sheet{Outline: box(0, 0, 480, 130), Holes: []geom.Ring{box(230, 50, 20, 30)}},
		Pieces: []nest.Piece{coaster, coaster, coaster, coaster},
		Apart:  3,
	}
	workers := make([][]nest.Laid, 2) // which begin with nothing
	for steps := range problem.Search(1, workers, nest.NewCores(2)) {
		if best := steps[0].Best; len(best.Laid) == 4 {
			fmt.Println(len(best.Laid), "laid, worth", best.Worth)
			break
		}
	}
	// Output: 4 laid, worth 4
}
