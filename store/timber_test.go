package store

import (
	"encoding/hex"
	"os/exec"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/reckon"
	"idletimber/craft/rule"
	"idletimber/craft/slab"
)

func TestRackIsSearchedSortedAndSummed(t *testing.T) {
	s, w := open(t)
	add := func(name, species, stock string, length, thick float64, cents int, percents ...float64) {
		v := piece(name)
		v.Species, v.Stock, v.Length, v.PriceCents = species, stock, length, cents
		v.Readings[0].Thickness = thick
		for i, p := range percents {
			v.Moisture = append(
				v.Moisture,
				moisture.Reading{At: time.Date(2031, 3, 1+7*i, 12, 0, 0, 0, time.UTC), Percent: p},
			)
		}
		_, err := s.NewPiece(ctx, w, v)
		require.NoError(t, err)
	}
	add("b slab", "Pear", slab.StockSlab, 900, 40, 5000, 9, 9)
	add("a plank", "Pear", slab.StockPlank, 700, 22, 1200, 14, 13)
	add("c offcut", "Hornbeam", slab.StockOffcut, 300, 30, 0)
	names := func(q Wanted) (out []string) {
		got, sum, err := s.Pieces(ctx, w, q, 10, 0)
		require.NoError(t, err)
		assert.Equal(t, len(got), sum.Count)
		for _, p := range got {
			out = append(out, p.Slab.Name)
		}
		return out
	}
	for _, c := range []struct {
		want Wanted
		get  []string
	}{
		{Wanted{Sort: "name"}, []string{"a plank", "b slab", "c offcut"}},
		{Wanted{Sort: "longest"}, []string{"b slab", "a plank", "c offcut"}},
		{Wanted{Sort: "driest"}, []string{"b slab", "a plank", "c offcut"}},
		{Wanted{Sort: "dearest", Species: "Pear"}, []string{"b slab", "a plank"}},
		{Wanted{Ready: "ready"}, []string{"b slab"}},
		{Wanted{Ready: "not ready", Sort: "name"}, []string{"a plank", "c offcut"}},
		{Wanted{Stock: slab.StockOffcut}, []string{"c offcut"}},
		{Wanted{LengthFrom: 700, ThickTo: 25}, []string{"a plank"}},
		{Wanted{ThickFrom: 28, CentsTo: 6000, Sort: "thickest"}, []string{"b slab", "c offcut"}},
		{Wanted{Words: "nothing"}, nil},
	} {
		assert.Equal(t, c.get, names(c.want), "%+v", c.want)
	}
	_, sum, err := s.Pieces(ctx, w, Wanted{}, 1, 0)
	require.NoError(t, err)
	assert.Equal(t, Sum{Count: 3, Ready: 1, Cents: 6200}, sum)

	at, version, err := s.Shop(ctx, w)
	require.NoError(t, err)
	at.Rules = rule.Set{rule.ReadyBand: 0.2}
	at.Home.Heating.Humidity = 70
	err = s.SaveShop(ctx, w, at, version)
	require.NoError(t, err)
	assert.Empty(t, names(Wanted{Ready: "ready"}), "another home, another judgement")
}

func TestTurnCarriesTheBoards(t *testing.T) {
	s, w := open(t)
	p, err := s.NewPiece(ctx, w, piece("slab"))
	require.NoError(t, err)
	b := reckon.NewBoard("", "board", 500)
	b.Placement = geom.Placement{X: 200, Y: 12, Angle: 3}
	laid, err := lay(s, w, p.ID, b)
	require.NoError(t, err)
	err = s.Turn(ctx, w, p.ID, 7)
	assert.IsType(t, &Stale[slab.Slab]{}, err)
	require.NoError(t, s.Turn(ctx, w, p.ID, 1))
	again, err := s.Piece(ctx, w, p.ID)
	require.NoError(t, err)
	assert.Equal(t, 2, again.Version)
	turned, err := s.Board(ctx, w, laid.Board.ID)
	require.NoError(t, err)
	assert.Equal(t, geom.Placement{X: 200, Y: -12, Angle: -3, Flip: true}, turned.Board.Placement)
	assert.Equal(t, laid.Version+1, turned.Version, "a sheet open elsewhere hears of it")
}

func TestDividingIsAllOrNothing(t *testing.T) {
	s, w := open(t)
	p, err := s.NewPiece(ctx, w, piece("slab"))
	require.NoError(t, err)
	_, err = s.Divide(ctx, w, p.ID, 1, []slab.Slab{piece("leaf"), piece("bad\x00leaf")}, true)
	require.Error(t, err)
	whole, err := s.Piece(ctx, w, p.ID)
	require.NoError(t, err)
	assert.Nil(t, whole.Cut)
	_, err = s.Divide(ctx, w, p.ID, 9, nil, true)
	assert.IsType(t, &Stale[slab.Slab]{}, err)

	board, err := lay(s, w, p.ID, reckon.NewBoard("", "board", 500))
	require.NoError(t, err)
	_, err = s.Divide(ctx, w, p.ID, 1, []slab.Slab{piece("leaf")}, true)
	assert.ErrorIs(t, err, ErrInUse, "a board is still to be made of it")
	require.NoError(t, s.BinBoard(ctx, w, board.Board.ID, true))
	ids, err := s.Divide(ctx, w, p.ID, 1, []slab.Slab{piece("leaf 1"), piece("leaf 2")}, true)
	require.NoError(t, err)
	require.Len(t, ids, 2)
	_, err = s.Divide(ctx, w, p.ID, 2, nil, true)
	assert.ErrorIs(t, err, ErrInUse, "once only")
	parts, err := s.Parts(ctx, w, p.ID)
	require.NoError(t, err)
	require.Len(t, parts, 2)
	assert.Equal(t, []string{p.ID}, parts[0].Sources)
	_, sum, _ := s.Pieces(ctx, w, Wanted{}, 10, 0)
	assert.Equal(t, 2, sum.Count)
	_, sum, _ = s.Pieces(ctx, w, Wanted{Cut: true}, 10, 0)
	assert.Equal(t, 1, sum.Count)
	other := newWorkshop(t, s, "other@example.org")
	_, err = s.Divide(ctx, other, p.ID, 2, nil, false)
	assert.ErrorIs(t, err, ErrNotFound)
	assert.ErrorIs(t, s.Whole(ctx, other, p.ID), ErrNotFound)
	require.NoError(t, s.Whole(ctx, w, p.ID))
}

func TestPicturesAndInstrumentsBelongToTheirWorkshop(t *testing.T) {
	s, mine := open(t)
	theirs := newWorkshop(t, s, "other@example.org")
	id, err := s.NewPicture(ctx, mine, Picture{Data: []byte{1, 2, 3}, Width: 4, Height: 3})
	require.NoError(t, err)
	got, err := s.Picture(ctx, mine, id)
	require.NoError(t, err)
	assert.Equal(t, []byte{1, 2, 3}, got.Data)
	_, err = s.Picture(ctx, theirs, id)
	assert.ErrorIs(t, err, ErrNotFound)

	meter, err := s.NewInstrument(ctx, mine, Instrument{Name: "pin meter", Kind: "moisture meter"}, []byte("hash"))
	require.NoError(t, err)
	found, err := s.InstrumentByKey(ctx, []byte("hash"))
	require.NoError(t, err)
	assert.Equal(t, mine, found.Workshop)
	_, err = s.InstrumentByKey(ctx, []byte("other"))
	assert.ErrorIs(t, err, ErrNotFound)
	for i := range 3 {
		percent := 9 + float64(i)
		_, err := s.Take(
			ctx,
			Taken{Instrument: meter, At: time.Date(2031, 3, 4, 12, i, 0, 0, time.UTC), Percent: &percent},
		)
		require.NoError(t, err)
	}
	last, err := s.LastTaken(ctx, mine)
	require.NoError(t, err)
	require.Len(t, last, 1)
	assert.InDelta(t, 11, *last[0].Percent, 1e-9)
	last, err = s.LastTaken(ctx, theirs)
	require.NoError(t, err)
	assert.Empty(t, last)
	room, err := s.NewInstrument(ctx, mine, Instrument{Name: "room", Kind: "room sensor"}, []byte("room"))
	require.NoError(t, err)
	begin := time.Date(2031, 3, 4, 12, 0, 0, 0, time.UTC)
	for i := range 9 { // every twenty minutes, three hours long
		celsius := 18 + float64(i)
		_, err := s.Take(ctx, Taken{
			Instrument: room, At: begin.Add(time.Duration(20*i) * time.Minute), Temperature: &celsius,
		})
		require.NoError(t, err)
	}
	warmth, err := s.Warmth(ctx, mine, begin.Add(time.Hour))
	require.NoError(t, err)
	require.Len(t, warmth, 2, "the first of each hour, from the moment on")
	assert.InDelta(t, 21, warmth[0].Celsius, 1e-9)
	assert.InDelta(t, 24, warmth[1].Celsius, 1e-9)
	warmth, err = s.Warmth(ctx, theirs, begin)
	require.NoError(t, err)
	assert.Empty(t, warmth)
	assert.ErrorIs(t, s.RemoveInstrument(ctx, theirs, meter), ErrNotFound)
	require.NoError(t, s.RemoveInstrument(ctx, mine, meter))
}

// Pictures are rows like all else: a dump of the database holds them.
func TestPicturesComeAlongInABackup(t *testing.T) {
	url, err := postgres.NewDatabase(ctx)
	require.NoError(t, err)
	s, err := Open(ctx, Config{URL: url}, time.Now)
	require.NoError(t, err)
	defer s.Close()
	w := newWorkshop(t, s, "backup@example.org")
	_, err = s.NewPicture(ctx, w, Picture{Data: []byte("a picture of a slab"), Width: 4, Height: 3})
	require.NoError(t, err)
	dump, err := exec.Command("pg_dump", url).Output()
	require.NoError(t, err)
	assert.Contains(t, string(dump), hex.EncodeToString([]byte("a picture of a slab")))
}
