// Package giving is what goes with a board when it leaves the shop: the lines of its card and of its care page, when
// it is oiled again, how it is packed, where the maker's mark may stand, and the people that boards are for.
//
// Which line stands is decided by Facts: what the board is made of and finished with, how it was put together, what is
// sunk into it and screwed under it. A maker may write a line anew, leave it out, or have it in another language; what
// a line is about stays what the board is.
package giving

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/glue"
	"idletimber/craft/species"
)

// Facts are what a board is, as far as its card tells it.
type Facts struct {
	Woods     []species.Species
	Reclaimed bool   // of unknown treatment
	Story     string // where its wood stood, one sentence; empty when nothing is known
	Elsewhere string // what was done by others; empty for nothing

	Finish   string   // what it is finished with, in the middle of a sentence
	Curing   bool     // its finish hardens: a little soap does no harm
	Contents []string // of the finish
	Nut      bool     // it may hold nut oil
	Sweats   float64  // temperature above which its wax comes out, °C; 0 where it has none
	Food     float64  // days after the last coat until food

	Construction string // of a panel; empty for one piece
	Wiped        bool   // its joints stand no bath
	Fills        bool   // it has fills of resin
	Dry          bool   // a tray, never washed
	Feet         bool
	OneSided     bool   // something stands on a face, is sunk into one or cut under one
	Hangs        string // what it hangs by: "cord", "hole", or empty
	Use          string // what it serves: nibbles, starter or main
	Note         string // the maker's own words
}

// Card is what a maker has made of a card.
type Card struct {
	By       string            `json:"by,omitempty" doc:"Who made the board, as the card has it; empty for the shop"`
	Story    string            `json:"story,omitempty" doc:"Where its wood stood, in the maker's words"`
	Public   bool              `json:"public,omitempty" doc:"Names may stand on the care page"`
	Language string            `json:"language,omitempty" doc:"Name of one of the shop's languages; empty for English"`
	Lines    map[string]string `json:"lines,omitempty" doc:"Lines that were written anew, by key"`
	Out      []string          `json:"out,omitempty" doc:"Keys of lines that are left out"`
}

// Language is the lines of a card in a language of the maker's own.
type Language struct {
	Name  string            `json:"name" doc:"What it is called"`
	Lines map[string]string `json:"lines" doc:"Lines by key; what stands in braces stays as it is"`
	Words map[string]string `json:"words,omitempty" doc:"Woods, finishes, constructions by their English words"`
}

// Line is a line of a card.
type Line struct {
	Key   string `json:"key" doc:"Stable name, such as wash-oiled"`
	Text  string `json:"text" doc:"As it stands on the card"`
	Form  string `json:"form" doc:"The same before its values are put in"`
	Own   bool   `json:"own,omitempty" doc:"The maker wrote it"`
	Out   bool   `json:"out,omitempty" doc:"It is left out"`
	Lacks bool   `json:"lacks,omitempty" doc:"The chosen language has no words for it: it stands in English"`
	Must  bool   `json:"must,omitempty" doc:"Somebody may come to harm without it"`
	Claim string `json:"claim,omitempty" doc:"What the line says that this board does not hold to; empty for nothing"`
}

// form is a line before values are put in, and the boards that have it.
type form struct {
	key, text string
	must      bool
	has       func(Facts) bool
}

// Keys of lines that are asked for by them.
const (
	NoteLine  = "note"  // the maker's own words, for whoever gets the board
	FirstLine = "first" // when it is oiled first
)

func always(Facts) bool { return true }

// forms are the lines in the order of a card.
var forms = []form{
	{NoteLine, "{note}", false, func(f Facts) bool { return f.Note != "" }},
	{"wood", "This board is of {wood}, finished with {finish}.", false, always},
	{"story", "{story}", false, func(f Facts) bool { return f.Story != "" }},
	{"elsewhere", "Done elsewhere: {elsewhere}.", false, func(f Facts) bool { return f.Elsewhere != "" }},
	{"colour", "Its colour is alive: it {change}.", false, func(f Facts) bool { return f.change() != "" }},
	{"purpose", "It is for serving {use}.", false, always},
	{"food", "For food from {food}.", true, func(f Facts) bool { return true }},
	{
		"wash-dry", "It is a tray, used dry: wipe it, never wash it.", true,
		func(f Facts) bool { return f.Dry },
	},
	{
		"wash-cured", "Wash it by hand with little soap, rinse, wipe dry and stand it on edge. Never soak it, never " +
			"in the dishwasher.", true, func(f Facts) bool { return !f.Dry && f.Curing },
	},
	{ // what does not cure stays soluble
		"wash-oiled", "Wash it by hand without soap, which takes oil and wax out, rinse, wipe dry and stand it on " +
			"edge. Never soak it, never in the dishwasher.", true, func(f Facts) bool { return !f.Dry && !f.Curing },
	},
	{
		"oil-cured", "When it looks dry, after some months, give it a thin coat of the same finish and let it cure " +
			"before food.", false, func(f Facts) bool { return f.Curing },
	},
	{
		"oil", "When it looks dry, every month or two, rub in food-grade oil, leave it overnight and wipe it off.",
		false, func(f Facts) bool { return !f.Curing },
	},
	{FirstLine, "The first time about {oil}.", false, always},
	{"contents", "In its finish: {contents}.", true, func(f Facts) bool { return len(f.Contents) > 0 }},
	{
		"nut", "It holds nut oil: not for anyone who must keep away from nuts.", true,
		func(f Facts) bool { return f.Nut },
	},
	{
		"sweats", "Its wax sweats above about {sweats}: not in a hot car, not by the stove.", false,
		func(f Facts) bool { return f.Sweats > 0 },
	},
	{"paper", "Put paper under wet food; serve dry things first.", true, Facts.papered},
	{"construction", "{construction}", false, func(f Facts) bool { return ofConstruction[f.Construction] != "" }},
	{
		"joints", "Its joints stand water now and then, not a bath: wipe it rather than wash it.", true,
		func(f Facts) bool { return f.Wiped },
	},
	{
		"fills", "Its fills are resin: keep hot pans and knives off them.", true,
		func(f Facts) bool { return f.Fills },
	},
	{"feet", "Its feet keep it off a wet counter.", false, func(f Facts) bool { return f.Feet }},
	{
		"faces", "Both faces may be used; turn it now and then so that it stays flat.", false,
		func(f Facts) bool { return !f.Feet && !f.OneSided },
	},
	{
		"hang-cord", "Hang it by its cord when it is dry, away from the stove.", false,
		func(f Facts) bool { return f.Hangs == "cord" },
	},
	{
		"hang-hole", "Hang it by its hole when it is dry, away from the stove.", false,
		func(f Facts) bool { return f.Hangs == "hole" },
	},
	{"meat", "No raw chicken or fish on a serving board.", true, always},
}

// ofConstruction is what a construction asks of who uses it.
var ofConstruction = map[string]string{
	glue.Flat:    "It is glued of planks: dry it standing, so that both faces give off water alike.",
	glue.Unequal: "It is glued of planks: dry it standing, so that both faces give off water alike.",
	glue.OnEdge:  "It is glued on edge and stays flat; cut along the stripes as well as across.",
	glue.Stacked: "It is glued on edge and stays flat; cut along the stripes as well as across.",
	glue.Blocks: "Its end grain spares knives and drinks: oil it twice as often, on both faces, and never leave it " +
		"lying wet on one.",
	glue.Arrows: "Its arrows are for the eye: cut on the other face, or on a board beside it.",
}

// uses are what a board is for, and what not, by what it serves.
var uses = map[string]string{
	"nibbles": "bread, cheese and nibbles, not for chopping",
	"starter": "a starter for the table, not for chopping",
	"main":    "what is carved at the table, not for raw meat",
}

func (f Facts) change() string {
	var out []string
	for _, w := range f.Woods {
		if w.ColourChange != "" && w.ColourChange != "none" && !slices.Contains(out, w.ColourChange) {
			out = append(out, w.ColourChange)
		}
	}
	return strings.Join(out, "; it ")
}

func (f Facts) papered() bool {
	return slices.ContainsFunc(
		f.Woods,
		func(w species.Species) bool { return w.Food == "caution" || w.Group == "softwood" },
	)
}

// contents are what is in its finish, each once.
func (f Facts) contents() string {
	var out []string
	for _, list := range f.Contents {
		for _, part := range strings.Split(list, "; ") {
			for _, one := range strings.Split(part, ", ") {
				if !slices.Contains(out, one) {
					out = append(out, one)
				}
			}
		}
	}
	return strings.Join(out, ", ")
}

// Wood names its woods.
func (f Facts) Wood() string { return f.wood(func(word string) string { return word }) }

// wood names its woods in other words.
func (f Facts) wood(say func(string) string) string {
	out := make([]string, len(f.Woods))
	for i, w := range f.Woods {
		out[i] = say(w.Name)
	}
	name := strings.Join(out, " and ")
	if f.Reclaimed {
		name = say("reclaimed") + " " + name
	}
	return name
}

// Lines are the lines of a card for a board that is ready for food on a day, nil where that is not known yet. Those
// that are left out are among them, and say so.
func (f Facts) Lines(c Card, language *Language, ready *time.Time) []Line {
	say := func(word string) string {
		if language == nil {
			return word
		}
		return cmp.Or(language.Words[word], word)
	}
	day := func(t *time.Time) string {
		if t == nil {
			return ""
		}
		return t.Format("2 Jan 2006")
	}
	values := map[string]string{
		"note": strings.TrimSpace(
			f.Note,
		), "wood": f.wood(say), "finish": say(f.Finish), "story": cmp.Or(c.Story, f.Story),
		"elsewhere": strings.TrimRight(f.Elsewhere, ". "), "change": f.change(), "use": say(uses[f.Use]),
		"food": day(ready), "oil": day(NextOiling(f.OiledEvery(), nil, nil, ready)), "contents": f.contents(),
		"sweats": craft.In(f.Sweats, craft.Celsius), "construction": ofConstruction[f.Construction],
	}
	f.Story = values["story"]
	out := []Line{}
	for _, of := range forms {
		if !of.has(f) || ready == nil && (of.key == "food" || of.key == FirstLine) {
			continue
		}
		l := Line{Key: of.key, Form: of.text, Must: of.must, Out: slices.Contains(c.Out, of.key)}
		if language != nil {
			form, ok := language.Lines[of.key]
			ok = ok && strings.TrimSpace(form) != ""
			if l.Lacks = !ok && of.key != "story" && of.key != NoteLine; ok {
				l.Form = form
			}
		}
		if own := strings.TrimSpace(c.Lines[of.key]); own != "" {
			l.Form, l.Own, l.Lacks = own, true, false
			l.Claim = f.Untrue(own)
		}
		l.Text = filled(l.Form, values)
		out = append(out, l)
	}
	return out
}

// filled puts values in where their names stand in braces.
func filled(form string, values map[string]string) string {
	pairs := []string{}
	for _, name := range slices.Sorted(maps.Keys(values)) {
		pairs = append(pairs, "{"+name+"}", values[name])
	}
	return strings.NewReplacer(pairs...).Replace(form)
}

// Texts are the lines that stand.
func Texts(lines []Line) []string {
	out := []string{}
	for _, l := range lines {
		if !l.Out {
			out = append(out, l.Text)
		}
	}
	return out
}

// Keys lists the keys of all lines with their English forms, for who puts them into another language.
func Keys() []Line {
	out := make([]Line, len(forms))
	for i, f := range forms {
		out[i] = Line{Key: f.key, Form: f.text, Text: f.text, Must: f.must}
	}
	return out
}

// OiledEvery is after how many days a board is oiled again: six weeks where its finish stays soluble, half a year
// where it cures, half of that where its face is end grain.
func (f Facts) OiledEvery() int {
	days := 42
	if f.Curing {
		days = 182
	}
	if f.Construction == glue.Blocks {
		days /= 2
	}
	return days
}

// NextOiling is when a board is to be oiled: so many days after it was oiled last, or else was given away, or else was
// ready; nil while nothing of that is known.
func NextOiling(every int, oiled, given, ready *time.Time) *time.Time {
	for _, from := range []*time.Time{oiled, given, ready} {
		if from != nil && every > 0 {
			return &Oilings(*from, every, 1)[0]
		}
	}
	return nil
}

// Oilings are the first n days on which a board is oiled again.
func Oilings(ready time.Time, every, n int) []time.Time {
	out := make([]time.Time, n)
	for i := range out {
		out[i] = ready.AddDate(0, 0, every*(i+1))
	}
	return out
}

// claims are words that no board of ours holds to, or only some.
var claims = []struct {
	words []string
	holds func(Facts) bool
	why   string
}{
	{
		[]string{"waterproof", "water proof", "watertight"}, func(Facts) bool { return false },
		"no oil, wax or hard wax makes wood waterproof: it sheds water for a while",
	},
	{
		[]string{"dishwasher safe", "dishwasher-safe", "dishwasher proof"}, func(Facts) bool { return false },
		"heat and water take its finish off and open its joints",
	},
	{
		[]string{"antibacterial", "germ-free", "sterile"}, func(Facts) bool { return false },
		"wood is washed like anything else; nothing here was tested for that",
	},
	{
		[]string{"heatproof", "heat proof", "oven safe", "oven-safe"}, func(Facts) bool { return false },
		"hot pans scorch wood and melt wax",
	},
	{
		[]string{"nut free", "nut-free", "without nuts"}, func(f Facts) bool { return !f.Nut },
		"its finish may hold nut oil",
	},
	{
		[]string{"both faces", "either face", "reversible"}, func(f Facts) bool { return !f.OneSided && !f.Feet },
		"something on it or in it makes it one-sided",
	},
	{
		[]string{"with soap", "soapy"}, func(f Facts) bool { return f.Curing },
		"soap takes oil and wax out of it",
	},
	{
		[]string{"soak it overnight", "leave it in water"}, func(Facts) bool { return false },
		"water swells it, cups it and opens cracks",
	},
}

// denied are words before a claim that turn it round.
var denied = []string{"not ", "never ", "no ", "isn't ", "cannot be called "}

// Untrue says what of a text this board does not hold to; it is empty where nothing was found.
func (f Facts) Untrue(text string) string {
	text = strings.ToLower(text)
	for _, c := range claims {
		if c.holds(f) {
			continue
		}
		for _, w := range c.words {
			at := strings.Index(text, w)
			if at < 0 ||
				slices.ContainsFunc(denied, func(no string) bool { return strings.HasSuffix(text[:at], no) }) {
				continue
			}
			return fmt.Sprintf("%q: %s", w, c.why)
		}
	}
	return ""
}

// How much a card may hold.
const (
	mostLine      = 600
	mostLanguages = 20
)

// Check reports what is too long, or not known.
func (c *Card) Check(field string) (ps craft.Problems) {
	if c == nil {
		return nil
	}
	text := func(name, s string, most int) {
		if len(s) > most {
			ps.Add(field+"."+name, "the text is too long", fmt.Sprintf("use at most %d characters", most))
		}
	}
	text("by", c.By, 200)
	text("story", c.Story, 1000)
	text("language", c.Language, 60)
	known := map[string]bool{}
	for _, l := range forms {
		known[l.key] = true
	}
	for _, key := range slices.Sorted(maps.Keys(c.Lines)) {
		text("lines."+key, c.Lines[key], mostLine)
		if !known[key] {
			ps.Add(field+".lines."+key, "a card has no such line", "name one of its lines, such as wood")
		}
	}
	for i, key := range c.Out {
		if !known[key] {
			ps.Add(
				fmt.Sprintf("%s.out[%d]", field, i),
				"a card has no such line",
				"name one of its lines, such as wood",
			)
		}
	}
	return ps
}

// CheckLanguages reports what of a shop's languages is too long, unknown or named twice.
func CheckLanguages(field string, all []Language) (ps craft.Problems) {
	if len(all) > mostLanguages {
		ps.Add(field, "there are too many", fmt.Sprintf("keep at most %d", mostLanguages))
		return ps
	}
	seen := map[string]bool{}
	for i, l := range all {
		at := fmt.Sprintf("%s[%d]", field, i)
		if l.Name == "" || len(l.Name) > 60 || seen[l.Name] {
			ps.Add(at+".name", "it is empty, too long or there twice", "give each language a name of its own")
		}
		seen[l.Name] = true
		ps = append(ps, (&Card{Lines: l.Lines}).Check(at)...)
		if len(l.Words) > 500 {
			ps.Add(at+".words", "there are too many", "keep at most 500")
		}
		for word, in := range l.Words {
			if len(word) > 200 || len(in) > 200 {
				ps.Add(at+".words", "one is too long", "use at most 200 characters each")
				break
			}
		}
	}
	return ps
}

// LanguageOf finds one of the shop's languages by its name; nil for English, or where there is none of that name.
func LanguageOf(all []Language, name string) *Language {
	for i := range all {
		if all[i].Name == name && name != "" {
			return &all[i]
		}
	}
	return nil
}

// Extra is an add-on, or work bought in: engraving, a gift box, a bag.
type Extra struct {
	Name  string `json:"name" doc:"What it is"`
	Cents int    `json:"cents" range:"0,100000000" doc:"What it cost, cents"`
}

// CheckExtras reports add-ons without a name, or out of range.
func CheckExtras(field string, all []Extra) (ps craft.Problems) {
	const most = 20
	if len(all) > most {
		ps.Add(field, "there are too many", fmt.Sprintf("give at most %d", most))
		return ps
	}
	for i, e := range all {
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.InRange(at, e)
		if n := len(strings.TrimSpace(e.Name)); n == 0 || n > 200 {
			ps.Add(at+".name", "it is empty or too long", "give a name of 1 to 200 characters")
		}
	}
	return ps
}
