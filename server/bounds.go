package server

import (
	"maps"
	"slices"

	"github.com/danielgtaylor/huma/v2"
)

// Outer bounds of what a request may hold where its fields name none of their own.
// What makes sense is told by the ranges of the craft; these keep out what no
// computation would end on.
const (
	mostNumber  = 1e6 // mm, minutes, per cent
	mostFigure  = 1e12
	mostInteger = 1<<31 - 1
	mostLetters = 20000
	mostItems   = 10000
)

// boundRequests gives every number, text and list that a request may hold its
// bounds, and every operation that takes JSON.
func boundRequests(api *huma.OpenAPI) {
	seen := map[*huma.Schema]bool{}
	var bound func(s *huma.Schema, most float64)
	bound = func(s *huma.Schema, most float64) {
		if s == nil || seen[s] {
			return
		}
		seen[s] = true
		if s.Ref != "" {
			if s = api.Components.Schemas.SchemaFromRef(s.Ref); seen[s] {
				return
			}
			seen[s] = true
		}
		switch s.Type {
		case huma.TypeNumber:
			s.Minimum, s.Maximum = within(s.Minimum, -most), within(s.Maximum, most)
		case huma.TypeInteger:
			s.Minimum, s.Maximum = within(s.Minimum, -mostInteger), within(s.Maximum, mostInteger)
		case huma.TypeString:
			s.MaxLength = within(s.MaxLength, mostLetters)
		case huma.TypeArray:
			s.MaxItems = within(s.MaxItems, mostItems)
		}
		bound(s.Items, most)
		if more, ok := s.AdditionalProperties.(*huma.Schema); ok {
			s.MaxProperties = within(s.MaxProperties, mostItems)
			bound(more, most)
		}
		for _, name := range slices.Sorted(maps.Keys(s.Properties)) {
			if name == "value" { // of a figure, in any unit
				bound(s.Properties[name], mostFigure)
			}
			bound(s.Properties[name], most)
		}
		s.PrecomputeMessages()
	}
	for _, path := range api.Paths {
		for _, o := range []*huma.Operation{path.Get, path.Put, path.Post, path.Delete, path.Patch} {
			if o == nil {
				continue
			}
			for _, p := range o.Parameters {
				bound(p.Schema, mostNumber)
			}
			if o.RequestBody != nil {
				for _, content := range o.RequestBody.Content {
					bound(content.Schema, mostNumber)
				}
			}
		}
	}
}

// within is a bound, or the outer one where there is none.
func within[T any](bound *T, outer T) *T {
	if bound != nil {
		return bound
	}
	return &outer
}
