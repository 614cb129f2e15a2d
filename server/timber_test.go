package server_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// other is a maker with a workshop of their own.
func (s *site) other() *maker {
	m := s.visitor()
	status, _ := m.call("POST", "/api/sign-up", object{"email": "other@example.org", "password": "amber weir lattice"})
	require.Equal(s.t, 200, status)
	return m
}

// piece reads the piece of the rack whose name holds a word.
func (m *maker) piece(word string) object {
	m.t.Helper()
	_, list := m.call("GET", "/api/pieces?q="+word, nil)
	items := list["items"].([]any)
	require.NotEmpty(m.t, items, word)
	_, p := m.call("GET", "/api/pieces/"+id(items[0].(object)), nil)
	return p
}

func pixels(t *testing.T, w, h int) []byte {
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, image.NewRGBA(image.Rect(0, 0, w, h))))
	return out.Bytes()
}

func TestRackIsNarrowedAndSummed(t *testing.T) {
	m := newSite(t).sample()
	for path, want := range map[string]float64{
		"/api/pieces?species=Pear": 2, "/api/pieces?ready=ready": 10, "/api/pieces?ready=not+ready": 2,
		"/api/pieces?lengthFrom=900":          3,
		"/api/pieces?thickFrom=30&thickTo=36": 2, "/api/pieces?stock=plank": 1, "/api/pieces?centsTo=1500": 7,
		"/api/pieces?cut=true": 1,
	} {
		_, list := m.call("GET", path, nil)
		assert.Equal(t, want, list["total"], path)
	}
	_, list := m.call("GET", "/api/pieces?sort=longest", nil)
	assert.Equal(t, "Robinia fence rail", list["items"].([]any)[0].(object)["name"])
	assert.EqualValues(t, 5200+2600+1500+1800+2900+600+1400+3400+1400, list["cents"])
	for _, path := range []string{"/api/pieces?sort=prettiest", "/api/pieces?stock=log", "/api/pieces?thickTo=-1"} {
		status, _ := m.call("GET", path, nil)
		assert.Equal(t, 422, status, path)
	}
}

func TestFacesAreExchangedWithTheBoards(t *testing.T) {
	m := newSite(t).sample()
	p := m.piece("Weir")
	status, _ := m.call("POST", "/api/pieces/"+id(p)+"/turn", object{"version": 99})
	assert.Equal(t, 409, status)
	status, turned := m.call("POST", "/api/pieces/"+id(p)+"/turn", object{"version": p["version"]})
	require.Equal(t, 200, status)
	assert.Equal(t, true, turned["slab"].(object)["flaws"].([]any)[1].(object)["under"])
	for _, b := range turned["boards"].([]any) {
		_, sheet := m.call("GET", "/api/boards/"+id(b.(object)), nil)
		assert.Equal(t, true, sheet["board"].(object)["placement"].(object)["flip"])
	}
	levels := func(p object) (out []any) {
		for _, b := range p["wood"].(object)["boards"].([]any) {
			out = append(out, b.(object)["name"], b.(object)["level"])
		}
		return out
	}
	assert.ElementsMatch(t, levels(p), levels(turned), "turning slab and boards together changes no verdict")
}

func TestDividing(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	p := m.piece("Weir")
	status, _ := m.call(
		"POST",
		"/api/pieces/"+id(p)+"/resaw",
		object{"version": p["version"], "how": object{"leaves": 2, "kerf": 1.5, "cleanup": 1.5, "matched": true}},
	)
	assert.Equal(t, 409, status, "boards lie on it")
	_, _, data := m.raw("GET", "/api/pieces/"+id(p)+"/leftovers", nil)
	var left []object
	require.NoError(t, json.Unmarshal(data, &left))
	require.Greater(t, len(left), 2)
	status, problem := m.call("POST", "/api/pieces/"+id(p)+"/cut", object{"version": p["version"], "how": []int{0, 77}})
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["errors"].([]any)[0].(object)["message"], "there is no offcut 78")
	status, made := m.call("POST", "/api/pieces/"+id(p)+"/cut", object{"version": p["version"], "how": []int{0, 1}})
	require.Equal(t, 200, status)
	assert.Len(t, made["pieces"], 2)
	_, whole := m.call("GET", "/api/pieces/"+id(p), nil)
	assert.Equal(t, true, whole["cut"])
	assert.Len(t, whole["parts"], 2)
	_, part := m.call("GET", "/api/pieces/"+made["pieces"].([]any)[0].(string), nil)
	assert.Equal(t, []any{id(p)}, part["sources"])
	status, _ = m.call("POST", "/api/pieces/"+id(p)+"/cut", object{"version": whole["version"], "how": []int{}})
	assert.Equal(t, 409, status, "once only")
	status, _ = m.call("POST", "/api/pieces/"+id(p)+"/whole", nil)
	assert.Equal(t, 204, status)

	c := m.piece("Chestnut")
	status, problem = m.call(
		"POST",
		"/api/pieces/"+id(c)+"/resaw",
		object{"version": c["version"], "how": object{"leaves": 9, "kerf": 3, "cleanup": 1.5, "matched": false}},
	)
	assert.Equal(t, 422, status)
	assert.Equal(t, "resaw.leaves", problem["errors"].([]any)[0].(object)["location"])
	status, made = m.call(
		"POST",
		"/api/pieces/"+id(c)+"/resaw",
		object{"version": c["version"], "how": object{"leaves": 2, "kerf": 3, "cleanup": 1.5, "matched": true}},
	)
	require.Equal(t, 200, status)
	assert.Len(t, made["pieces"], 2)
}

func TestNothingOfTimberIsAnothers(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	p := m.piece("Weir")
	_, _, data := m.raw("POST", "/api/pictures", pixels(t, 20, 10))
	var picture object
	require.NoError(t, json.Unmarshal(data, &picture))
	_, _, data = m.raw("GET", "/api/instruments", nil)
	var instruments []object
	require.NoError(t, json.Unmarshal(data, &instruments))
	require.Len(t, instruments, 3)
	for _, c := range []struct {
		method, path string
		body         any
	}{
		{"GET", "/api/pieces/" + id(p), nil}, {"POST", "/api/pieces/" + id(p) + "/draft", p["slab"]},
		{"POST", "/api/pieces/" + id(p) + "/turn", object{"version": 1}},
		{"GET", "/api/pieces/" + id(p) + "/leftovers", nil},
		{"POST", "/api/pieces/" + id(p) + "/cut", object{"version": 1, "how": []int{0}}},
		{"POST", "/api/pieces/" + id(p) + "/resaw",
			object{"version": 1, "how": object{"leaves": 2, "kerf": 1.5, "cleanup": 1, "matched": false}}},
		{"POST", "/api/pieces/" + id(p) + "/whole", nil}, {"GET", "/api/pieces/" + id(p) + "/outline.svg", nil},
		{"GET", "/api/rack/labels.pdf?piece=" + id(p), nil},
		{"GET", "/api/pictures/" + id(picture), nil}, {"DELETE", "/api/instruments/" + id(instruments[0]), nil},
		{"POST", "/api/instruments/" + id(instruments[0]) + "/press", object{"piece": id(p)}},
	} {
		status, _ := o.call(c.method, c.path, c.body)
		assert.Equal(t, 404, status, "%s %s", c.method, c.path)
	}
	status, _ := s.visitor().call("GET", "/api/pictures/"+id(picture), nil)
	assert.Equal(t, 401, status)
	_, _, csv := o.raw("GET", "/api/rack.csv", nil)
	assert.NotContains(t, string(csv), "Weir plane")
}

func TestPicturesInAndOut(t *testing.T) {
	m := newSite(t).sample()
	status, _, data := m.raw("POST", "/api/pictures", pixels(t, 64, 48))
	require.Equal(t, 200, status)
	var doc object
	require.NoError(t, json.Unmarshal(data, &doc))
	assert.EqualValues(t, 64, doc["width"])
	status, header, data := m.raw("GET", "/api/pictures/"+id(doc), nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, "image/jpeg", header.Get("Content-Type"))
	assert.Contains(t, header.Get("Cache-Control"), "no-cache")
	_, kind, err := image.DecodeConfig(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, "jpeg", kind)
	status, problem := m.call(
		"POST",
		"/api/pictures/"+id(doc)+"/find",
		object{
			"corners":   []object{{"x": 1, "y": 1}, {"x": 40, "y": 1}, {"x": 40, "y": 30}, {"x": 1, "y": 30}},
			"sheet":     object{"width": 297, "height": 210},
			"thickness": 30,
			"tolerance": 0.5,
			"under":     false,
		},
	)
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["detail"], "no edge of the wood")
	status, problem = m.call(
		"POST",
		"/api/pictures/"+id(doc)+"/find",
		object{
			"corners":   []object{{"x": 1, "y": 1}, {"x": 40, "y": 1}, {"x": 40, "y": 30}, {"x": 1, "y": 30}},
			"sheet":     object{"width": 1, "height": 210},
			"thickness": 30,
			"tolerance": 0.5,
			"under":     false,
		},
	)
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.sheet.width", problem["errors"].([]any)[0].(object)["location"])
	for name, c := range map[string]struct {
		path string
		body []byte
		why  string
	}{
		"no picture":  {"/api/pictures", []byte("hello"), "no PNG or JPEG"},
		"no drawing":  {"/api/outlines", []byte("hello"), "no SVG and no ASCII DXF"},
		"crossing":    {"/api/outlines", []byte(`<svg><path d="M0 0L100 100L100 -50L0 60z"/></svg>`), "crosses itself"},
		"no table":    {"/api/rack/read", []byte("a,b\n"), "no column"},
		"large table": {"/api/rack/read", bytes.Repeat([]byte("x"), 10<<20+500), "MB"},
	} {
		status, _, data := m.raw("POST", c.path, c.body)
		assert.Equal(t, 422, status, name)
		assert.Contains(t, string(data), c.why, name)
	}
	status, _, _ = m.raw("POST", "/api/outlines", make([]byte, 11<<20))
	assert.Equal(t, 413, status, "what is far too large is not even read")
}

// A shape on a picture is traced to scale and becomes the nodes of a board's outline.
func TestATemplateIsTracedFromAPicture(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	img := image.NewRGBA(image.Rect(0, 0, 1200, 900))
	for y := range 900 {
		for x := range 1200 {
			img.SetRGBA(x, y, color.RGBA{110, 120, 110, 255})
			if x >= 300 && x < 900 && y >= 270 && y < 630 {
				img.SetRGBA(x, y, color.RGBA{200, 150, 90, 255})
			}
		}
	}
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, img))
	status, _, body := m.raw("POST", "/api/pictures", data.Bytes())
	require.Equal(t, 200, status)
	var doc object
	require.NoError(t, json.Unmarshal(body, &doc))
	path := "/api/pictures/" + id(doc) + "/trace"
	ask := object{
		"marks":     []object{{"x": 300, "y": 450}, {"x": 900, "y": 450}},
		"distance":  300,
		"tolerance": 0.5,
		"hand":      false,
	}
	status, found := m.call("POST", path, ask)
	require.Equal(t, 200, status, found)
	assert.InDelta(t, 300, found["length"], 3)
	assert.InDelta(t, 300*180, found["area"], 1500)
	status, nodes := m.call("POST", "/api/outlines/nodes", object{"line": found["line"]})
	require.Equal(t, 200, status)
	assert.InDelta(t, 300, nodes["length"], 3)
	assert.InDelta(t, 180, nodes["width"], 3)
	assert.NotEmpty(t, nodes["nodes"])

	ask["hand"] = true
	status, found = m.call("POST", path, ask)
	require.Equal(t, 200, status)
	assert.InDelta(t, 300, found["length"], 3)
	status, _ = s.other().call("POST", path, ask)
	assert.Equal(t, 404, status, "a stranger's picture")
	ask["distance"] = 2
	status, problem := m.call("POST", path, ask)
	assert.Equal(t, 422, status)
	assert.Equal(t, "body.distance", at(problem, "errors", 0, "location"))
	ask["distance"], ask["marks"] = 300, []object{{"x": 100, "y": 150}, {"x": 101, "y": 150}}
	status, problem = m.call("POST", path, ask)
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["detail"], "two marks")
	status, _ = m.call(
		"POST",
		"/api/outlines/nodes",
		object{"line": []object{{"x": 0, "y": 0}, {"x": 9, "y": 9}, {"x": 9, "y": 0}, {"x": 0, "y": 9}}},
	)
	assert.Equal(t, 422, status, "it crosses itself")
}

func TestSamplePictureGivesAnOutline(t *testing.T) {
	m := newSite(t).sample()
	status, sample := m.call("POST", "/api/pictures/sample", object{"seed": 5})
	require.Equal(t, 200, status)
	status, found := m.call(
		"POST",
		"/api/pictures/"+id(sample["picture"].(object))+"/find",
		object{
			"corners":   sample["corners"],
			"sheet":     object{"width": 297, "height": 210},
			"thickness": 34,
			"tolerance": 1,
			"under":     true,
		},
	)
	require.Equal(t, 200, status)
	assert.InDelta(t, 600, found["length"], 4)
	assert.Less(t, found["error"], 1.0)
	assert.Less(t, len(found["line"].([]any)), len(found["dense"].([]any)))
	ground := found["ground"].(object)
	status, _, _ = m.raw("GET", "/api/pictures/"+ground["picture"].(string), nil)
	assert.Equal(t, 200, status)
}

func TestRackFiles(t *testing.T) {
	m := newSite(t).sample()
	for path, kind := range map[string]string{"/api/rack.csv": "text/csv",
		"/api/rack.xlsx": "application/vnd.openxmlformats", "/api/rack/labels.pdf": "application/pdf",
		"/api/rack/labels.pdf?q=pear": "application/pdf"} {
		status, header, data := m.raw("GET", path, nil)
		assert.Equal(t, 200, status, path)
		assert.True(t, strings.HasPrefix(header.Get("Content-Type"), kind), path)
		assert.NotEmpty(t, data)
	}
	status, _ := m.call("GET", "/api/rack/labels.pdf?q=nothing", nil)
	assert.Equal(t, 422, status)

	_, _, csv := m.raw("GET", "/api/rack.csv", nil)
	_, _, data := m.raw("POST", "/api/rack/read", csv)
	var table struct{ Good, Bad []object }
	require.NoError(t, json.Unmarshal(data, &table))
	assert.Len(t, table.Good, 12, "what goes out comes in")
	good := table.Good[0]["slab"]
	bad := object{}
	for k, v := range table.Good[1]["slab"].(object) {
		bad[k] = v
	}
	bad["length"] = 3
	status, problem := m.call("POST", "/api/rack", object{"slabs": []any{good, bad}})
	assert.Equal(t, 422, status)
	assert.Equal(t, "slabs[1].length", problem["errors"].([]any)[0].(object)["location"])
	_, list := m.call("GET", "/api/pieces", nil)
	assert.EqualValues(t, 12, list["total"], "nothing half-imported")
	status, _ = m.call("POST", "/api/rack", object{"slabs": []any{good}})
	assert.Equal(t, 200, status)
}

func TestInstrumentsPushAndStream(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	_, meter := m.call(
		"POST",
		"/api/instruments",
		object{"name": "bench meter", "kind": "moisture meter", "simulated": false},
	)
	key := meter["key"].(string)
	require.NotEmpty(t, key)

	ctx, stop := context.WithTimeout(context.Background(), time.Minute)
	defer stop()
	stream := func(who *maker) *bufio.Scanner {
		req, err := http.NewRequestWithContext(ctx, "GET", s.url+"/api/news", nil)
		require.NoError(t, err)
		res, err := who.Do(req)
		require.NoError(t, err)
		t.Cleanup(func() { res.Body.Close() })
		require.Equal(t, 200, res.StatusCode)
		lines := bufio.NewScanner(res.Body)
		for lines.Scan() && !strings.HasPrefix(lines.Text(), "event: open") {
		}
		return lines
	}
	mine := stream(m)
	push := func(key, body string) int {
		req, err := http.NewRequest("POST", s.url+"/api/readings", strings.NewReader(body))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Authorization", "Bearer "+key)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		return res.StatusCode
	}
	assert.Equal(t, 401, push("made up", `{"percent": 9}`))
	assert.Equal(t, 422, push(key, `{"percent": 900}`))
	assert.Equal(t, 422, push(key, `{"temperature": 20, "humidity": 50}`), "a meter sends percent")
	assert.Equal(t, 422, push(key, `{"percent": 4, "below": true}`))
	assert.Equal(t, 204, push(key, `{"percent": 9.4}`))
	assert.Equal(t, 204, push(key, `{"below": true}`))
	var got []object
	for len(got) < 2 && mine.Scan() {
		if line, ok := strings.CutPrefix(mine.Text(), "data: "); ok {
			var r object
			require.NoError(t, json.Unmarshal([]byte(line), &r))
			if r["name"] != nil {
				got = append(got, r)
			}
		}
	}
	require.Len(t, got, 2)
	assert.EqualValues(t, 9.4, got[0]["percent"])
	assert.Equal(t, true, got[1]["below"])

	// Another workshop hears its own only.
	_, theirs := o.call("POST", "/api/instruments", object{"name": "theirs", "kind": "room sensor", "simulated": true})
	hears := stream(o)
	assert.Equal(t, 204, push(key, `{"percent": 8}`))
	status, _ := o.call("POST", "/api/instruments/"+id(theirs)+"/press", object{})
	assert.Equal(t, 204, status)
	for hears.Scan() {
		if line, ok := strings.CutPrefix(hears.Text(), "data: "); ok && strings.Contains(line, "name") {
			assert.Contains(t, line, "theirs")
			break
		}
	}
	status, _ = m.call("DELETE", "/api/instruments/"+id(meter), nil)
	assert.Equal(t, 204, status)
	assert.Equal(t, 401, push(key, `{"percent": 9}`), "its key opens nothing any more")
}

func TestASpeciesInUseStays(t *testing.T) {
	m := newSite(t).sample()
	_, doc := m.call("GET", "/api/shop", nil)
	shop := doc["shop"].(object)
	own := object{
		"name":         "Bog oak",
		"botanical":    "Quercus",
		"group":        "hardwood",
		"density":      800,
		"janka":        7000,
		"mor":          100,
		"tensionPerp":  5,
		"tensionGuess": true,
		"cr":           0.0016,
		"ct":           0.003,
		"pores":        "ring",
		"food":         "suitable",
		"light":        "#554433",
		"dark":         "#332211",
		"dust":         "irritant",
		"colourChange": "",
		"note":         "",
	}
	shop["species"] = []any{own}
	status, doc := m.call("PUT", "/api/shop", object{"version": doc["version"], "shop": shop})
	require.Equal(t, 200, status)
	p := m.piece("Pear")
	slab := p["slab"].(object)
	slab["species"] = "Bog oak"
	status, _ = m.call("PUT", "/api/pieces/"+id(p), object{"version": p["version"], "slab": slab})
	require.Equal(t, 200, status)
	shop["species"] = []any{}
	status, problem := m.call("PUT", "/api/shop", object{"version": doc["version"], "shop": shop})
	assert.Equal(t, 422, status)
	assert.Contains(t, problem["errors"].([]any)[0].(object)["message"], "is on the rack")
}

// The budget of one page of a rack of 10 000 pieces is 50 ms at p95, searched,
// narrowed and sorted or not.
func BenchmarkRackOf10000Pieces(b *testing.B) {
	s := newSite(b)
	m := s.sample()
	_, err := s.store.DB.Exec(
		`INSERT INTO pieces (workshop_id, name, species, doc, created_at, stock, length, thickness, cents, moisture,
			ready)
		SELECT workshop_id, name || n, species, doc, created_at + n * interval '1 second', stock, length + n % 500,
			thickness, cents + n, moisture, ready FROM pieces, generate_series(1, 2000) n`,
	)
	require.NoError(b, err)
	_, err = s.store.DB.Exec(`ANALYZE`)
	require.NoError(b, err)
	queries := []string{
		"?page=3",
		"?q=plane&page=40",
		"?sort=longest&page=100",
		"?ready=ready&thickFrom=30&sort=name",
		"?species=Pear&sort=dearest&page=9",
	}
	took := []time.Duration{}
	n := 0
	for b.Loop() {
		begin := time.Now()
		status, _, _ := m.raw("GET", "/api/pieces"+queries[n%len(queries)], nil)
		took = append(took, time.Since(begin))
		n++
		if status != 200 {
			b.Fatal(status)
		}
	}
	p95(b, took)
}
