package run

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/plan"
)

// Turn is one operation of a session: steps of several boards that follow each other with one set-up.
type Turn struct {
	Title   string      `json:"title" doc:"What is done"`
	Kind    plan.Kind   `json:"kind" doc:"Kind of work"`
	Tool    string      `json:"tool" doc:"What it is set up with; empty where nothing particular is"`
	Stage   craft.Stage `json:"stage" doc:"Stage of the work"`
	Who     string      `json:"who,omitempty" doc:"Who does it; empty for the maker"`
	From    time.Time   `json:"from" doc:"When it is begun"`
	Minutes float64     `json:"minutes" doc:"Of all of it, set up once"`
	Saved   float64     `json:"saved" doc:"Minutes saved by setting up once"`
	Steps   []TurnStep  `json:"steps" doc:"In their order"`
	Free    bool        `json:"free" doc:"Can be done after the next one of the same hands: they share no board"`
}

// TurnStep is one board's part of a turn.
type TurnStep struct {
	Subject plan.Subject `json:"subject" doc:"Whose step it is"`
	Name    string       `json:"name" doc:"Of the subject"`
	Step    string       `json:"step" doc:"Key of the step"`
	Detail  string       `json:"detail" doc:"Its own numbers, in words"`
}

// Turns are what is to be done until a moment, in the order of the plan, by operation.
func Turns(courses []plan.Course, until time.Time) []Turn {
	type planned struct {
		of plan.Course
		plan.Dated
	}
	var all []planned
	for _, c := range courses {
		for _, d := range c.Steps {
			if d.State != plan.Done && d.Minutes > 0 && d.Starts != nil && d.Starts.Before(until) {
				all = append(all, planned{c, d})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b planned) int {
		return cmp.Or(cmp.Compare(a.Who, b.Who), a.Starts.Compare(*b.Starts))
	})
	out := []Turn{}
	setup := ""
	for _, d := range all {
		now := cmp.Or(d.Setup, string(d.Kind))
		if n := len(out); n == 0 || now != setup || out[n-1].Who != d.Who {
			out = append(
				out,
				Turn{Title: d.Title, Kind: d.Kind, Tool: d.Tool(), Stage: d.Stage, Who: d.Who, From: *d.Starts},
			)
			if t := &out[len(out)-1]; strings.Contains(t.Title, t.Tool) {
				t.Tool = "" // the title says it
			}
		}
		setup = now
		t := &out[len(out)-1]
		t.Minutes += max(0, d.Minutes-d.Spent-d.Shared)
		t.Saved += d.Shared
		t.Steps = append(t.Steps, TurnStep{d.of.Subject, d.of.Name, d.Key, d.Detail})
	}
	for i := range out[:max(1, len(out))-1] {
		out[i].Free = out[i].Who == out[i+1].Who && !out[i].meets(out[i+1])
	}
	return out
}

// meets tells whether two turns have a step of the same board.
func (t Turn) meets(other Turn) bool {
	return slices.ContainsFunc(t.Steps, func(a TurnStep) bool {
		return slices.ContainsFunc(other.Steps, func(b TurnStep) bool { return a.Subject == b.Subject })
	})
}
