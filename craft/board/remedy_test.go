package board

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/tool"
)

// under judges a design in a slab that leaves at most so much thickness.
func under(d Design, c Conditions) []craft.Verdict {
	c.Thickness = c.Most
	if d.Thickness > 0 {
		c.Thickness = min(d.Thickness, c.Most)
	}
	return judged(Draw(d, nil), c)
}

func worst(verdicts []craft.Verdict, check string) craft.Level {
	level := craft.Good
	for _, v := range verdicts {
		if v.Check == check && v.Subject == "" && v.Level.Rank() > level.Rank() {
			level = v.Level
		}
	}
	return level
}

// Whatever is drawn, each remedy of a shape's check brings it to a better
// level.
func TestEachRemedyHelps(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		d := Design{
			Shape: rapid.SampledFrom([]Shape{Rectangle, Paddle}).
				Draw(t, "shape"),
			Length: f(
				"length",
				320,
				600,
			), Width: f("width", 160, 300), Corner: f("corner", 0, 30), Thickness: f("thickness", 6, 40),
			Neck: f("neck", 34, 90), NeckLength: f("neck length", 90, 160), Shoulder: f("shoulder", 0, 40),
			Handle: Handle{
				Kind:     rapid.SampledFrom([]string{"none", "hole", "slot"}).Draw(t, "handle"),
				Diameter: f("diameter", 12, 32),
				Setback:  f("setback", 20, 60),
			},
			Edge: Edge{
				Kind: rapid.SampledFrom([]string{"none", "eased", "round-over", "chamfer"}).Draw(t, "edge"),
				Size: f("size", 1, 14),
			},
		}
		d.Handle.Length = d.Handle.Diameter + f("slot", 0, 90)
		c := maple()
		c.Most = f("most", 14, 40)
		c = c.grained(f("grain", 0, 25))
		c.Tools.Blades, c.Tools.Bits = []tool.Blade{
			{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 25},
		}, tool.NewBits(
			20,
			25,
			28,
			30,
			35,
		)
		require.Empty(t, d.Check("design"))
		before := under(d, c)
		for _, v := range before {
			for _, r := range v.Remedies {
				patch, err := json.Marshal(r.Patch["design"])
				require.NoError(t, err)
				again := d
				require.NoError(t, json.Unmarshal(patch, &again))
				if after := worst(under(again, c), v.Check); v.Subject == "" && after.Rank() >= v.Level.Rank() {
					t.Fatalf("%s: %q left it at %s", v.Check, r.Label, after)
				}
			}
		}
	})
}
