package photo

import (
	"image"
	"math"

	"idletimber/craft/geom"
)

// leastSure is how sharp an edge must be on the whole to be one.
const leastSure = 0.2

// spacing is how far apart the places lie at which a border is sharpened, mm.
const spacing = 1.5

// glance is one look along a border: how far to either side, mm, and how many neighbours a
// direction is drawn from.
type glance struct {
	reach float64
	soft  int
}

// The looks at a slab, and at a shape that is flat: smoothly round, or with sharp corners.
var (
	alongSlab    = []glance{{7, 6}, {4, 5}, {2.5, 3}}
	alongCorners = []glance{{2.5, 3}, {1.5, 1}}
)

// fine is a picture as fine as a border is looked along at a place.
func fine(img *image.RGBA, v View, at geom.Point) picture {
	return smaller(img, int(math.Max(1, math.Round(0.35*v.pixels(at)))))
}

// sharpen moves a border to where the two sides differ most, and tells how rough the border came
// out, mm rms, and how sharply they differ. The slab is thickness mm thick; 0 stands for what is
// flat. The picture is as fine as the looks are.
func sharpen(
	fine picture,
	v View,
	ring geom.Ring,
	thickness float64,
	looks []glance,
) (out geom.Ring, rough, sure float64) {
	for i, look := range looks {
		if i == 1 && thickness > 0 {
			ring = shed(fine, v, even(ring, spacing), thickness)
		}
		ring, rough, sure = follow(fine, v, even(ring, spacing), look.reach, look.soft)
		if len(ring) < 4 || sure < leastSure {
			return nil, 0, 0
		}
	}
	return ring, rough, sure
}

// even sets nodes at even distances along a ring.
func even(r geom.Ring, gap float64) geom.Ring {
	n := max(20, int(r.Perimeter()/gap))
	step := r.Perimeter() / float64(n)
	out := make(geom.Ring, 0, n)
	left := 0.0
	for i := range r {
		a, b := r.Edge(i)
		l := b.Sub(a).Len()
		for left < l && len(out) < n {
			out = append(out, a.Lerp(b, left/l))
			left += step
		}
		left -= l
	}
	return out
}

// follow looks along a line across the border at every node, and chooses the
// offsets that together meet the sharpest differences with the smoothest run
// (dynamic programming). It also tells how rough the offsets are, mm, and how
// sharp the differences, 1 where the whole difference lies in one step.
func follow(src picture, v View, ring geom.Ring, reach float64, soft int) (out geom.Ring, rough, sure float64) {
	const fine = 0.25
	n := len(ring)
	half := int(reach / fine)
	const band = 10 // samples on either side that a difference is drawn from
	width := 2*(half+band) + 1
	normals := make([]geom.Point, n)
	lines := make([][]colour, n)
	for i := range ring {
		d := ring[(i+soft)%n].Sub(ring[(i-soft+n)%n])
		normals[i] = geom.Point{X: d.Y, Y: -d.X}.Scale(1 / math.Max(1e-9, d.Len())) // outward of an anticlockwise ring
		lines[i] = make([]colour, width)
		for j := range width {
			p := v.Pixel(ring[i].Add(normals[i].Scale(float64(j-half-band) * fine)))
			lines[i][j] = src.at(p.X, p.Y)
		}
	}
	scores := make([][]float64, n)
	for i := range ring {
		scores[i] = differences(lines, i, half, band)
	}
	at := smoothest(scores)
	offset := make([]float64, n)
	for i, j := range at {
		// Between samples, by the weight of what is about the best.
		var sum, where float64
		for k := max(0, j-3); k <= min(2*half, j+3); k++ {
			w := math.Max(0, scores[i][k]-0.6*scores[i][j])
			sum, where = sum+w, where+w*float64(k)
		}
		if sum > 0 {
			offset[i] = (where/sum - float64(half)) * fine
		} else {
			offset[i] = float64(j-half) * fine
		}
	}
	out = make(geom.Ring, n)
	for i := range ring {
		smooth := (offset[(i+n-1)%n] + 2*offset[i] + offset[(i+1)%n]) / 4
		rough += (offset[i] - smooth) * (offset[i] - smooth)
		out[i] = ring[i].Add(normals[i].Scale(smooth))
		sure += scores[i][at[i]] / float64(n)
	}
	if out.SelfCrosses() {
		out = out.Simplified(0.3)
	}
	return out, math.Sqrt(rough / float64(n)), sure
}

// differences scores every offset of a node: how much the wood within differs
// from what lies without, along the direction in which the two sides differ
// thereabouts.
func differences(lines [][]colour, i, half, band int) []float64 {
	n := len(lines)
	const about = 6 // nodes to either side
	var in, out colour
	for d := -about; d <= about; d++ {
		line := lines[(i+d+n)%n]
		for j := range band {
			for c := range 3 {
				in[c] += line[j][c]
				out[c] += line[len(line)-1-j][c]
			}
		}
	}
	var way [3]float64
	var size float64
	for c := range 3 {
		way[c] = float64(in[c]-out[c]) / float64((2*about+1)*band)
		size += way[c] * way[c]
	}
	size = math.Sqrt(size) + 4 // where hardly anything differs nothing is sure
	line := lines[i]
	sum := make([]float64, len(line)+1)
	for j, c := range line {
		sum[j+1] = sum[j] + (float64(c[0])*way[0]+float64(c[1])*way[1]+float64(c[2])*way[2])/size
	}
	const span = 5
	scores := make([]float64, 2*half+1)
	for k := range scores {
		j := k + band
		scores[k] = (sum[j]-sum[j-span]-(sum[j+span+1]-sum[j+1]))/span/size + 0.001
	}
	return scores
}

// smoothest picks one offset a node so that the sum of the scores, less a
// price for every change from node to node, is greatest; the last node meets
// the first again.
func smoothest(scores [][]float64) []int {
	n, m := len(scores), len(scores[0])
	const jump, price = 3, 0.035
	start := -1
	var path []int
	for range 2 { // the second time from where the first came to lie
		best := make([][]float64, n)
		from := make([][]int8, n)
		for i := range n {
			best[i], from[i] = make([]float64, m), make([]int8, m)
			for j := range m {
				if i == 0 {
					best[0][j] = scores[0][j]
					if start >= 0 && j != start {
						best[0][j] = -1e9
					}
					continue
				}
				best[i][j] = math.Inf(-1)
				for d := -jump; d <= jump; d++ {
					if k := j + d; k >= 0 && k < m {
						if s := best[i-1][k] - price*float64(d*d); s > best[i][j] {
							best[i][j], from[i][j] = s, int8(d)
						}
					}
				}
				best[i][j] += scores[i][j]
			}
		}
		end := 0
		for j := range m {
			if best[n-1][j] > best[n-1][end] {
				end = j
			}
		}
		if start >= 0 {
			end = start
		}
		path = make([]int, n)
		path[n-1] = end
		for i := n - 1; i > 0; i-- {
			path[i-1] = path[i] + int(from[i][path[i]])
		}
		start = path[0]
	}
	return path
}
