package photo

import (
	"math"
	"slices"
)

// mixture describes the colours of one thing as a few clouds (normal
// distributions), found by k-means.
type mixture struct{ clouds []cloud }

type cloud struct {
	mean feature
	inv  [6]float64 // inverse covariance: xx, xy, xz, yy, yz, zz
	log  float64    // of weight and scale
}

// enough is how many colours describe a thing well enough.
const enough = 6000

func newMixture(all []feature, k int) mixture {
	if stride := len(all)/enough + 1; stride > 1 {
		var some []feature
		for i := 0; i < len(all); i += stride {
			some = append(some, all[i])
		}
		all = some
	}
	means := spread(all, k)
	of := make([]int, len(all))
	for range 8 {
		sums, counts := make([]feature, len(means)), make([]float64, len(means))
		for i, f := range all {
			of[i] = nearest(means, f)
			for d := range 3 {
				sums[of[i]][d] += f[d]
			}
			counts[of[i]]++
		}
		for c := range means {
			if counts[c] > 0 {
				for d := range 3 {
					means[c][d] = sums[c][d] / counts[c]
				}
			}
		}
	}
	var m mixture
	for c, mean := range means {
		var cov [6]float64
		count := 0.0
		for i, f := range all {
			if of[i] != c {
				continue
			}
			count++
			x, y, z := f[0]-mean[0], f[1]-mean[1], f[2]-mean[2]
			for n, v := range [6]float64{x * x, x * y, x * z, y * y, y * z, z * z} {
				cov[n] += v
			}
		}
		if count < 4 {
			continue
		}
		for n := range cov {
			cov[n] /= count
		}
		const least = 0.004 // no thing is of one colour
		cov[0], cov[3], cov[5] = cov[0]+least, cov[3]+least, cov[5]+least
		inv, det := inverse(cov)
		m.clouds = append(m.clouds, cloud{mean, inv, math.Log(count/float64(len(all))) - 0.5*math.Log(det)})
	}
	return m
}

// spread picks k colours that lie far apart, the same ones every time.
func spread(all []feature, k int) []feature {
	means := []feature{all[len(all)/2]}
	far := make([]float64, len(all))
	for i := range far {
		far[i] = math.Inf(1)
	}
	for len(means) < k {
		last := means[len(means)-1]
		order := make([]int, len(all))
		for i, f := range all {
			far[i] = min(far[i], apart(f, last))
			order[i] = i
		}
		slices.SortFunc(order, func(a, b int) int {
			switch {
			case far[a] < far[b]:
				return -1
			case far[a] > far[b]:
				return 1
			}
			return a - b
		})
		means = append(means, all[order[len(order)*98/100]]) // the very farthest are specks
	}
	return means
}

func apart(a, b feature) (s float64) {
	for d := range a {
		s += (a[d] - b[d]) * (a[d] - b[d])
	}
	return s
}

func nearest(means []feature, f feature) int {
	best := 0
	for c := range means {
		if apart(means[c], f) < apart(means[best], f) {
			best = c
		}
	}
	return best
}

func inverse(c [6]float64) (inv [6]float64, det float64) {
	a, b, d, e, f, g := c[0], c[1], c[2], c[3], c[4], c[5]
	inv = [6]float64{e*g - f*f, d*f - b*g, b*f - d*e, a*g - d*d, b*d - a*f, a*e - b*b}
	det = a*inv[0] + b*inv[1] + d*inv[2]
	for i := range inv {
		inv[i] /= det
	}
	return inv, det
}

// log is the logarithm of how likely a colour is of this thing: that of its
// likeliest cloud.
func (m mixture) log(f feature) float64 {
	best := math.Inf(-1)
	for i := range m.clouds {
		c := &m.clouds[i]
		x, y, z := f[0]-c.mean[0], f[1]-c.mean[1], f[2]-c.mean[2]
		q := c.inv[0]*x*x + c.inv[3]*y*y + c.inv[5]*z*z + 2*(c.inv[1]*x*y+c.inv[2]*x*z+c.inv[4]*y*z)
		best = max(best, c.log-0.5*q)
	}
	return best
}
