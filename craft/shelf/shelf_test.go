package shelf

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
)

var now = time.Date(2031, 4, 22, 17, 30, 0, 0, time.UTC)

func discs(n float64) stage.Use {
	return stage.Use{Kind: stage.Abrasive, Item: "discs P120", Amount: n, Unit: Pieces}
}

func box(name string, count float64, counted time.Time) Product {
	return Product{Name: name, Kind: stage.Abrasive, Item: "discs P120", Unit: Pieces, Count: count, Counted: counted}
}

// What was taken since the count comes off, of the opened box first; what is short is bought in whole packs, ordered so
// many days before the first step that lacks it.
func TestStand(t *testing.T) {
	counted := now.AddDate(0, 0, -10)
	open, closed := box("open", 5, counted), box("closed", 10, counted)
	open.Opened, closed.Pack, closed.Cents, closed.Days, closed.Shops = "2031-04-01", 50, 1890, 4, "the mill shop"
	soon, late := now.AddDate(0, 0, 3), now.AddDate(0, 0, 9)
	got, list := Stand([]Product{closed, open}, []Taken{
		{discs(3), now.AddDate(0, 0, -2)}, {discs(4), now.AddDate(0, 0, -1)}, {discs(9), now.AddDate(0, 0, -11)},
		{stage.Use{Kind: stage.Abrasive, Item: "discs P80", Amount: 2, Unit: Pieces}, now},
	}, []Need{{Use: discs(7), By: &late}, {Use: discs(6), By: &soon}, {Use: discs(1)}}, now, rule.Set{})
	assert.Equal(t, []Standing{{Left: 8, Level: 8.0 / 50, Reserved: 8, Short: true}, {Short: true}}, got)
	require.Len(t, list, 1)
	order := late.AddDate(0, 0, -4)
	assert.Equal(t, Buy{Kind: stage.Abrasive, Item: "discs P120", Unit: Pieces, Short: 6, Needs: 14, By: &late,
		Order: &order, Product: 0, Packs: 1, Cents: 1890, Shops: "the mill shop"}, list[0])

	// What the shelf never had is bought all the same.
	_, list = Stand(nil, nil, []Need{{Use: discs(2), By: &soon}}, now, nil)
	require.Len(t, list, 1)
	assert.Equal(t, -1, list[0].Product)
	assert.Equal(t, 2.0, list[0].Short)

	// More was used than was there.
	got, _ = Stand([]Product{box("one", 2, counted)}, []Taken{{discs(5), now}}, nil, now, nil)
	assert.Equal(t, Standing{Over: 3}, got[0])
}

func TestWhatIsOld(t *testing.T) {
	for _, tt := range []struct {
		kind         stage.Kind
		item         string
		opened, best string
		want         string
	}{
		{stage.Resin, "slow resin", "2030-04-21", "", "opened more than 12 months ago"},
		{stage.Resin, "slow resin", "2030-05-21", "", ""},
		{stage.Filler, "thin CA", "2030-09-01", "", "opened more than 6 months ago"},
		{stage.Filler, "putty", "2029-09-01", "", ""},
		{stage.Glue, "D4", "2029-04-01", "", "opened more than 24 months ago"},
		{stage.Finish, "oil", "", "2031-04-20", "best before 2031-04-20"},
		{stage.Finish, "oil", "", "2031-04-22", ""},
	} {
		p := Product{Kind: tt.kind, Item: tt.item, Opened: tt.opened, Best: tt.best}
		got, _ := Stand([]Product{p}, nil, nil, now, nil)
		assert.Equal(t, tt.want, got[0].Old, "%s %s", tt.item, tt.opened)
	}
	p := Product{Kind: stage.Resin, Opened: "2030-04-21"}
	assert.Empty(t, p.old(now, rule.Set{rule.ResinKeeps: 18}))
}

// Nothing is lost and nothing is taken twice: what was counted is what is left and what was taken since, but for what
// was taken beyond it; what is needed is reserved or short; the packs cover what is short and no more than one too
// many.
func TestTheShelfAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		amount := func(name string, hi int) float64 { return float64(rapid.IntRange(0, hi).Draw(t, name)) / 10 }
		day := func(name string) time.Time { return now.AddDate(0, 0, rapid.IntRange(-30, 30).Draw(t, name)) }
		var products []Product
		for i := range rapid.IntRange(0, 4).Draw(t, "products") {
			p := box(fmt.Sprint("box ", i), amount("count", 200), day("counted"))
			p.Pack, p.Cents, p.Days = amount("pack", 100), rapid.IntRange(0, 5000).Draw(t, "cents"), i
			if rapid.Bool().Draw(t, "open") {
				p.Opened = day("opened").Format(time.DateOnly)
			}
			products = append(products, p)
		}
		var taken []Taken
		for range rapid.IntRange(0, 8).Draw(t, "takes") {
			taken = append(taken, Taken{discs(amount("taken", 60)), day("at")})
		}
		var needs []Need
		need := 0.0
		for range rapid.IntRange(0, 8).Draw(t, "needs") {
			by := day("by")
			needs = append(needs, Need{Use: discs(0.1 + amount("need", 60)), By: &by})
			need += needs[len(needs)-1].Amount
		}
		got, list := Stand(products, taken, needs, now, rule.Set{})
		counted, left, reserved, over, since := 0.0, 0.0, 0.0, 0.0, 0.0
		for i, s := range got {
			counted, left, reserved, over = counted+products[i].Count, left+s.Left, reserved+s.Reserved, over+s.Over
			assert.GreaterOrEqual(t, s.Left, s.Reserved-1e-9)
			assert.GreaterOrEqual(t, s.Reserved, 0.0)
		}
		for _, k := range taken {
			for _, p := range products {
				if !k.At.Before(p.Counted) {
					since += k.Amount
					break
				}
			}
		}
		assert.InDelta(t, counted-since, left-over, 1e-6)
		for _, s := range got {
			assert.Equal(t, len(list) > 0, s.Short)
		}
		short := 0.0
		for _, b := range list {
			short += b.Short
			assert.InDelta(t, need, b.Needs, 1e-6)
			if b.Packs > 0 {
				p := products[b.Product]
				assert.GreaterOrEqual(t, float64(b.Packs)*p.Pack, b.Short-1e-6)
				assert.Less(t, float64(b.Packs-1)*p.Pack, b.Short)
				assert.Equal(t, b.Packs*p.Cents, b.Cents)
				assert.Equal(t, p.Days, int(math.Round(b.By.Sub(*b.Order).Hours()/24)))
			}
		}
		assert.InDelta(t, need, reserved+short, 1e-6)
	})
}

func TestCheck(t *testing.T) {
	good := box("discs", 1, now)
	assert.Empty(t, good.Check("p"))
	bad := good
	bad.Name, bad.Kind, bad.Unit, bad.Opened, bad.Count = " ", "magic", craft.Unit("pound"), "soon", -1
	fields := []string{}
	for _, p := range bad.Check("p") {
		fields = append(fields, p.Field)
	}
	assert.ElementsMatch(t, []string{"p.name", "p.kind", "p.unit", "p.opened", "p.count"}, fields)
}

// A bill is the sum of its lines, each rounded by itself, at the cheapest price that the shelf knows.
func TestBill(t *testing.T) {
	small, big, free := box("small", 1, now), box("big", 1, now), box("without a price", 1, now)
	small.Pack, small.Cents, big.Pack, big.Cents, free.Pack = 10, 500, 50, 1890, 5
	oil := stage.Use{Kind: stage.Finish, Item: "oil", Amount: 12.5, Unit: craft.Gram, Step: "coat-1"}
	lines, cents := Bill([]stage.Use{discs(1), oil, discs(2)}, []Product{free, small, big})
	require.Len(t, lines, 2)
	assert.Equal(t, 113, lines[0].Cents, "3 × 37.8 cents")
	assert.True(t, lines[0].Priced)
	assert.Equal(t, Line{Kind: stage.Finish, Item: "oil", Amount: 12.5, Unit: craft.Gram}, lines[1])
	assert.Equal(t, 113, cents)
	lines, cents = Bill(nil, nil)
	assert.Empty(t, lines)
	assert.Zero(t, cents)
}
