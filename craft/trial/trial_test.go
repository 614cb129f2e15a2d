package trial

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/stat/distuv"
)

// scored is a trial with the beads of its samples over rounds, each a rinse.
func scored(lines ...[]float64) Trial {
	t := Trial{Name: "t"}
	for i := range lines {
		t.Samples = append(t.Samples, Sample{Mark: Marks[i], Treatment: Marks[i]})
	}
	for k := range lines[0] {
		r := Round{At: time.Date(2031, 3, 1+k, 0, 0, 0, 0, time.UTC), Did: []string{"rinsed"}, Times: 1}
		for _, l := range lines {
			r.Scores = append(r.Scores, Score{Beads: new(l[k])})
		}
		t.Rounds = append(t.Rounds, r)
	}
	return t
}

// The worked example: eight rounds do not tell, twelve of the same pattern do.
func TestWorkedTrial(t *testing.T) {
	a, b := []float64{8, 8, 7, 7, 6, 6, 5, 5}, []float64{8, 7, 7, 6, 6, 5, 5, 4}
	r := scored(a, b).Result(nil)
	require.Len(t, r.Pairs, 1)
	p := r.Pairs[0]
	assert.InDelta(t, 0.5, p.Mean, 1e-12)
	assert.InDelta(t, 0.05, p.Low, 0.005)
	assert.InDelta(t, 0.95, p.High, 0.005)
	assert.Equal(t, 2.0/16, p.P)
	assert.False(t, p.Told)
	assert.Equal(t, 4, p.More)
	assert.Contains(t, strings.Join(r.Words, "\n"), "not told apart yet")
	assert.Contains(t, strings.Join(r.Words, "\n"), "4 more rounds")
	r = scored(append(a, a[:4]...), append(b, b[:4]...)).Result(nil)
	assert.Equal(t, 2.0/64, r.Pairs[0].P)
	assert.True(t, r.Pairs[0].Told)
	assert.Zero(t, r.Pairs[0].More)
	same := scored(a, a).Result(nil).Pairs[0]
	assert.Equal(t, 1.0, same.P)
	assert.Zero(t, same.More, "the same of nothing never tells")
}

// brute flips every difference, zeros too: they change nothing.
func brute(diffs []float64) float64 {
	var found float64
	for _, d := range diffs {
		found += d
	}
	as := 0
	for flips := range 1 << len(diffs) {
		var sum float64
		for i, d := range diffs {
			if flips>>i&1 == 1 {
				d = -d
			}
			sum += d
		}
		if math.Abs(sum) >= math.Abs(found)-1e-9 {
			as++
		}
	}
	return float64(as) / float64(int(1)<<len(diffs))
}

func TestSignFlipEqualsBruteForce(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 7))
	for range 300 {
		diffs := make([]float64, r.IntN(13))
		for i := range diffs {
			diffs[i] = float64(r.IntN(41)-20) / 2
		}
		assert.Equal(t, brute(diffs), SignFlip(diffs), "%v", diffs)
	}
}

// With more than twenty rounds that differ ways are drawn: within what drawing leaves open of the
// exact share, which the whole sums give, and always the same.
func TestSignFlipOfMany(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 8))
	for range 10 {
		diffs := make([]float64, 21+r.IntN(60))
		for i := range diffs {
			diffs[i] = float64(1+r.IntN(4)) * []float64{1, 1, -1}[r.IntN(3)]
		}
		ways := map[int]float64{0: 1} // of each sum
		found := 0
		for _, d := range diffs {
			next := map[int]float64{}
			for s, w := range ways {
				next[s+int(d)] += w / 2
				next[s-int(d)] += w / 2
			}
			ways, found = next, found+int(d)
		}
		exact := 0.0
		for s, w := range ways {
			if max(s, -s) >= max(found, -found) {
				exact += w
			}
		}
		p := SignFlip(diffs)
		assert.InDelta(t, exact, p, 5*math.Sqrt(exact*(1-exact)/drawn)+2.0/drawn)
		assert.Equal(t, p, SignFlip(diffs))
	}
}

// The interval is that of Student's t: by gonum's distribution, and by adding its density up.
func TestInterval(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 9))
	for range 30 {
		diffs := make([]float64, 2+r.IntN(19))
		var sum float64
		for i := range diffs {
			diffs[i] = r.NormFloat64()
			sum += diffs[i]
		}
		n := float64(len(diffs))
		mean, squares := sum/n, 0.0
		for _, d := range diffs {
			squares += (d - mean) * (d - mean)
		}
		se := math.Sqrt(squares / (n - 1) / n)
		m, low, high := Interval(diffs)
		assert.InDelta(t, mean, m, 1e-9)
		dist := distuv.StudentsT{Sigma: 1, Nu: n - 1}
		assert.InDelta(t, dist.Quantile(0.975), (high-m)/se, 1e-9)
		assert.InDelta(t, m-low, high-m, 1e-9)
		// Half of the density between nothing and the quantile is 0.475.
		q, area := (high-m)/se, 0.0
		lg := func(x float64) float64 { v, _ := math.Lgamma(x); return v }
		nu := n - 1
		c := math.Exp(lg((nu+1)/2)-lg(nu/2)) / math.Sqrt(nu*math.Pi)
		const steps = 20_000
		for i := range steps {
			x := (float64(i) + 0.5) * q / steps
			area += c * math.Pow(1+x*x/nu, -(nu+1)/2) * q / steps
		}
		assert.InDelta(t, 0.475, area, 1e-6)
	}
	m, low, high := Interval([]float64{3})
	assert.Equal(t, []float64{3, 3, 3}, []float64{m, low, high})
}

func BenchmarkSignFlipOf20(b *testing.B) {
	diffs := make([]float64, 20)
	for i := range diffs {
		diffs[i] = float64(i%5) + 1
	}
	for b.Loop() {
		SignFlip(diffs)
	}
}

// A sample lives until it is as bare as the one that was left so, between two rounds by a straight
// line, and its life is what the chooser knows its product by.
func TestWashLife(t *testing.T) {
	tr := scored([]float64{2, 2, 2, 2}, []float64{8, 6, 3, 1}, []float64{9, 9, 9, 9}, []float64{2, 3, 3, 3})
	tr.Samples[0].Control = true
	tr.Samples[1].Product, tr.Samples[2].Product = "paste", "hard wax"
	for i := range tr.Rounds {
		tr.Rounds[i].Times = 5
	}
	lives := tr.Lives()
	require.Len(t, lives, 3)
	assert.Equal(t, Life{1, 15 + 5*0.5, true}, lives[0])
	assert.Equal(t, Life{2, 20, false}, lives[1])
	assert.Equal(t, Life{3, 5, true}, lives[2], "no better from the first round")
	assert.Equal(t, map[string]float64{"paste": 17.5}, Washed([]Trial{tr}), "one that goes on tells nothing yet")
	tr.Samples[0].Control = false
	assert.Empty(t, tr.Lives(), "without a control nobody knows")
	dry := scored([]float64{2, 2}, []float64{5, 1})
	dry.Samples[0].Control = true
	dry.Rounds[0].Did = []string{"rubbed in"}
	assert.Equal(t, 1, dry.Result(nil).Washes)
}

func TestWhatAnAnswerIsWorth(t *testing.T) {
	tr := scored([]float64{8, 7, 6}, []float64{8, 7, 5})
	tr.Samples[0].Ratio, tr.Samples[1].Ratio = 2, 3
	words := strings.Join(tr.Result(nil).Words, "\n")
	assert.Contains(t, words, "3 to 1 as good as 2 to 1 so far: wax saved 8 % of the mass, 1.5 cents a board")
	assert.Contains(t, words, "these samples")
}

// A blind round shuffles the samples, the same for everybody; each is scored once.
func TestBlindOrder(t *testing.T) {
	tr := scored([]float64{1}, []float64{1}, []float64{1}, []float64{1}, []float64{1})
	assert.Equal(t, []int{0, 1, 2, 3, 4}, tr.Order())
	tr.Blind = true
	seen := map[string]bool{}
	for range 20 {
		order := tr.Order()
		assert.Equal(t, order, tr.Order())
		text := ""
		for _, i := range order {
			text += string(rune('0' + i))
		}
		seen[text] = true
		slices.Sort(order)
		assert.Equal(t, []int{0, 1, 2, 3, 4}, order)
		tr.Rounds = append(tr.Rounds, tr.Rounds[0])
	}
	assert.Greater(t, len(seen), 5)
}

func TestCheck(t *testing.T) {
	good := scored([]float64{1, 2}, []float64{3, 4})
	assert.Empty(t, good.Check("trial"))
	for field, spoil := range map[string]func(*Trial){
		"trial.name":                     func(t *Trial) { t.Name = "" },
		"trial.samples[1].mark":          func(t *Trial) { t.Samples[1].Mark = t.Samples[0].Mark },
		"trial.samples[0].product":       func(t *Trial) { t.Samples[0].Product = "tar" },
		"trial.rounds[0].did":            func(t *Trial) { t.Rounds[0].Did = []string{"kicked"} },
		"trial.rounds[0].times":          func(t *Trial) { t.Rounds[0].Times = 0 },
		"trial.rounds[1].scores":         func(t *Trial) { t.Rounds[1].Scores = make([]Score, 3) },
		"trial.rounds[0].scores[0].feel": func(t *Trial) { t.Rounds[0].Scores[0].Feel = new(11.0) },
		"trial":                          func(t *Trial) { t.Samples = make([]Sample, 9) },
	} {
		bad := scored([]float64{1, 2}, []float64{3, 4})
		spoil(&bad)
		ps := bad.Check("trial")
		require.NotEmpty(t, ps, field)
		assert.Equal(t, field, ps[0].Field)
	}
}

// Two ways of making are compared by all their minutes, and by which was liked.
func TestTwoWays(t *testing.T) {
	tr := Trial{Name: "t", Ways: []Way{
		{
			Name:   "the router",
			Boards: []string{"a", "b", "gone"},
			Liked:  1,
		}, {Name: "the gouge", Boards: []string{"c"}, Liked: 3},
	}}
	ways, words := tr.Told([]Spent{
		{"a", "hog out", 20}, {"a", "sanding", 40}, {"b", "hog out", 10}, {"b", "sanding", 50}, {"c", "hog out", 45},
		{"c", "sanding", 20}, {"x", "sanding", 999},
	})
	require.Len(t, ways, 2)
	assert.Equal(t, 2, ways[0].Boards)
	assert.InDelta(t, 60, ways[0].Minutes, 1e-9)
	assert.Equal(t, []KindSpent{{"sanding", 45}, {"hog out", 15}}, ways[0].Kinds)
	assert.InDelta(t, 65, ways[1].Minutes, 1e-9)
	assert.Equal(t, []string{
		"The router takes 5 minutes less a board than the gouge, all steps counted", "The gouge was liked better",
	}, words)
	ways, words = tr.Told(nil)
	assert.Zero(t, ways[0].Minutes)
	assert.Empty(t, words)
}
