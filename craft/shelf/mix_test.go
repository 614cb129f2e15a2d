package shelf

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/glue"
	"idletimber/craft/measure"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
)

func finishing(item string, count, pack float64, cents int) Product {
	return Product{
		Name:  item,
		Kind:  stage.Finish,
		Item:  item,
		Unit:  craft.Gram,
		Count: count,
		Pack:  pack,
		Cents: cents,
	}
}

// A tin of paste is drawn on where one is kept; without one it is mixed from oil and wax for the coat. Either way what
// is needed is the same to the gram.
func TestPasteDrawsOnItsTinOrOnOilAndWax(t *testing.T) {
	need := []Need{{Use: stage.Use{Kind: stage.Finish, Item: finish.PasteItem(3), Amount: 80, Unit: craft.Gram}}}
	oil, wax := finishing(finish.Oil, 50, 1000, 1500), finishing(finish.Beeswax, 50, 250, 900)
	tin := finishing(finish.PasteItem(3), 60, 60, 126)
	stands, buys := Stand([]Product{oil, wax}, nil, need, time.Time{}, rule.Set{})
	assert.Equal(t, 50.0, stands[0].Reserved)
	assert.Equal(t, 20.0, stands[1].Reserved)
	require.Len(t, buys, 1)
	assert.Equal(t, 10.0, buys[0].Short)
	assert.Equal(t, finish.Oil, buys[0].Item)
	stands, buys = Stand([]Product{oil, wax, tin}, nil, need, time.Time{}, rule.Set{})
	assert.Zero(t, stands[0].Reserved)
	assert.Equal(t, 60.0, stands[2].Reserved)
	require.Len(t, buys, 1)
	assert.Equal(t, 20.0, buys[0].Short)
	assert.Equal(t, 1, buys[0].Packs)
	uses := []stage.Use{need[0].Use}
	lines, cents := Bill(uses, []Product{oil, wax})
	assert.Len(t, lines, 2)
	assert.Equal(t, 90+72, cents, "60 g of oil and 20 g of wax")
	_, cents = Bill(uses, []Product{oil, wax, tin})
	assert.Equal(t, 168, cents)
	assert.ElementsMatch(t, []string{"paste, 3:1", finish.Oil, finish.Beeswax}, Items(uses[0]))
}

// The example: ten tins of 60 g at 3:1 take 450 g of oil and 150 g of wax.
func TestABatch(t *testing.T) {
	tin := finishing(finish.PasteItem(3), 0, 60, 0)
	tin.Recipe = &Recipe{Parts: []Part{{stage.Finish, finish.Oil, 3}, {stage.Finish, finish.Beeswax, 1}}}
	products := []Product{finishing(finish.Oil, 600, 1000, 1500), finishing(finish.Beeswax, 100, 250, 900), tin}
	stands, _ := Stand(products, nil, nil, time.Time{}, rule.Set{})
	b := tin.Batch(10, products, stands)
	assert.Equal(t, 450.0, b.Takes[0].Amount)
	assert.Equal(t, 150.0, b.Takes[1].Amount)
	assert.Equal(t, 675+540, b.Cents)
	assert.Equal(t, 122, b.Each, "half a cent up")
	assert.Equal(t, []string{finish.Beeswax}, b.Short)
	assert.Empty(t, tin.Batch(0, products, stands).Takes)
	drawn := Drawn(tin.Batch(4, products, stands).Takes, products, stands)
	assert.Equal(t, map[int]float64{0: 180, 1: 60}, drawn)
	assert.Equal(t, []string{"3 oil : 1 beeswax", "mixed 1 Jan 0001"}, tin.Label(time.UTC))
	for field, p := range map[string]Product{
		"p.recipe.parts": {Name: "a", Kind: stage.Finish, Item: "a", Unit: craft.Gram, Pack: 1, Recipe: &Recipe{}},
		"p.pack":         {Name: "a", Kind: stage.Finish, Item: "a", Unit: craft.Gram, Recipe: tin.Recipe},
		"p.recipe.parts[0].item": {
			Name: "a", Kind: stage.Finish, Item: "a", Unit: craft.Gram, Pack: 1,
			Recipe: &Recipe{Parts: []Part{{stage.Finish, "", 1}}},
		},
	} {
		ps := p.Check("p")
		require.Len(t, ps, 1, field)
		assert.Equal(t, field, ps[0].Field)
	}
}

// Whatever is mixed: what it takes is what comes of it, and what is drawn is what is left less.
func TestNothingIsLostInMixing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		r := Recipe{}
		for _, item := range []string{"a", "b", "c"}[:rapid.IntRange(1, 3).Draw(t, "parts")] {
			r.Parts = append(r.Parts, Part{stage.Finish, item, f("part", 0.1, 20)})
		}
		amount := f("amount", 1, 2000)
		var products []Product
		for _, item := range []string{"a", "a", "b", "c"} {
			products = append(products, finishing(item, f("count", 0, 900), 100, 500))
		}
		stands, _ := Stand(products, nil, nil, time.Time{}, rule.Set{})
		takes := r.Takes(amount, craft.Gram)
		sum, had, now := 0.0, 0.0, 0.0
		for _, u := range takes {
			sum += u.Amount
			there := 0.0
			for _, p := range products {
				if p.Serves(u) {
					there += p.Count
				}
			}
			had += min(there, u.Amount)
		}
		for i, drawn := range Drawn(takes, products, stands) {
			if drawn > products[i].Count+1e-9 || drawn < 0 {
				t.Fatalf("%g of %g g of %s is drawn", drawn, products[i].Count, products[i].Item)
			}
			now += drawn
		}
		if math.Abs(sum-amount) > 1e-6 || math.Abs(now-had) > 1e-6 {
			t.Fatalf("%g g mixed of %g, drawn %g of %g", amount, sum, now, had)
		}
	})
}

// Strips are bought by the thickness that wood is sold in, with their waste.
func TestWoodToBuy(t *testing.T) {
	soon, late := time.Unix(100, 0), time.Unix(200, 0)
	strips := []Wanted{
		{"Pear", 500, 40, 22, &late, "Tray"}, {"Pear", 620, 45, 22, &soon, "Board"},
		{"Pear", 500, 40, 30, nil, "Board"},
		{"Hornbeam", 500, 40, 22, nil, "Board"},
	}
	price := []PriceOf{ // strips are ripped from planks where some were bought
		{Species: "Hornbeam", Form: "sheet", Metre: 1}, {Species: "Pear", Form: "offcut", Metre: 2},
		{Species: "Pear", Form: "plank", Metre: 200_000}, {Species: "Pear", Form: "slab", Metre: 100_000},
	}
	got := ToSaw(strips, measure.Millimetre, 15, price)
	require.Len(t, got, 3)
	assert.Equal(t, "26 mm", got[0].Nominal)
	assert.Equal(t, 2, got[0].Strips)
	assert.Equal(t, soon, *got[0].By)
	assert.Equal(t, 620.0, got[0].Longest)
	want := (500*40 + 620*45) * 26e-9 * 1.15
	assert.InDelta(t, want, got[0].Volume, 1e-12)
	assert.InDelta(t, want*423.776, got[0].BoardFeet, 1e-3)
	assert.Equal(t, int(math.Round(want*200_000)), got[0].Cents)
	assert.Equal(t, []string{"Tray", "Board"}, got[0].For)
	assert.Equal(t, 100_000.0, metre(append(price[:2:2], price[3]), "Pear"))
	assert.Zero(t, metre(price, "Plane"))
	once := ToSaw(strips, measure.Millimetre, 30, price)
	assert.InDelta(t, got[0].Volume*1.30/1.15, once[0].Volume, 1e-12)
	for thick, inch := range map[float64]string{20: "4/4", 22: "4/4", 27: "5/4", 40: "7/4", 46: "8/4", 120: "20/4"} {
		name, _ := nominal(thick, measure.Inch)
		if thick == 40 {
			inch = "8/4"
		}
		assert.Equal(t, inch, name, "%g mm", thick)
	}
}

func TestThePriceBookOfWood(t *testing.T) {
	book := PriceBook([]Paid{
		{"Pear", "slab", 0.02, 4000, time.Unix(1, 0)}, {"Pear", "slab", 0.01, 1000, time.Unix(2, 0)},
		{
			"Pear",
			"plank",
			0.01,
			3000,
			time.Unix(1, 0),
		}, {"Plane", "slab", 0.01, 0, time.Unix(1, 0)}, {"Plane", "slab", 0, 9, time.Unix(1, 0)},
	})
	require.Len(t, book, 2, "what was for nothing teaches nothing")
	assert.Equal(t, "plank", book[0].Form)
	assert.Equal(t, 166_667, book[1].Metre)
	assert.Equal(t, 393, book[1].BoardFoot)
	assert.Equal(t, 100_000, book[1].Last)
	assert.Equal(t, 2, book[1].Pieces)
}

// A data sheet goes before the usual figures of its kind; what it leaves out stays.
func TestDataSheets(t *testing.T) {
	resin := Product{Kind: stage.Resin, Item: "casting resin", Sheet: &Sheet{Pour: 40, Mass: 50}}
	older := Product{Kind: stage.Resin, Item: "casting resin", Opened: "2031-01-01", Sheet: &Sheet{Pour: 30}}
	pva := Product{Kind: stage.Glue, Item: "PVA, D4", Sheet: &Sheet{Working: 12, Coldest: 5}}
	oil := Product{Kind: stage.Finish, Item: finish.Oil, Sheet: &Sheet{Food: 7, Contents: "walnut oil", Nut: true}}
	s := SheetsOf([]Product{resin, older, pva, oil, {Kind: stage.Resin, Item: "bark", Sheet: &Sheet{Pour: 1}}})
	require.Len(t, s.Resins, 1)
	assert.Equal(t, 30.0, s.Resins[0].Pour, "the opened one is used up first")
	assert.Equal(t, 44.0, s.Resins[0].Mass, "as is usual")
	one := func(d Sheet) fill.Resin {
		return SheetsOf([]Product{{Kind: stage.Resin, Item: "casting resin", Sheet: &d}}).Resins[0]
	}
	byMass, byVolume := one(Sheet{Mass: 50}), one(Sheet{Volume: 100 * 1.00 / (50 * 1.13)})
	assert.InDelta(t, byVolume.Parts, byMass.Parts, 1e-12, "of a ratio that is given one way the other follows")
	assert.InDelta(t, byVolume.Mass, byMass.Mass, 1e-9)
	usual, _ := glue.Find("PVA, D4")
	assert.Equal(t, 12.0, s.Glues[0].Open)
	assert.Equal(t, 5.0, s.Glues[0].Least)
	assert.Equal(t, usual.Clamped, s.Glues[0].Clamped)
	assert.Equal(t, 7.0, s.Finishes[0].Food)
	assert.True(t, s.Finishes[0].Nut)
	bad := Product{Name: "a", Kind: stage.Abrasive, Item: "a", Unit: Pieces, Sheet: &Sheet{Pour: 3}}
	assert.Equal(t, "p.sheet", bad.Check("p")[0].Field)
}

func TestHowClothsAreKept(t *testing.T) {
	cloths := Product{Name: "a", Kind: stage.Finish, Item: finish.Cloths, Unit: Pieces}
	stands, _ := Stand([]Product{cloths}, nil, nil, time.Time{}, rule.Set{})
	assert.Contains(t, stands[0].Keep, "under water in a closed metal can")
}

// What was mixed stays what it was when a step is told late that was done before; a count forgets both.
func TestWhatIsToldLateIsTakenOffAMix(t *testing.T) {
	at := func(hour int) time.Time { return time.Date(2031, 6, 1, hour, 0, 0, 0, time.UTC) }
	oil := finishing(finish.Oil, 500, 1000, 1500)
	oil.Counted = at(8)
	oil = oil.Moved(at(12), -180)
	late := []Taken{{stage.Use{Kind: stage.Finish, Item: finish.Oil, Amount: 20, Unit: craft.Gram}, at(10)}}
	stands, _ := Stand([]Product{oil}, late, nil, at(14), rule.Set{})
	assert.Equal(t, 300.0, stands[0].Left)
	oil.Count, oil.Counted = 290, at(13)
	stands, _ = Stand([]Product{oil}, late, nil, at(14), rule.Set{})
	assert.Equal(t, 290.0, stands[0].Left)
	assert.Len(t, oil.Moved(at(15), 10).Moves, 1)
}
