package fitting

import (
	"fmt"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// easy is by how much a groove is wider than what is let into it, mm.
const easy = 0.2

func (f *Fitted) bolted(h Bolted, b Board) {
	if h.Straddles {
		f.straddling(h, b)
		return
	}
	length := h.Height + b.Thickness - h.Groove - h.Sunk
	f.item("wooden handle", 1, "pieces")
	f.item(sized("bolts", h.Bolt, length)+" with nut and washer", 2, "pieces")
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:   "fit.bolt",
			Stage: craft.Fit,
			Label: "Bolt's length under its head",
			Value: length,
			Unit:  craft.MM,
			Formula: "handle + board − groove − how deep the head is sunk; the nut is sunk into the handle or shows " +
				"on it",
			Terms: []craft.Term{
				mm("handle", h.Height),
				mm("board", b.Thickness),
				mm("groove", h.Groove),
				mm("sunk", h.Sunk),
			},
			Source: "geometry of the design",
		},
		craft.Figure{
			Key:     "fit.groove",
			Stage:   craft.Fit,
			Label:   "Width of the groove",
			Value:   h.Width + easy,
			Unit:    craft.MM,
			Formula: "handle's foot + " + craft.Length(easy),
			Source:  "rule of the trade",
			Rule:    true,
		},
	)
	left := b.Thickness - h.Groove - h.Sunk
	want := max(leastLeft, b.Thickness/3)
	f.judge(
		"bolted-floor",
		craft.Under(left, want, leastLeft),
		"Wood left between the groove and the bolt's head",
		"The bolt pulls on what is left under the groove.",
		craft.Figure{
			Key:   "fit.floor",
			Label: "Wood left",
			Value: left,
			Unit:  craft.MM,
			Formula: "thickness − groove − how deep the head is sunk, against the larger of {6} and a third of the " +
				"thickness",
			Terms:  []craft.Term{mm("thickness", b.Thickness), mm("groove", h.Groove), mm("sunk", h.Sunk)},
			Source: "rule of the trade",
			Rule:   true,
		},
		want,
		true,
	)
	x := b.Shaped.Outline.Bounds().MaxX - h.From
	from, to, ok := across(b.Shaped, x)
	if !ok {
		return
	}
	for i, at := range h.places(b.Shaped) {
		f.spot(b, fmt.Sprintf("bolt %d", i+1), at, h.Bolt+0.5, UnderFace)
	}
	f.near(b, "bolted", "bolt-edge", 3*h.Bolt)
	moves := b.moves(geom.Point{X: x, Y: from}, geom.Point{X: x, Y: to}) * (to - from)
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:     "fit.moves",
			Stage:   craft.Fit,
			Label:   "The board moves under the handle by",
			Value:   moves,
			Unit:    craft.MM,
			Formula: "width × its movement across the year: bore one bolt's hole longer by this",
			Terms:   []craft.Term{mm("width", to-from)},
			Source:  "Wood Handbook",
		},
	)
	f.Steps = append(f.Steps, "Lay the handle into its groove without glue, bolt it, the washers against the wood")
}

// places are where the bolts go through.
func (h Bolted) places(s board.Shaped) (out []geom.Point) {
	x := s.Outline.Bounds().MaxX - h.From
	from, to, ok := across(s, x)
	if !ok {
		return nil
	}
	for _, share := range []float64{0.25, 0.75} {
		out = append(out, geom.Point{X: x, Y: from + share*(to-from)})
	}
	return out
}

// bores are what the bolts take of the board.
func (h Bolted) bores(s board.Shaped) (out []board.Bore) {
	for i, at := range h.places(s) {
		b := board.Bore{
			Name: fmt.Sprintf(
				"hole for bolt %d",
				i+1,
			), Of: "bolted", A: at, B: at, Diameter: h.Bolt + 0.5, Under: true,
			How: fmt.Sprintf("Bore %s through for bolt %d", craft.Size(h.Bolt+0.5), i+1),
		}
		out = append(out, b)
		if h.Sunk > 0 {
			b.Name, b.Diameter, b.Deep = fmt.Sprintf("seat of the head of bolt %d", i+1), seat(h.Bolt), h.Sunk
			b.How = "Sink its head " + craft.Length(h.Sunk) + " into the under face"
			out = append(out, b)
		}
	}
	return out
}

// groove is what the handle is let into, across the board at x.
func (h Bolted) groove(x, from, to float64) board.Slot {
	return board.Slot{
		Name: "groove for the handle", Of: "bolted", Full: true,
		A: geom.Point{X: x, Y: from}, B: geom.Point{X: x, Y: to}, DepthA: h.Groove, DepthB: h.Groove,
		Width: h.Width + easy,
		How: "Rout the groove for the handle across, " + craft.Length(h.Width+easy) + " wide, " +
			craft.Length(h.Groove) + " deep",
	}
}

// straddling is a handle that sits astride the board's edge, its groove as wide as the
// board is thick: bolted through both cheeks.
func (f *Fitted) straddling(h Bolted, b Board) {
	const short = 2 // a bolt is shorter than what it goes through, mm, so that its nut covers it
	length := h.Height + b.Thickness - short
	f.item("wooden handle", 1, "pieces")
	f.item(sized("bolts", h.Bolt, length)+" with cap nuts", 2, "pieces")
	f.Figures = append(f.Figures,
		craft.Figure{
			Key: "fit.bolt", Stage: craft.Fit, Label: "Bolt's length", Value: length, Unit: craft.MM,
			Formula: "both cheeks of the handle + board − " + craft.Length(short),
			Terms:   []craft.Term{mm("both cheeks", h.Height), mm("board", b.Thickness)},
			Source:  "rule of the trade", Rule: true,
		},
		craft.Figure{
			Key: "fit.groove", Stage: craft.Fit, Label: "Width of the groove in the handle", Value: b.Thickness + easy,
			Unit: craft.MM, Formula: "board + " + craft.Length(easy), Terms: []craft.Term{mm("board", b.Thickness)},
			Source: "rule of the trade", Rule: true,
		})
	for i, at := range h.places(b.Shaped) {
		f.spot(b, fmt.Sprintf("bolt %d", i+1), at, h.Bolt+0.5, ShowFace)
	}
	f.near(b, "bolted", "bolt-edge", 3*h.Bolt)
	f.Steps = append(f.Steps, "Clamp the handle astride the edge, bore both cheeks and the board in one go, bolt it")
}
