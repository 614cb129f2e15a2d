package reckon

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// LaidOut is a slab with all its boards as they are laid out: only what depends
// on where they lie.
type LaidOut struct {
	Boards  []OnSlab         `json:"boards" doc:"As they lie"`
	Level   craft.Level      `json:"level" doc:"The worst of all"`
	Cuts    []layout.SlabCut `json:"cuts" doc:"In the order of cutting"`
	Figures []craft.Figure   `json:"figures" doc:"Yield, and the waste by kind; where what is left is asked for"`
	Offcuts []Offcut         `json:"offcuts" doc:"Where they are asked for"`
	Twins   []OnSlab         `json:"twins" doc:"The twins of its boards on the other leaf"`
	Unmet   []Unmet          `json:"unmet" doc:"Wishes for places on the slab that no board meets"`
}

// OnSlab is one board on a slab.
type OnSlab struct {
	ID       string          `json:"id" doc:"Of the board"`
	Name     string          `json:"name" doc:"Of the board"`
	Path     string          `json:"path" doc:"In the board's own frame"`
	Holes    []string        `json:"holes" doc:"As SVG paths, in the board's frame"`
	Box      [4]float64      `json:"box" doc:"Bounds in the board's frame: min x, min y, max x, max y"`
	Level    craft.Level     `json:"level" doc:"The worst that is judged of it"`
	Verdicts []craft.Verdict `json:"verdicts" doc:"The gravest first"`
	Cents    float64         `json:"cents" doc:"Its share of the slab's price"`
}

// Unmet is a wish for a place on the slab that no board meets.
type Unmet struct {
	ID      string `json:"id" doc:"Of the flaw or the feature"`
	Finding string `json:"finding" doc:"What is not as it is wished"`
}

// LayOutRequest is what a lay-out is asked for beside the boards' places.
type LayOutRequest struct {
	Leftovers bool       // also what becomes of the slab, and what its offcuts still hold
	Templates []Template // the maker's own shapes, looked for in the offcuts
}

// Template is a shape that was kept to use again.
type Template struct {
	Name   string
	Design board.Design
}

// MostTemplates bounds the shapes that are looked for in what is left.
const MostTemplates = 12

// LayOut judges where the boards of a scene lie on their slab. It fails as
// Reckon does.
func LayOut(s Scene, ask LayOutRequest) (LaidOut, error) {
	b, err := drawOn(s)
	if err != nil {
		return LaidOut{}, err
	}
	out := LaidOut{Boards: []OnSlab{}, Figures: []craft.Figure{}, Offcuts: []Offcut{}, Unmet: b.unmet()}
	cut := make([]layout.Board, len(b.boards))
	for i, l := range b.boards {
		if err := s.Watch.Ask(); err != nil {
			return LaidOut{}, err
		}
		out.Boards = append(out.Boards, l.onSlab())
		cut[i] = l.asCut()
	}
	out.Cuts = layout.CutList(layout.Place{Wood: b.wood, Usable: b.usable, Shop: s.Shop}, cut)
	if ask.Leftovers {
		rings, under := b.offcuts()
		kept := 0.0
		for i, r := range rings {
			o := offcut(r, under[i], s.Shop.Rules)
			if err := s.Watch.Ask(); err != nil {
				return LaidOut{}, err
			}
			if o.Keep {
				kept += r.Area()
				o.Holds = b.held(r, ask.Templates[:min(len(ask.Templates), MostTemplates)])
			}
			out.Offcuts = append(out.Offcuts, o)
		}
		out.Figures = b.wasted(cut, kept)
	}
	if err := s.Watch.Ask(); err != nil { // what it broke off is no answer
		return LaidOut{}, err
	}
	out.Twins, err = s.twins()
	out.Level = craft.Good
	for _, o := range slices.Concat(out.Boards, out.Twins) {
		if o.Level.Rank() > out.Level.Rank() {
			out.Level = o.Level
		}
	}
	return out, err
}

// onSlab is the board with what depends on where it lies. What would help there is
// another place; a weak web or neck asks for another design, on the board's own
// sheet.
func (l *laid) onSlab() OnSlab {
	d, s := l.board, l.shaped
	box := s.Outline.Bounds()
	on := OnSlab{
		ID: d.ID, Name: d.Name, Path: s.Path.ToSVG(), Holes: []string{},
		Box:      [4]float64{box.MinX, box.MinY, box.MaxX, box.MaxY},
		Verdicts: gravestFirst(craft.Bare(append(l.place.Check(s), l.strength()...))),
	}
	for _, h := range s.HolePaths {
		on.Holes = append(on.Holes, h.ToSVG())
	}
	on.Level = craft.Worst(on.Verdicts)
	on.Cents = l.on.cost() * l.share()
	return on
}

// asCut is the board as the saws see it.
func (l *laid) asCut() layout.Board {
	out := layout.Board{
		ID: l.board.ID, Name: l.board.Name, Outline: l.outline, Blank: l.cutOut(), Saw: l.board.Cut.Saw,
		Sawn: l.shaped.Outline.Perimeter() - l.shaped.Natural(),
	}
	for _, k := range l.cuts() {
		if k.Inner {
			out.Inner = append(out.Inner, k)
		}
	}
	return out
}

// twins judges the twins of the scene's boards where they lie on the other leaf.
func (j Scene) twins() ([]OnSlab, error) {
	out := []OnSlab{}
	if j.Leaf == nil {
		return out, nil
	}
	there := Scene{
		Schema: j.Schema,
		Now:    j.Now,
		Slab:   &j.Leaf.Slab,
		Taken:  j.Leaf.Taken,
		Strips: j.Leaf.Strips,
		Shop:   j.Shop,
	}
	twins := map[string]bool{}
	for _, d := range j.Boards {
		if d.Twin == nil {
			continue
		}
		twin := d // a new one lies as its board does
		twin.ID, twin.Name = d.Twin.Board, d.Name+TwinName
		if i := slices.IndexFunc(j.Leaf.Boards, func(o Board) bool { return o.ID == d.Twin.Board }); i >= 0 {
			if twin = j.Leaf.Boards[i]; twin.Twin == nil || twin.Twin.Board != d.ID {
				continue // it has gone its own way
			}
		}
		twins[twin.ID] = true
		there.Boards = append(there.Boards, twin.Follow(d, *j.Slab, j.Leaf.Slab))
	}
	if len(twins) == 0 {
		return out, nil
	}
	for _, d := range j.Leaf.Boards {
		if !twins[d.ID] {
			there.Boards = append(there.Boards, d)
		}
	}
	laid, err := LayOut(there, LayOutRequest{})
	for _, o := range laid.Boards {
		if twins[o.ID] {
			out = append(out, o)
		}
	}
	return out, err
}

// small are the boards that are looked for in an offcut, as large as they fit,
// with the least length that is worth naming, mm.
var small = []struct {
	name   string
	design board.Design
	free   bool
	least  float64
}{
	{
		"soft rectangle",
		board.Design{Shape: board.Rectangle, Length: 200, Width: 140, Handle: board.Handle{Kind: board.NoHandle}},
		true,
		60,
	},
	{
		"round",
		board.Design{Shape: board.Circle, Length: 100, Width: 100, Handle: board.Handle{Kind: board.NoHandle}},
		false,
		60,
	},
	{
		"paddle",
		board.Design{
			Shape:      board.Paddle,
			Length:     300,
			Width:      120,
			Corner:     20,
			Neck:       36,
			NeckLength: 100,
			Shoulder:   18,
			Handle:     board.Handle{Kind: board.NoHandle},
		},
		false,
		180,
	},
}

const offcutSteps = 14

// held lists what smaller boards an offcut still holds clear of its flaws, and
// which of the maker's own shapes.
func (b *drawn) held(offcut geom.Ring, templates []Template) (out []Held) {
	left := withoutFlaws(clean.Room{Sheet: geom.NewIndex(offcut.Simplified(0.5)), Watch: b.Watch}, b.wood.Flaws)
	for _, o := range small {
		if c, ok := left.Biggest(o.design, o.free, nil, offcutSteps); ok && c.Design.Length >= o.least {
			path := board.Draw(c.Design, nil).Path.ToSVG()
			out = append(
				out,
				Held{Name: o.name, Length: c.Design.Length, Width: c.Design.Width, Path: path, At: c.Placement},
			)
		}
	}
	for _, n := range templates {
		if n.Design.Shape == board.Plank {
			continue // it follows the wood
		}
		s := board.Draw(n.Design, nil)
		if at, ok := left.Place(s.Outline); ok {
			box := s.Outline.Bounds()
			out = append(
				out,
				Held{
					Name:   n.Name,
					Length: box.MaxX - box.MinX,
					Width:  box.MaxY - box.MinY,
					Path:   s.Path.ToSVG(),
					At:     at,
					Own:    true,
				},
			)
		}
	}
	return out
}

// wasted is what becomes of the slab, by kind.
func (b *drawn) wasted(boards []layout.Board, kept float64) []craft.Figure {
	const cm2 = 100
	whole := b.wood.Show.Ring().Area()
	var laid, dust, snipe float64
	for _, o := range boards {
		laid += o.Outline.Area()
		dust += o.Sawn * tool.Kerf(o.Saw)
		left, right := b.wood.Left(o.Blank.FromX), b.wood.Right(o.Blank.FromX)
		snipe += 2 * (o.Blank.Snipe + o.Blank.Square) * max(0, left-right)
	}
	for _, o := range b.taken {
		laid += o.Outline.Area()
	}
	for _, s := range b.Strips {
		laid += s.Length * s.Width
	}
	snipe = min(snipe, max(0, whole-laid-dust-kept))
	figure := func(key, label string, value float64, unit craft.Unit, formula string, rule bool) craft.Figure {
		return craft.Figure{
			Key:     "slab." + key,
			Stage:   craft.Layout,
			Label:   label,
			Value:   value,
			Unit:    unit,
			Formula: formula,
			Source:  "measured on the drawing",
			Rule:    rule,
			Terms: []craft.Term{
				{Name: "show face", Value: whole / cm2, Unit: craft.CM2},
				{Name: "boards", Value: laid / cm2, Unit: craft.CM2},
			},
		}
	}
	return []craft.Figure{
		figure("yield", "Of the slab in boards", 100*laid/max(whole, 1), craft.Percent, "boards ÷ show face", false),
		figure(
			"kept",
			"Back on the rack as offcuts",
			kept/cm2,
			craft.CM2,
			"offcuts as wide as is worth keeping",
			true,
		),
		figure("dust", "Sawn to dust", dust/cm2, craft.CM2, "length of the outlines × kerf", true),
		figure(
			"ends",
			"Squared and sniped off, about",
			snipe/cm2,
			craft.CM2,
			"squaring and snipe of each blank × width of the slab there",
			true,
		),
		figure(
			"scrap",
			"Scrap about the boards",
			max(0, whole-laid-dust-kept-snipe)/cm2,
			craft.CM2,
			"what is left of the face",
			false,
		),
	}
}

// unmet lists the wishes for places on the slab that no board meets.
func (b *drawn) unmet() []Unmet {
	out := []Unmet{}
	touches := func(print geom.Ring) (within, over bool) {
		for _, l := range b.boards {
			in := 0
			for _, q := range print {
				if l.shaped.Outline.Contains(l.board.Placement.In(q)) {
					in++
				}
			}
			over = over || in > 0
			within = within || in == len(print)
		}
		return within, over
	}
	for _, f := range b.wood.Flaws {
		if f.Wish != stock.Featured {
			continue
		}
		if _, over := touches(f.Footprint()); !over {
			out = append(out, Unmet{f.ID, "The " + f.Name() + " that you wish to show lies in the waste"})
		}
	}
	for _, f := range b.wood.Features {
		if f.Wish == "" {
			continue
		}
		if within, over := touches(f.Footprint()); !over || f.Wish == stock.KeepInside && !within {
			out = append(out, Unmet{f.ID, "No board holds the " + f.Kind + " as you wish"})
		}
	}
	return out
}

// EndCheck compares what it costs to cut the checks of an end off with what it
// takes to fill them.
type EndCheck struct {
	End    string  `json:"end" enum:"butt,far"`
	Lost   float64 `json:"lost" doc:"Length that is cut off, mm"`
	Gained float64 `json:"gained" doc:"Minutes of waiting that are saved by not filling"`
	Filler string  `json:"filler"`
}

// reaching is how near an end a crack must come to be a check of that end, mm.
const reaching = 15

// EndChecks are the checks at both ends of a slab. Where one end must be spent,
// the one that costs less length for more days comes first.
func EndChecks(s slab.Slab, at shop.Shop) []EndCheck {
	out := []EndCheck{}
	for _, end := range []string{"butt", "far"} {
		from := func(p geom.Point) float64 {
			if end == "butt" {
				return p.X
			}
			return s.Length - p.X
		}
		check := EndCheck{End: end}
		for _, f := range s.Flaws {
			if f.Kind != stock.Crack {
				continue
			}
			nearest, farthest := math.Inf(1), 0.0
			for _, p := range f.Line {
				nearest, farthest = min(nearest, from(p)), max(farthest, from(p))
			}
			if nearest > reaching {
				continue
			}
			check.Lost = max(check.Lost, farthest+at.Rules.Get(rule.Squaring))
			for _, v := range fill.Choose(fill.Measure(fill.Site{Flaws: []stock.Flaw{f},
				Outline: slab.Draw(s, at.Species).Show.Ring(), Thickness: s.Thinnest(), Rules: at.Rules}),
				fill.Choice{Resin: "casting"}, at.Air.Temperature, false) {
				for _, o := range v.Options {
					if o.Name == v.Chosen && o.Wait >= check.Gained {
						check.Gained, check.Filler = o.Wait, o.Name
					}
				}
			}
		}
		if check.Lost > 0 {
			out = append(out, check)
		}
	}
	if len(out) == 2 && out[1].Lost/max(out[1].Gained, 1) < out[0].Lost/max(out[0].Gained, 1) {
		out[0], out[1] = out[1], out[0]
	}
	return out
}
