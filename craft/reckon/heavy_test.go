package reckon

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
)

// heaviest is as much as a slab takes of boards drawn by points of a kind.
func heaviest(boards int, node board.Node, each int) Scene {
	s := sample()
	b := s.Boards[0]
	b.Design.Shape, b.Design.Nodes = board.Free, nil
	for i := range each {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(each))
		node.X, node.Y = 150*cos, 60*sin
		b.Design.Nodes = append(b.Design.Nodes, node)
	}
	s.Boards = nil
	for i := range boards {
		b.ID = fmt.Sprint("b", i)
		s.Boards = append(s.Boards, b)
	}
	return s
}

func TestWhatIsDrawnIsBounded(t *testing.T) {
	assert.Empty(t, heaviest(10, board.Node{}, 400).Check())
	assert.Contains(t, heaviest(11, board.Node{}, 400).Check().Error(), "drawn by 4400 points")
	assert.Contains(t, heaviest(60, board.Node{Run: "batten", Rise: 0.2}, 120).Check().Error(), "72000 points")
	assert.Contains(t, heaviest(60, board.Node{Kind: "smooth"}, 100).Check().Error(), "at most 4000")
}

// The budget of any job that is taken is a second.
func BenchmarkHeaviest(b *testing.B) {
	for name, s := range map[string]Scene{
		"straight": heaviest(10, board.Node{}, 400),
		"many":     heaviest(60, board.Node{}, 66),
		"plain":    heaviest(60, board.Node{}, 8),
		"smooth":   heaviest(5, board.Node{Kind: "smooth"}, 400),
		"battens":  heaviest(4, board.Node{Run: "batten", Rise: 0.2}, 100),
	} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				_, err := Reckon(s, Request{})
				require.NoError(b, err)
			}
		})
		b.Run(name+", weighed", func(b *testing.B) {
			for b.Loop() {
				_, err := Reckon(s, Request{Weigh: s.First()})
				require.NoError(b, err)
			}
		})
	}
}
