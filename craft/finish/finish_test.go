package finish

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

var (
	surface = Surface{Whole: 224800, End: 8800}
	usual   = Conditions{Temperature: 20}
	monday  = time.Date(2031, 3, 3, 19, 0, 0, 0, time.UTC)
)

func grams(p Plan) (out []float64) {
	for _, c := range p.Coats {
		out = append(out, math.Round(c.Grams*10)/10)
	}
	return out
}

func keys(r stage.Record) (out []string) {
	for _, s := range r.Steps {
		out = append(out, s.Key)
	}
	return out
}

func step(t *testing.T, r stage.Record, key string) plan.Step {
	t.Helper()
	i := slices.IndexFunc(r.Steps, func(s plan.Step) bool { return s.Key == key })
	require.GreaterOrEqual(t, i, 0, key)
	return r.Steps[i]
}

func verdict(r stage.Record, check string) (craft.Verdict, bool) {
	i := slices.IndexFunc(r.Verdicts, func(v craft.Verdict) bool { return v.Check == check })
	if i < 0 {
		return craft.Verdict{}, false
	}
	return r.Verdicts[i], true
}

func TestOil(t *testing.T) {
	p, _ := Make(surface, Choice{School: Oil, Ratio: 3}, usual)
	assert.Equal(t, []float64{17.3, 8.6, 4.3}, grams(p))
	assert.InDelta(t, 30.2, p.Grams.Value, 0.1)
	assert.Equal(t, 12.0*60, p.Coats[0].Wait)
	assert.Zero(t, p.Coats[2].Wait)
	assert.Nil(t, p.Paste)
}

func TestPaste(t *testing.T) {
	p := MixPaste(500, 3)
	assert.InDelta(t, 375, p.OilG, 1e-9)
	assert.InDelta(t, 441, p.OilML, 0.5)
	assert.InDelta(t, 125, p.WaxG, 1e-9)
	for ratio, want := range map[float64]struct {
		degrees float64
		firm    string
	}{
		1: {55, "a stick"}, 2: {50, "butter from the fridge"}, 3: {45, "butter from a cool room"},
		4: {40, "soft butter"},
	} {
		assert.Equal(t, want.degrees, MixPaste(1, ratio).Weeps)
		assert.Equal(t, want.firm, MixPaste(1, ratio).Firm)
	}
	tin, _ := Make(surface, Choice{School: PasteAlone, Ratio: 3, Batch: 500}, usual)
	assert.InDelta(t, 500, tin.Paste.Grams, 1e-9, "a tin")
	one, _ := Make(surface, Choice{School: PasteAlone, Ratio: 3}, usual)
	assert.InDelta(t, one.Grams.Value, one.Paste.Grams, 1e-9, "what the board takes")
}

func TestOilThenPaste(t *testing.T) {
	p, _ := Make(surface, Choice{School: OilThenPaste, Coats: 2, Ratio: 3}, usual)
	require.Len(t, p.Coats, 3)
	last := p.Coats[2]
	assert.Equal(t, Paste, last.Product)
	assert.InDelta(t, 17.28*25/70, last.Grams, 0.01)
	require.NotNil(t, p.Paste)
	assert.InDelta(t, last.Grams, p.Paste.OilG+p.Paste.WaxG, 1e-9)
}

// A finish as it was stored before there were lists, and the steps that it had then: school, coats
// and what it waited, written down from that version. It reads as the list that it meant.
func TestAnOldFinishReadsAsTheListItMeant(t *testing.T) {
	for stored, want := range map[string]string{
		`{"school":"oil","coats":0,"ratio":3}`: "wipe 20 coat-1 120! wipe-1 720 coat-2 120! wipe-2 720 " +
			"coat-3 120! wipe-3 0 rest 3",
		`{"school":"oil","coats":1,"ratio":3}`:      "wipe 20 coat-1 120! wipe-1 0 rest 3",
		`{"school":"oil bath","coats":0,"ratio":3}`: "wipe 20 coat-1 720 wipe-1 0 rest 3",
		`{"school":"oil then paste","coats":0,"ratio":3}`: "wipe 20 coat-1 720 wipe-1 720 coat-2 20! buff-2 0 " +
			"rest 3",
		`{"school":"oil then paste","coats":2,"ratio":2}`: "wipe 20 coat-1 720 wipe-1 720 coat-2 720 wipe-2 720 " +
			"coat-3 20! buff-3 0 rest 3",
		`{"school":"paste alone","coats":2,"ratio":3}`: "wipe 20 coat-1 15! buff-1 720 coat-2 15! buff-2 0 rest 1",
		`{"school":"hard wax","coats":0,"ratio":3}`: "wipe 20 coat-1 15! wipe-1 15! buff-1 1440 coat-2 15! " +
			"wipe-2 15! buff-2 0 rest 14",
		`{"school":"curing oil","coats":2,"ratio":3}`: "wipe 20 coat-1 15! wipe-1 1440 coat-2 15! wipe-2 0 rest 30",
	} {
		var c Choice
		require.NoError(t, json.Unmarshal([]byte(stored), &c))
		require.Empty(t, c.Check("finish"))
		_, r := Make(surface, c, usual)
		var told []string
		for _, s := range r.Steps {
			word := fmt.Sprintf("%s %g", s.Key, math.Round(s.Wait))
			if s.Attended {
				word += "!"
			}
			told = append(told, word)
		}
		told = append(told, fmt.Sprintf("rest %g", r.Steps[len(r.Steps)-1].Rest/day))
		assert.Equal(t, want, strings.Join(told, " "), stored)
	}
}

func TestEverySchoolEndsInFood(t *testing.T) {
	for _, s := range Schools {
		p, r := Make(surface, Choice{School: s.Name, Ratio: 3}, usual)
		assert.NotEmpty(t, p.Coats, s.Name)
		assert.Positive(t, p.Food.Value, s.Name)
		assert.Positive(t, p.Grams.Value, s.Name)
		assert.NotEmpty(t, p.Contents, s.Name)
		var used float64
		for _, u := range r.Uses {
			if u.Kind == stage.Finish && u.Unit == craft.Gram {
				used += u.Amount
			}
		}
		want := p.Grams.Value
		for i, a := range p.Acts {
			if a.Bath {
				want += p.Coats[i].Grams * lostInBath
			}
		}
		assert.InDelta(t, want, used, 1e-9, "the shelf gives what the coats take")
		assert.Equal(t, p.Food.Value*day, r.Steps[len(r.Steps)-1].Rest, "%s rests after its last step", s.Name)
		for _, v := range r.Verdicts {
			assert.Equal(t, craft.Good, v.Level, "%s: %s", s.Name, v.Finding)
		}
	}
}

// Each way of finishing that the trade talks of can be written as a list.
func TestEveryWayIsAList(t *testing.T) {
	for name, tt := range map[string]struct {
		acts []Act
		want string
	}{
		"oil, fifteen minutes, wiped": {
			[]Act{{Product: Oil, Soak: 15, Wipe: true}}, "wipe coat-1 wipe-1",
		},
		"two nights of oil": {
			Find(TwoNights).list(0), "wipe coat-1 wipe-1 coat-2 wipe-2",
		},
		"wet with 1200 between": {
			Find(Silky).list(0), "wipe coat-1 wipe-1 rub-1 coat-2 wipe-2 rub-2 coat-3 wipe-3",
		},
		"coffee, then conditioner": {
			Find(CoffeePaste).list(0), "wipe coat-1 wipe-1 coat-2 wipe-2 coat-3 buff-3",
		},
		"a bath overnight, then wax": {
			Find(BathThenWax).list(0), "wipe coat-1 wipe-1 coat-2 buff-2",
		},
		"thin oil in the engraving, wax on the rest": {
			Find(Engraved).list(0), "wipe coat-1 wipe-1 coat-2 buff-2",
		},
		"wax over a cured oil after 600": {
			Find(WaxOverCured).list(1), "wipe coat-1 wipe-1 rub-1 coat-2 buff-2",
		},
		"one coat and done": {
			[]Act{{Product: HardWax, Soak: 15, Wipe: true}}, "wipe coat-1 wipe-1",
		},
		"oil, hazed and buffed": {
			[]Act{{Product: Oil, Soak: 60, Wipe: true, Haze: 30, Buff: true}}, "wipe coat-1 wipe-1 buff-1",
		},
	} {
		c := Choice{School: Oil, Ratio: 3, List: tt.acts}
		require.Empty(t, c.Check("finish"), name)
		_, r := Make(surface, c, usual)
		assert.Equal(t, tt.want, strings.Join(keys(r), " "), name)
	}
}

func TestRestBeforeFood(t *testing.T) {
	food := func(acts ...Act) float64 {
		p, _ := Make(surface, Choice{School: Oil, Ratio: 3, List: acts}, usual)
		return p.Food.Value
	}
	oil, paste := Act{Product: Oil, Wait: 12 * hour}, Act{Product: Paste}
	curing := Act{Product: CuringOil, Wait: 24 * hour}
	assert.Equal(t, 3.0, food(oil, paste), "oil settles from the last coat on")
	assert.Equal(t, 1.0, food(paste))
	assert.InDelta(t, 29, food(curing, paste), 1e-9, "it cures under the wax")
	assert.Equal(t, 1.0, food(curing, Act{Wait: 30 * day, Sand: 600}, paste))
	assert.Equal(t, 30.0, food(Act{Product: Stain}, paste), "a commercial stain")
}

func TestChoiceCheck(t *testing.T) {
	assert.Empty(t, Choice{School: "oil", Coats: 4, Ratio: 3}.Check("finish"))
	assert.Len(t, Choice{School: "oil", Coats: 40, Ratio: 0}.Check("finish"), 2)
	assert.NotEmpty(t, Choice{School: "paint", Ratio: 3}.Check("finish"))
	for field, a := range map[string]Act{
		"finish.list[0].product": {Product: "tar"}, "finish.list[0].on": {Product: Oil, On: []string{"rim"}},
		"finish.list[0].sand": {Product: Oil, Sand: 40}, "finish.list[0].soak": {Product: Oil, Soak: -1},
		"finish.list[0]": {}, "finish.list[0].face": {Product: Oil, Face: 1e6},
	} {
		ps := Choice{School: Oil, Ratio: 3, List: []Act{a}}.Check("finish")
		require.NotEmpty(t, ps, field)
		assert.Equal(t, field, ps[0].Field)
	}
	assert.NotEmpty(t, Choice{School: Oil, Ratio: 3, Needs: map[string]int{"gold": 2}}.Check("finish"))
	assert.NotEmpty(t, Choice{School: Oil, Ratio: 3, Needs: map[string]int{Easy: 4}}.Check("finish"))
}

// Wood that soaks or dries holds its place until the wait is over, and no longer.
func TestWhatACoatHolds(t *testing.T) {
	for school, want := range map[string]string{OilBath: plan.Bath, OilThenPaste: plan.Rack, Oil: plan.Rack} {
		_, r := Make(surface, Choice{School: school, Ratio: 3}, usual)
		waits := 0
		for _, s := range r.Steps {
			if s.Wait == 0 || s.Key == "wipe" { // spirits flash off wherever it lies
				assert.Empty(t, s.Holds, s.Key)
				continue
			}
			waits++
			assert.Equal(t, []string{want}, s.Holds, "%s: %s", school, s.Key)
		}
		assert.Positive(t, waits)
	}
}

// Amounts follow the thirst of the wood, the parts that are coated, and what the maker's own coats
// have taken.
func TestAmounts(t *testing.T) {
	oil, _ := ProductOf(Oil)
	parts := Surface{Whole: 3e5, End: 1e4, Parts: []Part{
		{ShowFace, 1e5, 0}, {UnderFace, 1e5, 0}, {Edges, 6e4, 1e4}, {Cavities, 4e4, 0},
	}}
	whole := parts.Grams(70, nil, oil)
	sum := 0.0
	for _, p := range Parts {
		sum += parts.Grams(70, []string{p}, oil)
	}
	assert.InDelta(t, whole, sum, 1e-9)
	assert.InDelta(t, 70*(6e4-1e4+3.5*1e4)/1e6, parts.Grams(70, []string{Edges}, oil), 1e-9)
	coffee, _ := ProductOf(Coffee)
	parts.Thirst = 1.4
	assert.InDelta(t, 45*0.2, parts.Grams(45, []string{ShowFace, UnderFace}, coffee), 1e-9, "it lies on it")
	assert.InDelta(t, 1.4*whole, parts.Grams(70, nil, oil), 1e-9)

	habit := Learn([]Coated{{Oil, 10, 15}, {Oil, 10, 15}, {Oil, 0, 3}, {Paste, 5, 5}})
	assert.InDelta(t, (4+1.5+1.5)/6, habit.of(Oil), 1e-9)
	assert.Equal(t, 1.0, habit.of(Paste))
	assert.Equal(t, 1.0, habit.of(HardWax))
	with := usual
	with.Habit = habit
	p, _ := Make(surface, Choice{School: Oil, Ratio: 3}, usual)
	q, _ := Make(surface, Choice{School: Oil, Ratio: 3}, with)
	assert.InDelta(t, p.Grams.Value*habit.of(Oil), q.Grams.Value, 1e-9)
}

func TestThirst(t *testing.T) {
	patch := func(x float64, w species.Species) stock.Patch {
		return stock.Patch{
			Ring: geom.Ring{{X: x}, {X: x + 10}, {X: x + 10, Y: 10}, {X: x, Y: 10}},
			Here: stock.Here{Species: w},
		}
	}
	of := func(group, pores string) species.Species { return species.Species{Group: group, Pores: pores} }
	for want, w := range map[float64]species.Species{
		1: of("hardwood", "closed"), 1.1: of("hardwood", "semi-ring"), 1.2: of("hardwood", "ring"),
		1.4: of("softwood", "none"),
	} {
		assert.InDelta(t, want, Thirst([]stock.Patch{patch(0, w)}, 0), 1e-9)
	}
	both := []stock.Patch{patch(0, of("hardwood", "closed")), patch(10, of("softwood", "none"))}
	assert.InDelta(t, 1.2, Thirst(both, 0), 1e-9)
	assert.InDelta(t, 1.4, Thirst(both, 0.5), 1e-9, "half of it spalted")
	assert.Equal(t, 1.0, Thirst(nil, 0))
}

// The oil that covers boards in a tub, and the weight that holds them down.
func TestBath(t *testing.T) {
	weighed := func(mass float64) func() (float64, float64) {
		return func() (float64, float64) { return 1980, mass }
	}
	s := Surface{Whole: 224800, End: 8800, Weighed: weighed(1386), Thickness: 20, Length: 450, Width: 220}
	in := Inside{Length: 600, Width: 300, Height: 120, Boards: 4}
	one := in.filled(s, 1, 25)
	assert.InDelta(t, 600*300*(20+15)/1000.0-1980, one.Cover, 1e-6)
	assert.InDelta(t, 2*(0.85*1980-1386)*9.81/1000, one.Weight, 1e-9, "wood lighter than the oil floats")
	assert.InDelta(t, 25*1.03, one.Lost, 1e-9)
	assert.InDelta(t, one.Cover-one.Lost/0.85, one.Kept, 1e-9)
	three := in.filled(s, 3, 25)
	assert.InDelta(t, 600*300*(60+20+15)/1000.0-3*1980, three.Cover, 1e-6)
	heavy := s
	heavy.Weighed = weighed(1800)
	assert.Zero(t, in.filled(heavy, 1, 25).Weight, "it sinks")
	assert.Equal(t, 3, in.Fits(s), "by its height")
	for n := 1; n < 12; n++ {
		deep := in
		deep.Boards, deep.Height = 20, float64(n)*20+float64(n-1)*10+15
		assert.Equal(t, n, deep.Fits(s), "it just holds so many")
	}
	long := s
	long.Length = 620
	assert.Zero(t, in.Fits(long))
	turned := s
	turned.Length, turned.Width = 220, 450
	assert.Equal(t, 3, in.Fits(turned))
	k := usual
	k.Tub = &in
	p, r := Make(s, Choice{School: OilBath, Ratio: 3}, k)
	require.NotNil(t, p.Bath)
	assert.InDelta(t, p.Coats[0].Grams*1.03, p.Bath.Lost, 1e-9, "what the coat takes")
	v, _ := verdict(r, "tub")
	assert.Equal(t, craft.Good, v.Level)
	_, r = Make(long, Choice{School: OilBath, Ratio: 3}, k)
	v, _ = verdict(r, "tub")
	assert.Equal(t, craft.Stop, v.Level)
}

// In the cold wax is stiff, soaks take twice as long, and spirits flash off slowly.
func TestCold(t *testing.T) {
	for degrees, want := range map[float64]float64{20: 15, 15: 15, 14.9: 30, 5: 30} {
		k := usual
		k.Temperature = degrees
		_, r := Make(surface, Choice{School: PasteAlone, Ratio: 3}, k)
		assert.Equal(t, want, step(t, r, "coat-1").Wait, "%g °C", degrees)
		assert.InDelta(t, 20*math.Pow(2, (20-degrees)/10), step(t, r, "wipe").Wait, 1e-9)
		_, cold := verdict(r, "finish-cold")
		assert.Equal(t, degrees < 15, cold)
	}
}

// A look decides how many coats a board takes: dry again, and another one comes; still wet, and the
// rest of them is left out; what comes after them stays.
func TestTheLookDecides(t *testing.T) {
	note := func(step, what string) plan.Entry {
		return plan.Entry{Step: step, Event: plan.Noted, At: monday, What: what}
	}
	done := func(step string) plan.Entry {
		return plan.Entry{Step: step, Event: plan.Finish, At: monday, Minutes: 5}
	}
	after := func(c Choice, log ...plan.Entry) string {
		k := usual
		k.Log = log
		p, r := Make(surface, c, k)
		assert.InDelta(t, p.Food.Value*day, r.Steps[len(r.Steps)-1].Rest, 1e-9)
		return strings.Join(keys(r), " ")
	}
	oil := Choice{School: Oil, Ratio: 3}
	assert.Equal(t, "wipe coat-1 wipe-1 coat-2 wipe-2 coat-3 wipe-3", after(oil, note("wipe-1", NoteDry)),
		"another one is planned anyway")
	assert.Equal(
		t,
		"wipe coat-1 wipe-1 coat-2 wipe-2 coat-3 wipe-3 coat-103 wipe-103",
		after(oil, note("wipe-3", NoteDry)),
	)
	assert.Equal(t, "wipe coat-1 wipe-1", after(oil, note("wipe-1", NoteFull)))
	assert.Equal(t, "wipe coat-1 wipe-1 coat-2 wipe-2 coat-3 wipe-3",
		after(oil, note("wipe-1", NoteFull), note("wipe-1", plan.Back)))
	assert.Equal(t, "wipe coat-1 wipe-1 coat-2 wipe-2", after(oil, done("coat-2"), note("wipe-2", NoteFull),
		note("wipe-1", NoteFull)), "what is on it stays")
	both := Choice{School: OilThenPaste, Ratio: 3}
	assert.Equal(t, "wipe coat-1 wipe-1 coat-101 wipe-101 coat-2 buff-2", after(both, note("wipe-1", NoteDry)))
	both.Coats = 2
	assert.Equal(t, "wipe coat-1 wipe-1 coat-3 buff-3", after(both, note("wipe-1", NoteFull)))
	k := usual
	k.Log = []plan.Entry{note("wipe-3", NoteDry)}
	p, r := Make(surface, oil, k)
	assert.Equal(t, 12.0*hour, step(t, r, "wipe-3").Wait, "the one that was last waits now")
	assert.Equal(t, []float64{17.3, 8.6, 4.3, 2.2}, grams(p))
	assert.Equal(t, 1, p.Added)
	for n := range 60 {
		k.Log = append(k.Log, note(fmt.Sprintf("wipe-%d", 3+n*added), NoteDry))
	}
	p, _ = Make(surface, oil, k)
	assert.LessOrEqual(t, len(p.Coats), mostActs)
}

// What was done on a coat stays with that coat, whatever is moved, removed or put in before it; a new
// one is begun by nobody.
func TestACoatKeepsWhatWasDoneOnIt(t *testing.T) {
	k := usual
	for _, step := range []string{"wipe", "coat-1", "wipe-1", "coat-2"} {
		k.Log = append(k.Log, plan.Entry{Step: step, Event: plan.Finish, At: monday, Minutes: 5})
	}
	list := Choice{School: Oil, Ratio: 3}.Acts()
	of := func(list []Act) (string, Plan) {
		c := Choice{School: Oil, Ratio: 3, List: list}
		require.Empty(t, c.Check("finish"))
		p, r := Make(surface, c, k)
		return strings.Join(keys(r), " "), p
	}
	was, p := of(list)
	assert.Equal(t, "wipe coat-1 wipe-1 coat-2 wipe-2 coat-3 wipe-3", was)
	assert.Equal(t, 4, p.Next)
	got, _ := of([]Act{list[0], {ID: p.Next, Product: Paste, Soak: 15, Buff: true}, list[1], list[2]})
	assert.Equal(t, "wipe coat-1 wipe-1 coat-4 buff-4 coat-2 wipe-2 coat-3 wipe-3", got)
	got, p = of([]Act{list[0], list[2]})
	assert.Equal(t, "wipe coat-1 wipe-1 coat-3 wipe-3", got)
	got, _ = of([]Act{list[2], list[0]})
	assert.Equal(t, "wipe coat-3 wipe-3 coat-1 wipe-1", got)
	_, p = of(list[:1])
	assert.Equal(t, 3, p.Next, "not that of one that was begun and removed")
	got, _ = of([]Act{{Product: Oil, Sand: 320}, {Sand: 600}, {Wait: 60, Sand: 1000}, {Product: Oil}})
	assert.Equal(t, "wipe coat-1 rub-1 rub-1-2 rub-1-3 coat-2", got, "every step has a key of its own")
	ps := Choice{School: Oil, Ratio: 3, List: []Act{{ID: 2, Product: Oil}, {ID: 2, Product: Oil}}}.Check("finish")
	require.Len(t, ps, 1)
	assert.Equal(t, "finish.list[1].id", ps[0].Field)
}

func TestWhatIsTold(t *testing.T) {
	at := func(k Conditions, c Choice, check string) (craft.Level, []craft.Remedy) {
		c.Ratio = max(1, c.Ratio)
		_, r := Make(surface, c, k)
		v, ok := verdict(r, check)
		if !ok {
			return craft.Good, nil
		}
		return v.Level, v.Remedies
	}
	// Every remedy settles what it is for.
	settled := func(k Conditions, c Choice, check string, want craft.Level) {
		t.Helper()
		c.Ratio = max(1, c.Ratio)
		level, remedies := at(k, c, check)
		assert.Equal(t, want, level, check)
		for _, remedy := range remedies {
			var doc struct {
				Finish Choice `json:"finish"`
			}
			doc.Finish = c
			require.NoError(t, remedy.Patch.Apply(&doc))
			require.Empty(t, doc.Finish.Check("finish"))
			after, _ := at(k, doc.Finish, check)
			assert.Equal(t, craft.Good, after, "%s: %s", check, remedy.Label)
		}
	}
	hot := usual
	hot.Warm = true
	settled(hot, Choice{School: PasteAlone, Ratio: 4}, "finish-heat", craft.Mind)
	settled(hot, Choice{School: PasteAlone, Ratio: 2}, "finish-heat", craft.Good)
	settled(usual, Choice{School: PasteAlone, Ratio: 4}, "finish-heat", craft.Good)
	coffee := Find(CoffeePaste).list(0)
	late := slices.Clone(coffee)
	for i := range late {
		late[i].Early = false
	}
	settled(usual, Choice{School: CoffeePaste, List: late}, "stain-raises", craft.Mind)
	rubbed := slices.Clone(late)
	rubbed[1].Sand = 320
	settled(usual, Choice{School: CoffeePaste, List: rubbed}, "stain-raises", craft.Good)
	settled(usual, Choice{School: Oil, List: []Act{{Product: Paste}, {Product: Oil}}}, "over-wax", craft.Mind)
	settled(usual, Choice{School: Oil, List: []Act{{Product: Paste, On: []string{ShowFace}},
		{Product: Oil, On: []string{Cavities}}}}, "over-wax", craft.Good)
	settled(
		usual,
		Choice{School: Oil, List: []Act{{Product: CuringOil, Bath: true, Soak: 60}}},
		"tub-oil",
		craft.Stop,
	)
	settled(usual, Choice{School: Oil, List: []Act{{Product: CuringOil, Wait: day}, {Product: Paste}}}, "uncured",
		craft.Mind)
	settled(
		usual,
		Choice{School: Oil, List: []Act{{Product: CuringOil, Wait: day}, {Wait: 29 * day}, {Product: Paste}}},
		"uncured",
		craft.Good,
	)
	settled(usual, Choice{School: Oil, List: []Act{{Product: Oil, Early: true}}}, "too-early", craft.Mind)
	settled(usual, Choice{School: Oil, List: []Act{{Product: Stain, Early: true}}}, "too-early", craft.Good)
	small := usual
	small.Tub = &Inside{Length: 100, Width: 100, Height: 100, Boards: 2}
	big := surface
	surface = Surface{Whole: 224800, End: 8800, Length: 450, Width: 220, Thickness: 20,
		Weighed: func() (float64, float64) { return 1980, 1400 }}
	settled(small, Choice{School: OilBath}, "tub", craft.Stop)
	surface = big
}

// No hands-on act is planned outside the sessions, and no soak that somebody must end by the clock
// ends there: whatever the finish, and whatever the hours.
func TestNobodyComesBackInTheNight(t *testing.T) {
	r := rand.New(rand.NewPCG(16, 4))
	pick := func(of ...float64) float64 { return of[r.IntN(len(of))] }
	for n := range 1500 {
		acts := make([]Act, 1+r.IntN(5))
		for i := range acts {
			p := Products[r.IntN(len(Products))]
			acts[i] = Act{
				Product: p.Name, Soak: pick(0, 5, 15, 45, 120, 200, 350, 360, 720), Wipe: r.IntN(3) > 0,
				Wait: pick(0, 60, 720, 1440), Buff: r.IntN(3) == 0, Sand: int(pick(0, 0, 320, 1200)),
			}
			if acts[i].Buff {
				acts[i].Haze = pick(0, 15, 20, 90)
			}
		}
		var sessions []plan.Session
		for range 1 + r.IntN(4) {
			from := r.IntN(22)
			sessions = append(sessions, plan.Session{
				Weekday: time.Weekday(r.IntN(7)), Start: fmt.Sprintf("%02d:%02d", from, r.IntN(60)),
				End: fmt.Sprintf("%02d:59", from+1+r.IntN(min(5, 23-from))),
			})
		}
		_, rec := Make(surface, Choice{School: Oil, Ratio: 3, List: acts}, Conditions{Temperature: pick(10, 18, 22)})
		chain := plan.Chain{Subject: plan.Board("b"), Name: "b", Steps: rec.Steps}
		now := monday.Add(time.Duration(r.IntN(7*24)) * time.Hour)
		course := plan.Schedule([]plan.Chain{chain}, sessions, time.UTC, now)[0]
		require.False(t, course.Unplaced)
		windows := plan.Windows(sessions, time.UTC, now.Add(-time.Hour), now.Add(400*24*time.Hour))
		within := func(from, to time.Time) bool {
			return slices.ContainsFunc(windows, func(w plan.Window) bool {
				return !from.Before(w.From) && !to.After(w.To)
			})
		}
		for i, s := range course.Steps {
			require.True(t, within(*s.Starts, *s.Ends), "%d: %s from %s to %s", n, s.Key, s.Starts, s.Ends)
			if s.Attended && s.Wait < Unattended {
				require.True(t, within(*s.WaitUntil, *s.WaitUntil), "%d: %s soaks until %s", n, s.Key, s.WaitUntil)
				require.Equal(
					t,
					course.Steps[i+1].Starts.Unix(),
					s.WaitUntil.Unix(),
					"%d: %s is ended by hand",
					n,
					s.Key,
				)
			}
			if i+1 < len(course.Steps) && s.Wait > 0 && s.Wait < Unattended {
				next := course.Steps[i+1].Kind
				require.Equal(
					t,
					next == plan.Wipe || next == plan.Buff,
					s.Attended,
					"%d: who comes back to %s",
					n,
					s.Key,
				)
			}
		}
	}
}

// The chooser: what is weighed decides, nothing is hidden, and its own trials count.
func TestChooser(t *testing.T) {
	best := func(needs map[string]int, own ...Kept) Option {
		all := Compare(surface, Choice{School: Oil, Ratio: 3, Needs: needs}, own, nil, usual)
		assert.Len(t, all, len(Schools)+len(own))
		chosen := 0
		for i, o := range all {
			if o.Chosen {
				chosen++
			}
			assert.Positive(t, o.HandsOn)
			assert.Positive(t, o.Days)
			assert.Positive(t, o.Cost)
			if len(needs) > 0 {
				assert.NotEmpty(t, o.Why)
				if i > 0 {
					assert.LessOrEqual(t, o.Score, all[i-1].Score)
				}
				assert.LessOrEqual(t, o.Score, 100+1e-9)
			}
			assert.Equal(t, needs, o.Choice.Needs, "what was weighed stays")
		}
		assert.Equal(t, 1, chosen)
		return all[0]
	}
	assert.Equal(t, Oil, best(nil).Name, "in the order of the trade")
	assert.LessOrEqual(t, best(map[string]int{ReadySoon: 3}).Days, 1.1)
	assert.Contains(t, []string{CuringOil, WaxOverCured}, best(map[string]int{Washed: 3}).Name)
	assert.Equal(t, Silky, best(map[string]int{SilkyFeel: 3, Easy: 1, ReadySoon: 1}).Name)
	assert.Equal(t, Neutral, best(map[string]int{KeepColour: 3}).Tint)
	nut := Kept{Name: "mine", School: CuringOil, Ratio: 3, List: []Act{{Product: NutOil, Soak: 15, Wipe: true}}}
	all := Compare(surface, Choice{School: Oil, Ratio: 3, Needs: map[string]int{NoNuts: 3}}, []Kept{nut}, nil, usual)
	assert.Equal(t, "mine", all[len(all)-1].Name)
	assert.Contains(t, all[len(all)-1].Why, "against it: no nut oil")

	k := usual
	k.Washed = map[string]float64{Paste: 400}
	all = Compare(surface, Choice{School: Oil, Ratio: 3, Needs: map[string]int{Washed: 3}}, nil, nil, k)
	p, _ := Make(surface, all[0].Choice, k)
	assert.True(t, p.has(func(p Product) bool { return p.Wax }), "the maker's own trial counts: %s", all[0].Name)

	dear := Compare(surface, Choice{School: Oil, Ratio: 3}, nil, map[string]float64{Oil: 24000}, usual)
	assert.InDelta(t, 24.0*dear[0].cost(t)/1.0, dear[0].Cost, 1e-6)
}

// cost is what an option takes at a cent a gram and kilo, recomputed by its coats.
func (o Option) cost(t *testing.T) (sum float64) {
	t.Helper()
	p, _ := Make(surface, o.Choice, usual)
	return p.Grams.Value
}

func TestOiledColours(t *testing.T) {
	pale, dark := "#f0e0c0", "#50301c"
	assert.NotEqual(t, Oiled(pale, Neutral), Oiled(pale, Warm))
	blue := func(hex string) (r, g, b int) {
		_, err := fmt.Sscanf(hex, "#%02x%02x%02x", &r, &g, &b)
		require.NoError(t, err)
		return r, g, b
	}
	r, _, b := blue(Oiled(pale, Warm))
	pr, _, pb := blue(pale)
	assert.Greater(t, pb-b, pr-r, "it yellows")
	_, _, n := blue(Oiled(pale, Neutral))
	assert.Greater(t, n, pb*9/10, "clear oil hardly darkens light wood")
	dr, _, _ := blue(Oiled(dark, Neutral))
	r0, _, _ := blue(dark)
	assert.Less(t, dr, r0*9/10)
	assert.Equal(t, "nothing", Oiled("nothing", Warm))
}

func TestNotesOfAFinish(t *testing.T) {
	for _, tt := range []struct {
		step, what string
		value      float64
		wrong      int
	}{
		{"wipe-1", NoteDry, 0, 0}, {"coat-1", NoteGrams, 12, 0}, {"coat-1", NoteGrams, 0, 1}, {"coat-1", "leak", 0, 1},
		{"buff-2", NoteFull, 0, 0}, {"sand-80", NoteDry, 0, 1}, {"wipe", NoteDry, 0, 1},
	} {
		assert.Len(t, plan.Unfit(Notings, tt.step, tt.what, tt.value, false), tt.wrong, "%+v", tt)
	}
	for _, what := range []string{NoteDry, NoteFull, NoteGrams} {
		assert.NotEmpty(t, plan.Said(Notings, what, 12))
	}
}

// Every product begins as a coat that can be stored, and asks for nobody's attention.
func TestBegins(t *testing.T) {
	all := Begins()
	require.Len(t, all, len(Products)+1)
	for i, a := range all {
		require.Empty(t, a.check("act"), "%+v", a)
		if i < len(Products) {
			assert.Equal(t, Products[i].Name, a.Product)
			assert.True(t, a.Wipe || a.Buff, "%s: somebody ends its soak", a.Product)
		}
	}
}
