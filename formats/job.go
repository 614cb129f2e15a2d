// Package formats writes and reads the open formats that boards travel in:
// the job as JSON, outlines as SVG, the shop sheet as PDF. Lengths in files
// are millimetres.
package formats

import (
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"idletimber/craft"
	"idletimber/craft/reckon"
	"idletimber/craft/stock"
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
	data = renewed(data)
	if err := json.Unmarshal(data, &j, json.RejectUnknownMembers(true)); err != nil {
		return j, craft.Problems{{Field: "file", Wrong: strings.ToValidUTF8(err.Error(), "?"), Right: "give a job file as docs/job-format.md describes it"}}
	}
	if ps := j.Check(); len(ps) > 0 {
		return j, ps
	}
	return j, nil
}

// renewed is a job file with what older ones named otherwise: a flaw was marked
// to be kept out.
func renewed(data []byte) []byte {
	var all map[string]any
	if json.Unmarshal(data, &all) != nil {
		return data
	}
	wood, _ := all["slab"].(map[string]any)
	flaws, _ := wood["flaws"].([]any)
	old := false
	for _, f := range flaws {
		flaw, _ := f.(map[string]any)
		out, ok := flaw["keepOut"].(bool)
		if !ok {
			continue
		}
		old = true
		if delete(flaw, "keepOut"); out {
			flaw["wish"] = stock.KeepOut
		}
	}
	if !old {
		return data
	}
	if again, err := json.Marshal(all); err == nil {
		return again
	}
	return data
}

var xmlText = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace
