package board

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

// put is a design with a value set by its JSON pointer, as the interface sets it.
func put(t testing.TB, d Design, path string, v float64) Design {
	t.Helper()
	text, err := json.Marshal(d)
	require.NoError(t, err)
	var doc any
	require.NoError(t, json.Unmarshal(text, &doc))
	at := doc
	steps := strings.Split(strings.TrimPrefix(path, "/"), "/")
	for _, s := range steps[:len(steps)-1] {
		switch o := at.(type) {
		case map[string]any:
			require.Contains(t, o, s, path)
			at = o[s]
		case []any:
			i, err := strconv.Atoi(s)
			require.NoError(t, err)
			at = o[i]
		}
	}
	at.(map[string]any)[steps[len(steps)-1]] = v
	text, err = json.Marshal(doc)
	require.NoError(t, err)
	var out Design
	require.NoError(t, json.Unmarshal(text, &out))
	return out
}

func gripOf(t testing.TB, d Design, key string) Grip {
	t.Helper()
	for _, g := range Draw(d, oddWood).Grips(oddWood) {
		if g.Key == key {
			return g
		}
	}
	require.Fail(t, "no grip "+key)
	return Grip{}
}

// gripped are designs of every shape, handle, recess and end.
func gripped() map[string]Design {
	line := []Node{
		{X: -200, Y: -120, Round: 20},
		{X: 200, Y: -100, Run: "arc", Rise: 30},
		{X: 180, Y: 120, Run: "batten", Rise: -12.5},
		{X: 40, Y: 130, Cut: 15, In: 6},
	}
	base := Design{
		Shape: Rectangle, Length: 400, Width: 240, Corner: 20, Neck: 60, NeckLength: 120, Shoulder: 25, Tip: 14,
		Angle: 20, Slant: 4,
		Handle: Handle{Kind: Hole, Diameter: 30, Length: 90, Setback: 45, Offset: 6},
		More: []Handle{
			{Kind: Hole, Diameter: 20, Length: 60, Setback: 45, Far: true, Offset: -20},
			{Kind: CordHole, Diameter: 9, Length: 60, Setback: 60, Local: true, Offset: 5},
		},
		Recesses: []Recess{
			{Kind: "well", X: -40, Y: 10, Length: 90, Width: 60, Depth: 6},
			{Kind: "ring", X: 60, Length: 50, Depth: 3, Radius: 4},
			{Kind: "groove", Depth: 4, Radius: 5, Inset: 12},
		},
		Nodes: line,
	}
	out := map[string]Design{}
	for _, shape := range Shapes {
		d := base
		d.Shape = Shape(shape)
		d.KeepLeft = true
		out[shape] = d
	}
	for _, k := range HandleKinds {
		d := base
		d.Handle.Kind, d.Handle.Turn, d.Handle.Length = k.Kind, 12, 95
		for _, n := range line {
			n.X, n.Y, n.Round, n.Rise, n.Cut, n.In = n.X/10, n.Y/10, n.Round/10, n.Rise/10, n.Cut/10, n.In/10
			d.Handle.Nodes = append(d.Handle.Nodes, n)
		}
		out["handle "+k.Kind] = d
	}
	for i, e := range []End{{Kind: "angle", Angle: -14}, {Kind: "curve", Rise: 12},
		{Kind: "tab", Width: 48, Length: 80, Round: 12}} {
		d := base
		d.Shape, d.Inset, d.HandleEnd, d.FarEnd, d.KeepRight = Plank, 3, e, e, i%2 == 0
		out["end "+e.Kind] = d
	}
	half := base
	half.Shape, half.Half, half.Nodes = Free, true, []Node{{X: 190, Round: 9}, {Y: 90, Cut: 8}, {X: -190}}
	out["half a template"] = half
	cut := base
	cut.AsCut = line
	out["as cut"] = cut
	return out
}

// A grip that is put where it stands changes nothing. Brought elsewhere it sets a
// value within what is drawn, and stands, drawn again, where that value brings it.
func TestGripsStandWhereTheyBringTheirDimension(t *testing.T) {
	for name, d := range gripped() {
		t.Run(name, func(t *testing.T) {
			seen := map[string]bool{}
			for _, g := range Draw(d, oddWood).Grips(oddWood) {
				require.False(t, seen[g.Key], "%s is there twice", g.Key)
				seen[g.Key] = true
				for _, m := range g.Moves {
					assert.InDelta(t, m.Value, m.put(g.At, g.At), 1e-9, "%s %s", g.Key, m.Path)
					assert.True(
						t,
						m.Value >= m.Least-1e-9 && m.Value <= m.Most+1e-9,
						"%s %s: %v of %v to %v",
						g.Key,
						m.Path,
						m.Value,
						m.Least,
						m.Most,
					)
					l := m.Axis.Len()
					if m.About == nil {
						require.Positive(t, l, g.Key)
					}
					for _, by := range []float64{7, -6, 400, -400} {
						to := g.At.Add(m.Axis.Scale(by / max(l, 1e-9)))
						if m.About != nil {
							to = geom.Placement{Angle: by}.Out(g.At.Sub(*m.About)).Add(*m.About)
						}
						v := m.put(g.At, to)
						next := put(t, d, m.Path, v)
						if v == 0 &&
							(strings.HasSuffix(m.Path, "/round") || strings.HasSuffix(m.Path, "/cut") ||
								strings.HasSuffix(m.Path, "/in")) {
							continue // a corner that is sharp again has no such grip
						}
						again := gripOf(t, next, g.Key)
						i := 0
						for again.Moves[i].Path != m.Path {
							i++
						}
						if m.MostAs == nil {
							assert.InDelta(
								t,
								v,
								again.Moves[i].Value,
								0.02*math.Abs(v)+0.6,
								"%s %s by %v: drawn as it was set",
								g.Key,
								m.Path,
								by,
							)
						}
						if math.Abs(by) < 10 && m.About == nil && v != m.Value && v > m.Least && v < m.Most &&
							!crooked[m.Path] &&
							(m.Felt == nil || v != *m.Felt) {
							moved := again.At.Sub(g.At)
							way := m.Axis.Scale(1 / l)
							assert.InDelta(
								t,
								by,
								moved.X*way.X+moved.Y*way.Y,
								0.9,
								"%s %s by %v: it follows the hand",
								g.Key,
								m.Path,
								by,
							)
						}
					}
				}
			}
		})
	}
}

// crooked are the values whose grips do not run straight, or move with others: they
// are told anew while they are dragged.
var crooked = map[string]bool{
	"/shoulder":        true,
	"/angle":           true,
	"/handleEnd/angle": true,
	"/farEnd/angle":    true,
	"/length":          true,
}

// What does not fit is drawn clamped, and its grip stands on what is drawn.
func TestGripsAreClampedAsTheDrawingIs(t *testing.T) {
	d := Design{Shape: Rectangle, Length: 360, Width: 180, Corner: 500, Handle: Handle{Kind: NoHandle}}
	g := gripOf(t, d, "corner")
	assert.Equal(t, geom.Point{X: 90, Y: 90}, g.At)
	assert.Equal(t, 90.0, g.Moves[0].Value)
	assert.Equal(t, 90.0, g.Moves[0].Most)
	d.Shape, d.Neck, d.NeckLength, d.Shoulder, d.Corner = Paddle, 50, 120, 200, 20
	assert.Equal(t, 60.0, gripOf(t, d, "shoulder").Moves[0].Value, "half the neck's length")
	d.Shape, d.Tip = Teardrop, 200
	tip := gripOf(t, d, "tip")
	_, off := Draw(d, nil).Outline.Nearest(tip.At)
	assert.Less(t, off, 200.0)
	assert.Less(t, tip.Moves[0].Value, 90.0)
	for _, shape := range []Shape{Rectangle, Square, Paddle, HalfMoon, Bladed} {
		d.Shape, d.Corner, d.Angle = shape, 900, 60
		s := Draw(d, nil)
		g := gripOf(t, d, "corner")
		_, off := s.Outline.Nearest(g.At)
		assert.Less(t, off, 3.0, "the corner's grip of a %s lies on its outline", shape)
	}
}

func TestAFullRoundStaysOneUntilItsGripLeavesIt(t *testing.T) {
	d := Design{
		Shape:      Paddle,
		Length:     400,
		Width:      240,
		Corner:     20,
		Neck:       60,
		NeckLength: 120,
		Shoulder:   25,
		Handle:     Handle{Kind: NoHandle},
	}
	g := gripOf(t, d, "tip")
	m := g.Moves[0]
	assert.Equal(t, 200-30.0, g.At.X)
	assert.Zero(t, m.put(g.At, geom.Point{X: 150, Y: -30}), "what is left out is the full round")
	assert.Equal(t, 10.0, m.put(g.At, geom.Point{X: 190, Y: -30}))
}

func TestAHandleNearTheCentreLineIsFelt(t *testing.T) {
	d := gripped()["rectangle"]
	g := gripOf(t, d, "handle-0")
	require.Len(t, g.Moves, 2)
	assert.Equal(t, 50.0, g.Moves[0].put(g.At, geom.Point{X: 150, Y: 1.2}))
	assert.Zero(t, g.Moves[1].put(g.At, geom.Point{X: 150, Y: 1.2}))
}

func TestPointsMayBeTakenOut(t *testing.T) {
	for least, half := range map[int]bool{3: false, 2: true} {
		for n := least; n <= least+1; n++ {
			d := Design{Shape: Free, Half: half, Length: 300, Width: 200, Handle: Handle{Kind: NoHandle}}
			for i := range n {
				sin, cos := math.Sincos(math.Pi * float64(i) / float64(n))
				d.Nodes = append(d.Nodes, Node{X: 150 * cos, Y: 100*sin + 1})
			}
			assert.Equal(t, n > least, gripOf(t, d, "node-0").Remove, fmt.Sprint(half, n))
		}
	}
}

// put is, as a page works it out, the value when the grip is brought from where it stands to another place;
// unmoved along its axis it stays as it is.
func (m Motion) put(at, to geom.Point) float64 {
	const near = 1.5
	if m.About != nil {
		a, b := at.Sub(*m.About), to.Sub(*m.About)
		v := m.Value + math.Round((math.Atan2(b.Y, b.X)-math.Atan2(a.Y, a.X))*180/math.Pi)
		return math.Mod(math.Mod(v+180, 360)+360, 360) - 180
	}
	d := to.Sub(at)
	by := (d.X*m.Axis.X + d.Y*m.Axis.Y) / (m.Axis.X*m.Axis.X + m.Axis.Y*m.Axis.Y)
	if by == 0 {
		return m.Value
	}
	v := m.Value + by
	if m.Felt != nil && math.Abs(v-*m.Felt) < near {
		v = *m.Felt
	}
	v = min(m.Most, max(m.Least, math.Round(v/m.Step)*m.Step))
	if m.MostAs != nil && v >= m.Most {
		return *m.MostAs
	}
	return v
}
