package formats

import (
	"math"
	"strconv"
	"time"

	"idletimber/craft/measure"
	"idletimber/craft/run"
)

// RunRow is a board of a run as its table names it.
type RunRow struct{ ID, Name, Slab, For, Due string }

// runRows is the matrix of a run as a table: a line for each step of each board, in the order of the work.
func runRows(m run.Matrix, boards []RunRow, system measure.System, zone *time.Location) [][]string {
	named := map[string]RunRow{}
	for _, b := range boards {
		named[b.ID] = b
	}
	rows := [][]string{{
		"Operation", "With", "Stage", "Board", "Slab", "For", "Ready on", "How far", "Wait until",
		"Minutes left", "How",
	}}
	for _, o := range m.Operations {
		for _, c := range o.Cells {
			b := named[c.Subject.ID]
			until := ""
			if c.Until != nil {
				until = c.Until.In(zone).Format("2006-01-02 15:04")
			}
			rows = append(rows, []string{
				setOff(measure.Text(o.Title, system)), setOff(o.Tool), string(o.Stage), setOff(b.Name), setOff(b.Slab),
				setOff(b.For), b.Due, c.State, until, strconv.FormatFloat(math.Round(c.Minutes*10)/10, 'f', -1, 64),
				setOff(measure.Text(c.Detail, system)),
			})
		}
	}
	return rows
}

// RunCSV is the matrix of a run as comma-separated values.
func RunCSV(m run.Matrix, boards []RunRow, system measure.System, zone *time.Location) ([]byte, error) {
	return csvOf(runRows(m, boards, system, zone))
}

// RunXLSX is the matrix of a run as a spreadsheet, its minutes as numbers.
func RunXLSX(m run.Matrix, boards []RunRow, system measure.System, zone *time.Location) ([]byte, error) {
	const minutes = 9
	return xlsxOf("Run", runRows(m, boards, system, zone), func(i int) bool { return i == minutes })
}
