package measure

import (
	_ "embed"
	"encoding/json"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Mass is what a workshop weighs in, and measures liquids by.
type Mass string

// The masses a workshop may choose.
const (
	Gram  Mass = "g"
	Ounce Mass = "oz"
)

// Warmth is what a workshop reads temperatures in.
type Warmth string

// The warmths a workshop may choose.
const (
	Celsius    Warmth = "°C"
	Fahrenheit Warmth = "°F"
)

// System is what a workshop measures in. A mass or a warmth that is left empty
// goes with the length: grams and °C with millimetres, ounces and °F with inches.
type System struct {
	Length Unit
	Mass   Mass
	Warmth Warmth
}

// conversion turns a value of a metric unit into the customary one.
type conversion struct {
	Of    string  `json:"of"`    // the metric unit
	With  string  `json:"with"`  // the choice that it goes with: length, mass, warmth
	Name  string  `json:"name"`  // the customary unit
	Times float64 `json:"times"` // factor
	Plus  float64 `json:"plus"`  // added after
}

// The page reads the same file.
//
//go:embed units.json
var unitsFile []byte

var conversions = func() map[string]conversion {
	var list []conversion
	if err := json.Unmarshal(unitsFile, &list); err != nil {
		panic(err) // it is built in
	}
	byUnit := map[string]conversion{}
	for _, c := range list {
		byUnit[c.Of] = c
	}
	return byUnit
}()

// customary tells whether the system chooses the customary unit in place of a metric one.
func (s System) customary(with string) bool {
	inches := s.Length == Inch
	switch {
	case with == "mass" && s.Mass != "":
		return s.Mass == Ounce
	case with == "warmth" && s.Warmth != "":
		return s.Warmth == Fahrenheit
	}
	return inches
}

const ouncesPerPound = 16

// Show writes a value of a metric unit for reading, in the system's own unit and
// with its name. A length takes "mm", the size of a tool "bit".
func Show(value float64, of string, s System) string {
	switch of {
	case "mm":
		return Format(value, s.Length)
	case "bit":
		return Size(value, s.Length)
	}
	c, known := conversions[of]
	if !known || !s.customary(c.With) {
		return strings.TrimSpace(rounded(value) + " " + of)
	}
	value = value*c.Times + c.Plus
	switch {
	case c.Name == "lb":
		return pounds(value * ouncesPerPound)
	case c.Name == "oz" && math.Abs(value) >= ouncesPerPound:
		return pounds(value)
	}
	return rounded(value) + " " + c.Name
}

// pounds writes ounces as pounds and ounces.
func pounds(ounces float64) string {
	sign := ""
	if ounces < 0 {
		sign, ounces = "-", -ounces
	}
	ounces = math.Round(ounces*10) / 10
	whole := math.Floor(ounces / ouncesPerPound)
	rest := rounded(math.Round((ounces-whole*ouncesPerPound)*10) / 10)
	switch {
	case whole == 0:
		return sign + rest + " oz"
	case rest == "0":
		return sign + rounded(whole) + " lb"
	}
	return sign + rounded(whole) + " lb " + rest + " oz"
}

// rounded writes a number to three figures or so.
func rounded(v float64) string {
	if v == 0 {
		return "0"
	}
	a, places := math.Abs(v), 2
	switch {
	case a < 0.1:
		places = 2 - int(math.Floor(math.Log10(a)))
	case a >= 100:
		places = 0
	case a >= 10:
		places = 1
	}
	text, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'f', places, 64), 64)
	return strconv.FormatFloat(text+0, 'f', -1, 64)
}

// Size writes the diameter of a tool, in mm, as it is engraved on it: in the
// unit in force when it is a round size there, else in the other's.
func Size(mm float64, u Unit) string {
	switch {
	case u == Inch && isStep(mm, MMPerInch/16): // 25 mm is 63/64" too, which nobody engraves
		return engraved(mm)
	case isStep(mm, 0.5):
		return Format(mm, Millimetre)
	case isStep(mm, MMPerInch/64):
		return engraved(mm)
	}
	return Format(mm, u)
}

// isStep tells whether a size is some steps, as catalogues round it.
func isStep(mm, step float64) bool {
	n := math.Round(mm / step)
	return n >= 1 && math.Abs(mm-n*step) < 0.011
}

// engraved writes a size in sixty-fourths of an inch, reduced.
func engraved(mm float64) string {
	steps := int(math.Round(mm / MMPerInch * 64))
	whole, top, bottom := steps/64, steps%64, 64
	for top > 0 && top%2 == 0 {
		top, bottom = top/2, bottom/2
	}
	text := ""
	if whole > 0 || top == 0 {
		text = strconv.Itoa(whole)
	}
	if top > 0 {
		text = strings.TrimSpace(text + " " + strconv.Itoa(top) + "/" + strconv.Itoa(bottom))
	}
	return text + `"`
}

var braced = regexp.MustCompile(`\{(-?[\d.]+(?:e[-+]?\d+)?)(?: ([^{}]+))?\}`)

// Text writes a text whose values stand in braces with their metric units, those
// of lengths in mm without, in a system.
func Text(text string, s System) string {
	return braced.ReplaceAllStringFunc(text, func(in string) string {
		m := braced.FindStringSubmatch(in)
		v, err := strconv.ParseFloat(m[1], 64)
		if err != nil {
			return in
		}
		if m[2] == "" {
			m[2] = "mm"
		}
		return Show(v, m[2], s)
	})
}
