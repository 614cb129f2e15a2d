package server

import (
	"errors"
	"net/http"
	"reflect"

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

// broken is what a request is told when the fault is ours.
func broken(id string) string {
	return "something went wrong here; nothing was stored. Give this number when you report it: " + id
}

// faults answers an unexpected error with a number only; what it was goes to
// the log.
func faults(ctx huma.Context, status int, msg string, errs ...error) huma.StatusError {
	if status < http.StatusInternalServerError || ctx == nil {
		return huma.NewError(status, msg, errs...)
	}
	c := humagin.Unwrap(ctx)
	for _, err := range errs {
		c.Error(err)
	}
	return huma.NewError(status, broken(c.GetString(requestID)))
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
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("there is no such thing in your workshop")
	case store.Unkeepable(err):
		return huma.Error422UnprocessableEntity(
			"a text holds a character that cannot be kept; take it out and try again",
		)
	case errors.Is(err, store.ErrInUse):
		return huma.Error409Conflict(
			"boards still to be made lie on this piece, or it was cut up already; move its boards to the offcut bin " +
				"or give them away first",
		)
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
