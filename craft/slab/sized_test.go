package slab

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestAPieceOfASize(t *testing.T) {
	size := Size{
		Name: "Plank", Species: "Pear", Stock: StockPlank, Length: 800, Width: 184, Thickness: 19, Reclaimed: true,
	}
	plank := Sized(size)
	assert.Equal(t, []float64{184, 184}, []float64{plank.Show[0].Width(), plank.Show[1].Width()})
	assert.False(t, plank.LiveLeft || plank.LiveRight)
	assert.True(t, plank.Reclaimed)
	assert.Equal(t, []Reading{{X: 400, Thickness: 19}}, plank.Readings)

	size.Stock = StockSlab
	grown := Sized(size)
	assert.True(t, grown.LiveLeft && grown.LiveRight)
	assert.Len(t, grown.Show, 3)
	assert.Equal(t, 184.0, grown.Show[1].Width())
	for _, stock := range []string{StockSlab, StockPlank} {
		for _, width := range []float64{10, 60, 900} {
			size.Stock, size.Width = stock, width
			assert.Empty(t, Sized(size).Check("", time.Now(), nil), "%s %v", stock, width)
		}
	}
	size.Length = 5
	assert.NotEmpty(t, size.Check("size"))
}
