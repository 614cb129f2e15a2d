package reckon

import (
	"idletimber/craft/layout"
	"idletimber/craft/making"
)

// cuts are the cuts for the board, with who makes them.
func (l *laid) cuts() []layout.Cut { return l.place.Cuts(l.shaped, l.cutOut(), l.makes()) }

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
	for _, m := range l.makes() {
		out = append(out, m.Made)
	}
	return out
}
