package layout

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/making"
	"idletimber/craft/milling"
	"idletimber/craft/rule"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// grazing is how far a board may lie outside the wood by rounding, mm.
const grazing = 0.15

// dense is how far apart the points lie that stand for an outline, mm.
const dense = 8

// rounding is how far a place that a remedy sets may be off, mm.
const rounding = 0.01

// farBoard is how far off a board is not spoken of, mm.
const farBoard = 20

// near is how close a flaw must lie to be spoken of, mm.
const near = 60

// Check judges the place of a shaped board.
func (p Place) Check(s board.Shaped) []craft.Verdict {
	p.drawn = &s
	outline := s.Outline.Map(p.At.Out)
	p.points = outline.Dense(dense)
	index := geom.NewIndex(outline)
	p.shunned = p.keepOuts(index)
	p.gaps = make([]float64, len(p.Others))
	box := outline.Bounds()
	for i, n := range p.Others {
		if p.gaps[i] = box.Apart(n.Outline.Bounds()); p.gaps[i] <= farBoard { // farther ones are not spoken of
			p.gaps[i] = geom.Gap(outline, n.Outline)
		}
	}
	blank := p.Blank(outline)
	out := make([]craft.Verdict, 0, 8+len(p.Wood.Flaws)+len(p.Wood.Features)+len(p.Others))
	out = append(out, p.inside(s))
	if v, ok := p.squaring(outline); ok {
		out = append(out, v)
	}
	if v, ok := p.snipe(outline, blank); ok {
		out = append(out, v)
	}
	out = append(out, p.grain(s))
	if v, ok := p.liveEdge(s); ok {
		out = append(out, v)
	}
	for i, n := range p.Others {
		if v, ok := p.kerf(outline, n, p.gaps[i]); ok {
			out = append(out, v)
		}
	}
	for i, f := range p.Wood.Flaws {
		if v, ok := p.flaw(s, index, f, i); ok {
			out = append(out, v)
		}
	}
	for i, f := range p.Wood.Features {
		if v, ok := p.feature(s, f, i); ok {
			out = append(out, v)
		}
	}
	return append(out, p.machines(blank)...)
}

func move(at geom.Placement) craft.Patch {
	round := func(v float64) float64 { return math.Round(v*100) / 100 }
	return craft.Patch{"placement": map[string]any{"x": round(at.X), "y": round(at.Y), "angle": round(at.Angle)}}
}

func designPatch(key string, value any) craft.Patch {
	return craft.Patch{"design": map[string]any{key: value}}
}

// over is how far an outline reaches past each side of the usable wood, mm.
type over struct{ butt, tip, left, right float64 }

func (o over) worst() float64 { return max(o.butt, o.tip, o.left, o.right) }

// reach measures an outline, by the points that stand for it, against the wood. Kept
// natural edges lie on the wood's edge by construction; a plank is measured by the length
// that is lost where its ends hang off.
func (p Place) reach(s board.Shaped, points geom.Ring) over {
	var o over
	for _, q := range points {
		o.butt = max(o.butt, -q.X)
		o.tip = max(o.tip, q.X-p.Wood.Length)
		if q.X >= 0 && q.X <= p.Wood.Length {
			right, left := p.Wood.Span(q)
			o.left, o.right = max(o.left, q.Y-left), max(o.right, right-q.Y)
		}
	}
	if lost := lost(s); lost > grazing {
		if p.At.X < p.Wood.Length/2 {
			o.butt = max(o.butt, lost)
		} else {
			o.tip = max(o.tip, lost)
		}
	}
	return o
}

// lost is how much of its length a plank loses where its ends hang off, mm.
func lost(s board.Shaped) float64 {
	if s.Design.Shape != board.Plank || !s.Design.KeepLeft && !s.Design.KeepRight {
		return 0
	}
	box := s.Outline.Bounds()
	return s.Design.Length - (box.MaxX - box.MinX)
}

func (p Place) inside(s board.Shaped) craft.Verdict {
	o := p.reach(s, p.points)
	v := craft.Verdict{
		Check: "inside", Stage: craft.Layout, Level: craft.Good, Finding: "Inside the wood on both faces", Limit: 0,
		Reason: "What lies outside the narrower face is not there to be cut.",
		Figure: craft.Figure{
			Key:     "layout.outside",
			Stage:   craft.Layout,
			Label:   "Reaches outside by",
			Value:   max(0, o.worst()),
			Unit:    craft.MM,
			Formula: "largest distance of the outline past the usable edges and ends",
			Terms: []craft.Term{
				{Name: "past the butt", Value: o.butt, Unit: craft.MM},
				{Name: "past the far end", Value: o.tip, Unit: craft.MM},
				{
					Name:  "past the left edge",
					Value: o.left,
					Unit:  craft.MM,
				},
				{Name: "past the right edge", Value: o.right, Unit: craft.MM},
			},
			Source: "edges drawn through the stations of both faces",
		},
	}
	if o.worst() <= grazing {
		return v
	}
	v.Level, v.Finding = craft.Stop, "Reaches outside the wood"
	v.Offer(func() []craft.Remedy { return p.backInside(o) })
	return v
}

// backInside tries what brings a board that reaches outside back into the wood:
// moved, turned along the grain, narrower, shorter.
func (p Place) backInside(o over) (out []craft.Remedy) {
	if moved, ok := p.movedIn(o); ok && p.freeAt(moved) {
		out = append(
			out,
			craft.Remedy{
				Label:  "Move the board {}",
				Amount: math.Hypot(moved.X-p.At.X, moved.Y-p.At.Y),
				Unit:   craft.MM,
				Patch:  move(moved),
			},
		)
	}
	if g := p.Wood.Grain.Seen(p.At).At(geom.Point{}).Angle(0); g > 0.5 {
		straight := p
		straight.At.Angle = math.Round(p.At.Angle/180) * 180
		shaped := straight.Shaped()
		so := straight.reach(shaped, shaped.Outline.Map(straight.At.Out).Dense(dense))
		if so.worst() > grazing {
			if moved, ok := straight.movedIn(so); ok {
				straight.At, so = moved, over{}
			}
		}
		if so.worst() <= grazing && p.freeAt(straight.At) {
			out = append(
				out,
				craft.Remedy{
					Label:  "Turn it along the grain by {}",
					Amount: g,
					Unit:   craft.Degree,
					Patch:  move(straight.At),
				},
			)
		}
	}
	for _, side := range []struct {
		key, label string
		least      float64
		set        func(*board.Design, float64)
		now        float64
	}{
		{"width", "Narrow it to {}", max(40, p.Design.Neck), func(d *board.Design, v float64) { d.Width = v },
			p.Design.Width},
		{"length", "Shorten it to {}", p.Design.NeckLength + 60, func(d *board.Design, v float64) { d.Length = v },
			p.Design.Length},
	} {
		if to, ok := p.shrunk(side.now, side.least, side.set); ok {
			out = append(
				out,
				craft.Remedy{Label: side.label, Amount: to, Unit: craft.MM, Patch: designPatch(side.key, to)},
			)
		}
	}
	return out
}

func (p Place) fits() bool {
	s := p.Shaped()
	outline := s.Outline.Map(p.At.Out)
	return lost(s) <= grazing && p.holds(outline.Dense(dense), geom.Point{}) && p.free(outline)
}

// keepOuts are the places to be kept out that a board clears.
func (p Place) keepOuts(outline geom.Index) (clear []geom.Ring) {
	for _, f := range p.Wood.Flaws {
		if !f.Shunned() {
			continue
		}
		for _, at := range f.Sections() {
			if print := at.Footprint(); outline.Bounds().Apart(print.Bounds()) > 0 ||
				geom.Gap(outline.Ring, print) > 0 {
				clear = append(clear, print)
			}
		}
	}
	return clear
}

// free reports whether an outline keeps clear of the other boards, or comes
// no closer to them than the board lies now, and of what is to be kept out.
func (p Place) free(outline geom.Ring) bool {
	box := outline.Bounds()
	for i, n := range p.Others {
		_, _, least := p.apart(n)
		if i < len(p.gaps) {
			least = min(least, p.gaps[i])
		}
		if box.Apart(n.Outline.Bounds()) < least && geom.Gap(outline, n.Outline) < least-1e-6 {
			return false
		}
	}
	return !slices.ContainsFunc(p.shunned, func(print geom.Ring) bool {
		return box.Apart(print.Bounds()) <= 0 && geom.Gap(outline, print) <= 0
	})
}

// freeAt is free for the board at another place.
func (p Place) freeAt(at geom.Placement) bool {
	q := p
	q.At = at
	return p.free(q.Shaped().Outline.Map(at.Out))
}

// holds reports whether points shifted by d lie in the usable wood.
func (p Place) holds(points geom.Ring, d geom.Point) bool {
	for _, stride := range []int{12, 1} { // a few points tell most misfits
		for i := 0; i < len(points); i += stride {
			if !p.Wood.Holds(points[i].Add(d), grazing) {
				return false
			}
		}
	}
	return true
}

// fitsShifted reports whether the board fits when it is moved by d. Only a
// plank changes its shape on the way.
func (p Place) fitsShifted(d geom.Point) bool {
	if p.Design.Shape != board.Plank {
		return p.holds(p.points, d) && p.free(p.points.Map(d.Add))
	}
	p.At.X, p.At.Y = p.At.X+d.X, p.At.Y+d.Y
	return p.fits()
}

// movedIn shifts the board by what it overhangs, a few times since a live
// edge moves as one goes along it.
func (p Place) movedIn(o over) (geom.Placement, bool) {
	for range 5 {
		if o.butt > grazing && o.tip > grazing || o.left > grazing && o.right > grazing {
			return p.At, false
		}
		step := func(less, more float64) float64 {
			switch {
			case less > grazing:
				return less + 0.5
			case more > grazing:
				return -more - 0.5
			}
			return 0
		}
		p.At.X += step(o.butt, o.tip)
		p.At.Y += step(o.right, o.left)
		s := p.Shaped()
		if o = p.reach(s, s.Outline.Map(p.At.Out).Dense(dense)); o.worst() <= grazing {
			return p.At, true
		}
	}
	return p.At, false
}

// shrunk finds the largest size, in whole mm, at which the board fits.
func (p Place) shrunk(now, least float64, set func(*board.Design, float64)) (float64, bool) {
	fits := func(v float64) bool {
		q := p
		set(&q.Design, v)
		return q.fits()
	}
	lo, hi := math.Ceil(least), math.Ceil(now)
	if lo >= hi || !fits(lo) {
		return 0, false
	}
	for hi-lo > 1 {
		if mid := math.Floor((lo + hi) / 2); fits(mid) {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo, true
}

func (p Place) squaring(outline geom.Ring) (craft.Verdict, bool) {
	if p.Wood.NaturalEnds {
		return craft.Verdict{}, false
	}
	box, want := outline.Bounds(), p.Shop.Rules.Get(rule.Squaring)
	left := min(box.MinX, p.Wood.Length-box.MaxX)
	v := craft.Verdict{
		Check: "squaring", Stage: craft.Layout, Level: craft.Good, AtLeast: true, Limit: want,
		Finding: "Room to square both ends of the slab", Reason: "Slab ends are rarely square and often checked.",
		Figure: craft.Figure{
			Key:     "layout.squaring",
			Stage:   craft.Layout,
			Label:   "To the nearer end",
			Value:   left,
			Unit:    craft.MM,
			Formula: "least distance of the outline to an end of the slab",
			Terms: []craft.Term{
				{Name: "butt end", Value: box.MinX, Unit: craft.MM},
				{Name: "far end", Value: p.Wood.Length - box.MaxX, Unit: craft.MM},
			},
			Source: "shop rule for squaring",
			Rule:   true,
		},
	}
	if left >= want-rounding {
		return v, true
	}
	v.Level, v.Finding = craft.Mind, "Too close to an end of the slab to square it"
	v.Offer(func() []craft.Remedy {
		q, ok := p.clearEnds(box, want)
		if !ok {
			return nil
		}
		return []craft.Remedy{{
			Label: "Move the board {} along", Amount: math.Abs(q.X - p.At.X), Unit: craft.MM, Patch: move(q),
		}}
	})
	return v, true
}

// clearEnds moves the board along until it is want mm from both ends, if it
// still lies inside the wood there.
func (p Place) clearEnds(box geom.Bounds, want float64) (geom.Placement, bool) {
	switch {
	case box.MinX < want && p.Wood.Length-box.MaxX-(want-box.MinX) >= want:
		p.At.X += want - box.MinX
	case p.Wood.Length-box.MaxX < want && box.MinX-(want-(p.Wood.Length-box.MaxX)) >= want:
		p.At.X -= want - (p.Wood.Length - box.MaxX)
	default:
		return p.At, false
	}
	return p.At, p.fits()
}

func (p Place) snipe(outline geom.Ring, blank Blank) (craft.Verdict, bool) {
	if !p.flattened() || !p.snipes(blank) {
		return craft.Verdict{}, false
	}
	box := outline.Bounds()
	want := p.Shop.Rules.Get(rule.Snipe)
	left := p.spare(box)
	v := craft.Verdict{
		Check: "snipe", Stage: craft.Layout, Level: craft.Good, AtLeast: true, Limit: want,
		Finding: "Snipe falls in the waste",
		Reason:  "A planer cuts deeper for the first and last hand's breadth of a blank.",
		Figure: craft.Figure{
			Key:   "layout.snipe",
			Stage: craft.Layout,
			Label: "Left at the shorter end",
			Value: left,
			Unit:  craft.MM,
			Formula: "least distance of the outline to an end of what is planed: the blank, which reaches half way " +
				"to the next board, or the whole slab",
			Source: "shop rule for snipe",
			Rule:   true,
		},
	}
	if p.Choice.Snipe != "allow" {
		v.Limit, v.Finding = 0, "No snipe: "+map[string]string{"pieces": "sacrificial pieces go before and after",
			"nose to tail": "blanks are fed nose to tail"}[p.Choice.Snipe]
		return v, true
	}
	if left >= want-rounding {
		return v, true
	}
	v.Level, v.Finding = craft.Mind, "The planer's snipe reaches into the board"
	v.Offer(func() []craft.Remedy { return p.sparing(box, want) })
	return v, true
}

// sparing tries what keeps a planer's snipe off the board.
func (p Place) sparing(box geom.Bounds, want float64) (out []craft.Remedy) {
	if q, ok := p.clearEnds(box, want); ok {
		moved := p
		moved.At = q
		if moved.spare(moved.Shaped().Outline.Map(q.Out).Bounds()) >= want-rounding {
			out = append(
				out,
				craft.Remedy{
					Label:  "Move the board {} along",
					Amount: math.Abs(q.X - p.At.X),
					Unit:   craft.MM,
					Patch:  move(q),
				},
			)
		}
	}
	whole := p
	whole.Choice.FlattenWhole = true
	if whole.spare(box) >= want-rounding {
		out = append(
			out,
			craft.Remedy{
				Label: "Flatten the whole slab first",
				Patch: craft.Patch{"cut": map[string]any{"flattenWhole": true}},
			},
		)
	}
	out = append(
		out,
		craft.Remedy{
			Label: "Feed sacrificial pieces before and after",
			Patch: craft.Patch{"cut": map[string]any{"snipe": "pieces"}},
		},
	)
	return out
}

// spare is what is left at the shorter end of what is planed, mm.
func (p Place) spare(box geom.Bounds) float64 {
	from, to := p.ends(box)
	if p.Choice.FlattenWhole {
		from, to = 0, p.Wood.Length
	}
	return min(box.MinX-from, to-box.MaxX)
}

func (p Place) grain(s board.Shaped) craft.Verdict {
	angle := p.Wood.Grain.Seen(p.At).At(geom.Point{}).Angle(0)
	v := craft.Verdict{
		Check: "grain", Stage: craft.Layout, Level: craft.Good, Limit: 10, Finding: "The grain runs along the board",
		Reason: "Wood splits along its grain: a handle crossed by it holds a fraction of its strength.",
		Figure: craft.Figure{
			Key:     "layout.grain",
			Stage:   craft.Layout,
			Label:   "Grain to the board's length",
			Value:   angle,
			Unit:    craft.Degree,
			Formula: "angle between the board's length and the slab's",
			Source:  "rule of the trade: grain along the handle",
			Rule:    true,
		},
	}
	if math.IsInf(s.HandleStart(), 1) {
		if angle > 10 {
			v.Finding = "The grain runs at an angle; there is no handle for it to weaken"
		}
		return v
	}
	v.Level = craft.Over(angle, 10, 30)
	if v.Level != craft.Good && !stock.Turning(p.Wood.Grain.Over(s.Outline.Map(p.At.Out))) {
		v.Level, v.Finding = craft.Mind, "The grain runs off the handle in parts, however it is turned"
		v.Reason = "What its neck and its webs bear is reckoned part by part: keep them stout."
		return v
	}
	if v.Level != craft.Good {
		v.Finding = "The grain crosses the handle"
		v.Offer(func() []craft.Remedy {
			straight := p
			straight.At.Angle = math.Round(p.At.Angle/180) * 180
			if !straight.fits() {
				return nil
			}
			return []craft.Remedy{{
				Label: "Turn it along the grain by {}", Amount: angle, Unit: craft.Degree, Patch: move(straight.At),
			}}
		})
	}
	return v
}

// brokenEdge is how much of a promised live edge flaws may break, mm.
const brokenEdge = 2

// Live reports whether the slab's edges on the left and on the right of the board,
// as it lies, are natural ones.
func (p Place) Live() (left, right bool) {
	left = p.Wood.LiveLeft && p.Wood.RipLeft == 0
	right = p.Wood.LiveRight && p.Wood.RipRight == 0
	if math.Cos(p.At.Angle*math.Pi/180) < 0 != p.At.Flip {
		left, right = right, left
	}
	return left, right
}

// liveEdge judges whether a kept side is a natural edge of the slab, all along.
func (p Place) liveEdge(s board.Shaped) (craft.Verdict, bool) {
	d := p.Design
	if d.Shape != board.Plank || !d.KeepLeft && !d.KeepRight {
		return craft.Verdict{}, false
	}
	liveLeft, liveRight := p.Live()
	lost := 0
	v := craft.Verdict{
		Check: "live-edge", Stage: craft.Layout, Level: craft.Good, Finding: "The kept edges are natural ones",
		Reason: "A live edge that was promised is not there to be kept.",
		Figure: craft.Figure{
			Key:     "layout.live",
			Stage:   craft.Layout,
			Label:   "Kept sides that are sawn",
			Formula: "sides kept − sides that are natural",
			Source:  "the slab's edges",
		},
	}
	drop := func(kept, live bool, key, label string) {
		if kept && !live {
			lost++
			v.Remedies = append(v.Remedies, craft.Remedy{Label: label, Patch: designPatch(key, false)})
		}
	}
	drop(d.KeepLeft, liveLeft, "keepLeft", "Saw the left side straight")
	drop(d.KeepRight, liveRight, "keepRight", "Saw the right side straight")
	v.Figure.Value = float64(lost)
	if lost > 0 {
		v.Level, v.Finding = craft.Stop, "A side that is to be kept natural is sawn"
		return v, true
	}
	prints := []geom.Ring{}
	for _, f := range p.Wood.Flaws {
		if f.Sound() {
			continue
		}
		show, under := f.Prints()
		for _, print := range []geom.Ring{show, under} {
			if len(print) > 2 {
				prints = append(prints, print.Map(p.At.In))
			}
		}
	}
	if broken := s.NaturalWithin(prints); broken > brokenEdge {
		v.Level, v.Finding = craft.Mind, "Flaws break the live edge that is to be kept"
		v.Figure = craft.Figure{
			Key:     "layout.live",
			Stage:   craft.Layout,
			Label:   "Of the live edge that flaws break",
			Value:   broken,
			Unit:    craft.MM,
			Formula: "length of the kept edges inside flaws, of all of it",
			Terms: []craft.Term{
				{Name: "kept edges", Value: s.Natural(), Unit: craft.MM},
			},
			Source: "the flaws as marked",
		}
		v.Limit = brokenEdge
	}
	return v, true
}

// apart is how far the board must lie from another: by the wider of the two
// saws that part them, its kerf, which is the least, and that with what both
// leave outside their lines, mm.
func (p Place) apart(n Neighbour) (saw string, kerf, want float64) {
	saw = p.Choice.Saw
	if n.Cut.Saw != "" && tool.Kerf(n.Cut.Saw) > tool.Kerf(saw) {
		saw = n.Cut.Saw
	}
	other := n.Cut
	other.Saw = cmp.Or(other.Saw, p.Choice.Saw)
	leaves := p.Choice.Leave(p.Shop.Rules) + other.Leave(p.Shop.Rules)
	return saw, tool.Kerf(saw), tool.Kerf(saw) + leaves
}

// Apart is the kerf of the saw and what it leaves outside both lines, mm.
func (c Choice) Apart(rules rule.Set) float64 { return tool.Kerf(c.Saw) + 2*c.Leave(rules) }

// Leave is how far outside its line a saw is led, mm: what it wanders, and no less than what
// sanding the edge takes.
func Leave(saw string, rules rule.Set) float64 { return tool.Leave(saw, rules.Get(rule.SandEdge)) }

func (p Place) kerf(outline geom.Ring, n Neighbour, gap float64) (craft.Verdict, bool) {
	a, b := outline.Bounds(), n.Outline.Bounds()
	if a.Apart(b) > farBoard {
		return craft.Verdict{}, false
	}
	saw, kerf, want := p.apart(n)
	v := craft.Verdict{
		Check: "kerf", Subject: n.Name, Stage: craft.Layout, Level: craft.Under(gap, want, kerf), AtLeast: true,
		Limit:   want,
		Finding: "Distance to " + n.Name, Reason: "The saw turns its kerf to dust, and both edges are sanded to " +
			"their line.",
		Figure: craft.Figure{
			Key:     "layout.kerf",
			Stage:   craft.Layout,
			Label:   "Gap to " + n.Name,
			Value:   gap,
			Unit:    craft.MM,
			Formula: "least distance between the outlines, against kerf + sanding of both edges",
			Terms: []craft.Term{
				{Name: "kerf of the " + saw, Value: kerf, Unit: craft.MM},
				{Name: "sanding, an edge", Value: p.Shop.Rules.Get(rule.SandEdge), Unit: craft.MM},
			},
			Source: "kerf by saw",
			Rule:   true,
		},
	}
	if v.Level == craft.Good {
		return v, true
	}
	v.Finding = "Closer to " + n.Name + " than the saw allows"
	v.Offer(func() []craft.Remedy { return p.clearOf(a, b, want) })
	return v, true
}

// flaw judges one flaw: clear of the board, harmless, to be filled, or kept
// out. Flaws well away are not spoken of.
func (p *Place) flaw(s board.Shaped, outline geom.Index, f stock.Flaw, i int) (craft.Verdict, bool) {
	a := outline.Bounds()
	if a.Apart(f.Bounds()) > near {
		return craft.Verdict{}, false
	}
	b, gap := f.Bounds(), math.Inf(1)
	levels := f.Sections()
	prints := make([]geom.Ring, len(levels))
	for k, at := range levels {
		prints[k] = at.Footprint()
		gap = min(gap, geom.Gap(outline.Ring, prints[k]))
	}
	name := fmt.Sprintf("%s %d", f.Name(), i+1)
	v := craft.Verdict{
		Check: "flaw", Subject: f.ID, Stage: craft.Layout, AtLeast: true, Finding: "Clear of the " + name,
		Reason: "Voids must be cleaned and filled before shaping; the wood around one breaks out.",
		Figure: craft.Figure{
			Key:     "layout.flaw",
			Stage:   craft.Layout,
			Label:   "To the " + name,
			Value:   gap,
			Unit:    craft.MM,
			Formula: "least distance between the outline and the flaw",
			Source:  "the flaw as marked",
		},
		Level: craft.Good,
	}
	if gap > 0 {
		return v, gap <= near
	}
	deepest := 0.0
	for _, q := range slices.Concat(prints...) {
		if a.Depth(q) <= deepest { // no deeper in the outline than in its box
			continue
		}
		if outline.Contains(q) {
			_, d := outline.Nearest(q)
			deepest = max(deepest, d)
		}
	}
	v.Figure.Label, v.Figure.Value, v.AtLeast = "Reaches in by", deepest, false
	v.Figure.Formula = "how far the deepest point of the flaw lies within the outline"
	switch {
	case f.Wish == stock.KeepOut && f.Kind == stock.Gone:
		v.Level, v.Finding, v.Reason = craft.Stop, "Holds wood that is gone",
			"It was cut or broken out by mistake: look at the ways out."
		return v, true
	case f.Wish == stock.KeepOut:
		v.Level, v.Finding, v.Reason = craft.Stop, "Holds the "+name+", which is to be kept out",
			"You marked it to stay out of every board."
	case f.Wish == stock.CutAway:
		v.Level, v.Finding, v.Reason = craft.Stop, "Holds the "+name+", which is to be cut away",
			"You marked it to be cut off the slab."
	case f.Wish == stock.Featured:
		if how := p.shows(s, f); how != "" {
			v.Finding = "Makes a feature of the " + name + ": " + strings.ToLower(how[:1]) + how[1:]
			return v, true
		}
		v.Finding, v.Reason = "Holds the "+name+", and makes no feature of it",
			"You wish to show it: let the handle follow it, a hole take it out, or a river run through it."
		if p.Whom == board.Own {
			v.Reason = "You like it there, and it is your own board."
			return v, true
		}
		v.Level = craft.Mind
		if p.Whom == board.Customer {
			v.Reason += " What you like there is a fault to a customer."
		}
		v.Offer(func() []craft.Remedy { return p.handleTo(s, f) })
		return v, true
	case f.Sound():
		v.Finding, v.Reason = "Holds the "+name+", as good as wood",
			"A sound knot is harder than the wood about it: plane and scrape with care."
		return v, true
	case f.Wish == stock.Fill:
		v.Finding = "Holds the " + name + ", to be filled as you wish"
		return v, true
	default:
		v.Level, v.Finding = craft.Mind, "Holds the "+name
	}
	v.Offer(func() []craft.Remedy { return p.clearOf(a, b, 1) })
	return v, true
}

// clearOf offers the shortest straight move that takes the board, bounded by
// a, spare mm clear of what is bounded by b.
func (p Place) clearOf(a, b geom.Bounds, spare float64) []craft.Remedy {
	ways := []geom.Point{
		{X: b.MaxX - a.MinX + spare},
		{X: -(a.MaxX - b.MinX + spare)},
		{Y: b.MaxY - a.MinY + spare},
		{Y: -(a.MaxY - b.MinY + spare)},
	}
	slices.SortStableFunc(ways, func(d, e geom.Point) int { return cmp.Compare(d.Len(), e.Len()) })
	for _, d := range ways {
		if a.MinX+d.X < -grazing || a.MaxX+d.X > p.Wood.Length+grazing {
			continue // off an end, which no shape of the edges can change
		}
		if p.fitsShifted(d) {
			p.At.X, p.At.Y = p.At.X+d.X, p.At.Y+d.Y
			return []craft.Remedy{
				{Label: "Move the board {} clear of it", Amount: d.Len(), Unit: craft.MM, Patch: move(p.At)},
			}
		}
	}
	return nil
}

// machines judges whether the shop's machines take the blank: to flatten it, to cut it
// across, and to saw its outline.
func (p Place) machines(blank Blank) []craft.Verdict {
	var out []craft.Verdict
	if p.flattened() {
		out = append(out, p.planer(blank)...)
	}
	length, _, _ := p.span(blank.FromX, blank.ToX, whole) // it is ripped after
	if v, ok := p.crossCut(length, min(blank.FromX, p.Wood.Length-blank.ToX)); ok {
		out = append(out, v)
	}
	if v, ok := p.owned(); ok {
		out = append(out, v)
	}
	if v, ok := p.sawDepth(); ok {
		out = append(out, v)
	}
	return out
}

// machine is a verdict on a size of the blank against a limit of a machine.
func machine(subject, label string, value, limit float64, atLeast bool, reason string) craft.Verdict {
	v := craft.Verdict{
		Check: "machine", Subject: subject, Stage: craft.Layout, Level: craft.Over(value, limit, math.Inf(1)),
		Limit: limit, AtLeast: atLeast, Finding: "Within the " + subject, Reason: reason,
		Figure: craft.Figure{
			Key:     "machine." + subject,
			Stage:   craft.Layout,
			Label:   label,
			Value:   value,
			Unit:    craft.MM,
			Formula: "size of the blank with its allowances, against the machine",
			Source:  "the shop's machines",
		},
	}
	if atLeast {
		v.Level = craft.Under(value, limit, math.Inf(-1))
	}
	if v.Level != craft.Good {
		v.Finding = "Beyond the " + subject
	}
	return v
}

// planer judges whether what is flattened goes through the planer; where another machine
// does it, that is told and all is well.
func (p Place) planer(blank Blank) (out []craft.Verdict) {
	m, planers := p.Milled(blank), p.Shop.Kit.All(tool.Planer)
	add := func(v craft.Verdict) {
		if v.Level != craft.Good {
			v.Finding += ": " + m.Method
			if m.Fits && len(m.Passes) > 0 {
				v.Level = craft.Good
			} else {
				v.Level = craft.Mind
			}
		}
		out = append(out, v)
	}
	if len(planers) > 0 {
		size := p.Milling(blank, p.Choice.FlattenWhole)
		if widest := p.Shop.Kit.Most(tool.Planer, func(t tool.Tool) float64 { return t.Width }); widest > 0 {
			add(machine("planer's width", "Width to plane", max(size.Width, size.Table), widest, false,
				"A blank wider than the planer is flattened by hand, by router sled, or ripped first."))
		}
		shortest := slices.MinFunc(planers, func(a, b tool.Tool) int { return cmp.Compare(a.Shortest, b.Shortest) })
		if shortest.Shortest > 0 && !p.Choice.FlattenWhole {
			v := machine(
				"planer's shortest piece",
				"Length of the blank",
				blank.Length(),
				shortest.Shortest,
				true,
				"A piece shorter than the machine's minimum tips between the rollers: flatten the slab first, or "+
					"glue on runners.",
			)
			if v.Level != craft.Good {
				v.Remedies = []craft.Remedy{{
					Label: "Flatten the whole slab first",
					Patch: craft.Patch{"cut": map[string]any{"flattenWhole": true}},
				}}
			}
			add(v)
		}
	}
	if v, ok := p.method(m, blank); ok {
		out = append(out, v)
	}
	return out
}

// method judges a method of the maker's own that its tools do not take, or a bite that is
// deeper than they bear.
func (p Place) method(m milling.Milled, blank Blank) (v craft.Verdict, ok bool) {
	proposed := p
	proposed.Choice.Method = ""
	best := proposed.Milled(blank)
	if p.Choice.Method != "" && !m.Fits && m.Method != best.Method {
		return craft.Verdict{
			Check: "method", Stage: craft.Layout, Level: craft.Mind, Limit: 1, AtLeast: true,
			Finding: "Not by " + m.Method + ": " + m.Why,
			Reason:  "What a machine does not take stalls it, or is thrown back.",
			Figure: craft.Figure{
				Key: "flatten.method", Stage: craft.Layout, Label: "Methods that take it by this name",
				Formula: "the blank, against the limits of the tools owned", Source: "the shop's tools",
			},
			Remedies: []craft.Remedy{{
				Label: "Flatten it by " + best.Method, Patch: craft.Patch{"cut": map[string]any{"method": nil}},
			}},
		}, true
	}
	if p.Choice.Bite == 0 || m.Load <= 0 {
		return v, false
	}
	plain := p.piece(blank)
	plain.Bite = 0
	usual := milling.With(p.Shop.Kit, plain, p.Choice.Method)
	v = craft.Verdict{
		Check: "bite", Stage: craft.Layout, Level: craft.Over(p.Choice.Bite, usual.Bite, math.Inf(1)),
		Limit:   usual.Bite,
		Finding: "The bite suits the machine and the wood",
		Reason:  "A bite too deep stalls the machine, tears the grain and digs in at the ends.",
		Figure: craft.Figure{
			Key: "flatten.bite", Stage: craft.Layout, Label: "Bite of a pass", Value: p.Choice.Bite, Unit: craft.MM,
			Formula: "your own, against the table by hardness, figure and resin, and the machine's load",
			Terms: []craft.Term{
				{Name: "load of the machine", Value: m.Load * 100, Unit: craft.Percent},
				{Name: "hardness", Value: plain.Wood.Janka, Unit: craft.Newton},
			},
			Source: "rule of the trade", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "The bite is deeper than the machine and the wood bear"
		v.Remedies = []craft.Remedy{{
			Label: "Take the table's bite of {}", Amount: usual.Bite, Unit: craft.MM,
			Patch: craft.Patch{"cut": map[string]any{"bite": nil}},
		}}
	}
	return v, true
}

// crossCut judges a cut across against the mitre saw, where one is owned.
func (p Place) crossCut(length, beside float64) (v craft.Verdict, ok bool) {
	widest := p.Shop.Kit.Most(tool.MitreSaw, func(t tool.Tool) float64 { return t.Width })
	if widest == 0 {
		return v, false
	}
	v = machine("cross-cut", "Width to cross-cut", length, widest, false,
		"Wider than the saw's stroke: use a track saw or a hand saw, or cut from both sides.")
	if m := making.By(p.Shop.Kit, p.Crossing(length, beside)); v.Level != craft.Good && m.By != nil {
		v.Finding += ": " + m.By.Tool + ", " + m.By.Why
	}
	return v, true
}

// tooThick is the depth of cut of a saw that the rough piece is thicker than, mm; 0 where
// it takes it, or nothing is known.
func (p Place) tooThick(saw string) float64 {
	all := p.Shop.Kit.All(saw)
	if _, ok := p.Shop.Kit.Fits(saw, tool.Piece{Height: p.Wood.Rough.Thickest}); ok || len(all) == 0 {
		return 0
	}
	return p.Shop.Kit.Most(saw, func(t tool.Tool) float64 { return t.Height })
}

func (p Place) sawDepth() (v craft.Verdict, ok bool) {
	deepest := p.Shop.Kit.Most(p.Choice.Saw, func(t tool.Tool) float64 { return t.Height })
	if deepest == 0 {
		return v, false
	}
	return machine("saw's depth", "Thickness to saw", p.Wood.Rough.Thickest, deepest, false,
		"Thicker than the saw takes: flatten first, or use another saw."), true
}

// owned judges a saw for the outline that is not owned, or that turns curves and of which no
// blade is.
func (p Place) owned() (v craft.Verdict, ok bool) {
	saw, kit := p.Choice.Saw, p.Shop.Kit
	bladed := len(kit.Blades) == 0 || !tool.FindSaw(saw).Turns ||
		slices.ContainsFunc(kit.Blades, func(b tool.Blade) bool { return b.Saw == saw })
	if kit.Has(saw) && bladed {
		return v, false
	}
	finding := "No blade of a " + saw + " is among the shop's tools"
	if !kit.Has(saw) {
		finding = "No " + saw + " is among the shop's tools"
	}
	v = craft.Verdict{
		Check: "machine", Subject: "saw for the outline", Stage: craft.Layout, Level: craft.Mind, AtLeast: true,
		Limit:   1,
		Finding: finding,
		Reason:  "Kerf, wander and minutes are reckoned by the saw that is chosen.",
		Figure: craft.Figure{
			Key: "machine.saw", Stage: craft.Layout, Label: "Of it, with a blade", Formula: "counted",
			Source: "the shop's tools",
		},
	}
	if own := kit.CurveSaw(); own != saw && kit.Has(own) {
		v.Remedies = []craft.Remedy{
			{Label: "Saw it with the " + own, Patch: craft.Patch{"cut": map[string]any{"saw": own}}},
		}
	}
	return v, true
}
