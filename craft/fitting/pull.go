package fitting

import (
	"fmt"
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// headHeight and headWidth are those of a screw's head to its diameter (rule).
const headHeight, headWidth = 0.6, 2

// beneath is how far below the face a head is sunk, and how much wider than it its seat
// is, mm: a chip at the rim is hidden (rule).
const beneath = 1

// seat is the diameter of the hole that a screw's head is sunk into, mm.
func seat(screw float64) float64 { return headWidth*screw + beneath }

// lines are where along a board its pulls are screwed on, the handle end first.
func (p Pull) lines(box geom.Bounds) []float64 {
	if p.Both {
		return []float64{box.MaxX - p.Setback, box.MinX + p.Setback}
	}
	return []float64{box.MaxX - p.Setback}
}

// holes are the centres of a pull's two holes: about the middle of the board's width
// where they stand.
func (p Pull) holes(s board.Shaped, x float64) (at [2]geom.Point) {
	middle := p.Offset
	if ys := s.Outline.SpansAcross(x, nil); len(ys) > 1 && !p.OnLine {
		middle += (ys[0] + ys[len(ys)-1]) / 2
	}
	for k, side := range []float64{1, -1} {
		at[k] = geom.Point{X: x, Y: middle + side*p.Spacing/2}
	}
	return at
}

// bores are what the pulls' screws take of the board.
func (p Pull) bores(s board.Shaped) (out []board.Bore) {
	for i, x := range p.lines(s.Outline.Bounds()) {
		for k, at := range p.holes(s, x) {
			b := board.Bore{
				Name: fmt.Sprintf("hole %d of pull %d", k+1, i+1), Of: "pulls", A: at, B: at, Diameter: p.Screw,
				Leaves: spare, Late: true,
			}
			if p.Machine {
				b.Leaves, b.Under = 0, true
			}
			out = append(out, b)
			if p.Machine && p.Countersink > 0 {
				b.Name, b.Diameter, b.Deep = "seat of the head in "+b.Name, seat(p.Screw), p.Countersink
				out = append(out, b)
			}
		}
	}
	return out
}

// screws are the shortest and the longest screw that holds a pull, mm, its kind and how
// that is reckoned.
func (p Pull) screws(t float64) (kind, formula string, shortest, longest float64) {
	if p.Machine {
		shortest, longest = MachineScrew(t, p.Countersink)
		return "machine screws", "board − countersink + thread in the pull, " + craft.Length(leastThread) + " to " +
			craft.Length(mostThread), shortest, longest
	}
	shortest, longest = WoodScrew(p.Foot, t, p.Countersink)
	return "wood screws", "part − countersink + " + craft.Length(
		bite,
	) + " of bite, to part + board − countersink − " +
		craft.Length(
			spare,
		), shortest, longest
}

func (f *Fitted) pulls(p Pull, b Board) {
	kind, formula, shortest, longest := p.screws(b.Thickness)
	length := sold(shortest, longest)
	n := 1.0
	if p.Both {
		n = 2
	}
	colour := ""
	if p.Colour != "" {
		colour = ", " + p.Colour
	}
	f.item("pulls"+colour, n, "pieces")
	f.item(sized(kind, p.Screw, length)+colour, 2*n, "pieces")
	level := craft.Good
	finding := fmt.Sprintf("%s of %s bite and do not poke through", craft.Capital(kind), craft.Length(length))
	if length == 0 {
		level, finding = craft.Stop, "No screw is long enough to bite and short enough not to poke through"
	}
	f.judge(
		"pull-screws",
		level,
		finding,
		"A screw that pokes through ruins the face; one that does not bite lets the pull go.",
		craft.Figure{
			Key:     "fit.pull",
			Label:   "Screw's length",
			Value:   length,
			Unit:    craft.MM,
			Formula: formula + "; the longest that is sold between",
			Terms: []craft.Term{
				mm("shortest", shortest),
				mm("longest", longest),
				mm("board", b.Thickness),
				mm("part", p.Foot),
				mm("countersink", p.Countersink),
			},
			Source: "rule of the trade",
			Rule:   true,
		},
		longest,
		false,
		p.otherScrews(b.Thickness, length)...)
	f.heads(p, b)
	lines := p.lines(b.Shaped.Outline.Bounds())
	hole, label, face := p.Screw+0.5, "Clearance hole", UnderFace
	janka := 0.0
	for _, x := range lines { // the hardest wood decides
		for _, at := range p.holes(b.Shaped, x) {
			janka = max(janka, b.Wood.At(at).Species.Janka)
		}
	}
	if !p.Machine {
		hole, label, face = Pilot(p.Screw, janka), "Pilot hole", ShowFace
	}
	f.Figures = append(
		f.Figures,
		craft.Figure{
			Key:     "fit.pilot",
			Stage:   craft.Fit,
			Label:   label,
			Value:   hole,
			Unit:    craft.MM,
			Formula: "core of the screw, and {0.3} more in hard wood; a machine screw goes through with {0.5} to spare",
			Terms: []craft.Term{
				mm("screw", p.Screw),
				{Name: "hardness", Value: janka, Unit: craft.Newton},
			},
			Source: "rule of the trade",
			Rule:   true,
		},
	)
	for i, x := range lines {
		for k, at := range p.holes(b.Shaped, x) {
			f.spot(b, fmt.Sprintf("hole %d of pull %d", k+1, i+1), at, hole, face)
		}
	}
	f.near(b, "pulls", "pull-edge", 3*p.Screw)
	step := "Mark the pulls from two edges of the " + face + ", bore " + craft.Size(hole)
	if p.Machine && p.Countersink > 0 {
		step += ", sink the heads " + craft.Length(p.Countersink)
	}
	f.Steps = append(f.Steps, step+", try one screw on scrap, drive by hand")
}

// otherScrews tries heads that are sunk less or more, until a screw that is sold holds
// where none did.
func (p Pull) otherScrews(t, length float64) []craft.Remedy {
	if length > 0 {
		return nil
	}
	most := p.Foot // of a head that is sunk into the pull itself
	if p.Machine {
		most = t - max(leastLeft, t/3)
	}
	for off := 0.5; off <= 30; off += 0.5 {
		for _, to := range []float64{p.Countersink - off, p.Countersink + off} {
			next := p
			next.Countersink = math.Round(to*2) / 2
			if next.Countersink < 0 || next.Countersink > most {
				continue
			}
			if _, _, shortest, longest := next.screws(t); sold(shortest, longest) > 0 {
				label := "Sink the heads {}"
				if next.Countersink == 0 {
					label = "Do not sink the heads"
				}
				return []craft.Remedy{{
					Label: label, Amount: next.Countersink, Unit: craft.MM,
					Patch: craft.Patch{
						"fit": map[string]any{"pulls": map[string]any{"countersink": next.Countersink}},
					},
				}}
			}
		}
	}
	return nil
}

// leastLeft is the least wood, mm, that a bolt or a screw pulls on; a third of the
// thickness where that is more.
const leastLeft = 5

// heads judges how the screws' heads are sunk: not so deep that they pull through what
// is left, and under a board not so little that it stands on them.
func (f *Fitted) heads(p Pull, b Board) {
	left, want, what := p.Foot-p.Countersink, 0.5, "pull"
	thick := p.Foot
	if p.Machine {
		thick, what = b.Thickness, "board"
		left, want = b.Thickness-p.Countersink, max(leastLeft, b.Thickness/3)
	}
	figure := craft.Figure{
		Key:     "fit.head",
		Label:   "Left of the " + what + " under a head",
		Value:   left,
		Unit:    craft.MM,
		Formula: "thickness − how deep the head is sunk",
		Terms:   []craft.Term{mm(what, thick), mm("sunk", p.Countersink)},
		Source:  "rule of the trade",
		Rule:    true,
	}
	stop := 0.01
	if p.Machine {
		stop = leastLeft
	}
	level := craft.Under(left, want, stop)
	if level != craft.Good || !p.Machine {
		f.judge("pull-heads", level, "What the screws' heads pull on",
			"A head that is sunk too deep pulls through what is left under it.", figure, want, true,
			p.sinkTo(math.Floor((thick-want)*2)/2, level)...)
		return
	}
	high := headHeight * p.Screw
	proud := high - p.Countersink - b.Feet
	level = craft.Over(proud, 0, math.Inf(1))
	finding := "The screws' heads keep off the table"
	if level != craft.Good {
		finding = "The screws' heads stand proud under the board"
	}
	figure.Key, figure.Label, figure.Value = "fit.proud", "A head stands proud by", max(0, proud)
	figure.Formula = "height of a head, 0.6 of the screw's diameter, − how deep it is sunk − height of the feet"
	figure.Terms = []craft.Term{mm("head", high), mm("sunk", p.Countersink), mm("feet", b.Feet)}
	f.judge("pull-heads", level, finding, "A head that stands proud scratches the table, and the board rocks on it.",
		figure, 0, false, p.sinkTo(math.Ceil((high+beneath-b.Feet)*2)/2, level)...)
}

// sinkTo sinks the heads so deep, mm.
func (p Pull) sinkTo(to float64, level craft.Level) []craft.Remedy {
	if level == craft.Good || to < 0 {
		return nil
	}
	return []craft.Remedy{{
		Label: "Sink the heads {}", Amount: to, Unit: craft.MM,
		Patch: craft.Patch{"fit": map[string]any{"pulls": map[string]any{"countersink": to}}},
	}}
}
