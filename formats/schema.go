package formats

import (
	"errors"
	"path"
	"reflect"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"
	"github.com/go-json-experiment/json"

	"idletimber/craft"
	"idletimber/craft/reckon"
)

// SchemaName names a type in a schema: types of the craft carry their package,
// since more than one has a Reading or a Choice.
func SchemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	pkg := path.Base(t.PkgPath())
	if !strings.HasPrefix(t.PkgPath(), "idletimber/craft/") && pkg != "instruments" || strings.EqualFold(pkg, name) {
		return name
	}
	return strings.ToUpper(pkg[:1]) + pkg[1:] + name
}

// jobSchema is the schema of a job file, with the types that it refers to.
var jobSchema = sync.OnceValues(func() (huma.Registry, *huma.Schema) {
	huma.DefaultArrayNullable = false
	registry := huma.NewMapRegistry("#/$defs/", SchemaName)
	return registry, registry.Schema(reflect.TypeFor[reckon.Scene](), true, "Job")
})

// leftOut lists what the schema of a job file asks for and a file does not hold; what
// else may be wrong with it is told by its checks.
func leftOut(data []byte) (ps craft.Problems) {
	var job any
	if json.Unmarshal(data, &job) != nil {
		return nil
	}
	const most = 20
	registry, schema := jobSchema()
	at, found := huma.NewPathBuffer(nil, 0), huma.ValidateResult{}
	huma.Validate(registry, schema, at, huma.ModeReadFromServer, job, &found)
	before, after, _ := strings.Cut(validation.MsgExpectedRequiredProperty, "%s")
	for _, err := range found.Errors {
		var detail *huma.ErrorDetail
		if !errors.As(err, &detail) {
			continue
		}
		name, required := strings.CutPrefix(detail.Message, before)
		if name, ok := strings.CutSuffix(name, after); ok && required && len(ps) < most {
			field := strings.TrimPrefix(detail.Location+"."+name, ".")
			ps.Add(field, "it is left out", "give it, as docs/job-format.md describes it")
		}
	}
	return ps
}

// JobSchema is the JSON Schema (2020-12) of a job file.
func JobSchema() map[string]any {
	registry, root := jobSchema()
	return map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema",
		"$ref":    root.Ref,
		"$defs":   registry.Map(),
	}
}
