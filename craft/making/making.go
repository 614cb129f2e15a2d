// Package making tells which of a shop's tools makes a thing, why, what else would and
// in how many minutes: a cut, a hole, a profile, a recess. Flattening has its own
// methods, in package milling. Lengths in mm.
package making

import (
	"fmt"
	"iter"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Work is what is to be made.
type Work string

// The works.
const (
	Across  Work = "cross-cut"
	Along   Work = "rip"
	Outline Work = "outline"
	Inner   Work = "inner cut"
	Bored   Work = "bore"
	Profile Work = "edge"
	Sunk    Work = "recess"
	Slotted Work = "slot"
	Live    Work = "live edge"
)

// Task is one thing to be made.
type Task struct {
	Work     Work
	Name     string     // "the handle's slot"
	On       tool.Piece // as it lies at a tool
	Straight bool       // of an outline: lines only
	Radius   float64    // tightest hollow of what is sawn or trimmed; 0 for none
	Diameter float64    // of a bore
	Bit      string     // kind of router bit that its profile or its floor asks for; empty for any
	Size     float64    // diameter of that bit, as it is sold; 0 for any
	Narrow   bool       // a slot that one saw cut makes
	Run      float64    // of a recess: how far a router runs for it, mm
	State    string     // of a live edge; empty for sound bark
	Inner    bool       // its inner bark stays
	Amount   float64    // in the unit of its kind of work
}

// Maker is a tool that makes a thing.
type Maker struct {
	Tool    string  `json:"tool" doc:"What it is made with"`
	Why     string  `json:"why" doc:"Why it is taken"`
	Minutes float64 `json:"minutes" doc:"Hands-on, by the bare rates"`

	setup float64
}

// Made is who makes a thing.
type Made struct {
	Name      string  `json:"name" doc:"What is made"`
	Work      Work    `json:"work" doc:"What kind of work it is"`
	By        *Maker  `json:"by,omitempty" doc:"The best tool owned; left out where none is"`
	Otherwise *Maker  `json:"otherwise,omitempty" doc:"What is owned besides"`
	Ways      string  `json:"ways,omitempty" doc:"What can be done where nothing owned makes it"`
	Wish      *Maker  `json:"wish,omitempty" doc:"A tool that is not owned and would save the most; its minutes"`
	Saves     float64 `json:"saves,omitempty" doc:"Minutes that the wished tool would save"`

	Kind plan.Kind `json:"-"`
}

// way is a way to make a work: slower by a factor than its usual rate, where the tool
// takes it.
type way struct {
	tool   string
	slower float64 // of the minutes that go by the quantity
	setup  float64 // minutes beside the usual set-up
	why    string
	takes  func(tool.Tool, tool.Kit, Task) string // why it does not; empty when it does
}

// kinds are the rates by which each work is timed.
var kinds = map[Work]plan.Kind{
	Across: plan.CrossCut, Along: plan.Rip, Outline: plan.Curve, Inner: plan.Curve, Bored: plan.Bore,
	Profile: plan.EdgeWork, Sunk: plan.HogOut, Slotted: plan.Curve, Live: plan.LiveEdge,
}

// ways are the ways of each work, the best first (rules).
var ways = map[Work][]way{
	Across: {
		{tool.MitreSaw, 1, 0, "square, in one stroke", fits},
		{tool.TableSaw, 1.5, 2, "square, against its mitre gauge", thick},
		{tool.TrackSaw, 2, 3, "along its track, whatever the width", thick},
		{
			tool.MitreSaw,
			2,
			1,
			"from both sides: the mark squared round, the piece turned over against the same end",
			turned,
		},
		{tool.BandSaw, 2, 1, "along a pencil line, squared after", beside},
		{tool.Jigsaw, 3, 2, "against a clamped straight-edge, squared after", thick},
		{tool.HandSaw, 6, 1, "along a knife line squared round to the other face; plane the end after", always},
	},
	Along: {
		{tool.TableSaw, 1, 0, "along its fence, a flat face down", fits},
		{tool.TrackSaw, 1.5, 2, "along its track, whatever the width", thick},
		{tool.BandSaw, 1.5, 1, "along its fence: it does not kick back", beside},
		{tool.Jigsaw, 4, 2, "against a clamped straight-edge, jointed after", thick},
		{tool.HandSaw, 8, 1, "along a line; plane the edge after", always},
	},
	Outline: {
		{tool.BandSaw, 1, 0, "it follows the line, upright", curved},
		{tool.Jigsaw, 1.2, 0, "it follows the line, clamped over the bench's edge", curved},
		{tool.TrackSaw, 0.8, 3, "straight lines, along its track", lines},
		{tool.TableSaw, 0.8, 2, "straight lines, along its fence", lines},
		{tool.FretSaw, 6, 2, "it turns anything, by hand", frame},
		{tool.HandSaw, 8, 2, "cuts up to the line, the rest with rasp and file", always},
	},
	Inner: {
		{tool.Jigsaw, 1, 0, "threaded through a bored hole", curved},
		{tool.FretSaw, 6, 2, "threaded through a bored hole, by hand", frame},
		{tool.RouterTool, 2, 8, "along a template, in passes", routed},
		{tool.Drill, 8, 2, "holes bored side by side, then a file", always},
	},
	Bored: {
		{tool.DrillPress, 1, 0, "upright, to a stop", pressed},
		{tool.DrillGuide, 1.5, 2, "upright in its guide", bit},
		{tool.Drill, 1.5, 0, "by eye: look from two sides that it stands upright", bit},
	},
	Profile: {
		{tool.RouterTool, 1, 0, "its bearing runs along the edge", routed},
		{tool.Spokeshave, 6, 2, "by hand, to two pencil lines", always},
		{tool.HandPlane, 6, 2, "by hand, to two pencil lines", straight},
		{tool.File, 8, 2, "by hand, to two pencil lines", always},
	},
	Sunk: {
		{tool.RouterTool, 1, 0, "in passes along its sides, then over its floor", routed},
		{tool.Grinder, 2, 4, "carved, then smoothed", always},
		{tool.Gouge, 6, 2, "carved by hand, then scraped", always},
	},
	Live: {
		{tool.NylonWheel, 0.7, 1, "brushes loose bark and dust out, and leaves the figure", smooths},
		{tool.Drawknife, 1, 0, "peels the bark in strips, along the grain, two hands", peels},
		{tool.Spokeshave, 1.3, 0, "a fine blade along the grain: never a disc on splinters", peels},
		{tool.WireBrush, 1.3, 0, "brushed along the grain, lightly", brushes},
		{tool.Gouge, 2, 0, "pared off, bevel down, along the grain", peels},
		{tool.Scraper, 3, 0, "scraped along the grain, a little at a time", always},
	},
	Slotted: {
		{tool.TableSaw, 0.5, 3, "one pass over the blade at its height", narrow},
		{tool.RouterTool, 1, 5, "against a fence, in passes", routed},
		{tool.HandSaw, 4, 4, "two saw cuts to the line, the waste with a chisel", always},
	},
}

// peels asks for bark that a blade takes off.
func peels(_ tool.Tool, _ tool.Kit, of Task) string {
	switch {
	case of.State == stock.Loose || of.State == stock.Bare:
		return "there is no bark for a blade to peel"
	case of.Inner:
		return "a blade takes the inner bark too"
	}
	return ""
}

// brushes asks for what lets go, or for inner bark that stays.
func brushes(_ tool.Tool, _ tool.Kit, of Task) string {
	if of.State == "" && !of.Inner {
		return "sound bark does not brush off"
	}
	return ""
}

// smooths asks for the same, and for no splinters.
func smooths(_ tool.Tool, _ tool.Kit, of Task) string {
	if of.State == stock.Splintery {
		return "a wheel tears splintery wood up further"
	}
	return brushes(tool.Tool{}, tool.Kit{}, of)
}

// otherwise is what can be done where nothing owned makes a work.
var otherwise = map[Work]string{
	Across:  "Let a timber yard cut it, or borrow a saw; any hand saw does it too",
	Along:   "Let a timber yard rip it, or choose a shape that needs no rip",
	Outline: "Borrow a saw, let a shop cut it from your template, or choose a shape of straight lines",
	Inner:   "Choose a round hole of a bit that you own, or no hole",
	Bored:   "Borrow a bit of its size, or choose the size of one that you own",
	Profile: "Ease the edge by hand with sandpaper on a block",
	Sunk:    "Leave it out, or let a shop rout it from your drawing",
	Slotted: "Let a shop cut it from your drawing",
	Live:    "A stiff nylon hand brush, a blunt chisel held flat, and time",
}

func always(tool.Tool, tool.Kit, Task) string { return "" }

// fits asks for all the limits of the tool.
func fits(t tool.Tool, _ tool.Kit, of Task) string { return t.Takes(of.On) }

// thick asks for the depth of cut alone.
func thick(t tool.Tool, _ tool.Kit, of Task) string { return t.Takes(tool.Piece{Height: of.On.Height}) }

// turned asks for half the width: the piece is turned over.
func turned(t tool.Tool, _ tool.Kit, of Task) string {
	const lap = 10 // mm that the two cuts share
	return t.Takes(tool.Piece{Height: of.On.Height, Width: (of.On.Width + lap) / 2})
}

// beside asks for the depth of cut, and the throat.
func beside(t tool.Tool, _ tool.Kit, of Task) string {
	return t.Takes(tool.Piece{Height: of.On.Height, Beside: of.On.Beside})
}

// frame asks a saw with a frame for its depth.
func frame(t tool.Tool, _ tool.Kit, of Task) string { return t.Takes(tool.Piece{Beside: of.On.Beside}) }

// curved asks a saw for a blade that turns.
func curved(t tool.Tool, k tool.Kit, of Task) string {
	on := tool.Piece{Height: of.On.Height}
	if t.Kind == tool.BandSaw {
		on.Beside = of.On.Beside
	}
	if no := t.Takes(on); no != "" || of.Straight {
		return no
	}
	least := math.Inf(1)
	for _, b := range k.Blades {
		if b.Saw == t.Kind {
			least = min(least, b.Radius)
		}
	}
	switch {
	case math.IsInf(least, 1) && len(k.Blades) > 0:
		return "no blade of it is owned"
	case !math.IsInf(least, 1) && of.Radius > 0 && of.Radius < least*Slack:
		return fmt.Sprintf("its blades turn no tighter than %s", craft.Length(least))
	}
	return ""
}

// Slack is by how much a hollow may be tighter than a blade's least radius, as a share,
// within what is measured.
const Slack = 0.97

// lines asks for an outline of straight lines.
func lines(t tool.Tool, k tool.Kit, of Task) string {
	if !of.Straight {
		return "it follows no curve"
	}
	return thick(t, k, of)
}

// straight asks for edges that a plane runs along.
func straight(_ tool.Tool, _ tool.Kit, of Task) string {
	if !of.Straight {
		return "a plane follows no curve"
	}
	return ""
}

// bit asks for a bit of the bore's size.
func bit(_ tool.Tool, k tool.Kit, of Task) string {
	if of.Diameter == 0 || len(k.Bits) == 0 {
		return ""
	}
	switch deep := k.Deepest(of.Diameter); {
	case deep == 0:
		return "no bit of " + craft.Size(of.Diameter) + " is owned"
	case deep < of.On.Height:
		return fmt.Sprintf("its bit bores %s deep, and it is %s", craft.Length(deep), craft.Length(of.On.Height))
	}
	return ""
}

// pressed asks a drill press for its throat, and a bit.
func pressed(t tool.Tool, k tool.Kit, of Task) string {
	if no := t.Takes(tool.Piece{Beside: of.On.Beside}); no != "" {
		return no
	}
	return bit(t, k, of)
}

// routed asks for a router, with the bit that the work wants.
func routed(_ tool.Tool, k tool.Kit, of Task) string {
	r := k.Router
	if r.Base == 0 {
		return "no router is owned"
	}
	if of.Bit == "" || len(r.Bits) == 0 {
		return ""
	}
	tight := 0.0 // the smallest bit that does not get into its hollows
	for _, b := range r.Bits {
		if b.Kind != of.Bit || of.Size > 0 && !tool.SameSize(b.Diameter, of.Size) {
			continue
		}
		if of.Radius == 0 || b.Diameter/2 <= of.Radius {
			return ""
		}
		if tight == 0 || b.Diameter < tight {
			tight = b.Diameter
		}
	}
	if tight > 0 {
		return "its smallest bit, " + craft.Size(tight) + " across, does not get into a hollow of radius " +
			craft.Length(of.Radius)
	}
	if of.Size == 0 {
		return "no " + of.Bit + " bit is owned"
	}
	return "no " + of.Bit + " bit of " + craft.Size(of.Size) + " is owned"
}

// narrow asks for a slot that one saw cut makes.
func narrow(t tool.Tool, k tool.Kit, of Task) string {
	if !of.Narrow {
		return "a blade cuts no slot so wide"
	}
	return thick(t, k, of)
}

// minutes of a task by a way, and the set-up in them.
func (w way) minutes(of Task) (minutes, setup float64) {
	usual, base := plan.Rate(kinds[of.Work], of.Amount)
	if of.Work == Sunk && w.tool == tool.RouterTool {
		usual = base + of.Run/tool.Feed
	}
	return base + w.setup + (usual-base)*w.slower, base + w.setup
}

// owned lists the tools of a kind; a router counts by its base.
func owned(k tool.Kit, kind string) iter.Seq[tool.Tool] {
	if kind != tool.RouterTool {
		return k.Of(kind)
	}
	return func(yield func(tool.Tool) bool) {
		if k.Router.Base > 0 {
			yield(tool.Tool{Kind: kind})
		}
	}
}

// taken is the first tool of a way's kind that takes a task.
func (w way) taken(k tool.Kit, of Task) (ok bool) {
	for t := range owned(k, w.tool) {
		if w.takes(t, k, of) == "" {
			return true
		}
	}
	return false
}

func (w way) maker(of Task) *Maker {
	minutes, setup := w.minutes(of)
	return &Maker{w.tool, w.why, minutes, setup}
}

// By tells who makes a task: the best tool owned, what else, and the tool that is not
// owned and would save the most.
func By(k tool.Kit, of Task) Made {
	m := Made{Name: of.Name, Work: of.Work, Kind: kinds[of.Work]}
	for _, w := range ways[of.Work] {
		if !w.taken(k, of) {
			continue
		}
		if m.By == nil {
			m.By = w.maker(of)
		} else if m.By.Tool != w.tool {
			m.Otherwise = w.maker(of)
			break
		}
	}
	if m.By == nil {
		m.Ways = otherwise[of.Work]
	}
	m.wish(k, of)
	return m
}

// Step is the task as work at a pace, under a key, with its tool; nil-tooled tasks go by
// the usual rate.
func (m Made) Step(key string, of Task, pace plan.Pace) plan.Step {
	if m.By == nil {
		return plan.Work(key, m.Kind, of.Amount, pace)
	}
	step := plan.Work(key, m.Kind, of.Amount, pace)
	if math.Abs(step.Usual-m.By.Minutes) < 1e-9 {
		return step.On(m.By.Tool)
	}
	terms := []craft.Term{
		{Name: "set-up", Value: m.By.setup, Unit: craft.Minute},
		{Name: "with the " + m.By.Tool, Value: m.By.Minutes - m.By.setup, Unit: craft.Minute},
	}
	return plan.Timed(key, m.Kind, m.By.Minutes, m.By.setup,
		"set-up + what goes by the quantity, with that tool", terms, pace).
		On(m.By.Tool)
}

// How tells the tool of a work in a sentence, or what can be done without one.
func (m Made) How() string {
	if m.By == nil {
		return "Nothing owned makes it: " + strings.ToLower(m.Ways[:1]) + m.Ways[1:]
	}
	return "With the " + m.By.Tool + ": " + m.By.Why
}

// least is how many minutes a tool must save to be spoken of.
const least = 1

// wish seeks the tool that is not owned and would save the most.
func (m *Made) wish(k tool.Kit, of Task) {
	if m.By == nil {
		return
	}
	for _, w := range ways[of.Work] {
		minutes, _ := w.minutes(of)
		saves := m.By.Minutes - minutes
		if saves < least || saves <= m.Saves || w.tool == tool.RouterTool || k.Has(w.tool) {
			continue
		}
		with := k
		with.Tools = append(slices.Clone(k.Tools), tool.New(w.tool))
		with.Blades = append(slices.Clone(k.Blades), tool.UsualBlades...)
		if w.taken(with, of) {
			m.Wish, m.Saves = w.maker(of), saves
		}
	}
}

// With is a task made with a tool of the maker's choice, the best beside it where it is
// not that one.
func With(k tool.Kit, of Task, chosen string) Made {
	m := By(k, of)
	if m.By != nil && m.By.Tool == chosen {
		return m
	}
	for _, w := range ways[of.Work] {
		if w.tool == chosen {
			best := m.By
			m.By, m.Ways = w.maker(of), ""
			if m.By.Why = "as you chose"; !w.taken(k, of) {
				m.By.Why = "as you chose: " + w.refusal(k, of)
			}
			if m.Otherwise = best; best != nil && best.Tool == chosen {
				m.Otherwise = nil
			}
			m.Wish, m.Saves = nil, 0
			return m
		}
	}
	return m
}

// refusal is why a way is not taken.
func (w way) refusal(k tool.Kit, of Task) string {
	for t := range owned(k, w.tool) {
		if no := w.takes(t, k, of); no != "" {
			return no
		}
	}
	return "no " + w.tool + " is owned"
}

// Refused tells why a tool does not make a task; empty where it does.
func Refused(k tool.Kit, of Task, kind string) string {
	no := "no " + kind + " is owned"
	for _, w := range ways[of.Work] {
		if w.tool != kind {
			continue
		}
		if w.taken(k, of) {
			return ""
		}
		no = w.refusal(k, of)
	}
	return no
}
