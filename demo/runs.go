package demo

import (
	"context"
	"time"

	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/run"
	"idletimber/craft/slab"
	"idletimber/store"
)

// The slabs of the runs.
const (
	supperSlab = "Orchard pear, second slab"
	winterSlab = "Plane bough, last winter"
)

// ForRuns are the slabs whose boards are made together: three that are half done, and three that were given away, of
// which one has come back.
func ForRuns(now time.Time) []Piece {
	pear := slab.Slab{
		Name: supperSlab, Species: "Pear", Length: 1120, Show: edge(0, 88, -86, 1120, 90, -88),
		Readings: thick(27.5, 27, 27.2), RingAngle: 40, PriceCents: 3400, Moisture: readings(now, 9.4, 9.2, 9.1),
		Notes: "From the tree by the orchard gate, for those who pick there.",
	}
	bough := slab.Slab{
		Name: winterSlab, Species: "London plane", Length: 1060, Show: edge(0, 92, -90, 1060, 90, -92),
		Readings: thick(26.5, 26), RingAngle: 50, PriceCents: 900, Moisture: readings(now, 9.6, 9.3, 9.2),
	}
	lay := func(v slab.Slab, name, who string, x, days float64) reckon.Board {
		b := reckon.NewBoardOn("", name, v, Shop())
		b.Placement = geom.Placement{X: x}
		b.Design.Length, b.Design.Width, b.Design.Thickness = 300, 150, 20
		b.Design.Handle = board.Handle{Kind: board.Hole, Diameter: 30, Setback: 34}
		b.Give.For, b.Give.People, b.Give.Use = who, 3, "nibbles"
		b.Give.Due = now.AddDate(0, 0, int(days)).Format(time.DateOnly)
		b.Finish.School = "oil"
		return b
	}
	sawn := func(hours float64) []Done {
		return []Done{
			done("cross-cut", hours, 4), done("flatten", hours-1, 11), done("bore", hours-24, 4),
			done("outline", hours-24.4, 12), done("edges", hours-25, 9),
		}
	}
	sanded := func(hours float64) []Done {
		return append(sawn(hours), done("sand-60", hours-48, 7), done("sand-80", hours-48.2, 6))
	}
	return []Piece{
		{Slab: pear, Boards: []Laid{
			{Board: lay(pear, "Wheelbarrow driver's board", "the wheelbarrow driver", 220, 54), Done: sanded(124)},
			{Board: lay(pear, "Basket weaver's board", "the basket weaver", 560, 54), Done: sanded(123.5)},
			{Board: lay(pear, "Wasp catcher's board", "the wasp catcher", 900, 54), Done: sawn(100)},
		}},
		{Slab: bough, Boards: []Laid{
			{
				Board: lay(bough, "Pruner's board", "the pruner", 190, -12), Given: 11 * 24 * time.Hour,
				Wrong: &Wrong{
					Step: "edges", Ago: 17 * 24 * time.Hour, Words: "The bit stood still while I looked up",
					Report: rescue.Report{
						Kind: "burn",
						Area: []geom.Point{{X: 20, Y: 60}, {X: 34, Y: 60}, {X: 34, Y: 74}},
					},
					Out: &rescue.Out{
						Way: rescue.Pare, Label: "Pare it with a chisel or a card", Minutes: 14, Cents: 420, Days: 0.2,
					},
				},
			},
			{Board: lay(bough, "Brush carrier's board", "the brush carrier", 520, -12), Given: 60 * 24 * time.Hour},
			{
				Board: lay(
					bough,
					"Kindling stacker's board",
					"the kindling stacker",
					860,
					-12,
				), Given: 58 * 24 * time.Hour,
				Back: "furry",
			},
		}},
	}
}

// allDone are all steps of a course, each an hour or its wait before the next, and the last as long ago as the board
// was given away.
func allDone(course plan.Course, given time.Duration) []Done {
	out := make([]Done, len(course.Steps))
	ago := given + 5*24*time.Hour
	for i := len(course.Steps) - 1; i >= 0; i-- {
		s := course.Steps[i]
		out[i] = Done{Step: s.Key, Ago: ago, Minutes: s.Minutes * (0.94 + 0.03*float64(i%5))}
		if i > 0 {
			ago += time.Hour + time.Duration(course.Steps[i-1].Wait*float64(time.Minute))
		}
	}
	return out
}

// keepRuns makes the boards of the supper one run, half way, and those of last winter another, which is over.
func keepRuns(ctx context.Context, st *store.Store, workshop string, now time.Time, rack map[string]stored) error {
	ids := func(pieces ...string) (out []string, err error) {
		for _, name := range pieces {
			boards, err := st.BoardsOn(ctx, workshop, rack[name].id)
			if err != nil {
				return nil, err
			}
			for _, b := range boards {
				out = append(out, b.Board.ID)
			}
		}
		return out, nil
	}
	for _, r := range []struct {
		run    run.Run
		pieces []string
	}{
		{run.Run{Name: "Winter pruning", Occasion: "Thanks for pruning in the snow", Count: 3,
			Day: now.AddDate(0, 0, -12).Format(time.DateOnly)}, []string{winterSlab}},
		{run.Run{Name: "Midsummer supper", Occasion: "The orchard's midsummer supper", Count: 6, Spares: 1,
			Day: now.AddDate(0, 0, 54).Format(time.DateOnly)},
			[]string{"Weir plane, first slab", supperSlab, "Storm stripes"}},
	} {
		boards, err := ids(r.pieces...)
		if err != nil {
			return err
		}
		if _, err := st.NewRun(ctx, workshop, r.run, boards); err != nil {
			return err
		}
	}
	return nil
}
