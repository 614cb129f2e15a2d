package geom

import (
	"cmp"
	"math"
	"slices"
)

// Room is a sheet with holes in it, in which something is to find its place.
type Room struct {
	Sheet Ring
	Holes []Ring
}

// Rectangle is a rectangle of a length along x and a width along y, about its
// place.
type Rectangle struct {
	At            Placement
	Length, Width float64
}

// Area of the rectangle.
func (r Rectangle) Area() float64 { return r.Length * r.Width }

// Ring is the rectangle where it lies, anticlockwise.
func (r Rectangle) Ring() Ring {
	l, w := r.Length/2, r.Width/2
	return Bounds{MinX: -l, MinY: -w, MaxX: l, MaxY: w}.Ring().Map(r.At.Out)
}

// candidates is how many rectangles, found on a raster, are followed exactly.
const candidates = 6

// Largest is the rectangle of the greatest area in the room, of any proportions and
// tilted by at most so many degrees from x; it covers a point where one is given.
// The area is 0 when there is none. Its sides are found exactly; which of several
// places is the best is told on a raster first, so that the error is a fraction of
// a percent.
func (m Room) Largest(tilt float64, cover *Point) Rectangle {
	const every = 1.0 // degrees
	var found []guess
	for a := -math.Floor(tilt/every) * every; a <= tilt; a += every {
		seen := m.seen(a)
		for _, g := range seen.guesses(cover) {
			found = append(found, seen.slid(g, cover))
		}
	}
	slices.SortStableFunc(found, func(a, b guess) int { return cmp.Compare(b.area(), a.area()) })
	best := guess{}
	for _, g := range found[:min(candidates, len(found))] {
		if g = m.turned(g, tilt, cover); g.area() > best.area() {
			best = g
		}
	}
	if best.area() <= 0 {
		return Rectangle{}
	}
	middle := Placement{Angle: best.angle}.Out(Point{(best.x0 + best.x1) / 2, (best.y0 + best.y1) / 2})
	at := Placement{X: middle.X, Y: middle.Y, Angle: best.angle}
	return Rectangle{At: at, Length: best.x1 - best.x0, Width: best.y1 - best.y0}
}

// guess is an upright rectangle in the frame of a room seen at an angle.
type guess struct{ angle, x0, x1, y0, y1 float64 }

func (g guess) area() float64 { return max(0, g.x1-g.x0) * max(0, g.y1-g.y0) }

// seenRoom is a room in a frame turned by an angle.
type seenRoom struct {
	angle float64
	rings []Ring // the sheet first
}

func (m Room) seen(angle float64) seenRoom {
	out := seenRoom{angle: angle, rings: make([]Ring, 0, 1+len(m.Holes))}
	in := Placement{Angle: angle}.In
	out.rings = append(out.rings, m.Sheet.Map(in))
	for _, h := range m.Holes {
		out.rings = append(out.rings, h.Map(in))
	}
	return out
}

// between finds how far a rectangle from x0 to x1 reaches up and down from y; false
// where the line at y itself is not free all along.
func (s seenRoom) between(x0, x1, y float64) (y0, y1 float64, ok bool) {
	y0, y1 = math.Inf(-1), math.Inf(1)
	for _, r := range s.rings {
		for i := range r {
			a, b := r.Edge(i)
			if a.X > b.X {
				a, b = b, a
			}
			if b.X <= x0 || a.X >= x1 {
				continue
			}
			lo, hi := a.Y, b.Y // of the part of the side between x0 and x1
			if slope := (b.Y - a.Y) / (b.X - a.X); a.X != b.X {
				lo, hi = a.Y+slope*(max(a.X, x0)-a.X), a.Y+slope*(min(b.X, x1)-a.X)
			}
			if lo > hi {
				lo, hi = hi, lo
			}
			switch {
			case lo >= y:
				y1 = min(y1, lo)
			case hi <= y:
				y0 = max(y0, hi)
			default:
				return 0, 0, false
			}
		}
	}
	return y0, y1, !math.IsInf(y0, 0) && !math.IsInf(y1, 0)
}

// slid moves the ends of a guess along x while its area grows; its sides follow.
func (s seenRoom) slid(g guess, cover *Point) guess {
	y, lo, hi := (g.y0+g.y1)/2, math.Inf(1), math.Inf(-1) // the ends must stay outside lo and hi
	if cover != nil {
		at := Placement{Angle: s.angle}.In(*cover)
		y, lo, hi = at.Y, at.X, at.X
	}
	try := func(x0, x1 float64) (guess, bool) {
		if x1-x0 < 1 || x0 > lo || x1 < hi {
			return guess{}, false
		}
		y0, y1, ok := s.between(x0, x1, y)
		return guess{s.angle, x0, x1, y0, y1}, ok
	}
	best, ok := try(g.x0, g.x1)
	if !ok {
		mid := (g.x0 + g.x1) / 2
		if best, ok = try(mid-(g.x1-g.x0)/3, mid+(g.x1-g.x0)/3); !ok {
			return guess{}
		}
	}
	for step := max(4, (best.x1-best.x0)/16); step > 0.05; step /= 2 {
		for better := true; better; {
			better = false
			for _, d := range [][2]float64{{-step, 0}, {step, 0}, {0, step}, {0, -step}, {-step, -step}, {step, step}} {
				if next, ok := try(best.x0+d[0], best.x1+d[1]); ok && next.area() > best.area() {
					best, better = next, true
					if cover == nil {
						y = (best.y0 + best.y1) / 2
					}
				}
			}
		}
	}
	return best
}

// turned tilts a guess while its area grows.
func (m Room) turned(g guess, tilt float64, cover *Point) guess {
	for step := 0.5; step > 0.02; step /= 2 {
		for better := true; better; {
			better = false
			for _, by := range []float64{-step, step} {
				if math.Abs(g.angle+by) > tilt {
					continue
				}
				// About its own middle, a little smaller, so that it is free to begin with.
				middle := Placement{Angle: by}.In(Point{(g.x0 + g.x1) / 2, (g.y0 + g.y1) / 2})
				l := (g.x1 - g.x0) * 0.97
				from := guess{g.angle + by, middle.X - l/2, middle.X + l/2, middle.Y, middle.Y}
				if next := m.seen(g.angle+by).slid(from, cover); next.area() > g.area() {
					g, better = next, true
				}
			}
		}
	}
	return g
}

// guesses finds the largest rectangles of clear cells on a raster: the best, and
// the best that lies elsewhere.
func (s seenRoom) guesses(cover *Point) []guess {
	g := s.grid()
	if cover != nil {
		at := Placement{Angle: s.angle}.In(*cover)
		return g.covering(int((at.X-g.x)/g.cell), int((at.Y-g.y)/g.cell), s.angle)
	}
	best := g.largest(s.angle, nil)
	if len(best) == 0 {
		return nil
	}
	return append(best, g.largest(s.angle, &best[0])...)
}

// grid is a grid of cells, clear or not.
type grid struct {
	x, y, cell float64
	wide, high int
	clear      []bool
}

// grid marks the cells whose middle lies in the room and which no hole's line
// crosses.
func (s seenRoom) grid() grid {
	box := s.rings[0].Bounds()
	cell := min(6, max(1, math.Sqrt((box.MaxX-box.MinX)*(box.MaxY-box.MinY))/160))
	g := grid{x: box.MinX, y: box.MinY, cell: cell}
	g.wide, g.high = int((box.MaxX-box.MinX)/cell)+1, int((box.MaxY-box.MinY)/cell)+1
	g.clear = make([]bool, g.wide*g.high)
	fill := func(r Ring, clear bool) {
		b := r.Bounds()
		for row := max(0, int((b.MinY-g.y)/cell)); row < min(g.high, int((b.MaxY-g.y)/cell)+1); row++ {
			xs := r.Spans(g.y + (float64(row)+0.5)*cell)
			for k := 0; k+1 < len(xs); k += 2 {
				from, to := int(math.Ceil((xs[k]-g.x)/cell-0.5)), int(math.Floor((xs[k+1]-g.x)/cell-0.5))
				for col := max(0, from); col <= min(g.wide-1, to); col++ {
					g.clear[row*g.wide+col] = clear
				}
			}
		}
	}
	fill(s.rings[0], true)
	for _, hole := range s.rings[1:] {
		fill(hole, false)
		for _, p := range hole.Dense(cell / 2) { // one narrower than a cell too
			col, row := int((p.X-g.x)/cell), int((p.Y-g.y)/cell)
			if p.X >= g.x && p.Y >= g.y && col < g.wide && row < g.high {
				g.clear[row*g.wide+col] = false
			}
		}
	}
	return g
}

// rectangle is a block of cells as a guess.
func (g grid) rectangle(angle float64, col0, col1, row0, row1 int) guess {
	x, y := func(n int) float64 { return g.x + float64(n)*g.cell },
		func(n int) float64 { return g.y + float64(n)*g.cell }
	return guess{angle, x(col0), x(col1 + 1), y(row0), y(row1 + 1)}
}

// largest is the largest block of clear cells, by the heights of clear cells above
// each row; with one to be elsewhere, the largest whose middle lies outside it.
func (g grid) largest(angle float64, elsewhere *guess) []guess {
	heights := make([]int, g.wide+1)
	type bar struct{ col, high int }
	best, area := guess{}, 0
	for row := range g.high {
		for col := range g.wide {
			if heights[col]++; !g.clear[row*g.wide+col] {
				heights[col] = 0
			}
		}
		var open []bar
		for col := 0; col <= g.wide; col++ { // the last one closes all
			from := col
			for len(open) > 0 && open[len(open)-1].high >= heights[col] {
				top := open[len(open)-1]
				open, from = open[:len(open)-1], top.col
				if a := top.high * (col - top.col); a > area {
					r := g.rectangle(angle, top.col, col-1, row-top.high+1, row)
					mx, my := (r.x0+r.x1)/2, (r.y0+r.y1)/2
					if e := elsewhere; e == nil || mx < e.x0 || mx > e.x1 || my < e.y0 || my > e.y1 {
						best, area = r, a
					}
				}
			}
			open = append(open, bar{from, heights[col]})
		}
	}
	if area == 0 {
		return nil
	}
	return []guess{best}
}

// covering is the largest block of clear cells that holds a cell.
func (g grid) covering(col, row int, angle float64) []guess {
	if col < 0 || row < 0 || col >= g.wide || row >= g.high {
		return nil
	}
	reach := func(r int) (left, right int) { // of clear cells about the column; right < left for none
		if !g.clear[r*g.wide+col] {
			return col, col - 1
		}
		for left = col; left > 0 && g.clear[r*g.wide+left-1]; left-- {
		}
		for right = col; right < g.wide-1 && g.clear[r*g.wide+right+1]; right++ {
		}
		return left, right
	}
	best, area := guess{}, 0
	upperLeft, upperRight := 0, g.wide-1
	for top := row; top < g.high; top++ {
		l, r := reach(top)
		upperLeft, upperRight = max(upperLeft, l), min(upperRight, r)
		if upperRight < upperLeft {
			break
		}
		left, right := upperLeft, upperRight
		for bottom := row; bottom >= 0; bottom-- {
			l, r := reach(bottom)
			left, right = max(left, l), min(right, r)
			if right < left {
				break
			}
			if a := (right - left + 1) * (top - bottom + 1); a > area {
				best, area = g.rectangle(angle, left, right, bottom, top), a
			}
		}
	}
	if area == 0 {
		return nil
	}
	return []guess{best}
}
