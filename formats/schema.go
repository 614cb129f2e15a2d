package formats

import (
	"path"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"

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

// JobSchema is the JSON Schema (2020-12) of a job file.
func JobSchema() map[string]any {
	huma.DefaultArrayNullable = false
	registry := huma.NewMapRegistry("#/$defs/", SchemaName)
	root := registry.Schema(reflect.TypeFor[reckon.Scene](), true, "Job")
	return map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema",
		"$ref":    root.Ref,
		"$defs":   registry.Map(),
	}
}
