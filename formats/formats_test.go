package formats

import (
	"encoding/xml"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/reckon"
)

// example is the job that docs/job-format.md shows.
func example(t testing.TB) []byte {
	t.Helper()
	text, err := os.ReadFile("../docs/job-format.md")
	require.NoError(t, err)
	found := regexp.MustCompile("(?s)```json\n(.*?)```").FindSubmatch(text)
	require.NotNil(t, found, "the page shows an example")
	return found[1]
}

func reckoned(t testing.TB) (reckon.Scene, reckon.Reckoning) {
	t.Helper()
	j, err := ReadJob(example(t))
	require.NoError(t, err)
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	return j, r
}

func TestTheDocumentedExampleReckons(t *testing.T) {
	_, r := reckoned(t)
	require.Len(t, r.Boards, 1)
	assert.NotEqual(t, craft.Stop, r.Boards[0].Level)
	assert.False(t, r.Boards[0].Course.Late)
}

func TestJobThereAndBack(t *testing.T) {
	j, _ := reckoned(t)
	data, err := WriteJob(j)
	require.NoError(t, err)
	again, err := ReadJob(data)
	require.NoError(t, err)
	twice, err := WriteJob(again)
	require.NoError(t, err)
	assert.Equal(t, string(data), string(twice))
}

func TestReadJobSaysWhatIsWrong(t *testing.T) {
	for name, text := range map[string]string{
		"not JSON": "{", "wrong type": `{"schema": "one"}`, "unknown field": `{"colour": 1}`, "empty": "",
		"another schema": `{"schema": 2}`,
		"too large":      strings.Repeat(" ", mostJob+1),
	} {
		_, err := ReadJob([]byte(text))
		var ps craft.Problems
		require.ErrorAs(t, err, &ps, name)
		assert.NotEmpty(t, ps[0].Field, name)
		assert.NotEmpty(t, ps[0].Right, name)
	}
}

func FuzzReadJob(f *testing.F) {
	f.Add([]byte(`{"schema":1,"slab":{"length":1e308}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		frugal(t, "it", func() {
			j, err := ReadJob(data)
			if err != nil {
				return
			}
			if _, err := reckon.Reckon(j, reckon.Request{}); err != nil {
				t.Fatalf("read, but not reckoned: %v", err)
			}
		})
	})
}

func TestBoardSVGIsWellFormed(t *testing.T) {
	_, r := reckoned(t)
	var doc struct {
		Width  string `xml:"width,attr"`
		Title  string `xml:"title"`
		Layers []struct {
			ID    string `xml:"id,attr"`
			Paths []struct {
				D string `xml:"d,attr"`
			} `xml:"path"`
		} `xml:"g>g"`
	}
	require.NoError(t, xml.Unmarshal(BoardSVG("A <board> & co", r.Boards[0]), &doc))
	assert.Equal(t, "A <board> & co", doc.Title)
	assert.Contains(t, doc.Width, "mm")
	assert.Equal(t, OutlineLayer, doc.Layers[0].ID)
	assert.Contains(t, doc.Layers[0].Paths[0].D, "A", "corners are arcs")
	assert.Len(t, doc.Layers[1].Paths, len(r.Boards[0].Holes))
	path, err := canvas.ParseSVGPath(doc.Layers[0].Paths[0].D)
	require.NoError(t, err)
	box := geom.Largest(geom.Flatten(path, 0.001)).Bounds()
	assert.InDelta(t, r.Boards[0].Box[2]-r.Boards[0].Box[0], box.MaxX-box.MinX, 0.005)
	assert.InDelta(t, r.Boards[0].Box[3]-r.Boards[0].Box[1], box.MaxY-box.MinY, 0.005)
}

func TestSheet(t *testing.T) {
	j, r := reckoned(t)
	for _, paper := range []string{"A4", "Letter"} {
		j.Shop.Paper = paper
		data, err := Sheet(j, r)
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "sheet.pdf")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
		require.NoError(t, err)
		for _, want := range []string{j.Boards[0].Name, "Cut list", "From the shelf", "Steps", "Take care", "Drawn 1:",
			"360 mm", "Saw the outline", "Hardener"} {
			assert.Contains(t, string(text), want, paper)
		}
		info, err := exec.Command("pdfinfo", file).Output()
		require.NoError(t, err)
		size := map[string]string{"A4": "595.28 x 841.89", "Letter": "612 x 792"}[paper]
		assert.Contains(t, string(info), size)
	}
}

// The drawing is to scale: the outline's size on the page is the board's by the
// scale that the sheet names.
func TestSheetIsDrawnToScale(t *testing.T) {
	j, r := reckoned(t)
	data, err := Sheet(j, r)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "sheet.pdf")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	text, err := exec.Command("pdftotext", file, "-").Output()
	require.NoError(t, err)
	named := regexp.MustCompile(`Drawn 1:([\d.]+)`).FindSubmatch(text)
	require.NotNil(t, named)
	scale, err := strconv.ParseFloat(strings.TrimSuffix(string(named[1]), "."), 64)
	require.NoError(t, err)
	picture, err := exec.Command("pdftocairo", "-svg", "-f", "1", "-l", "1", file, "-").Output()
	require.NoError(t, err)
	var w, h float64 // of the largest drawn line, points
	for _, d := range regexp.MustCompile(`<path [^>]*fill(?::|=")none[^>]* d="([^"]+)"`).FindAllSubmatch(picture, -1) {
		path, err := canvas.ParseSVGPath(string(d[1]))
		require.NoError(t, err)
		if box := path.Bounds(); box.W()*box.H() > w*h {
			w, h = box.W(), box.H()
		}
	}
	const mmPerPoint = 25.4 / 72
	box := r.Boards[0].Box
	assert.InDelta(t, box[2]-box[0], w*mmPerPoint*scale, 0.5)
	assert.InDelta(t, box[3]-box[1], h*mmPerPoint*scale, 0.5)
}

func TestRoundScale(t *testing.T) {
	for least, want := range map[float64]float64{0.4: 1, 1.2: 2, 2.1: 2.5, 3: 4, 44: 50, 61.3: 62} {
		assert.Equal(t, want, roundScale(least))
	}
	assert.Equal(t, "45 min", duration(45))
	assert.Equal(t, "4 h 33 min", duration(272.9))
	assert.Equal(t, "2.5 days", duration(2.5*24*60))
	assert.Equal(t, "12 h", duration(720))
	assert.Equal(t, "3 days", duration(3*24*60))
}

func TestSheetNeverFailsOnLongWords(t *testing.T) {
	j, _ := reckoned(t)
	j.Boards[0].Name = strings.Repeat("Überlanges Brett ", 10)
	j.Boards[0].Give.For = "Żaneta & Ångström"
	j.Now = j.Now.Add(time.Hour)
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	_, err = Sheet(j, r)
	assert.NoError(t, err)
}

func TestSchemaKnowsTheJob(t *testing.T) {
	data, err := json.Marshal(JobSchema())
	require.NoError(t, err)
	for _, want := range []string{`"$ref":"#/$defs/`, "placement", "naturalEnds", "raise"} {
		assert.Contains(t, string(data), want)
	}
}

func TestEveryPropertyOfAJobIsDescribed(t *testing.T) {
	defs := JobSchema()["$defs"].(map[string]*huma.Schema)
	seen := 0
	for name, def := range defs {
		for property, s := range def.Properties {
			assert.True(t, s.Description != "" || s.Ref != "", "%s.%s has no description", name, property)
			seen++
		}
	}
	assert.Greater(t, seen, 300)
}
