package server

import (
	"bytes"
	"context"
	"maps"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/klauspost/compress/gzhttp"
	"github.com/klauspost/compress/gzip"
)

// Times of an answer: how long the server works at one, and how long a client may
// take to send a request's body or to read the answer.
const (
	workTime   = 25 * time.Second
	readTime   = 60 * time.Second
	usualWrite = 30 * time.Second
)

// mostHeld bounds the bytes of all answers that are being read by their clients.
const mostHeld = 256 << 20

// answers makes each answer before it is sent: whatever breaks off becomes one
// whole problem document, and what a slow client holds is the answer, compressed,
// and nothing else. Event streams pass as they come.
type answers struct {
	next      http.Handler
	server    *Server
	writeTime time.Duration
}

func newAnswers(next http.Handler, s *Server) (*answers, error) {
	squeeze, err := gzhttp.NewWrapper(
		gzhttp.CompressionLevel(gzip.BestSpeed),
		gzhttp.ContentTypes([]string{"application/json", "application/problem+json",
			"text/csv", "image/svg+xml", "image/vnd.dxf"}),
	)
	if err != nil {
		return nil, err
	}
	return &answers{squeeze(next), s, usualWrite}, nil
}

// ServeHTTP answers one request.
func (a *answers) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	control := http.NewResponseController(w)
	control.SetReadDeadline(time.Now().Add(readTime)) // not every writer has deadlines
	if !wantsStream(r) {                              // which lasts until its page is gone
		ctx, cancel := context.WithTimeout(r.Context(), workTime)
		defer cancel()
		r = r.WithContext(ctx)
	}
	out := &whole{ResponseWriter: w, control: control, header: w.Header().Clone()}
	a.make(out, r)
	if out.streaming {
		return
	}
	size := int64(out.body.Len())
	held := &a.server.held
	defer held.Add(-size)
	if held.Add(size) > mostHeld {
		out.reset()
		a.server.problem(out, http.StatusServiceUnavailable, "too many answers are being read; try again in a moment")
	}
	out.send(a.writeTime)
}

// make makes an answer; one that breaks off becomes a problem.
func (a *answers) make(out *whole, r *http.Request) {
	defer func() {
		if err := recover(); err != nil && !out.streaming {
			out.reset()
			a.server.broken(out, r, err)
		}
	}()
	a.next.ServeHTTP(out, r)
}

func wantsStream(r *http.Request) bool {
	return strings.Contains(r.Header.Get("Accept"), "text/event-stream")
}

// whole holds an answer until it is made.
type whole struct {
	http.ResponseWriter
	control   *http.ResponseController
	header    http.Header // as it was before the answer was begun
	status    int
	body      bytes.Buffer
	streaming bool
}

// reset forgets what was answered.
func (w *whole) reset() {
	clear(w.Header())
	maps.Copy(w.Header(), w.header)
	w.status = 0
	w.body.Reset()
}

// WriteHeader notes the status of the answer.
func (w *whole) WriteHeader(status int) {
	if w.status != 0 {
		return
	}
	w.status = status
	if strings.HasPrefix(w.Header().Get("Content-Type"), "text/event-stream") {
		w.streaming = true
		w.control.SetReadDeadline(time.Time{})
		w.ResponseWriter.WriteHeader(status)
	}
}

// Write takes a part of the answer.
func (w *whole) Write(data []byte) (int, error) {
	if w.status == 0 {
		w.WriteHeader(http.StatusOK)
	}
	if w.streaming {
		return w.ResponseWriter.Write(data)
	}
	return w.body.Write(data)
}

// Flush sends what a stream has told; other answers are sent as a whole.
func (w *whole) Flush() {
	if w.streaming {
		w.control.Flush()
	}
}

// Unwrap is the writer that has the deadlines.
func (w *whole) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// send writes the answer out, within the time that a client has to read it.
func (w *whole) send(within time.Duration) {
	w.control.SetWriteDeadline(time.Now().Add(within))
	if w.status == 0 {
		w.status = http.StatusOK
	}
	if w.status != http.StatusNoContent && w.status != http.StatusNotModified {
		w.Header().Set("Content-Length", strconv.Itoa(w.body.Len()))
	}
	w.ResponseWriter.WriteHeader(w.status)
	w.ResponseWriter.Write(w.body.Bytes()) // a client that is gone has nobody to tell
}
