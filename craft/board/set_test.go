package board

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/rule"
)

// waves cuts a plank of 420 × 300 along its length by one curve moved across it, n boards in all.
func waves(t *testing.T, n int, rise, slope float64) (out []geom.Ring) {
	t.Helper()
	rest := Draw(Design{Shape: Rectangle, Length: 420, Width: 300, Corner: 8, Handle: Handle{Kind: "none"}}, nil)
	for k := 1; k < n; k++ {
		y := -150 + 300*float64(n-k)/float64(n) - rest.at().Y
		line := []Node{
			{X: -230, Y: y - slope, Kind: "smooth"}, {X: -90, Y: y + rise, Kind: "smooth"},
			{X: 60, Y: y - rise, Kind: "smooth"}, {X: 230, Y: y + slope, Kind: "smooth"},
		}
		parts, err := Split(rest, line, UsualGap)
		require.NoError(t, err)
		a, b := Draw(parts[0].Design, nil), Draw(parts[1].Design, nil)
		if parts[0].At.Y < parts[1].At.Y {
			a, b = b, a
		}
		out = append(out, a.Outline)
		rest = b
	}
	return append(out, rest.Outline)
}

// at is where the middle of the plank lies in the frame of what is left of it: what is left has
// the plank's right side.
func (s Shaped) at() geom.Point { return geom.Point{Y: -150 - s.Outline.Bounds().MinY} }

func TestEveryBoardOfASetAgainstEveryOther(t *testing.T) {
	boards := waves(t, 3, 18, 0)
	for i := range boards {
		for k := range boards {
			n := Beside(boards[i], boards[k], right, false, UsualGap, 1)
			// The left side of the first and the right side of the last are the plank's, which are straight.
			want := (i < 2) == (k > 0)
			assert.Equal(t, want, n.Fits, "%d, and %d at its right: %+v", i, k, n)
			if want {
				assert.InDelta(t, UsualGap, n.Least, 0.1, "%d, %d", i, k)
				moved := boards[k].Map(n.Place.Out)
				assert.InDelta(t, UsualGap, geom.Gap(boards[i], moved), 0.1, "measured anew")
			}
		}
	}
	assert.False(t, Beside(boards[0], boards[1], right, true, UsualGap, 1).Fits,
		"turned end for end it shows its other curve, and that way round")
}

// A straight set nests in every order, either way round, and end to end.
func TestAStraightSetNestsAnyWay(t *testing.T) {
	a := Draw(Design{Shape: Rectangle, Length: 300, Width: 200, Corner: 2, Handle: Handle{Kind: "none"}}, nil).Outline
	for _, side := range []string{right, farEnd} {
		for _, turned := range []bool{false, true} {
			n := Beside(a, a, side, turned, 1, 1)
			assert.True(t, n.Fits, "%s, turned %v: %+v", side, turned, n)
			moved := a.Map(n.Place.Out)
			assert.InDelta(t, 1, geom.Gap(a, moved), 0.1)
			c, want := moved.Centroid(), geom.Point{Y: -201}
			if side == farEnd {
				want = geom.Point{X: -301}
			}
			assert.InDelta(t, 0, c.Sub(want).Len(), 0.3, "%s: it stands at %v", side, c)
		}
	}
}

// One curve along a tilted line is followed by turning; another curve does not nest.
func TestASetThatIsTiltedAndOneThatIsNot(t *testing.T) {
	tilted := waves(t, 2, 14, 6)
	n := Beside(tilted[0], tilted[1], right, false, UsualGap, 1)
	assert.True(t, n.Fits, "%+v", n)
	other := waves(t, 2, 5, 0)
	assert.False(t, Beside(tilted[0], other[1], right, false, UsualGap, 1).Fits)
}

func TestStray(t *testing.T) {
	own := rule.Set{rule.RusticStray: 3}
	for _, tt := range []struct {
		style, whom string
		rules       rule.Set
		want        float64
	}{
		{"", "", nil, 1}, {Rustic, "", nil, 2}, {Fine, "", nil, 0.5}, {"", Own, nil, 1.5}, {"", Customer, nil, 0.7},
		{Fine, Customer, nil, 0.35}, {Rustic, Own, nil, 3}, {Rustic, "", own, 3},
	} {
		assert.InDelta(t, tt.want, Stray(tt.style, tt.whom, tt.rules), 1e-9, "%s for %s", tt.style, tt.whom)
	}
	a := Draw(Design{Shape: Rectangle, Length: 300, Width: 100, Handle: Handle{Kind: "none"}}, nil).Outline
	for gap, want := range map[float64][2]craft.Level{ // opened by so much: rustic, fine
		0.3: {craft.Good, craft.Good}, 0.6: {craft.Good, craft.Mind},
		1.2: {craft.Good, craft.Mind}, 2: {craft.Mind, craft.Mind},
	} {
		b := a.Map(geom.Point{Y: -100 - UsualGap - gap}.Add)
		for i, style := range []string{Rustic, Fine} {
			v := MateVerdict(a, b, UsualGap, Stray(style, "", nil), "it")
			assert.Equal(t, want[i], v.Level, fmt.Sprint(style, " opened by ", gap))
		}
	}
}
