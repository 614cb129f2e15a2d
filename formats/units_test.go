package formats

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/measure"
	"idletimber/craft/reckon"
	"idletimber/craft/tool"
)

// metric finds a value in a metric unit.
var metric = regexp.MustCompile(`\d ?(?:mm|cm|cm²|mm²|m²|m³|cm³|ml|g|kg|°C|N|MPa)(?:[^\w²³]|$)`)

// size finds the size of a tool, which is called as it is engraved on it.
var size = regexp.MustCompile(`\{[^{}]* bit\}`)

var inches = measure.System{Length: measure.Inch}

// An inch shop reads no metric value: each unit that a figure has is known, and each
// value in a text stands in braces.
func TestEveryTextFollowsTheSystem(t *testing.T) {
	jobs, err := filepath.Glob("testdata/golden/*.job.json")
	require.NoError(t, err)
	seen := 0
	var look func(at string, v any)
	look = func(at string, v any) {
		switch v := v.(type) {
		case map[string]any:
			if value, ok := v["value"].(float64); ok {
				if unit, ok := v["unit"].(string); ok && unit != string(craft.Bit) {
					assert.NotRegexp(t, metric, measure.Show(value, unit, inches), at)
				}
			}
			for k, o := range v {
				look(at+"."+k, o)
			}
		case []any:
			for _, o := range v {
				look(at, o)
			}
		case string:
			seen++
			assert.NotRegexp(t, metric, measure.Text(size.ReplaceAllString(v, ""), inches), at)
		}
	}
	for _, file := range jobs {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		j, err := ReadJob(data)
		require.NoError(t, err)
		for i := range j.Boards {
			r, err := reckon.Reckon(j, reckon.Request{Weigh: j.Boards[i].ID})
			require.NoError(t, err)
			written, err := json.Marshal(r)
			require.NoError(t, err)
			var all any
			require.NoError(t, json.Unmarshal(written, &all))
			look("", all)
		}
	}
	assert.Greater(t, seen, 5000)
}

// The sheet and the cut list on paper too; the scale and the bits stay as they are.
func TestPaperFollowsTheSystem(t *testing.T) {
	j, _ := reckoned(t)
	j.Shop.Units, j.Shop.Bits = measure.Inch, tool.NewBits(25.4)
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	sheet, err := Sheet(j, r)
	require.NoError(t, err)
	laid, err := reckon.LayOut(j, reckon.LayOutRequest{Leftovers: true})
	require.NoError(t, err)
	cuts, err := CutList(j, *r.Slab, laid)
	require.NoError(t, err)
	for name, data := range map[string][]byte{"sheet": sheet, "cut list": cuts} {
		file := filepath.Join(t.TempDir(), "it.pdf")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
		require.NoError(t, err)
		for _, line := range strings.Split(string(out), "\n") {
			if !strings.Contains(line, "Ø") && !strings.Contains(strings.ToLower(line), "bore") {
				assert.NotRegexp(t, metric, line, name)
			}
			assert.NotContains(t, line, "{", name)
		}
	}
}
