package reckon

import (
	"math"

	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/layout"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Strip is wood of the scene's slab that a strip of a panel is to be cut from: laid there
// as a rectangle about its middle.
type Strip struct {
	Panel  string         `json:"panel" doc:"Id of the panel"`
	Name   string         `json:"name" doc:"Of the panel"`
	ID     string         `json:"id" doc:"Of the strip"`
	At     geom.Placement `json:"at" doc:"Where it lies on the slab"`
	Length float64        `json:"length" mm:"1,10000" doc:"As it is cut, mm"`
	Width  float64        `json:"width" mm:"1,10000" doc:"With its jointing"`
	Cents  int            `json:"cents" range:"0,1e9" doc:"What it takes of the piece's price"`
}

// outline is the strip on the slab.
func (s Strip) outline() geom.Ring {
	box := geom.Bounds{MinX: -s.Length / 2, MaxX: s.Length / 2, MinY: -s.Width / 2, MaxY: s.Width / 2}
	return box.Ring().Map(s.At.Out)
}

func (s Strip) neighbour() layout.Neighbour {
	return layout.Neighbour{Name: "A strip of " + s.Name, Outline: s.outline(), Cut: layout.Choice{Saw: tool.TableSaw}}
}

// Reserved is a strip of a panel as it is drawn on the piece that it is cut from.
type Reserved struct {
	Panel string `json:"panel" doc:"Id of the panel"`
	Name  string `json:"name" doc:"Of the panel"`
	Strip string `json:"strip" doc:"Id of the strip"`
	Path  string `json:"path" doc:"In the slab's frame"`
}

// Ripped is a panel whose strips are ripped from pieces, by turns, as many of each as
// its width gives, up to as many as the panel has; the rest are to be bought.
func Ripped(p glue.Panel, from []string, pieces map[string]slab.Slab, c glue.Conditions) glue.Panel {
	left := map[string]int{}
	for _, id := range from {
		if v, ok := pieces[id]; ok {
			w := slab.Draw(v, c.Own)
			along := max(1, int(math.Floor(w.Length/(p.Strips[0].Length+p.Kerf))))
			left[id] = along * glue.RipYield(w.MeanWidth(), p.Strips[0].Width, p.Kerf, c.Rules)
		}
	}
	turn := 0
	for i := range p.Strips {
		for range from {
			id := from[turn%len(from)]
			turn++
			if left[id] > 0 {
				left[id]--
				p.Strips[i].Piece, p.Strips[i].Species = id, slab.Draw(pieces[id], c.Own).Species()[0].Name
				break
			}
		}
	}
	return p
}

// Wanted is a strip that is to be laid on a piece, mm: its width with its jointing.
type Wanted struct {
	ID            string
	Length, Width float64
	At            *geom.Placement // where it lies already
}

// Reserve lays strips of a panel on a scene's slab, along its grain: each keeps its place
// while nothing else takes it up, and others get the place with the least of flaws, nearest
// the right edge and the butt. Strips with no place are left out.
func Reserve(s Scene, wanted []Wanted) (map[string]geom.Placement, error) {
	b, err := drawOn(s)
	if err != nil {
		return nil, err
	}
	out := map[string]geom.Placement{}
	taken := b.neighbours(-1)
	keep := func(w Wanted, at geom.Placement) {
		out[w.ID] = at
		taken = append(taken, Strip{At: at, Length: w.Length, Width: w.Width}.neighbour())
	}
	for _, w := range wanted {
		if w.At != nil && b.free(w.outline(*w.At), taken) {
			keep(w, *w.At)
		}
	}
	for _, w := range wanted {
		if _, laid := out[w.ID]; laid {
			continue
		}
		if at, ok := b.spot(w, taken); ok {
			keep(w, at)
		}
	}
	return out, nil
}

// WantedOn are the strips of a panel that are to be cut from a piece; those that lie there
// already, as large as they are, with their places.
func WantedOn(v slab.Slab, piece string, laid []Strip, rules rule.Set) (out []Wanted) {
	for _, t := range v.Glue.All() {
		if t.Piece != piece {
			continue
		}
		w := Wanted{ID: t.ID, Length: t.Length, Width: t.Width + rules.Get(rule.Jointing)}
		const same = 0.005
		for _, l := range laid {
			if l.ID == t.ID && math.Abs(l.Length-w.Length) < same && math.Abs(l.Width-w.Width) < same {
				at := l.At
				w.At = &at
			}
		}
		out = append(out, w)
	}
	return out
}

func (w Wanted) outline(at geom.Placement) geom.Ring {
	return Strip{At: at, Length: w.Length, Width: w.Width}.outline()
}

// free reports an outline that lies in the wood, clear of what is taken by a kerf.
func (b *drawn) free(r geom.Ring, taken []layout.Neighbour) bool {
	for _, p := range r.Dense(20) {
		if !b.wood.Holds(p, 0.01) {
			return false
		}
	}
	box, kerf := r.Bounds(), tool.Kerf(tool.TableSaw)
	for _, n := range taken {
		if n.Outline.Bounds().Apart(box) < kerf && geom.Gap(n.Outline, r) < kerf-0.01 {
			return false
		}
	}
	return true
}

// spot looks for the place of a strip: flush with an edge, an end, a flaw or what lies
// there already.
func (b *drawn) spot(w Wanted, taken []layout.Neighbour) (best geom.Placement, ok bool) {
	kerf, half := tool.Kerf(tool.TableSaw), w.Width/2
	xs, ys := []float64{0, b.wood.Length - w.Length}, []float64{}
	beside := func(box geom.Bounds, off float64) {
		xs = append(xs, box.MaxX+off, box.MinX-off-w.Length)
		ys = append(ys, box.MaxY+off+half, box.MinY-off-half)
	}
	for _, n := range taken {
		beside(n.Outline.Bounds(), kerf)
	}
	var flaws []stock.Flaw
	for _, f := range b.wood.Flaws {
		if !f.Sound() {
			flaws = append(flaws, f)
			beside(f.Bounds(), 1)
		}
	}
	least := -1.0
	for _, x := range xs {
		if x < -0.01 || x+w.Length > b.wood.Length+0.01 {
			continue
		}
		x = max(0, x)
		right, left := b.band(x, x+w.Length)
		for _, y := range append([]float64{right + half, left - half}, ys...) {
			if y-half < right-0.01 || y+half > left+0.01 {
				continue
			}
			at := geom.Placement{X: x + w.Length/2, Y: y}
			ring := w.outline(at)
			if !b.free(ring, taken) {
				continue
			}
			cost := y*1e-3 + x*1e-4
			for _, f := range flaws {
				if f.Bounds().Apart(ring.Bounds()) > 0 {
					continue
				}
				for _, c := range geom.Common(f.Footprint(), ring) {
					cost += c.Area()
				}
			}
			if !ok || cost < least {
				best, least, ok = at, cost, true
			}
		}
	}
	return best, ok
}

// band is what lies inside both edges over a stretch of the wood.
func (b *drawn) band(from, to float64) (right, left float64) {
	const looks = 24
	right, left = b.wood.Right(from), b.wood.Left(from)
	for k := range looks + 1 {
		x := from + (to-from)*float64(k)/looks
		right, left = max(right, b.wood.Right(x)), min(left, b.wood.Left(x))
	}
	return right, left
}
