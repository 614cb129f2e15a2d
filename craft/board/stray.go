package board

import "idletimber/craft/rule"

// The styles of a board besides the usual, and those who judge one besides whoever is given it.
const (
	Rustic = "rustic"
	Fine   = "fine"

	Own      = "own"
	Customer = "customer"
)

// Stray is how many times the usual a board may stray in what is only looked at: a gap between
// mates, how straight it hangs. It depends on its style and on whom it is for; what keeps
// anybody from harm does not depend on either.
func Stray(style, whom string, rules rule.Set) float64 {
	times := 1.0
	switch style {
	case Rustic:
		times *= rules.Get(rule.RusticStray)
	case Fine:
		times *= rules.Get(rule.FineStray)
	}
	switch whom {
	case Own:
		times *= rules.Get(rule.OwnStray)
	case Customer:
		times *= rules.Get(rule.CustomerStray)
	}
	return times
}

func (c Conditions) stray() float64 {
	if c.Stray == 0 {
		return 1
	}
	return c.Stray
}
