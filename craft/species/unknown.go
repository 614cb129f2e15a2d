package species

import "slices"

// UnknownName is what wood is called that nobody can name.
const UnknownName = "Unknown wood"

// unknown is wood that nobody can name, with cautious figures: a tenth of the woods
// of the table are weaker, heavier, harder, or move more.
func unknown(table []Species) Species {
	tenth := func(of func(Species) float64) float64 { return quantile(table, of, 0.1) }
	most := func(of func(Species) float64) float64 { return quantile(table, of, 0.9) }
	return Species{
		Name: UnknownName, Botanical: "not known", Group: "hardwood",
		Density:     most(func(s Species) float64 { return s.Density }),
		Janka:       most(func(s Species) float64 { return s.Janka }),
		MOR:         tenth(func(s Species) float64 { return s.MOR }),
		TensionPerp: tenth(func(s Species) float64 { return s.TensionPerp }), TensionGuess: true,
		CR:    most(func(s Species) float64 { return s.CR }),
		CT:    most(func(s Species) float64 { return s.CT }),
		Pores: "open", Food: "caution", Light: "#C9A882", Dark: "#A07F5B", Dust: "sensitiser",
		Note: "cautious figures until it is known; keep it off wet food, and wear a respirator",
	}
}

// quantile is the value below which a share of the woods lie.
func quantile(table []Species, of func(Species) float64, share float64) float64 {
	values := make([]float64, len(table))
	for i, s := range table {
		values[i] = of(s)
	}
	slices.Sort(values)
	return values[int(share*float64(len(values)-1)+0.5)]
}
