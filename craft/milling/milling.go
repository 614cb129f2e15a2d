// Package milling is how rough wood is made flat and of a thickness: by which machines,
// in which order, in how many passes of which bite, and what that takes. Lengths in mm.
package milling

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/tool"
)

// The methods.
const (
	Jointed    = "jointer and planer"
	Planed     = "planer"
	Sledded    = "planer with a sled"
	RouterSled = "router sled"
	Drummed    = "drum sander"
	HandPlaned = "hand plane"
	BeltSanded = "belt sander"
	Outside    = "outside shop"
)

// Methods lists the methods, the one that is taken first where several fit first.
var Methods = []string{Jointed, Sledded, Planed, Drummed, RouterSled, HandPlaned, BeltSanded, Outside}

// Wood is what a cutter feels of the wood.
type Wood struct {
	Softwood bool
	Janka    float64 // N
	Tears    bool    // figured or interlocked: it tears out under knives
	Resin    bool    // a filled face
}

// Felt is wood of some species as a cutter feels it, figured or plain: its hardest, and
// what of it tears.
func Felt(of []species.Species, figured bool) Wood {
	w := Wood{Softwood: true, Tears: figured}
	for _, s := range of {
		w.Softwood = w.Softwood && s.Group == "softwood"
		w.Janka, w.Tears = max(w.Janka, s.Janka), w.Tears || s.Tears()
	}
	return w
}

// class is the column of the table of bites: softwood, hardwood, hard or figured, resin.
func (w Wood) class() int {
	switch {
	case w.Resin:
		return 3
	case w.Janka > species.HardJanka || w.Tears:
		return 2
	case !w.Softwood:
		return 1
	}
	return 0
}

// bites are the deepest passes, mm, by machine and wood (rules). A jointer takes no
// resin.
var bites = map[string][4]float64{
	tool.Planer:  {1.5, 1.0, 0.5, 0.4},
	tool.Jointer: {1.0, 0.7, 0.4, 0},
	"drum, P80":  {0.4, 0.25, 0.15, 0.15},
	"drum, P120": {0.2, 0.12, 0.08, 0.08},
}

// light is the first two and the last pass of a planer, mm (rule).
const light = 0.3

// The load that a bench planer bears: so wide, mm, so deep a bite, mm, at such a
// hardness, N; a standing one bears twice as much (rules).
const (
	loadWidth = 300
	loadBite  = 1.0
	loadJanka = 5000
	heavy     = 2
)

// Load is what a bite of a width asks of a machine, 1 for all that it bears.
func Load(t tool.Tool, width, bite, janka float64) float64 {
	load := width * bite * janka / (loadWidth * loadBite * loadJanka)
	if t.Heavy {
		return load / heavy
	}
	return load
}

// Bite is the deepest pass that a machine takes in a wood of a width, mm, by the table of
// bites, and smaller where its load would be over 1.
func Bite(t tool.Tool, w Wood, width float64) float64 {
	switch t.Kind {
	case tool.DrumSander:
		paper := "drum, P80"
		if t.Grit > 100 {
			paper = "drum, P120"
		}
		return bites[paper][w.class()]
	case tool.Planer:
		bite := bites[tool.Planer][w.class()]
		if load := Load(t, width, bite, w.Janka); load > 1 {
			bite /= load
		}
		return bite
	}
	return bites[t.Kind][w.class()]
}

// Pass is one pass of a list, with the setting of the machine.
type Pass struct {
	Machine string  `json:"machine" doc:"That it goes through"`
	Face    string  `json:"face" enum:"face one,face two" doc:"Which face is cut; the first is the one made flat first"`
	Bite    float64 `json:"bite" doc:"What it takes off, mm"`
	Setting float64 `json:"setting" doc:"How thick it is after it: the height that the machine is set to, mm"`
	Turns   float64 `json:"turns,omitempty" doc:"Of the crank, from the setting before"`
}

// The faces as they are milled.
const (
	One = "face one"
	Two = "face two"
)

// Passes are the bites of a planer that take off so much in all, mm: two light ones, as
// deep as the bite allows between, and a light last one.
func Passes(total, bite float64) (out []float64) {
	even := func(n int, sum float64) []float64 { return slices.Repeat([]float64{sum / float64(n)}, n) }
	count := func(v float64) int { return int(math.Ceil(v - 1e-9)) }
	switch first := min(light, bite); {
	case total <= 1e-9:
		return nil
	case total <= 3*first:
		return even(count(total/first), total)
	default:
		between := total - 3*first
		return slices.Concat([]float64{first, first}, even(count(between/bite), between), []float64{first})
	}
}

// Piece is what is milled.
type Piece struct {
	Length float64
	Width  float64 // across the machine as it lies there
	Height float64 // thickest, as it is rough
	To     float64 // how thick it becomes
	Level  float64 // what makes its first face flat takes off there
	Loose  float64 // wood taken off in all, cm³
	Wood   Wood
	Bite   float64 // a bite of the maker's own, deeper than the table's, or lighter; 0 for the table's
	Plain  bool    // its faces were flat before: no first face to be made
}

// Off is what is taken off both faces, mm.
func (p Piece) Off() float64 { return max(0, p.Height-p.To) }

// Milled is how a piece is milled by one method.
type Milled struct {
	Method  string   `json:"method" doc:"In the trade's words"`
	Tools   []string `json:"tools" doc:"What it takes"`
	Fits    bool     `json:"fits" doc:"All of them are owned and take the piece"`
	Why     string   `json:"why" doc:"Why it is taken, or what keeps it from being taken"`
	Order   string   `json:"order" doc:"How the work goes, in words"`
	Minutes float64  `json:"minutes" doc:"Hands-on, by the bare rates; 0 where it is done elsewhere"`
	Snipe   bool     `json:"snipe" doc:"It digs in at both ends of the piece"`
	Bite    float64  `json:"bite" doc:"The deepest pass, mm; 0 by hand"`
	Load    float64  `json:"load" doc:"Of the machine, 1 for all that it bears; 0 by hand"`
	Passes  []Pass   `json:"passes" doc:"In their order, with the setting of each"`
	Tears   bool     `json:"tears" doc:"Knives tear the grain of this wood: light passes"`

	setup  float64
	amount craft.Term // what its minutes go by
	per    float64    // so much of it a minute
	kind   plan.Kind
}

// Step is the work of milling at a pace, under a key.
func (m Milled) Step(key string, pace plan.Pace) plan.Step {
	terms := []craft.Term{{Name: "set-up", Value: m.setup, Unit: craft.Minute}, m.amount}
	formula := "set-up + a minute a pass"
	if m.per != 1 {
		terms = append(terms, craft.Term{Name: "a minute for", Value: m.per, Unit: m.amount.Unit})
		formula = "set-up + a minute for so much of the quantity"
	}
	return plan.Timed(key, m.kind, m.Minutes, m.setup, formula, terms, pace)
}

// Detail is the work in a sentence or two.
func (m Milled) Detail() string {
	out := m.Order
	if n := len(m.Passes); n > 0 {
		out = fmt.Sprintf("%s. %d passes of at most %s", out, n, craft.Length(m.Bite))
	}
	if m.Tears {
		out += ". Its grain tears: damp the face before the last passes, or finish on a drum, or with a card scraper"
	}
	return out
}

// By is how a piece is milled by every method, those that fit first, in the order in
// which they are taken.
func By(k tool.Kit, p Piece) []Milled {
	out := make([]Milled, 0, len(Methods))
	for _, method := range Methods {
		out = append(out, judge(k, p, method).worked(k, p))
	}
	slices.SortStableFunc(out, func(a, b Milled) int { return cmp.Compare(a.rank(), b.rank()) })
	return out
}

// rank is the order in which methods are taken.
func (m Milled) rank() int {
	switch {
	case !m.Fits:
		return 2
	case m.Method == Planed: // it fits what is flat already, and wants no sled then
		return 0
	}
	return 1
}

// With is how a piece is milled by a method: the first that fits where none is named.
func With(k tool.Kit, p Piece, method string) Milled { return proposed(k, p, method).worked(k, p) }

// Snipes tells whether a method digs in at the ends of a piece, which is the first that
// fits where none is named.
func Snipes(k tool.Kit, p Piece, method string) bool { return proposed(k, p, method).Snipe }

// proposed is a method judged, the first that fits where none is named.
func proposed(k tool.Kit, p Piece, method string) (best Milled) {
	if method != "" {
		return judge(k, p, method)
	}
	for i, method := range Methods {
		if m := judge(k, p, method); i == 0 || m.rank() < best.rank() {
			best = m
		}
	}
	return best
}

// ask adds a tool to what a method takes, and tells what keeps it from being taken.
func (m *Milled) ask(k tool.Kit, kind string, on tool.Piece) (t tool.Tool) {
	m.Tools = append(m.Tools, kind)
	t, ok := k.Fits(kind, on)
	if ok {
		return t
	}
	t = ownOr(k, kind)
	if m.Fits = false; m.Why == "" {
		m.Why = "No " + kind + " is among the shop's tools"
		if k.Has(kind) {
			m.Why = "The " + kind + ": " + t.Takes(on)
		}
	}
	return t
}

// judge tells whether a method fits a piece, and in which order it goes.
func judge(k tool.Kit, p Piece, method string) Milled {
	m := Milled{Method: method, Fits: true, Tears: p.Wood.Tears, kind: plan.Planing, per: 1}
	on := tool.Piece{Width: p.Width, Height: p.Height, Length: p.Length}
	switch method {
	case Jointed:
		m.ask(k, tool.Jointer, tool.Piece{Width: p.Width, Length: p.Length})
		m.ask(k, tool.Planer, on)
		m.setup, m.Snipe = 8, true
		m.Order = "Face one on the jointer, hollow side down; then the planer makes face two parallel"
		if p.Wood.Resin && m.Fits {
			m.Fits, m.Why = false, "A filled face is not jointed: the resin chips, and blunts the knives"
		}
	case Planed:
		m.ask(k, tool.Planer, on)
		m.setup, m.Snipe, m.Order = 5, true, "Through the planer, both faces by turns"
		if !p.Plain && m.Fits {
			m.Fits, m.Why = false, "A planer alone copies the hollow and the wind: it wants one flat face first"
		}
	case Sledded:
		planer := m.ask(k, tool.Planer, on)
		m.setup, m.Snipe = 13, true
		m.Order = "Face one shimmed on the sled until it no longer rocks; then turned over, without the sled"
		sled := m.ask(k, tool.Sled, tool.Piece{Width: p.Width})
		if planer.Height > 0 && p.Height+sled.Height > planer.Height && m.Fits {
			m.Fits = false
			m.Why = "On the sled it is " + craft.Length(p.Height+sled.Height) + " thick, and the planer takes " +
				craft.Length(planer.Height)
		}
	case Drummed:
		drum := m.ask(k, tool.DrumSander, on)
		m.setup = 5
		m.Order = "Through the drum sander, both faces by turns, the hollow side down first"
		if n := drumPasses(drum, p); n > mostPasses && m.Fits {
			m.Fits, m.Why = false, fmt.Sprintf("Taking %s off would be %.0f passes", craft.Length(p.Off()), n)
		}
	case RouterSled:
		m.ask(k, tool.RouterSled, tool.Piece{Width: p.Width})
		m.setup, m.kind, m.per = 15, plan.RouterSled, tool.Feed
		m.Order = "Face one wedged under the router sled, turned, face two; the strips are sanded off after"
		if (k.Router.Base == 0 || sledBit(k) == 0) && m.Fits {
			m.Fits, m.Why = false, "No router with a straight bit is among the shop's tools"
		}
	case HandPlaned:
		m.ask(k, tool.HandPlane, tool.Piece{})
		m.setup, m.kind, m.per = 5, plan.HandPlane, 10
		m.Order = "Across the grain at a slant until it is flat, then along it; winding sticks tell when"
	case BeltSanded:
		m.ask(k, tool.BeltSander, tool.Piece{})
		m.setup, m.kind, m.per = 5, plan.HandPlane, 6
		m.Order = "Belt sander across at a slant with the coarsest belt, a straight-edge often"
	default:
		m.Order = "Flattened and thicknessed elsewhere"
	}
	if m.Fits {
		m.Why = why[method]
	}
	return m
}

// worked is a method with its passes and minutes, by the tools that are owned or else by
// usual ones.
func (m Milled) worked(k tool.Kit, p Piece) Milled {
	m.Passes = []Pass{}
	level := min(p.Level, p.Off())
	switch m.Method {
	case Jointed:
		m.joint(ownOr(k, tool.Jointer), p, level)
		m.plane(ownOr(k, tool.Planer), p, p.Height-level, p.Off()-level, 0)
	case Planed, Sledded:
		m.plane(ownOr(k, tool.Planer), p, p.Height, p.Off(), level)
	case Drummed:
		m.drum(ownOr(k, tool.DrumSander), p)
	case RouterSled:
		m.sled(cmp.Or(sledBit(k), usualBit), p, level)
	case HandPlaned, BeltSanded:
		m.amount = craft.Term{Name: "to take off", Value: p.Loose, Unit: craft.CM3}
	default:
		return m
	}
	m.Minutes = m.setup + m.amount.Value/m.per
	return m
}

// ownOr is the first tool of a kind that is owned, else a usual one.
func ownOr(k tool.Kit, kind string) tool.Tool {
	if all := k.All(kind); len(all) > 0 {
		return all[0]
	}
	return tool.New(kind)
}

// why a method is taken, where it fits.
var why = map[string]string{
	Jointed:    "A jointer makes the first face flat, a planer the second parallel to it: the quickest",
	Sledded:    "A sled carries the hollow face flat through the planer",
	Planed:     "Its faces are flat: the planer makes them parallel",
	Drummed:    "It takes what is too short, too thin or too figured for knives, in light passes",
	RouterSled: "A router on rails flattens what no planer takes",
	HandPlaned: "It takes any width, at the price of time",
	BeltSanded: "It takes any width; it must not linger in one place",
	Outside:    "A shop with a wide machine does it; it costs days and a fee",
}

// joint makes the first face flat on the jointer.
func (m *Milled) joint(t tool.Tool, p Piece, level float64) {
	bite := Bite(t, p.Wood, p.Width)
	if bite == 0 || level <= 0 {
		return
	}
	n := math.Ceil(level/bite - 1e-9)
	for i := range int(n) {
		m.Passes = append(m.Passes, Pass{
			Machine: tool.Jointer, Face: One, Bite: level / n, Setting: p.Height - level/n*float64(i+1),
		})
	}
}

// plane takes a piece that is so thick through the planer until so much is off: the first
// face until it is level, then the second and the first by turns.
func (m *Milled) plane(t tool.Tool, p Piece, height, off, level float64) {
	bite := cmp.Or(p.Bite, Bite(t, p.Wood, p.Width))
	m.Bite, m.Load = bite, Load(t, p.Width, bite, p.Wood.Janka)
	face, taken := Two, 0.0
	if level > 0 {
		face = One
	}
	for _, b := range Passes(off, bite) {
		if level > 0 && taken >= level-1e-9 {
			level, face = 0, Two
		}
		taken += b
		pass := Pass{Machine: tool.Planer, Face: face, Bite: b, Setting: height - taken}
		if t.Turn > 0 {
			pass.Turns = b / t.Turn
		}
		m.Passes = append(m.Passes, pass)
		if level == 0 {
			face = map[string]string{One: Two, Two: One}[face]
		}
	}
	m.amount = craft.Term{Name: "passes", Value: float64(len(m.Passes)), Unit: craft.Count}
}

// drumPasses is how often a piece goes through a drum sander.
func drumPasses(t tool.Tool, p Piece) float64 {
	return math.Ceil(p.Off()/cmp.Or(p.Bite, Bite(t, p.Wood, p.Width)) - 1e-9)
}

// drum takes a piece through the drum sander, both faces by turns.
func (m *Milled) drum(t tool.Tool, p Piece) {
	m.Bite = cmp.Or(p.Bite, Bite(t, p.Wood, p.Width))
	n := drumPasses(t, p)
	for i := range int(min(n, mostPasses)) {
		face := One
		if i%2 == 1 {
			face = Two
		}
		m.Passes = append(m.Passes, Pass{
			Machine: tool.DrumSander, Face: face, Bite: p.Off() / n, Setting: p.Height - p.Off()/n*float64(i+1),
		})
	}
	m.amount = craft.Term{Name: "passes", Value: n, Unit: craft.Count}
}

// mostPasses is the most that anyone sends a piece through a drum sander (rule).
const mostPasses = 40

// How deep the router on its sled goes at a time, and the bit that it has where none is
// known, mm (rules).
const (
	sledDeep = 3
	usualBit = 12
)

// sledBit is the widest straight bit that goes under a router sled, mm; 0 without one.
func sledBit(k tool.Kit) float64 { return k.Router.Widest(tool.Straight, math.Inf(1), 0) }

// sled takes both faces off in strips side by side, the first until it is level.
func (m *Milled) sled(bit float64, p Piece, level float64) {
	m.Bite = min(sledDeep, bit/2)
	passes, height := 0.0, p.Height
	for _, face := range []struct {
		name string
		off  float64
	}{{One, level}, {Two, p.Off() - level}} {
		n := math.Ceil(face.off/m.Bite - 1e-9)
		for range int(n) {
			height -= face.off / n
			m.Passes = append(m.Passes, Pass{Machine: RouterSled, Face: face.name, Bite: face.off / n, Setting: height})
		}
		passes += n
	}
	run := passes * float64(tool.Strips(p.Width, bit)) * (p.Length + bit)
	m.amount = craft.Term{Name: "run by the router", Value: run, Unit: craft.MM}
}
