package server_test

import (
	"bufio"
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// follow reads the news of a workshop at a process, event by event, until the stream ends.
func (m *maker) follow() <-chan string {
	m.t.Helper()
	req, err := http.NewRequest("GET", m.url+"/api/news", nil)
	require.NoError(m.t, err)
	req.Header.Set("Accept", "text/event-stream")
	res, err := m.Do(req)
	require.NoError(m.t, err)
	require.Equal(m.t, http.StatusOK, res.StatusCode)
	heard := make(chan string, 100)
	go func() {
		defer close(heard)
		defer res.Body.Close()
		event := ""
		for lines := bufio.NewScanner(res.Body); lines.Scan(); {
			if name, ok := strings.CutPrefix(lines.Text(), "event: "); ok {
				event = name
			}
			if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
				heard <- event + " " + data
			}
		}
	}()
	require.Equal(m.t, "open {}", <-heard)
	return heard
}

// next is the next news that begins so.
func next(t *testing.T, heard <-chan string, with string) string {
	t.Helper()
	for {
		select {
		case text, ok := <-heard:
			require.True(t, ok, "the stream ended")
			if strings.HasPrefix(text, with) {
				return text
			}
		case <-time.After(time.Minute):
			require.Fail(t, "nothing was heard", with)
		}
	}
}

// Pages hear at one process what was read and changed at another, and nothing of other workshops.
func TestNewsGoFromProcessToProcess(t *testing.T) {
	s := newSite(t)
	other := s.beside(workless)
	m := s.sample()
	here, there := m.follow(), m.at(other).follow()
	stranger := s.signUp("s@s.example").at(other).follow()

	var scale object
	for _, i := range m.listed("/api/instruments") {
		if i["kind"] == "scale" {
			scale = i
		}
	}
	status, _ := m.call("POST", "/api/instruments/"+id(scale)+"/press", object{})
	require.Equal(t, 204, status)
	for _, heard := range []<-chan string{here, there} {
		var r object
		require.NoError(t, json.Unmarshal([]byte(strings.TrimPrefix(next(t, heard, "reading"), "reading ")), &r))
		assert.Equal(t, scale["id"], r["instrument"])
	}

	req, err := http.NewRequest("POST", other.url+"/api/people", strings.NewReader(`{"name":"Ulla"}`))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Page", "the phone")
	res, err := m.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	require.Equal(t, 200, res.StatusCode)
	for _, heard := range []<-chan string{here, there} {
		assert.Equal(t, `changed {"by":"the phone"}`, next(t, heard, "changed"))
	}
	assert.Empty(t, stranger)

	// A sign-in that ends at one process ends its streams at the other.
	status, _ = m.call("POST", "/api/sign-out", nil)
	require.Less(t, status, 300)
	for _, heard := range []<-chan string{here, there} {
		require.Eventually(t, func() bool {
			select {
			case _, open := <-heard:
				return !open
			default:
				return false
			}
		}, time.Minute, 10*time.Millisecond)
	}
}

// A page that follows a process which ends goes on at another; whoever was out of reach of the database is told that
// something may have been missed.
func TestNewsAreMissed(t *testing.T) {
	s, line := newSiteThrough(t)
	m := s.sample()
	heard := m.follow()
	line.cut()
	line.mend()
	assert.Equal(t, `changed {"by":""}`, next(t, heard, "changed"))
	elsewhere := s.beside(workless)
	s.end()
	for range heard { // until it ends
	}
	again := m.at(elsewhere).follow()
	m.at(elsewhere).call("POST", "/api/people", object{"name": "Ulla"})
	next(t, again, "changed")
}
