package measure

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// The page's own tests go through the same cases.
func TestShow(t *testing.T) {
	data, err := os.ReadFile("testdata/values.json")
	require.NoError(t, err)
	var cases []struct {
		Value  float64
		Of     string
		System struct {
			Units  Unit
			Mass   Mass
			Warmth Warmth
		}
		Text string
	}
	require.NoError(t, json.Unmarshal(data, &cases))
	for _, c := range cases {
		s := System{c.System.Units, c.System.Mass, c.System.Warmth}
		assert.Equal(t, c.Text, Show(c.Value, c.Of, s), "%g %s in %v", c.Value, c.Of, s)
	}
}

// A plainer way: every factor from the inch, the pound and the fluid ounce.
func TestConversionsFollowFromTheirDefinitions(t *testing.T) {
	const inch, foot, pound, gravity = 0.0254, 0.3048, 0.45359237, 9.80665
	const ounce, fluid = pound / 16, 231 * inch * inch * inch / 128 // a gallon is 231 cubic inches
	want := map[string]float64{
		"mm²": 1e-6 / (inch * inch), "cm²": 1e-4 / (inch * inch), "m²": 1 / (foot * foot),
		"cm³": 1e-6 / (inch * inch * inch), "m³": 1 / (foot * foot * inch), "ml": 1e-6 / fluid, "g": 1e-3 / ounce,
		"kg": 1 / pound, "g/m²": 1e-3 / ounce * foot * foot, "g/ml": 1e-3 / ounce * fluid / 1e-6,
		"kg/m³": foot * foot * foot / pound, "N": 1 / (pound * gravity), "MPa": 1e6 * inch * inch / (pound * gravity),
		"°C": 1.8,
	}
	require.Len(t, conversions, len(want))
	for of, c := range conversions {
		assert.InEpsilon(t, want[of], c.Times, 1e-8, of)
	}
	assert.InDelta(t, 212.0, 100*conversions["°C"].Times+conversions["°C"].Plus, 1e-9)
}

// No pound holds sixteen ounces, nothing is lost, and no text is empty.
func TestPoundsHoldFewerThanSixteenOunces(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kg := rapid.Float64Range(0.001, 50).Draw(t, "kg")
		shown := Show(kg, "kg", System{Length: Inch})
		var pounds, ounces float64
		switch {
		case strings.Contains(shown, "lb "):
			_, err := fmt.Sscanf(shown, "%f lb %f oz", &pounds, &ounces)
			require.NoError(t, err, shown)
		case strings.HasSuffix(shown, "lb"):
			_, err := fmt.Sscanf(shown, "%f lb", &pounds)
			require.NoError(t, err, shown)
		default:
			_, err := fmt.Sscanf(shown, "%f oz", &ounces)
			require.NoError(t, err, shown)
		}
		assert.Less(t, ounces, 16.0)
		if pounds < 100 { // from there pounds are whole as they are shown
			assert.InDelta(t, kg, (pounds*16+ounces)*0.45359237/16, 0.0015)
		}
	})
}

func TestText(t *testing.T) {
	inches := System{Length: Inch}
	for _, c := range []struct {
		system   System
		in, want string
	}{
		{inches, "wood screws of {4}, {30} long", `wood screws of 3/16"−, 1 3/16" long`},
		{inches, "{20 g} at {25 °C}, with the {25 bit} bit", "0.71 oz at 77 °F, with the 25 mm bit"},
		{System{Length: Millimetre}, "{20 g} of {1e-05 m³}, {-3}", "20 g of 0.00001 m³, -3 mm"},
		{System{Length: Millimetre}, "wood screws of {4}, {1.2.3} long, {}", "wood screws of 4 mm, {1.2.3} long, {}"},
	} {
		assert.Equal(t, c.want, Text(c.in, c.system))
	}
}

func ExampleShow() {
	fmt.Println(Show(1.8, "kg", System{Length: Inch}), Show(18, "°C", System{Length: Inch, Warmth: Celsius}))
	// Output: 3 lb 15.5 oz 18 °C
}
