package photo

import (
	"math"

	"idletimber/craft/geom"
)

// camera is where the picture was taken from, on the plane and above it, mm,
// taking the lens to look at the middle of the picture and its pixels to be
// square. Seen from nearly straight above the height is a guess, by the width
// of what pocket cameras see.
func (v View) camera() (foot geom.Point, height float64) {
	const usual = 1.5 // focal length in half diagonals
	h := v.h
	focal2 := usual * usual
	// The columns of the homography are the plane's axes: square, and of one length.
	under := h[6] * h[7]
	if math.Abs(under) > 1e-9 {
		if f2 := -(h[0]*h[1] + h[3]*h[4]) / under; f2 > 0.5 && f2 < 12 {
			focal2 = f2
		}
	}
	f := math.Sqrt(focal2)
	a := [3]float64{h[0] / f, h[3] / f, h[6]}
	b := [3]float64{h[1] / f, h[4] / f, h[7]}
	t := [3]float64{h[2] / f, h[5] / f, h[8]}
	scale := 2 / (norm(a) + norm(b))
	n := [3]float64{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
	dot := func(p, q [3]float64) float64 { return p[0]*q[0] + p[1]*q[1] + p[2]*q[2] }
	// The camera stands where rotation × place + t = 0.
	foot = geom.Point{X: -dot(a, t) * scale * scale, Y: -dot(b, t) * scale * scale}
	height = math.Abs(dot(n, t)) * scale * scale * scale
	return foot, height
}

func norm(v [3]float64) float64 { return math.Sqrt(v[0]*v[0] + v[1]*v[1] + v[2]*v[2]) }

// shed moves a border that may run along the foot of the slab's side inward to
// its top face: the side that looks at the camera is seen, as deep as the slab
// is thick and the view is slanted, and it is coloured otherwise than the face
// next to it.
func shed(src picture, v View, ring geom.Ring, thickness float64) geom.Ring {
	const fine = 0.5
	const spare = 6 // mm: natural edges slope
	n := len(ring)
	foot, height := v.camera()
	normals := make([]geom.Point, n)
	depth := make([]int, n)
	most := 0
	for i := range ring {
		d := ring[(i+6)%n].Sub(ring[(i-6+n)%n])
		normals[i] = geom.Point{X: -d.Y, Y: d.X}.Scale(1 / math.Max(1e-9, d.Len())) // inward
		away := foot.Sub(ring[i])
		slant := -(normals[i].X*away.X + normals[i].Y*away.Y) / height
		depth[i] = int((spare + 1.3*thickness*math.Max(0, slant)) / fine)
		most = max(most, depth[i])
	}
	// The face next to each node: what lies deeper than its side.
	const wide = 36
	colours := make([][]colour, n)
	inside := make([][]bool, n)
	for i := range ring {
		colours[i], inside[i] = make([]colour, max(depth[i]+wide, most+1)), make([]bool, max(depth[i]+wide, most+1))
		for j := range colours[i] {
			p := ring[i].Add(normals[i].Scale(float64(j) * fine))
			px := v.Pixel(p)
			colours[i][j] = src.at(px.X, px.Y)
			inside[i][j] = v.paper.Depth(p) < -2
		}
	}
	scores := make([][]float64, n)
	for i := range ring {
		face := about(colours, inside, i, depth)
		scores[i] = make([]float64, most+1)
		const strange = 9.0 // beyond this a colour is not of the face (χ² with three degrees, 97 %)
		sum := 0.0
		for j := range scores[i] {
			scores[i][j] = sum
			if j > depth[i] {
				scores[i][j] = -1e3
				continue
			}
			m := math.Min(25, face.apart(colours[i][j]))
			if !inside[i][j] {
				m = 0
			}
			sum += (m - strange) * 0.02
		}
	}
	out := make(geom.Ring, n)
	at := smoothest(scores)
	for i := range ring {
		var mean float64
		for d := -1; d <= 1; d++ {
			mean += float64(at[(i+d+n)%n]) / 3
		}
		out[i] = ring[i].Add(normals[i].Scale(mean * fine))
	}
	return out
}

// face is the colours of the top face about a place.
type face struct {
	mean feature
	inv  [6]float64
}

// about draws the face's colours from what lies deeper than the side, at the
// nodes to either side, and farther along where paper hides the face.
func about(colours [][]colour, inside [][]bool, i int, depth []int) face {
	const nodes, enough = 14, 350
	n := len(colours)
	var f face
	var all []feature
	take := func(k int) {
		for j := depth[k]; j < len(colours[k]); j++ {
			if inside[k][j] {
				x := shade(colours[k][j])
				all = append(all, x)
				for c := range x {
					f.mean[c] += x[c]
				}
			}
		}
	}
	take(i)
	for d := 1; d < n/4 && (d <= nodes || len(all) < enough); d++ {
		take((i + d) % n)
		take((i - d + n) % n)
	}
	if len(all) < 30 {
		return f // nothing is strange
	}
	for c := range f.mean {
		f.mean[c] /= float64(len(all))
	}
	var cov [6]float64
	for _, x := range all {
		a, b, c := x[0]-f.mean[0], x[1]-f.mean[1], x[2]-f.mean[2]
		for k, v := range [6]float64{a * a, a * b, a * c, b * b, b * c, c * c} {
			cov[k] += v / float64(len(all))
		}
	}
	cov[0], cov[3], cov[5] = cov[0]+0.006, cov[3]+0.004, cov[5]+0.004
	f.inv, _ = inverse(cov)
	return f
}

// shade describes a colour by the logarithm of its light, so that bark in the
// sun differs from its face as bark in the shadow does.
func shade(c colour) feature {
	f := featureOf(c)
	f[0] = math.Log(f[0]*60+6) * 1.5
	return f
}

func (f face) apart(c colour) float64 {
	x := shade(c)
	a, b, d := x[0]-f.mean[0], x[1]-f.mean[1], x[2]-f.mean[2]
	return f.inv[0]*a*a + f.inv[3]*b*b + f.inv[5]*d*d + 2*(f.inv[1]*a*b+f.inv[2]*a*d+f.inv[4]*b*d)
}
