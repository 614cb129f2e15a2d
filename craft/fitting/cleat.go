package fitting

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

func (f *Fitted) cleat(l Cleat, b Board) {
	box := b.Shaped.Outline.Bounds()
	length := box.MaxY - box.MinY
	edge := box.MinX + l.Width/2
	root := b.Wood.At(geom.Point{X: edge})
	share := b.moves(geom.Point{X: edge, Y: box.MinY}, geom.Point{X: edge, Y: box.MaxY})
	moves := share * length * math.Abs(math.Cos(root.Angle(0)*math.Pi/180))
	// A push of the whole weight of two hands against the cleat bends it off its root.
	const push = 300
	strong := root.Species.Strength(0)
	if l.Own {
		strong = root.Species.Strength(90)
	}
	stress := push * l.Height / 2 / (length * l.Width * l.Width / 6)
	limit := strong / 4
	f.item("cleat", length, craft.MM)
	if l.Own {
		f.judge(
			"cleat",
			craft.Over(stress, 0.7*limit, limit),
			"The cleat, its grain across it, holds the push of kneading",
			"Cut from the panel's own end the cleat moves with the board, but it splits along its grain when it is "+
				"pushed.",
			craft.Figure{
				Key:   "fit.cleat",
				Label: "Stress at its root",
				Value: stress,
				Unit:  craft.MPa,
				Formula: "push · height / 2 ÷ (length · width² / 6), against a quarter of the strength across the " +
					"grain",
				Terms: []craft.Term{
					{Name: "push", Value: push, Unit: craft.Newton},
					mm("height", l.Height),
					mm("length", length),
					mm("width", l.Width),
					{Name: "allowed", Value: limit, Unit: craft.MPa},
				},
				Source: "bending of a cantilever; Wood Handbook",
				Rule:   true,
			},
			limit,
			false,
		)
		f.Steps = append(
			f.Steps,
			"Glue the cleat on over its whole length, and screw it in round holes: it moves with the "+
				"board",
		)
		l.screwed(f, b, root.Species.Janka, "screws")
		l.counter(f, b)
		return
	}
	level, finding := craft.Good, "Slotted holes let the board move past the cleat"
	if moves > 6 {
		level, finding = craft.Mind, "The board moves so much past the cleat that its slots grow long"
	}
	f.judge(
		"cleat",
		level,
		finding,
		"With its grain along it the cleat is strong and does not move; the board does. Glued, one of them cracks: "+
			"screw it in slots, glue only the middle.",
		craft.Figure{
			Key:     "fit.cleat",
			Label:   "Slots longer than the screw by",
			Value:   moves,
			Unit:    craft.MM,
			Formula: "board's width × its movement across the year, all of it at the outer screws",
			Terms: []craft.Term{
				mm("width", length),
				{Name: "movement across the year", Value: share * 100, Unit: craft.Percent},
			},
			Source: "Wood Handbook",
			Rule:   true,
		},
		6,
		false,
	)
	f.Steps = append(
		f.Steps,
		fmt.Sprintf(
			"Bore the cleat's middle hole round, the outer ones as slots %s longer than the screw; no glue",
			craft.Length(math.Ceil(moves)),
		),
	)
	l.screwed(f, b, root.Species.Janka, "screws in slots")
	l.counter(f, b)
}

// screwed judges the screws that hold the cleat, and marks them.
func (l Cleat) screwed(f *Fitted, b Board, janka float64, kind string) {
	shortest, longest := WoodScrew(l.Height, b.Thickness, 0)
	n := sold(shortest, longest)
	f.item(sized(kind, l.Screw, n), 3, "pieces")
	level, finding := craft.Good, fmt.Sprintf("Screws of %s bite and do not poke through", craft.Length(n))
	if n == 0 {
		level, finding = craft.Mind, "Sink the screws into the cleat: none sold fits"
	}
	f.judge(
		"cleat-screws",
		level,
		finding,
		"A screw that pokes through ruins the face.",
		craft.Figure{
			Key:     "fit.cleat-screw",
			Label:   "Screw's length",
			Value:   n,
			Unit:    craft.MM,
			Formula: "cleat + {10} of bite, to cleat + board − {4}; the longest that is sold between",
			Terms:   []craft.Term{mm("shortest", shortest), mm("longest", longest)},
			Source:  "rule of the trade",
			Rule:    true,
		},
		longest,
		false,
	)
	for i, at := range l.screws(b.Shaped) {
		f.spot(b, fmt.Sprintf("cleat, screw %d", i+1), at, Pilot(l.Screw, janka), UnderFace)
	}
}

// counter judges the cleat against the worktop that it hooks over.
func (l Cleat) counter(f *Fitted, b Board) {
	where := "lying flat, which is the safer to screw"
	if l.OnEdge {
		where = "on its edge"
	}
	f.Steps = append(f.Steps, "Line the cleat up at a corner, "+where+", clamped with scrap; drill to a stop")
	if l.Worktop > 0 {
		level, finding := craft.Over(l.Height, l.Worktop, math.Inf(1)), "The cleat clears the drawers"
		var remedies []craft.Remedy
		if level != craft.Good {
			finding = "The cleat hangs down in front of the drawers"
			remedies = []craft.Remedy{{
				Label: "Make it {} high", Amount: math.Floor(l.Worktop), Unit: craft.MM,
				Patch: craft.Patch{"fit": map[string]any{"cleat": map[string]any{"height": math.Floor(l.Worktop)}}},
			}}
		}
		f.judge(
			"cleat-drop",
			level,
			finding,
			"A cleat that hangs lower than the worktop's edge blocks a drawer or is hit by it.",
			craft.Figure{
				Key: "fit.drop", Label: "It hangs down by", Value: l.Height, Unit: craft.MM,
				Formula: "its height, against the free edge of the worktop", Source: "measured at the worktop",
			},
			l.Worktop,
			false,
			remedies...)
	}
	if l.TopDepth > 0 {
		box := b.Shaped.Outline.Bounds()
		long := box.MaxX - box.MinX
		level, finding := craft.Over(
			long-l.Width,
			l.TopDepth,
			math.Inf(1),
		), "The board lies on the worktop over its whole length"
		if level != craft.Good {
			finding = "The board is longer than the worktop is deep"
		}
		f.judge(
			"cleat-depth",
			level,
			finding,
			"What stands over at the wall lifts the board off its cleat.",
			craft.Figure{
				Key: "fit.depth", Label: "From the cleat to the board's far end", Value: long - l.Width, Unit: craft.MM,
				Formula: "board's length − the cleat's width", Source: "the design",
			},
			l.TopDepth,
			false,
		)
	}
}

// screws are where the cleat is screwed on.
func (l Cleat) screws(s board.Shaped) (out []geom.Point) {
	box := s.Outline.Bounds()
	x := box.MinX + l.Width/2
	right, left, ok := across(s, x)
	if !ok {
		return nil
	}
	for _, share := range []float64{0.15, 0.5, 0.85} {
		out = append(out, geom.Point{X: x, Y: right + share*(left-right)})
	}
	return out
}
