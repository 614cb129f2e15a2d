package reckon

import (
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/milling"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/sanding"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Sanded is a surface as it is drawn under Sand, in the board's frame: how far it has come.
type Sanded struct {
	Surface string  `json:"surface" doc:"Its name, as its ladder has it"`
	Kind    string  `json:"kind" doc:"What sort of surface it is"`
	Under   bool    `json:"under" doc:"It is seen from the under face alone"`
	Path    string  `json:"path" doc:"What it covers, or where it stands, as SVG; empty for the whole of its face"`
	Line    bool    `json:"line" doc:"It stands along a line"`
	Reached int     `json:"reached" doc:"The finest grit that is done; 0 for none"`
	ToGo    []int   `json:"toGo" doc:"Grits still to come"`
	Minutes float64 `json:"minutes" doc:"That those take, without changing grits"`
}

func (l *laid) reckonSand() (r stage.Record) {
	at, choice := l.on.Shop, l.board.Sand
	choice.Start = l.sandStart()
	l.sanding, r = sanding.Make(l.toBeSanded(), choice, sanding.Conditions{
		Owned: at.Grits, Tools: kinds(at.Kit), Humidity: at.Air.Humidity, Rules: at.Rules, Pace: l.on.pace,
		Asked: l.asked(), Log: l.log(),
	})
	if v, ok := l.veneer(); ok {
		r.Verdicts = append(r.Verdicts, v)
	}
	return r
}

// kinds are the kinds of tools that a shop owns.
func kinds(of tool.Kit) []string {
	out := []string{}
	for _, t := range of.Tools {
		out = append(out, t.Kind)
	}
	return out
}

// asked is what the last grit of the board is proposed by.
func (l *laid) asked() sanding.Asked {
	a := sanding.Asked{
		Finish: l.board.Finish.Last(), Rustic: l.board.Design.Style == board.Rustic,
		Figured: len(l.on.wood.Features) > 0,
	}
	for _, w := range stock.SpeciesIn(l.made()) {
		a.Dark = a.Dark || w.HidesPencil()
		a.Softwood = a.Softwood || w.Group == "softwood"
	}
	return a
}

// sandStart is the surface that the sanding of its faces begins with: the one that the maker
// chose, or else what its milling leaves, or how it came.
func (l *laid) sandStart() string {
	if start := l.board.Sand.Start; start != sanding.AsMilled {
		return start
	}
	came := 0
	if b := l.on.Slab.Bought; b != nil {
		came = b.Grit
	}
	if l.board.Cut.Faces == stock.SandOnly || l.budget().Off == 0 {
		return sanding.Delivered(came)
	}
	switch m := l.milled(); m.Method {
	case milling.Drummed:
		drum, _ := l.on.Shop.Fits(tool.DrumSander, tool.Piece{})
		return sanding.Drummed(drum.Grit)
	case milling.BeltSanded:
		return sanding.DrumCoarse
	case milling.HandPlaned:
		return sanding.HandPlaned
	case milling.Outside:
		return sanding.Delivered(came)
	}
	return sanding.Planed
}

// veneer judges whether sanding leaves enough of a veneered face; false where there is none.
func (l *laid) veneer() (craft.Verdict, bool) {
	thick := l.on.wood.Rough.Veneer
	if thick <= 0 {
		return craft.Verdict{}, false
	}
	const share = 0.3 // of a veneer that may be sanded off (rule)
	off, most := l.on.Shop.Rules.Get(rule.SandFace), share*thick
	v := craft.Verdict{
		Check: "veneer", Stage: craft.Sand, Level: craft.Over(off, most, math.Inf(1)), Limit: most,
		Finding: "Sanding leaves enough of the veneer",
		Reason:  "Sanded through, a veneer shows its core, and nothing mends it: begin fine, by hand, and no planer.",
		Figure: craft.Figure{
			Key: "sand.veneer", Stage: craft.Sand, Label: "Sanded off a face", Value: off, Unit: craft.MM, Rule: true,
			Formula: "the shop's rule for sanding, against three tenths of the veneer",
			Terms:   []craft.Term{{Name: "veneer", Value: thick, Unit: craft.MM}}, Source: "rule of the trade",
		},
	}
	if v.Level != craft.Good {
		v.Finding = "The veneer is too thin for the usual sanding: only scuff it"
	}
	return v, true
}

// marked is how deep the marks are that are sanded out of a face, µm; 0 where none is.
func (l *laid) marked(underneath bool) float64 {
	const micro = 1000
	show, under := fill.Marks(l.voids())
	if underneath {
		return micro * under
	}
	return micro * show
}

// ways are how a kind of surface is sanded: how the tool that makes it leaves it, at which rate, and
// by what where only one thing gets there.
var ways = map[string]struct {
	start string
	rate  float64
	tool  string
	fine  int
}{
	board.ShowFace:  {"", 1, "", 0},
	board.UnderFace: {"", 1, "", 0},
	board.SawnEdges: {sanding.Sawn, sanding.EdgeRate, "", 0},
	board.EndGrain:  {sanding.Sawn, sanding.EdgeRate, "", 0},
	board.HoleWall:  {sanding.Sawn, sanding.HandRate, sanding.Strip, 0},
	board.BoredWall: {sanding.BoredWall, sanding.HandRate, sanding.Strip, 0},
	board.SawnSlot:  {sanding.Sawn, sanding.HandRate, sanding.Strip, 0},
	board.Profiled:  {sanding.Routed, sanding.EdgeRate, "", 0},
	board.EasedEdge: {sanding.HandPlaned, sanding.HandRate, sanding.ByHand, 0},
	board.Floor:     {sanding.RoutedWell, sanding.RecessRate, "", 0},
	board.Wall:      {sanding.RoutedWell, sanding.RecessRate, "", 0},
	board.Corner:    {sanding.Scraped, sanding.RecessRate, sanding.Scraper, 0},
	board.LiveEdge:  {"", sanding.HandRate, "", 2},
}

// toBeSanded are the surfaces of the board as they are sanded, each from how the tool that made it
// leaves it; a saw leaves wood to be sanded to the line, and marks in a face make it as rough as they
// are deep.
func (l *laid) toBeSanded() []sanding.Surface {
	const micro = 1000
	faces := sanding.StartOf(l.sandStart())
	out := []sanding.Surface{}
	for _, s := range l.surfaces() {
		way := ways[s.Kind]
		u := sanding.Surface{
			Name: s.Name, Area: s.Area, Rate: way.rate, Tool: way.tool, Fine: way.fine, Wood: stock.Hardness(s.Wood),
		}
		switch {
		case s.Kind == board.ShowFace || s.Kind == board.UnderFace:
			u.Start = faces.Deeper(l.marked(s.Under))
		case s.Gouged && s.Kind != board.Corner:
			u.Start = sanding.StartOf(sanding.Gouged)
		case way.start == sanding.Sawn:
			u.Start = sanding.StartOf(way.start)
			u.Start.Rough = max(u.Start.Rough, micro*l.toSand())
		case way.start != "":
			u.Start = sanding.StartOf(way.start)
		}
		if l.board.Returned != nil {
			u.Start = faces
		}
		if s.Kind == resinKind {
			u.Start, u.Rate, u.Wood = faces.Deeper(l.marked(s.Under)), 1, resinHard
			u.Last, u.Slow = l.board.Sand.LastOfResin(), resinSlow
		}
		out = append(out, u)
	}
	return out
}

// surfaces are the surfaces of the board, the resin in its faces by itself.
func (l *laid) surfaces() []board.Surface {
	if l.faces == nil {
		router := l.on.Shop.Kit.Router
		l.faces = l.withResin(l.shaped.Surfaces(l.budget().Sanded, l.grain,
			func(r board.Recess) bool { return r.Gouged(router) }))
	}
	return l.faces
}

// sanded are its surfaces as they are drawn, and how far each has come.
func (l *laid) sanded() []Sanded {
	l.record(craft.Sand)
	log, out := l.log(), []Sanded{}
	for _, s := range l.surfaces() {
		i := slices.IndexFunc(l.sanding.Ladders, func(o sanding.Ladder) bool { return o.Surface == s.Name })
		if i < 0 {
			continue
		}
		d := Sanded{Surface: s.Name, Kind: s.Kind, Under: s.Under, ToGo: []int{}}
		var path strings.Builder
		if s.Kind != board.ShowFace && s.Kind != board.UnderFace {
			for _, r := range s.Rings {
				path.WriteString(r.SVG())
			}
		}
		for _, line := range s.Lines {
			d.Line = true
			path.WriteString(geom.LineSVG(line))
		}
		d.Path = path.String()
		for _, rung := range l.sanding.Ladders[i].Rungs {
			if plan.Follow(log, sanding.SandKey(rung.Grit), l.on.Now).State == plan.Done {
				d.Reached = rung.Grit
				continue
			}
			d.ToGo, d.Minutes = append(d.ToGo, rung.Grit), d.Minutes+rung.Minutes
		}
		out = append(out, d)
	}
	return out
}

// AtSander is what is read and marked while a board is sanded, in its frame.
type AtSander struct {
	Measured  string        `json:"measured" doc:"Key of the step after which the thickness is read at the corners"`
	Corners   [4]geom.Point `json:"corners" doc:"Where it is read, in the order of the corners"`
	Read      []float64     `json:"read" doc:"What was read there, mm"`
	Next      int           `json:"next" doc:"Which corner is read next, from 0"`
	Look      string        `json:"look" doc:"Key of the first wetting, which is the look; empty without one"`
	Scratches []geom.Point  `json:"scratches" doc:"Missed scratches that were marked"`
	Face      string        `json:"face" enum:",stays,turned" doc:"What was said of the face to show"`
}

func (l *laid) atSander() AtSander {
	l.record(craft.Sand)
	out := AtSander{
		Measured: sanding.SandKey(l.sanding.Measured()), Corners: l.corners(), Scratches: l.scratches(),
		Read: []float64{},
	}
	read, next := sanding.Thicknesses(l.log(), l.sanding.Measured())
	out.Read, out.Next = append(out.Read, read...), next
	if len(l.sanding.RaiseAfter) == 0 {
		return out
	}
	out.Look = sanding.WetKey(l.sanding.RaiseAfter[0])
	if turned, ok := l.sanding.Turned(l.log()); ok {
		out.Face = map[bool]string{false: "stays", true: "turned"}[turned]
	}
	return out
}

// scratches are the missed scratches that are still to be sanded out, in its frame.
func (l *laid) scratches() []geom.Point {
	out := []geom.Point{}
	for _, e := range l.sanding.Missed(l.log()) {
		if e.Place != nil {
			out = append(out, l.board.Placement.In(*e.Place))
		}
	}
	return out
}

// corners are where its thickness is read, in the order of sanding.CornerNames: as far out as it
// reaches toward each corner of its box.
func (l *laid) corners() (out [4]geom.Point) {
	for i, toward := range []geom.Point{{X: -1, Y: 1}, {X: -1, Y: -1}, {X: 1, Y: 1}, {X: 1, Y: -1}} {
		most := math.Inf(-1)
		for _, p := range l.shaped.Outline {
			if far := p.X*toward.X + p.Y*toward.Y; far > most {
				most, out[i] = far, p
			}
		}
	}
	return out
}
