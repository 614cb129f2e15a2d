// Package measure reads and writes workshop lengths: millimetres, centimetres,
// feet and fractional inches. Every length inside the program is in millimetres.
package measure

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// MMPerInch is exact.
const MMPerInch = 25.4

// Max is the longest length that is read, in mm.
const Max = 10000

// Unit is the unit in force in a workshop.
type Unit string

// The units a workshop may choose.
const (
	Millimetre Unit = "mm"
	Inch       Unit = "in"
)

// What a length can be refused for.
var (
	ErrEmpty     = errors.New("the length is empty: give a number such as 182 or 7 1/8\"")
	ErrNegative  = errors.New("the length is negative: give zero or more")
	ErrTooLong   = errors.New("the length is over 10 m: check the unit")
	ErrZero      = errors.New("a fraction is divided by zero: give a denominator such as 2, 4, 8 or 16")
	ErrThousands = errors.New("one comma and three digits can mean two things: write 1200 or 1.2")
	ErrUnits     = errors.New("the units do not go together: use one of mm, cm, m, in, or feet and inches")
	ErrUnread    = errors.New("this is not a length: write it like 182, 18.2 cm, 7/8\", 1 3/4 in or 2' 6 1/2\"")
)

var unicodeFractions = strings.NewReplacer(
	"½",
	" 1/2",
	"¼",
	" 1/4",
	"¾",
	" 3/4",
	"⅛",
	" 1/8",
	"⅜",
	" 3/8",
	"⅝",
	" 5/8",
	"⅞",
	" 7/8",
	"⅓",
	" 1/3",
	"⅔",
	" 2/3",
	"⁄",
	"/",
	"−",
	"-",
	"–",
	"-",
	"″",
	`"`,
	"”",
	`"`,
	"“",
	`"`,
	"''",
	`"`,
	"′",
	"'",
	"’",
	"'",
	"\u00a0",
	" ",
	"\u202f",
	" ",
)

const (
	number   = `\d+(?:[.,]\d*)?|[.,]\d+`
	fraction = `\d+\s*/\s*\d+`
	value    = `(?:(\d+)[\s-]+(` + fraction + `)|(` + fraction + `)|(` + number + `))`
	unit     = `(mm|cm|m|inches|inch|in|")`
	feet     = `(?:(` + number + `)\s*(?:'|feet|foot|ft))`
)

var (
	pattern   = regexp.MustCompile(`^(-)?\s*` + feet + `?[\s-]*(?:` + value + `\s*` + unit + `?)?\s*([+-])?$`)
	thousands = regexp.MustCompile(`\d,\d{3}(\D|$)`)
	unitWord  = regexp.MustCompile(`mm|cm|m|inches|inch|in|"|'|feet|foot|ft`)
)

var perUnit = map[string]float64{
	"mm": 1, "cm": 10, "m": 1000, "in": MMPerInch, "inch": MMPerInch, "inches": MMPerInch, `"`: MMPerInch,
}

// Parse reads a length as a maker writes it and returns millimetres. A bare
// number takes the unit in force; a bare fraction is inches. A trailing + or −
// means three eighths of a sixteenth more or less. Negative lengths are read
// only when signed.
func Parse(text string, inForce Unit, signed bool) (float64, error) {
	s := strings.ToLower(strings.TrimSpace(unicodeFractions.Replace(text)))
	if s == "" {
		return 0, ErrEmpty
	}
	if thousands.MatchString(s) && strings.Count(s, ",") == 1 && !strings.Contains(s, ".") {
		return 0, ErrThousands
	}
	m := pattern.FindStringSubmatch(s)
	if m == nil {
		return 0, refusal(s)
	}
	minus, foot, whole, mixed, frac, plain, suffix, nudge := m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8]
	if foot == "" && mixed == "" && frac == "" && plain == "" {
		return 0, ErrUnread
	}
	if foot != "" && suffix != "" && perUnit[suffix] != MMPerInch {
		return 0, ErrUnits
	}
	v, err := amount(whole, mixed+frac, plain)
	if err != nil {
		return 0, err
	}
	scale := perUnit[suffix]
	if suffix == "" {
		scale = 1
		if inForce == Inch || foot != "" || mixed != "" || frac != "" {
			scale = MMPerInch
		}
	}
	mm := v*scale + decimal(foot)*12*MMPerInch
	switch nudge {
	case "+":
		mm += MMPerInch / 16 * 3 / 8
	case "-":
		mm -= MMPerInch / 16 * 3 / 8
	}
	if minus != "" {
		mm = -mm
	}
	switch {
	case mm < 0 && !signed:
		return 0, ErrNegative
	case math.Abs(mm) > Max:
		return 0, ErrTooLong
	}
	return mm, nil
}

func refusal(s string) error {
	if strings.Count(s, "/") == 1 && len(unitWord.FindAllString(s, -1)) > 1 {
		return ErrUnits
	}
	stripped := strings.TrimSpace(unitWord.ReplaceAllString(s, " "))
	if len(unitWord.FindAllString(s, -1)) > 1 && regexp.MustCompile(`^[\d\s.,/-]+$`).MatchString(stripped) {
		return ErrUnits
	}
	return ErrUnread
}

func decimal(s string) float64 {
	v, _ := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64) // the pattern admits digits only
	return v
}

func amount(whole, frac, plain string) (float64, error) {
	v := decimal(whole) + decimal(plain)
	if frac == "" {
		return v, nil
	}
	top, bottom, _ := strings.Cut(frac, "/")
	d := decimal(strings.TrimSpace(bottom))
	if d == 0 {
		return 0, ErrZero
	}
	return v + decimal(strings.TrimSpace(top))/d, nil
}

// Fine writes the setting of a machine, finer than a rule shows: a tenth of a millimetre, a
// thousandth of an inch.
func Fine(mm float64, u Unit) string {
	if u == Inch {
		return fmt.Sprintf("%.3f\"", mm/MMPerInch)
	}
	return fmt.Sprintf("%.1f mm", mm)
}

// Format writes a length of mm millimetres for reading, with its unit. Inches
// are the nearest sixteenth, reduced, with + or − where the remainder exceeds a
// quarter of the step, and thousandths where less is meant than three quarters of
// a sixteenth; what Format writes, Parse reads and Format writes again.
func Format(mm float64, u Unit) string {
	if u != Inch {
		return strconv.FormatFloat(math.Round(mm*10)/10+0, 'f', -1, 64) + " mm"
	}
	const step = 16
	sign := ""
	if mm < 0 {
		sign, mm = "-", -mm
	}
	exact := mm / MMPerInch * step
	n := int(math.Round(exact))
	nudge := ""
	switch r := exact - float64(n); {
	case r > 0.25:
		nudge = "+"
	case r < -0.25:
		nudge = "−"
	}
	if exact < 0.75 {
		thou := math.Round(mm/MMPerInch*1000) / 1000
		if thou == 0 {
			return `0"`
		}
		return sign + strconv.FormatFloat(thou, 'f', 3, 64) + `"`
	}
	whole, num, den := n/step, n%step, step
	for num > 0 && num%2 == 0 {
		num, den = num/2, den/2
	}
	text := strconv.Itoa(whole)
	if num > 0 {
		text = fmt.Sprintf("%d/%d", num, den)
		if whole > 0 {
			text = fmt.Sprintf("%d %s", whole, text)
		}
	}
	return sign + text + `"` + nudge
}
