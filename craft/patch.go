package craft

import (
	"encoding/json"
	"fmt"
	"reflect"
)

// Patch is a JSON merge patch (RFC 7396) on a board document.
type Patch map[string]any

// Difference is the patch that makes b of a, two documents of one type.
func Difference(a, b any) Patch { return difference(fields(a), fields(b)) }

// Apply patches a document, given by a pointer. The error says why the patched
// document is none.
func (p Patch) Apply(doc any) error {
	all, patch := fields(doc), fields(p)
	merge(all, patch)
	text, err := json.Marshal(all)
	if err != nil {
		return fmt.Errorf("patch: %w", err)
	}
	// Fields that the patch took away must not stay.
	fresh := reflect.New(reflect.TypeOf(doc).Elem())
	if err := json.Unmarshal(text, fresh.Interface()); err != nil {
		return fmt.Errorf("patch: %w", err)
	}
	reflect.ValueOf(doc).Elem().Set(fresh.Elem())
	return nil
}

// fields are the fields of a document as they are stored.
func fields(doc any) (out map[string]any) {
	data, err := json.Marshal(doc)
	if err == nil {
		err = json.Unmarshal(data, &out)
	}
	if err != nil {
		panic(err) // documents are plain data
	}
	return out
}

func difference(a, b map[string]any) map[string]any {
	out := map[string]any{}
	for k, was := range a {
		now, ok := b[k]
		if !ok {
			out[k] = nil
			continue
		}
		inner, isMap := was.(map[string]any)
		if next, both := now.(map[string]any); isMap && both {
			if d := difference(inner, next); len(d) > 0 {
				out[k] = d
			}
			continue
		}
		if !reflect.DeepEqual(was, now) {
			out[k] = now
		}
	}
	for k, now := range b {
		if _, ok := a[k]; !ok {
			out[k] = now
		}
	}
	return out
}

func merge(into, patch map[string]any) {
	for k, v := range patch {
		if v == nil {
			delete(into, k)
			continue
		}
		inner, isMap := v.(map[string]any)
		if old, wasMap := into[k].(map[string]any); isMap && wasMap {
			merge(old, inner)
			continue
		}
		into[k] = v
	}
}
