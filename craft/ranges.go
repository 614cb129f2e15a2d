package craft

import (
	"cmp"
	"reflect"
	"strconv"
	"strings"
	"sync"
)

// Range is between which values a number of a document may lie.
type Range struct {
	Least  float64 `json:"least" doc:"The least that is taken"`
	Most   float64 `json:"most" doc:"The most that is taken"`
	Length bool    `json:"length,omitempty" doc:"It is a length in mm"`

	field  []int
	name   string
	always bool // checked whatever the rest of the document says
}

// The ranges of a document stand at its fields, as tags: mm for a length, range
// for any other number, with the least and the most; when, as a third word, for
// one that matters only in some documents and is checked where it does:
//
//	Corner float64 `json:"corner" mm:"0,2000"`
//	Neck   float64 `json:"neck" mm:"10,3000,when"`
//
// The minimum and maximum of a request, as its schema names them, are ranges too.
var ranged sync.Map // reflect.Type to []Range

// rangesIn are the ranges at the fields of a struct type itself.
func rangesIn(t reflect.Type) []Range {
	if known, ok := ranged.Load(t); ok {
		return known.([]Range)
	}
	var out []Range
	for i := range t.NumField() {
		f := t.Field(i)
		tag, length := f.Tag.Get("mm"), true
		if tag == "" {
			tag, length = f.Tag.Get("range"), false
		}
		if least, most := f.Tag.Get("minimum"), f.Tag.Get("maximum"); tag == "" && least != "" && most != "" {
			tag = least + "," + most + ",when" // of a request: checked where it comes in
		}
		if tag == "" {
			continue
		}
		words := strings.Split(tag, ",")
		least, errLeast := strconv.ParseFloat(words[0], 64)
		most, errMost := strconv.ParseFloat(words[1], 64)
		if err := cmp.Or(errLeast, errMost); err != nil {
			panic(t.String() + "." + f.Name + ": " + err.Error())
		}
		out = append(out, Range{least, most, length, f.Index, jsonName(f), len(words) == 2})
	}
	ranged.Store(t, out)
	return out
}

func jsonName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	return name
}

// InRange checks the numbers of a document against the ranges at its fields, those
// that matter always. The document is a struct; those inside it check themselves.
func (ps *Problems) InRange(field string, document any) {
	v := reflect.ValueOf(document)
	for _, r := range rangesIn(v.Type()) {
		if r.always {
			r.check(ps, field, v)
		}
	}
}

// InRangeOf checks the named fields of a document, by their names in a file.
func (ps *Problems) InRangeOf(field string, document any, names ...string) {
	v := reflect.ValueOf(document)
	for _, name := range names {
		for _, r := range rangesIn(v.Type()) {
			if r.name == name {
				r.check(ps, field, v)
			}
		}
	}
}

func (r Range) check(ps *Problems, field string, v reflect.Value) {
	f := v.FieldByIndex(r.field)
	if f.Kind() == reflect.Pointer {
		if f.IsNil() {
			return
		}
		f = f.Elem()
	}
	number := 0.0
	if f.CanFloat() {
		number = f.Float()
	} else {
		number = float64(f.Int())
	}
	if number >= r.Least && number <= r.Most {
		return
	}
	at := r.name
	if field != "" {
		at = field + "." + r.name
	}
	if r.Length {
		ps.Length(at, number, r.Least, r.Most)
	} else {
		ps.Range(at, number, r.Least, r.Most)
	}
}

// RangeOf is the range at one path of a document; ok is false where there is none.
func RangeOf(document any, path string) (r Range, ok bool) {
	t := reflect.TypeOf(document)
	known, found := rangesByPath.Load(t)
	if !found {
		known = RangesOf(document)
		rangesByPath.Store(t, known)
	}
	r, ok = known.(map[string]Range)[path]
	return r, ok
}

var rangesByPath sync.Map // reflect.Type to map[string]Range

// RangesOf lists the ranges of a document and all that is in it, by path: members
// of a list or a map share its path.
func RangesOf(document any) map[string]Range {
	out := map[string]Range{}
	var walk func(t reflect.Type, path string)
	walk = func(t reflect.Type, path string) {
		for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice || t.Kind() == reflect.Map {
			t = t.Elem()
		}
		if t.Kind() != reflect.Struct {
			return
		}
		for _, r := range rangesIn(t) {
			out[strings.TrimPrefix(path+"."+r.name, ".")] = r
		}
		for i := range t.NumField() {
			f := t.Field(i)
			if name := jsonName(f); name != "" && name != "-" {
				walk(f.Type, strings.TrimPrefix(path+"."+name, "."))
			} else if f.Anonymous {
				walk(f.Type, path)
			}
		}
	}
	walk(reflect.TypeOf(document), "")
	return out
}
