package trial

import (
	"fmt"
	"slices"

	"idletimber/craft"
	"idletimber/craft/plan"
)

// Spent is what a finished step of a board took, minutes.
type Spent struct {
	Board   string
	Kind    plan.Kind
	Minutes float64
}

// WayTold is what a way of making comes to.
type WayTold struct {
	Name    string      `json:"name" doc:"As the maker calls it"`
	Boards  int         `json:"boards" doc:"With anything in the log"`
	Minutes float64     `json:"minutes" doc:"Hands-on, a board, of all its steps"`
	Kinds   []KindSpent `json:"kinds" doc:"The same by kind of work, the longest first"`
	Liked   int         `json:"liked" doc:"How many liked it better"`
}

// KindSpent is a kind of work, and what it took.
type KindSpent struct {
	Kind    plan.Kind `json:"kind" doc:"Kind of work"`
	Minutes float64   `json:"minutes" doc:"A board"`
}

// Told are the ways of making of a trial by all minutes of their boards, not those of the cutting
// alone, and what they say in words.
func (t Trial) Told(spent []Spent) (ways []WayTold, words []string) {
	ways, words = []WayTold{}, []string{}
	for _, w := range t.Ways {
		told := WayTold{Name: w.Name, Liked: w.Liked, Kinds: []KindSpent{}}
		boards, kinds := map[string]bool{}, map[plan.Kind]float64{}
		for _, s := range spent {
			if slices.Contains(w.Boards, s.Board) && s.Minutes > 0 {
				boards[s.Board] = true
				kinds[s.Kind] += s.Minutes
			}
		}
		told.Boards = len(boards)
		for kind, minutes := range kinds {
			told.Kinds = append(told.Kinds, KindSpent{kind, minutes / float64(told.Boards)})
		}
		slices.SortFunc(told.Kinds, func(a, b KindSpent) int {
			switch {
			case a.Minutes != b.Minutes && a.Minutes > b.Minutes:
				return -1
			case a.Minutes != b.Minutes:
				return 1
			case a.Kind < b.Kind:
				return -1
			}
			return 1
		})
		for _, k := range told.Kinds {
			told.Minutes += k.Minutes
		}
		ways = append(ways, told)
	}
	if len(ways) < 2 || ways[0].Boards == 0 || ways[1].Boards == 0 {
		return ways, words
	}
	quick, slow := ways[0], ways[1]
	if quick.Minutes > slow.Minutes {
		quick, slow = slow, quick
	}
	words = append(words, fmt.Sprintf("%s takes %.0f minutes less a board than %s, all steps counted",
		craft.Capital(quick.Name), slow.Minutes-quick.Minutes, slow.Name))
	switch {
	case quick.Liked > slow.Liked:
		words = append(words, "It was liked better as well")
	case quick.Liked < slow.Liked:
		words = append(words, fmt.Sprintf("%s was liked better", craft.Capital(slow.Name)))
	}
	return ways, words
}
