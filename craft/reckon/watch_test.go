package reckon

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whoever asked may leave: every question that takes long asks its watch, ends when it
// says so, and goes on as without one otherwise.
func TestQuestionsEndWhenNobodyWaits(t *testing.T) {
	left := errors.New("left")
	board := crowded().Boards[0]
	for name, question := range map[string]func(Scene) (any, error){
		"reckon": func(s Scene) (any, error) { return Reckon(s, Request{Weigh: s.Boards[0].ID, Leftovers: true}) },
		"lay out": func(s Scene) (any, error) {
			return LayOut(s, LayOutRequest{Leftovers: true, Templates: []Template{{"t", board.Design}}})
		},
		"biggest": func(s Scene) (any, error) { return Biggest(s, BiggestRequest{Board: board}) },
		"draw":    func(s Scene) (any, error) { return Draw(s) },
		"dates":   func(s Scene) (any, error) { return Dates(s) },
	} {
		t.Run(name, func(t *testing.T) {
			asked := 0
			until := func(most int) Scene {
				s := crowded()
				asked = 0
				s.Watch = func() error {
					if asked++; asked > most {
						return left
					}
					return nil
				}
				return s
			}
			const ever = 1 << 30
			watched, err := question(until(ever))
			require.NoError(t, err)
			alone, err := question(crowded())
			require.NoError(t, err)
			assert.Equal(t, alone, watched)
			all := asked
			require.Positive(t, all)
			for most := range min(all, 40) {
				_, err := question(until(most))
				assert.ErrorIs(t, err, left, "left after %d of %d", most, all)
				assert.LessOrEqual(t, asked, most+8, "it goes on for long")
			}
		})
	}
}
