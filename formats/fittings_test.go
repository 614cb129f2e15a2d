package formats

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/fitting"
	"idletimber/craft/reckon"
)

// fittedOut is a small board with pulls from below and a slicer, near its edges.
func fittedOut(t *testing.T) (reckon.Scene, reckon.Reckoning) {
	t.Helper()
	return shapedAs(t, func(b *reckon.Board) {
		b.Design.Handle.Kind = board.NoHandle
		b.Fit = fitting.Choice{
			Pulls: &fitting.Pull{
				Both: true, Machine: true, Spacing: 96, Setback: 30, Foot: 4, Countersink: 3, Screw: 4,
			},
			Slicer: &fitting.Slicer{From: 120, Bore: 6, Below: 9, Deep: 60, Gap: 10, Wire: 0.8, Kerf: 2},
		}
	})
}

func shapedAs(t *testing.T, change func(*reckon.Board)) (reckon.Scene, reckon.Reckoning) {
	t.Helper()
	j, err := ReadJob(example(t))
	require.NoError(t, err)
	change(&j.Boards[0])
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	return j, r
}

func pdftotext(t *testing.T, data []byte, how string) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "file.pdf")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	text, err := exec.Command("pdftotext", how, file, "-").Output()
	require.NoError(t, err)
	return string(text)
}

// What is bored and cut for fittings stands in the sheet: where it is marked, on which
// face, from which end and side.
func TestTheSheetListsMarks(t *testing.T) {
	j, r := fittedOut(t)
	data, err := Sheet(j, r)
	require.NoError(t, err)
	text := pdftotext(t, data, "-layout")
	for _, want := range []string{"Marks for the fittings", "hole 1 of pull 1", "under face", "from the handle end",
		"hole for the arm", "right side", "from the show face", "Bore the hole for the arm", "Cut the wire's slot",
		"Assembly of the fittings", "Milling", "1. planer", "set to", "turns"} {
		assert.Contains(t, text, want)
	}
	for _, l := range BoardLayers(r.Boards[0]) {
		if l.Name == MarksLayer { // the centre line, a slot, crosses of two lines, and the rings of the bores
			assert.Len(t, l.Paths, 1+1+2*len(r.Boards[0].Fittings.Spots)+len(r.Boards[0].Fittings.Bores))
		}
	}
}

// No label of a template reaches past the paper that is drawn on.
func TestLabelsStayOnThePaper(t *testing.T) {
	j, r := fittedOut(t)
	box := regexp.MustCompile(`xMin="([\d.]+)" yMin="[\d.]+" xMax="([\d.]+)"`)
	width := regexp.MustCompile(`<page width="([\d.]+)"`)
	for _, paper := range []string{"Whole", "A4"} {
		data, err := Template(j, r.Boards[0], TemplateChoice{Paper: paper})
		require.NoError(t, err)
		text := pdftotext(t, data, "-bbox")
		page := width.FindStringSubmatch(text)
		require.NotNil(t, page)
		wide, err := strconv.ParseFloat(page[1], 64)
		require.NoError(t, err)
		words := box.FindAllStringSubmatch(text, -1)
		require.NotEmpty(t, words)
		for _, w := range words {
			from, err := strconv.ParseFloat(w[1], 64)
			require.NoError(t, err)
			to, err := strconv.ParseFloat(w[2], 64)
			require.NoError(t, err)
			assert.True(t, from >= 0 && to <= wide, "%s of %g", w[0], wide)
		}
	}
}
