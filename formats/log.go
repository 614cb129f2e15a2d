package formats

import (
	"strconv"
	"time"

	"idletimber/craft/measure"
)

// LogRow is a line of the logbook as its table tells it.
type LogRow struct {
	At                                 time.Time
	Name, For, Run, Title, Kind, Event string
	Minutes, Usual                     float64
	Said                               string // what was noted, told in words
	Words                              string // the maker's own
}

// LogCSV is the logbook as comma-separated values, in the order of its lines; times are those of a zone.
func LogCSV(lines []LogRow, system measure.System, zone *time.Location) ([]byte, error) {
	rows := [][]string{
		{"When", "Board", "For", "Run", "Step", "Kind", "What", "Minutes", "By the rates", "Noted", "Words"},
	}
	for _, l := range lines {
		took, usual := "", ""
		if l.Minutes > 0 {
			took, usual = strconv.FormatFloat(l.Minutes, 'f', 1, 64), strconv.FormatFloat(l.Usual, 'f', 1, 64)
		}
		rows = append(rows, []string{
			l.At.In(zone).Format("2006-01-02 15:04"), setOff(l.Name), setOff(l.For), setOff(l.Run),
			setOff(measure.Text(l.Title, system)), l.Kind, l.Event, took, usual, setOff(measure.Text(l.Said, system)),
			setOff(l.Words),
		})
	}
	return csvOf(rows)
}
