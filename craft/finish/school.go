package finish

import "slices"

// School is a way to finish, as a list to begin with.
type School struct {
	Name  string `json:"name" doc:"As the trade calls it"`
	Coats int    `json:"coats" doc:"How often its first act is usual"`
	Most  int    `json:"most" doc:"How often at the most"`
	Acts  []Act  `json:"acts" doc:"The first of them as often as there are coats"`
}

// The schools.
const (
	OilBath      = "oil bath"
	OilThenPaste = "oil then paste"
	PasteAlone   = "paste alone"
	OneCoat      = "one coat"
	TwoNights    = "two nights of oil"
	Silky        = "silky oil"
	BathThenWax  = "bath then wax"
	CoffeePaste  = "coffee then paste"
	Engraved     = "engraving and wax"
	WaxOverCured = "wax over cured oil"
)

// hazed is a last coat of paste over oil.
var hazed = Act{Product: Paste, Face: 25, Soak: 20, Buff: true}

// Schools lists the ways to finish.
var Schools = []School{
	{Oil, 3, 4, []Act{{Product: Oil, Soak: 2 * hour, Wipe: true, Wait: 12 * hour}}},
	{OilBath, 1, 1, []Act{{Product: Oil, Face: 110, Bath: true, Soak: 12 * hour, Wipe: true}}},
	{OilThenPaste, 1, 2, []Act{{Product: Oil, Soak: 12 * hour, Wipe: true, Wait: 12 * hour}, hazed}},
	{PasteAlone, 1, 2, []Act{{Product: Paste, Soak: 15, Buff: true, Wait: 12 * hour}}},
	{HardWax, 2, 3, []Act{{Product: HardWax, Soak: 15, Wipe: true, Haze: 15, Buff: true, Wait: 24 * hour}}},
	{CuringOil, 3, 5, []Act{{Product: CuringOil, Soak: 15, Wipe: true, Wait: 24 * hour}}},
	{OneCoat, 1, 1, []Act{{Product: Oil, Soak: 15, Wipe: true}}},
	{TwoNights, 2, 3, []Act{{Product: Oil, Soak: 12 * hour, Wipe: true, Wait: 12 * hour}}},
	{Silky, 3, 4, []Act{{Product: Oil, Soak: 15, Wipe: true, Wait: 12 * hour, Sand: 1200, Wet: true}}},
	{BathThenWax, 1, 1, []Act{
		{Product: Oil, Face: 110, Bath: true, Soak: 12 * hour, Wipe: true, Wait: 12 * hour}, hazed,
	}},
	{CoffeePaste, 1, 1, []Act{
		{Product: Coffee, On: []string{UnderFace, Edges}, Face: 45, Soak: 15, Wipe: true, Early: true},
		{Product: Coffee, On: []string{ShowFace}, Face: 45, Soak: 15, Wipe: true, Wait: 2 * hour, Early: true},
		{Product: Paste, Soak: 15, Buff: true},
	}},
	{Engraved, 1, 1, []Act{
		{Product: ThinOil, On: []string{Cavities}, Soak: 15, Wipe: true, Wait: 12 * hour},
		{Product: Paste, On: []string{UnderFace, Edges, ShowFace}, Soak: 15, Buff: true},
	}},
	{WaxOverCured, 3, 5, []Act{
		{Product: CuringOil, Soak: 15, Wipe: true, Wait: 24 * hour}, {Wait: 30 * day, Sand: 600}, hazed,
	}},
}

// Find is the school of that name; the first when there is none.
func Find(name string) School {
	i := slices.IndexFunc(Schools, func(s School) bool { return s.Name == name })
	return Schools[max(0, i)]
}

// list is what the school does, its first act so many times; 0 for the usual number. The last act
// waits for nothing, and is not rubbed.
func (s School) list(coats int) []Act {
	if coats == 0 {
		coats = s.Coats
	}
	out := append(slices.Repeat(s.Acts[:1], coats), s.Acts[1:]...)
	last := &out[len(out)-1]
	last.Wait, last.Sand, last.Wet = 0, 0, false
	return out
}
