package craft

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestBoth(t *testing.T) {
	var a, b int
	Both(func() { a = 1 }, func() { b = 2 })
	assert.Equal(t, []int{1, 2}, []int{a, b})
	nothing := func() {}
	assert.PanicsWithValue(t, "one", func() { Both(func() { panic("one") }, nothing) })
	assert.PanicsWithValue(t, "other", func() { Both(nothing, func() { panic("other") }) })
}
