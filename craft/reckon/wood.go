package reckon

import (
	"fmt"
	"math"
	"time"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/layout"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// Wood is what the slab comes to.
type Wood struct {
	Path      string          `json:"path" doc:"Show face as SVG path data in the slab's frame, mm"`
	Under     string          `json:"under,omitempty" doc:"Under face, where it was measured by itself"`
	Usable    string          `json:"usable" doc:"What lies inside both faces"`
	Length    float64         `json:"length" doc:"mm"`
	MinY      float64         `json:"minY" doc:"Of both faces"`
	MaxY      float64         `json:"maxY" doc:"Its farthest left edge from the chalk line, mm"`
	Bark      [2]string       `json:"bark" doc:"Left and right edge as open SVG paths; empty where not natural"`
	UnderBark [2]string       `json:"underBark" doc:"The same of the under face"`
	Species   species.Species `json:"species" doc:"What it is"`
	Works     []string        `json:"works" doc:"How it takes blades and bits"`
	Flaws     []FlawShape     `json:"flaws" doc:"As they are drawn"`
	Features  []FeatureShape  `json:"features" doc:"What is worth showing"`
	Boards    []OnWood        `json:"boards" doc:"The boards laid on it"`
	Figures   []craft.Figure  `json:"figures" doc:"What it comes to"`
	Verdicts  []craft.Verdict `json:"verdicts" doc:"What is judged of it"`
	Ready     bool            `json:"ready" doc:"Dry enough for the home"`
	Moisture  float64         `json:"moisture" doc:"Latest reading, corrected, %; 0 without one"`
	Drying    moisture.Drying `json:"drying" doc:"Where its moisture is heading"`
	HomeMean  float64         `json:"homeMean" doc:"What it should come to rest at, %"`
	Finding   string          `json:"finding" doc:"Why it is ready or not"`
	Flats     []Flattened     `json:"flats" doc:"Flattening the whole slab, against each blank cut first"`
	Leaves    []LeafCount     `json:"leaves" doc:"What resawing by the shop's rules would give"`
	Parts     *OfParts        `json:"parts,omitempty" doc:"What gluing it comes to; left out for one piece"`
	River     *OfRiver        `json:"river,omitempty" doc:"What casting it comes to; left out where it is not cast"`
	Pattern   []glue.Drawn    `json:"pattern,omitempty" doc:"The parts of a piece that was cut from a panel"`
	Reserved  []Reserved      `json:"reserved,omitempty" doc:"Strips of panels that are to be cut from it"`
	Offcuts   []Offcut        `json:"offcuts,omitempty" doc:"What is left when the boards are cut; only when asked for"`
}

// OnWood is a board as the slab's own page shows it.
type OnWood struct {
	ID    string      `json:"id" doc:"Of the board"`
	Name  string      `json:"name" doc:"Of the board"`
	Path  string      `json:"path" doc:"In the slab's frame"`
	Level craft.Level `json:"level" doc:"The worst that is judged of it"`
	Worst string      `json:"worst" doc:"The gravest finding"`
	Voids float64     `json:"voids" doc:"What its voids hold, ml"`
	Resin float64     `json:"resin" doc:"To mix, ml"`
	Cents float64     `json:"cents" doc:"Its share of what the piece cost, waste included"`
}

// FlawShape is a flaw as it is drawn.
type FlawShape struct {
	ID     string   `json:"id" doc:"Of the flaw"`
	Kind   string   `json:"kind" doc:"What it is"`
	Name   string   `json:"name" doc:"What it is, in words"`
	Under  bool     `json:"under" doc:"It opens on the under face"`
	Path   string   `json:"path" doc:"On the face on which it opens"`
	Other  string   `json:"other,omitempty" doc:"On the other face, where it goes through"`
	X      float64  `json:"x" doc:"Of its middle, along the slab, mm"`
	Y      float64  `json:"y" doc:"Of its middle, to the left of the chalk line, mm"`
	Boards []string `json:"boards" doc:"Ids of the boards that hold some of it"`
}

// FeatureShape is a feature as it is drawn.
type FeatureShape struct {
	ID    string `json:"id" doc:"Of the feature"`
	Kind  string `json:"kind" doc:"What it is"`
	Under bool   `json:"under" doc:"It lies on the under face"`
	Path  string `json:"path" doc:"Outline as an SVG path, on the slab"`
}

// Flattened is what flattening one blank leaves and costs.
type Flattened struct {
	Name     string  `json:"name" doc:"What is flattened"`
	Length   float64 `json:"length" doc:"mm"`
	Width    float64 `json:"width" doc:"mm"`
	Flat     float64 `json:"flat" doc:"The most that is left, mm"`
	Method   string  `json:"method" doc:"How it is flattened"`
	Passes   int     `json:"passes" doc:"Of both faces; 0 by hand"`
	Minutes  float64 `json:"minutes" doc:"Hands-on"`
	Shavings float64 `json:"shavings" doc:"Wood planed away, litres; loose it takes about six times as much room"`
}

// LeafCount is a number of leaves and how thick each comes out.
type LeafCount struct {
	Leaves    int     `json:"leaves" doc:"How many"`
	Thickness float64 `json:"thickness" doc:"Of each, mm"`
	Minutes   float64 `json:"minutes" doc:"Hands-on"`
}

// Offcut is a part that is left when the boards are cut out.
type Offcut struct {
	Path   string  `json:"path" doc:"Outline as an SVG path, on the slab"`
	Area   float64 `json:"area" doc:"mm²"`
	Length float64 `json:"length" doc:"mm"`
	Width  float64 `json:"width" doc:"mm"`
	Keep   bool    `json:"keep" doc:"Wide enough to be worth keeping"`

	Holds []Held `json:"holds,omitempty" doc:"Smaller boards that it still holds, where they are asked for"`
}

// Held is a board that an offcut still holds.
type Held struct {
	Name   string         `json:"name" doc:"What it could become"`
	Length float64        `json:"length" doc:"mm"`
	Width  float64        `json:"width" doc:"mm"`
	Path   string         `json:"path" doc:"In its own frame"`
	At     geom.Placement `json:"at" doc:"On the slab"`
	Own    bool           `json:"own" doc:"One of the maker's own shapes; the others are as large as fits"`
}

// uneven is how much the thickness of a piece may vary before it rocks, mm.
const uneven = 3

// reckonWood reckons the slab itself.
func (b *drawn) reckonWood() Wood {
	w, rules := b.wood, b.Shop.Rules
	ring := w.Show.Ring()
	box := ring.Bounds()
	out := Wood{
		Path: ring.SVG(), Usable: b.usable.SVG(), Length: w.Length, MinY: box.MinY, MaxY: box.MaxY,
		Species: b.here().Species, Works: append([]string{}, b.here().Species.Works()...),
		Flaws: []FlawShape{}, Features: []FeatureShape{}, Boards: []OnWood{},
		HomeMean: b.target.Mean(),
	}
	if w.TwoFaced {
		under := w.Under.Ring()
		out.Under, out.UnderBark = under.SVG(), b.bark(under)
		u := under.Bounds()
		out.MinY, out.MaxY = min(out.MinY, u.MinY), max(out.MaxY, u.MaxY)
	}
	out.Bark = b.bark(ring)
	out.UnderBark = out.Bark
	for _, f := range w.Flaws {
		print := f.Footprint()
		c := print.Centroid()
		shape := FlawShape{
			ID:     f.ID,
			Kind:   string(f.Kind),
			Name:   f.Name(),
			Under:  f.Under,
			Path:   print.SVG(),
			X:      c.X,
			Y:      c.Y,
			Boards: []string{},
		}
		if f.Through {
			shape.Other = f.At(1).Footprint().SVG()
		}
		out.Flaws = append(out.Flaws, shape)
	}
	for _, f := range w.Features {
		out.Features = append(out.Features, FeatureShape{f.ID, f.Kind, f.Under, f.Footprint().SVG()})
	}
	out.Ready, out.Moisture, out.Finding = b.ready.Ready, b.ready.Latest, b.ready.Verdict.Finding
	out.Drying = b.drying
	out.Verdicts = gravestFirst(b.woodVerdicts())
	out.Figures = b.woodFigures(out.Drying)
	for _, s := range b.Strips {
		out.Reserved = append(out.Reserved, Reserved{s.Panel, s.Name, s.ID, s.outline().SVG()})
	}
	whole := w.Whole()
	out.Flats = []Flattened{b.flattening("The whole piece", whole, layout.Choice{})}
	out.Leaves = b.leaves(rules)
	return out
}

// bark is the natural edges of a face.
func (b *drawn) bark(ring geom.Ring) (out [2]string) {
	if !b.wood.LiveLeft && !b.wood.LiveRight {
		return out
	}
	left, right := stock.Edges(ring)
	if b.wood.LiveLeft {
		out[0] = geom.LineSVG(left)
	}
	if b.wood.LiveRight {
		out[1] = geom.LineSVG(right)
	}
	return out
}

// leaves tries two leaves and more, by the shop's rules for kerf and clean-up.
func (b *drawn) leaves(rules rule.Set) []LeafCount {
	out := []LeafCount{}
	for n := 2; n <= 6; n++ {
		r := slab.Resawing{Leaves: n, Kerf: rules.Get(rule.ResawKerf), Cleanup: rules.Get(rule.ResawClean)}
		_, t := r.Of(b.wood, rules)
		if t < 3 {
			break
		}
		step := plan.Work("resaw", plan.Resaw, float64(n-1)*b.wood.Length, b.pace)
		out = append(out, LeafCount{n, t, step.Minutes})
	}
	return out
}

// woodFigures lists the numbers of the slab that open to their working.
func (b *drawn) woodFigures(drying moisture.Drying) []craft.Figure {
	w, air := b.wood, b.Shop.Air
	area, mean := w.Show.Area(), w.Show.HandArea()
	face := craft.Figure{
		Key:     "wood.area",
		Stage:   craft.Wood,
		Label:   "Face",
		Value:   area / 100,
		Unit:    craft.CM2,
		Formula: "area between the edges, drawn as monotone curves through the stations",
		Terms: []craft.Term{
			{Name: "mean width × length", Value: mean / 100, Unit: craft.CM2},
			{Name: "which is off by", Value: (mean/area - 1) * 100, Unit: craft.Percent},
		},
		Source: "Fritsch and Carlson 1980",
	}
	if len(b.Slab.Outline) > 0 {
		face.Formula, face.Source = "area inside the outline", "the outline's nodes"
		face.Terms[0].Name = "mean of five widths × length"
	}
	out := []craft.Figure{face,
		{
			Key:     "wood.volume",
			Stage:   craft.Wood,
			Label:   "Volume",
			Value:   w.Volume() * 1e-9,
			Unit:    craft.M3,
			Formula: "mean of the faces × mean thickness; a board foot is 144 cubic inches",
			Terms: []craft.Term{
				{Name: "mean of the faces", Value: w.MeanFace() / 100, Unit: craft.CM2},
				{Name: "mean thickness", Value: w.Rough.Mean, Unit: craft.MM},
			},
			Source: "geometry; definition of the board foot",
		},
	}
	if b.Slab.River != nil {
		out = append(out, b.movements(w.Show.Ring())...)
	} else if b.Slab.Glue == nil {
		out = append(out, b.movement("wood.movement", "Moves across the year by", w.MeanWidth()))
	} else if b.Slab.Glue.Cut != nil { // else it is with its glue
		out = append(out, b.movements(w.Show.Ring())...)
	}
	if b.here().Radius > 0 {
		out = append(out, b.cup("wood.cup", "Cups across the year by", w.MeanWidth()))
	}
	out = append(
		out,
		craft.Figure{
			Key:     "wood.rest",
			Stage:   craft.Wood,
			Label:   "Rests in the shop at",
			Value:   drying.EMC,
			Unit:    craft.Percent,
			Formula: "moisture at which wood rests in the shop's air",
			Terms: []craft.Term{
				{Name: "temperature", Value: air.Temperature, Unit: craft.Celsius},
				{Name: "humidity", Value: air.Humidity, Unit: craft.Percent},
			},
			Source: "Wood Handbook, equation 4-5",
		},
	)
	if d := drying; d.Known && !d.Never && d.Days > 0 {
		terms := []craft.Term{
			{Name: "time constant τ", Value: d.Tau, Unit: craft.Day},
			{Name: "at the quickest", Value: d.Low, Unit: craft.Day},
			{Name: "at the slowest", Value: d.High, Unit: craft.Day},
		}
		for _, t := range d.Thinner {
			terms = append(
				terms,
				craft.Term{Name: "milled to " + craft.Length(t.Thickness) + " first", Value: t.Days, Unit: craft.Day},
			)
		}
		out = append(
			out,
			craft.Figure{
				Key:     "wood.days",
				Stage:   craft.Wood,
				Label:   "Days to the home's band",
				Value:   d.Days,
				Unit:    craft.Day,
				Formula: "τ · ln((now − rest) ÷ (goal − rest)); τ goes with thickness to the power 1.8",
				Terms:   terms,
				Source:  "exponential drying; τ by thickness until three readings fit it",
				Rule:    true,
			},
		)
	}
	if cost := w.Cost; cost > 0 {
		doc := b.Slab
		terms := []craft.Term{{Name: "price", Value: float64(doc.PriceCents), Unit: craft.Cents}}
		formula := "price of the piece"
		switch doc.PriceBy {
		case slab.ByBoardFoot:
			formula, terms = "price a board foot × volume", append(
				terms,
				craft.Term{Name: "volume", Value: w.BoardFeet(), Unit: "board feet"},
			)
		case slab.ByCubicMetre:
			formula, terms = "price a cubic metre × volume", append(
				terms,
				craft.Term{Name: "volume", Value: w.Volume() * 1e-9, Unit: "cubic metres"},
			)
		}
		if doc.Bought != nil && doc.Bought.CostCents > 0 {
			formula, terms = formula+" + work bought in", append(
				terms,
				craft.Term{Name: "work bought in", Value: float64(doc.Bought.CostCents), Unit: craft.Cents},
			)
		}
		out = append(
			out,
			craft.Figure{
				Key:     "wood.cost",
				Stage:   craft.Wood,
				Label:   "Cost",
				Value:   cost,
				Unit:    craft.Cents,
				Formula: formula,
				Terms:   terms,
				Source:  "price as paid",
			},
		)
	}
	return out
}

// here is what the wood is in the middle of the piece.
func (b *drawn) here() stock.Here { return b.wood.Grain.At(geom.Point{X: b.wood.Length / 2}) }

// coefficient is the movement of the piece's grain a point of moisture.
func (b *drawn) coefficient() float64 { return b.here().Coefficient() }

// movement is how much a width swells and shrinks between the home's seasons.
func (b *drawn) movement(key, label string, width float64) craft.Figure {
	c, swing := b.coefficient(), b.target.Home.Swing()
	return craft.Figure{
		Key: key, Stage: craft.Wood, Label: label, Value: width * c * swing, Unit: craft.MM,
		Formula: "width across the grain × movement a point × points between heating season and summer",
		Terms: []craft.Term{
			{Name: "width", Value: width, Unit: craft.MM},
			{Name: "movement a point", Value: c},
			{Name: "points", Value: swing, Unit: craft.Percent},
			{Name: "rings to the face", Value: b.here().Rings, Unit: craft.Degree},
		},
		Source: "Wood Handbook, chapter 4",
	}
}

// cup is how hollow a width grows between the home's seasons, by the radius of
// its rings.
func (b *drawn) cup(key, label string, width float64) craft.Figure {
	swing, here := b.target.Home.Swing(), b.here()
	return craft.Figure{
		Key: key, Stage: craft.Wood, Label: label,
		Value: moisture.CupDrying(width, here.Radius, here.Species.CT, here.Species.CR, swing), Unit: craft.MM,
		Formula: "(width ÷ 2) · arctan(width ÷ 2 radii) · (tangential − radial movement) × points",
		Terms: []craft.Term{
			{Name: "width", Value: width, Unit: craft.MM},
			{Name: "radius of the rings", Value: here.Radius, Unit: craft.MM},
			{Name: "tangential, a point", Value: here.Species.CT},
			{Name: "radial, a point", Value: here.Species.CR},
			{Name: "points", Value: swing, Unit: craft.Percent},
		},
		Source: "Wood Handbook, chapter 4",
	}
}

// wet is how hollow a board grows when one face stays two points wetter.
func (b *drawn) wet(width, thickness float64) craft.Figure {
	const points = 2
	c := b.coefficient()
	v := 0.0
	if thickness > 0 {
		v = moisture.CupWet(width, thickness, c, points)
	}
	return craft.Figure{
		Key: "wood.wet", Stage: craft.Wood, Label: "Cups when one face is wet by", Value: v, Unit: craft.MM,
		Formula: "width² ÷ 8 × movement a point × points ÷ thickness: why both faces are finished, and feet help",
		Terms: []craft.Term{
			{Name: "width", Value: width, Unit: craft.MM},
			{Name: "thickness", Value: thickness, Unit: craft.MM},
			{Name: "movement a point", Value: c},
			{Name: "points between the faces", Value: points, Unit: craft.Percent},
		},
		Source: "Wood Handbook, chapter 4",
	}
}

// show tells the slab about its boards: where they lie, which flaws they hold, and
// what flattening their blanks costs.
func (b *drawn) show(out *Wood, boards []Reckoned) {
	byFlaw := map[string][]string{}
	for i, r := range boards {
		d, outline := b.boards[i].board, b.boards[i].outline
		on := OnWood{
			ID:    d.ID,
			Name:  d.Name,
			Path:  outline.SVG(),
			Level: r.Level,
			Cents: b.cost() * b.boards[i].share(),
		}
		if len(r.Verdicts) > 0 && r.Level != craft.Good {
			on.Worst = r.Verdicts[0].Finding
		}
		if r.Mix != nil {
			on.Resin = r.Mix.Total.Value
		}
		for _, v := range r.Voids {
			byFlaw[v.Flaw] = append(byFlaw[v.Flaw], d.ID)
			on.Voids += v.Volume
		}
		out.Boards = append(out.Boards, on)
		if !d.Cut.FlattenWhole {
			out.Flats = append(
				out.Flats,
				b.flattening("Blank of "+d.Name, stock.Blank{
					Length: r.Blank.Length(), Width: r.Blank.Width, Table: r.Blank.Table, Faces: d.Cut.Faces,
				}, d.Cut),
			)
		}
	}
	for i := range out.Flaws {
		if held, ok := byFlaw[out.Flaws[i].ID]; ok {
			out.Flaws[i].Boards = held
		}
	}
}

// offcutsOf are the offcuts as they are shown.
func (b *drawn) offcutsOf() []Offcut {
	out := []Offcut{}
	rings, under := b.offcuts()
	for i, r := range rings {
		out = append(out, offcut(r, under[i], b.Shop.Rules))
	}
	return out
}

// sawn is how every board of the scene is cut out, those given away too.
func (b *drawn) sawn() []layout.Sawn {
	var out []layout.Sawn
	add := func(l *laid) {
		blank := l.cutOut()
		out = append(
			out,
			layout.Sawn{Outline: l.outline, From: blank.FromX, To: blank.ToX, Kerf: tool.Kerf(l.board.Cut.Saw)},
		)
	}
	for _, l := range b.boards {
		add(l)
	}
	for _, d := range b.Taken {
		add(b.lay(d, nil))
	}
	for _, s := range b.Strips {
		ring := s.outline()
		box := ring.Bounds()
		out = append(out, layout.Sawn{Outline: ring, From: box.MinX, To: box.MaxX, Kerf: tool.Kerf(tool.TableSaw)})
	}
	return out
}

// offcuts are what is left of the show face, and for each what lies below it;
// nil where the under face was not measured by itself.
func (b *drawn) offcuts() (show, under []geom.Ring) {
	sawn := b.sawn()
	show = layout.Offcuts(b.wood.Show.Ring(), sawn)
	under = make([]geom.Ring, len(show))
	if b.wood.TwoFaced {
		below := layout.Offcuts(b.wood.Under.Ring(), sawn)
		for i, r := range show {
			under[i] = most(r, below)
			if under[i] == nil {
				under[i] = geom.Ring{} // all of it slopes away
			}
		}
	}
	return show, under
}

// offcut measures a ring and tells whether what both faces share of it is
// worth keeping.
func offcut(r, under geom.Ring, rules rule.Set) Offcut {
	box := r.Bounds()
	o := Offcut{Path: r.SVG(), Area: r.Area(), Length: box.MaxX - box.MinX, Width: box.MaxY - box.MinY}
	stout := o.Area
	if under != nil {
		stout = 0
		for _, c := range geom.Common(r, under) {
			stout = max(stout, c.Area())
		}
	}
	least := rules.Get(rule.OffcutLeast)
	o.Keep = min(o.Length, o.Width) >= least && stout/max(o.Length, o.Width) >= least*0.75
	return o
}

// Leftovers makes pieces of what is left of a scene's slab when its boards are
// cut out: those of the offcuts, in the order of the reckoning, that are
// wanted. The error is of type craft.Problems.
func Leftovers(j Scene, wanted []int) ([]slab.Slab, error) {
	b, err := draw(j)
	if err != nil {
		return nil, err
	}
	if j.Slab == nil || len(j.Boards)+len(j.Taken)+len(j.Strips) == 0 {
		return nil, craft.Problems{
			{Field: "boards", Wrong: "no boards are laid on the piece", Right: "lay a board on it first"},
		}
	}
	rings, under := b.offcuts()
	var out []slab.Slab
	for n, i := range wanted {
		if i < 0 || i >= len(rings) {
			return nil, craft.Problems{
				{
					Field: fmt.Sprintf("keep[%d]", n),
					Wrong: fmt.Sprintf("there is no offcut %d", i+1),
					Right: fmt.Sprintf("choose from 1 to %d", len(rings)),
				},
			}
		}
		if under[i] != nil && len(under[i]) < 3 {
			return nil, craft.Problems{
				{
					Field: fmt.Sprintf("keep[%d]", n),
					Wrong: fmt.Sprintf("offcut %d has no under face: all of it slopes away", i+1),
					Right: "leave it to the stove",
				},
			}
		}
		out = append(out, j.Slab.Part(fmt.Sprintf("%s, offcut %d", j.Slab.Name, n+1), rings[i], under[i]))
	}
	return out, nil
}

// most is the ring that shares most with r; nil when none shares anything.
func most(r geom.Ring, rings []geom.Ring) (best geom.Ring) {
	least := 0.0
	for _, s := range rings {
		var shared float64
		for _, c := range geom.Common(r, s) {
			shared += c.Area()
		}
		if shared > least {
			best, least = s, shared
		}
	}
	return best
}

// Resaw makes the leaves of a scene's slab. The error is of type craft.Problems.
func Resaw(j Scene, r slab.Resawing) ([]slab.Slab, error) {
	if ps := j.Check(); len(ps) > 0 {
		return nil, ps
	}
	if j.Slab == nil {
		return nil, craft.Problems{
			{Field: "slab", Wrong: "the scene has no slab", Right: "give the piece to be resawn"},
		}
	}
	return j.Slab.Resaw(r, j.Shop.Rules)
}

// slice judges a slice across the trunk, before anything else: it moves more around its
// rings than along its radius, and opens from the rim.
func (b *drawn) slice() craft.Verdict {
	here := b.here().Species
	box := b.wood.Show.Ring().Bounds()
	around := math.Pi * min(box.MaxX-box.MinX, box.MaxY-box.MinY)
	swing := max(b.target.Home.Swing(), b.drying.Loses())
	return craft.Verdict{
		Check: "slice", Stage: craft.Wood, Level: craft.Mind,
		Finding: "A slice across the trunk splits as it dries",
		Reason: "It moves more around its rings than along its radius, and opens from the rim. Leave a saw cut to " +
			"the heart and fill it, hold it with bow-tie keys, or soak it through with resin; never glue it flat on " +
			"a rigid back.",
		Figure: craft.Figure{
			Key: "wood.slice", Stage: craft.Wood, Label: "It would open at the rim by", Value: around *
				(here.CT - here.CR) * swing,
			Unit:    craft.MM,
			Formula: "round the rim × (movement around the rings − along the radius) × points of moisture",
			Terms: []craft.Term{
				{
					Name:  "round the rim",
					Value: around,
					Unit:  craft.MM,
				}, {Name: "points", Value: swing, Unit: craft.Percent},
			},
			Source: "Wood Handbook", Rule: true,
		},
	}
}

// woodVerdicts judges the wood whatever is made of it.
func (b *drawn) woodVerdicts() []craft.Verdict {
	out := []craft.Verdict{}
	if b.Slab.Stock == slab.StockSlice {
		out = append(out, b.slice())
	}
	out = append(out, b.ready.Verdict)
	for i, wood := range b.wood.Species() {
		v := b.food(wood, i == 0)
		if i > 0 {
			v.Subject = wood.Name
		}
		out = append(out, v)
	}
	if spread := b.wood.Rough.Thickest - b.wood.Rough.Thinnest; b.wood.Rough.Uneven || spread > 0 {
		v := craft.Verdict{
			Check:   "even",
			Stage:   craft.Wood,
			Level:   craft.Good,
			Limit:   uneven,
			Finding: "Its thickness varies; flattening evens it",
			Reason:  "A board of uneven thickness rocks on the table.",
			Figure: craft.Figure{
				Key:     "wood.spread",
				Stage:   craft.Wood,
				Label:   "Thickness varies by",
				Value:   spread,
				Unit:    craft.MM,
				Formula: "thickest reading − thinnest reading",
				Source:  "the readings",
			},
		}
		if b.wood.Rough.Uneven && spread > uneven {
			v.Level, v.Finding = craft.Mind, "It stays uneven and will rock"
		}
		out = append(out, v)
	}
	out = append(out, b.wood.EdgeVerdicts(b.Shop.Rules)...)
	if b.wood.History.BareEnds && !b.ready.Ready {
		out = append(
			out,
			craft.Verdict{
				Check:   "ends",
				Stage:   craft.Wood,
				Level:   craft.Mind,
				Finding: "Its ends are not sealed while it dries",
				Reason:  "Ends dry many times faster than faces: bare ones check far more than sealed ones.",
				Figure: craft.Figure{
					Key:     "wood.ends",
					Stage:   craft.Wood,
					Label:   "Bare ends",
					Value:   2,
					Formula: "both ends, sealed or not",
					Source:  "as noted",
				},
			},
		)
	}
	return out
}

// food judges whether a wood may lie under food; the first of several with what is known
// of the piece.
func (b *drawn) food(wood species.Species, first bool) craft.Verdict {
	v := craft.Verdict{
		Check: "food", Stage: craft.Wood, Level: craft.Good, Finding: wood.Name + " is used for food", Limit: 0,
		Reason: "Local food-contact rules decide.",
		Figure: craft.Figure{
			Key:     "wood.food",
			Stage:   craft.Wood,
			Label:   "Reasons against food",
			Formula: "food suitability of the species and what is known of the piece",
			Source:  "species table",
		},
	}
	mind := func(finding, reason string) {
		v.Level, v.Finding, v.Reason = craft.Mind, finding, reason
		v.Figure.Value++
	}
	if wood.Food == "caution" {
		mind(
			wood.Name+" near food asks for care",
			"Its pores, resin or extractives come into the food: "+noteOf(wood.Note),
		)
	}
	if b.wood.History.Reclaimed && first {
		mind(
			"Reclaimed wood of unknown treatment",
			"Lead paint, preservatives and nails: test it, and when in doubt keep it off food.",
		)
	}
	if b.wood.History.Sheet && first {
		mind(
			"Sheet stock: a decorative tray, never a board that is washed",
			"Its glue lines open with water, and its core and glue are not meant for food.",
		)
	}
	if b.wood.History.Panel && first {
		mind(
			"Glued elsewhere: washed only where its glue stands water",
			"A glue of class D3 or D4, or what is called waterproof, stands being washed and wiped dry; white glue of "+
				"the usual kind opens. Ask who glued it.",
		)
	}
	if wood.Food == "never" {
		v.Level, v.Figure.Value = craft.Stop, 1
		v.Finding, v.Reason = wood.Name+" is poisonous", "Never for food. Make something else of it."
	}
	return v
}

// inTime judges whether a damp piece will be dry before a board must be begun.
// It is silent when the piece is ready, or no date is set.
func (l *laid) inTime(c plan.Course) (craft.Verdict, bool) {
	b, drying := l.on, l.drying()
	if b.ready.Ready || drying.Days == 0 && !drying.Never || c.Due == nil || c.Done || l.begun() {
		return craft.Verdict{}, false
	}
	var begin time.Time // the latest start of the work, as the plan has it
	for _, s := range c.Steps {
		if s.LatestAt != nil && s.Kind != plan.Drying && s.Kind != plan.Reading && s.Key != "mill-thin" {
			begin = *s.LatestAt
			break
		}
	}
	if begin.IsZero() {
		return craft.Verdict{}, false
	}
	work := c.Due.Sub(begin).Hours() / 24
	width := l.width()
	then := drying.At(begin)
	rest := b.target.Home.Heating.EMC()
	moves := width * b.coefficient() * math.Abs(then-rest)
	v := craft.Verdict{
		Check: "dry in time", Stage: craft.Wood, Level: craft.Good, AtLeast: true, Limit: drying.Days,
		Finding: "Dry before the work must begin",
		Reason:  "Wood that is cut damp shrinks, twists and cups in the first heating season.",
		Figure: craft.Figure{
			Key:     "wood.intime",
			Stage:   craft.Wood,
			Label:   "Days until the work must begin",
			Value:   begin.Sub(drying.Read).Hours() / 24,
			Unit:    craft.Day,
			Rule:    true,
			Formula: "days from the last reading to the latest begin, against the days to the home's band",
			Terms: []craft.Term{
				{Name: "days of work and waits", Value: work, Unit: craft.Day},
				{Name: "moisture at the latest begin", Value: then, Unit: craft.Percent},
				{Name: "heating season rests at", Value: rest, Unit: craft.Percent},
				{
					Name:  "its width would then move by",
					Value: moves,
					Unit:  craft.MM,
				},
			},
			Source: "the drying trend and the plan",
		},
	}
	if drying.Never || begin.Before(*drying.ReadyAt) {
		v.Level = craft.Mind
		v.Finding = fmt.Sprintf(
			"The date comes first: begun at the latest, the wood is at %.1f %% and its width still moves by %s. Mill "+
				"it thinner now, take a drier piece, or move the date",
			then,
			craft.Length(math.Round(moves*10)/10),
		)
	}
	return v, true
}

func noteOf(note string) string {
	if note == "" {
		return "open pores."
	}
	return note + "."
}
