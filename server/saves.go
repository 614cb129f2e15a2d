package server

import (
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"idletimber/store"
)

// saveHeader names a request to store something, so that it may be asked again
// when its answer was lost: nothing is stored twice.
const saveHeader = "Idempotency-Key"

// saves marks requests that store something, so that their answers say what became
// of it.
func (s *Server) saves(ctx huma.Context, next func(huma.Context)) {
	if ctx.Method() == http.MethodGet {
		next(ctx)
		return
	}
	key := ctx.Header(saveHeader)
	if key != "" && uuid.Validate(key) != nil {
		huma.WriteErr(s.api, ctx, http.StatusUnprocessableEntity, "this save cannot be told from others",
			&huma.ErrorDetail{Location: "header." + saveHeader, Message: "it is no UUID; send one, new for each save"})
		return
	}
	save := &store.Save{Key: key, For: ctx.Method() + " " + ctx.URL().Path, By: cut(ctx.Header(pageHeader))}
	next(huma.WithContext(ctx, store.WithSave(ctx.Context(), save)))
}
