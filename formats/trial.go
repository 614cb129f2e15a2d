package formats

import (
	"strconv"
	"strings"
	"time"

	"idletimber/craft/trial"
)

// TrialCSV is the scores of a trial as a table: a line for each sample of each round.
func TrialCSV(t trial.Trial, zone *time.Location) ([]byte, error) {
	rows := [][]string{{
		"Round", "When", "Did", "Times", "By", "Mark", "Treatment", "Control", "Feel", "Beads", "Colour", "Note",
	}}
	shown := func(p *float64) string {
		if p == nil {
			return ""
		}
		return strconv.FormatFloat(*p, 'f', -1, 64)
	}
	for i, r := range t.Rounds {
		for k, s := range r.Scores {
			if k >= len(t.Samples) {
				break
			}
			of := t.Samples[k]
			control := ""
			if of.Control {
				control = "yes"
			}
			rows = append(rows, []string{
				strconv.Itoa(i + 1), r.At.In(zone).Format("2006-01-02 15:04"), strings.Join(r.Did, ", "),
				strconv.Itoa(r.Times), setOff(r.By), of.Mark, setOff(of.Treatment), control, shown(s.Feel),
				shown(s.Beads), shown(s.Colour), setOff(r.Note),
			})
		}
	}
	return csvOf(rows)
}
