package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"reflect"
	"unicode/utf8"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"idletimber/craft"
	"idletimber/store"
)

// Conflict is the answer to a save that was made on an older version: both
// versions, so that the maker may keep either.
type Conflict[T any] struct {
	Status  int    `json:"status"`
	Title   string `json:"title"`
	Detail  string `json:"detail"`
	Yours   T      `json:"yours"`
	Stored  T      `json:"stored"`
	Version int    `json:"version" doc:"Of what is stored"`
}

func (c *Conflict[T]) Error() string { return c.Detail }

// GetStatus is the HTTP status.
func (c *Conflict[T]) GetStatus() int { return c.Status }

// ContentType is that of problem details (RFC 9457).
func (c *Conflict[T]) ContentType(string) string { return "application/problem+json" }

// Bounds of an answer to bad input, whatever was sent.
const (
	mostDetails = 20
	mostText    = 200 // letters of a place, a message or a value
)

// bounded is an error with so many details of so many letters. What is not a plain
// value is not repeated.
func bounded(status int, msg string, errs ...error) huma.StatusError {
	e := &huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: cut(msg)}
	for i, err := range errs {
		if i == mostDetails {
			e.Detail += fmt.Sprintf(" (and %d more)", len(errs)-mostDetails)
			break
		}
		e.Add(err)
	}
	for i, d := range e.Errors {
		short := huma.ErrorDetail{Location: cut(d.Location), Message: cut(d.Message)}
		switch v := d.Value.(type) {
		case string:
			short.Value = cut(v)
		case bool, float64, int:
			short.Value = v
		}
		e.Errors[i] = &short
	}
	return e
}

// cut shortens a text to what an answer repeats of it.
func cut(text string) string {
	if utf8.RuneCountInString(text) <= mostText {
		return text
	}
	return string([]rune(text)[:mostText-1]) + "…"
}

// secret marks an operation whose input is not repeated in an answer.
func secret(o *huma.Operation) { o.Metadata = map[string]any{"secret": true} }

// errGivenUp ends a reckoning that nobody waits for any more, or that took too long.
var errGivenUp = errors.New("given up")

// watching lets a reckoning go on as long as its request waits for it.
func watching(ctx context.Context) craft.Watch {
	return func() error {
		if ctx.Err() != nil {
			return errGivenUp
		}
		return nil
	}
}

// databaseAway is what a request is told that the database did not answer in time.
const databaseAway = "the database is away or busy; try again in a moment"

// whatWasStored says what became of a save whose answer fails, as far as is known.
func whatWasStored(ctx context.Context) string {
	save := store.SaveOf(ctx)
	switch {
	case save == nil:
		return ""
	case save.Outcome == store.Stored:
		return "; what you sent is stored"
	case save.Outcome == store.Unknown:
		return "; whether what you sent is stored is not known"
	}
	return "; nothing was stored"
}

// faults answers an unexpected error with a number only; what it was goes to
// the log. When the database is at fault, it says so.
func faults(ctx huma.Context, status int, msg string, errs ...error) huma.StatusError {
	if ctx == nil {
		return huma.NewError(status, msg, errs...)
	}
	if status < http.StatusInternalServerError {
		problem := huma.NewError(status, msg, errs...)
		if model, ok := problem.(*huma.ErrorModel); ok && ctx.Operation().Metadata["secret"] == true {
			for _, d := range model.Errors {
				d.Value = nil
			}
		}
		return problem
	}
	c := humagin.Unwrap(ctx)
	err := errors.Join(errs...)
	if err != nil {
		c.Error(err)
	}
	stored := whatWasStored(ctx.Context())
	switch {
	case store.Full(err):
		return huma.NewError(http.StatusInsufficientStorage,
			"the disk of the database is full: make room on it"+stored)
	case store.Away(err):
		ctx.SetHeader("Retry-After", "2")
		return huma.NewError(http.StatusServiceUnavailable, databaseAway+stored)
	case status == http.StatusServiceUnavailable:
		return huma.NewError(status, msg)
	}
	return huma.NewError(status, fmt.Sprintf("something went wrong here%s. Give this number when you report it: %s",
		stored, c.Writer.Header().Get(requestID)))
}

// answer turns an error of the rules or the store into an answer that says
// what to do.
func answer(err error) error {
	var ps craft.Problems
	switch {
	case err == nil:
		return nil
	case errors.As(err, &ps):
		details := make([]error, len(ps))
		for i, p := range ps {
			details[i] = &huma.ErrorDetail{Location: p.Field, Message: p.Wrong + "; " + p.Right}
		}
		return huma.Error422UnprocessableEntity("this is not right yet", details...)
	case errors.Is(err, errGivenUp):
		return huma.Error503ServiceUnavailable("this took too long and was given up; ask for less, or try again")
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("there is no such thing in your workshop")
	case errors.Is(err, store.ErrIDTaken):
		return answer(craft.Problems{{Field: "body", Wrong: "a new board, or its twin, brings an id that is in use",
			Right: "give each new board an id of its own"}})
	case store.Unkeepable(err):
		return huma.Error422UnprocessableEntity(
			"a text holds a character that cannot be kept; take it out and try again",
		)
	case errors.Is(err, store.ErrInUse):
		return huma.Error409Conflict(
			"boards still to be made lie on this piece, strips of a panel are to be cut from it, or it was cut up " +
				"already; move its boards and panels to the offcut bin, or give them away, first",
		)
	case errors.Is(err, store.ErrCircular):
		return answer(craft.Problems{{Field: "slab.glue.strips", Wrong: "the panel would be made of itself",
			Right: "cut its strips from pieces that are not made of it"}})
	}
	return err
}

// conflict answers a stale save with both versions; other errors as they are.
func conflict[T any](err error, yours T) error {
	var stale *store.Stale[T]
	if errors.As(err, &stale) {
		return &Conflict[T]{
			Status:  http.StatusConflict,
			Title:   "Changed meanwhile",
			Detail:  "this was changed elsewhere since you opened it; keep yours or the stored one",
			Yours:   yours,
			Stored:  stale.Current,
			Version: stale.Version,
		}
	}
	return answer(err)
}

// mayConflict describes the answer to a stale save beside that of other errors.
func mayConflict[T any](api huma.API) func(*huma.Operation) {
	describe := func(description, content string, t reflect.Type) *huma.Response {
		schema := api.OpenAPI().Components.Schemas.Schema(t, true, "")
		return &huma.Response{Description: description, Content: map[string]*huma.MediaType{content: {Schema: schema}}}
	}
	return func(o *huma.Operation) {
		o.Responses = map[string]*huma.Response{
			"409":     describe("Changed meanwhile", "application/json", reflect.TypeFor[Conflict[T]]()),
			"default": describe("Error", "application/problem+json", reflect.TypeFor[huma.ErrorModel]()),
		}
	}
}
