package sanding

import (
	"fmt"
	"math"
	"slices"
)

// median is the middle grain size d50 in µm of each grit (ISO 6344).
var median = map[int]float64{
	40: 425, 50: 336, 60: 269, 80: 201, 100: 162, 120: 125, 150: 100, 180: 82, 220: 68, 240: 58.5, 280: 52.2, 320: 46.2,
	360: 40.5, 400: 35, 500: 30.2, 600: 25.8, 800: 21.8, 1000: 18.3, 1200: 15.3,
}

// Grits lists every grit known, coarsest first.
var Grits = func() []int {
	var all []int
	for g := range median {
		all = append(all, g)
	}
	slices.Sort(all)
	return all
}()

// Leaves is the roughness in µm that a grit leaves: a quarter of its d50.
func Leaves(grit int) float64 { return 0.25 * median[grit] }

// Jump is the ratio of grain sizes between two grits.
func Jump(from, to int) float64 { return median[from] / median[to] }

// The widest jumps: easy within the first, hard up to the second.
const (
	EasyJump = 1.75
	HardJump = 2.2
)

// Start is a surface as sanding finds it.
type Start struct {
	Name     string  `json:"name" doc:"What left it so"`
	Rough    float64 `json:"rough" doc:"Roughness, µm"`
	Coarsest int     `json:"coarsest" doc:"The first grit at the coarsest"`
}

// The starts.
const (
	Sawn       = "band saw"
	Planed     = "planer"
	DrumCoarse = "drum P80"
	HandPlaned = "hand plane"
	Bought     = "bought surfaced"
	Routed     = "router profile"
	RoutedWell = "router bit in a floor"
	Gouged     = "gouge or carving disc"
	BoredWall  = "bored wall"
	WashedOut  = "washed out"
	Scraped    = "card scraper"
)

// AsMilled is the start that the last work on a surface leaves, whatever that was.
const AsMilled = ""

var starts = []Start{
	{"old varnish", 400, 60}, {Sawn, 500, 60}, {"scraped resin", 300, 60}, {Planed, 120, 80},
	{DrumCoarse, 60, 120}, {Bought, 60, 120}, {HandPlaned, 20, 150},
	sanded(80, 100), sanded(120, 150), sanded(150, 180), sanded(180, 220), sanded(220, 240),
	{Routed, 60, 120}, {RoutedWell, 150, 80}, {Gouged, Leaves(40), 60}, {"drum P40", Leaves(40), 60},
	{"drum P120", Leaves(120), 150}, {WashedOut, 60, 120}, {BoredWall, 120, 120}, {Scraped, 10, 220},
}

// sanded is a surface that was sanded to a grit, the next one first.
func sanded(to, next int) Start { return Start{fmt.Sprintf("sanded P%d", to), Leaves(to), next} }

// Starts lists the surfaces to begin with.
func Starts() []string {
	names := make([]string, len(starts))
	for i, s := range starts {
		names[i] = s.Name
	}
	return names
}

// StartOf is the start of a name; that of a planer where there is none.
func StartOf(name string) Start {
	i := slices.IndexFunc(starts, func(s Start) bool { return s.Name == name })
	if i < 0 {
		return StartOf(Planed)
	}
	return starts[i]
}

// Deeper is a start whose roughness is at least so much, µm, and is begun one grit coarser where
// that is more than it had: marks are to be sanded out of it.
func (s Start) Deeper(rough float64) Start {
	if rough <= s.Rough {
		return s
	}
	s.Rough = rough
	if i := slices.Index(Grits, s.Coarsest); i > 0 {
		s.Coarsest = Grits[i-1]
	}
	return s
}

// Delivered is the start for wood that came sanded to a grit, or planed when
// the grit is 0.
func Delivered(grit int) string {
	name := Bought
	for _, g := range []int{80, 120, 150, 180, 220} {
		if grit >= g {
			name = fmt.Sprintf("sanded P%d", g)
		}
	}
	return name
}

// Drummed is the start that a drum leaves with paper of a grit, 0 where nobody told.
func Drummed(grit int) string {
	switch {
	case grit > 0 && grit <= 40:
		return "drum P40"
	case grit <= 80:
		return DrumCoarse
	}
	return Delivered(grit)
}

// Rough is the roughness that a start leaves to be sanded, µm.
func Rough(name string) float64 { return StartOf(name).Rough }

// The share of a pad's rate that is kept up is a rule; how fast a pad goes and how often it must
// pass over all at least are not.
const (
	pad       = 125 // mm
	speed     = 25  // mm/s
	coverages = 2
)

// Minutes is how long a grit takes to bring an area from a roughness to what
// it leaves, on wood of a hardness in newtons; rate is 1 for a face, less where
// the work goes slower.
func Minutes(area, rough float64, grit int, janka, rate, efficiency float64) float64 {
	removal := 4000 * math.Pow(median[grit]/125, 0.8) * math.Pow(4450/janka, 0.6) * rate // mm³ a minute
	work := area * max(0, rough-Leaves(grit)) / 1000 / (efficiency * removal)
	least := coverages * area / (pad * speed * 60) / rate
	return max(work, least)
}
