package sanding

import (
	"fmt"
	"slices"

	"idletimber/craft"
)

// quickest takes a ladder that was made by hand back.
func quickest(choice Choice, p Plan) []craft.Remedy {
	if len(choice.Ladder) == 0 || len(p.Quickest) == 0 {
		return nil
	}
	return []craft.Remedy{
		{Label: "Use the quickest ladder", Patch: craft.Patch{"sand": map[string]any{"ladder": []int{}}}},
	}
}

// asMade takes back what was set of one surface by itself.
func asMade(choice Choice, surface string) []craft.Remedy {
	own := slices.DeleteFunc(slices.Clone(choice.Own), func(o Own) bool { return o.Surface == surface })
	if len(own) == len(choice.Own) {
		return nil
	}
	return []craft.Remedy{{
		Label: "Sand it like the board", Patch: craft.Patch{"sand": map[string]any{"own": own}},
	}}
}

// needless judges a ladder that begins coarser than the surface asks for.
func needless(p Plan, choice Choice, s Start) (craft.Verdict, bool) {
	first := p.Grits[0]
	if first >= s.Coarsest || Leaves(first) <= s.Rough {
		return craft.Verdict{}, false
	}
	return craft.Verdict{
		Check: "coarse-start", Stage: craft.Sand, Level: craft.Mind, Limit: s.Rough,
		Finding: fmt.Sprintf("P%d scratches a surface that is smoother already", first),
		Reason:  "A grit leaves its own scratches, and the next ones have to take them out again.",
		Figure: craft.Figure{
			Key: "sand.first", Stage: craft.Sand, Label: "The first grit leaves",
			Value: Leaves(first), Unit: craft.Micron,
			Formula: "depth of its scratches, against the roughness of the " + s.Name + " surface",
			Source:  "grain sizes from ISO 6344", Rule: true,
		},
		Remedies: quickest(choice, p),
	}, true
}

// widest is the widest jump of some grits from how a surface is found, and the grit that it is into.
func widest(grits []int, start Start) (worst float64, at int) {
	for i, g := range grits {
		jump := 0.0
		if i > 0 {
			jump = Jump(grits[i-1], g)
		} else if g > start.Coarsest {
			jump = Jump(start.Coarsest, g)
		}
		if jump > worst {
			worst, at = jump, g
		}
	}
	return worst, at
}

// skipped judges the widest jump of a ladder, of the board or of one surface that is set by itself.
func skipped(subject string, grits []int, start Start, remedies []craft.Remedy) craft.Verdict {
	worst, at := widest(grits, start)
	v := craft.Verdict{
		Check: "jump", Subject: subject, Stage: craft.Sand,
		Level: craft.Over(worst, EasyJump+1e-9, HardJump), Limit: EasyJump,
		Finding: "No grit is skipped", Reason: "Scratches of a skipped grit stay and show under oil; stopping by the " +
			"clock does not take them out.",
		Figure: craft.Figure{
			Key: "sand.jump", Stage: craft.Sand, Label: "Widest jump", Value: worst,
			Formula: "grain size of one grit ÷ grain size of the next",
			Terms:   []craft.Term{{Name: "into grit P", Value: float64(at)}},
			Source:  "grain sizes from ISO 6344", Rule: true,
		},
	}
	if v.Level != craft.Good {
		v.Finding, v.Remedies = "The ladder skips a grit", remedies
		if subject != "" {
			v.Finding = "The ladder of the " + subject + " skips a grit"
		}
	}
	return v
}

func judge(p Plan, surfaces []Surface, choice Choice, c Conditions) []craft.Verdict {
	start := surfaces[0].start(choice)
	out := []craft.Verdict{skipped("", p.Grits, start, quickest(choice, p))}
	for _, l := range p.Ladders {
		if !l.Own {
			continue
		}
		v := skipped(l.Surface, l.grits(), StartOf(l.Start), asMade(choice, l.Surface))
		if v.Level != craft.Good {
			out = append(out, v)
		}
	}
	if v, coarse := needless(p, choice, start); coarse {
		out = append(out, v)
	}
	missing := 0
	for _, g := range p.Grits {
		if !slices.Contains(c.Owned, g) {
			missing++
		}
	}
	if last := p.Grits[len(p.Grits)-1]; missing > 0 || last != choice.last(c) {
		out = append(out, craft.Verdict{
			Check: "grits-owned", Stage: craft.Sand, Level: craft.Mind,
			Finding: "A grit of this ladder is not in the drawer", Reason: "Buy it, or stop at one that you have.",
			Figure: craft.Figure{
				Key: "sand.missing", Stage: craft.Sand, Label: "Grits to buy", Value: float64(max(1, missing)),
				Formula: "grits of the ladder − grits owned", Source: "the shop's drawer",
			},
		})
	}
	if v, furry := unraised(p); furry {
		out = append(out, v)
	}
	return append(out, tooled(choice, c)...)
}

// tooled judges the tools that surfaces are set to be sanded with: whether the shop owns them.
func tooled(choice Choice, c Conditions) (out []craft.Verdict) {
	if c.Tools == nil {
		return nil
	}
	for _, o := range choice.Own {
		t, ok := toolNamed(o.Tool)
		if !ok || t.Kind == "" || slices.Contains(c.Tools, t.Kind) {
			continue
		}
		own := slices.Clone(choice.Own)
		for i := range own {
			if own[i].Surface == o.Surface {
				own[i].Tool = ""
			}
		}
		out = append(out, craft.Verdict{
			Check: "sand-tool", Subject: o.Surface, Stage: craft.Sand, Level: craft.Mind, Limit: 1, AtLeast: true,
			Finding: "The shop has no " + t.Kind, Reason: "Its minutes are those of a tool that is not there.",
			Figure: craft.Figure{
				Key: "sand.tool", Stage: craft.Sand, Label: "Owned", Formula: "tools of that kind in the shop",
				Source: "the shop's tools",
			},
			Remedies: []craft.Remedy{{
				Label: "Sand it with whatever gets there", Patch: craft.Patch{"sand": map[string]any{"own": own}},
			}},
		})
	}
	return out
}
