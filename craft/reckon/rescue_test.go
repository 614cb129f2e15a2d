package reckon

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
)

// doneUntil is a scene with the steps of its first board finished one after the other, up to one of a key; of all where
// the key is empty.
func doneUntil(t testing.TB, s Scene, key string) Scene {
	t.Helper()
	at := s.Now.Add(-time.Hour)
	for _, d := range must(t, s).Boards[0].Course.Steps {
		if d.Key == key {
			break
		}
		at = at.Add(time.Second)
		s.Log = append(s.Log, LogEntry{Subject: plan.Board(s.Boards[0].ID), Entry: plan.Entry{
			Step: d.Key, Event: plan.Finish, At: at, Minutes: 5,
		}})
	}
	return s
}

// wrong is a scene on whose first board something went wrong now.
func wrong(t testing.TB, s Scene, step string, r rescue.Report) Scene {
	t.Helper()
	b, err := Happened(s, "m", step, s.Now, 0, r)
	require.NoError(t, err)
	s.Boards = slices.Clone(s.Boards)
	s.Boards[0] = b
	return s
}

// waysOf are the ways out of the latest mishap of the first board, and what was dropped.
func waysOf(t testing.TB, s Scene) (ways []WayOut, dropped []Dropped) {
	t.Helper()
	found, err := WaysOut(s, Rescuing{Mishap: "m"})
	require.NoError(t, err)
	for o := range found {
		if o.Way != nil {
			ways = append(ways, *o.Way)
		} else {
			dropped = append(dropped, *o.Dropped)
		}
	}
	slices.SortStableFunc(ways, func(a, b WayOut) int {
		if a.Before(b) {
			return -1
		}
		return 1
	})
	return ways, dropped
}

// bite is an area cut into the side of a board at x, as wide as that and so deep, seen from its left side.
func bite(s Scene, x, wide, deep float64) []geom.Point {
	shaped, _ := Draw(s)
	y := slices.Max(shaped[0].Outline.SpansAcross(x, nil))
	return []geom.Point{{X: x - wide/2, Y: y + 5}, {X: x - wide/4, Y: y - deep}, {X: x + wide/4, Y: y - deep},
		{X: x + wide/2, Y: y + 5}}
}

func TestLook(t *testing.T) {
	s := sample()
	s.Slab.Flaws = nil
	for _, c := range []struct {
		kind, step string
		r          func(Scene) rescue.Report
	}{
		{"deep", "edges", func(s Scene) rescue.Report { return rescue.Report{Area: bite(s, 40, 20, 8)} }},
		{"web", "edges", func(s Scene) rescue.Report {
			return rescue.Report{Area: []geom.Point{{X: 140, Y: -10}, {X: 190, Y: -10}, {X: 190, Y: 10}, {X: 140, Y: 10}}}
		}},
		{"thin", "sand-120", func(s Scene) rescue.Report { return rescue.Report{Thickness: 17} }},
		{"tearout", "sand-80", func(s Scene) rescue.Report {
			return rescue.Report{Area: []geom.Point{{X: 0, Y: 0}, {X: 30, Y: 0}, {X: 30, Y: 20}}, Depth: 1}
		}},
		{"dropped", "coat-1", func(s Scene) rescue.Report {
			return rescue.Report{Area: []geom.Point{{X: 170, Y: 80}, {X: 181, Y: 80}, {X: 181, Y: 91}}, Depth: 1}
		}},
		{"furry", "wipe-1", func(s Scene) rescue.Report { return rescue.Report{} }},
		{"deeper", "flatten", func(s Scene) rescue.Report {
			return rescue.Report{Line: []geom.Point{{X: -190, Y: 10}, {X: -100, Y: 20}}}
		}},
	} {
		on := doneUntil(t, s, c.step)
		r := c.r(on)
		r.Kind = c.kind
		on = wrong(t, on, c.step, r)
		m := on.Boards[0].Mishaps[0]
		t.Logf("=== %s at %s: done %v sawn %v made %d", c.kind, c.step, m.Done, m.Sawn, len(m.Made))
		begin := time.Now()
		for _, v := range must(t, on).Boards[0].Verdicts {
			if v.Level == craft.Stop || v.Check == "mishap" {
				t.Logf("   verdict %s: %s", v.Level, v.Finding)
			}
		}
		one := time.Since(begin)
		begin = time.Now()
		ways, dropped := waysOf(t, on)
		t.Logf("   reckoned %v, ways in %v", one, time.Since(begin))
		for _, w := range ways {
			t.Logf("   %-22s %-60s area %.0f%% worth %.0f later %.1f late %.1f min %.0f gives %s breaks %v steps %s", w.Key,
				w.Label, w.Kept, w.Worth, w.Later, w.LateBy, w.Minutes, strings.Join(w.Gives, "; "), w.Breaks,
				strings.Join(w.Steps, "; "))
		}
		for _, d := range dropped {
			t.Logf("   dropped %s: %s", d.Label, d.Why)
		}
	}
}
