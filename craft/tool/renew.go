package tool

import "strings"

// Renew changes the document of a kit as it was written before tools were listed one by
// one, in place: machines by their limits, blades by their names and bits by their
// diameters. What was owned stays, with its limits; the hand tools and saws that the
// program took for granted are listed, to be ticked off. A kit that lists tools is left as
// it is.
func Renew(kit map[string]any) {
	machines, old := kit["machines"].(map[string]any)
	if _, listed := kit["tools"]; listed || !old {
		return
	}
	delete(kit, "machines")
	limit := func(name string) float64 {
		v, _ := machines[name].(float64)
		return v
	}
	blades, _ := kit["blades"].([]any)
	turning := renewBlades(blades)
	tools := []any{}
	own := func(kind string, limits map[string]any) {
		t := map[string]any{"kind": kind}
		for name, v := range limits {
			if mm, ok := v.(float64); ok && mm > 0 {
				t[name] = v
			}
		}
		tools = append(tools, t)
	}
	if thick := limit("sawThickness"); thick > 0 || turning[BandSaw] || len(blades) == 0 {
		own(BandSaw, map[string]any{"height": thick})
	}
	if turning[Jigsaw] || len(blades) == 0 {
		own(Jigsaw, nil)
	}
	if stroke := limit("crossCut"); stroke > 0 {
		own(MitreSaw, map[string]any{"width": stroke})
	}
	if width := limit("planerWidth"); width > 0 {
		own(Planer, map[string]any{"width": width, "shortest": limit("planerShortest")})
		own(Sled, map[string]any{"width": width})
	}
	if travel := limit("drillTravel"); travel > 0 {
		own(DrillPress, map[string]any{"travel": travel})
	}
	for _, kind := range []string{TableSaw, TrackSaw, HandSaw, FretSaw, HandPlane, Drill, OrbitSander, Scraper, File,
		Gouge, WireBrush, Rags} {
		own(kind, nil)
	}
	kit["tools"], kit["starter"] = tools, "As it was"
	if bits, ok := kit["bits"].([]any); ok {
		for i, v := range bits {
			if d, ok := v.(float64); ok {
				b := NewBit(d)
				bits[i] = map[string]any{"kind": b.Kind, "diameter": b.Diameter, "length": b.Length}
			}
		}
	}
}

// renewBlades gives each blade the saw that its name begins with, and the width of the
// usual one of its name; the answer is which saws have a blade.
func renewBlades(blades []any) map[string]bool {
	out := map[string]bool{}
	for _, v := range blades {
		b, ok := v.(map[string]any)
		if !ok {
			continue
		}
		name, _ := b["name"].(string)
		saw := BandSaw
		if strings.HasPrefix(name, Jigsaw) {
			saw = Jigsaw
		}
		b["saw"], out[saw] = saw, true
		for _, usual := range UsualBlades {
			if usual.Name == name {
				b["width"] = usual.Width
			}
		}
	}
	return out
}
