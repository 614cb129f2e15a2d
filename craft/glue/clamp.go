package glue

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft/tool"
)

// Pressed is one time that clamps are tightened: some strips, slices or sub-assemblies
// together.
type Pressed struct {
	Key     string    `json:"key" doc:"Of its step"`
	Name    string    `json:"name" doc:"What is glued"`
	From    int       `json:"from" doc:"Index of its first strip"`
	To      int       `json:"to" doc:"Index after its last"`
	Slices  bool      `json:"slices,omitempty" doc:"They are slices, not strips"`
	Widths  []float64 `json:"widths" doc:"Of what lies side by side, mm"`
	Wide    float64   `json:"wide" doc:"All of it, mm"`
	Joints  []int     `json:"joints" doc:"After which strips it has joints"`
	Area    float64   `json:"area" doc:"Of all its joints, mm²"`
	Grams   float64   `json:"grams" doc:"Glue, both cheeks together"`
	Spread  float64   `json:"spread" doc:"Minutes to spread it"`
	Open    float64   `json:"open" doc:"Minutes until it must be closed"`
	Clamped float64   `json:"clamped" doc:"Minutes in clamps"`
	Force   float64   `json:"force" doc:"That presses its greatest joint, N"`
	Caul    float64   `json:"caul" doc:"Beside either outer strip, mm"`
	Reach   float64   `json:"reach" doc:"How wide the clamps must open, cauls included, mm"`
	Length  float64   `json:"length" doc:"Along the joints, mm"`
	Spacing float64   `json:"spacing" doc:"The widest at which their pressure meets, mm"`
	Count   int       `json:"count" doc:"Clamps that it takes"`
	Clamps  []ClampAt `json:"clamps" doc:"Those owned, where they go"`
	Short   int       `json:"short" doc:"Clamps that are missing"`
}

// ClampAt is a clamp across the joints.
type ClampAt struct {
	X     float64 `json:"x" doc:"Along the joints from their butt end, mm"`
	Below bool    `json:"below" doc:"Under the work; the others lie over it"`
	Kind  string  `json:"kind" doc:"What it is"`
	Force float64 `json:"force" doc:"What it is tightened to, N"`
}

// place chooses clamps of those owned and sets them evenly, by turns below and above: as
// few as press hard enough, the strongest first.
func (p *Pressed) place(outer, caul float64, owned []tool.Clamps) {
	reaching := slices.DeleteFunc(slices.Clone(owned), func(c tool.Clamps) bool { return c.Length < p.Reach })
	slices.SortStableFunc(reaching, func(a, b tool.Clamps) int { return cmp.Compare(b.Rating(), a.Rating()) })
	var have []tool.Clamps // one by one
	for _, c := range reaching {
		for range c.Count {
			have = append(have, c)
		}
	}
	rating := tool.ClampKinds[0].Rating
	if len(have) > 0 {
		rating = have[0].Rating()
	}
	p.Count, p.Spacing = Clamps(p.Force, rating, p.Length, outer, caul)
	var press float64
	n := 0
	for n < len(have) && (n < p.Count || press < p.Force-1e-6) {
		press += have[n].Rating()
		n++
	}
	if press < p.Force-1e-6 && n >= p.Count { // weak ones: as many more as are missing of their kind
		p.Count = n + int(math.Ceil((p.Force-press)/tool.ClampKinds[0].Rating-1e-9))
	}
	p.Count = max(p.Count, n)
	p.Short = p.Count - n
	p.Clamps = make([]ClampAt, n)
	forces := shared(p.Force, have[:n])
	for k, c := range have[:n] {
		at := k / 2 // the strong ones by turns from both ends
		if k%2 == 1 {
			at = n - 1 - at
		}
		x := p.Length / 2
		if n > 1 {
			const end = 0.5 // of the spacing, at most, from each end
			in := min(p.Length/float64(2*n), end*p.Spacing)
			x = in + (p.Length-2*in)*float64(at)/float64(n-1)
		}
		p.Clamps[at] = ClampAt{x, at%2 == 0, c.Kind, forces[k]}
	}
}

// shared is a force as clamps bear it, the strongest first: alike, but none more than it
// gives.
func shared(force float64, clamps []tool.Clamps) []float64 {
	out := make([]float64, len(clamps))
	left := force
	for k := len(clamps) - 1; k >= 0; k-- { // from the weakest
		out[k] = min(clamps[k].Rating(), left/float64(k+1))
		left -= out[k]
	}
	return out
}

// joint is between two neighbours.
type joint struct{ length, height, area float64 }

// joints are those between the strips as they are first glued.
func (p Panel) joints() []joint {
	var out []joint
	striped := p.striped()
	for i := 1; i < len(p.Strips); i++ {
		a, b := p.Strips[i-1], p.Strips[i]
		_, ta := p.Section(a)
		_, tb := p.Section(b)
		length := striped.Length
		if p.Construction != Arrows {
			from, to := beside(a, b)
			length = to - from
		}
		height := min(ta, tb)
		out = append(out, joint{length, height, length * height})
	}
	return out
}

// sliceJoints are those between the slices of a panel that is cut again, as they are
// glued: over their untrimmed length.
func (p Panel) sliceJoints(shape Shape) []joint {
	high := p.sliced()
	if p.Construction == Blocks {
		high = p.Slice
	}
	out := make([]joint, 0, shape.Slices.Count)
	for range max(0, shape.Slices.Count-1) {
		out = append(out, joint{shape.Slices.Each, high, shape.Slices.Each * high})
	}
	return out
}

// pressing parts what is glued at one go into the times that clamps are tightened: the
// sub-assemblies, and last all of them.
type pressing struct {
	key, of      string // of the steps; what is glued
	joints       []joint
	widths       []float64 // of what lies between them
	softwood     bool
	glue         Glue
	warmth       float64 // °C
	brush, sheet bool
	caul         float64
	owned        []tool.Clamps
}

// up works it out; the error says which joint cannot be kept within its open time.
func (g pressing) up() (out []Pressed, err error) {
	areas := make([]float64, len(g.joints))
	for i, j := range g.joints {
		areas[i] = j.area
	}
	open := g.glue.OpenAt(g.warmth)
	runs, err := Rounds(areas, open, g.brush)
	if err != nil { // it is glued all the same, and told
		runs = [][2]int{{0, len(g.joints) + 1}}
	}
	number := func(from, to int) string {
		if to-from == 1 {
			return fmt.Sprintf("%s %d", g.of, from+1)
		}
		return fmt.Sprintf("%ss %d to %d", g.of, from+1, to)
	}
	add := func(name string, from, to int, at []int) {
		p := Pressed{
			Key: fmt.Sprintf("%s-%d", g.key, len(out)+1), Name: name, From: from, To: to, Joints: at, Open: open,
			Clamped: g.glue.ClampedAt(g.warmth), Slices: g.key != "glue", Widths: g.widths[from:to],
		}
		for _, w := range p.Widths {
			p.Wide += w
		}
		p.Caul, p.Reach = g.caul, p.Wide+2*g.caul
		for _, k := range at {
			p.Area += g.joints[k].area
			p.Length = max(p.Length, g.joints[k].length)
			p.Force = max(p.Force, Force(g.joints[k].area, g.softwood))
		}
		p.Grams = g.glue.Grams(p.Area, g.sheet)
		p.Spread = Spreading(p.Area, len(at), g.brush)
		p.place(min(g.widths[from], g.widths[to-1]), g.caul, g.owned)
		out = append(out, p)
	}
	var last []int
	for _, r := range runs {
		var at []int
		for k := r[0]; k+1 < r[1]; k++ {
			at = append(at, k)
		}
		if len(at) > 0 {
			add(number(r[0], r[1]), r[0], r[1], at)
		}
		if r[1] <= len(g.joints) {
			last = append(last, r[1]-1)
		}
	}
	if len(last) > 0 {
		add("All together", 0, len(g.widths), last)
	}
	return out, err
}
