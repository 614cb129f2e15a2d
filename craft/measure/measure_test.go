package measure

import (
	"encoding/json"
	"fmt"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestParse(t *testing.T) {
	for _, c := range []struct {
		text string
		unit Unit
		mm   float64
	}{
		{"182", Millimetre, 182},
		{"182 mm", Inch, 182},
		{"18.2cm", Millimetre, 182},
		{"1.2 m", Millimetre, 1200},
		{"7/8", Millimetre, 22.225},
		{`7/8"`, Millimetre, 22.225},
		{"1 3/4 in", Millimetre, 44.45},
		{`1-3/4"`, Millimetre, 44.45},
		{`2' 6 1/2"`, Millimetre, 774.7},
		{"2ft 6in", Millimetre, 762},
		{"2'", Millimetre, 609.6},
		{`1¾"`, Millimetre, 44.45},
		{"¾", Millimetre, 19.05},
		{"18,5", Millimetre, 18.5},
		{"7", Inch, 177.8},
		{"7.5", Inch, 190.5},
		{"0", Millimetre, 0},
		{`7/8"+`, Inch, 22.225 + 25.4/16*3/8},
		{"7/8−", Inch, 22.225 - 25.4/16*3/8},
		{"1,5 cm", Millimetre, 15},
	} {
		t.Run(c.text, func(t *testing.T) {
			mm, err := Parse(c.text, c.unit, false)
			require.NoError(t, err)
			assert.InDelta(t, c.mm, mm, 1e-9)
		})
	}
}

func TestParseRefuses(t *testing.T) {
	for _, c := range []struct {
		text string
		err  error
	}{
		{"", ErrEmpty}, {"  ", ErrEmpty},
		{"-3", ErrNegative},
		{"1/0", ErrZero},
		{"7/8/2", ErrUnread},
		{"12 mm in", ErrUnits}, {`2' 30 mm`, ErrUnits}, {`3" 4 mm`, ErrUnits},
		{"10001", ErrTooLong}, {"99 m", ErrTooLong},
		{"1,200", ErrThousands}, {"1,200 mm", ErrThousands},
		{"wide", ErrUnread}, {"12x", ErrUnread}, {"NaN", ErrUnread}, {"1e3", ErrUnread}, {"mm", ErrUnread},
	} {
		t.Run(c.text, func(t *testing.T) {
			_, err := Parse(c.text, Millimetre, false)
			assert.ErrorIs(t, err, c.err)
		})
	}
	mm, err := Parse("-3", Millimetre, true)
	require.NoError(t, err)
	assert.Equal(t, -3.0, mm)
}

// The interface formats with the same cases, read from the same file.
func TestFormat(t *testing.T) {
	data, err := os.ReadFile("testdata/format.json")
	require.NoError(t, err)
	var cases []struct {
		MM   float64
		Unit Unit
		Text string
	}
	require.NoError(t, json.Unmarshal(data, &cases))
	for _, c := range cases {
		assert.Equal(t, c.Text, Format(c.MM, c.Unit), "%v %s", c.MM, c.Unit)
	}
}

func TestShownReadShownAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		unit := rapid.SampledFrom([]Unit{Millimetre, Inch}).Draw(t, "unit")
		shown := Format(rapid.Float64Range(-9000, 9000).Draw(t, "mm"), unit)
		mm, err := Parse(shown, unit, true)
		if err != nil {
			t.Fatalf("%q: %v", shown, err)
		}
		if again := Format(mm, unit); again != shown {
			t.Fatalf("%q was read as %v and shown as %q", shown, mm, again)
		}
	})
}

func FuzzParse(f *testing.F) {
	f.Add("1 3/4 in")
	f.Fuzz(func(t *testing.T, text string) {
		mm, err := Parse(text, Inch, false)
		if err == nil && (mm < 0 || mm > Max) {
			t.Fatalf("%q gave %v", text, mm)
		}
	})
}

func ExampleFormat() {
	fmt.Println(Format(180, Inch), Format(180, Millimetre))
	// Output: 7 1/16"+ 180 mm
}

// The setting of a machine, as the page shows it too.
func TestFine(t *testing.T) {
	assert.Equal(t, "20.8 mm", Fine(20.84, Millimetre))
	assert.Equal(t, `0.819"`, Fine(20.8, Inch))
}
