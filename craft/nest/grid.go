package nest

import (
	"cmp"
	"math"
	"slices"
	"sync/atomic"

	"idletimber/craft/geom"
)

// About how many cells the fine raster has and the coarse one. A cell of the fine one is no larger than widest, mm,
// unless it had more than the most cells, and none is smaller than finest, mm.
const (
	fineCells   = 40_000
	mostCells   = 110_000
	coarseCells = 10_000
	widest      = 3
	finest      = 1
)

// coarsely and finely are the sizes of the cells of a box's rasters, mm.
func coarsely(box geom.Bounds) float64 { return cellOf(box, coarseCells) }

func finely(box geom.Bounds) float64 {
	return min(cellOf(box, fineCells), max(widest, cellOf(box, mostCells)))
}

func cellOf(box geom.Bounds, cells float64) float64 {
	return max(finest, math.Sqrt((box.MaxX-box.MinX)*(box.MaxY-box.MinY)/cells))
}

// tiltStep is by how much neighbouring tilts differ, degrees; twice as much where cells are wide.
const tiltStep = 0.25

// grid is the sheet as a raster. Pieces are grown by half of what must lie
// between two of them, and the sheet with them, so that cells tell whether they
// are apart.
type grid struct {
	size   float64 // of a cell, mm
	at     geom.Point
	w, h   int
	free   float64 // area of the sheet, mm²
	off    []int32 // what a cell off the sheet costs, or a soft place; 0 elsewhere
	offSum []int32 // running sums along each row, w+1 a row, soft places left out
	hard   []int32 // what a cell off the sheet costs, soft places left out
	soft   []bool
	cost   []int32 // scratch
	sum    []int32
	priced window // what cost and sum hold
	kinds  []*kind
	tilt   float64 // degrees from one to the next
	apart  float64
}

// deepest is the depth in cells past which it makes no difference.
const deepest = 24

func newGrid(p Problem, size float64) *grid {
	sheet, apart := p.Sheet, p.Apart
	box := sheet.Outline.Bounds()
	apart = max(0, apart+(size-finest)/2*p.strict(size))
	g := &grid{apart: apart, size: size, tilt: tiltStep}
	if size >= widest {
		g.tilt = 2 * tiltStep
	}
	margin := apart/2 + g.size
	g.at = geom.Point{X: box.MinX - margin, Y: box.MinY - margin}
	g.w = int(math.Ceil((box.MaxX-box.MinX+2*margin)/g.size)) + 1
	g.h = int(math.Ceil((box.MaxY-box.MinY+2*margin)/g.size)) + 1
	on := make([]bool, g.w*g.h)
	fill := func(rings []geom.Ring, value bool) {
		for y, runs := range scan(rings, g.at, g.size, g.h) {
			for _, r := range runs {
				for x := max(r.from, 0); x < min(r.to, int32(g.w)); x++ {
					on[y*g.w+int(x)] = value
				}
			}
		}
	}
	fill([]geom.Ring{grown(sheet.Outline, apart/2)}, true)
	for _, h := range sheet.Holes {
		g.mark(h, func(cell int) { on[cell] = false })
	}
	g.free = sheet.free()
	off := make([]bool, len(on))
	for i := range on {
		off[i] = !on[i]
	}
	depth := depths(off, g.w, g.h, false)
	g.hard = make([]int32, len(on))
	for i, d := range depth {
		if d > 0 {
			g.hard[i] = 2 * costOf(d)
		}
	}
	for i := range on {
		on[i] = false
	}
	fill(p.Soft, true)
	g.soft, g.off, g.offSum = on, make([]int32, len(on)), make([]int32, (g.w+1)*g.h)
	g.narrow(math.Inf(-1), math.Inf(1))
	g.cost, g.sum = make([]int32, len(on)), make([]int32, len(g.offSum))
	return g
}

// Where pieces have room, cells are strict: what nearly fits seldom comes free, and to find that out takes long. Where
// they fill the sheet, cells are generous, or they would not hold what comes free.
const (
	strictest = 0.75
	generous  = -1
	byGap     = 1.5  // stricter, where the gap is as wide as a cell
	filled    = 0.85 // of the sheet, where not all fit on it
)

// strict is by how much of a cell pieces are kept farther apart on a raster than asked, from generous to strictest. It
// is drawn from how wide the gaps between pieces would be past what is asked, were all as wide.
func (p Problem) strict(size float64) float64 {
	free, line := p.Sheet.free(), p.Sheet.Outline.Perimeter()
	for _, h := range p.Sheet.Holes {
		line += h.Perimeter()
	}
	var area, around float64
	for _, piece := range p.Pieces {
		parts := piece.largest()
		area += areaOf(parts)
		for _, r := range parts {
			around += r.Perimeter()
		}
	}
	share := 1.0
	if area > room*free {
		share = filled * free / area
	}
	gap := 2*(free-share*area)/(line+share*around) - p.Apart
	return min(generous+byGap*max(gap, 0)/size, strictest)
}

// free is the area of a sheet without its holes, mm².
func (s Sheet) free() float64 {
	free := s.Outline.Area()
	for _, h := range s.Holes {
		free -= h.Area()
	}
	return max(0, free)
}

// narrow makes what lies before and behind two places along the sheet count as
// off it, mm.
func (g *grid) narrow(from, to float64) {
	column := func(x float64) int { return int(min(max(math.Round((x-g.at.X)/g.size), 0), float64(g.w))) }
	first, last := column(from), column(to)
	copy(g.off, g.hard)
	for y := range g.h {
		row := g.off[y*g.w : (y+1)*g.w]
		for x := range first {
			row[x] = max(row[x], 2*costOf(uint8(min(first-x, deepest))))
		}
		for x := last; x < g.w; x++ {
			row[x] = max(row[x], 2*costOf(uint8(min(x-last+1, deepest))))
		}
	}
	sumRows(g.offSum, g.off, g.w, g.h)
	for i, soft := range g.soft {
		if soft && g.off[i] == 0 {
			g.off[i] = softPrice
		}
	}
}

// softPrice is what a cell of a soft place costs: it steers, and is no conflict.
const softPrice = 1

// shallow is what it costs to overlap a cell, whatever its depth.
const shallow = 8

// costOf is what it costs to overlap a cell that lies so deep.
func costOf(depth uint8) int32 { return shallow + int32(depth) }

func grown(r geom.Ring, d float64) geom.Ring {
	if d <= 0 {
		return r
	}
	if g := r.Grown(d); len(g) > 2 {
		return g
	}
	return r
}

// mark names the cells that a piece may not cover, since it is grown, lest it touches a ring: those of the ring shrunk
// by as much, or of all of it where little would be left; and those along its line, since it may lie between the
// middles of cells.
func (g *grid) mark(r geom.Ring, cell func(int)) {
	const most = 0.98 // of what is not thin, which loses no more than its corners
	inner := r.Shrunk(g.apart / 2)
	if inner.Grown(g.apart/2).Area() < most*r.Area() {
		inner = r
	}
	for _, p := range inner.Dense(g.size / 2) {
		x, y := int(math.Floor((p.X-g.at.X)/g.size)), int(math.Floor((p.Y-g.at.Y)/g.size))
		if x >= 0 && y >= 0 && x < g.w && y < g.h {
			cell(y*g.w + x)
		}
	}
	for y, runs := range scan([]geom.Ring{inner}, g.at, g.size, g.h) {
		for _, r := range runs {
			for x := max(r.from, 0); x < min(r.to, int32(g.w)); x++ {
				cell(y*g.w + int(x))
			}
		}
	}
}

// sumRows makes running sums along the rows of cells.
func sumRows(sum, cell []int32, w, h int) {
	for y := range h {
		var total int32
		row, out := cell[y*w:(y+1)*w], sum[y*(w+1):(y+1)*(w+1)]
		for x, c := range row {
			out[x] = total
			total += c
		}
		out[w] = total
	}
}

// run is a stretch of cells of a row.
type run struct{ from, to int32 }

// scan lists for each row of a raster the cells whose middles lie in an odd
// number of rings.
func scan(rings []geom.Ring, at geom.Point, size float64, rows int) [][]run {
	xs := make([][]float64, rows)
	for _, r := range rings {
		for i := range r {
			a, b := r.Edge(i)
			if a.Y > b.Y {
				a, b = b, a
			}
			from := max(0, int(math.Ceil((a.Y-at.Y)/size-0.5)))
			for y := from; y < rows; y++ {
				mid := at.Y + (float64(y)+0.5)*size
				if mid >= b.Y {
					break
				}
				xs[y] = append(xs[y], a.X+(b.X-a.X)*(mid-a.Y)/(b.Y-a.Y))
			}
		}
	}
	out := make([][]run, rows)
	for y, row := range xs {
		slices.Sort(row)
		for i := 0; i+1 < len(row); i += 2 {
			from, to := int32(math.Ceil((row[i]-at.X)/size-0.5)), int32(math.Ceil((row[i+1]-at.X)/size-0.5))
			if from < to {
				out[y] = append(out[y], run{from, to})
			}
		}
	}
	return out
}

// depths is how many cells deep each set cell lies, 0 for the others. Beyond
// the rim counts as set where open is false.
func depths(set []bool, w, h int, open bool) []uint8 {
	d := make([]uint8, len(set))
	at := func(x, y int) uint8 {
		if x < 0 || y < 0 || x >= w || y >= h {
			if open {
				return 0
			}
			return deepest
		}
		return d[y*w+x]
	}
	for y := range h {
		for x := range w {
			if set[y*w+x] {
				d[y*w+x] = min(deepest, 1+min(at(x-1, y), at(x, y-1)))
			}
		}
	}
	for y := h - 1; y >= 0; y-- {
		for x := w - 1; x >= 0; x-- {
			if set[y*w+x] {
				d[y*w+x] = min(d[y*w+x], 1+min(at(x+1, y), at(x, y+1)))
			}
		}
	}
	return d
}

// shape is a piece rastered the way it lies; its cells count from its least.
type shape struct {
	x, y  int // of its least cell from its origin
	w, h  int
	first []int32 // of the runs of each row
	runs  []run
	ends  []run   // of all runs in running sums, rows far apart first, so that a bad place shows soon
	price []int32 // of its cells, to what overlaps them
}

// kind is a piece in all the ways that it may lie.
type kind struct {
	piece  Piece
	ways   []geom.Placement        // turned, flipped; of a piece with poses its places
	shapes []atomic.Pointer[shape] // made when asked for, by whoever asks first
	avoid  []int32                 // running sums of the cells that it alone shuns; nil without any
	most   float64                 // its area
	tilts  int                     // ways that differ only in tilt follow each other, so many
	parent *grid
	parts  []geom.Ring   // grown by half of what must lie between two
	poses  [][]geom.Ring // of each pose, grown
}

func (k *kind) area() float64 { return k.most }

// usable reports a piece that could lie on the raster in one way at least.
func (k *kind) usable() bool {
	for v := range k.ways {
		if s := k.shape(v); s.w <= k.parent.w && s.h <= k.parent.h && len(s.runs) > 0 {
			return true
		}
	}
	return false
}

func (g *grid) add(p Piece) {
	k := &kind{piece: p, tilts: 1, parent: g, most: areaOf(p.largest())}
	grow := func(rings []geom.Ring) (out []geom.Ring) {
		for _, r := range rings {
			out = append(out, grown(r, g.apart/2).Simplified(0.02))
		}
		return out
	}
	switch {
	case len(p.Poses) > 0:
		for _, pose := range p.Poses {
			k.ways = append(k.ways, pose.At)
			k.poses = append(k.poses, grow(pose.Parts))
		}
	default:
		k.parts = grow(p.Parts)
		turns := p.Turns
		if len(turns) == 0 {
			turns = []float64{0}
		}
		steps := int(math.Floor(p.Tilt/tiltStep + 1e-9))
		k.tilts = 2*steps + 1
		for _, flip := range []bool{false, true} {
			if flip && !p.Flips {
				continue
			}
			for _, turn := range turns {
				for t := -steps; t <= steps; t++ {
					k.ways = append(k.ways, geom.Placement{Angle: turn + float64(t)*g.tilt, Flip: flip})
				}
			}
		}
	}
	k.shapes = make([]atomic.Pointer[shape], len(k.ways))
	if len(p.Avoid) > 0 {
		cell := make([]int32, g.w*g.h)
		for _, r := range p.Avoid {
			g.mark(r, func(at int) { cell[at] = shallow })
		}
		k.avoid = make([]int32, (g.w+1)*g.h)
		sumRows(k.avoid, cell, g.w, g.h)
	}
	g.kinds = append(g.kinds, k)
}

// largest is what a piece covers, of one with poses where it covers most.
func (p Piece) largest() []geom.Ring {
	if len(p.Poses) == 0 {
		return p.Parts
	}
	return slices.MaxFunc(p.Poses, func(a, b Pose) int { return cmp.Compare(areaOf(a.Parts), areaOf(b.Parts)) }).Parts
}

func areaOf(rings []geom.Ring) (sum float64) {
	for _, r := range rings {
		sum += r.Area()
	}
	return sum
}

// pinned reports a piece that can only lie at its poses.
func (k *kind) pinned() bool { return len(k.piece.Poses) > 0 }

// shape is the raster of the piece in one of its ways.
func (k *kind) shape(v int) *shape {
	if made := k.shapes[v].Load(); made != nil {
		return made
	}
	g := k.parent
	var rings []geom.Ring
	origin := geom.Point{}
	if k.pinned() {
		rings, origin = k.poses[v], g.at
	} else {
		for _, r := range k.parts {
			rings = append(rings, r.Map(k.ways[v].Out))
		}
	}
	made := raster(rings, origin, g.size)
	made.along(g.w)
	k.shapes[v].Store(made)
	return made
}

// raster makes a shape of rings; its cells count from origin. Rings that
// overlap count once.
func raster(rings []geom.Ring, origin geom.Point, size float64) *shape {
	box := rings[0].Bounds()
	for _, r := range rings[1:] {
		b := r.Bounds()
		box = geom.Bounds{
			MinX: min(box.MinX, b.MinX),
			MinY: min(box.MinY, b.MinY),
			MaxX: max(box.MaxX, b.MaxX),
			MaxY: max(box.MaxY, b.MaxY),
		}
	}
	s := &shape{x: int(math.Floor((box.MinX - origin.X) / size)), y: int(math.Floor((box.MinY - origin.Y) / size))}
	s.w, s.h = int(math.Ceil((box.MaxX-origin.X)/size))-s.x, int(math.Ceil((box.MaxY-origin.Y)/size))-s.y
	at := geom.Point{X: origin.X + float64(s.x)*size, Y: origin.Y + float64(s.y)*size}
	set := make([]bool, s.w*s.h)
	for _, r := range rings {
		for y, runs := range scan([]geom.Ring{r}, at, size, s.h) {
			for _, c := range runs {
				for x := max(c.from, 0); x < min(c.to, int32(s.w)); x++ {
					set[y*s.w+int(x)] = true
				}
			}
		}
	}
	s.price = make([]int32, len(set))
	for i, d := range depths(set, s.w, s.h, true) {
		s.price[i] = costOf(d)
	}
	for y := range s.h {
		s.first = append(s.first, int32(len(s.runs)))
		for x := 0; x < s.w; x++ {
			if !set[y*s.w+x] {
				continue
			}
			from := x
			for x < s.w && set[y*s.w+x] {
				x++
			}
			s.runs = append(s.runs, run{int32(from), int32(x)})
		}
	}
	s.first = append(s.first, int32(len(s.runs)))
	return s
}

// along notes where the runs end in running sums along rows of so many cells.
func (s *shape) along(w int) {
	s.ends = make([]run, 0, len(s.runs))
	for stride := range 8 {
		for y := stride; y < s.h; y += 8 {
			at := int32(y * (w + 1))
			for _, r := range s.runs[s.first[y]:s.first[y+1]] {
				s.ends = append(s.ends, run{at + r.from, at + r.to})
			}
		}
	}
}

// sumAt adds up running sums over a shape that lies at x, y; it breaks off at
// limit.
func (s *shape) sumAt(sum []int32, w, x, y int, limit int64) int64 {
	const atOnce = 4
	sum = sum[y*(w+1)+x:]
	var total int64
	ends := s.ends
	for ; len(ends) >= atOnce; ends = ends[atOnce:] {
		a, b, c, d := ends[0], ends[1], ends[2], ends[3]
		total += int64(sum[a.to]-sum[a.from]) + int64(sum[b.to]-sum[b.from]) +
			int64(sum[c.to]-sum[c.from]) + int64(sum[d.to]-sum[d.from])
		if total >= limit {
			return total
		}
	}
	for _, r := range ends {
		total += int64(sum[r.to] - sum[r.from])
	}
	return total
}

// own is the same raster with prices and sums of its own.
func (g *grid) own() *grid {
	o := *g
	o.off, o.offSum = slices.Clone(g.off), slices.Clone(g.offSum)
	o.cost, o.sum = make([]int32, len(g.cost)), make([]int32, len(g.sum))
	return &o
}

// spotOf is where a laid piece lies on the raster.
func (g *grid) spotOf(l Laid) spot {
	k := g.kinds[l.Piece]
	if k.pinned() {
		s := k.shape(l.Pose)
		return spot{on: true, v: l.Pose, x: s.x, y: s.y}
	}
	best, off := 0, math.Inf(1)
	for v, way := range k.ways {
		d := math.Abs(math.Mod(math.Mod(way.Angle-l.At.Angle, 360)+540, 360) - 180)
		if way.Flip == l.At.Flip && d < off {
			best, off = v, d
		}
	}
	s := k.shape(best)
	x := int(math.Round((l.At.X-g.at.X)/g.size)) + s.x
	y := int(math.Round((l.At.Y-g.at.Y)/g.size)) + s.y
	return spot{on: true, v: best, x: min(max(x, 0), g.w-s.w), y: min(max(y, 0), g.h-s.h)}
}

// placement is where a piece lies on the sheet.
func (g *grid) placement(i int, at spot) Laid {
	k := g.kinds[i]
	if k.pinned() {
		return Laid{Piece: i, At: k.ways[at.v], Pose: at.v}
	}
	s := k.shape(at.v)
	p := k.ways[at.v]
	p.X, p.Y = g.at.X+float64(at.x-s.x)*g.size, g.at.Y+float64(at.y-s.y)*g.size
	return Laid{Piece: i, At: p, Pose: -1}
}

// overlap is how many cells two shapes share.
func overlap(a *shape, ax, ay int, b *shape, bx, by int) (n int) {
	if ax+a.w <= bx || bx+b.w <= ax {
		return 0
	}
	for y := max(ay, by); y < min(ay+a.h, by+b.h); y++ {
		as, bs := a.runs[a.first[y-ay]:a.first[y-ay+1]], b.runs[b.first[y-by]:b.first[y-by+1]]
		for _, r := range as {
			for _, q := range bs {
				n += max(0, min(int(r.to)+ax, int(q.to)+bx)-max(int(r.from)+ax, int(q.from)+bx))
			}
		}
	}
	return n
}
