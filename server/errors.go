package server

import (
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

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
		return huma.Error422UnprocessableEntity("this cannot be reckoned with yet", details...)
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("there is no such thing in your workshop")
	}
	return err
}

// conflict answers a stale save with both versions; other errors as they are.
func conflict[T any](err error, yours T) error {
	var stale *store.Stale[T]
	if errors.As(err, &stale) {
		return &Conflict[T]{Status: http.StatusConflict, Title: "Changed meanwhile", Detail: "this was changed elsewhere since you opened it; keep yours or the stored one",
			Yours: yours, Stored: stale.Current, Version: stale.Version}
	}
	return answer(err)
}
