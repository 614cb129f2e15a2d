package main

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Measures of the plot, px: one panel beside the other for each of what grows.
const (
	panelWide = 300
	panelHigh = 260
	margin    = 44
	leastMS   = 1
	mostMS    = 10_000
)

// inks are the colours of the questions.
var inks = []string{"#1F7A7A", "#D08A2C", "#A63D2F", "#4A7345", "#5B4B8A", "#22302B", "#8F5E12"}

// plotted draws lines as SVG: milliseconds over how many there are, both by powers of ten.
func plotted(lines []line) string {
	var panels []string
	for _, l := range lines {
		if !slices.Contains(panels, l.grown) {
			panels = append(panels, l.grown)
		}
	}
	var out strings.Builder
	wide, high := margin+len(panels)*(panelWide+margin), panelHigh+3*margin
	fmt.Fprintf(
		&out,
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" font-family="sans-serif" font-size="11">`,
		wide,
		high,
	)
	fmt.Fprintf(&out, `<rect width="%d" height="%d" fill="#F7F3EA"/>`, wide, high)
	span := math.Log10(float64(sizes[len(sizes)-1]) / float64(sizes[0]))
	for i, name := range panels {
		left := margin + i*(panelWide+margin)
		x := func(size int) float64 {
			return float64(left) + panelWide*math.Log10(float64(size)/float64(sizes[0]))/math.Max(span, 1e-9)
		}
		y := func(ms float64) float64 {
			return margin + panelHigh*(1-math.Log10(math.Max(ms, leastMS)/leastMS)/math.Log10(mostMS/leastMS))
		}
		fmt.Fprintf(
			&out,
			`<text x="%d" y="%d" font-weight="600" fill="#22302B">p95, ms, over %s</text>`,
			left,
			margin-14,
			name,
		)
		for ms := float64(leastMS); ms <= mostMS; ms *= 10 {
			fmt.Fprintf(&out, `<path d="M%d %.1fh%d" stroke="#22302B" stroke-opacity=".2"/><text x="%d" y="%.1f" `+
				`text-anchor="end" fill="#22302B">%.0f</text>`, left, y(ms), panelWide, left-4, y(ms)+4, ms)
		}
		for _, s := range sizes {
			fmt.Fprintf(&out, `<text x="%.1f" y="%d" text-anchor="middle" fill="#22302B">%d</text>`, x(s),
				margin+panelHigh+16, s)
		}
		for _, l := range lines {
			if l.grown != name {
				continue
			}
			points := []string{}
			for k, d := range l.p95 {
				points = append(points, fmt.Sprintf("%.1f,%.1f", x(sizes[k]), y(float64(d.Microseconds())/1000)))
			}
			fmt.Fprintf(&out, `<polyline points="%s" fill="none" stroke="%s" stroke-width="2"/>`,
				strings.Join(points, " "), ink(l.what))
		}
	}
	for k, what := range measured {
		fmt.Fprintf(
			&out,
			`<text x="%d" y="%d" fill="%s" font-weight="600">%s</text>`,
			margin+k*170,
			panelHigh+margin+46,
			ink(what),
			what,
		)
	}
	out.WriteString("</svg>\n")
	return out.String()
}

func ink(what string) string { return inks[slices.Index(measured, what)%len(inks)] }
