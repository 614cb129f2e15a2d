package reckon

import (
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
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
	Boards  []OnSlab         `json:"boards"`
	Level   craft.Level      `json:"level"`
	Cuts    []layout.SlabCut `json:"cuts"`
	Figures []craft.Figure   `json:"figures" doc:"Yield, and the waste by kind; where what is left is asked for"`
	Offcuts []Offcut         `json:"offcuts" doc:"Where they are asked for"`
	Twins   []OnSlab         `json:"twins" doc:"The twins of its boards on the other leaf"`
	Wishes  []Granted        `json:"wishes" doc:"What is wished for on the slab and no board does"`
}

// OnSlab is one board on a slab.
type OnSlab struct {
	ID       string          `json:"id"`
	Name     string          `json:"name"`
	Path     string          `json:"path" doc:"In the board's own frame"`
	Holes    []string        `json:"holes"`
	Box      [4]float64      `json:"box" doc:"Bounds in the board's frame: min x, min y, max x, max y"`
	Level    craft.Level     `json:"level"`
	Verdicts []craft.Verdict `json:"verdicts" doc:"The gravest first"`
	Cents    float64         `json:"cents" doc:"Its share of the slab's price"`
}

// Granted is a wish for a place on the slab that is not granted.
type Granted struct {
	ID      string `json:"id"`
	Finding string `json:"finding"`
}

// LayOut judges where the boards of a job lie on their slab. The error is as of
// Reckon.
func LayOut(j Job) (LaidOut, error) {
	b, shaped, err := set(j)
	if err != nil {
		return LaidOut{}, err
	}
	if j.Slab == nil {
		return LaidOut{}, craft.Problems{{Field: "slab", Wrong: "there is no slab", Right: "give the slab that the boards lie on"}}
	}
	out := LaidOut{Boards: []OnSlab{}, Level: craft.Good, Figures: []craft.Figure{}, Offcuts: []Offcut{}, Twins: []OnSlab{}, Wishes: []Granted{}}
	var cut []layout.Board
	for i, d := range j.Boards {
		s := shaped[i]
		place := b.place(d)
		box := s.Outline.Bounds()
		on := OnSlab{ID: d.ID, Name: d.Name, Path: s.Path.ToSVG(), Holes: []string{}, Box: [4]float64{box.MinX, box.MinY, box.MaxX, box.MaxY}}
		for _, h := range s.HolePaths {
			on.Holes = append(on.Holes, h.ToSVG())
		}
		outline := neighbour(d, s).Outline
		blank := place.Blank(outline)
		verdicts := place.Check(s)
		r := Reckoned{Blank: blank}
		r.Budget = b.budget(d, blank, d.Cut.FlattenWhole, 0)
		c := b.conditions(d, s, r)
		c.Bare = true
		for _, v := range board.CheckWhereLaid(s, c) {
			if v.Stage == craft.Layout {
				verdicts = append(verdicts, v)
			}
		}
		on.Verdicts = gravestFirst(verdicts)
		on.Level = craft.Worst(on.Verdicts)
		if b.laid > 0 {
			on.Cents = b.wood.Cost * outline.Area() / b.laid
		}
		if on.Level.Rank() > out.Level.Rank() {
			out.Level = on.Level
		}
		out.Boards = append(out.Boards, on)
		var bored []layout.Cut
		for _, k := range place.Cuts(s, blank) {
			if k.Tool == "drill" {
				bored = append(bored, k)
			}
		}
		cut = append(cut, layout.Board{ID: d.ID, Name: d.Name, Outline: outline, Blank: blank, Saw: d.Cut.Saw, Sawn: s.Outline.Perimeter() - s.Natural(), Bored: bored})
	}
	p := layout.Place{Wood: b.wood, Usable: b.usable, Shop: j.Shop}
	out.Cuts = layout.CutList(p, cut)
	if j.Leftovers {
		rings, under := b.offcuts(shaped)
		kept := 0.0
		for i, r := range rings {
			o := offcut(r, under[i], j.Shop.Rules)
			out.Offcuts = append(out.Offcuts, o)
			if o.Keep {
				kept += r.Area()
				out.Offcuts[i].Holds = b.held(r)
			}
		}
		out.Figures = b.wasted(cut, kept)
	}
	out.Wishes = append(out.Wishes, b.ungranted(shaped)...)
	out.Twins, err = j.twins()
	for _, o := range out.Twins {
		if o.Level.Rank() > out.Level.Rank() {
			out.Level = o.Level
		}
	}
	return out, err
}

// twins judges the twins of the job's boards where they lie on the other leaf.
func (j Job) twins() ([]OnSlab, error) {
	out := []OnSlab{}
	if j.Leaf == nil {
		return out, nil
	}
	there := Job{Schema: j.Schema, Now: j.Now, Slab: &j.Leaf.Slab, Taken: j.Leaf.Taken, Shop: j.Shop}
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
	laid, err := LayOut(there)
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
	{"soft rectangle", board.Design{Shape: board.Rectangle, Length: 200, Width: 140, Handle: board.Handle{Kind: "none"}}, true, 60},
	{"round", board.Design{Shape: board.Circle, Length: 100, Width: 100, Handle: board.Handle{Kind: "none"}}, false, 60},
	{"paddle", board.Design{Shape: board.Paddle, Length: 300, Width: 120, Corner: 20, Neck: 36, NeckLength: 100, Shoulder: 18, Handle: board.Handle{Kind: "none"}}, false, 180},
}

const offcutSteps = 14

// held lists what smaller boards an offcut still holds clear of its flaws, and
// which of the maker's own shapes.
func (b *bench) held(offcut geom.Ring) (out []Held) {
	left := room{sheet: geom.NewIndex(offcut.Simplified(0.5))}
	for _, f := range b.wood.Flaws {
		if f.Sound() || f.Wish == stock.Fill {
			continue
		}
		for _, at := range f.Sections() {
			left.holes = append(left.holes, geom.NewIndex(at.Footprint().Dense(3)))
		}
	}
	for _, o := range small {
		if c := left.biggest(o.design, o.free, nil, offcutSteps); c.Area > 0 && c.Design.Length >= o.least {
			out = append(out, Held{Name: o.name, Length: c.Design.Length, Width: c.Design.Width, Path: c.Path, At: c.Placement})
		}
	}
	for _, n := range b.job.Shapes {
		if n.Design.Shape == board.Plank {
			continue // it follows the wood
		}
		s := board.Draw(n.Design, nil)
		if at, ok := left.place(s.Outline); ok {
			box := s.Outline.Bounds()
			out = append(out, Held{Name: n.Name, Length: box.MaxX - box.MinX, Width: box.MaxY - box.MinY, Path: s.Path.ToSVG(), At: at, Own: true})
		}
	}
	return out
}

// wasted is what becomes of the slab, by kind.
func (b *bench) wasted(boards []layout.Board, kept float64) []craft.Figure {
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
	snipe = min(snipe, max(0, whole-laid-dust-kept))
	figure := func(key, label string, value float64, unit craft.Unit, formula string, rule bool) craft.Figure {
		return craft.Figure{Key: "slab." + key, Stage: craft.Layout, Label: label, Value: value, Unit: unit, Formula: formula, Source: "measured on the drawing", Rule: rule,
			Terms: []craft.Term{{Name: "show face", Value: whole / cm2, Unit: "cm²"}, {Name: "boards", Value: laid / cm2, Unit: "cm²"}}}
	}
	return []craft.Figure{
		figure("yield", "Of the slab in boards", 100*laid/max(whole, 1), craft.Percent, "boards ÷ show face", false),
		figure("kept", "Back on the rack as offcuts", kept/cm2, "cm²", "offcuts as wide as is worth keeping", true),
		figure("dust", "Sawn to dust", dust/cm2, "cm²", "length of the outlines × kerf", true),
		figure("ends", "Squared and sniped off, about", snipe/cm2, "cm²", "squaring and snipe of each blank × width of the slab there", true),
		figure("scrap", "Scrap about the boards", max(0, whole-laid-dust-kept-snipe)/cm2, "cm²", "what is left of the face", false),
	}
}

// ungranted lists what is wished for on the slab and no board does.
func (b *bench) ungranted(shaped []board.Shaped) (out []Granted) {
	touches := func(print geom.Ring) (within, over bool) {
		for i, s := range shaped {
			in := 0
			for _, q := range print {
				if s.Outline.Contains(b.job.Boards[i].Placement.In(q)) {
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
			out = append(out, Granted{f.ID, "The " + f.Name() + " that you wish to show lies in the waste"})
		}
	}
	for _, f := range b.wood.Features {
		if f.Wish == "" {
			continue
		}
		if within, over := touches(f.Footprint()); !over || f.Wish == stock.KeepInside && !within {
			out = append(out, Granted{f.ID, "No board holds the " + f.Kind + " as you wish"})
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
			for _, v := range fill.Choose(fill.Measure(fill.Site{Flaws: []stock.Flaw{f}, Outline: slab.Draw(s, at.Species).Show.Ring(), Thickness: s.Thinnest(), Rules: at.Rules}), fill.Choice{Resin: "casting"}, at.Air.Temperature, false) {
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
