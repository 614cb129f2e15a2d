// Package formats writes and reads the open formats that boards travel in:
// the job as JSON, outlines as SVG, the shop sheet as PDF. Lengths in files
// are millimetres.
package formats

import (
	"fmt"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"idletimber/craft"
	"idletimber/craft/reckon"
)

// mostJob bounds a job file, bytes.
const mostJob = 1 << 20

// WriteJob writes a job as JSON.
func WriteJob(j reckon.Job) ([]byte, error) {
	return json.Marshal(j, json.Deterministic(true), jsontext.WithIndent("  "))
}

// ReadJob reads a job from JSON. The error, if any, is of type craft.Problems.
func ReadJob(data []byte) (reckon.Job, error) {
	var j reckon.Job
	if len(data) > mostJob {
		return j, craft.Problems{{Field: "file", Wrong: "the file is over 1 MiB", Right: "give a job file as it was written"}}
	}
	if err := json.Unmarshal(data, &j, json.RejectUnknownMembers(true)); err != nil {
		return j, craft.Problems{{Field: "file", Wrong: strings.ToValidUTF8(err.Error(), "?"), Right: "give a job file as docs/job-format.md describes it"}}
	}
	if ps := j.Check(); len(ps) > 0 {
		return j, ps
	}
	return j, nil
}

// OutlineSVG draws a board's outline and holes at 1:1, arcs as arcs, y up as
// on the bench with the handle to the right.
func OutlineSVG(name string, r reckon.Reckoned) []byte {
	const margin = 5
	x, y := r.Box[0]-margin, r.Box[1]-margin
	w, h := r.Box[2]-r.Box[0]+2*margin, r.Box[3]-r.Box[1]+2*margin
	var b strings.Builder
	fmt.Fprintf(&b, `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="%.3fmm" height="%.3fmm" viewBox="%.3f %.3f %.3f %.3f">
<title>%s</title>
<g transform="scale(1 -1)" fill="none" stroke="black" stroke-width="0.2">
<path id="outline" d="%s"/>
`, w, h, x, -(y + h), w, h, xmlText(name), r.Path)
	for _, hole := range r.Holes {
		fmt.Fprintf(&b, "<path class=\"hole\" d=\"%s\"/>\n", hole)
	}
	b.WriteString("</g>\n</svg>\n")
	return []byte(b.String())
}

var xmlText = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace
