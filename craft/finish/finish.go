// Package finish reckons oils, pastes and curing finishes: a list of coats and acts, grams a coat,
// the waits that end with somebody's hand and those that end by themselves, and when a board is
// ready for food. Areas in mm², masses in grams, times in minutes unless said otherwise.
package finish

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
)

// Coat is one coat as it is put on.
type Coat struct {
	Key     string   `json:"key" doc:"Of the step that puts it on"`
	Wiped   string   `json:"wiped" doc:"Of the step that wipes it off"`
	Buffed  string   `json:"buffed" doc:"Of the step that buffs it"`
	Product string   `json:"product" doc:"What is put on"`
	On      []string `json:"on" doc:"Parts of the board, in their order"`
	Grams   float64  `json:"grams" doc:"What it takes, g"`
	Usual   float64  `json:"usual" doc:"What it takes by the usual figures, g"`
	Used    float64  `json:"used" doc:"What was put on, as it was noted, g; 0 where it was not"`
	Soak    float64  `json:"soak" doc:"Minutes until it is wiped or buffed, in this air"`
	Wipe    bool     `json:"wipe" doc:"What stays wet is wiped off"`
	Haze    float64  `json:"haze" doc:"Minutes from then until it is buffed"`
	Buff    bool     `json:"buff" doc:"It is buffed"`
	Wait    float64  `json:"wait" doc:"Minutes until what comes next"`
	Sand    int      `json:"sand" doc:"Grit that it is rubbed with then; 0 for none"`
	Looked  string   `json:"looked,omitempty" enum:"dry,full" doc:"What a look has found"`

	Working craft.Figure `json:"working" doc:"The grams"`
}

// Plan is how a board is finished.
type Plan struct {
	Name     string       `json:"name" doc:"Of the school, or the maker's own"`
	Coats    []Coat       `json:"coats" doc:"In their order"`
	Acts     []Act        `json:"acts" doc:"The whole list, as looks have left it"`
	Next     int          `json:"next" doc:"The number of a coat that is put into the list"`
	Added    int          `json:"added" doc:"Coats that looks have added"`
	Dropped  int          `json:"dropped" doc:"Coats that looks have left out"`
	Grams    craft.Figure `json:"grams" doc:"All coats"`
	Paste    *PasteMix    `json:"paste,omitempty" doc:"What of the paste is mixed, where there is one"`
	Bath     *Tub         `json:"bath,omitempty" doc:"The oil in the tub, where there is one"`
	Food     craft.Figure `json:"food" doc:"Days after the last coat until food"`
	Curing   bool         `json:"curing" doc:"Its rags heat themselves"`
	Words    string       `json:"words" doc:"What it is finished with, in a note"`
	Contents []string     `json:"contents" doc:"What is in it, for the note"`
	Nut      bool         `json:"nut" doc:"It may hold nut oil"`
	Tint     string       `json:"tint" doc:"What it does to the colour" enum:"neutral,warm,brown"`
	Heat     float64      `json:"heat" doc:"Temperature that it bears, °C"`
	Washes   float64      `json:"washes" doc:"Washes until it is as bare as a board without"`

	sheets []Product // what data sheets of the shop's products say

	early []string // keys of the steps that come before the grain is raised for the last time
}

// Early are the keys of its steps that come before the grain is raised for the last time.
func (p Plan) Early() []string { return p.early }

// Conditions is what a plan needs to know.
type Conditions struct {
	Temperature float64 // of the shop, °C
	Warm        bool    // its day lies in the warm months
	Tub         *Inside // of the tub; nil where none is owned, or not measured
	Log         []plan.Entry
	Habit       Habit
	Washed      map[string]float64 // washes until bare, by product, as the maker's trials have it
	Pace        plan.Pace
	Sheets      []Product // what data sheets of the shop's products say
}

// product is the product of a name, by its data sheet where there is one.
func (k Conditions) product(name string) (Product, bool) {
	for _, own := range k.Sheets {
		if own.Name == name {
			return own, true
		}
	}
	return ProductOf(name)
}

func (p Plan) product(name string) (Product, bool) { return Conditions{Sheets: p.sheets}.product(name) }

// bySheets are acts whose usual soaks and waits are those of the products' data sheets.
func (k Conditions) bySheets(acts []Act) []Act {
	if len(k.Sheets) == 0 {
		return acts
	}
	out := slices.Clone(acts)
	for i, a := range out {
		usual, ok := ProductOf(a.Product)
		own, _ := k.product(a.Product)
		if !ok {
			continue
		}
		if a.Soak == usual.Soak {
			out[i].Soak = own.Soak
		}
		if a.Wait == usual.Wait {
			out[i].Wait = own.Wait
		}
	}
	return out
}

// Unattended is from how long a soak on nobody comes back for it by the clock, minutes.
const Unattended = 6 * hour

// stiff is the temperature below which wax is stiff and soaks take twice as long, °C (rule).
const stiff = 15

// soak is how long something soaks in air of a temperature, minutes.
func (k Conditions) soak(minutes float64) float64 {
	if k.Temperature < stiff {
		return 2 * minutes
	}
	return minutes
}

// flashOff is how long spirits take to flash off, minutes: 20 at 20 °C, twice as long
// for each 10 °C colder (rule).
func flashOff(temperature float64) float64 { return 20 * math.Pow(2, (20-temperature)/10) }

// Make plans a finish over a surface: the plan, and the record of the stage.
func Make(s Surface, c Choice, k Conditions) (Plan, stage.Record) {
	out := Plan{Name: c.School, Contents: []string{}, Tint: Neutral, sheets: k.Sheets}
	if len(c.List) > 0 && c.Name != "" {
		out.Name = c.Name
	}
	out.Acts, out.Added, out.Dropped = followed(k.bySheets(c.Acts()), k.Log)
	out.Next = 1 + mostID(out.Acts)
	for begun(k.Log, out.Next) { // of one that was removed since
		out.Next++
	}
	out.coats(s, k)
	out.products(c, k)
	out.sums(s, c, k)
	r := stage.Record{Stage: craft.Finish, Figures: []craft.Figure{out.Grams}}
	if out.Paste != nil {
		r.Figures = append(r.Figures, out.Paste.workings(c.Ratio)...)
	}
	if out.Bath != nil {
		r.Figures = append(r.Figures, out.Bath.figures()...)
	}
	r.Figures = append(r.Figures, out.Food)
	r.Verdicts = out.judge(s, c, k)
	out.steps(&r, s, c, k)
	helps(&r, c)
	return out, r
}

// coats works out what every coat takes, and how long.
func (p *Plan) coats(s Surface, k Conditions) {
	before := map[string]float64{} // g/m² of the last coat of a product, by product and parts
	for _, a := range p.Acts {
		product, ok := p.product(a.Product)
		if !ok {
			continue
		}
		n, keys := len(p.Coats)+1, keyed(a.ID)
		coat := Coat{
			Key: keys[0], Wiped: keys[1], Buffed: keys[2], Product: a.Product, On: ordered(a.On), Soak: k.soak(a.Soak),
			Wipe: a.Wipe, Haze: a.Haze, Buff: a.Buff, Wait: a.Wait, Sand: a.Sand, Looked: looked(k.Log, a.ID),
		}
		key := a.Product + "/" + strings.Join(coat.On, "/")
		per, again := a.Face, false
		switch last, had := before[key]; {
		case per == 0 && had:
			per, again = last/2, true
		case per == 0:
			per = product.Face
		}
		before[key] = per
		habit := k.Habit.of(a.Product)
		coat.Usual, coat.Used = s.Grams(per, a.On, product), Used(k.Log, coat.Key)
		coat.Grams = coat.Usual * habit
		coat.Working = s.working(n, coat, product, per, again, habit)
		p.Coats = append(p.Coats, coat)
	}
}

// ordered are the parts that a coat is for, in the order in which they are coated; all of them where
// none is named.
func ordered(on []string) (out []string) {
	for _, part := range Parts {
		if len(on) == 0 || slices.Contains(on, part) {
			out = append(out, part)
		}
	}
	return out
}

// products gathers what its products say of the whole.
func (p *Plan) products(c Choice, k Conditions) {
	var words []string
	p.Heat = math.Inf(1)
	for _, coat := range p.Coats {
		product, _ := p.product(coat.Product)
		if !slices.Contains(words, product.Words) {
			words, p.Contents = append(words, product.Words), append(p.Contents, product.Contents)
		}
		p.Curing, p.Nut = p.Curing || product.Cures, p.Nut || product.Nut
		if product.Tint == Brown || p.Tint == Neutral {
			p.Tint = product.Tint
		}
		heat := product.Heat
		if product.Wax {
			heat = weeps(c.Ratio)
		}
		if heat > 0 {
			p.Heat = min(p.Heat, heat)
		}
		washes := product.Washes
		if own, ok := k.Washed[product.Name]; ok {
			washes = own
		}
		p.Washes = max(p.Washes, washes)
	}
	if math.IsInf(p.Heat, 1) {
		p.Heat = 0
	}
	if slices.Equal(words, []string{"food-grade mineral oil", "oil and beeswax paste"}) {
		words = []string{"oil and beeswax"}
	}
	p.Words = "nothing"
	if n := len(words); n > 0 {
		p.Words = words[n-1]
		if n > 1 {
			p.Words = strings.Join(words[:n-1], ", ") + " and " + p.Words
		}
	}
}

// sums are what all coats take, what of it is paste, and the rest before food.
func (p *Plan) sums(s Surface, c Choice, k Conditions) {
	var total, paste float64
	var terms []craft.Term
	for i, coat := range p.Coats {
		total += coat.Grams
		if product, _ := p.product(coat.Product); product.Wax {
			paste += coat.Grams
		}
		terms = append(terms, craft.Term{
			Name: fmt.Sprintf("coat %d, %s", i+1, coat.Product), Value: coat.Grams, Unit: craft.Gram,
		})
	}
	if paste > 0 {
		mix := MixPaste(max(paste, c.Batch), c.Ratio)
		p.Paste = &mix
	}
	if slices.ContainsFunc(p.Acts, func(a Act) bool { return a.Bath }) && k.Tub != nil {
		tub := k.Tub.filled(s, 1, p.soaked())
		p.Bath = &tub
	}
	p.Grams = craft.Figure{
		Key: "finish.grams", Stage: craft.Finish, Label: "Finish, all coats", Value: total, Unit: craft.Gram,
		Formula: "the sum of the coats", Terms: append(terms,
			craft.Term{Name: "whole surface", Value: s.Whole / 1e6, Unit: craft.M2},
			craft.Term{Name: "of it end grain", Value: s.End / 1e6, Unit: craft.M2},
			craft.Term{Name: "thirst of the wood", Value: s.thirst()}),
		Source: "usual figures for its products; their data sheets override them", Rule: true,
	}
	p.Food = p.food()
}

// soaked is what a board takes in its baths, g.
func (p *Plan) soaked() (grams float64) {
	for i, a := range slices.DeleteFunc(slices.Clone(p.Acts), func(a Act) bool { return a.Product == "" }) {
		if a.Bath {
			grams += p.Coats[i].Grams
		}
	}
	return grams
}

// food is how long it rests after its last coat, days. What does not cure settles from the last coat
// on; what cures goes on curing under what lies on it, from its own coat.
func (p *Plan) food() craft.Figure {
	f := craft.Figure{
		Key: "finish.food", Stage: craft.Finish, Label: "Rest before food", Unit: craft.Day,
		Formula: "the longest of its products, days after the last coat; of one that cures, after its own",
		Source:  "usual figures for its products; their data sheets decide", Rule: true,
	}
	after := 0.0 // minutes from the coat at hand to the last
	last := true
	for i := len(p.Acts) - 1; i >= 0; i-- {
		a := p.Acts[i]
		product, ok := p.product(a.Product)
		if !last {
			after += a.Wait
		}
		if ok {
			need := product.Food
			if product.Cures {
				need = max(0, need-after/day)
			}
			if product.Food > 0 {
				f.Terms = append(f.Terms, craft.Term{Name: product.Name, Value: product.Food, Unit: craft.Day})
			}
			f.Value, last = max(f.Value, need), false
			after += a.Soak + a.Haze
		}
	}
	return f
}

// working shows how the grams of a coat came about.
func (s Surface) working(n int, coat Coat, p Product, per float64, again bool, habit float64) craft.Figure {
	whole, end := s.of(coat.On)
	f := craft.Figure{
		Key: "finish.coat", Stage: craft.Finish, Label: fmt.Sprintf("Coat %d, %s", n, coat.Product),
		Value: coat.Grams, Unit: craft.Gram, Rule: true,
		Formula: "(side grain + 3.5 × end grain) × grams a square metre × thirst of the wood × your own coats",
		Terms: []craft.Term{
			{Name: "side grain", Value: (whole - end) / 1e6, Unit: craft.M2},
			{Name: "end grain", Value: end / 1e6, Unit: craft.M2},
			{Name: "takes", Value: per, Unit: "g/m²"},
			{Name: "thirst of the wood", Value: s.thirst()},
			{Name: "your own coats, against the usual", Value: habit},
		},
		Source: "usual figures for " + coat.Product + "; the product's data sheet overrides them",
	}
	if again {
		f.Formula += "; a further coat takes half of the one before"
	}
	if p.Water {
		f.Formula = "surface × grams a square metre of dry grounds, half as much water"
		f.Terms = []craft.Term{
			{Name: "surface", Value: whole / 1e6, Unit: craft.M2},
			{Name: "takes", Value: per, Unit: "g/m²"},
		}
	}
	return f
}

// dusted is the key of the step before the first coat.
const dusted = "wipe"

// steps lists the work: wipe, then each coat with its soak, its wiping, its haze, its
// buffing, the wait for what comes next and the rub. Whoever puts it on comes back to wipe.
func (p *Plan) steps(r *stage.Record, s Surface, c Choice, k Conditions) {
	dust := r.Step(
		"Wipe off the dust",
		"Spirits also show the colour; turn the rag, gloves on, and let them flash off outdoors",
		plan.Work(dusted, plan.Wipe, 1, k.Pace),
	)
	dust.Wait, dust.WaitFor = flashOff(k.Temperature), "spirits to flash off"
	n, id, rubs := 0, 0, map[int]int{}
	var last *plan.Step
	for _, a := range p.Acts {
		before := len(r.Steps)
		rest := plan.Rack
		if a.Bath {
			rest = plan.Bath
		}
		if a.Product != "" {
			n, id = n+1, a.ID
			last = p.put(r, s, c, k, a, n, rest)
		}
		if last == nil { // it begins with a wait, or a rub
			last = dust
		}
		if a.Wait > 0 {
			last.Wait, last.WaitFor = last.Wait+a.Wait, "the next coat"
			if a.Wait >= day {
				last.WaitFor = "what is on it to cure"
			}
			if a.Product != "" {
				last.Holding(rest)
			}
		}
		if a.Sand > 0 {
			rubs[id]++
			last = p.rub(r, s, k, a, rubKey(id, rubs[id]))
		}
		if a.Early {
			for _, step := range r.Steps[before:] {
				p.early = append(p.early, step.Key)
			}
		}
	}
	if last != nil {
		last.Rest = p.Food.Value * day
	}
}

// put are the steps of a coat, until it is buffed or wiped; the last of them.
func (p Plan) put(r *stage.Record, s Surface, c Choice, k Conditions, a Act, n int, rest string) *plan.Step {
	coat := p.Coats[n-1]
	product, _ := p.product(a.Product)
	whole, _ := s.of(a.On)
	m2 := whole / 1e6
	step := r.Step(fmt.Sprintf("Coat %d: %s", n, coat.Product), p.tell(a, coat, product, k),
		plan.Work(coat.Key, plan.Coat, m2, k.Pace).On(coat.Product))
	p.use(r, c, coat, product, a)
	if step.Wait = coat.Soak; !coat.Wipe && coat.Buff { // it is left to haze on it
		step.Wait += coat.Haze
	}
	if step.Wait > 0 {
		step.WaitFor = coat.Product + " to soak in"
		if product.Wax && !coat.Wipe {
			step.WaitFor = "paste to haze"
		}
		step.Attended = step.Wait < Unattended && (coat.Wipe || coat.Buff)
	}
	step.Holding(rest)
	if coat.Wipe {
		step = r.Step(
			"Wipe off what stays wet",
			wiping(coat, product),
			plan.Work(coat.Wiped, plan.Wipe, 1, k.Pace),
		)
	}
	if !coat.Buff {
		return step
	}
	if coat.Wipe && coat.Haze > 0 {
		step.Wait, step.WaitFor, step.Attended = coat.Haze, coat.Product+" to haze", coat.Haze < Unattended
		step.Holding(plan.Rack)
	}
	return r.Step("Buff", "", plan.Work(coat.Buffed, plan.Buff, m2, k.Pace))
}

// fullAfter is how long after a coat one sees whether it has enough, minutes (rule).
const fullAfter = 60

// wiping is what is seen and done when a coat is wiped off, in words.
func wiping(coat Coat, product Product) string {
	const decides = ": dry again, it wants another coat; still wet on top, it has enough"
	switch {
	case product.Water:
		return "Wipe, then vacuum the grounds off"
	case coat.Soak < fullAfter:
		return "Look again an hour later" + decides
	}
	return "Look first" + decides
}

// tell is how a coat is put on, in words.
func (p Plan) tell(a Act, coat Coat, product Product, k Conditions) string {
	tell := []string{craft.In(math.Round(coat.Grams*10)/10, craft.Gram)}
	if product.Water {
		tell[0] += " of grounds, stirred with " + craft.In(math.Round(coat.Grams*5)/10, craft.ML) + " of water"
	}
	switch {
	case a.Bath:
		tell = append(tell, "Under oil, held down by a weight")
	case len(a.On) > 0:
		tell = append(tell, "On the "+strings.Join(coat.On, ", "))
	default:
		tell = append(tell, "Under face and edges first, into every cavity, then the show face; on stands")
	}
	if product.Spirits {
		tell = append(tell, "Gloves, fresh air")
	}
	if k.Temperature < stiff && (product.Wax || coat.Soak > 0) {
		tell = append(tell, "Cold: wax is stiff, and it soaks twice as long")
	}
	return strings.Join(tell, ". ")
}

// use takes what a coat needs from the shelf.
func (p Plan) use(r *stage.Record, c Choice, coat Coat, product Product, a Act) {
	switch {
	case product.Wax:
		r.Use(stage.Finish, PasteItem(c.Ratio), coat.Grams, craft.Gram, coat.Key)
	case a.Bath:
		r.Use(stage.Finish, coat.Product, coat.Grams*(1+lostInBath), craft.Gram, coat.Key)
	default:
		r.Use(stage.Finish, coat.Product, coat.Grams, craft.Gram, coat.Key)
	}
	if a.Wipe || a.Buff {
		r.Use(stage.Finish, Cloths, 1, "pieces", coat.Key)
	}
}

// AsUsed puts into uses what coats really took where that was weighed. What is weighed is told once a coat is on.
func (p Plan) AsUsed(uses []stage.Use) []stage.Use {
	out := slices.Clone(uses)
	for _, coat := range p.Coats {
		if coat.Used <= 0 {
			continue
		}
		for i, u := range out {
			if u.Step == coat.Key && u.Kind == stage.Finish && u.Unit == craft.Gram {
				out[i].Amount = coat.Used
			}
		}
	}
	return out
}

// rubKey is the key of a rub after the coat of a number, the first one or a further one.
func rubKey(coat, time int) string {
	if time == 1 {
		return fmt.Sprintf("%s%d", RubKey, coat)
	}
	return fmt.Sprintf("%s%d-%d", RubKey, coat, time)
}

// rub is the step of sanding between coats.
func (p Plan) rub(r *stage.Record, s Surface, k Conditions, a Act, key string) *plan.Step {
	title, tell := fmt.Sprintf("Rub with P%d", a.Sand), "Lightly, along the grain, by hand; wipe it clean"
	if a.Wet {
		title, tell = title+", wet", "With a drop of oil or water under it, lightly, along the grain; wipe it clean"
	}
	r.Use(stage.Abrasive, fmt.Sprintf("sheets P%d", a.Sand), 1, "pieces", key)
	return r.Step(title, tell, plan.Work(key, plan.Rub, s.Whole/1e6, k.Pace).On(fmt.Sprintf("P%d", a.Sand)))
}

// helps lists the quicker schools, and one coat in place of several.
func helps(r *stage.Record, c Choice) {
	none := []Act{}
	for _, school := range []string{PasteAlone, Oil, OilThenPaste} {
		if school != c.School || len(c.List) > 0 {
			r.Help("Finish with "+school, "finish", map[string]any{"school": school, "coats": 0, "list": none})
		}
	}
	if c.Coats != 1 && len(c.List) == 0 {
		r.Help("One coat only", "finish", map[string]any{"coats": 1})
	}
}
