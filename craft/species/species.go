// Package species is the table of woods: density in kg/m³, hardness in
// newtons (Janka), strength in MPa and movement coefficients per percent of
// moisture, after the Wood Handbook (FPL-GTR-282) where it lists the species.
package species

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"idletimber/craft"
)

// Species is one wood.
type Species struct {
	Name         string  `json:"name" doc:"As the trade calls it"`
	Botanical    string  `json:"botanical" doc:"Botanical name"`
	Group        string  `json:"group" enum:"hardwood,softwood" doc:"Hardwood or softwood"`
	Density      float64 `json:"density" range:"80,1500" doc:"kg/m³"`
	Janka        float64 `json:"janka" range:"100,25000" doc:"Side hardness, N"`
	MOR          float64 `json:"mor" range:"10,300" doc:"Bending strength along the grain, MPa"`
	TensionPerp  float64 `json:"tensionPerp" range:"0.5,20" doc:"Tension across the grain, MPa"`
	TensionGuess bool    `json:"tensionGuess" doc:"True when the tension across the grain is estimated"`
	CR           float64 `json:"cr" range:"0.0003,0.006" doc:"Radial movement, share of width per percent of moisture"`
	CT           float64 `json:"ct" range:"0.0003,0.01" doc:"Tangential movement, share of width a percent of moisture"`
	Pores        string  `json:"pores" doc:"How its pores lie"`
	Food         string  `json:"food" enum:"suitable,caution,never" doc:"Whether it is used for food"`
	Light        string  `json:"light" doc:"Lighter colour, #rrggbb"`
	Dark         string  `json:"dark" doc:"Darker colour, #rrggbb"`
	Dust         string  `json:"dust" doc:"What its dust does"`
	ColourChange string  `json:"colourChange" doc:"How its colour changes with time"`
	Note         string  `json:"note" doc:"What else there is to know"`
}

// Tears reports a wood that knives tear out of its face, because its grain interlocks or
// rises now here, now there: the maples and the cherries, and what its note says so of.
func (s Species) Tears() bool {
	for _, word := range []string{"maple", "cherry"} {
		if strings.Contains(strings.ToLower(s.Name), word) {
			return true
		}
	}
	return strings.Contains(s.Note, "interlocked")
}

// HidesPencil reports a wood on which a pencil line is not seen: of less than half of the light of
// white.
func (s Species) HidesPencil() bool {
	var r, g, b int
	if _, err := fmt.Sscanf(s.Light, "#%02x%02x%02x", &r, &g, &b); err != nil {
		return false
	}
	const half = 255 * 0.45
	return 0.299*float64(r)+0.587*float64(g)+0.114*float64(b) < half
}

// Works tells how the wood takes blades and bits: what tears and what burns.
func (s Species) Works() (out []string) {
	if s.Tears() {
		out = append(out, "tears out: light passes, the face damped, a drum or a scraper in place of knives")
	}
	if s.Density >= burnsFrom && s.Pores == "closed" && !s.HidesPencil() {
		out = append(out, "burns under a dull blade or a slow feed: sharp bits, and no stop on the way")
	}
	return out
}

// burnsFrom is the density, kg/m³, from which a pale wood of closed pores shows burns (rule).
const burnsFrom = 650

// HardJanka is the hardness, N, over which a wood counts as hard to work: light passes,
// and clamps at the ends of a glue-up (rule).
const HardJanka = 6000

// Hard reports a wood that is hard to work.
func (s Species) Hard() bool { return s.Janka > HardJanka }

// Strength is the bending strength in MPa at angle degrees between the grain
// and the member (Hankinson 1921).
func (s Species) Strength(degrees float64) float64 {
	return hankinson(s.MOR, s.TensionPerp, degrees)
}

// Modulus is the modulus of elasticity along the grain, MPa, by the density at about 12 %
// (Wood Handbook, a power of the specific gravity).
func (s Species) Modulus() float64 {
	const water = 1120 // kg/m³ of oven-dry wood at 12 % per unit of specific gravity
	g := s.Density / water
	if s.Group == "softwood" {
		return 20500 * math.Pow(g, 0.84)
	}
	return 16500 * math.Pow(g, 0.7)
}

//go:embed species.csv
var table string

// All lists every species in the table's order, then the one for wood that nobody
// can name.
var All = func() []Species {
	read := mustRead(table)
	return append(read, unknown(read))
}()

var byName = func() map[string]Species {
	m := make(map[string]Species, len(All))
	for _, s := range All {
		m[s.Name] = s
	}
	return m
}()

// Find returns the species of that name.
func Find(name string) (Species, bool) {
	s, ok := byName[name]
	return s, ok
}

// FindIn returns the species of that name from the table or the maker's own.
func FindIn(own []Species, name string) (Species, bool) {
	for _, s := range own {
		if s.Name == name {
			return s, true
		}
	}
	return Find(name)
}

// Check reports a name that is neither in the table nor the maker's own.
func Check(field, name string, own []Species) (ps craft.Problems) {
	if name == "" {
		ps.Add(field, "the species is not told", "choose one from the list, or "+UnknownName+" when you cannot tell")
	} else if _, ok := FindIn(own, name); !ok {
		ps.Add(
			field,
			fmt.Sprintf("%q is not in the species table", name),
			"choose a species from the list, or add it with its numbers at Shop",
		)
	}
	return ps
}

var colour = regexp.MustCompile(`^#[0-9A-Fa-f]{6}$`)

// Check reports numbers that no wood has.
func (s Species) Check(field string) (ps craft.Problems) {
	ps.InRange(field, s)
	if s.Name == "" || len(s.Name) > 100 || len(s.Botanical) > 100 {
		ps.Add(field+".name", "the name is empty or too long", "give a name of 1 to 100 characters")
	}
	if _, taken := Find(s.Name); taken {
		ps.Add(field+".name", fmt.Sprintf("%q is in the table already", s.Name), "give your own wood a name of its own")
	}
	ps.OneOf(field+".group", s.Group, "hardwood", "softwood")
	ps.OneOf(field+".pores", s.Pores, "closed", "semi-ring", "ring", "open", "none")
	ps.OneOf(field+".food", s.Food, "suitable", "caution", "never")
	ps.OneOf(field+".dust", s.Dust, "ordinary", "irritant", "sensitiser", "toxic")
	for name, v := range map[string]string{"light": s.Light, "dark": s.Dark} {
		if !colour.MatchString(v) {
			ps.Add(field+"."+name, fmt.Sprintf("%q is not a colour", v), "write it like #d2b48c")
		}
	}
	if len(s.Note) > 500 || len(s.ColourChange) > 200 {
		ps.Add(field+".note", "the text is too long", "use at most 500 characters")
	}
	return ps
}

func mustRead(text string) []Species {
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil {
		panic(err)
	}
	column := map[string]int{}
	for i, name := range rows[0] {
		column[name] = i
	}
	all := make([]Species, 0, len(rows)-1)
	for _, row := range rows[1:] {
		str := func(name string) string { return row[column[name]] }
		num := func(name string) float64 {
			v, err := strconv.ParseFloat(str(name), 64)
			if err != nil {
				panic(fmt.Errorf("species %s, %s: %w", row[0], name, err))
			}
			return v
		}
		all = append(all, Species{
			Name: str("name"), Botanical: str("botanical"), Group: str("group"),
			Density: num("density_kg_m3"), Janka: num("janka_n"), MOR: num("mor_mpa"),
			TensionPerp: num("tension_perp_mpa"), TensionGuess: str("tension_perp_estimated") == "yes",
			CR: num("cr_per_pct"), CT: num("ct_per_pct"), Pores: str("pores"), Food: str("food"),
			Light: str("light_hex"), Dark: str("dark_hex"), Dust: str("dust"),
			ColourChange: str("colour_change"), Note: str("note"),
		})
	}
	return all
}
