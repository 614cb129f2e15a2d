package reckon

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/milling"
	"idletimber/craft/sanding"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

var boards = flag.Int("boards", 50, "how many random boards are tried")

// luck draws what a random board is made of.
type luck struct{ *rand.Rand }

func (l luck) from(lo, hi float64) float64 {
	return float64(int((lo+l.Float64()*(hi-lo))*10)) / 10
}

func (l luck) chance(share float64) bool { return l.Float64() < share }

func pick[T any](l luck, of ...T) T { return of[l.IntN(len(of))] }

// anyScene is a slab with a board of any kind on it, often with something wrong.
func anyScene(seed uint64) Scene {
	l := luck{rand.New(rand.NewPCG(seed, 1))}
	s := sample()
	s.Slab.LiveLeft, s.Slab.LiveRight = l.chance(0.5), l.chance(0.5)
	s.Slab.Hollow, s.Slab.Wind = l.from(0, 4), l.from(0, 4)
	s.Slab.Species = pick(l, "Sugar maple", "Pear", "Black walnut", "Hornbeam", s.Slab.Species)
	s.Slab.Flaws = l.flaws()
	b := &s.Boards[0]
	b.Placement = geom.Placement{
		X: l.from(150, 750), Y: l.from(-40, 40), Angle: pick(l, 0, 0, 0, l.from(-30, 30), 90, 180), Flip: l.chance(0.3),
	}
	b.Design = l.design()
	b.Cut.Snipe, b.Cut.FlattenWhole = pick(l, "allow", "allow", "pieces", "nose to tail"), l.chance(0.3)
	b.Cut.Saw, b.Cut.Bark = pick(l, tool.SawNames()...), pick(l, "", "inner", "kept")
	b.Cut.Trim = l.chance(0.15)
	b.Cut.Method = pick(l, append([]string{"", "", "", ""}, milling.Methods...)...)
	b.Cut.Faces, b.Cut.Bite = pick(l, "", "", "", stock.FlatOnly, stock.SandOnly), pick(l, 0, 0, 0, l.from(0.1, 4))
	b.Fill.Resin = pick(l, fill.Kinds()...)
	b.Finish.School = pick(l, "oil", "oil bath", "oil then paste", "paste alone", "hard wax", "curing oil")
	b.Sand.Last, b.Sand.Start = pick(
		l,
		180,
		220,
		320,
		400,
	), pick(
		l,
		"",
		"planer",
		"band saw",
		"hand plane",
		"sanded P120",
	)
	b.Sand.Raise = pick(l, sanding.Once, "twice", "after every grit", "never")
	other := luck{rand.New(rand.NewPCG(seed, 2))} // so that the rest of a board stays what it was
	b.Finish.List, b.Sand.Own = other.acts(), other.surfaces()
	b.Sand.Corners, b.Finish.Ratio = other.chance(0.3), pick(other, 1.0, 2, 3, 4)
	if other.chance(0.2) {
		b.Sand.Raise, b.Sand.Wet = sanding.Picked, []int{pick(other, 80, 120, 180, 220, 400)}
	}
	if other.chance(0.5) {
		b.Give.Due = pick(other, "2031-07-20", "2031-12-20")
	}
	b.Fit = l.fittings()
	b.Give.Use, b.Give.People = pick(l, "nibbles", "starter", "main"), 1+l.IntN(12)
	s.Shop.Air.Temperature = pick(l, 12.0, 16, 20, 20, 27, 34)
	s.Shop.Kit.Blades = pick(l, s.Shop.Kit.Blades, []tool.Blade{{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 25}}, nil)
	if l.chance(0.3) {
		s.Shop.Kit = withPlaner(s.Shop.Kit, pick(l, 0.0, 150, 254))
	}
	for _, k := range tool.Kinds {
		if l.chance(0.1) {
			s.Shop.Kit = s.Shop.Without(k.Kind)
		}
	}
	if l.chance(0.4) {
		two := NewBoard("two", "Neighbour", 900)
		two.Placement.X, two.Design.Length = pick(l, 120.0, 780), 160
		s.Boards = append(s.Boards, two)
	}
	return s
}

// acts is a finish that was edited, of anything in any order; none for a school's.
func (l luck) acts() (out []finish.Act) {
	if l.chance(0.5) {
		return nil
	}
	for range 1 + l.IntN(4) {
		p := pick(l, finish.Products...)
		out = append(out, finish.Act{
			Product: p.Name, Soak: pick(l, p.Soak, 300, 720), Wipe: l.chance(0.7), Buff: l.chance(0.3),
			Wait: pick(l, 0, p.Wait, 60), Sand: pick(l, 0, 0, 320, 1200), Bath: l.chance(0.2), Early: l.chance(0.2),
			On: pick(l, nil, nil, []string{finish.Cavities}, []string{finish.ShowFace, finish.Edges}),
		})
	}
	return out
}

// surfaces are some that are sanded by themselves.
func (l luck) surfaces() (out []sanding.Own) {
	for _, name := range []string{board.ShowFace, board.SawnEdges, "round-over", "floor of well"} {
		if l.chance(0.25) {
			out = append(out, sanding.Own{
				Surface: name, Tool: pick(l, append(sanding.ToolNames(), "", "")...), Hand: l.IntN(3),
				Start: pick(l, "", "", "sanded P120", "washed out"), Last: pick(l, 0, 0, 180, 320),
				Ladder: pick(l, nil, nil, []int{80, 220}, []int{120, 150, 220}),
			})
		}
	}
	return out
}

func (l luck) flaws() (out []stock.Flaw) {
	for i := range l.IntN(4) {
		at := geom.Point{X: l.from(60, 840), Y: l.from(-90, 90)}
		f := stock.Flaw{
			ID: fmt.Sprint("f", i), Kind: pick(l, stock.Crack, stock.Knot, stock.Dent, stock.Worm, stock.Bark),
			State: pick(l, "missing", "loose", "sound"), Centre: at, A: l.from(3, 25), B: l.from(3, 15),
			Depth: l.from(1, 25), Width: l.from(0.3, 8), Under: l.chance(0.4), Through: l.chance(0.2),
			Count: 1 + l.IntN(9), Diameter: l.from(1, 4), Wish: pick(l, "", "", stock.KeepOut, stock.Featured),
		}
		if f.Kind == stock.Crack {
			f.Line = []geom.Point{at, {X: at.X + l.from(10, 120), Y: at.Y + l.from(-30, 30)}}
		}
		if f.Kind == stock.Bark {
			f.Line = geom.Bounds{MinX: at.X, MinY: at.Y, MaxX: at.X + l.from(10, 60), MaxY: at.Y + l.from(5, 30)}.Ring()
		}
		out = append(out, f)
	}
	return out
}

func (l luck) design() board.Design {
	d := board.Design{
		Shape:  board.Shape(pick(l, board.Shapes...)),
		Length: l.from(150, 520), Width: l.from(90, 260), Corner: l.from(0, 40), Thickness: pick(l, 0, l.from(8, 30)),
		NeckLength: l.from(80, 140), Shoulder: l.from(0, 40), Tip: l.from(0, 40), Angle: l.from(-30, 30),
		KeepLeft: l.chance(0.6), KeepRight: l.chance(0.3), Slant: pick(l, 0, 0, 0, l.from(0, 8)),
		Handle: l.handle(), Edge: l.edge(),
	}
	d.Neck = min(d.Width, l.from(34, 90))
	d.NeckLength = min(d.NeckLength, d.Length-40)
	if d.Shape == board.Plank {
		d.HandleEnd = pick(l, board.End{}, board.End{Kind: "angle", Angle: 15}, board.End{Kind: "curve", Rise: 20},
			board.End{Kind: "tab", Width: 50, Length: 80, Round: l.from(0, 20)})
	}
	if d.Shape == board.Free {
		x, y := d.Length/2, d.Width/2
		d.Nodes = []board.Node{
			{X: -x, Y: -y, Round: 10}, {X: x / 3, Y: -y, Round: l.from(0, 30)},
			{X: x / 2, Y: -y / 3, Round: l.from(0, 20)},
			{X: x, Y: -y / 3, Round: 8}, {X: x, Y: y / 3, Round: 8}, {X: x / 2, Y: y / 3, Round: l.from(0, 20)},
			{X: x / 3, Y: y, Round: l.from(0, 30)}, {X: -x, Y: y, Round: 10},
		}
	}
	for range l.IntN(3) {
		if h := l.handle(); h.Kind != board.Bevel {
			d.More = append(d.More, h)
		}
	}
	for range l.IntN(3) {
		d.Edges = append(d.Edges, board.EdgeAt{
			Where: pick(l, "left", "right", "handle end", "far end", "holes"), Edge: l.edge(),
		})
	}
	for range l.IntN(3) {
		d.Recesses = append(d.Recesses, l.recess())
	}
	return d
}

func (l luck) handle() board.Handle {
	h := board.Handle{
		Kind: pick(l, board.NoHandle, board.Hole, board.Slotted, board.HeartCut, board.DropCut, board.Crescent,
			board.Notch, board.Bevel, board.CordHole),
		Diameter: l.from(8, 45), Length: l.from(30, 110), Setback: l.from(15, 80),
		Offset: pick(l, 0, 0, l.from(-30, 30)),
		Far:    l.chance(0.2), Local: l.chance(0.3), Right: l.chance(0.5),
	}
	h.Length = max(h.Length, h.Diameter)
	if h.Kind == board.Bevel {
		h.Flat, h.Angle, h.Where, h.Both = l.from(0, 14), l.from(10, 60), pick(l, "", "ends", "sides"), l.chance(0.3)
	}
	return h
}

func (l luck) edge() board.Edge {
	return board.Edge{
		Kind: pick(l, "none", "eased", "round-over", "chamfer", "bevel"), Size: l.from(0.5, 22),
		Angle: pick(l, 0, 0, l.from(20, 80)), Face: pick(l, "", "", "show", "under"),
	}
}

func (l luck) recess() board.Recess {
	r := board.Recess{
		Kind: pick(l, "well", "bowl", "slope", "groove", "ring"), X: l.from(-120, 80), Y: l.from(-40, 40),
		Length: l.from(30, 180), Width: l.from(20, 120), Depth: l.from(1, 14), Radius: l.from(1, 12),
		Cove:  l.from(0, 5),
		Inset: l.from(3, 30), Under: l.chance(0.3), Juice: pick(l, 0, l.from(5, 80)),
	}
	r.Deep = r.Depth + l.from(0, 6)
	if r.Kind == "groove" || r.Kind == "ring" {
		r.Radius = max(1, r.Radius)
	}
	return r
}

func (l luck) fittings() (c fitting.Choice) {
	c.Feet, c.Cord = l.chance(0.3), l.chance(0.2)
	if l.chance(0.2) {
		c.Pulls = &fitting.Pull{Both: l.chance(0.5), Machine: l.chance(0.5), Spacing: l.from(40, 130),
			Setback: l.from(8, 60), Foot: l.from(2, 8), Countersink: l.from(0, 12), Screw: l.from(3, 6)}
	}
	if l.chance(0.1) {
		c.Bolted = &fitting.Bolted{Width: 24, Height: 28, Groove: l.from(2, 10), Bolt: 5, Sunk: l.from(0, 8),
			From: l.from(20, 60)}
	}
	if l.chance(0.1) {
		c.Cleat = &fitting.Cleat{Height: l.from(10, 60), Width: l.from(8, 40), Own: l.chance(0.5), Screw: 4}
	}
	if l.chance(0.2) {
		c.Slicer = &fitting.Slicer{Left: l.chance(0.5), From: l.from(40, 120), Bore: l.from(4, 8), Below: l.from(3, 16),
			Deep: l.from(20, 140), Gap: l.from(5, 20), Wire: 0.8, Kerf: 2, Shim: pick(l, 0, 0, l.from(1, 12)),
			Near: pick(l, 0, 0, l.from(3, 14)), FromHandle: l.chance(0.3)}
	}
	if l.chance(0.15) {
		c.Coin = &fitting.Coin{Diameter: l.from(12, 40), Deep: l.from(1, 12), X: l.from(-150, 150), Y: l.from(-60, 60),
			Show: l.chance(0.2)}
	}
	if c.Bolted != nil {
		c.Bolted.Straddles = l.chance(0.3)
	}
	if c.Cleat != nil {
		c.Cleat.Worktop, c.Cleat.TopDepth = pick(l, 0, l.from(10, 50)), pick(l, 0, l.from(200, 600))
	}
	c.When, c.MarkEnd = pick(l, "", "", "before", "between"), pick(l, "", "far end", "handle end")
	c.CordThick, c.CordSoft = pick(l, 0, l.from(2, 12)), l.chance(0.3)
	return c
}

// stops counts the stops of each check.
func stops(r Reckoned) map[string]int {
	out := map[string]int{}
	for _, v := range r.Verdicts {
		if v.Level == craft.Stop {
			out[v.Check]++
		}
	}
	return out
}

// Every remedy that is offered helps the check that it is offered for, and brings no
// stop that was not there: tried on boards of any kind, on damaged wood, with neighbours.
func TestEveryRemedyHelpsAndBringsNoStop(t *testing.T) {
	tried := 0
	for seed := range uint64(*boards) {
		s := anyScene(seed)
		require.Empty(t, s.Check(), seed)
		r := asked(t, s, Request{Weigh: s.Boards[0].ID}).Boards[0]
		was := stops(r)
		for _, v := range r.Verdicts {
			for _, remedy := range v.Remedies {
				next := s
				next.Boards = slices.Clone(s.Boards)
				switch remedy.On {
				case craft.OnBoard:
					require.NoError(t, remedy.Patch.Apply(&next.Boards[0]))
				case craft.OnShop:
					require.NoError(t, remedy.Patch.Apply(&next.Shop))
				case craft.OnPiece:
					piece := *s.Slab
					next.Slab = &piece
					require.NoError(t, remedy.Patch.Apply(next.Slab))
				}
				require.Empty(t, next.Check(), "%d, %s: %q", seed, v.Check, remedy.Label)
				tried++
				after := must(t, next).Boards[0]
				for _, w := range after.Verdicts {
					assert.False(t, key(w) == key(v) && w.Level.Rank() >= v.Level.Rank(),
						"%d: %s: %q left it at %g", seed, key(v), remedy.Label, w.Figure.Value)
				}
				for check, n := range stops(after) {
					assert.LessOrEqual(t, n, was[check], "%d: %s: %q brings a stop: %s", seed, v.Check,
						remedy.Label, check)
				}
			}
		}
	}
	t.Log(tried, "remedies tried")
	assert.Greater(t, tried, *boards)
}

// A board of the size that people ask for serves them, whatever its outline.
func TestTheSizeTheyAskForServesThem(t *testing.T) {
	sized := 0
	for seed := range uint64(*boards) {
		s := anyScene(seed)
		s.Boards = s.Boards[:1]
		d := &s.Boards[0].Design
		if d.Shape == board.Plank || s.Check() != nil { // a plank is as wide as its wood
			continue
		}
		r := must(t, s).Boards[0]
		if len(r.Size.Patch) == 0 {
			continue
		}
		require.NoError(t, r.Size.Patch.Apply(&s.Boards[0]))
		require.Empty(t, s.Check())
		after := must(t, s).Boards[0]
		served := figure(t, after, "give.servings").Value
		assert.GreaterOrEqual(t, served, float64(s.Boards[0].Give.People), "%d: %s %s", seed, d.Shape, d.Handle.Kind)
		sized++
	}
	assert.Greater(t, sized, *boards/3)
}
