package reckon

import (
	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/milling"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Milling is how a board is flattened and planed.
type Milling struct {
	By     milling.Milled   `json:"by" doc:"How it is done"`
	Others []milling.Milled `json:"others" doc:"How else it could be done, those that fit first"`
	First  []Flattened      `json:"first" doc:"Cut to its blank first, against the whole piece flattened first"`
	Seen   []Profile        `json:"seen" doc:"Its blank from the side and from the end, with what goes at each pass"`
	Sizes  []Rung           `json:"sizes" doc:"Its size from rough to finished, read in both directions"`
}

// Rung is the size of a board at one moment of the work.
type Rung struct {
	Name      string  `json:"name" doc:"At which moment"`
	Length    float64 `json:"length" doc:"mm"`
	Width     float64 `json:"width" doc:"mm"`
	Thickness float64 `json:"thickness" doc:"That comes out, mm"`
	Wanted    float64 `json:"wanted,omitempty" doc:"That the final one asks for; left out without one"`
}

// piece is the board's blank, or the whole piece, as a machine feels it.
func (l *laid) piece(whole bool) milling.Piece {
	size := l.flattened(whole, l.thickness().filled)
	return layout.Piece(l.on.wood, size, l.on.wood.Plan(size, l.on.Shop.Rules), l.board.Cut.Bite)
}

// milled is how the board is flattened: its blank, or the whole piece.
func (l *laid) milled() milling.Milled {
	if l.mill == nil {
		m := milling.With(l.on.Shop.Kit, l.piece(l.board.Cut.FlattenWhole), l.board.Cut.Method)
		l.mill = &m
	}
	return *l.mill
}

// milling tells how else, and in which order.
func (l *laid) milling() Milling {
	out := Milling{By: l.milled(), Others: []milling.Milled{}, First: []Flattened{
		l.on.flattening("Its blank, cut first", l.flattened(false, l.thickness().filled), l.board.Cut),
		l.on.flattening("The whole piece first", l.flattened(true, l.thickness().filled), l.board.Cut),
	}, Sizes: l.sizes()}
	out.Seen = l.profiles(out.By)
	for _, m := range milling.By(l.on.Shop.Kit, l.piece(l.board.Cut.FlattenWhole)) {
		if m.Method != out.By.Method {
			m.Passes = []milling.Pass{}
			out.Others = append(out.Others, m)
		}
	}
	return out
}

// flattening is what flattening a blank leaves and costs, by a choice.
func (b *drawn) flattening(name string, size stock.Blank, c layout.Choice) Flattened {
	t := b.wood.Plan(size, b.Shop.Rules)
	m := milling.With(b.Shop.Kit, layout.Piece(b.wood, size, t, c.Bite), c.Method)
	return Flattened{
		Name:     name,
		Length:   size.Length,
		Width:    size.Width,
		Flat:     max(0, t.Flat),
		Method:   m.Method,
		Passes:   len(m.Passes),
		Minutes:  m.Step("", b.pace).Minutes,
		Shavings: b.wood.Shavings(size, t),
	}
}

// sizes are the sizes of the board from the rough piece to the finished one.
func (l *laid) sizes() []Rung {
	blank, budget, rules := l.cutOut(), l.budget(), l.on.Shop.Rules
	box := l.outline.Bounds()
	long, wide := box.MaxX-box.MinX, box.MaxY-box.MinY
	leave := l.leave()
	size := l.flattened(l.board.Cut.FlattenWhole, l.thickness().filled)
	wants := func(of func(float64) float64) float64 {
		if size.Target == 0 || size.Faces != "" {
			return 0
		}
		return of(size.Target)
	}
	sanded, again := 2*rules.Get(rule.SandFace), float64(size.Filled)*rules.Get(rule.Reflatten)
	return []Rung{
		{
			"rough blank", blank.Length(), blank.Width, budget.Rough,
			wants(func(float64) float64 { return l.on.wood.Wants(size, budget, rules) }),
		},
		{
			"flat and planed", blank.Length(), blank.Width, budget.Planed,
			wants(func(t float64) float64 { return t + sanded + again }),
		},
		{
			"ends squared",
			long + 2*leave,
			blank.Width,
			budget.Filled,
			wants(func(t float64) float64 { return t + sanded }),
		},
		{
			"sawn outside its line", long + 2*leave, wide + 2*leave, budget.Filled,
			wants(func(t float64) float64 { return t + sanded }),
		},
		{"sanded", long, wide, budget.Sanded, wants(func(t float64) float64 { return t })},
	}
}

// rocks is by how much a board may rock on four points, and reels by how much none may, mm
// (rules).
const (
	rocks = 0.5
	reels = 3
)

// rocks is by how much the board may rock. A knife slips on one that does, whoever it is for:
// a style may ask for less, and never grants more.
func (l *laid) rocks() float64 { return rocks * min(1, l.stray()) }

// levels are the figures, verdicts and steps of flattening.
func (l *laid) levels(r *stage.Record) {
	budget, m := l.budget(), l.milled()
	choice := l.board.Cut
	if n := len(m.Passes); n > 0 && budget.Off > 0 {
		r.Figures = append(r.Figures, l.passes(m))
	}
	switch {
	case budget.Off == 0:
	case m.Method == milling.Outside:
		r.Step(
			"Have it flattened elsewhere",
			"To "+craft.Length(budget.Planed)+". Enter at the piece when it leaves and "+
				"comes back: the plan waits for it",
			plan.Work("flatten", plan.Errand, 0, l.on.pace),
		)
	default:
		r.Step("Flatten and plane", m.Detail(), m.Step("flatten", l.on.pace)).Divisible = true
	}
	if choice.Faces == stock.SandOnly {
		r.Verdicts = append(r.Verdicts, l.rocking())
	}
	if choice.Faces != "" && !l.oneSided() {
		r.Step("Look whether it rocks", "On a flat table, on four points, both faces: within "+craft.Length(l.rocks()),
			plan.Work("rock", plan.Reading, 0, l.on.pace))
	}
}

// passes is the figure of a list of passes.
func (l *laid) passes(m milling.Milled) craft.Figure {
	p := l.piece(l.board.Cut.FlattenWhole)
	f := craft.Figure{
		Key: "flatten.passes", Stage: craft.Flatten, Label: "Passes, both faces", Value: float64(len(m.Passes)),
		Unit:    craft.Count,
		Formula: "two light ones + (what is taken off − the light ones) ÷ bite, whole passes, + a light last one",
		Terms: []craft.Term{
			{Name: "taken off", Value: p.Off(), Unit: craft.MM}, {Name: "bite", Value: m.Bite, Unit: craft.MM},
			{Name: "hardness", Value: p.Wood.Janka, Unit: craft.Newton},
		},
		Source: "bites by machine, hardness, figure and resin", Rule: true,
	}
	if m.Method == milling.Drummed || m.Method == milling.RouterSled {
		f.Formula = "what is taken off ÷ bite, whole passes"
	}
	if m.Load > 0 {
		f.Terms = append(f.Terms, craft.Term{Name: "load of the machine", Value: 100 * m.Load, Unit: craft.Percent})
	}
	return f
}

// rocking judges a board whose faces are said to be flat already.
func (l *laid) rocking() craft.Verdict {
	made := l.flattened(false, 0)
	made.Faces = ""
	t := l.on.wood.Plan(made, l.on.Shop.Rules)
	off := t.Hollow + t.Wind
	rocks := l.rocks()
	v := craft.Verdict{
		Check: "rock", Stage: craft.Flatten, Level: craft.Over(off, rocks, reels), Limit: rocks,
		Finding: "Flat enough to be sanded only",
		Reason:  "A board that rocks turns under the knife, and is never used on that face.",
		Figure: craft.Figure{
			Key: "flatten.rock", Stage: craft.Flatten, Label: "Hollow and wind of its blank", Value: off,
			Unit:    craft.MM,
			Formula: "hollow + wind, as far as they lie within it",
			Terms: []craft.Term{
				{Name: "hollow", Value: t.Hollow, Unit: craft.MM}, {Name: "wind", Value: t.Wind, Unit: craft.MM},
			},
			Source: "rule of the trade: " + craft.Length(rocks) + " on four points", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "By its readings it is not flat: it would rock"
		v.Remedies = []craft.Remedy{
			{Label: "Make both faces flat, the thickness as it comes",
				Patch: craft.Patch{"cut": map[string]any{"faces": stock.FlatOnly}}},
			{Label: "Flatten and plane it", Patch: craft.Patch{"cut": map[string]any{"faces": nil}}},
		}
	}
	return v
}

// again is the work of flattening so many filled faces once more: in the bites of resin.
func (l *laid) again(faces int) plan.Step {
	size := l.flattened(false, 0)
	depth := float64(faces) * l.on.Shop.Rules.Get(rule.Reflatten)
	thick := l.budget().Filled
	p := milling.Piece{
		Length: size.Length, Width: max(size.Width, size.Table), Height: thick + depth, To: thick,
		Loose: depth * l.cutOut().Area / 1000, Wood: l.piece(false).Wood, Plain: true,
	}
	p.Wood.Resin = true
	return milling.With(l.on.Shop.Kit, p, l.board.Cut.Method).Step("reflatten", l.on.pace)
}

// leave is how far outside its line the board is sawn, mm.
func (l *laid) leave() float64 { return l.board.Cut.Leave(l.on.Shop.Rules) }

// toSand is how far outside its line the edge stands when its sanding begins, mm.
func (l *laid) toSand() float64 {
	proud := l.board.Cut.Proud(l.on.Shop.Rules)
	return proud[len(proud)-2].MM
}

// Profile is the board's blank seen from the side or the end as it is milled, true in mm:
// u along or across, z up from the lowest place of its lower face, which is made flat
// first.
type Profile struct {
	Along  bool         `json:"along" doc:"Seen from its side; otherwise from its end"`
	Under  []geom.Point `json:"under" doc:"Its lower face as it is rough"`
	Over   []geom.Point `json:"over" doc:"Its upper face as it is rough"`
	Planed [2]float64   `json:"planed" doc:"Between which heights it is planed"`
	Final  [2]float64   `json:"final" doc:"Between which it is when it is sanded"`
	Cuts   []ProfileCut `json:"cuts" doc:"What goes at each pass, in their order"`
}

// ProfileCut is where one pass cuts.
type ProfileCut struct {
	At  float64 `json:"at" doc:"Its height, mm"`
	One bool    `json:"one" doc:"Of the face that is made flat first, which is the lower one"`
}

// profiles are the blank from its side and from its end, with what each pass takes.
func (l *laid) profiles(m milling.Milled) []Profile {
	blank, budget := l.cutOut(), l.budget()
	thick := l.on.Slab.ThicknessAt
	wind := budget.Wind
	if !l.on.wood.Rough.Unshimmed {
		wind /= 2
	}
	long := Profile{Along: true, Under: []geom.Point{}, Over: []geom.Point{}}
	wide := Profile{Under: []geom.Point{}, Over: []geom.Point{}}
	const looks = 24
	for i := range looks + 1 {
		share := float64(i) / looks
		x := blank.FromX + share*blank.Length()
		lift := wind * share
		long.Under = append(long.Under, geom.Point{X: share * blank.Length(), Y: lift})
		long.Over = append(long.Over, geom.Point{X: share * blank.Length(), Y: lift + thick(x)})
		off := 2*share - 1
		cup := budget.Hollow * (1 - off*off)
		wide.Under = append(wide.Under, geom.Point{X: share * blank.Width, Y: cup})
		wide.Over = append(wide.Over, geom.Point{X: share * blank.Width, Y: cup + thick((blank.FromX+blank.ToX)/2)})
	}
	off := map[string]float64{}
	for _, p := range m.Passes {
		off[p.Face] += p.Bite
	}
	bottom := max(budget.Level, off[milling.One])
	top := bottom + budget.Planed
	sand := l.on.Shop.Rules.Get(rule.SandFace)
	cuts := []ProfileCut{}
	low, high := bottom-off[milling.One], top+off[milling.Two]
	for _, p := range m.Passes {
		if p.Face == milling.One {
			low += p.Bite
			cuts = append(cuts, ProfileCut{low, true})
			continue
		}
		high -= p.Bite
		cuts = append(cuts, ProfileCut{high, false})
	}
	for _, p := range []*Profile{&long, &wide} {
		p.Planed, p.Cuts = [2]float64{bottom, top}, cuts
		p.Final = [2]float64{bottom + sand, bottom + sand + budget.Sanded}
	}
	return []Profile{long, wide}
}
