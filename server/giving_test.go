package server_test

import (
	"bytes"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"image/png"
	"maps"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// listed is an answer that is a list.
func (m *maker) listed(path string) (out []object) {
	m.t.Helper()
	status, _, answer := m.raw("GET", path, nil)
	require.Equal(m.t, 200, status, "%s", answer)
	require.NoError(m.t, json.Unmarshal(answer, &out))
	return out
}

// named is the id of the sample's board of a name.
func (m *maker) named(name string) string {
	m.t.Helper()
	_, found := m.call("GET", "/api/boards?q="+strings.ReplaceAll(name, " ", "%20"), nil)
	items := found["items"].([]any)
	require.NotEmpty(m.t, items, name)
	return id(items[0].(object))
}

// Whoever is on the list of an occasion has a board for it or none yet; days come back; nobody else sees them.
func TestPeopleAndOccasions(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	_, all := m.call("GET", "/api/occasions", nil)
	supper := all["items"].([]any)[0].(object)
	none := []string{}
	for _, g := range supper["guests"].([]any) {
		if len(g.(object)["boards"].([]any)) == 0 {
			none = append(none, g.(object)["name"].(string))
		}
	}
	assert.Equal(t, []string{"the bee watcher", "the ladder holder", "the press keeper"}, none)
	assert.Equal(t, 3.0, supper["none"])

	// A board for one of them takes them off, by their id or by their name.
	_, found := m.call("GET", "/api/people?q=ladder", nil)
	ladder := found["items"].([]any)[0].(object)
	sheet := m.firstBoard()
	b := sheet["board"].(object)
	b["give"].(object)["for"], b["give"].(object)["due"] = "The Ladder Holder", supper["next"]
	status, saved := m.call("PUT", "/api/boards/"+id(b), object{"version": sheet["version"], "board": b})
	require.Equal(t, 200, status, "%v", saved)
	_, after := m.call("GET", "/api/occasions/"+id(supper), nil)
	assert.Equal(t, 2.0, after["none"])
	_, person := m.call("GET", "/api/people/"+id(ladder), nil)
	assert.Len(t, person["boards"], 1)
	assert.Equal(t, "the first ladder", person["next"].(object)["name"])
	assert.NotEmpty(t, m.listed("/api/days"))

	// Two at once: the later one is asked; nothing is lost.
	p := person["person"].(object)
	p["likes"] = "Bread"
	status, _ = m.call("PUT", "/api/people/"+id(ladder), object{"version": person["version"], "person": p})
	assert.Equal(t, 200, status)
	status, stale := m.call("PUT", "/api/people/"+id(ladder), object{"version": person["version"], "person": p})
	assert.Equal(t, 409, status)
	assert.Equal(t, "Bread", stale["stored"].(object)["likes"])

	for _, try := range []struct {
		path, field string
		body        object
	}{
		{"/api/people", "body.name", object{"name": " "}},
		{"/api/people", "body.days[0].day", object{"name": "A", "days": []object{{"name": "x", "day": "13-40"}}}},
		{"/api/occasions", "body.day", object{"name": "A", "day": "soon", "people": []string{}}},
		{
			"/api/occasions", "body.people[0]",
			object{"name": "A", "day": "2031-06-21", "people": []string{"00000000-0000-0000-0000-000000000000"}},
		},
	} {
		status, wrong := m.call("POST", try.path, try.body)
		assert.Equal(t, 422, status, try.path)
		assert.Contains(t, fmt.Sprint(wrong["errors"]), try.field)
	}
	for _, path := range []string{"/api/people/" + id(ladder), "/api/occasions/" + id(supper)} {
		status, _ := o.call("GET", path, nil)
		assert.Equal(t, 404, status)
		status, _ = o.call("DELETE", path, nil)
		assert.Equal(t, 404, status)
		status, _ = m.call("DELETE", path, nil)
		assert.Equal(t, 204, status)
		status, _ = m.call("POST", path+"/restore", nil)
		assert.Equal(t, 204, status)
	}
	_, theirs := o.call("GET", "/api/people", nil)
	assert.Equal(t, 0.0, theirs["total"])
}

// codes reads every QR code of a PDF as its pages are printed.
func codes(t *testing.T, pdf []byte) (out []string) {
	dir := t.TempDir()
	file := filepath.Join(dir, "card.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	read := map[string]string{}                                 // by page
	for _, dots := range []string{"200", "300", "240", "150"} { // a phone is held nearer or farther, too
		require.NoError(t, exec.Command("pdftoppm", "-r", dots, "-png", file, filepath.Join(dir, "page")).Run())
		pages, err := filepath.Glob(filepath.Join(dir, "page*.png"))
		require.NoError(t, err)
		for _, p := range pages {
			if read[p] == "" {
				read[p] = codeOn(t, p)
			}
		}
		if len(read) == 1 && slices.Collect(maps.Values(read))[0] != "" {
			break
		}
	}
	for _, p := range slices.Sorted(maps.Keys(read)) {
		if read[p] != "" {
			out = append(out, read[p])
		}
	}
	return out
}

// codeOn reads the code on the picture of a page; empty where none is found.
func codeOn(t *testing.T, file string) string {
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	bitmap, err := gozxing.NewBinaryBitmapFromImage(img)
	require.NoError(t, err)
	read, err := qrcode.NewQRCodeReader().Decode(bitmap, map[gozxing.DecodeHintType]any{
		gozxing.DecodeHintType_TRY_HARDER: true,
	})
	if err != nil {
		return ""
	}
	return read.GetText()
}

// The code on a printed card leads to its care page: without a cookie, a script or a name, until it is taken away.
func TestTheCodeOnACardLeadsToItsCarePage(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	board := m.named("Wasp catcher")
	_, none := m.call("GET", "/api/boards/"+board+"/care", nil)
	assert.Equal(t, "", none["path"], "it has none until its card is made")
	for _, kind := range []string{"card", "cards", "tag", "tags", "listing"} {
		status, head, pdf := m.raw("GET", "/api/boards/"+board+"/card.pdf?kind="+kind, nil)
		require.Equal(t, 200, status, "%s", pdf)
		assert.Equal(t, "application/pdf", head.Get("Content-Type"))
		_, care := m.call("GET", "/api/boards/"+board+"/care", nil)
		assert.Equal(t, []string{m.url + care["path"].(string)}, codes(t, pdf), kind)
	}
	status, _, plain := m.raw("GET", "/api/boards/"+board+"/card.pdf?plain=true", nil)
	require.Equal(t, 200, status)
	assert.Empty(t, codes(t, plain))
	status, _, picture := m.raw("GET", "/api/boards/"+board+"/card.png?kind=tag", nil)
	require.Equal(t, 200, status)
	_, err := png.Decode(bytes.NewReader(picture))
	require.NoError(t, err)

	_, care := m.call("GET", "/api/boards/"+board+"/care", nil)
	v := s.visitor()
	status, head, page := v.raw("GET", care["path"].(string), nil)
	require.Equal(t, 200, status)
	text := string(page)
	assert.LessOrEqual(t, len(page), 30_000)
	assert.Empty(t, head.Values("Set-Cookie"))
	assert.Contains(t, head.Get("Content-Security-Policy"), "default-src 'none'")
	assert.Equal(t, "no-referrer", head.Get("Referrer-Policy"))
	assert.Contains(t, head.Get("X-Robots-Tag"), "noindex")
	assert.Contains(t, text, "Pear")
	assert.Contains(t, text, "Furry")
	for _, kept := range []string{"<script", "wasp catcher", "Wasp catcher", "Riverside", "http:", "{", "drawer"} {
		assert.NotContains(t, strings.Split(text, "</style>")[1], kept, "it shows nothing else of the workshop")
	}
	status, head, file := v.raw("GET", care["path"].(string)+"/oiling.ics", nil)
	assert.Equal(t, 200, status)
	assert.Contains(t, head.Get("Content-Type"), "text/calendar")
	assert.Contains(t, string(file), "BEGIN:VEVENT")

	// With names when its maker says so; renewed, the old address leads nowhere; taken away, none does.
	_, sheet := m.call("GET", "/api/boards/"+board, nil)
	b := sheet["board"].(object)
	b["give"].(object)["card"] = object{"public": true, "out": []string{"meat"}}
	status, saved := m.call("PUT", "/api/boards/"+board, object{"version": sheet["version"], "board": b})
	require.Equal(t, 200, status, "%v", saved)
	_, _, page = v.raw("GET", care["path"].(string), nil)
	assert.Contains(t, string(page), "the wasp catcher")
	assert.NotContains(t, string(page), "raw chicken")
	status, _ = o.call("POST", "/api/boards/"+board+"/care", object{"on": true})
	assert.Equal(t, 404, status)
	_, renewed := m.call("POST", "/api/boards/"+board+"/care", object{"on": true})
	assert.NotEqual(t, care["path"], renewed["path"])
	for path, want := range map[string]int{care["path"].(string): 404, renewed["path"].(string): 200} {
		status, _, _ := v.raw("GET", path, nil)
		assert.Equal(t, want, status)
	}
	_, _ = m.call("POST", "/api/boards/"+board+"/care", object{"on": false})
	status, _, _ = v.raw("GET", renewed["path"].(string), nil)
	assert.Equal(t, 404, status)
}

// Ten thousand guessed links find nothing, and are slowed.
func TestGuessedLinksFindNothing(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	_, care := m.call("POST", "/api/boards/"+m.named("Wasp catcher")+"/care", object{"on": true})
	v := s.visitor()
	slowed := 0
	for range 10_000 {
		status, head, _ := v.raw("GET", "/care/"+rand.Text(), nil)
		require.Contains(t, []int{http.StatusNotFound, http.StatusTooManyRequests}, status)
		if status == http.StatusTooManyRequests {
			slowed++
			require.NotEmpty(t, head.Get("Retry-After"))
		}
	}
	assert.GreaterOrEqual(t, slowed, 9_900)
	status, _, _ := v.raw("GET", care["path"].(string), nil)
	assert.Equal(t, http.StatusTooManyRequests, status, "also the right one, from where it was guessed")
}

// A board that came back has a plan of its own, takes what it takes once more, and goes out again.
func TestABoardComesBack(t *testing.T) {
	s := newSite(t)
	m := s.sample()
	board := m.named("Pruner")
	triage := m.listed("/api/boards/" + board + "/triage")
	assert.Len(t, triage, 12)
	for _, x := range triage {
		assert.Positive(t, x["minutes"], x["key"])
		assert.NotNil(t, x["ready"], x["key"])
		assert.GreaterOrEqual(t, x["price"], x["cost"], x["key"])
		assert.NotEmpty(t, x["owner"], x["key"])
	}
	_, list := m.call("GET", "/api/aftercare", nil)
	require.Equal(t, 2.0, list["total"], "one of three is back already")
	status, wrong := m.call("POST", "/api/boards/"+board+"/return", object{"sign": "haunted"})
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(wrong["errors"]), "body.sign")

	// What sanding it took was taken when it was made; it is taken again.
	product := object{"name": "Everything", "kind": "packing", "item": "card", "unit": "pieces", "count": 100,
		"counted": now.AddDate(-1, 0, 0), "pack": 10, "cents": 100, "days": 1}
	_, shelf := m.call("GET", "/api/shelf?kind=packing", nil)
	for _, p := range shelf["items"].([]any) {
		m.call("DELETE", "/api/shelf/"+id(p.(object)), nil)
	}
	_, made := m.call("POST", "/api/shelf", product)
	left := func() float64 {
		_, p := m.call("GET", "/api/shelf/"+id(made), nil)
		return p["stands"].(object)["left"].(float64)
	}
	before := left()
	due := now.AddDate(0, 0, 40).Format(time.DateOnly)
	m.key = uuid.NewString()
	for range 2 { // a phone that lost the answer sends it again
		status, _ = m.call("POST", "/api/boards/"+board+"/return", object{"sign": "dishwasher", "due": due})
		require.Equal(t, 204, status)
	}
	m.key = ""
	_, sheet := m.call("GET", "/api/boards/"+board, nil)
	assert.Equal(t, false, sheet["given"])
	r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
	course := r["course"].(object)
	steps := []string{}
	for _, x := range course["steps"].([]any) {
		steps = append(steps, x.(object)["key"].(string))
		assert.Equal(t, "to do", x.(object)["state"], x.(object)["key"])
	}
	assert.Equal(t, []string{"again-look", "again-rest", "again-flat", "sand-120"}, steps[:4])
	assert.Equal(t, "note", steps[len(steps)-1])
	assert.NotContains(t, steps, "outline")
	finish, err := time.Parse(time.RFC3339, course["finish"].(string))
	require.NoError(t, err)
	assert.Greater(t, finish.Sub(now), 7*24*time.Hour, "it dries for a week first")
	_, planned := m.call("GET", "/api/plan", nil)
	assert.Contains(t, fmt.Sprint(planned["courses"]), board)
	for i, key := range steps {
		status, got := m.call(
			"POST",
			"/api/boards/"+board+"/press",
			object{"step": key, "event": "finish", "minutes": 1 + i},
		)
		require.Equal(t, 200, status, "%v", got)
	}
	assert.Equal(t, before-1, left(), "its second card")
	status, _ = m.call("POST", "/api/boards/"+board+"/given", object{"given": true})
	require.Equal(t, 204, status)
	_, list = m.call("GET", "/api/aftercare", nil)
	assert.Equal(t, 2.0, list["total"])
	_, _, calendar := m.raw("GET", "/api/plan.ics", nil)
	assert.Contains(t, string(calendar), "To be oiled: Pruner's board")
	status, _ = m.call("POST", "/api/boards/"+board+"/oiled", object{"day": now.Format(time.DateOnly)})
	assert.Equal(t, 204, status)
	_, list = m.call("GET", "/api/aftercare", nil)
	for _, x := range list["items"].([]any) {
		if id(x.(object)) == board {
			assert.Equal(t, now.AddDate(0, 0, 42).Format(time.DateOnly), x.(object)["next"])
		}
	}
}

// The code on a label of the rack or the shelf leads to what it is stuck on, at the address that printed it.
func TestCodesOnLabels(t *testing.T) {
	m := newSite(t).sample()
	_, rack := m.call("GET", "/api/pieces", nil)
	piece := id(rack["items"].([]any)[0].(object))
	_, _, label := m.raw("GET", "/api/rack/labels.pdf?piece="+piece, nil)
	assert.Equal(t, []string{m.url + "/timber/" + piece}, codes(t, label))
	_, shelf := m.call("GET", "/api/shelf?q=Orchard%20paste", nil)
	_, _, tin := m.raw("GET", "/api/shelf/"+id(shelf["items"].([]any)[0].(object))+"/label.pdf?count=1", nil)
	assert.Equal(t, []string{m.url + "/shelf?q=Orchard+paste%2C+3+to+1"}, codes(t, tin))
}
