package fill

import (
	"fmt"
	"math"

	"idletimber/craft"
)

// Colour is how resin is coloured; the zero one is clear.
type Colour struct {
	Kind    string  `json:"kind" enum:"clear,tint,opaque,metallic" doc:"What is stirred in"`
	Hue     string  `json:"hue,omitempty" doc:"Its colour, #rrggbb"`
	Pigment float64 `json:"pigment,omitempty" range:"0,20" doc:"Of the mass mixed, %; 0 as much as is usual"`
}

// The kinds of colour.
const (
	Clear    = "clear"
	Tint     = "tint"
	Opaque   = "opaque"
	Metallic = "metallic"
)

// stirred is what a kind of colour usually takes and how it looks (rules).
type stirred struct {
	name    string
	pigment float64 // of the mass, %
	hides   float64 // the depth that hides all but a third of what lies beneath, at that pigment, mm
}

var stirs = []stirred{{Clear, 0, 60}, {Tint, 0.5, 8}, {Opaque, 3, 0.2}, {Metallic, 3, 0.6}}

// Colours lists the kinds of colour.
var Colours = []string{Clear, Tint, Opaque, Metallic}

// amber is how clear resin tints what lies beneath.
const amber = "#c9b98a"

func (c *Colour) stirred() stirred {
	if c != nil {
		for _, s := range stirs {
			if s.name == c.Kind {
				return s
			}
		}
	}
	return stirs[0]
}

// share is how much pigment goes in, % of the mass.
func (c *Colour) share() float64 {
	s := c.stirred()
	if s.name == Clear {
		return 0
	}
	if c.Pigment > 0 {
		return c.Pigment
	}
	return s.pigment
}

// hue is the colour that is seen, #rrggbb.
func (c *Colour) hue() string {
	if c.stirred().name == Clear || c.Hue == "" {
		return amber
	}
	return c.Hue
}

// Check reports an unknown colour.
func (c *Colour) Check(field string) (ps craft.Problems) {
	if c == nil {
		return nil
	}
	ps.InRange(field, *c)
	ps.OneOf(field+".kind", c.Kind, Colours...)
	if _, _, _, ok := rgb(c.Hue); !ok && (c.Hue != "" || c.Kind != Clear) {
		ps.Add(field+".hue", fmt.Sprintf("%q is not a colour", c.Hue), "write it like #2f6f8f")
	}
	return ps
}

// rgb reads #rrggbb.
func rgb(hue string) (r, g, b int, ok bool) {
	n, err := fmt.Sscanf(hue, "#%02x%02x%02x", &r, &g, &b)
	return r, g, b, err == nil && n == 3 && len(hue) == len("#rrggbb")
}

// String is the colour in words, such as "opaque blue".
func (c *Colour) String() string {
	if c.stirred().name == Clear {
		return Clear
	}
	kind := c.Kind
	if kind == Tint {
		kind = "tinted"
	}
	return kind + " " + inWords(c.Hue)
}

// inWords names a colour plainly.
func inWords(hue string) string {
	r, g, b, _ := rgb(hue)
	high, low := max(r, g, b), min(r, g, b)
	const dark, pale, grey = 60, 215, 24
	if high-low < grey {
		switch {
		case high < dark:
			return "black"
		case low > pale:
			return "white"
		}
		return "grey"
	}
	spread := float64(high - low)
	var turn float64
	switch high {
	case r:
		turn = math.Mod(float64(g-b)/spread+6, 6)
	case g:
		turn = float64(b-r)/spread + 2
	default:
		turn = float64(r-g)/spread + 4
	}
	names := []string{"red", "orange", "yellow", "green", "turquoise", "blue", "violet", "pink", "red"}
	for i, upTo := range []float64{0.25, 0.75, 1.2, 2.6, 3.2, 4.2, 5, 5.7} {
		if turn < upTo {
			if names[i] == "orange" && high < 150 {
				return "brown"
			}
			return names[i]
		}
	}
	return names[len(names)-1]
}

// Tone is how resin in a void looks from its face.
type Tone struct {
	Hue     string  `json:"hue" doc:"#rrggbb"`
	Opacity float64 `json:"opacity" doc:"Of what lies beneath so much is hidden, 0 to 1: the deeper, the more"`
	Glints  bool    `json:"glints,omitempty" doc:"Metallic"`
}

// tone is how the colour looks so deep, mm.
func (c *Colour) tone(depth float64) *Tone {
	s, hides := c.stirred(), c.stirred().hides
	if share := c.share(); share > 0 {
		hides *= s.pigment / share
	}
	return &Tone{c.hue(), 1 - math.Exp(-max(0, depth)/hides), s.name == Metallic}
}

// mostPigment is how much of the mass pigment may be, % (rule): more, and the resin stays soft.
const mostPigment = 5

// pigmented judges how much pigment goes into the mix.
func (c *Colour) pigmented() craft.Verdict {
	v := craft.Verdict{
		Check: "resin-pigment", Stage: craft.Fill, Level: craft.Over(c.share(), mostPigment, mostPigment),
		Limit: mostPigment, Finding: "The resin bears its pigment",
		Reason: "Pigment does not cure: with too much of it the resin stays soft.",
		Figure: craft.Figure{
			Key: "fill.pigment-share", Stage: craft.Fill, Label: "Pigment", Value: c.share(), Unit: craft.Percent,
			Formula: "pigment ÷ resin and hardener, by mass", Source: "rule of the trade; its data sheet overrides it",
			Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding = "Too much pigment: the resin stays soft"
		v.Remedies = []craft.Remedy{{
			Label: "Take a twentieth of the mass",
			Patch: craft.Patch{"fill": map[string]any{"colour": map[string]any{"pigment": mostPigment}}},
		}}
	}
	return v
}

// Look is how the resin looks so deep, mm.
func (c Choice) Look(depth float64) Tone { return *c.Colour.tone(depth) }

// Density is that of the resin once it is mixed by volume, g/ml.
func (c Choice) Density() float64 {
	a, b := c.Kind(c.Resin).ByVolume(1)
	return a + b
}
