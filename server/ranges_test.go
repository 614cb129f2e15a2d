package server

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every range that a field of the interface names is one that the tables serve.
func TestFieldsNameServedRanges(t *testing.T) {
	of := regexp.MustCompile(`(?:\bof\w*=|range\(|least\()"([a-z]\w*(?:\.\w+)+)"`)
	seen := 0
	err := filepath.WalkDir("../web/src", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".tsx") {
			return err
		}
		text, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		for _, m := range of.FindAllStringSubmatch(string(text), -1) {
			document, field, _ := strings.Cut(m[1], ".")
			_, ok := tables.Ranges[document][field]
			assert.True(t, ok, "%s asks for the range of %s", path, m[1])
			seen++
		}
		return nil
	})
	require.NoError(t, err)
	require.Greater(t, seen, 100, "most fields name their range")
}
