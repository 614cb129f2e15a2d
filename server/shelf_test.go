package server_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// stepWithUses is a step of a sample board that is to do and takes something that the sample's shelf has none of.
func stepWithUses(m *maker) (board, step string, use object) {
	m.t.Helper()
	_, list := m.call("GET", "/api/boards", nil)
	for _, l := range list["items"].([]any) {
		_, sheet := m.call("GET", "/api/boards/"+id(l.(object)), nil)
		r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
		for _, u := range r["uses"].([]any) {
			for _, d := range r["course"].(object)["steps"].([]any) {
				if d.(object)["key"] == u.(object)["step"] && d.(object)["state"] == "to do" &&
					u.(object)["item"] == "discs P60" {
					return id(l.(object)), d.(object)["key"].(string), u.(object)
				}
			}
		}
	}
	require.FailNow(m.t, "nothing takes anything")
	return "", "", nil
}

// What a step takes comes off the shelf when it is finished, once, and is there again when that is taken back.
func TestTheShelf(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	m.key = ""
	board, step, use := stepWithUses(m)
	counted := now.AddDate(0, 0, -1)
	product := object{"name": "The box beside the outer door", "kind": use["kind"], "item": use["item"],
		"unit": use["unit"], "count": 40, "counted": counted, "pack": 50, "cents": 1890, "days": 3}
	status, made := m.call("POST", "/api/shelf", product)
	require.Equal(t, 200, status, "%v", made)
	path := "/api/shelf/" + id(made)
	stands := func() object {
		_, got := m.call("GET", path, nil)
		return got["stands"].(object)
	}
	before := stands()
	assert.Equal(t, 40.0, before["left"])
	assert.Positive(t, before["reserved"])
	press := func(event string) {
		status, got := m.call("POST", "/api/boards/"+board+"/press", object{"step": step, "event": event, "minutes": 0})
		require.Equal(t, 200, status, "%v", got)
	}
	took := use["amount"].(float64)
	for range 2 {
		press("finish")
		assert.InDelta(t, 40-took, stands()["left"], 1e-9)
		assert.InDelta(t, before["reserved"].(float64)-took, stands()["reserved"], 1e-9)
		press("undo")
		assert.Equal(t, before, stands())
	}
	// Finished again, and counted since: the count stands.
	press("finish")
	product["counted"], product["count"] = now.AddDate(0, 0, 1), 7
	status, saved := m.call("PUT", path, object{"version": 1, "product": product})
	require.Equal(t, 200, status, "%v", saved)
	assert.Equal(t, 7.0, saved["stands"].(object)["left"])
	status, stale := m.call("PUT", path, object{"version": 1, "product": product})
	assert.Equal(t, 409, status)
	assert.NotNil(t, stale)

	// What is short is on the list with what it is for; what the shelf never had too.
	_, list := m.call("GET", "/api/shelf/shopping", nil)
	found := false
	for _, l := range list["lines"].([]any) {
		b := l.(object)
		assert.Positive(t, b["short"])
		assert.NotEmpty(t, b["for"])
		if b["item"] == use["item"] {
			found = true
			assert.Equal(t, id(made), b["id"])
			assert.InDelta(t, b["needs"].(float64)-7, b["short"], 1e-9)
			assert.Equal(t, 1.0, b["packs"])
			assert.Equal(t, 1890.0, b["cents"])
		} else {
			assert.Equal(t, b["product"] == -1.0, b["id"] == nil)
		}
	}
	assert.True(t, found, "%v", list)

	// Nobody else sees it; bad input is told by its field.
	for _, try := range []struct{ method, path string }{{"GET", path}, {"DELETE", path}, {"POST", path + "/restore"}} {
		status, _ := o.call(try.method, try.path, nil)
		assert.Equal(t, 404, status, try.method)
	}
	_, theirs := o.call("GET", "/api/shelf", nil)
	assert.Equal(t, 0.0, theirs["total"])
	product["unit"] = "pound"
	status, problem := m.call("POST", "/api/shelf", product)
	assert.Equal(t, 422, status)
	assert.Contains(t, fmt.Sprint(problem["errors"]), "unit")

	status, _ = m.call("DELETE", path, nil)
	assert.Equal(t, 204, status)
	_, all := m.call("GET", "/api/shelf?q=DOOR&kind=abrasive", nil)
	assert.Equal(t, 0.0, all["total"])
	status, _ = m.call("POST", path+"/restore", nil)
	assert.Equal(t, 204, status)
	_, all = m.call("GET", "/api/shelf?q=DOOR&kind=abrasive", nil)
	assert.Equal(t, 1.0, all["total"])
}

// The shelf goes out as a table with what is left of each product, and another workshop takes it in.
func TestTheShelfAsATable(t *testing.T) {
	s := newSite(t)
	m, o := s.sample(), s.other()
	_, mine := m.call("GET", "/api/shelf", nil)
	for _, extension := range []string{"csv", "xlsx"} {
		status, _, data := m.raw("GET", "/api/shelf."+extension, nil)
		require.Equal(t, 200, status)
		status, header, answer := o.raw("POST", "/api/shelf/read", data)
		require.Equal(t, 200, status, "%s %s", header, answer)
		var table struct {
			Good []struct{ Product object }
			Bad  []object
		}
		require.NoError(t, json.Unmarshal(answer, &table))
		assert.Empty(t, table.Bad)
		assert.EqualValues(t, mine["total"], len(table.Good))
		products := []object{}
		for _, r := range table.Good {
			products = append(products, r.Product)
		}
		status, got := o.call("POST", "/api/shelf/rows", object{"products": products})
		require.Equal(t, 204, status, "%v", got)
	}
	_, theirs := o.call("GET", "/api/shelf", nil)
	assert.Equal(t, 2*mine["total"].(float64), theirs["total"])
	status, _, _ := o.raw("POST", "/api/shelf/read", []byte("no,table"))
	assert.Equal(t, 422, status)
}

// What a board costs is its share of the wood, what its steps take at the shelf's price and its hours, added up the
// plain way; what is logged counts in place of the estimate, and a price for a customer is no less than the cost.
func TestWhatABoardCosts(t *testing.T) {
	m := newSite(t).sample()
	board, step, use := stepWithUses(m)
	price := func() object {
		status, got := m.call("GET", "/api/boards/"+board+"/price", nil)
		require.Equal(t, 200, status, "%v", got)
		return got
	}
	lines := func(p object) map[string]float64 {
		out := map[string]float64{}
		for _, l := range p["lines"].([]any) {
			out[l.(object)["key"].(string)] = l.(object)["value"].(float64)
		}
		return out
	}
	// Nothing has been bought yet of what one step takes: it is told, and costs nothing.
	before := price()
	assert.Equal(t, true, before["gift"])
	_, made := m.call("POST", "/api/shelf", object{"name": "Coarse", "kind": use["kind"], "item": use["item"],
		"unit": use["unit"], "count": 1, "counted": now, "pack": 10, "cents": 777, "days": 0})
	require.NotNil(t, made["id"])
	after := price()
	amount := 0.0
	_, sheet := m.call("GET", "/api/boards/"+board, nil)
	r := sheet["reckoning"].(object)["boards"].([]any)[0].(object)
	for _, u := range r["uses"].([]any) {
		if u.(object)["item"] == use["item"] {
			amount += u.(object)["amount"].(float64)
		}
	}
	was, is := lines(before), lines(after)
	assert.InDelta(t, math.Round(77.7*amount), is["money.supplies"]-was["money.supplies"], 0.5)

	minutes := 0.0
	for _, d := range r["course"].(object)["steps"].([]any) {
		s := d.(object)
		if s["state"] == "done" {
			minutes += s["spent"].(float64)
		} else {
			minutes += max(s["spent"].(float64), s["minutes"].(float64)-s["shared"].(float64))
		}
	}
	assert.InDelta(t, minutes/60*1800, is["money.work"], 0.51)
	for _, f := range r["figures"].([]any) {
		if f.(object)["key"] == "layout.price" {
			assert.InDelta(t, f.(object)["value"], is["money.wood"], 0.51)
		}
	}
	sum := is["money.wood"] + is["money.supplies"] + is["money.work"] + is["money.overhead"]
	assert.Equal(t, sum, after["cost"])
	assert.GreaterOrEqual(t, after["price"], after["cost"])

	// An hour that it took more is an hour's rate more.
	status, _ := m.call("POST", "/api/boards/"+board+"/press", object{"step": step, "event": "finish", "minutes": 100})
	require.Equal(t, 200, status)
	hour := lines(price())["money.work"]
	m.key = ""
	status, _ = m.call("POST", "/api/boards/"+board+"/press", object{"step": step, "event": "undo", "minutes": 0})
	require.Equal(t, 200, status)
	status, _ = m.call("POST", "/api/boards/"+board+"/press", object{"step": step, "event": "finish", "minutes": 160})
	require.Equal(t, 200, status)
	assert.InDelta(t, 1800, lines(price())["money.work"]-hour, 60, "but for what the log teaches")
}

// What the next step of each board takes is told at the bench, with what the shelf has of it.
func TestTheBenchLooksAtTheShelf(t *testing.T) {
	m := newSite(t).sample()
	_, bench := m.call("GET", "/api/bench", nil)
	told := 0
	for _, b := range bench["boards"].([]any) {
		takes, _ := b.(object)["takes"].([]any)
		open := ""
		for _, d := range b.(object)["course"].(object)["steps"].([]any) {
			if d.(object)["state"] != "done" {
				open = d.(object)["key"].(string)
				break
			}
		}
		for _, k := range takes {
			told++
			assert.Equal(t, open, k.(object)["step"])
			assert.Positive(t, k.(object)["amount"])
			_, shelf := m.call("GET", "/api/shelf?q="+url.QueryEscape(k.(object)["item"].(string)), nil)
			left := 0.0
			for _, p := range shelf["items"].([]any) {
				if p.(object)["product"].(object)["item"] == k.(object)["item"] {
					left += p.(object)["stands"].(object)["left"].(float64)
				}
			}
			assert.InDelta(t, left, k.(object)["left"], 1e-9)
		}
	}
	assert.Positive(t, told)
}

// The budget of one page of a shelf of 10 000 products is 50 ms at p95, with a thousand finished steps behind it.
func BenchmarkShelfOf10000(b *testing.B) {
	s := newSite(b)
	m := s.sample()
	_, err := s.store.DB.Exec(`INSERT INTO products (workshop_id, name, doc, created_at)
		SELECT workshop_id, name || n, jsonb_set(doc, '{item}', to_jsonb(item || n % 300)), created_at
		FROM products, generate_series(1, 10000) n WHERE item = 'oil'`)
	require.NoError(b, err)
	_, err = s.store.DB.Exec(`INSERT INTO log (workshop_id, subject_kind, subject_id, step, event, at, minutes, kind,
			title, usual, uses)
		SELECT workshop_id, 'board', id, 'coat-' || n, 'finish', now(), 5, 'coat', 'Coat', 5,
			jsonb_build_array(jsonb_build_object('kind', 'finish', 'item', 'oil' || n % 300, 'amount', 3, 'unit', 'g'))
		FROM (SELECT workshop_id, id FROM boards LIMIT 1) one, generate_series(1, 1000) n`)
	require.NoError(b, err)
	_, err = s.store.DB.Exec(`ANALYZE`)
	require.NoError(b, err)
	m.raw("GET", "/api/shelf", nil) // what is in work is reckoned once
	pages(b, m, "/api/shelf")
}

// pages reads page after page of a list.
func pages(b *testing.B, m *maker, path string) {
	took := []time.Duration{}
	for page := 0; b.Loop(); page++ {
		begin := time.Now()
		status, _, _ := m.raw("GET", fmt.Sprintf("%s?page=%d", path, page%400), nil)
		took = append(took, time.Since(begin))
		require.Equal(b, 200, status)
	}
	p95(b, took)
}

// People of whom each has three boards.
func BenchmarkPeopleOf10000(b *testing.B) {
	s := newSite(b)
	m := s.sample()
	_, err := s.store.DB.Exec(`INSERT INTO people (workshop_id, name, doc, created_at)
		SELECT workshop_id, name || n, jsonb_set(doc, '{name}', to_jsonb(name || n)), created_at
		FROM people, generate_series(1, 10000) n WHERE name = 'the pruner'`)
	require.NoError(b, err)
	_, err = s.store.DB.Exec(`INSERT INTO boards (workshop_id, piece_id, name, due, doc, created_at, given_at)
		SELECT workshop_id, piece_id, name || n, due, jsonb_set(doc, '{give,for}', to_jsonb('the pruner' || n % 10000)),
			created_at, now() FROM boards, generate_series(1, 30000) n WHERE name = 'Pruner''s board'`)
	require.NoError(b, err)
	_, err = s.store.DB.Exec(`ANALYZE`)
	require.NoError(b, err)
	pages(b, m, "/api/people")
}
