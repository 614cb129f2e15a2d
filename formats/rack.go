package formats

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"idletimber/craft"
	"idletimber/craft/measure"
	"idletimber/craft/moisture"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// What bounds a table that is read.
const (
	MostTableBytes = 10 << 20
	mostRows       = 5000
	mostColumns    = 200
	mostCell       = 20000 // characters
	mostUnzipped   = 100 << 20
)

// Row is a piece read from a line of a table.
type Row struct {
	Line int       `json:"line" doc:"In the file, from 1"`
	Slab slab.Slab `json:"slab"`
}

// Fault is a line that cannot be a piece.
type Fault struct {
	Line    int      `json:"line"`
	Name    string   `json:"name"`
	Reasons []string `json:"reasons"`
}

// Table is what a file of the rack holds.
type Table struct {
	Good []Row   `json:"good"`
	Bad  []Fault `json:"bad"`
}

// column is one column of the rack: how it is written, and how it is read into
// a piece. A measured one holds a length, and its unit stands after its title.
type column struct {
	title    string
	number   bool
	write    func(s slab.Slab) string
	read     func(s *draft, text string) error
	measured func(s slab.Slab) float64
}

func columnOf(
	title string, number bool, write func(slab.Slab) string, read func(*draft, string) error,
) column {
	return column{title: title, number: number, write: write, read: read}
}

// lengths makes the column of a length.
func lengths(title string, of func(s slab.Slab) float64, to func(*draft, float64)) column {
	return column{title: title, number: true, measured: of, read: func(d *draft, text string) error {
		v, err := measure.Parse(text, d.units, false)
		if err == nil {
			to(d, math.Round(v*1000)/1000) // as exact as it is written
		}
		return err
	}}
}

// head is the title of a column, in a unit.
func (c column) head(units measure.Unit) string {
	if c.measured == nil {
		return c.title
	}
	return c.title + " " + string(units)
}

// cell is what stands in a column.
func (c column) cell(s slab.Slab, units measure.Unit) string {
	switch {
	case c.measured == nil:
		return c.write(s)
	case units == measure.Inch:
		return strconv.FormatFloat(math.Round(c.measured(s)/measure.MMPerInch*1e5)/1e5, 'f', -1, 64)
	}
	return mm(c.measured(s))
}

// draft is a piece as it is read from a row.
type draft struct {
	slab.Slab
	butt, far float64
	own       []species.Species
	units     measure.Unit
}

func mm(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64) }

func yes(v bool) string {
	if v {
		return "yes"
	}
	return ""
}

func readYes(to func(*draft) *bool) func(*draft, string) error {
	return func(d *draft, text string) error {
		switch strings.ToLower(text) {
		case "yes", "y", "true", "1", "x":
			*to(d) = true
		case "", "no", "n", "false", "0":
		default:
			return errors.New("write yes or no")
		}
		return nil
	}
}

func readText(to func(*draft) *string) func(*draft, string) error {
	return func(d *draft, text string) error {
		*to(d) = text
		return nil
	}
}

func readNumber(to func(*draft, float64)) func(*draft, string) error {
	return func(d *draft, text string) error {
		v, err := strconv.ParseFloat(strings.Replace(strings.TrimSuffix(text, "%"), ",", ".", 1), 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			return errors.New("write a number such as 9.4")
		}
		to(d, v)
		return nil
	}
}

func origin(d *draft) *slab.Origin {
	if d.Origin == nil {
		d.Origin = &slab.Origin{}
	}
	return d.Origin
}

func originOf(s slab.Slab) slab.Origin {
	if s.Origin == nil {
		return slab.Origin{}
	}
	return *s.Origin
}

func width(s slab.Slab, x float64) float64 {
	w := slab.Draw(s, nil)
	return w.Left(x) - w.Right(x)
}

func last(s slab.Slab) (m moisture.Reading, ok bool) {
	for _, r := range s.Moisture {
		if !ok || r.At.After(m.At) {
			m, ok = r, true
		}
	}
	return m, ok
}

var columns = []column{
	columnOf(
		"Name", false,
		func(s slab.Slab) string { return s.Name },
		readText(func(d *draft) *string { return &d.Name }),
	),
	columnOf("Species", false, func(s slab.Slab) string { return s.Species }, func(d *draft, text string) error {
		for _, s := range append(slices.Clone(d.own), species.All...) {
			if strings.EqualFold(s.Name, text) || strings.EqualFold(s.Botanical, text) {
				d.Species = s.Name
				return nil
			}
		}
		return fmt.Errorf("%q is not in the species table", text)
	}),
	columnOf(
		"Kind", false,
		func(s slab.Slab) string { return s.Stock },
		readText(func(d *draft) *string { return &d.Stock }),
	),
	lengths("Length", func(s slab.Slab) float64 { return s.Length }, func(d *draft, v float64) { d.Length = v }),
	lengths(
		"Width at the butt",
		func(s slab.Slab) float64 { return width(s, s.Length*0.02) },
		func(d *draft, v float64) { d.butt = v },
	),
	lengths(
		"Width at the far end",
		func(s slab.Slab) float64 { return width(s, s.Length*0.98) },
		func(d *draft, v float64) { d.far = v },
	),
	lengths(
		"Thickness",
		slab.Slab.MeanThickness,
		func(d *draft, v float64) { d.Readings = []slab.Reading{{Thickness: v}} },
	),
	columnOf("Moisture %", true, func(s slab.Slab) string {
		if m, ok := last(s); ok && !m.Below {
			return mm(m.Value())
		}
		return ""
	}, readNumber(func(d *draft, v float64) { d.Moisture = []moisture.Reading{{Percent: v}} })),
	columnOf("Read on", false, func(s slab.Slab) string {
		if m, ok := last(s); ok {
			return m.At.Format(time.DateOnly)
		}
		return ""
	}, func(d *draft, text string) error {
		at, err := time.Parse(time.DateOnly, text)
		if err != nil {
			return errors.New("write the day like 2031-03-04")
		}
		if len(d.Moisture) > 0 {
			d.Moisture[0].At = at.Add(12 * time.Hour)
		}
		return nil
	}),
	columnOf(
		"Price", true,
		func(s slab.Slab) string { return strconv.FormatFloat(float64(s.PriceCents)/100, 'f', 2, 64) },
		readNumber(func(d *draft, v float64) { d.PriceCents = int(math.Round(v * 100)) }),
	),
	columnOf(
		"Price by", false,
		func(s slab.Slab) string { return s.PriceBy },
		readText(func(d *draft) *string { return &d.PriceBy }),
	),
	columnOf(
		"Rings to the face °", true,
		func(s slab.Slab) string { return mm(s.RingAngle) },
		readNumber(func(d *draft, v float64) { d.RingAngle = v }),
	),
	columnOf(
		"Left edge live", false,
		func(s slab.Slab) string { return yes(s.LiveLeft) },
		readYes(func(d *draft) *bool { return &d.LiveLeft }),
	),
	columnOf(
		"Right edge live", false,
		func(s slab.Slab) string { return yes(s.LiveRight) },
		readYes(func(d *draft) *bool { return &d.LiveRight }),
	),
	columnOf(
		"Reclaimed", false,
		func(s slab.Slab) string { return yes(s.Reclaimed) },
		readYes(func(d *draft) *bool { return &d.Reclaimed }),
	),
	columnOf(
		"Source", false,
		func(s slab.Slab) string { return originOf(s).Source },
		func(d *draft, text string) error { origin(d).Source = text; return nil },
	),
	columnOf(
		"Felled", false,
		func(s slab.Slab) string { return originOf(s).Felled },
		func(d *draft, text string) error { origin(d).Felled = text; return nil },
	),
	columnOf(
		"Milled", false,
		func(s slab.Slab) string { return originOf(s).Milled },
		func(d *draft, text string) error { origin(d).Milled = text; return nil },
	),
	columnOf(
		"Dried", false,
		func(s slab.Slab) string { return originOf(s).Dried },
		func(d *draft, text string) error { origin(d).Dried = text; return nil },
	),
	columnOf(
		"Notes", false,
		func(s slab.Slab) string { return s.Notes },
		readText(func(d *draft) *string { return &d.Notes }),
	),
}

// needed are the columns that every file must have.
var needed = []string{"Name", "Species", "Length", "Width at the butt", "Thickness"}

// RackRows is the rack as a table with a line of titles, lengths in a unit.
func RackRows(pieces []slab.Slab, units measure.Unit) [][]string {
	out := [][]string{make([]string, len(columns))}
	for i, c := range columns {
		out[0][i] = c.head(units)
	}
	for _, s := range pieces {
		row := make([]string, len(columns))
		for i, c := range columns {
			row[i] = c.cell(s, units)
		}
		out = append(out, row)
	}
	return out
}

// setOff sets a text off by an apostrophe where a spreadsheet would take it for a
// formula or a number, or would trim it, and where it begins with an apostrophe of
// its own. taken takes it off again, so that each text comes back as it was.
func setOff(cell string) string {
	bare := strings.TrimFunc(cell, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) })
	_, err := strconv.ParseFloat(bare, 64)
	if bare != cell || err == nil || strings.IndexAny(bare, "'=+-@＝＋－＠") == 0 {
		return "'" + cell
	}
	return cell
}

func taken(cell string) string {
	if text, ok := strings.CutPrefix(cell, "'"); ok {
		return text
	}
	return strings.TrimSpace(cell)
}

// RackCSV is the rack as CSV.
func RackCSV(pieces []slab.Slab, units measure.Unit) ([]byte, error) {
	rows := RackRows(pieces, units)
	for _, row := range rows {
		for i, cell := range row {
			if !columns[i].number {
				row[i] = setOff(cell)
			}
		}
	}
	return csvOf(rows)
}

// csvOf is a table as comma-separated values.
func csvOf(rows [][]string) ([]byte, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	err := w.WriteAll(rows)
	return out.Bytes(), err
}

// escaped is how a spreadsheet's file writes a letter by its number.
var escaped = regexp.MustCompile(`_x[0-9A-Fa-f]{4}_`)

// RackXLSX is the rack as a spreadsheet.
func RackXLSX(pieces []slab.Slab, units measure.Unit) ([]byte, error) {
	return xlsxOf("Rack", RackRows(pieces, units), func(i int) bool { return columns[i].number })
}

// xlsxOf is a table as a spreadsheet with one sheet; what stands in the columns of numbers is one.
func xlsxOf(sheet string, rows [][]string, number func(column int) bool) ([]byte, error) {
	f := excelize.NewFile()
	defer f.Close()
	if err := f.SetSheetName("Sheet1", sheet); err != nil {
		return nil, err
	}
	for r, row := range rows {
		cells := make([]any, len(row))
		for i, cell := range row {
			cells[i] = escaped.ReplaceAllString(cell, "_x005F$0") // or it would be taken for a letter
			if v, err := strconv.ParseFloat(cell, 64); err == nil && number(i) {
				cells[i] = v
			}
		}
		if err := f.SetSheetRow(sheet, fmt.Sprintf("A%d", r+1), &cells); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	err := f.Write(&out)
	return out.Bytes(), err
}

// ReadRack reads a CSV or XLSX file of pieces whose bare numbers are lengths in
// the unit of their column's title, or in the one given. Every line comes out as a piece or as a fault with its
// reasons; the error is about the file as a whole.
func ReadRack(data []byte, units measure.Unit, own []species.Species, now time.Time) (Table, error) {
	rows, err := tableRows(data)
	if err != nil {
		return Table{}, err
	}
	at := map[int]titled{}
	have := map[string]bool{}
	for i, title := range rows[0].cells {
		for _, c := range columns {
			for _, u := range []measure.Unit{measure.Millimetre, measure.Inch} {
				if strings.EqualFold(strings.TrimSpace(title), c.head(u)) {
					at[i], have[c.title] = titled{c, u}, true
				}
			}
			if strings.EqualFold(strings.TrimSpace(title), c.title) {
				at[i], have[c.title] = titled{c, units}, true
			}
		}
	}
	for _, title := range needed {
		if !have[title] {
			return Table{}, fmt.Errorf(
				"the first line has no column %q; it needs %s",
				title,
				strings.Join(needed, ", "),
			)
		}
	}
	out := Table{Good: []Row{}, Bad: []Fault{}}
	for _, row := range rows[1:] {
		if blank(row.cells) {
			continue
		}
		s, reasons := piece(row.cells, at, own, now)
		if len(reasons) > 0 {
			out.Bad = append(out.Bad, Fault{row.line, s.Name, reasons})
		} else {
			out.Good = append(out.Good, Row{row.line, s})
		}
	}
	return out, nil
}

// titled is a column with the unit of its bare numbers.
type titled struct {
	column
	units measure.Unit
}

func blank(cells []string) bool {
	return !slices.ContainsFunc(cells, func(c string) bool { return strings.TrimSpace(c) != "" })
}

// piece reads one line.
func piece(
	cells []string,
	at map[int]titled,
	own []species.Species,
	now time.Time,
) (slab.Slab, []string) {
	d := draft{own: own}
	d.Flaws, d.Moisture, d.Stock = []stock.Flaw{}, []moisture.Reading{}, slab.StockPlank
	var reasons []string
	for i, text := range cells {
		c, ok := at[i]
		if c.number {
			text = strings.TrimSpace(text)
		}
		if !ok || text == "" {
			continue
		}
		if len(text) > mostCell || !utf8.ValidString(text) || strings.ContainsRune(text, 0) {
			reasons = append(reasons, c.title+": the text is too long or holds characters that cannot be kept")
			continue
		}
		d.units = c.units
		if err := c.read(&d, text); err != nil {
			reasons = append(reasons, c.title+": "+err.Error())
		}
	}
	if len(reasons) > 0 {
		return d.Slab, reasons
	}
	if d.far == 0 {
		d.far = d.butt
	}
	d.Show = []slab.Station{
		{X: 0, Left: d.butt / 2, Right: -d.butt / 2},
		{X: d.Length, Left: d.far / 2, Right: -d.far / 2},
	}
	for i := range d.Readings {
		d.Readings[i].X = d.Length / 2
	}
	for i := range d.Moisture {
		if d.Moisture[i].At.IsZero() {
			d.Moisture[i].At = now
		}
	}
	for _, p := range d.Slab.Check("", now, own) {
		reasons = append(reasons, plain(p))
	}
	return d.Slab, reasons
}

// titles are the columns in which the fields of a piece are given.
var titles = []struct{ path, title string }{
	{"name", "Name"}, {"species", "Species"}, {"length", "Length"}, {"readings", "Thickness"},
	{"show[0]", "Width at the butt"}, {"show[1]", "Width at the far end"}, {"moisture", "Moisture %"},
	{"priceCents", "Price"}, {"priceBy", "Price by"}, {"stock", "Kind"}, {"ringAngle", "Rings to the face °"},
	{"origin.felled", "Felled"}, {"origin.milled", "Milled"}, {"origin.dried", "Dried"}, {"notes", "Notes"},
}

// plain names a problem by the column that it is about.
func plain(p craft.Problem) string {
	name := strings.TrimPrefix(p.Field, ".")
	for _, t := range titles {
		if strings.HasPrefix(name, t.path) {
			name = t.title
			break
		}
	}
	return name + ": " + p.Wrong + "; " + p.Right
}

// tableRow is a line of a file with its number.
type tableRow struct {
	line  int
	cells []string
}

// tableRows are the lines of a CSV or XLSX file from its titles on; there is at least that one.
func tableRows(data []byte) (rows []tableRow, err error) {
	switch {
	case len(data) > MostTableBytes:
		return nil, fmt.Errorf("the file has %d MB; a table may have up to %d", len(data)>>20, MostTableBytes>>20)
	case bytes.HasPrefix(data, []byte("PK\x03\x04")):
		rows, err = xlsxRows(data)
	case bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")):
		err = errors.New("this is an old or locked spreadsheet: save it as XLSX without a password, or as CSV")
	default:
		rows, err = csvRows(data)
	}
	for len(rows) > 0 && blank(rows[0].cells) {
		rows = rows[1:]
	}
	if err == nil && len(rows) == 0 {
		err = errors.New("the table is empty")
	}
	return rows, err
}

func csvRows(data []byte) ([]tableRow, error) {
	data = bytes.TrimPrefix(data, []byte("\xef\xbb\xbf"))
	if !utf8.Valid(data) {
		return nil, errors.New("the text is not UTF-8: save the table as CSV UTF-8")
	}
	r := csv.NewReader(bytes.NewReader(data))
	if bytes.Count(data, []byte(","))+bytes.Count(data, []byte(";"))+bytes.Count(data, []byte("\t")) >
		mostRows*mostColumns { // before they are unfolded
		return nil, fmt.Errorf("the table has more than %d columns: take out what is not of the rack", mostColumns)
	}
	first, _, _ := bytes.Cut(data, []byte("\n"))
	switch {
	case bytes.Count(first, []byte(";")) > bytes.Count(first, []byte(",")):
		r.Comma = ';'
	case bytes.Count(first, []byte("\t")) > bytes.Count(first, []byte(",")):
		r.Comma = '\t'
	}
	r.FieldsPerRecord, r.LazyQuotes = -1, true // 7 1/4" needs no quotes round it
	var out []tableRow
	for {
		cells, err := r.Read()
		if err == io.EOF {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("the CSV cannot be read: %w", err)
		}
		line, _ := r.FieldPos(0)
		for i, cell := range cells {
			cells[i] = taken(cell)
		}
		if out = append(out, tableRow{line, cells}); len(out) > mostRows {
			return nil, fmt.Errorf("the table has more than %d lines: take in fewer at a time", mostRows)
		}
	}
}

func xlsxRows(data []byte) (out []tableRow, err error) {
	defer func() { // the reader is not ours
		if p := recover(); p != nil {
			out, err = nil, fmt.Errorf("the spreadsheet is damaged: %v", p)
		}
	}()
	f, err := excelize.OpenReader(
		bytes.NewReader(data),
		excelize.Options{UnzipSizeLimit: mostUnzipped, UnzipXMLSizeLimit: mostUnzipped / 4, RawCellValue: true},
	)
	if err != nil {
		return nil, fmt.Errorf(
			"the spreadsheet cannot be read, or unpacks to more than %d MB: %w",
			mostUnzipped>>20,
			err,
		)
	}
	defer f.Close()
	rows, err := f.Rows(f.GetSheetName(0))
	if err != nil {
		return nil, fmt.Errorf("the spreadsheet has no sheet that can be read: %w", err)
	}
	defer rows.Close()
	for line := 1; rows.Next(); line++ {
		cells, err := rows.Columns()
		if err != nil {
			return nil, fmt.Errorf("line %d of the spreadsheet cannot be read: %w", line, err)
		}
		if len(cells) > mostColumns {
			return nil, fmt.Errorf("line %d has %d columns, and up to %d are read: take out what is not of the rack",
				line, len(cells), mostColumns)
		}
		if out = append(out, tableRow{line, cells}); len(out) > mostRows {
			return nil, fmt.Errorf("the table has more than %d lines: take in fewer at a time", mostRows)
		}
	}
	return out, rows.Error()
}
