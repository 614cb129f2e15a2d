package formats

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

func wavy() geom.Ring {
	var r geom.Ring
	for i := range 90 {
		sin, cos := math.Sincos(float64(i) * math.Pi / 45)
		r = append(r, geom.Point{X: 300 + (280+9*sin*cos)*cos, Y: (110 + 14*math.Sin(float64(i)*0.3)) * sin})
	}
	return r
}

func TestOutlineComesBackFromSVGAndDXF(t *testing.T) {
	f := OutlineFile{Name: "Plane & <pear>", Rings: map[string]geom.Ring{"outline": wavy()}, Order: []string{"outline"}}
	for name, data := range map[string][]byte{"svg": f.SVG(), "dxf": f.DXF()} {
		got, err := ReadOutlines(data)
		require.NoError(t, err, name)
		require.Len(t, got, 1)
		assert.Equal(t, "outline", got[0].Name)
		require.Len(t, got[0].Ring, len(wavy()), name)
		for i, p := range wavy() {
			assert.InDelta(t, 0, got[0].Ring[i].Sub(p).Len(), 0.01, name)
		}
		assert.InEpsilon(t, wavy().Area(), got[0].Ring.Area(), 1e-5)
	}
}

func TestSVGUnitsAndTransforms(t *testing.T) {
	for svg, area := range map[string]float64{
		`<svg width="100mm" height="50mm" viewBox="0 0 200 100"><rect width="200" height="100"/></svg>`: 5000,
		`<svg width="4in" height="2in" viewBox="0 0 4 2"><polygon points="0,0 4,0 4,2 0,2"/></svg>`: 4 * 2 * 25.4 *
			25.4,
		`<svg><circle r="96"/></svg>`: math.Pi * 25.4 * 25.4,
		`<svg width="10cm" viewBox="0 0 100 100"><g transform="translate(5 5) rotate(30)">` +
			`<path transform="scale(2)" d="M0 0h10v10h-10z"/></g></svg>`: 400,
		`<svg viewBox="0 0 100 100" width="100mm" height="100mm">` +
			`<ellipse rx="20" ry="10" transform="skewX(20)"/></svg>`: math.Pi * 200,
		`<svg viewBox="0 0 9 9" width="9mm" height="9mm"><defs><rect width="8" height="8"/></defs>` +
			`<path d="M0 0L5 0L5 5L0 5L0 0"/><path d="M0 0L1 1"/></svg>`: 25,
		`<svg viewBox="0 0 90 90" width="90mm" height="45mm" preserveAspectRatio="none">` +
			`<rect width="90" height="90" transform="matrix(1 0 0 1 3 3)"/></svg>`: 90 * 45,
		`<?xml version="1.0"?><svg viewBox="0 0 90 90" width="90mm" height="90mm">` +
			`<rect x="1" y="1" width="40" height="20"/><rect width="10" height="10" /></svg>`: 800,
	} {
		got, err := ReadOutlines([]byte(svg))
		require.NoError(t, err, svg)
		assert.InEpsilon(t, area, got[0].Ring.Area(), 1e-3, svg)
	}
}

func dxf(entities string) string {
	return "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n1\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n" + entities +
		"0\nENDSEC\n0\nEOF\n"
}

func groups(pairs ...any) string {
	var b strings.Builder
	for i := 0; i < len(pairs); i += 2 {
		fmt.Fprintf(&b, "%v\n%v\n", pairs[i], pairs[i+1])
	}
	return b.String()
}

func TestDXFShapes(t *testing.T) {
	const in = 25.4 * 25.4
	line := func(x0, y0, x1, y1 float64) string {
		return groups(0, "LINE", 8, "wood", 10, x0, 20, y0, 11, x1, 21, y1)
	}
	for name, c := range map[string]struct {
		entities string
		area     float64
	}{
		"lines join, whichever way they run": {line(0, 0, 4, 0) + line(4, 3, 4, 0) + line(4, 3, 0, 3) + line(0, 0, 0,
			3), 12 * in},
		"two arcs": {groups(0, "ARC", 8, "a", 10, 0, 20, 0, 40, 2, 50, 0, 51, 180) + groups(0,
			"ARC", 8, "a", 10, 0, 20, 0, 40, 2, 50, 180, 51, 360), math.Pi * 4 * in},
		"circle": {groups(0, "CIRCLE", 10, 1, 20, 1, 40, 3), math.Pi * 9 * in},
		"ellipse": {groups(0, "ELLIPSE", 10, 1, 20, 1, 11, 3, 21, 0, 40, 0.5),
			math.Pi * 4.5 * in},
		"bulge": {groups(0, "LWPOLYLINE", 90, 2, 70, 1, 10, 0, 20, 0, 42, 1, 10, 4, 20, 0,
			42, 1), math.Pi * 4 * in},
		"old polyline": {groups(0, "POLYLINE", 66, 1, 70, 1, 0, "VERTEX", 10, 0, 20, 0, 0,
			"VERTEX", 10, 5, 20, 0, 0, "VERTEX", 10, 5, 20, 2, 0, "SEQEND"), 5 * in},
	} {
		got, err := ReadOutlines([]byte(dxf(c.entities)))
		require.NoError(t, err, name)
		assert.InEpsilon(t, c.area, got[0].Ring.Area(), 1e-3, name)
	}
}

func TestDrawingsThatAreRefused(t *testing.T) {
	many := strings.Repeat("L1 1L2 2", 60_000)
	for file, why := range map[string]string{
		"":                             "no SVG and no ASCII DXF",
		"%PDF-1.4":                     "no SVG and no ASCII DXF",
		"<svg><path d='M0 0L1 1":       "damaged or cut short",
		"<svg></svg>":                  "no closed line",
		"<html></html>":                "no SVG",
		"<svg><path d='M0 0L'/></svg>": "cannot be read",
		"<svg><path d='M0 0" + many + "z'/></svg>":         "more than 100000 points",
		"<svg>" + strings.Repeat("<g>", 100) + "</svg>":    "nests",
		"<svg><circle r='1e9'/></svg>":                     "infinity",
		"0\nSECTION\n2\nENTITIES\n0\nLINE\n":               "cut short",
		"0\nSECTION\nnonsense\n2\n":                        "group code",
		strings.Replace(dxf(""), "70\n1\n", "70\n77\n", 1): "unit 77",
		dxf(groups(0, "LINE", 10, 0, 20, 0, 11, 1, 21, 1)): "no closed line",
		"<!DOCTYPE s [<!ENTITY a 'aaaa'>]><svg>&a;</svg>":  "damaged",
	} {
		_, err := ReadOutlines([]byte(file))
		assert.ErrorContains(t, err, why, "%.60q", file)
	}
}

func FuzzReadOutlines(f *testing.F) {
	f.Add(OutlineFile{Name: "a", Rings: map[string]geom.Ring{"o": wavy()}, Order: []string{"o"}}.SVG())
	f.Add(OutlineFile{Name: "a", Rings: map[string]geom.Ring{"o": wavy()}, Order: []string{"o"}}.DXF())
	f.Add([]byte(dxf(groups(0, "LWPOLYLINE", 70, 1, 10, 0, 20, 0, 42, 1, 10, 4, 20, 0, 42, -1))))
	f.Add(
		[]byte(
			`<svg width="1e9mm" viewBox="0 0 1 1">` +
				`<path d="M0 0A1 1 0 0 1 2 2C1 1 2 2 3 3z" transform="rotate(1e9)"/></svg>`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		var out []Outline
		var err error
		frugal(t, "it", func() { out, err = ReadOutlines(data) })
		if err != nil {
			return
		}
		for _, o := range out {
			for _, p := range o.Ring {
				if math.IsNaN(p.X + p.Y) {
					t.Fatal("a point that is no number")
				}
			}
		}
	})
}
