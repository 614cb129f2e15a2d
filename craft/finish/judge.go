package finish

import (
	"math"
	"slices"

	"idletimber/craft"
)

// How warm it gets where a gift may lie, °C (rules).
const (
	parcel  = 50
	carLow  = 60
	carHigh = 70
)

// judge is what a finish must be minded for.
func (p Plan) judge(s Surface, c Choice, k Conditions) []craft.Verdict {
	var out []craft.Verdict
	for _, one := range []func(Surface, Choice, Conditions) (craft.Verdict, bool){
		p.cold, p.summer, p.wetted, p.tooEarly, p.overWax, p.inTub, p.tubOil, p.uncured,
	} {
		if v, ok := one(s, c, k); ok {
			out = append(out, v)
		}
	}
	return out
}

func (p Plan) has(of func(Product) bool) bool {
	return slices.ContainsFunc(p.Coats, func(c Coat) bool {
		product, _ := p.product(c.Product)
		return of(product)
	})
}

// change is a patch of the list of acts.
func (p Plan) change(of func([]Act) []Act) craft.Patch {
	return craft.Patch{"finish": map[string]any{"list": of(slices.Clone(p.Acts))}}
}

// cold tells of wax that is stiff and of soaks that take longer.
func (p Plan) cold(_ Surface, _ Choice, k Conditions) (craft.Verdict, bool) {
	if k.Temperature >= stiff || !p.has(func(Product) bool { return true }) {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "finish-cold", Stage: craft.Finish, Level: craft.Mind, Limit: stiff, AtLeast: true,
		Finding: "It is cold for a finish: wax is stiff, and what soaks takes twice as long",
		Reason:  "Warm the tin in a water bath, or finish it indoors once the spirits have flashed off outdoors.",
		Figure: craft.Figure{
			Key: "finish.cold", Stage: craft.Finish, Label: "Air of the shop", Value: k.Temperature,
			Unit: craft.Celsius, Formula: "as it was measured or set", Source: "the shop", Rule: true,
		},
	}, true
}

// summer tells of a paste that sweats where a gift may lie in the warm months.
func (p Plan) summer(_ Surface, c Choice, k Conditions) (craft.Verdict, bool) {
	if !k.Warm || p.Paste == nil {
		return craft.Verdict{}, false
	}
	v := craft.Verdict{
		Check: "finish-heat", Stage: craft.Finish, Level: craft.Under(p.Paste.Weeps, parcel, math.Inf(-1)),
		Limit: parcel, AtLeast: true, Finding: "Its wax bears a parcel in summer, not a closed car",
		Reason: "A closed car in summer comes to " + craft.In(carLow, craft.Celsius) + " to " +
			craft.In(carHigh, craft.Celsius) + ", a parcel to " + craft.In(parcel, craft.Celsius) +
			": the paste sweats out, and stains what it lies on.",
		Figure: craft.Figure{
			Key: "finish.heat", Stage: craft.Finish, Label: "The paste sweats above", Value: p.Paste.Weeps,
			Unit: craft.Celsius, Formula: "60 − 5 × n, against what a parcel comes to",
			Terms:  []craft.Term{{Name: "oil to one of wax", Value: c.Ratio}},
			Source: "rule of the trade", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "Its day lies in the warm months, and its wax sweats in a parcel"
		v.Remedies = []craft.Remedy{{
			Label: "Mix it firmer, 2 to 1", Patch: craft.Patch{"finish": map[string]any{"ratio": 2.0}},
		}}
	}
	return v, true
}

// wetted tells of what is wet and comes after the last grit.
func (p Plan) wetted(_ Surface, _ Choice, _ Conditions) (craft.Verdict, bool) {
	late := 0
	for i, a := range p.Acts {
		if product, _ := p.product(a.Product); !product.Water || a.Early {
			continue
		}
		// It is rubbed before anything else comes on it.
		rubbed := false
		for _, b := range p.Acts[i:] {
			if other, ok := p.product(b.Product); ok && !other.Water {
				break
			}
			rubbed = rubbed || b.Sand > 0
		}
		if !rubbed {
			late++
		}
	}
	if late == 0 {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "stain-raises", Stage: craft.Finish, Level: craft.Mind, Limit: 0,
		Finding: "A wet stain after the last grit raises the grain again",
		Reason:  "What stands up under it is sealed in, and feels like a cat's tongue.",
		Figure: craft.Figure{
			Key: "finish.wet", Stage: craft.Finish, Label: "Wet coats after the last grit", Value: float64(late),
			Unit: craft.Count, Formula: "coats with water, put on after sanding and not rubbed",
			Source: "rule of the trade", Rule: true,
		},
		Remedies: []craft.Remedy{{
			Label: "Stain it before the grain is raised for the last time",
			Patch: p.change(func(acts []Act) []Act {
				for i := range acts {
					if product, _ := p.product(acts[i].Product); product.Water {
						acts[i].Early = true
					}
				}
				return acts
			}),
		}},
	}, true
}

// tooEarly tells of what closes the wood before it is wetted and sanded for the last time.
func (p Plan) tooEarly(_ Surface, _ Choice, _ Conditions) (craft.Verdict, bool) {
	bad := func(a Act) bool {
		product, ok := p.product(a.Product)
		return a.Early && ok && !product.Early
	}
	n := 0
	for _, a := range p.Acts {
		if bad(a) {
			n++
		}
	}
	if n == 0 {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "too-early", Stage: craft.Finish, Level: craft.Mind, Limit: 0,
		Finding: "It is oiled or waxed before the grain is raised for the last time",
		Reason:  "Water no longer gets in, and the last grit clogs and takes the coat off again.",
		Figure: craft.Figure{
			Key: "finish.early", Stage: craft.Finish, Label: "Coats before the last raising that are no stain",
			Value: float64(n), Unit: craft.Count, Formula: "coats of anything but a stain, put on before the last grit",
			Source: "rule of the trade", Rule: true,
		},
		Remedies: []craft.Remedy{{
			Label: "Put it on after sanding",
			Patch: p.change(func(acts []Act) []Act {
				for i := range acts {
					acts[i].Early = acts[i].Early && !bad(acts[i])
				}
				return acts
			}),
		}},
	}, true
}

// overWax tells of what comes on wax, where it does not soak in.
func (p Plan) overWax(_ Surface, _ Choice, _ Conditions) (craft.Verdict, bool) {
	on := 0
	for i, c := range p.Coats {
		product, _ := p.product(c.Product)
		if product.Wax {
			continue
		}
		for _, before := range p.Coats[:i] {
			other, _ := p.product(before.Product)
			shared := slices.ContainsFunc(c.On, func(part string) bool { return slices.Contains(before.On, part) })
			if other.Wax && shared {
				on++
				break
			}
		}
	}
	if on == 0 {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "over-wax", Stage: craft.Finish, Level: craft.Mind, Limit: 0,
		Finding: "Something comes on wax: it does not soak in",
		Reason:  "Wax closes the wood. What comes on it lies on top, stays sticky and wears off.",
		Figure: craft.Figure{
			Key: "finish.over-wax", Stage: craft.Finish, Label: "Coats on wax", Value: float64(on), Unit: craft.Count,
			Formula: "coats of anything else after a paste, on the same parts", Source: "rule of the trade", Rule: true,
		},
		Remedies: []craft.Remedy{{
			Label: "Put the paste on last",
			Patch: p.change(func(acts []Act) []Act {
				slices.SortStableFunc(acts, func(a, b Act) int {
					one, _ := p.product(a.Product)
					two, _ := p.product(b.Product)
					switch {
					case one.Wax == two.Wax:
						return 0
					case one.Wax:
						return 1
					}
					return -1
				})
				return acts
			}),
		}},
	}, true
}

// inTub tells of a board that the tub does not take.
func (p Plan) inTub(s Surface, _ Choice, k Conditions) (craft.Verdict, bool) {
	if k.Tub == nil || !slices.ContainsFunc(p.Acts, func(a Act) bool { return a.Bath }) {
		return craft.Verdict{}, false
	}
	n := k.Tub.Fits(s)
	v := craft.Verdict{
		Check: "tub", Stage: craft.Finish, Level: craft.Under(float64(n), 1, 0.5), Limit: 1, AtLeast: true,
		Finding: "It lies in the tub", Reason: "What stands out of the oil stays dry.",
		Figure: craft.Figure{
			Key: "finish.in-tub", Stage: craft.Finish, Label: "Boards like it at once", Value: float64(n),
			Unit: craft.Count, Formula: "by length, width and height of the tub inside, and by how many it takes",
			Terms: []craft.Term{
				{Name: "tub, length", Value: k.Tub.Length, Unit: craft.MM},
				{Name: "tub, width", Value: k.Tub.Width, Unit: craft.MM},
				{Name: "tub, height", Value: k.Tub.Height, Unit: craft.MM},
				{Name: "board, length", Value: s.Length, Unit: craft.MM},
				{Name: "board, width", Value: s.Width, Unit: craft.MM},
			},
			Source: "the shop's tub",
		},
	}
	if v.Level != craft.Good {
		v.Finding = "The tub is too small for it"
		v.Remedies = []craft.Remedy{{
			Label: "Flood it on a sheet instead",
			Patch: p.change(func(acts []Act) []Act {
				for i := range acts {
					acts[i].Bath = false
				}
				return acts
			}),
		}}
	}
	return v, true
}

// tubOil tells of a bath of anything but mineral oil.
func (p Plan) tubOil(_ Surface, _ Choice, _ Conditions) (craft.Verdict, bool) {
	bad := func(a Act) bool {
		product, _ := p.product(a.Product)
		return a.Bath && !product.Tub
	}
	n := 0
	for _, a := range p.Acts {
		if bad(a) {
			n++
		}
	}
	if n == 0 {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "tub-oil", Stage: craft.Finish, Level: craft.Stop, Limit: 0,
		Finding: "Only mineral oil is kept in a tub",
		Reason:  "A curing oil goes gummy in the open, its rags heat themselves, and paste does not flow.",
		Figure: craft.Figure{
			Key: "finish.tub-oil", Stage: craft.Finish, Label: "Baths of anything else", Value: float64(n),
			Unit: craft.Count, Formula: "coats in a tub that are not of mineral oil",
			Source: "rule of the trade", Rule: true,
		},
		Remedies: []craft.Remedy{{
			Label: "Put it on with a rag",
			Patch: p.change(func(acts []Act) []Act {
				for i := range acts {
					acts[i].Bath = acts[i].Bath && !bad(acts[i])
				}
				return acts
			}),
		}},
	}, true
}

// uncured tells of what cures and is covered with something else before it has.
func (p Plan) uncured(_ Surface, _ Choice, _ Conditions) (craft.Verdict, bool) {
	short, want, at := 0.0, 0.0, -1
	for i, a := range p.Acts {
		product, ok := p.product(a.Product)
		if !ok || !product.Cures {
			continue
		}
		waited := a.Wait
		for k, b := range p.Acts[i+1:] {
			if b.Product == a.Product {
				break
			}
			if b.Product != "" {
				if need := product.Food * day; waited < need && need-waited > short {
					short, want, at = need-waited, need, i+k
				}
				break
			}
			waited += b.Wait
		}
	}
	if at < 0 {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "uncured", Stage: craft.Finish, Level: craft.Mind, Limit: want / day, AtLeast: true,
		Finding: "It is covered before it has cured",
		Reason:  "Wax over an oil that has not cured keeps the air from it: it stays soft for months.",
		Figure: craft.Figure{
			Key: "finish.uncured", Stage: craft.Finish, Label: "Cured for",
			Value: (want - short) / day, Unit: craft.Day,
			Formula: "waits between its last coat and what comes on it",
			Source:  "usual figures; its data sheet decides",
			Rule:    true,
		},
		Remedies: []craft.Remedy{{
			Label: "Let it cure first",
			Patch: p.change(func(acts []Act) []Act {
				acts[at].Wait += short
				return acts
			}),
		}},
	}, true
}
