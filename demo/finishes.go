package demo

import (
	"context"
	"math"
	"time"

	"idletimber/craft/finish"
	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/craft/trial"
	"idletimber/store"
)

// Finishes are pieces of the sample whose boards are stained, or stand between two coats.
func Finishes(now time.Time) []Piece {
	board := func(v slab.Slab, name, who string, days int, change func(*reckon.Board)) reckon.Board {
		b := reckon.NewBoardOn("", name, v, Shop())
		b.Give.For, b.Give.People, b.Give.Use = who, 3, "nibbles"
		b.Give.Due = now.AddDate(0, 0, days).Format(time.DateOnly)
		change(&b)
		return b
	}
	spruce := slab.Slab{
		Name: "Spruce sill from the boathouse", Species: "Norway spruce", Length: 620,
		Show: edge(0, 84, -82, 620, 83, -84), Readings: thick(27, 26.4), RingAngle: 30, PriceCents: 600,
		Moisture: readings(now, 9.4, 9.2, 9.1), Notes: "Pale: coffee would warm it.",
	}
	plane := slab.Slab{
		Name: "Plane, the narrow leaf", Species: "London plane", Length: 560,
		Show: edge(0, 88, -86, 560, 90, -84), Readings: thick(27.5, 27), RingAngle: 55, PriceCents: 1400,
		Moisture: readings(now, 9.3, 9.2, 9.1),
	}
	return []Piece{
		{
			Slab: spruce,
			Boards: []Laid{{Board: board(spruce, "Boatman's tray", "the boatman", 30, func(b *reckon.Board) {
				b.Finish = finish.Choice{School: finish.CoffeePaste, Ratio: 2}
				b.Sand.Raise = "twice"
			})}},
		},
		{Slab: plane, Boards: []Laid{{
			Board: board(plane, "Pickers' small board", "the pickers", 26, func(b *reckon.Board) {
				b.Design.Length, b.Design.Width = 340, 150
				b.Finish.School, b.Finish.Coats = finish.Oil, 3
				b.Fit.Feet = true
			}),
			Done: []Done{
				done("cross-cut", 150, 5), done("flatten", 149, 12), done("outline", 126, 9), done("edges", 125, 8),
				done("sand-60", 102, 7), done("sand-80", 101.8, 7), done("sand-100", 101.5, 6),
				done("sand-150", 101.2, 6), done("raise-150", 101, 3), done("sand-220", 78, 6), done("wipe", 54, 3),
				{Step: "coat-1", Ago: 53 * time.Hour, Noted: finish.NoteGrams, Value: 13},
				done(
					"coat-1",
					53,
					6,
				), {Step: "wipe-1", Ago: 51 * time.Hour, Noted: finish.NoteDry}, done("wipe-1", 51, 4),
				done("coat-2", 7, 6), done("wipe-2", 5, 3),
			},
		}}},
	}
}

// pastes is a trial that is under way: two pastes and a bare sample, cut from one plank, after nine
// rounds at the sink.
func pastes(now time.Time, plank string) trial.Trial {
	t := trial.Trial{
		Name: "Two pastes", Question: "Does a firmer paste keep better, or only cost more?", Plank: plank, Blind: true,
		Samples: []trial.Sample{
			{Mark: "plain", Control: true},
			{Mark: "clipped corner", Treatment: "paste, 2 to 1", Product: finish.Paste, Ratio: 2, Grams: 0.6},
			{Mark: "hole", Treatment: "paste, 3 to 1", Product: finish.Paste, Ratio: 3, Grams: 0.6},
		},
	}
	beads := [][]float64{
		{1, 9, 9}, {1, 9, 8}, {1, 8, 8}, {0, 7, 7}, {0, 7, 6}, {0, 6, 6}, {0, 5, 4}, {0, 4, 4}, {0, 4, 3},
	}
	for i, b := range beads {
		r := trial.Round{
			At: now.AddDate(0, 0, 3*(i-len(beads))), Did: []string{"sponge", "rinsed"}, Times: 2, By: "the beekeeper",
		}
		if i%3 == 2 {
			r.Did = append(r.Did, "soap")
		}
		for k, v := range b {
			feel, colour := math.Round((6+0.3*v-0.2*float64(i))*2)/2, math.Round(3+0.6*v)
			if k == 0 {
				feel, colour = math.Max(1, 4-0.5*float64(i)), 2
			}
			r.Scores = append(r.Scores, trial.Score{Feel: &feel, Beads: &v, Colour: &colour})
		}
		t.Rounds = append(t.Rounds, r)
	}
	return t
}

// keepTrials stores the trials of the sample.
func keepTrials(ctx context.Context, st *store.Store, workshop string, now time.Time, rack map[string]stored) error {
	_, err := st.NewTrial(ctx, workshop, pastes(now, rack["Pear from the lane"].id))
	return err
}
