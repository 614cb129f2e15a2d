// Package glue is the arithmetic of boards made of parts: strips and slices, glue and
// its time, clamps, bent plies, and the order of strips by their colours. Lengths in
// mm, forces in N, times in minutes, temperatures in °C.
package glue

import (
	"fmt"
	"math"

	"idletimber/craft"
)

// Glue is a kind of glue by its usual figures; the data sheet of a product overrides
// them. Water is its durability class (EN 204), or words where it has none.
type Glue struct {
	Name    string  `json:"name" doc:"As the trade calls it"`
	Water   string  `json:"water" doc:"How much water it stands"`
	Washed  bool    `json:"washed" doc:"It holds a board that is washed"`
	Open    float64 `json:"open" doc:"Minutes at 20 °C until a spread joint must be closed"`
	Clamped float64 `json:"clamped" doc:"Minutes in clamps at 20 °C"`
	Machine float64 `json:"machine" doc:"Minutes at 20 °C until it may be machined"`
	Spread  float64 `json:"spread" doc:"g/m² of joint; 0 of drops"`
	Least   float64 `json:"least" doc:"°C below which it does not set"`
	Bears   bool    `json:"bears" doc:"A joint of it bears load"`

	fades float64 // minutes of open time lost a °C above 20; 0 where it halves every 10 °C
}

// Glues lists the kinds of glue, the usual one first (rules).
var Glues = []Glue{
	{
		Name: "PVA, D4", Water: "EN 204 D4", Washed: true, Open: 8, Clamped: 90, Machine: day, Spread: 200, Least: 10,
		Bears: true, fades: 0.3,
	},
	{
		Name: "PVA, D3", Water: "EN 204 D3", Open: 8, Clamped: 60, Machine: day, Spread: 200, Least: 10, Bears: true,
		fades: 0.3,
	},
	{
		Name: "polyurethane", Water: "foams; gloves", Washed: true, Open: 20, Clamped: 180, Machine: day, Spread: 150,
		Least: 8, Bears: true,
	},
	{
		Name: "thickened epoxy", Water: "fills gaps", Washed: true, Open: 30, Clamped: 480, Machine: day, Spread: 300,
		Least: 15, Bears: true,
	},
	{Name: "CA", Water: "small repairs only", Open: 0.5, Clamped: 2, Machine: 60, Least: 5},
}

const day = 24 * 60

// Find is the glue of that name; ok is false where there is none.
func Find(name string) (g Glue, ok bool) {
	for _, g := range Glues {
		if g.Name == name {
			return g, true
		}
	}
	return Glues[0], false
}

// usual is the temperature that the tables hold for, °C.
const usual = 20

// OpenAt is the open time at a temperature, minutes: PVA loses 0.3 a °C above 20 and
// keeps 2, others last twice as long for every 10 °C colder.
func (g Glue) OpenAt(celsius float64) float64 {
	if g.fades > 0 {
		const least = 2
		return max(least, g.Open-g.fades*max(0, celsius-usual))
	}
	return g.Open * math.Exp2((usual-celsius)/10)
}

// slower is by how much setting takes longer at a temperature: twice for every 10 °C
// below 20.
func slower(celsius float64) float64 { return math.Exp2(max(0, usual-celsius) / 10) }

// ClampedAt is how long a joint stays in clamps, minutes.
func (g Glue) ClampedAt(celsius float64) float64 { return g.Clamped * slower(celsius) }

// MachineAt is how long until a joint may be machined, minutes.
func (g Glue) MachineAt(celsius float64) float64 { return g.Machine * slower(celsius) }

// Grams is the glue for so many mm² of joint, g. The edges of sheet stock drink more.
func (g Glue) Grams(area float64, sheet bool) float64 {
	const thirsty = 1.3
	grams := g.Spread * area * 1e-6
	if sheet {
		grams *= thirsty
	}
	return grams
}

// Spreading is how long it takes to spread glue on so many mm² over so many parts,
// minutes: 10 s per 0.01 m² and 20 s a part by roller, half as much again by brush
// (rules).
func Spreading(area float64, parts int, brush bool) float64 {
	const perArea, each, brushed = 10.0 / 0.01, 20.0, 1.5 // s/m², s
	seconds := area*1e-6*perArea + float64(parts)*each
	if brush {
		seconds *= brushed
	}
	return seconds / 60
}

// Rounds parts strips into sub-assemblies, none of whose joints waits longer than open
// minutes, of as equal time as can be; the last clamping, which joins them, is checked
// too. Joints are the areas between neighbouring strips, mm². A run is the indexes of
// its first strip and of the one after its last. The error says which joint takes too
// long by itself.
func Rounds(joints []float64, open float64, brush bool) (runs [][2]int, err error) {
	n := len(joints) + 1
	for i, area := range joints {
		if Spreading(area, 1, brush) > open {
			return nil, fmt.Errorf("the joint after strip %d takes %.1f minutes to spread, of %.1f", i+1,
				Spreading(area, 1, brush), open)
		}
	}
	spread := func(from, to int) float64 { // within a run of strips
		var area float64
		for _, a := range joints[from:max(from, to-1)] {
			area += a
		}
		return Spreading(area, max(0, to-from-1), brush)
	}
	for count := 1; count <= n; count++ {
		runs = runs[:0]
		last, worst := 0.0, 0.0
		for k := range count {
			from, to := n*k/count, n*(k+1)/count
			runs = append(runs, [2]int{from, to})
			worst = max(worst, spread(from, to))
			if to < n {
				last += joints[to-1]
			}
		}
		if worst <= open && Spreading(last, count-1, brush) <= open {
			return runs, nil
		}
	}
	return nil, fmt.Errorf("no parting into sub-assemblies keeps every joint within %.1f minutes", open)
}

// Pressure is what a joint is clamped with, MPa (rules): softwood 0.8, hardwood 1.2.
func Pressure(softwood bool) float64 {
	if softwood {
		return 0.8
	}
	return 1.2
}

// Force is the clamp force of a joint of so many mm², N.
func Force(area float64, softwood bool) float64 { return Pressure(softwood) * area }

// Clamps is how many clamps a joint of some length takes, by the force and by the
// spacing at which their cones of pressure meet, behind an outer strip and a caul.
func Clamps(force, rating, length, outer, caul float64) (count int, spacing float64) {
	spacing = 2 * (outer + caul)
	byForce := math.Ceil(force/rating - 1e-9)
	bySpacing := math.Ceil(length/spacing-1e-9) + 1
	return int(max(byForce, bySpacing)), spacing
}

// FacePressure is what two faces are pressed together with, MPa (rule).
const FacePressure = 0.35

// FaceClamps is how many clamps press two faces of so many mm² together.
func FaceClamps(area, rating float64) int { return int(math.Ceil(area*FacePressure/rating - 1e-9)) }

// Level judges a glue for a use at a temperature: too cold, or a joint that it does not
// bear, is a stop; water that it does not stand is to be minded.
func (g Glue) Level(celsius float64, washed, bears bool) craft.Level {
	switch {
	case celsius < g.Least, bears && !g.Bears:
		return craft.Stop
	case washed && !g.Washed:
		return craft.Mind
	}
	return craft.Good
}
