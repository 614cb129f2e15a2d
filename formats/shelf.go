package formats

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"idletimber/craft"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
)

// ShelfRow is a product read from a line of a table.
type ShelfRow struct {
	Line    int           `json:"line" doc:"In the file, from 1"`
	Product shelf.Product `json:"product"`
}

// ShelfTable is what a file of the shelf holds.
type ShelfTable struct {
	Good []ShelfRow `json:"good"`
	Bad  []Fault    `json:"bad"`
}

// shelfColumn is one column of the shelf: how it is written, and how it is read into a product.
type shelfColumn struct {
	title  string
	number bool
	write  func(shelf.Product) string
	read   func(p *shelf.Product, text string) error
}

// worded makes the column of a text.
func worded(title string, of func(*shelf.Product) *string) shelfColumn {
	return shelfColumn{title, false, func(p shelf.Product) string { return *of(&p) },
		func(p *shelf.Product, text string) error { *of(p) = text; return nil }}
}

// numbered makes the column of a number.
func numbered(title string, of func(shelf.Product) float64, to func(*shelf.Product, float64)) shelfColumn {
	return shelfColumn{title, true,
		func(p shelf.Product) string { return strconv.FormatFloat(math.Round(of(p)*1000)/1000, 'f', -1, 64) },
		func(p *shelf.Product, text string) error {
			v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(text), ",", ".", 1), 64)
			if err != nil {
				return fmt.Errorf("%q is not a number: write it like 12 or 12.5", text)
			}
			to(p, v)
			return nil
		}}
}

var shelfColumns = []shelfColumn{
	worded("Name", func(p *shelf.Product) *string { return &p.Name }),
	{"Kind", false, func(p shelf.Product) string { return string(p.Kind) },
		func(p *shelf.Product, text string) error { p.Kind = stage.Kind(text); return nil }},
	worded("Item", func(p *shelf.Product) *string { return &p.Item }),
	numbered("Left", func(p shelf.Product) float64 { return p.Count },
		func(p *shelf.Product, v float64) { p.Count = v }),
	{"Unit", false, func(p shelf.Product) string { return string(p.Unit) },
		func(p *shelf.Product, text string) error { p.Unit = craft.Unit(text); return nil }},
	numbered("A pack holds", func(p shelf.Product) float64 { return p.Pack },
		func(p *shelf.Product, v float64) { p.Pack = v }),
	numbered("A pack costs", func(p shelf.Product) float64 { return float64(p.Cents) / 100 },
		func(p *shelf.Product, v float64) { p.Cents = int(math.Round(v * 100)) }),
	numbered("Days to get it", func(p shelf.Product) float64 { return float64(p.Days) },
		func(p *shelf.Product, v float64) { p.Days = int(math.Round(v)) }),
	worded("Opened", func(p *shelf.Product) *string { return &p.Opened }),
	worded("Best before", func(p *shelf.Product) *string { return &p.Best }),
	worded("Where", func(p *shelf.Product) *string { return &p.Where }),
	worded("Colour", func(p *shelf.Product) *string { return &p.Colour }),
	worded("Bought at", func(p *shelf.Product) *string { return &p.Shops }),
	worded("Note", func(p *shelf.Product) *string { return &p.Note }),
}

// shelfRows is the shelf as a table; the count of each product is what is left of it.
func shelfRows(products []shelf.Product) [][]string {
	out := [][]string{make([]string, len(shelfColumns))}
	for i, c := range shelfColumns {
		out[0][i] = c.title
	}
	for _, p := range products {
		row := make([]string, len(shelfColumns))
		for i, c := range shelfColumns {
			row[i] = c.write(p)
		}
		out = append(out, row)
	}
	return out
}

// ShelfCSV is the shelf as comma-separated values: of each product what is left as its count.
func ShelfCSV(products []shelf.Product) ([]byte, error) {
	rows := shelfRows(products)
	for _, row := range rows[1:] {
		for i, cell := range row {
			if !shelfColumns[i].number {
				row[i] = setOff(cell)
			}
		}
	}
	return csvOf(rows)
}

// ShelfXLSX is the same as a spreadsheet.
func ShelfXLSX(products []shelf.Product) ([]byte, error) {
	return xlsxOf("Shelf", shelfRows(products), func(i int) bool { return shelfColumns[i].number })
}

// ReadShelf reads a CSV or XLSX file of products, as ShelfCSV writes them, counted at a moment. Every line comes out as
// a product or as a fault with its reasons; the error is about the file as a whole.
func ReadShelf(data []byte, now time.Time) (ShelfTable, error) {
	rows, err := tableRows(data)
	if err != nil {
		return ShelfTable{}, err
	}
	at := map[int]shelfColumn{}
	have := map[string]bool{}
	for i, title := range rows[0].cells {
		for _, c := range shelfColumns {
			if strings.EqualFold(strings.TrimSpace(title), c.title) {
				at[i], have[c.title] = c, true
			}
		}
	}
	for _, title := range []string{"Name", "Kind", "Item", "Left", "Unit"} {
		if !have[title] {
			return ShelfTable{}, errors.New("the first line has no column " + strconv.Quote(title) +
				"; it needs Name, Kind, Item, Left, Unit")
		}
	}
	out := ShelfTable{Good: []ShelfRow{}, Bad: []Fault{}}
	for _, row := range rows[1:] {
		if blank(row.cells) {
			continue
		}
		p, reasons := product(row.cells, at, now)
		if len(reasons) > 0 {
			out.Bad = append(out.Bad, Fault{row.line, p.Name, reasons})
		} else {
			out.Good = append(out.Good, ShelfRow{row.line, p})
		}
	}
	return out, nil
}

// product reads one line.
func product(cells []string, at map[int]shelfColumn, now time.Time) (shelf.Product, []string) {
	p := shelf.Product{Counted: now}
	var reasons []string
	for i, text := range cells {
		c, ok := at[i]
		if !ok || text == "" {
			continue
		}
		if len(text) > mostCell || !utf8.ValidString(text) || strings.ContainsRune(text, 0) {
			reasons = append(reasons, c.title+": the text is too long or holds characters that cannot be kept")
		} else if err := c.read(&p, text); err != nil {
			reasons = append(reasons, c.title+": "+err.Error())
		}
	}
	if len(reasons) > 0 {
		return p, reasons
	}
	for _, problem := range p.Check("") {
		reasons = append(reasons, problem.Field+": "+problem.Wrong+"; "+problem.Right)
	}
	return p, reasons
}
