package formats

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
	"idletimber/craft/stock"
)

func TestCutList(t *testing.T) {
	j, r := reckoned(t)
	beside := j.Boards[0]
	beside.ID, beside.Name = "two", "A second board"
	beside.Design.Length, beside.Placement.X = 150, 110
	j.Boards = append(j.Boards, beside)
	laid, err := reckon.LayOut(j, reckon.LayOutRequest{})
	require.NoError(t, err)
	data, err := CutList(j, *r.Slab, laid)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "cuts.pdf")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	assert.NotContains(t, string(text), "…", "nothing is cut short")
	words := strings.Join(strings.Fields(string(text)), " ")
	for _, c := range laid.Cuts {
		for _, word := range strings.Fields(c.Title) {
			assert.Contains(t, words, word)
		}
	}
	require.NotEmpty(t, r.Slab.Bark[0])
	drawn, err := exec.Command("pdftocairo", "-svg", "-f", "1", "-l", "1", file, "-").Output()
	require.NoError(t, err)
	points := fmt.Sprintf("%.2f", barkWide*72/25.4)
	assert.Contains(t, string(drawn), "stroke-width:"+strings.TrimRight(points, "0"), "the bark is drawn")
	for _, want := range []string{"Cut list of " + j.Slab.Name, "from the butt end", "A second board", "kickback",
		"Drawn 1:"} {
		assert.Contains(t, string(text), want)
	}
	j.Shop.TimeZone = "Nowhere/Far"
	_, err = CutList(j, *r.Slab, laid)
	assert.Error(t, err)
}

// A job file from before flaws carried wishes is read all the same.
func TestOldJobFiles(t *testing.T) {
	j, _ := reckoned(t)
	require.NotEmpty(t, j.Slab.Flaws)
	j.Slab.Flaws[0].Wish = ""
	text, err := WriteJob(j)
	require.NoError(t, err)
	first := strings.Index(string(text), `"kind": "`+string(j.Slab.Flaws[0].Kind)+`"`)
	require.Positive(t, first)
	old := string(text[:first]) + `"keepOut": true, ` + string(text[first:])
	again, err := ReadJob([]byte(old))
	require.NoError(t, err)
	assert.Equal(t, stock.KeepOut, again.Slab.Flaws[0].Wish)
	kept, err := ReadJob([]byte(string(text[:first]) + `"keepOut": false, ` + string(text[first:])))
	require.NoError(t, err)
	assert.Empty(t, kept.Slab.Flaws[0].Wish)
}
