package giving

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/glue"
	"idletimber/craft/species"
)

var ready = time.Date(2031, 6, 21, 12, 0, 0, 0, time.UTC)

func wood(names ...string) (out []species.Species) {
	for _, n := range names {
		s, ok := species.Find(n)
		if !ok {
			panic(n)
		}
		out = append(out, s)
	}
	return out
}

func keys(lines []Line) (out []string) {
	for _, l := range lines {
		out = append(out, l.Key)
	}
	return out
}

// Which line stands is decided by finish, wood, construction, fittings and recess.
func TestLinesStandWhereTheyAreTrue(t *testing.T) {
	oiled := Facts{Woods: wood("Pear"), Finish: "oil", Contents: []string{"mineral oil"}, Use: "nibbles"}
	for _, try := range []struct {
		name     string
		change   func(*Facts)
		has, not []string
	}{
		{
			"oiled", func(*Facts) {},
			[]string{"wash-oiled", "oil", "faces", "meat"}, []string{"wash-cured", "nut", "sweats", "fills"},
		},
		{
			"cured", func(f *Facts) { f.Curing = true },
			[]string{"wash-cured", "oil-cured"}, []string{"wash-oiled", "oil"},
		},
		{"a tray", func(f *Facts) { f.Dry = true }, []string{"wash-dry"}, []string{"wash-oiled", "wash-cured"}},
		{"on feet", func(f *Facts) { f.Feet = true }, []string{"feet"}, []string{"faces"}},
		{"one-sided", func(f *Facts) { f.OneSided = true }, nil, []string{"faces", "feet"}},
		{"of nut oil", func(f *Facts) { f.Nut = true }, []string{"nut"}, nil},
		{"of a paste", func(f *Facts) { f.Sweats = 39 }, []string{"sweats"}, nil},
		{"of softwood", func(f *Facts) { f.Woods = wood("Scots pine") }, []string{"paper"}, nil},
		{"of blocks", func(f *Facts) { f.Construction = glue.Blocks }, []string{"construction"}, nil},
		{"of weak glue", func(f *Facts) { f.Wiped = true }, []string{"joints"}, nil},
		{"filled", func(f *Facts) { f.Fills = true }, []string{"fills"}, nil},
		{"on a cord", func(f *Facts) { f.Hangs = "cord" }, []string{"hang-cord"}, []string{"hang-hole"}},
		{"by its hole", func(f *Facts) { f.Hangs = "hole" }, []string{"hang-hole"}, []string{"hang-cord"}},
	} {
		f := oiled
		try.change(&f)
		got := keys(f.Lines(Card{}, nil, &ready))
		for _, key := range try.has {
			assert.Contains(t, got, key, try.name)
		}
		for _, key := range try.not {
			assert.NotContains(t, got, key, try.name)
		}
	}
	assert.NotContains(t, keys(oiled.Lines(Card{}, nil, nil)), "food", "before its day is known")
}

func ExampleFacts_Lines() {
	f := Facts{
		Woods: wood("Pear"), Finish: "oil and beeswax", Contents: []string{"mineral oil", "mineral oil, beeswax"},
		Use: "nibbles",
	}
	for _, l := range f.Lines(Card{Out: []string{"meat"}}, nil, &ready) {
		if l.Key == "wood" || l.Key == "food" || l.Key == "first" || l.Key == "contents" || l.Out {
			fmt.Println(l.Text, l.Out)
		}
	}
	// Output:
	// This board is of Pear, finished with oil and beeswax. false
	// For food from 21 Jun 2031. false
	// The first time about 2 Aug 2031. false
	// In its finish: mineral oil, beeswax. false
	// No raw chicken or fish on a serving board. true
}

// Whatever a board is, its lines are filled in: no brace of ours is left, in any language.
func TestNoBraceIsLeft(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		yes := func(name string) bool { return rapid.Bool().Draw(t, name) }
		f := Facts{
			Woods: wood(rapid.SampledFrom([]string{"Pear", "Scots pine", "Robinia"}).Draw(t, "wood")),
			Story: rapid.SampledFrom([]string{"", "It stood at the weir."}).Draw(t, "story"), Finish: "oil",
			Curing: yes("curing"), Nut: yes("nut"), Dry: yes("dry"), Feet: yes("feet"), OneSided: yes("one-sided"),
			Fills: yes("fills"), Wiped: yes("wiped"), Reclaimed: yes("reclaimed"),
			Construction: rapid.SampledFrom([]string{"", glue.Flat, glue.Blocks, glue.Arrows}).
				Draw(t, "construction"),
			Use: rapid.SampledFrom([]string{"nibbles", "starter", "main"}).Draw(t, "use"),
		}
		own := &Language{Name: "Own", Lines: map[string]string{}}
		for _, k := range Keys() {
			if yes(k.Key) {
				own.Lines[k.Key] = "» " + k.Form
			}
		}
		var washes int
		for _, l := range f.Lines(Card{}, own, &ready) {
			if strings.Contains(strings.ReplaceAll(l.Text, "{0 °C}", ""), "{") {
				t.Fatalf("%s: %s", l.Key, l.Text)
			}
			if l.Lacks == strings.HasPrefix(l.Text, "» ") && l.Key != "story" {
				t.Fatalf("%s is %q, lacks %v", l.Key, l.Text, l.Lacks)
			}
			if strings.HasPrefix(l.Key, "wash") {
				washes++
			}
		}
		if washes != 1 {
			t.Fatalf("it is washed in %d ways", washes)
		}
	})
}

// What is written anew keeps its values, and is held against what the board is.
func TestWrittenAnew(t *testing.T) {
	f := Facts{Woods: wood("Pear"), Finish: "oil", OneSided: true, Nut: true, Use: "nibbles"}
	said := func(text string) Line {
		for _, l := range f.Lines(Card{Lines: map[string]string{"wood": text}}, nil, &ready) {
			if l.Key == "wood" {
				return l
			}
		}
		return Line{}
	}
	assert.Equal(t, "Of old pear: Pear.", said("Of old pear: {wood}.").Text)
	for text, why := range map[string]string{
		"It is waterproof.":               "sheds water",
		"Dishwasher safe!":                "joints",
		"Serve on both faces.":            "one-sided",
		"Wash it with soap.":              "soap",
		"Nut free.":                       "nut oil",
		"It is not waterproof.":           "",
		"Never leave it in water.":        "swells", // only what stands right before turns it round
		"Wax keeps drops off for a while": "",
	} {
		claim := said(text).Claim
		if why == "" || text == "Never leave it in water." {
			assert.Empty(t, claim, text)
		} else {
			assert.Contains(t, claim, why, text)
		}
	}
}

func TestChecksOfACard(t *testing.T) {
	for field, c := range map[string]*Card{
		"card.lines.colophon": {Lines: map[string]string{"colophon": "x"}}, "card.out[0]": {Out: []string{"x"}},
		"card.lines.wood": {Lines: map[string]string{"wood": strings.Repeat("x", 700)}},
		"card.by":         {By: strings.Repeat("x", 300)},
	} {
		ps := c.Check("card")
		require.Len(t, ps, 1, field)
		assert.Equal(t, field, ps[0].Field)
	}
	assert.Empty(t, (*Card)(nil).Check("card"))
	assert.NotEmpty(t, CheckLanguages("languages", []Language{{Name: "A"}, {Name: "A"}}))
	assert.NotEmpty(t, CheckExtras("extras", []Extra{{Name: " ", Cents: 1}}))
}

// What cures is not shut in before; what sweats is not sent in the warm months.
func TestPacking(t *testing.T) {
	warm := func(m time.Month) bool { return m >= time.June && m <= time.August }
	last := time.Date(2031, 6, 10, 20, 0, 0, 0, time.UTC)
	oil := Facts{Finish: "oil"}.Pack(&last, false, warm)
	assert.Equal(t, 11, oil.From.Day())
	cured := Facts{Curing: true, Food: 14}.Pack(&last, true, warm)
	assert.Equal(t, 24, cured.From.Day())
	assert.False(t, cured.Hot)
	waxed := Facts{Sweats: 39}.Pack(&last, true, warm)
	assert.True(t, waxed.Hot)
	assert.Contains(t, waxed.Instead, "1 Sep 2031")
	assert.False(t, Facts{Sweats: 39}.Pack(&last, false, warm).Hot, "handed over it is not in the sun")
	always := Facts{Sweats: 39}.Pack(&last, true, func(time.Month) bool { return true })
	assert.NotContains(t, always.Instead, "2031")
	assert.Contains(t, fmt.Sprint(Facts{Hangs: "cord"}.Pack(nil, false, warm).Steps), "Tie the cord")
	assert.Nil(t, Facts{}.Pack(nil, false, warm).From)
}

func TestDaysThatComeBack(t *testing.T) {
	at := func(s string) time.Time {
		d, err := time.Parse(time.DateOnly, s)
		require.NoError(t, err)
		return d
	}
	for _, try := range []struct{ day, today, next string }{
		{"06-21", "2031-06-20", "2031-06-21"}, {"06-21", "2031-06-21", "2031-06-21"},
		{"06-21", "2031-06-22", "2032-06-21"}, {"02-29", "2031-01-05", "2031-02-28"},
		{"02-29", "2032-01-05", "2032-02-29"}, {"01-01", "2031-12-31", "2032-01-01"},
	} {
		next, ok := Day{Day: try.day}.Next(at(try.today).Add(20 * time.Hour))
		require.True(t, ok)
		assert.Equal(t, try.next, next.Format(time.DateOnly), "%s from %s", try.day, try.today)
	}
	for _, bad := range []string{"", "21.6.", "13-01", "02-30"} {
		_, ok := Day{Day: bad}.Next(at("2031-01-01"))
		assert.False(t, ok, bad)
	}
	once := Occasion{Name: "A", Day: "2030-06-21"}
	next, _ := once.Next(at("2031-01-01"))
	assert.Equal(t, "2030-06-21", next.Format(time.DateOnly))
	once.Yearly = true
	next, _ = once.Next(at("2031-01-01"))
	assert.Equal(t, "2031-06-21", next.Format(time.DateOnly))

	supper := at("2031-06-21")
	long := at("2030-05-01")
	for _, try := range []struct {
		due   string
		given *time.Time
		is    bool
	}{
		{"2031-06-21", nil, true}, {"2031-06-22", nil, false}, {"2030-06-21", nil, false}, {"2030-06-22", nil, true},
		{"", nil, true}, {"", &long, false}, {"", new(at("2031-05-01")), true},
	} {
		assert.Equal(t, try.is, For(supper, try.due, try.given), "%v", try)
	}
}
