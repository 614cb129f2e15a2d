package reckon

import (
	"cmp"
	"maps"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/layout"
	"idletimber/craft/making"
	"idletimber/craft/milling"
	"idletimber/craft/tool"
)

// cuts are the cuts for the board, with who makes them.
func (l *laid) cuts() []layout.Cut {
	if l.cutList == nil {
		l.cutList = l.place.Cuts(l.shaped, l.cutOut(), board.WhoCuts(l.shaped, *l.conditions()))
	}
	return l.cutList
}

// crossCuts are the cuts across that free its blank, as one work; false where there are
// none.
func (l *laid) crossCuts() (m making.Made, of making.Task, ok bool) {
	blank, long := l.cutOut(), l.on.wood.Length
	n, across := 0.0, 0.0
	for _, c := range l.cuts() {
		if c.At != nil {
			n, across = n+1, max(across, c.Length)
		}
	}
	of = l.place.Crossing(across, max(0, min(blank.FromX, long-blank.ToX)))
	of.Amount = n
	return making.By(l.on.Shop.Kit, of), of, n > 0
}

// whoMakes lists who makes what of the board, in working order.
func (l *laid) whoMakes() []making.Made {
	out := []making.Made{}
	if m, _, ok := l.crossCuts(); ok {
		out = append(out, m)
	}
	for _, e := range l.liveEdges() {
		out = append(out, e.made)
	}
	for _, m := range l.makes() {
		out = append(out, m.Made)
	}
	return out
}

// unmade tells what nothing owned makes, with what can be done; bits and router bits that
// are missing are told by their own checks.
func (l *laid) unmade() (out []craft.Verdict) {
	drills := l.on.Shop.Has(tool.DrillPress, tool.DrillGuide, tool.Drill)
	for _, m := range l.makes() {
		if m.By != nil || m.Work == making.Bored && drills {
			continue
		}
		out = append(out, craft.Verdict{
			Check: "tool", Subject: m.Name, Stage: craft.Shape, Level: craft.Mind, AtLeast: true, Limit: 1,
			Finding: "Nothing in the shop makes the " + m.Name, Reason: m.Ways + ".",
			Figure: craft.Figure{
				Key: "tool.owned", Stage: craft.Shape, Label: "Tools that would", Unit: craft.Count,
				Formula: "those owned whose limits, bits and blades take it", Source: "the shop's tools",
			},
		})
	}
	return out
}

// Saving is what a tool that is not owned would save.
type Saving struct {
	Tool    string  `json:"tool" doc:"What it is"`
	Minutes float64 `json:"minutes" doc:"That it would save, at the maker's pace"`
	Boards  int     `json:"boards" doc:"On how many boards"`
}

// leastSaving is how many minutes a tool must save on a board to be spoken of.
const leastSaving = 5

// savings are what one more tool would save on the board: on each cut, hole, profile and
// recess, and on its flattening.
func (l *laid) savings() []Saving {
	minutes := map[string]float64{}
	for _, m := range l.whoMakes() {
		if m.Wish != nil {
			minutes[m.Wish.Tool] += m.Saves * l.on.pace.Of(m.Kind)
		}
	}
	if l.budget().Off > 0 {
		now := l.milled()
		for _, kind := range []string{tool.Jointer, tool.Planer, tool.Sled, tool.RouterSled, tool.DrumSander} {
			if l.on.Shop.Kit.Has(kind) || !now.Fits || now.Minutes == 0 {
				continue
			}
			more := milling.With(l.on.Shop.With(tool.New(kind)), l.piece(l.board.Cut.FlattenWhole), "")
			if more.Minutes > 0 {
				minutes[kind] += now.Step("", l.on.pace).Minutes - more.Step("", l.on.pace).Minutes
			}
		}
	}
	out := []Saving{}
	for kind, saved := range minutes {
		if saved >= leastSaving {
			out = append(out, Saving{kind, saved, 1})
		}
	}
	return greatest(out)
}

// greatest sorts savings, the greatest first.
func greatest(of []Saving) []Saving {
	slices.SortFunc(of, func(a, b Saving) int {
		return cmp.Or(cmp.Compare(b.Minutes, a.Minutes), cmp.Compare(a.Tool, b.Tool))
	})
	return of
}

// Savings are what each tool would save on some boards together, the greatest first.
func Savings(boards []Reckoned) []Saving {
	sums := map[string]Saving{}
	for _, b := range boards {
		for _, s := range b.Savings {
			sum := sums[s.Tool]
			sums[s.Tool] = Saving{s.Tool, sum.Minutes + s.Minutes, sum.Boards + 1}
		}
	}
	return greatest(slices.AppendSeq([]Saving{}, maps.Values(sums)))
}
