// Package formats writes and reads the open formats that boards travel in:
// the job as JSON, outlines as SVG, the shop sheet as PDF. Lengths in files
// are millimetres.
package formats

import (
	"errors"
	"math"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

// mostJob bounds a job file, bytes.
const mostJob = 1 << 20

// Bounds of every number of a document: none is further from 0, and what is nearer
// to it is 0. What makes sense of each field, its own range tells.
const (
	mostNumber  = 1e12
	leastNumber = 1e-9
)

// Numbers is how a document's numbers are read: within bounds on which arithmetic
// stays finite.
var Numbers = json.WithUnmarshalers(json.UnmarshalFromFunc(func(d *jsontext.Decoder, v *float64) error {
	if d.PeekKind() != '0' {
		return errors.ErrUnsupported // not a number: the usual error says so
	}
	token, err := d.ReadToken()
	if err != nil {
		return err
	}
	if *v, err = token.Float(); err != nil {
		return err
	}
	switch size := math.Abs(*v); {
	case size > mostNumber:
		return errors.New("the number is too large")
	case size < leastNumber:
		*v = 0
	}
	return nil
}))

// WriteJob writes a job as JSON.
func WriteJob(j reckon.Scene) ([]byte, error) {
	return json.Marshal(j, json.Deterministic(true), jsontext.WithIndent("  "))
}

// ReadJob reads a job from JSON. The error, if any, is of type craft.Problems.
func ReadJob(data []byte) (reckon.Scene, error) {
	var j reckon.Scene
	if len(data) > mostJob {
		return j, craft.Problems{
			{Field: "file", Wrong: "the file is over 1 MiB", Right: "give a job file as it was written"},
		}
	}
	data = renewed(data)
	if err := json.Unmarshal(data, &j, json.RejectUnknownMembers(true), Numbers); err != nil {
		return j, craft.Problems{
			{
				Field: "file",
				Wrong: strings.ToValidUTF8(err.Error(), "?"),
				Right: "give a job file as docs/job-format.md describes it",
			},
		}
	}
	if ps := append(leftOut(data), j.Check()...); len(ps) > 0 {
		return j, ps
	}
	if j.Slab != nil {
		settled := j.Slab.Settled()
		j.Slab = &settled
	}
	return j, nil
}

// renewed is a job file with what older ones named otherwise.
func renewed(data []byte) []byte {
	var all map[string]any
	if json.Unmarshal(data, &all) != nil {
		return data
	}
	for _, renew := range []func(map[string]any){keptOut, bySubject, asked, listed} {
		renew(all)
	}
	again, err := json.Marshal(all)
	if err != nil {
		return data
	}
	return again
}

// each calls f for every object of a list, where there is one.
func each(list any, f func(map[string]any)) {
	all, _ := list.([]any)
	for _, v := range all {
		if o, ok := v.(map[string]any); ok {
			f(o)
		}
	}
}

// keptOut: a flaw was marked to be kept out; it carries a wish now.
func keptOut(job map[string]any) {
	wood, _ := job["slab"].(map[string]any)
	each(wood["flaws"], func(flaw map[string]any) {
		out, ok := flaw["keepOut"].(bool)
		if !ok {
			return
		}
		if delete(flaw, "keepOut"); out {
			flaw["wish"] = stock.KeepOut
		}
	})
}

// listed: a shop's machines were known by their limits, its bits by their diameters.
func listed(job map[string]any) {
	if at, ok := job["shop"].(map[string]any); ok {
		tool.Renew(at)
	}
}

// bySubject: work was done on boards only, and a step told its set-up in minutes.
func bySubject(job map[string]any) {
	subject := func(o map[string]any) {
		if id, ok := o["board"].(string); ok {
			delete(o, "board")
			o["subject"] = plan.Board(id)
		}
	}
	each(job["log"], subject)
	each(job["elsewhere"], func(chain map[string]any) {
		subject(chain)
		each(chain["steps"], func(step map[string]any) {
			if minutes, ok := step["setup"].(float64); ok {
				step["setup"], step["setupMinutes"] = step["kind"], minutes
			}
		})
	})
}

// asked: a job held what was asked of it beside what there is.
func asked(job map[string]any) {
	for _, question := range []string{"leftovers", "shapes", "weigh"} {
		delete(job, question)
	}
}

var xmlText = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace
