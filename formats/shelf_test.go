package formats

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
)

// The shelf comes back as it was written, from CSV and from XLSX, whatever its texts look like.
func TestTheShelfComesBack(t *testing.T) {
	now := time.Date(2031, 4, 22, 12, 0, 0, 0, time.UTC)
	all := []shelf.Product{
		{
			Name:    "=Discs, \"good\" ones",
			Kind:    stage.Abrasive,
			Item:    "discs P120",
			Unit:    shelf.Pieces,
			Count:   41,
			Counted: now,
			Pack:    50,
			Cents:   1890,
			Days:    4,
			Where:   "'drawer",
			Note:    "+2 in the van",
		},
		{
			Name:    "0012",
			Kind:    stage.Finish,
			Item:    "oil",
			Unit:    craft.Gram,
			Count:   640.5,
			Counted: now,
			Opened:  "2031-01-02",
			Best:    "2032-01-02",
			Colour:  "clear",
			Shops:   "the mill shop",
		},
	}
	for _, write := range []func([]shelf.Product) ([]byte, error){ShelfCSV, ShelfXLSX} {
		data, err := write(all)
		require.NoError(t, err)
		got, err := ReadShelf(data, now)
		require.NoError(t, err)
		require.Empty(t, got.Bad)
		require.Len(t, got.Good, 2)
		for i, r := range got.Good {
			assert.Equal(t, all[i], r.Product)
			assert.Equal(t, i+2, r.Line)
		}
	}
}

func TestReadShelfTellsWhatIsWrong(t *testing.T) {
	got, err := ReadShelf([]byte("Name,Kind,Item,Left,Unit,A pack costs\nOil,finish,oil,\"12,5\",g,9.90\n"+
		"Nails,iron,nails,many,g,\n,finish,wax,1,g,\n\n"), time.Time{})
	require.NoError(t, err)
	require.Len(t, got.Good, 1)
	assert.Equal(t, 12.5, got.Good[0].Product.Count)
	assert.Equal(t, 990, got.Good[0].Product.Cents)
	require.Len(t, got.Bad, 2)
	assert.Equal(t, 3, got.Bad[0].Line)
	assert.Contains(t, got.Bad[0].Reasons[0], "not a number")
	assert.Contains(t, got.Bad[1].Reasons[0], "name")

	for _, bad := range []string{"", "Name,Kind\n", "\xd0\xcf\x11\xe0"} {
		_, err := ReadShelf([]byte(bad), time.Time{})
		assert.Error(t, err, "%q", bad)
	}
}
