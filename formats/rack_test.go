package formats

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"strings"
	"testing"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"pgregory.net/rapid"

	"idletimber/craft/measure"
	"idletimber/craft/moisture"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

var march = time.Date(2031, 3, 4, 12, 0, 0, 0, time.UTC)

func plank(name string) slab.Slab {
	return slab.Slab{
		Name: name, Species: "Pear", Stock: slab.StockPlank, Length: 812.5,
		Show: []slab.Station{{X: 0, Left: 90, Right: -90}, {X: 812.5, Left: 90, Right: -90}},
		Readings: []slab.Reading{
			{X: 406.25, Thickness: 27.4},
		}, Flaws: []stock.Flaw{}, PriceCents: 1850, PriceBy: slab.ByBoardFoot, RingAngle: 35, LiveLeft: true,
		Moisture: []moisture.Reading{
			{At: march.AddDate(0, 0, -3), Percent: 9.4},
		}, Origin: &slab.Origin{Source: "the lane", Felled: "2029-11", Dried: "air"}, Notes: "two, \"quoted\"\nlines",
	}
}

func TestRackComesBack(t *testing.T) {
	for _, unit := range []measure.Unit{measure.Millimetre, measure.Inch} {
		t.Run(string(unit), func(t *testing.T) { rackComesBack(t, unit) })
	}
}

// rackComesBack is also read in a shop of the other unit: the titles tell theirs.
func rackComesBack(t *testing.T, unit measure.Unit) {
	pieces := []slab.Slab{plank("Pear from the lane"), plank("=danger()")}
	csv, err := RackCSV(pieces, unit)
	require.NoError(t, err)
	xlsx, err := RackXLSX(pieces, unit)
	require.NoError(t, err)
	for name, data := range map[string][]byte{"csv": csv, "xlsx": xlsx} {
		got, err := ReadRack(data, measure.Millimetre, nil, march)
		require.NoError(t, err, name)
		require.Empty(t, got.Bad, name)
		require.Len(t, got.Good, 2, name)
		for i, row := range got.Good {
			assert.Equal(t, pieces[i], row.Slab, name)
		}
	}
}

func TestBadRowsAreNamed(t *testing.T) {
	const table = "name;SPECIES;length;width at the butt;thickness;moisture %;read on\n" +
		"First;pear;30 in;7 1/4\";1\";9,2;2031-02-01\n" +
		"Second;unobtainium;600;200;30;;\n" +
		";Pear;600;200;30;;\n" +
		"Fourth;Pear;soon;200;30;;yesterday\n" +
		"Fifth;Pyrus communis;5;200;30;;\n\n" +
		"Sixth;Pear;600;200;30;8;\n"
	got, err := ReadRack([]byte(table), measure.Millimetre, nil, march)
	require.NoError(t, err)
	require.Len(t, got.Good, 2)
	assert.InDelta(t, 762, got.Good[0].Slab.Length, 1e-9)
	assert.InDelta(t, 184.15, got.Good[0].Slab.Show[0].Width(), 1e-9)
	assert.Equal(t, march, got.Good[1].Slab.Moisture[0].At, "a reading without a day is of now")
	var told []string
	for _, b := range got.Bad {
		told = append(told, fmt.Sprintf("%d: %s", b.Line, strings.Join(b.Reasons, " | ")))
	}
	require.Len(t, told, 4)
	assert.Contains(t, told[0], `3: Species: "unobtainium" is not in the species table`)
	assert.Contains(t, told[1], "4: Name: the name is empty")
	assert.Contains(t, told[2], "5: Length:")
	assert.Contains(t, told[2], "Read on: write the day like 2031-03-04")
	assert.Contains(t, told[3], "6: Length: 5 mm is out of range")
}

func TestTablesThatAreRefused(t *testing.T) {
	xlsx, err := RackXLSX([]slab.Slab{plank("a")}, measure.Millimetre)
	require.NoError(t, err)
	for name, c := range map[string]struct {
		data []byte
		why  string
	}{
		"empty":         {nil, "empty"},
		"no columns":    {[]byte("a,b\n1,2\n"), `no column "Name"`},
		"latin":         {[]byte("Name\xe9,b\n"), "UTF-8"},
		"cut xlsx":      {xlsx[:len(xlsx)/2], "cannot be read"},
		"not a table":   {[]byte("PK\x03\x04 nothing"), "cannot be read"},
		"old format":    {[]byte("\xd0\xcf\x11\xe0 old"), "save it as XLSX"},
		"too many rows": {[]byte("Name\n" + strings.Repeat("x\n", 6000)), "more than 5000 lines"},
		"only commas":   {bytes.Repeat([]byte(","), MostTableBytes), "more than 200 columns"},
		"a far cell":    {farCell(t), "columns"},
	} {
		_, err := ReadRack(c.data, measure.Millimetre, nil, march)
		assert.ErrorContains(t, err, c.why, name)
	}
}

// farCell is a spreadsheet whose every row has a cell in the last column there is.
func farCell(t *testing.T) []byte {
	f := excelize.NewFile()
	defer f.Close()
	for row := range 1000 {
		require.NoError(t, f.SetCellValue("Sheet1", fmt.Sprintf("XFD%d", row+1), "x"))
	}
	var out bytes.Buffer
	require.NoError(t, f.Write(&out))
	return out.Bytes()
}

// What goes out comes back the same, and no spreadsheet takes a text for a formula.
func TestTextsComeBackAsTheyWere(t *testing.T) {
	texts := []string{"007", "1e5", "nan", "Inf", "0x1p-2", "=1+1", "'=1+1", "''", "＝1+1", "\n=1+1", "\t+1", "\r@x",
		"-2", " spaced ", "plain", "12 planks", "a, b; c", `7 1/4"`, "_x0041_", "true", "a\nb", "–", "+", "\u00a0=1"}
	rapid.Check(t, func(t *rapid.T) {
		s := plank("a")
		text := rapid.OneOf(rapid.SampledFrom(texts), rapid.StringOfN(rapid.RuneFrom(nil, unicode.Letter, unicode.Punct,
			unicode.Sm, unicode.Zs, unicode.Nd), 1, 20, 80)).Draw(t, "text")
		s.Name, s.Notes, s.Origin = text, text, &slab.Origin{Source: text}
		if len(s.Check("", march, nil)) > 0 {
			return // which the workshop does not keep
		}
		csv, err := RackCSV([]slab.Slab{s}, measure.Millimetre)
		require.NoError(t, err)
		xlsx, err := RackXLSX([]slab.Slab{s}, measure.Millimetre)
		require.NoError(t, err)
		for kind, data := range map[string][]byte{"csv": csv, "xlsx": xlsx} {
			table, err := ReadRack(data, measure.Millimetre, nil, march)
			require.NoError(t, err)
			require.Len(t, table.Good, 1, "%s %v", kind, table.Bad)
			got := table.Good[0].Slab
			assert.Equal(t, text, got.Name, kind)
			assert.Equal(t, text, got.Notes, kind)
			assert.Equal(t, text, got.Origin.Source, kind)
		}
		for _, cell := range strings.Split(strings.SplitN(string(csv), "\n", 2)[1], ",") {
			bare := strings.TrimLeftFunc(strings.Trim(cell, `"`), func(r rune) bool {
				return unicode.IsSpace(r) || unicode.IsControl(r)
			})
			if first, _ := utf8.DecodeRuneInString(bare); strings.ContainsRune("=@＝＠＋－", first) {
				t.Fatalf("%q is taken for a formula", cell)
			}
		}
	})
}

func FuzzReadRack(f *testing.F) {
	csv, _ := RackCSV([]slab.Slab{plank("a")}, measure.Millimetre)
	xlsx, _ := RackXLSX([]slab.Slab{plank("a")}, measure.Millimetre)
	f.Add(csv)
	f.Add(xlsx)
	f.Fuzz(func(t *testing.T, data []byte) {
		var table Table
		var err error
		frugal(t, "it", func() { table, err = ReadRack(data, measure.Inch, nil, march) })
		if err != nil {
			return
		}
		for _, row := range table.Good {
			if ps := row.Slab.Check("", march, nil); len(ps) > 0 {
				t.Fatal("offered what cannot be kept: ", ps)
			}
		}
	})
}

func TestLabelsCarryTheirWords(t *testing.T) {
	var labels []Label
	for i := range 11 {
		labels = append(
			labels,
			LabelOf(plank(fmt.Sprintf("Pear %d, of a name so long that it cannot stand on one line", i)),
				measure.Millimetre, "http://127.0.0.1:8080/timber/00000000-0000-4000-8000-000000000000"),
		)
	}
	data, err := Labels(shop.Usual(), labels)
	require.NoError(t, err)
	require.True(t, bytes.HasPrefix(data, []byte("%PDF-")))
	file := filepath.Join(t.TempDir(), "labels.pdf")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	for _, want := range []string{"Pear 0", "Pear 10", "812", "9.4 % on 1 Mar 2031"} {
		assert.Contains(t, string(text), want)
	}
	assert.Equal(t, 2, strings.Count(string(text), "\f"), "ten on a page")
}

// A spreadsheet that unpacks to far more than it weighs is refused before it
// takes the memory.
func TestUnpackingIsBounded(t *testing.T) {
	plain, err := RackXLSX([]slab.Slab{plank("a")}, measure.Millimetre)
	require.NoError(t, err)
	from, err := zip.NewReader(bytes.NewReader(plain), int64(len(plain)))
	require.NoError(t, err)
	var bomb bytes.Buffer
	to := zip.NewWriter(&bomb)
	for _, f := range from.File {
		w, err := to.Create(f.Name)
		require.NoError(t, err)
		r, err := f.Open()
		require.NoError(t, err)
		_, err = io.Copy(w, r)
		require.NoError(t, err)
		if strings.HasSuffix(f.Name, "sheet1.xml") {
			_, err = io.CopyN(w, spaces{}, 150<<20)
			require.NoError(t, err)
		}
	}
	require.NoError(t, to.Close())
	require.Less(t, bomb.Len(), MostTableBytes)
	debug.FreeOSMemory()
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	_, err = ReadRack(bomb.Bytes(), measure.Millimetre, nil, march)
	runtime.ReadMemStats(&after)
	assert.ErrorContains(t, err, "unpacks to more than")
	assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(500<<20), "all that was ever asked for, freed or not")
}

// spaces is as many spaces as are wanted.
type spaces struct{}

func (spaces) Read(p []byte) (int, error) {
	for i := range p {
		p[i] = ' '
	}
	return len(p), nil
}
