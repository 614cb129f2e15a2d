package reckon

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/stock"
)

// What is sunk, shaped and fitted becomes steps with their minutes.
func TestTheShapeFlowsIntoThePlan(t *testing.T) {
	j := sample()
	d := &j.Boards[0].Design
	d.Handle = board.Handle{Kind: "heart", Diameter: 40, Length: 42, Setback: 60}
	d.Recesses = []board.Recess{{Kind: "well", Length: 120, Width: 80, Depth: 6, Radius: 6, X: -60}}
	d.Edges = []board.EdgeAt{{Where: "left", Edge: board.Edge{Kind: "chamfer", Size: 5}}}
	j.Boards[0].Fit.Pulls = &fitting.Pull{Spacing: 64, Setback: 25, Foot: 4, Screw: 4}
	r := must(t, j).Boards[0]
	steps := map[string]plan.Dated{}
	for _, s := range r.Course.Steps {
		steps[s.Key] = s
	}
	for _, key := range []string{"bore", "inner-cuts", "outline", "recess-test", "recess", "edges", "fit"} {
		require.Contains(t, steps, key)
	}
	const strips = 9 // of a bit of 12 over a width of 80: ceil(68/9.6) + 1, one pass deep
	share := (120*80 - (4-math.Pi)*36) / (120 * 80)
	assert.InDelta(t, 8+strips*120*share/1500, steps["recess"].Usual, 0.01)
	assert.Contains(t, steps["bore"].Detail, "entry hole inside the waste")
	assert.Contains(t, steps["fit"].Title, "pulls")
	assert.NotEmpty(t, r.Cautions["recess"])
	var titles []string
	for _, c := range r.Cuts {
		titles = append(titles, c.Title)
	}
	assert.Contains(t, titles, "Bore an entry hole for the heart-shaped hole")
	assert.Less(t, figure(t, r, "shape.mass").Value, figure(t, must(t, sample()).Boards[0], "shape.mass").Value+0.2)

	require.Len(t, r.Shape.Recesses, 1)
	assert.Len(t, r.Shape.Sections, 2)
	assert.Len(t, r.Shape.Entries, 1)
	assert.True(t, strings.HasSuffix(r.Shape.CutLine, "z"))
	assert.InDelta(t, 0.8, r.Shape.Allowance, 1e-9, "for all that a band saw wanders")
	assert.InDelta(t, 0, figure(t, r, "handle.off").Value, 1e-9)
}

// A remedy that helps one check and spoils another says so, and only then.
func TestARemedySaysWhatItSpoils(t *testing.T) {
	deep := sample()
	d := &deep.Boards[0].Design
	d.Handle.Kind, d.Width, d.Length = board.NoHandle, 190, 380
	d.Recesses = []board.Recess{{Kind: "well", Length: 120, Width: 80, Radius: 6, Depth: 12, Juice: 125}}
	for name, j := range map[string]Scene{"deep": deep, "crowded": crowded()} {
		r := asked(t, j, Request{Weigh: j.Boards[0].ID}).Boards[0]
		said := 0
		for _, v := range r.Verdicts {
			for _, remedy := range v.Remedies {
				next := j
				next.Boards = slices.Clone(j.Boards)
				require.NoError(t, remedy.Patch.Apply(&next.Boards[0]), remedy.Label)
				after := must(t, next).Boards[0]
				worse := slices.ContainsFunc(after.Verdicts, func(w craft.Verdict) bool {
					was := slices.IndexFunc(r.Verdicts, func(o craft.Verdict) bool { return key(o) == key(w) })
					return was < 0 && w.Level != craft.Good || was >= 0 && w.Level.Rank() > r.Verdicts[was].Level.Rank()
				})
				later := after.Course.Late && !r.Course.Late ||
					after.Course.Finish.Sub(*r.Course.Finish) >= 24*time.Hour
				assert.Equal(
					t,
					worse || later,
					remedy.Worsens != "",
					"%s, %s: %s: %q",
					name,
					v.Check,
					remedy.Label,
					remedy.Worsens,
				)
				if remedy.Worsens != "" {
					said++
				}
			}
		}
		assert.Positive(t, said, "%s: here one remedy spoils something", name)
	}
}

// A remedy that takes days says so, and whether the date is lost by it.
func TestARemedySaysWhatItCostsInDays(t *testing.T) {
	j := sample()
	b := &j.Boards[0]
	b.Design.Shape, b.Design.Length, b.Design.Width, b.Design.Neck, b.Design.NeckLength,
		b.Design.Thickness = board.Paddle, 380, 190, 40, 110, 16
	b.Design.Handle.Kind = "none"
	neck := b.Placement.Out(geom.Point{X: 110})
	j.Slab.Flaws = []stock.Flaw{
		{
			ID:      "check",
			Kind:    stock.Crack,
			Through: true,
			Width:   3,
			Line:    []geom.Point{{X: neck.X, Y: neck.Y - 10}, {X: neck.X + 1, Y: neck.Y + 17}},
		},
	}
	b.Fill.Fillers = map[string]string{"check": "putty"}
	b.Give.Due = ""
	worsens := func(ask Request) string {
		for _, v := range asked(t, j, ask).Boards[0].Verdicts {
			for _, r := range v.Remedies {
				if v.Check == "neck" && strings.HasPrefix(r.Label, "Fill the ") {
					return r.Worsens
				}
			}
		}
		return "not offered"
	}
	weigh := Request{Weigh: b.ID}
	assert.Contains(t, worsens(weigh), "days later")
	for day := now.AddDate(0, 0, 4); ; day = day.AddDate(0, 0, 1) { // the first day that is kept
		b.Give.Due = day.Format(time.DateOnly)
		if !must(t, j).Boards[0].Course.Late {
			break
		}
	}
	assert.Contains(t, worsens(weigh), "too late for its day")
	assert.Equal(t, "not offered", worsens(Request{}), "only where it is asked for")
}

// Boards of a set are measured where they nest, wherever they lie on the slab.
func TestASetIsMeasuredWhereItNests(t *testing.T) {
	j := sample()
	whole := board.Draw(
		board.Design{
			Shape:  board.Rectangle,
			Length: 360,
			Width:  180,
			Corner: 15,
			Handle: board.Handle{Kind: "none"},
			Edge:   board.Edge{Kind: "none"},
		},
		nil,
	)
	parts, err := board.Split(
		whole,
		[]board.Node{{X: -200, Y: 0, Kind: "smooth"}, {X: 0, Y: 25, Kind: "smooth"}, {X: 200, Y: 0, Kind: "smooth"}},
		0.8,
	)
	require.NoError(t, err)
	a, b := j.Boards[0], j.Boards[0]
	a.Design, b.Design = parts[0].Design, parts[1].Design
	b.ID, b.Name = "two", "Its mate"
	a.Placement, b.Placement = geom.Placement{X: 220}, geom.Placement{X: 640, Angle: 3}
	at := geom.Placement{X: parts[1].At.X - parts[0].At.X, Y: parts[1].At.Y - parts[0].At.Y}
	a.Mates = []board.Mate{{Board: "two", At: at, Gap: 0.8}}
	j.Boards = []Board{a, b}
	out := must(t, j)
	require.NotNil(t, verdict(out.Boards[0], "mate"))
	assert.Equal(t, craft.Good, verdict(out.Boards[0], "mate").Level)
	require.Len(t, out.Boards[0].Shape.Set, 1)
	assert.Equal(t, "Its mate", out.Boards[0].Shape.Set[0].Name)
	a.Mates[0].At.Y *= 0.9
	j.Boards[0] = a
	assert.Equal(t, craft.Stop, verdict(must(t, j).Boards[0], "mate").Level)
	a.Mates[0].At.Y /= 0.9
	j.Boards = []Board{a}
	assert.Nil(t, verdict(must(t, j).Boards[0], "mate"), "a board that is not there is not measured")
	j.Apart = []Apart{{Board: b, Slab: j.Slab}}
	assert.Equal(t, craft.Good, verdict(must(t, j).Boards[0], "mate").Level, "one on another slab is")
	j.Apart[0].Board.Design.Width = 1
	_, err = Reckon(j, Request{})
	assert.ErrorContains(t, err, "apart[0].board.design.width")
}

// The outline as it was cut takes the place of the planned one everywhere.
func TestEverythingReckonsOnFromTheCut(t *testing.T) {
	j := sample()
	planned := must(t, j).Boards[0]
	j.Boards[0].Design.AsCut = []board.Node{
		{X: -180, Y: -90},
		{X: 180, Y: -90},
		{X: 180, Y: 90},
		{X: 0, Y: 40},
		{X: -180, Y: 90},
	}
	cut := must(t, j).Boards[0]
	assert.NotEmpty(t, cut.Shape.Planned)
	assert.Less(t, figure(t, cut, "shape.area").Value, figure(t, planned, "shape.area").Value-40)
	assert.Less(t, figure(t, cut, "shape.mass").Value, figure(t, planned, "shape.mass").Value)
	assert.NotNil(t, verdict(cut, "inside-corner"), "the dent is judged like any hollow")
}
