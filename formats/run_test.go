package formats

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"idletimber/craft"
	"idletimber/craft/measure"
	"idletimber/craft/plan"
	"idletimber/craft/run"
	"idletimber/craft/shop"
	"idletimber/craft/stage"
)

var monday = time.Date(2031, 3, 24, 12, 0, 0, 0, time.UTC)

func twoBoards() []plan.Course {
	due := monday.AddDate(0, 0, 20)
	steps := []plan.Step{
		{Key: "sand-80", Kind: plan.Sanding, Title: "Sand P80", Minutes: 30, Setup: "sanding, P80", SetupMinutes: 2},
		{Key: "coat-1", Kind: plan.Coat, Title: "=Coat, {3} thick", Minutes: 10, Wait: 600, WaitFor: "the coat"},
	}
	return plan.Schedule([]plan.Chain{
		{Subject: plan.Board("a"), Name: "Ladder board", Due: &due, Steps: steps},
		{Subject: plan.Board("b"), Name: "Gate board", Due: &due, Steps: steps},
	}, []plan.Session{{Weekday: time.Tuesday, Start: "19:00", End: "21:30"}}, time.UTC, monday)
}

// What is written is read back by a reader of calendars: a block of the evening, a wait for each board with an alarm
// at its end, and the days.
func TestCalendar(t *testing.T) {
	courses := twoBoards()
	data := Calendar("Weir Lane", courses, measure.System{Length: measure.Inch}, time.UTC, monday)
	cal, err := ics.ParseCalendar(bytes.NewReader(data))
	require.NoError(t, err)
	var blocks, waits, days int
	for _, e := range cal.Events() {
		switch id := e.Id(); {
		case strings.HasPrefix(id, "work/"):
			blocks++
			start, err := e.GetStartAt()
			require.NoError(t, err)
			assert.Equal(t, time.Date(2031, 3, 25, 19, 0, 0, 0, time.UTC), start)
			assert.Contains(t, e.GetProperty(ics.ComponentPropertyDescription).Value, "Gate board: Sand P80")
		case strings.HasPrefix(id, "wait/"):
			waits++
			require.Len(t, e.Alarms(), 1)
			ends, err := e.GetEndAt()
			require.NoError(t, err)
			assert.Equal(t, 10*time.Hour, ends.Sub(func() time.Time { s, _ := e.GetStartAt(); return s }()))
		case strings.HasPrefix(id, "due/"):
			days++
		}
	}
	assert.Equal(t, []int{1, 2, 2}, []int{blocks, waits, days})
	assert.NotContains(t, string(data), "{3}")
}

func TestRunTables(t *testing.T) {
	m := run.Of(twoBoards(), monday, run.Room{})
	boards := []RunRow{
		{ID: "a", Name: "Ladder board", Slab: "Weir plane", For: "the ladder crew", Due: "2031-04-13"},
		{ID: "b", Name: "Gate board"},
	}
	csv, err := RunCSV(m, boards, measure.System{Length: measure.Millimetre}, time.UTC)
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSpace(string(csv)), "\n")
	require.Len(t, lines, 5)
	assert.Contains(t, lines[1], "Sand P80,P80,,Ladder board,Weir plane,the ladder crew,2031-04-13,ready,,29")
	assert.Contains(t, lines[3], "'=Coat", "no cell is a formula")
	data, err := RunXLSX(m, boards, measure.System{Length: measure.Millimetre}, time.UTC)
	require.NoError(t, err)
	f, err := excelize.OpenReader(bytes.NewReader(data))
	require.NoError(t, err)
	rows, err := f.GetRows("Run")
	require.NoError(t, err)
	assert.Len(t, rows, 5)
	kind, err := f.GetCellType("Run", "J2")
	require.NoError(t, err)
	assert.Equal(t, excelize.CellTypeUnset, kind, "minutes are numbers")
}

func TestLogCSV(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	data, err := LogCSV([]LogRow{
		{At: time.Date(2031, 3, 30, 0, 59, 0, 0, time.UTC), Name: "=Paddle, small", For: "Ida", Run: "Supper",
			Title: "Bore {20 bit}", Kind: "bore", Event: "finish", Minutes: 7.25, Usual: 4},
		{At: time.Date(2031, 3, 30, 1, 0, 0, 0, time.UTC), Name: "Tray", Title: "Plane", Event: "note",
			Said: craft.Length(25.4) + " thick", Words: "\"thin\" at one end"},
	}, measure.System{Length: measure.Inch}, zone)
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 3)
	assert.Equal(t, "2031-03-30 01:59", rows[1][0])
	assert.Equal(t, "2031-03-30 03:00", rows[2][0], "the clocks changed in between")
	assert.Equal(t, "'=Paddle, small", rows[1][1], "no formula for a spreadsheet")
	assert.Equal(t, []string{"7.2", "4.0"}, rows[1][7:9])
	assert.Equal(t, []string{"", "", `1" thick`, `"thin" at one end`}, rows[2][7:])
}

// The printed run holds every board, operation and visit, in both units, and draws each box where it belongs.
func TestRunPDF(t *testing.T) {
	courses := twoBoards()
	for i := range 28 {
		courses = append(courses, plan.Course{Subject: plan.Board(fmt.Sprint("more", i)), Steps: courses[0].Steps})
	}
	var boards []RunRow
	for i, c := range courses {
		boards = append(boards, RunRow{ID: c.Subject.ID, Name: fmt.Sprintf("A board of rather a long name %d", i),
			Slab: "Weir plane", For: "somebody with a long name as well", Due: "2031-06-21"})
	}
	at := shop.Usual()
	for _, units := range []measure.Unit{measure.Millimetre, measure.Inch} {
		at.Units = units
		data, err := RunPDF(at, monday, RunSheet{
			Run: run.Run{Name: "Supper", Occasion: "midsummer", Day: "2031-06-21"}, Boards: boards,
			Matrix: run.Of(courses, monday, run.Room{}), Late: map[string]bool{boards[3].ID: true},
			Visits: []run.Visit{{Machine: "bandsaw", Minutes: 95,
				Made: []run.Made{{Board: boards[0].Name, Slab: "Weir plane", Name: "Outline"}}}},
			Shelf: []stage.Use{{Kind: "finish", Item: "walnut oil", Amount: 250, Unit: craft.Gram}},
		})
		require.NoError(t, err)
		text := pdftotext(t, data, "-layout")
		for _, want := range []string{"Supper", "too late", "Sand P80", "Bandsaw, 95 min", "walnut oil"} {
			assert.Contains(t, text, want)
		}
		assert.Contains(t, text, "30. A board")
		assert.NotContains(t, text, "{")
		if units == measure.Inch {
			assert.NotContains(t, text, " mm")
		}
	}
	_, err := RunPDF(at, monday, RunSheet{Run: run.Run{Name: "Empty"}})
	assert.NoError(t, err)
}

func TestBoardLabels(t *testing.T) {
	data, err := Labels(shop.Usual(), []Label{
		BoardLabel(
			"Tray",
			"M0 0H400V200H0ZM10 10H20V20H10Z",
			"http://127.0.0.1:8080/boards/1",
			"Weir plane",
			"for Ida",
		),
		BoardLabel("Nothing drawn", "", "http://127.0.0.1:8080/boards/2"),
	})
	require.NoError(t, err)
	text := pdftotext(t, data, "-layout")
	for _, want := range []string{"Tray", "for Ida", "Nothing drawn"} {
		assert.Contains(t, text, want)
	}
}
