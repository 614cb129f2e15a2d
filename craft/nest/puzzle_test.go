package nest

import (
	"cmp"
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

// A puzzle is a sheet that was cut into pieces, so that all of them are known to
// fit on it.
type puzzle struct {
	Problem
	whole float64 // worth of all pieces
	waste float64 // share of the sheet that no piece covers
	known []Laid
}

const (
	kerf   = 1.5
	apart  = kerf + 1 // kerf and the sanding of both edges
	bySaws = kerf + 2 // what was left between the pieces when it was cut
)

// liveEdged is a slab with two live edges.
func liveEdged(rng *rand.Rand, length, width float64) geom.Ring {
	wave := func() func(float64) float64 {
		type part struct{ a, f, p float64 }
		var parts []part
		for k := range 4 {
			parts = append(
				parts,
				part{
					width * 0.05 / float64(k+1) * (0.5 + rng.Float64()),
					(0.6 + rng.Float64()) * float64(k+1),
					rng.Float64() * 2 * math.Pi,
				},
			)
		}
		return func(x float64) (y float64) {
			for _, p := range parts {
				y += p.a * math.Sin(2*math.Pi*p.f*x/length+p.p)
			}
			return y
		}
	}
	left, right := wave(), wave()
	var ring geom.Ring
	const n = 90
	for i := range n + 1 {
		x := length * float64(i) / n
		ring = append(ring, geom.Point{X: x, Y: -width/2 + right(x)})
	}
	for i := n; i >= 0; i-- {
		x := length * float64(i) / n
		ring = append(ring, geom.Point{X: x, Y: width/2 + left(x)})
	}
	return ring
}

// split cuts a region in two across its longer side, straight or by a curve.
func split(rng *rand.Rand, r geom.Ring, curved bool) []geom.Ring {
	box := r.Bounds()
	along := box.MaxX-box.MinX > box.MaxY-box.MinY
	if !along {
		r = r.Turned()
		box = r.Bounds()
	}
	at := box.MinX + (box.MaxX-box.MinX)*(0.4+0.2*rng.Float64())
	lean := (rng.Float64() - 0.5) * 0.25 * (box.MaxY - box.MinY)
	bend, phase := 0.0, 0.0
	if curved {
		bend, phase = (0.08+0.1*rng.Float64())*(box.MaxY-box.MinY), rng.Float64()*2*math.Pi
	}
	half := geom.Ring{}
	const n = 40
	for i := range n + 1 {
		t := float64(i) / n
		half = append(
			half,
			geom.Point{
				X: at + lean*(t-0.5) + bend*math.Sin(2*math.Pi*0.8*t+phase),
				Y: box.MinY - 5 + (box.MaxY-box.MinY+10)*t,
			},
		)
	}
	half = append(half, geom.Point{X: box.MinX - 50, Y: box.MaxY + 5}, geom.Point{X: box.MinX - 50, Y: box.MinY - 5})
	var out []geom.Ring
	for _, piece := range []geom.Ring{geom.Largest(geom.Common(r, half)), geom.Largest(r.Less(half))} {
		if !along {
			piece = piece.Turned()
		}
		out = append(out, piece)
	}
	return out
}

// boardlike rounds a region's corners and takes the saw's share off it.
func boardlike(r geom.Ring, corner float64) geom.Ring {
	return r.Shrunk(bySaws/2 + corner).Grown(corner).Simplified(0.05)
}

// cutUp makes a puzzle of a live-edged slab: so many boards, half of the cuts
// curved, 15 to 25 % waste; then each is turned end for end or by up to 5°.
func cutUp(seed uint64) puzzle {
	rng := rand.New(rand.NewPCG(seed, 77))
	wanted := 0.15 + 0.1*rng.Float64()
	for {
		n := 6 + rng.IntN(11)
		length, width := 600+300*rng.Float64(), 220+120*rng.Float64()
		sheet := liveEdged(rng, length, width)
		regions := []geom.Ring{sheet.Shrunk(1 + 16*rng.Float64())}
		for cut := 0; len(regions) < n; cut++ {
			slices.SortFunc(regions, func(a, b geom.Ring) int { return int(b.Area() - a.Area()) })
			regions = append(regions[1:], split(rng, regions[0], cut%2 == 0)...)
		}
		p := puzzle{Problem: Problem{Sheet: Sheet{Outline: sheet}, Apart: apart}}
		ok := true
		for i, r := range regions {
			b := boardlike(r, 6+8*rng.Float64())
			if len(b) < 3 {
				ok = false
				break
			}
			c := b.Centroid()
			at := geom.Placement{X: c.X, Y: c.Y, Angle: (rng.Float64()*2 - 1) * 5}
			if rng.IntN(2) == 0 {
				at.Angle += 180
			}
			p.Pieces = append(
				p.Pieces,
				Piece{Parts: []geom.Ring{b.Map(at.In)}, Worth: b.Area(), Turns: []float64{0, 180}, Tilt: 5},
			)
			p.known = append(p.known, Laid{Piece: i, At: at, Pose: -1})
			p.whole += b.Area()
		}
		p.waste = 1 - p.whole/sheet.Area()
		if ok && math.Abs(p.waste-wanted) < 0.005 {
			return p
		}
	}
}

// cutSquare makes a puzzle of rectangles cut from a rectangle.
func cutSquare(seed uint64) puzzle {
	rng := rand.New(rand.NewPCG(seed, 78))
	n := 6 + rng.IntN(7)
	l, w := 600.0, 300.0
	sheet := geom.Bounds{MaxX: l, MaxY: w}.Ring()
	boxes := []geom.Bounds{{MaxX: l, MaxY: w}}
	for len(boxes) < n {
		slices.SortFunc(boxes, func(a, b geom.Bounds) int { return int(b.Ring().Area() - a.Ring().Area()) })
		b := boxes[0]
		boxes = boxes[1:]
		share := 0.35 + 0.3*rng.Float64()
		if b.MaxX-b.MinX > b.MaxY-b.MinY {
			x := b.MinX + share*(b.MaxX-b.MinX)
			boxes = append(
				boxes,
				geom.Bounds{MinX: b.MinX, MaxX: x, MinY: b.MinY, MaxY: b.MaxY},
				geom.Bounds{MinX: x, MaxX: b.MaxX, MinY: b.MinY, MaxY: b.MaxY},
			)
		} else {
			y := b.MinY + share*(b.MaxY-b.MinY)
			boxes = append(boxes, geom.Bounds{MinX: b.MinX, MaxX: b.MaxX, MinY: b.MinY, MaxY: y},
				geom.Bounds{MinX: b.MinX, MaxX: b.MaxX, MinY: y, MaxY: b.MaxY})
		}
	}
	p := puzzle{Problem: Problem{Sheet: Sheet{Outline: sheet}, Apart: apart}}
	for _, b := range boxes {
		a, c := (b.MaxX-b.MinX-bySaws)/2, (b.MaxY-b.MinY-bySaws)/2
		r := geom.Bounds{MinX: -a, MaxX: a, MinY: -c, MaxY: c}.Ring()
		p.Pieces = append(p.Pieces, Piece{Parts: []geom.Ring{r}, Worth: r.Area(), Turns: []float64{0, 90}})
		p.whole += r.Area()
	}
	p.waste = 1 - p.whole/sheet.Area()
	return p
}

// within searches for so long with so many workers.
func (p puzzle) within(seed uint64, workers int, cores Cores, d time.Duration) (best Layout, moves int) {
	end := time.Now().Add(d)
	for steps := range p.Search(seed, make([][]Laid, workers), cores) {
		moves = 0
		for _, step := range steps {
			moves += step.Moves
			if step.Best.Better(best) {
				best = step.Best
			}
		}
		if time.Now().After(end) || len(best.Laid) == len(p.Pieces) {
			break
		}
	}
	return best, moves
}

// What a move costs as boards and the nodes of their outlines grow in number.
func BenchmarkGrowth(b *testing.B) {
	for _, n := range []int{6, 12, 24, 48} {
		for _, nodes := range []int{40, 400} {
			p := Problem{Sheet: Sheet{Outline: geom.Bounds{MaxX: 900, MaxY: 300}.Ring()}, Apart: apart}
			size := math.Sqrt(900 * 300 * 1.1 / float64(n) / math.Pi)
			for range n {
				var oval geom.Ring
				for i := range nodes {
					sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(nodes))
					oval = append(oval, geom.Point{X: 1.2 * size * cos, Y: size / 1.2 * sin})
				}
				p.Pieces = append(
					p.Pieces,
					Piece{Parts: []geom.Ring{oval}, Worth: 1, Turns: []float64{0, 180}, Tilt: 3},
				)
			}
			b.Run(fmt.Sprintf("boards=%d/nodes=%d", n, nodes), func(b *testing.B) {
				moves := 0
				for b.Loop() {
					for step := range p.alone(1) {
						if step.Moves >= 1500 {
							moves += step.Moves
							break
						}
					}
				}
				b.ReportMetric(float64(b.Elapsed().Microseconds())/float64(moves), "µs/move")
			})
		}
	}
}

var (
	puzzleSeconds = flag.String("seconds", "1,5", "for how long each puzzle is searched, such as 1,5,25")
	puzzleCores   = flag.Int("cores", 2, "on how many cores, by four workers")
)

// seeds are those of the puzzles: 1 to 20, and twenty that are drawn anew each day.
func seeds(day time.Time) (out []uint64) {
	for seed := range uint64(20) {
		out = append(out, seed+1)
	}
	rng := rand.New(rand.NewPCG(uint64(day.YearDay()), uint64(day.Year())))
	for range 20 {
		out = append(out, 1000+rng.Uint64N(1_000_000))
	}
	return out
}

// How much of the worth of puzzles is laid, on average and at least, and how many moves a second that takes.
func BenchmarkPuzzles(b *testing.B) {
	for _, kind := range []struct {
		name string
		make func(uint64) puzzle
	}{{"slabs", cutUp}, {"rectangles", cutSquare}} {
		for text := range strings.SplitSeq(*puzzleSeconds, ",") {
			seconds, err := strconv.ParseFloat(text, 64)
			require.NoError(b, err)
			each := time.Duration(seconds * float64(time.Second))
			b.Run(kind.name+"/"+each.String(), func(b *testing.B) {
				all := seeds(time.Now())
				for b.Loop() {
					sum, least, plain, tried := 0.0, 1.0, 0.0, 0
					var took time.Duration
					for _, seed := range all {
						p := kind.make(seed)
						begun := time.Now()
						l, moves := p.within(seed, 4, NewCores(*puzzleCores), each)
						took += time.Since(begun)
						lieFree(b, p.Problem, l)
						share, base := l.Worth/p.whole, p.bottomLeft()/p.whole
						sum, least, plain, tried = sum+share, min(least, share), plain+base, tried+moves
						b.Logf("%7d: %2d pieces, waste %.0f %%: %.1f %% laid in %d moves; bottom-left %.1f %%",
							seed, len(p.Pieces), 100*p.waste, 100*share, moves, 100*base)
					}
					b.ReportMetric(100*sum/float64(len(all)), "%laid")
					b.ReportMetric(100*least, "%least")
					b.ReportMetric(float64(tried)/took.Seconds(), "moves/s")
					b.ReportMetric(100*plain/float64(len(all)), "%bottom-left")
					var memory runtime.MemStats
					runtime.ReadMemStats(&memory)
					b.ReportMetric(float64(memory.Sys)/1e6, "MB")
				}
			})
		}
	}
}

// bottomLeft is the worth laid when each piece, the largest first, goes where it
// fits nearest to the butt end, on the raster.
func (p puzzle) bottomLeft() (worth float64) {
	s := newSearch(p.Problem, p.ground(), 0)
	s.yield = func(Step) bool { return true }
	order := make([]int, len(p.Pieces))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(s.area[b], s.area[a]) })
	for _, i := range order {
		if s.fit(i) {
			worth += p.Pieces[i].Worth
		}
	}
	return worth
}
