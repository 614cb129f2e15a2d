package formats

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"testing"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
)

// Whatever the schema calls required is asked for by its name when it is left out.
func TestWhatIsRequiredMayNotBeLeftOut(t *testing.T) {
	data := example(t)
	var job any
	require.NoError(t, json.Unmarshal(data, &job))
	registry, root := jobSchema()
	tried := 0
	var walk func(v any, s *huma.Schema, at string)
	walk = func(v any, s *huma.Schema, at string) {
		for s != nil && s.Ref != "" {
			s = registry.SchemaFromRef(s.Ref)
		}
		switch v := v.(type) {
		case map[string]any:
			for _, name := range slices.Sorted(maps.Keys(v)) {
				field := at + "." + name
				if at == "" {
					field = name
				}
				was := v[name]
				if s != nil && slices.Contains(s.Required, name) {
					delete(v, name)
					less, err := json.Marshal(job)
					require.NoError(t, err)
					_, err = ReadJob(less)
					var ps craft.Problems
					require.True(t, errors.As(err, &ps), "%s may be left out", field)
					assert.True(t, slices.ContainsFunc(ps, func(p craft.Problem) bool { return p.Field == field }),
						"%s: %v", field, ps)
					v[name] = was
					tried++
				}
				if s != nil {
					walk(was, s.Properties[name], field)
				}
			}
		case []any:
			if len(v) > 0 && s != nil {
				walk(v[0], s.Items, fmt.Sprintf("%s[0]", at))
			}
		}
	}
	walk(job, root, "")
	assert.Greater(t, tried, 50)
}
