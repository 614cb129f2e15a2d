package trial

import (
	"fmt"
	"math"
	"math/bits"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"idletimber/craft"
	"idletimber/craft/finish"
)

// Result is what a trial has come to.
type Result struct {
	Lines  []Line   `json:"lines" doc:"Scores over the rounds, by measure and sample"`
	Pairs  []Pair   `json:"pairs" doc:"Every two samples, by measure"`
	Lives  []Life   `json:"lives" doc:"Washes until a sample is as bare as the control"`
	Words  []string `json:"words" doc:"What it says so far"`
	Gist   string   `json:"gist" doc:"The same of the two treatments that are nearest; empty where nothing yet"`
	Order  []int    `json:"order" doc:"In which the samples are scored next"`
	Washes int      `json:"washes" doc:"So far"`
}

// Line is a measure of a sample over the rounds.
type Line struct {
	Measure string  `json:"measure" enum:"feel,beads,colour" doc:"What was scored"`
	Sample  int     `json:"sample" doc:"Of the trial, from 0"`
	Points  []Point `json:"points" doc:"In the order of the rounds"`
}

// Point is one score.
type Point struct {
	Round  int     `json:"round" doc:"From 1"`
	Washes int     `json:"washes" doc:"By then"`
	Score  float64 `json:"score" doc:"0 to 10"`
}

// Pair is two samples against each other.
type Pair struct {
	Measure string  `json:"measure" enum:"feel,beads,colour" doc:"What was scored"`
	A       int     `json:"a" doc:"One sample, from 0"`
	B       int     `json:"b" doc:"The other"`
	Rounds  int     `json:"rounds" doc:"In which both were scored"`
	Mean    float64 `json:"mean" doc:"Mean of A − B"`
	Low     float64 `json:"low" doc:"Of the 95 % interval"`
	High    float64 `json:"high" doc:"Of the 95 % interval"`
	P       float64 `json:"p" doc:"Two-sided, by flipping the signs of the differences"`
	Told    bool    `json:"told" doc:"They are told apart: p is under 0.05"`
	More    int     `json:"more" doc:"More rounds of the same that would tell; 0 where none would"`

	Working craft.Figure `json:"working" doc:"How it came about"`
}

// Life is how long a sample kept better than the bare one.
type Life struct {
	Sample int     `json:"sample" doc:"Of the trial, from 0"`
	Washes float64 `json:"washes" doc:"Until it was as bare, or so far"`
	Over   bool    `json:"over" doc:"It has come to that"`
}

// level is the p under which two samples are told apart.
const level = 0.05

// Result reckons what a trial has come to. A board that a treatment saves on is so large, m², by the
// prices of products in cents a kilogram.
func (t Trial) Result(prices map[string]float64) Result {
	out := Result{Lines: []Line{}, Pairs: []Pair{}, Lives: []Life{}, Words: []string{}, Order: t.Order()}
	for _, r := range t.Rounds {
		out.Washes += r.washes()
	}
	for _, m := range Measures {
		for i := range t.Samples {
			if l := t.line(m, i); len(l.Points) > 0 {
				out.Lines = append(out.Lines, l)
			}
		}
		for a := range t.Samples {
			for b := a + 1; b < len(t.Samples); b++ {
				if p, ok := t.pair(m, a, b); ok {
					out.Pairs = append(out.Pairs, p)
				}
			}
		}
	}
	out.Lives = t.Lives()
	out.Words = t.words(out, prices)
	out.Gist = t.gist(out)
	return out
}

// gist is what is said of the two treatments that are nearest to each other; of a treatment and the
// bare one where there is but one.
func (t Trial) gist(r Result) (told string) {
	nearest := math.Inf(1)
	for _, p := range r.Pairs {
		off := math.Abs(p.Mean)
		if t.Samples[p.B].Control {
			off += 100 // behind every two treatments
		}
		if p.Measure == t.foremost(r) && off < nearest {
			nearest, told = off, t.says(p)
		}
	}
	return told
}

// says is what two samples tell of each other.
func (t Trial) says(p Pair) string {
	a, b := t.Samples[p.A], t.Samples[p.B]
	if !p.Told {
		told := fmt.Sprintf("%s and %s are not told apart yet in %s", craft.Capital(a.Name()), b.Name(), p.Measure)
		if p.More > 0 {
			told += fmt.Sprintf("; %d more rounds of the same would tell", p.More)
		}
		return told
	}
	if p.Mean < 0 {
		a, b = b, a
	}
	return fmt.Sprintf("%s scores better than %s in %s", craft.Capital(a.Name()), b.Name(), p.Measure)
}

// line is a measure of a sample over the rounds.
func (t Trial) line(measure string, sample int) Line {
	l := Line{Measure: measure, Sample: sample, Points: []Point{}}
	washes := 0
	for i, r := range t.Rounds {
		washes += r.washes()
		if sample >= len(r.Scores) {
			continue
		}
		if v, ok := r.Scores[sample].of(measure); ok {
			l.Points = append(l.Points, Point{i + 1, washes, v})
		}
	}
	return l
}

// differences are those of two samples in the rounds in which both were scored.
func (t Trial) differences(measure string, a, b int) (out []float64) {
	for _, r := range t.Rounds {
		if a >= len(r.Scores) || b >= len(r.Scores) {
			continue
		}
		va, okA := r.Scores[a].of(measure)
		vb, okB := r.Scores[b].of(measure)
		if okA && okB {
			out = append(out, va-vb)
		}
	}
	return out
}

func (t Trial) pair(measure string, a, b int) (Pair, bool) {
	if t.Samples[a].Control { // what was treated against what was not
		a, b = b, a
	}
	diffs := t.differences(measure, a, b)
	if len(diffs) < 2 {
		return Pair{}, false
	}
	p := Pair{Measure: measure, A: a, B: b, Rounds: len(diffs)}
	p.Mean, p.Low, p.High = Interval(diffs)
	p.P = SignFlip(diffs)
	p.Told = p.P < level
	if !p.Told {
		p.More = more(diffs)
	}
	differ := len(nonZero(diffs))
	p.Working = craft.Figure{
		Key: "trial.pair", Stage: craft.Finish,
		Label: t.Samples[a].Name() + " against " + t.Samples[b].Name() + ", " + measure, Value: p.P,
		Formula: "share of all ways to flip the signs of the differences that bring as much or more, either way",
		Terms: []craft.Term{
			{Name: "rounds", Value: float64(p.Rounds)}, {Name: "rounds that differ", Value: float64(differ)},
			{Name: "mean difference", Value: p.Mean}, {Name: "95 % interval from", Value: p.Low},
			{Name: "to", Value: p.High},
		},
		Source: "your scores; the interval by Student's t, over all rounds",
	}
	return p, true
}

// Interval is the mean of some differences and its 95 % interval by Student's t; of fewer than two
// the mean alone.
func Interval(diffs []float64) (mean, low, high float64) {
	if len(diffs) == 0 {
		return 0, 0, 0
	}
	mean = stat.Mean(diffs, nil)
	if len(diffs) < 2 {
		return mean, mean, mean
	}
	n := float64(len(diffs))
	half := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: n - 1}.Quantile(0.975) * stat.StdDev(diffs, nil) / math.Sqrt(n)
	return mean, mean - half, mean + half
}

// Bounds of the sign-flip test: so many differences are flipped in all ways, of more so many ways are
// drawn.
const (
	mostExact = 20
	drawn     = 100_000
)

// grain is the fineness to which scores are told apart: sums of whole numbers of it are exact.
const grain = 1e-6

// nonZero are the differences that are not nothing, in grains.
func nonZero(diffs []float64) (out []int64) {
	for _, d := range diffs {
		if g := int64(math.Round(d / grain)); g != 0 {
			out = append(out, g)
		}
	}
	return out
}

// SignFlip is the two-sided p of paired differences: the share of all ways to flip their signs in
// which the sum is as far from nothing as the one that was found. Differences of nothing drop out.
// Up to 20 are flipped in all ways; of more, 100 000 ways are drawn, always the same.
func SignFlip(diffs []float64) float64 {
	d := nonZero(diffs)
	n := len(d)
	if n == 0 {
		return 1
	}
	var sum int64
	for _, v := range d {
		sum += v
	}
	found := max(sum, -sum)
	if n > mostExact {
		return flipSome(d, found)
	}
	// Half of all ways: the others are these turned round. One sign changes from one to the next.
	signs := slices.Repeat([]int64{1}, n)
	as := 0
	total := 1 << (n - 1)
	for k := range total {
		if max(sum, -sum) >= found {
			as++
		}
		i := bits.TrailingZeros(uint(k + 1))
		if i < n-1 {
			sum -= 2 * signs[i] * d[i]
			signs[i] = -signs[i]
		}
	}
	return float64(as) / float64(total)
}

func flipSome(d []int64, found int64) float64 {
	r := rand.New(rand.NewPCG(1, 2))
	as := 0
	for range drawn {
		var sum int64
		for i := 0; i < len(d); i += 64 {
			flips := r.Uint64()
			for k, v := range d[i:min(i+64, len(d))] {
				if flips>>k&1 == 1 {
					v = -v
				}
				sum += v
			}
		}
		if max(sum, -sum) >= found {
			as++
		}
	}
	return float64(as+1) / float64(drawn+1) // the one that was found is one of them
}

// mostMore bounds how far ahead one looks.
const mostMore = 100

// more is how many more rounds of the same pattern would tell two samples apart; 0 where none of the
// next hundred would.
func more(diffs []float64) int {
	again := slices.Clone(diffs)
	for k := range mostMore {
		again = append(again, diffs[k%len(diffs)])
		if len(nonZero(again)) > mostExact && k%5 != 4 {
			continue // drawn ones take longer: looked at by fives
		}
		if SignFlip(again) < level {
			return k + 1
		}
	}
	return 0
}

// Lives are how many washes each treated sample kept better than the bare one: until it first was no
// better in beads, else in feel, between rounds by a straight line.
func (t Trial) Lives() []Life {
	out := []Life{}
	bare := t.control()
	if bare < 0 {
		return out
	}
	for i := range t.Samples {
		if i == bare {
			continue
		}
		for _, m := range []string{"beads", "feel"} {
			mine, base := t.line(m, i).Points, t.line(m, bare).Points
			if life, ok := lasts(mine, base); ok {
				life.Sample = i
				out = append(out, life)
				break
			}
		}
	}
	return out
}

// lasts is until when one line stays over another; ok is false where they share no round.
func lasts(mine, base []Point) (l Life, ok bool) {
	was, at := 0.0, 0.0
	for _, p := range mine {
		k := slices.IndexFunc(base, func(o Point) bool { return o.Round == p.Round })
		if k < 0 {
			continue
		}
		over, washes := p.Score-base[k].Score, float64(p.Washes)
		if over <= 0 {
			l.Over, l.Washes = true, washes
			if ok && was > over {
				l.Washes = at + (washes-at)*was/(was-over)
			}
			return l, true
		}
		ok, was, at = true, over, washes
		l.Washes = washes
	}
	return l, ok
}

// Washed are the washes until bare that trials have told, by product: the mean of those samples that
// have come to it.
func Washed(trials []Trial) map[string]float64 {
	sums, n := map[string]float64{}, map[string]float64{}
	for _, t := range trials {
		for _, l := range t.Lives() {
			if s := t.Samples[l.Sample]; l.Over && s.Product != "" {
				sums[s.Product] += l.Washes
				n[s.Product]++
			}
		}
	}
	out := map[string]float64{}
	for p, sum := range sums {
		out[p] = sum / n[p]
	}
	return out
}

// usualBoard is what a usual board takes of a paste, g (rule): 25 g/m² on 0.22 m².
const usualBoard = 25 * 0.22

// words are what a trial says so far, in words.
func (t Trial) words(r Result, prices map[string]float64) []string {
	out := []string{}
	for _, p := range r.Pairs {
		if p.Measure != t.foremost(r) {
			continue
		}
		out = append(out, t.says(p))
		if worth := worth(t.Samples[p.A], t.Samples[p.B], prices); !p.Told && worth != "" {
			out = append(out, worth)
		}
	}
	if len(out) > 0 {
		out = append(out, "One sample of each treatment: this speaks of these samples, not of all boards")
	}
	return out
}

// foremost is the measure that is spoken of: beads, where they were looked at.
func (t Trial) foremost(r Result) string {
	for _, m := range []string{"beads", "feel", "colour"} {
		if slices.ContainsFunc(r.Pairs, func(p Pair) bool { return p.Measure == m }) {
			return m
		}
	}
	return ""
}

// worth is what it is worth that two pastes are as good: the wax that the softer one saves.
func worth(a, b Sample, prices map[string]float64) string {
	if a.Ratio == 0 || b.Ratio == 0 || a.Ratio == b.Ratio {
		return ""
	}
	soft, firm := a, b
	if soft.Ratio < firm.Ratio {
		soft, firm = firm, soft
	}
	saved := 1/(firm.Ratio+1) - 1/(soft.Ratio+1)
	cents := saved * usualBoard / 1000 * finish.WaxOver(prices)
	return fmt.Sprintf("%g to 1 as good as %g to 1 so far: wax saved %.0f %% of the mass, %.1f cents a board",
		soft.Ratio, firm.Ratio, saved*100, cents)
}
