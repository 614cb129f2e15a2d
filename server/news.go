package server

import (
	"context"
	"encoding/json"
	"net/http"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"idletimber/store"
)

// readingNews is the kind of news that an instrument has sent a reading.
const readingNews = "reading"

// pageHeader names the page that asks, so that it is not told what it has done itself.
const pageHeader = "X-Page"

// newsRoutes are the stream by which a page follows what is read and what others change, at whichever process.
func (s *Server) newsRoutes(api huma.API) {
	sse.Register(
		api,
		huma.Operation{
			OperationID: "stream-news",
			Method:      http.MethodGet,
			Path:        "/api/news",
			Summary:     "Readings as they come, and that something has changed",
		},
		map[string]any{
			"reading": Reading{},
			"changed": store.Changed{},
			"open":    struct{}{},
			"alive":   Alive{},
		},
		func(ctx context.Context, _ *struct{}, send sse.Sender) {
			ctx, alive, over := s.stream(ctx)
			defer over()
			heard, shut := s.Store.Hear(store.AboutWorkshop(account(ctx).Workshop))
			defer shut()
			err := send.Data(struct{}{}) // the page then knows that it listens
			for err == nil {
				select {
				case n := <-heard:
					err = tellPage(n, send)
				case <-alive:
					err = send.Data(Alive{})
				case <-ctx.Done():
					return
				}
			}
		},
	)
}

// tellPage tells a page one piece of news. Where some may have been missed, all may have changed.
func tellPage(n store.News, send sse.Sender) error {
	switch n.Kind {
	case readingNews:
		var r Reading
		if err := json.Unmarshal(n.Body, &r); err != nil {
			return nil // of another version
		}
		return send.Data(r)
	case store.ChangedNews:
		var c store.Changed
		_ = json.Unmarshal(n.Body, &c) // by nobody known
		return send.Data(c)
	case store.Missed:
		return send.Data(store.Changed{})
	}
	return nil
}
