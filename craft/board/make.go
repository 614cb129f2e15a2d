package board

import (
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/making"
	"idletimber/craft/tool"
)

// The keys of the steps by which a board is shaped.
const (
	BoreKey      = "bore"
	InnerKey     = "inner-cuts"
	OutlineKey   = "outline"
	TrimKey      = "trim"
	RecessKey    = "recess"
	EdgesKey     = "edges"
	EaseKey      = "ease" // by hand, where a machine shapes others
	BevelKey     = "finger-bevel"
	makeFitBores = "fit-bores"
	makeFitSlots = "fit-slots"
	makeGrooves  = "fit-grooves"
)

// Made is a work of the shape with what is asked of a tool, and the tool.
type Made struct {
	Key  string
	Task making.Task
	making.Made
}

// Makes are the works of a board in working order.
type Makes []Made

// Nothing stands for a tool where nothing owned makes a work.
const Nothing = "nothing owned"

// Tool is what makes a work of that name; the first of its kind where none has the name.
func (m Makes) Tool(of making.Work, name string) string {
	best := Nothing
	for i := len(m) - 1; i >= 0; i-- {
		if m[i].Work != of || m[i].By == nil {
			continue
		}
		if best = m[i].By.Tool; m[i].Name == name {
			break
		}
	}
	return best
}

// WhoMakes tells who makes each cut, hole, profile and recess of a board, in working
// order; its outline is sawn with a saw of the maker's choice.
func WhoMakes(s Shaped, c Conditions, saw string) (out Makes) {
	for _, t := range s.tasks(c) {
		m := making.By(c.Tools, t.Task)
		if t.Key == OutlineKey && saw != "" {
			m = making.With(c.Tools, t.Task, saw)
		}
		out = append(out, Made{t.Key, t.Task, m})
	}
	return out
}

// WhoCuts is the same for what is cut inside the outline alone, and for its trimming.
func WhoCuts(s Shaped, c Conditions) (out Makes) {
	t := max(c.Routed, c.Thickness)
	add := func(key string, t making.Task) { out = append(out, Made{key, t, making.By(c.Tools, t)}) }
	s.holeTasks(c, t, add)
	s.trimTask(c, t, add)
	s.fitTasks(t, add)
	return out
}

// trimTask is trimming the outline to its template, in a board t mm thick, where it is.
func (s Shaped) trimTask(c Conditions, t float64, add func(string, making.Task)) {
	if !c.Trim {
		return
	}
	trim := making.Task{
		Work: making.Profile, Name: Trimming, On: tool.Piece{Height: t},
		Amount: s.Outline.Perimeter() - s.Natural(), Bit: tool.FlushTrim, Straight: s.straight(),
	}
	if curves := s.insideCurves(); len(curves) > 0 {
		trim.Radius = curves[0].Radius
	}
	add(TrimKey, trim)
}

// Trimming names the trimming of an outline among who makes what.
const Trimming = "trim to the template"

// task is a work before anybody makes it.
type task struct {
	Key string
	making.Task
}

// tasks are what is to be made, in working order.
func (s Shaped) tasks(c Conditions) (out []task) {
	add := func(key string, t making.Task) { out = append(out, task{key, t}) }
	t := max(c.Routed, c.Thickness)
	on := tool.Piece{Height: t}
	s.holeTasks(c, t, add)
	outline := making.Task{
		Work: making.Outline, Name: "outline", On: on, Amount: s.Outline.Perimeter() - s.Natural(),
		Straight: s.straight(),
	}
	if curves := s.insideCurves(); len(curves) > 0 {
		outline.Radius = curves[0].Radius
	}
	add(OutlineKey, outline)
	s.trimTask(c, t, add)
	for _, r := range s.routes(c) {
		add(RecessKey, r.task(t))
	}
	s.fitTasks(t, add)
	edges := map[string]float64{}
	for kind, n := range s.workedBy() {
		edges[kind] += n
	}
	for _, kind := range []string{"round-over", "chamfer", "bevel"} {
		if n := edges[kind]; n > 0 {
			e := making.Task{
				Work: making.Profile, Name: kind + " of the edges", On: on, Amount: n, Bit: kind,
				Straight: s.straight(),
			}
			if kind == "bevel" {
				e.Bit = tool.Chamfer
			}
			if kind == tool.RoundOver {
				e.Size = 2 * s.Design.sizeOf(kind)
			}
			add(EdgesKey, e)
		}
	}
	if _, ok := s.Design.bevel(); ok {
		add(BevelKey, making.Task{
			Work: making.Profile, Name: "finger bevel", On: on, Amount: outline.Amount / 2, Bit: tool.Chamfer,
			Straight: s.straight(),
		})
	}
	return out
}

// holeTasks are what is bored and sawn inside the outline, in a board t mm thick.
func (s Shaped) holeTasks(c Conditions, t float64, add func(string, making.Task)) {
	type bore struct {
		name     string
		diameter float64
		n        float64
		beside   float64
	}
	var bores []bore
	sawn, tightest, frame := 0.0, 0.0, 0.0
	for i, e := range Entries(s, c.Tools.Bores()) {
		at := s.fromEdge(s.Holes[i].Centroid())
		b := bore{holeName(s, i), e.Diameter, float64(e.Bored()), at}
		alike := func(o bore) bool { return o.diameter == b.diameter && o.name == b.name }
		if k := slices.IndexFunc(bores, alike); k >= 0 {
			bores[k].n += b.n
		} else {
			bores = append(bores, b)
		}
		if sawn += e.Sawn; e.Sawn > 0 {
			frame = max(frame, at)
		}
		if s.Handles[i].shaped() {
			for _, h := range inward(holeWaste(s, i), widest) {
				if tightest == 0 || h.Radius < tightest {
					tightest = h.Radius
				}
			}
		}
	}
	for _, b := range bores {
		add(BoreKey, making.Task{
			Work: making.Bored, Name: b.name, Diameter: b.diameter, Amount: b.n,
			On: tool.Piece{Height: t, Beside: b.beside},
		})
	}
	if sawn > 0 {
		add(InnerKey, making.Task{
			Work: making.Inner, Name: "inner cuts", Radius: tightest, Amount: sawn, Bit: tool.FlushTrim,
			On: tool.Piece{Height: t, Beside: frame},
		})
	}
}

// fitTasks are what is bored, slotted and grooved for fittings before the finish.
func (s Shaped) fitTasks(t float64, add func(string, making.Task)) {
	for _, b := range s.Bores {
		if !b.Late {
			add(makeFitBores, making.Task{
				Work: making.Bored, Name: b.Name, Diameter: b.Diameter, Amount: 1, On: tool.Piece{Height: b.Long(t)},
			})
		}
	}
	for _, o := range s.Slots {
		of := making.Task{
			Work: making.Slotted, Name: o.Name, On: tool.Piece{Height: max(o.DepthA, o.DepthB)},
			Amount: o.B.Sub(o.A).Len(), Narrow: o.Width <= narrowSlot, Bit: tool.Straight,
		}
		key := makeFitSlots
		if !of.Narrow {
			key = makeGrooves
		}
		add(key, of)
	}
}

// narrowSlot is the widest slot that a saw blade cuts in one pass, mm.
const narrowSlot = 4

// holeWaste is the i-th hole as a ring whose waste is inside.
func holeWaste(s Shaped, i int) geom.Ring {
	hole := geom.Largest(geom.Flatten(s.HolePaths[i], bendFine))
	if hole.SignedArea() > 0 {
		slices.Reverse(hole)
	}
	return hole
}

// fromEdge is how far a place lies from the nearest edge, mm: what of the board stands
// between a chuck and its column.
func (s Shaped) fromEdge(p geom.Point) float64 {
	_, d := s.Outline.Nearest(p)
	return d
}

// straight tells whether its outline is sawn in straight lines only.
func (s Shaped) straight() bool {
	switch s.Design.Shape {
	case Rectangle, Square:
		return len(s.Design.AsCut) == 0 && s.Design.Corner <= sharpCorner
	case Plank:
		return !s.templated()
	}
	return false
}

// sharpCorner is the radius of a corner that is sanded, not sawn, mm.
const sharpCorner = 5

// sizeOf is the largest size of a kind of profile that is run anywhere, mm.
func (d Design) sizeOf(kind string) (size float64) {
	for _, side := range append(slices.Clone(Sides), inHoles) {
		for _, under := range []bool{false, true} {
			if e := d.EdgeAt(side, under); e.Kind == kind {
				size = max(size, e.Size)
			}
		}
	}
	return size
}

// route is how a router sinks one recess.
type route struct {
	name   string
	cavity Cavity
	rough  float64 // diameter of the bit that clears it, mm; 0 where none fits
	bit    float64 // of the one that makes its corners, or its cove
	strips int     // side by side over its area
	deep   int     // passes to its depth, of the bit that clears it
	run    float64 // how far both run, mm
	volume float64 // cm³, of all that are alike
	alike  int
}

// routes are how the recesses of a board are sunk, one of each.
func (s Shaped) routes(c Conditions) (out []route) {
	r := c.Tools.Router
	for _, cavity := range firsts(s.Cavities) {
		if len(cavity.Rim) < 3 {
			continue
		}
		w := route{name: cavity.Name(s.Design.Recesses), cavity: cavity}
		for _, o := range s.Cavities {
			if o.Index == cavity.Index {
				w.volume, w.alike = w.volume+o.Volume/1000, w.alike+1
			}
		}
		if w.bit = bitFor(r, cavity.Recess); w.bit > 0 {
			w.sink(r)
		}
		w.run *= float64(w.alike)
		out = append(out, w)
	}
	return out
}

// sink works out the passes: what runs round is one strip along its middle; what has a
// floor is cleared in strips by the largest bit that fits, then its corners by the bit
// that gives their radius, round its rim.
func (w *route) sink(r tool.Router) {
	c := w.cavity
	depth := c.Recess.Deepest()
	if c.Run > 0 {
		w.rough, w.strips, w.deep = w.bit, 1, tool.Deep(depth, w.bit)
		w.run = c.Run * float64(w.deep)
		return
	}
	long, wide := c.Recess.size()
	if wide > long {
		long, wide = wide, long
	}
	w.rough = w.bit
	if c.Recess.Kind != "bowl" { // whose floor its own nose makes
		w.rough = max(w.bit, r.Widest(tool.Straight, wide, depth))
	}
	w.strips, w.deep = tool.Strips(wide, w.rough), tool.Deep(depth, w.rough)
	share := c.Rim.Area() / max(long*wide, 1e-9) // of the strips of a round one
	w.run = float64(w.strips*w.deep) * long * share
	if w.rough > w.bit {
		w.run += c.Rim.Perimeter() * float64(tool.Deep(depth, w.bit))
	}
}

// task is sinking the recess, as it is asked of a tool.
func (w route) task(t float64) making.Task {
	of := making.Task{
		Work: making.Sunk, Name: w.name, On: tool.Piece{Height: t}, Amount: w.volume, Run: w.run,
	}
	if w.bit == 0 {
		kind, diameter, _ := w.cavity.Recess.wanted()
		of.Bit, of.Size = kind, diameter
	}
	return of
}

// opening is how wide a recess is where the base of a router spans it, mm.
func (c Cavity) opening() float64 {
	if c.Run > 0 {
		return 2 * c.Recess.half()
	}
	long, wide := c.Recess.size()
	return math.Min(long, wide)
}

// Carving is which way a gouge or a grinder is pushed in each recess that no router sinks:
// along the grain, from both ends of it down to its middle, where the work is turned.
func (s Shaped) Carving(c Conditions) [][2]geom.Point {
	out := [][2]geom.Point{}
	for _, r := range s.routes(c) {
		if r.bit > 0 || len(r.cavity.Rim) < 3 {
			continue
		}
		mid := r.cavity.Rim.Centroid()
		sin, cos := math.Sincos(c.Wood.At(mid).Fibres * math.Pi / 180)
		long, wide := r.cavity.Recess.size()
		reach := math.Max(long*math.Abs(cos), wide*math.Abs(sin)) / 2
		for _, off := range []float64{-0.25, 0, 0.25} {
			beside := geom.Point{X: -sin, Y: cos}.Scale(off * math.Min(long, wide))
			for _, side := range []float64{-1, 1} {
				from := mid.Add(beside).Add(geom.Point{X: cos, Y: sin}.Scale(side * 0.85 * reach))
				out = append(out, [2]geom.Point{from, from.Lerp(mid.Add(beside), 0.8)})
			}
		}
	}
	return out
}
