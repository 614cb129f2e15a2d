package slab

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestTheBestEdgeIsTheReference(t *testing.T) {
	for _, tt := range []struct {
		left, right         string
		liveLeft, liveRight bool
		side, quality       string
	}{
		{"", "", false, false, "", ""},
		{"sawn", "jointed", false, false, "right", "jointed"},
		{"factory", "sawn", false, false, "left", "factory"},
		{"jointed", "jointed", false, false, "left", "jointed"},
		{"jointed", "sawn", true, false, "right", "sawn"},
		{"jointed", "jointed", true, true, "", ""},
	} {
		s := Slab{LeftEdge: tt.left, RightEdge: tt.right, LiveLeft: tt.liveLeft, LiveRight: tt.liveRight}
		side, quality := s.BestEdge()
		assert.Equal(t, []string{tt.side, tt.quality}, []string{side, quality}, "%+v", tt)
	}
}
