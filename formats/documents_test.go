package formats

import (
	"flag"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"syscall"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/require"

	"idletimber/craft/reckon"
)

// Bounds of what one document may cost, whatever stands in it.
const (
	mostTime   = time.Second
	mostMemory = 200 << 20
)

// frugal fails a test whose call takes longer or more memory than it may. A machine that
// is busy with something else may hold one up: what takes too long is called once more.
func frugal(t *testing.T, what string, call func()) {
	t.Helper()
	const tries = 3
	var before, after runtime.MemStats
	var took time.Duration
	for range tries {
		runtime.ReadMemStats(&before)
		begun, spent := time.Now(), processor()
		call()
		took = min(time.Since(begun), processor()-spent) // the machine may be busy with something else
		runtime.ReadMemStats(&after)
		if took <= mostTime {
			break
		}
	}
	if took > mostTime {
		t.Fatalf("%s took %s", what, took)
	}
	if used := int64(after.HeapAlloc) - int64(before.HeapAlloc); used > mostMemory {
		t.Fatalf("%s held %d MB", what, used>>20)
	}
}

// processor is the processor time that this process has taken.
func processor() time.Duration {
	var used syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &used); err != nil {
		return 0
	}
	return time.Duration(used.Utime.Nano() + used.Stime.Nano())
}

// document is a job as a tree that can be spoiled.
func document(t testing.TB, name string) map[string]any {
	data, err := os.ReadFile(name)
	require.NoError(t, err)
	var out map[string]any
	require.NoError(t, json.Unmarshal(renewed(data), &out))
	return out
}

func jobs(t testing.TB) []string {
	out, err := filepath.Glob("testdata/golden/*.job.json")
	require.NoError(t, err)
	require.NotEmpty(t, out)
	return out
}

// leaf is a place in a document.
type leaf struct {
	path string
	set  func(v any)
	is   any
}

// leaves lists every place of a document that holds a value, or a list.
func leaves(v any, path string, set func(any)) (out []leaf) {
	switch v := v.(type) {
	case map[string]any:
		for _, k := range slices.Sorted(maps.Keys(v)) {
			out = append(out, leaves(v[k], path+"."+k, func(n any) { v[k] = n })...)
		}
	case []any:
		out = append(out, leaf{path, set, v})
		for i := range v {
			out = append(out, leaves(v[i], fmt.Sprintf("%s[%d]", path, i), func(n any) { v[i] = n })...)
		}
	default:
		out = append(out, leaf{path, set, v})
	}
	return out
}

// judge reads a document, and reckons and lays out what is accepted of it: what
// comes of it can be written and costs no more than it may.
func judge(t *testing.T, what string, tree map[string]any) {
	t.Helper()
	data, err := json.Marshal(tree)
	require.NoError(t, err)
	frugal(t, what, func() {
		j, err := ReadJob(data)
		if err != nil {
			return
		}
		r, err := reckon.Reckon(j, reckon.Request{Leftovers: true})
		if err != nil {
			t.Fatalf("%s is read, but not reckoned: %v", what, err)
		}
		if _, err := json.Marshal(r); err != nil {
			t.Fatalf("%s makes an answer that cannot be written: %v", what, err)
		}
		laid, err := reckon.LayOut(j, reckon.LayOutRequest{})
		if err == nil {
			_, err = json.Marshal(laid)
		}
		if err != nil {
			t.Fatalf("%s is not laid out: %v", what, err)
		}
	})
}

var everyLeaf = flag.Bool("every-leaf", false, "spoil every number of every document in every way")

// Whatever number stands in whatever place, a document is refused or reckoned.
func TestSpoiledDocuments(t *testing.T) {
	extremes := []float64{0, -1, 1e5, -1e5, 1e-6, 5e-324, 1e9, 1e300, 0.5}
	step := 41
	if *everyLeaf {
		step = 1
	}
	n := 0
	for _, name := range jobs(t) {
		tree := document(t, name)
		for _, l := range leaves(tree, filepath.Base(name), nil) {
			if _, number := l.is.(float64); !number {
				continue
			}
			for _, v := range extremes {
				if n++; n%step != 0 {
					continue
				}
				l.set(v)
				judge(t, fmt.Sprintf("%s = %g", l.path, v), tree)
			}
			l.set(l.is)
		}
	}
}

// FuzzDocument spoils places of a document: numbers, texts, and lists that are
// doubled.
func FuzzDocument(f *testing.F) {
	names := jobs(f)
	f.Add(uint8(0), uint16(7), uint16(90), 1e5, "arc", uint8(0))
	f.Add(uint8(1), uint16(70), uint16(9), -0.5, "batten", uint8(1))
	f.Add(uint8(2), uint16(150), uint16(400), 1e-7, "through", uint8(2))
	f.Fuzz(func(t *testing.T, doc uint8, first, second uint16, number float64, text string, how uint8) {
		if number != number || number-number != 0 {
			return // which JSON cannot hold
		}
		tree := document(t, names[int(doc)%len(names)])
		for _, at := range []uint16{first, second} {
			all := leaves(tree, "", nil)
			l := all[int(at)%len(all)]
			switch is := l.is.(type) {
			case float64:
				l.set(number)
			case string:
				l.set(text)
			case bool:
				l.set(!is)
			case []any:
				if len(is) > 0 && len(is) < 2000 && how%3 > 0 {
					l.set(slices.Concat(is, is))
				} else if how%3 == 0 {
					l.set([]any{})
				}
			}
		}
		judge(t, "it", tree)
	})
}
