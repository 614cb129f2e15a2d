package demo

import (
	"fmt"
	"time"

	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

// Panels are the glue-ups of the sample, as of a day: a mirrored stripe of storm wood that
// is in clamps today, and a tray in chevron that is planned.
func Panels(now time.Time) []Piece {
	return []Piece{stripes(now), arrows(now)}
}

// strips are strips of a size by their woods, from the left; those of a woods' name that
// stands in from are cut from that piece.
func strips(length, width, thick float64, from map[string]string, woods ...string) (out []glue.Strip) {
	for i, w := range woods {
		out = append(out, glue.Strip{
			AtHand: from[w] == "", ID: fmt.Sprintf("s%d", i+1), Species: w, Length: length, Width: width,
			Thickness: thick, Piece: from[w],
			Turned: i%2 == 1,
		})
	}
	return out
}

func stripes(now time.Time) Piece {
	v := slab.Slab{
		Name: "Storm stripes", Moisture: readings(now, 9.6, 9.3, 9.2), Flaws: []stock.Flaw{},
		Glue: &glue.Panel{
			Construction: glue.OnEdge, Glue: glue.Glues[0].Name, Kerf: 3, Caul: 35, Finished: 22,
			Strips: strips(
				560,
				25,
				24,
				nil,
				"Pear",
				"Hornbeam",
				"Robinia",
				"London plane",
				"Robinia",
				"Hornbeam",
				"Pear",
			),
		},
		Notes: "What the storm left too narrow for a board.",
	}
	v.Glue.Strips[3].Thickness = 42
	v = v.Settled()
	b := reckon.NewBoardOn("", "Weir keeper's board", v, Shop())
	b.Placement = geom.Placement{X: 280}
	b.Design.Length, b.Design.Width, b.Design.Thickness = 380, 165, 20
	b.Give.For, b.Give.People = "the weir keeper", 4
	b.Give.Due = now.AddDate(0, 0, 54).Format(time.DateOnly)
	return Piece{
		Slab: v, Boards: []Laid{{Board: b}},
		Done: []Done{
			done("rip", 50, 8), done("joint", 49.5, 9), done("plane-parts", 49, 8), done("number", 48, 3),
			done("dry-fit", 1.4, 11), done("ready", 1.1, 12), done("glue-1", 0.6, 9),
		},
	}
}

func arrows(now time.Time) Piece {
	rail := map[string]string{"Robinia": "Robinia fence rail"}
	v := slab.Slab{
		Name: "Chevron offcut tray", Moisture: readings(now, 9.5, 9.4), Flaws: []stock.Flaw{},
		Glue: &glue.Panel{
			Construction: glue.Arrows, Glue: glue.Glues[0].Name, Kerf: 3, Caul: 30, Finished: 18,
			Degrees: 45, Slice: 40, Staggered: true,
			Strips: strips(540, 28, 24, rail, "Robinia", "Hornbeam", "Robinia", "Pear", "Robinia", "Pear", "Robinia",
				"Hornbeam", "Robinia"),
		},
		Notes: "A tray for the cider jugs.",
	}
	return Piece{Slab: v.Settled()}
}
