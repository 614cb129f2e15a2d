package server

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/giving"
	"idletimber/craft/measure"
	"idletimber/craft/reckon"
	"idletimber/formats"
	"idletimber/store"
)

// CareLink is the care page of a board.
type CareLink struct {
	Path string `json:"path" doc:"Of its address; empty where it has none"`
}

func (s *Server) givingRoutes(api huma.API) {
	huma.Get(api, "/api/boards/{id}/care", func(ctx context.Context, in *idIn) (*struct{ Body CareLink }, error) {
		c, err := s.Store.CareOf(ctx, account(ctx).Workshop, in.ID)
		return &struct{ Body CareLink }{careLink(c.Link)}, answer(err)
	})
	huma.Post(api, "/api/boards/{id}/care", s.setCareLink)
	huma.Get(api, "/api/boards/{id}/card.pdf", s.printCard, rawAnswer("application/pdf"))
	huma.Get(api, "/api/boards/{id}/card.png", s.drawCard, rawAnswer("image/png"))
	huma.Get(api, "/api/runs/{id}/cards.pdf", byErrand[cardIn](s, "run cards"), rawAnswer("application/pdf"))
	huma.Get(api, "/api/cards/lines", func(context.Context, *struct{}) (*struct{ Body []giving.Line }, error) {
		return &struct{ Body []giving.Line }{giving.Keys()}, nil
	})
}

func careLink(link string) CareLink {
	if link == "" {
		return CareLink{}
	}
	return CareLink{"/care/" + link}
}

// setCareLink gives a board a care page, which ends the one before, or takes it away.
func (s *Server) setCareLink(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		On bool `json:"on" doc:"False takes it away"`
	}
}) (*struct{ Body CareLink }, error) {
	c, err := s.Store.CareOf(ctx, account(ctx).Workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	c.Link = ""
	if in.Body.On {
		c.Link = rand.Text() // 128 bits and more: nobody guesses it
	}
	if err := s.Store.SetCare(ctx, c); err != nil {
		return nil, answer(err)
	}
	return &struct{ Body CareLink }{careLink(c.Link)}, nil
}

// linked is the care page of a board, made where it has none yet: its card names it.
func (s *Server) linked(ctx context.Context, workshop, id string) (store.Care, error) {
	c, err := s.Store.CareOf(ctx, workshop, id)
	if err != nil || c.Link != "" {
		return c, err
	}
	c.Link = rand.Text()
	return c, s.Store.SetCare(ctx, c)
}

type cardIn struct {
	ID    string `path:"id"`
	Kind  string `query:"kind" enum:"card,flat,cards,tag,tags,listing" doc:"What is printed"`
	Plain bool   `query:"plain" doc:"Without a care page, and without its code"`
}

func (s *Server) printCard(ctx context.Context, in *cardIn) (*file, error) {
	card, at, err := s.card(ctx, in.ID, in.Plain)
	if err != nil {
		return nil, err
	}
	kind := kindOf(in.Kind)
	data, err := formats.Cards(kind, at.Shop.Paper, []formats.GiftCard{card})
	return download("application/pdf", card.Title+" "+string(kind), "pdf", data), answer(err)
}

func (s *Server) drawCard(ctx context.Context, in *cardIn) (*file, error) {
	card, at, err := s.card(ctx, in.ID, in.Plain)
	if err != nil {
		return nil, err
	}
	data, err := formats.CardPNG(kindOf(in.Kind), at.Shop.Paper, card)
	return download("image/png", card.Title, "png", data), answer(err)
}

func kindOf(s string) formats.CardKind {
	if s == "" {
		return formats.FoldedCard
	}
	return formats.CardKind(s)
}

// printCards are the cards of all boards of a run.
func (s *Server) printCards(ctx context.Context, in *cardIn) (*file, error) {
	workshop := account(ctx).Workshop
	run, err := s.Store.Run(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.Store.BoardsOfRun(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	var cards []formats.GiftCard
	paper := ""
	for _, b := range boards {
		card, at, err := s.card(ctx, b.Board.ID, in.Plain)
		if err != nil {
			return nil, err
		}
		cards, paper = append(cards, card), at.Shop.Paper
	}
	if len(cards) == 0 {
		return nil, huma.Error422UnprocessableEntity("the run has no boards yet; lay some, or put some in")
	}
	data, err := formats.Cards(kindOf(in.Kind), paper, cards)
	return download("application/pdf", run.Run.Name+" cards", "pdf", data), answer(err)
}

// card is the card of a board of the workshop. Its care page is made with it, unless it is wanted plain.
func (s *Server) card(ctx context.Context, id string, plain bool) (formats.GiftCard, reckon.Scene, error) {
	workshop := account(ctx).Workshop
	b, j, of, err := s.reckoned(ctx, id, reckon.Request{})
	if err != nil {
		return formats.GiftCard{}, j, err
	}
	card := cardOf(b.Board, j, of)
	if !plain {
		c, err := s.linked(ctx, workshop, id)
		if err != nil {
			return card, j, answer(err)
		}
		card.Link = s.base(ctx) + careLink(c.Link).Path
	}
	if b.Board.Give.Whom == board.Customer {
		price, err := s.priceOf(ctx, workshop, j, b.Board, of)
		if err != nil {
			return card, j, answer(err)
		}
		card.Price = strings.TrimSpace(fmt.Sprintf("%d.%02d %s", price.Price.Price/100, price.Price.Price%100,
			j.Shop.Rates().Sign))
	}
	return card, j, nil
}

// cardOf is what a board's card tells; its board is the first of the scene.
func cardOf(b reckon.Board, j reckon.Scene, of reckon.Reckoning) formats.GiftCard {
	r := of.Boards[0]
	units := j.Shop.System()
	length := func(mm float64) string { return measure.Format(mm, units.Length) }
	card := formats.GiftCard{
		Title: b.Name, For: b.Give.For, By: j.Shop.Name, Lines: r.Gift.Lines, Path: r.Path, Holes: r.Holes,
		Size: fmt.Sprintf(
			"%s × %s × %s",
			length(r.Box[2]-r.Box[0]),
			length(r.Box[3]-r.Box[1]),
			length(r.Budget.Sanded),
		),
		Light: r.Oiled.Light, Dark: r.Oiled.Dark, Units: units, Wood: r.Gift.Wood,
	}
	if g := r.Figure("shape.mass"); g > 0 {
		card.Weight = measure.Show(g, string(craft.KG), units)
	}
	if b.Give.Card != nil && b.Give.Card.By != "" {
		card.By = b.Give.Card.By
	}
	return card
}

// carePages answers whoever has the link of a board's card. They are no part of the interface: no session is read, no
// cookie set, no script run.
func (s *Server) carePages(engine *gin.Engine) {
	read := []string{http.MethodGet, http.MethodHead}
	engine.Match(read, "/care/:link", func(c *gin.Context) { s.carePage(c, s.showCare) })
	engine.Match(read, "/care/:link/oiling.ics", func(c *gin.Context) { s.carePage(c, s.careCalendar) })
}

// What may be asked of care pages: guesses are slowed at once, readers by far later.
var (
	careGuesses = allowance{10, 10 * time.Second} // links that lead nowhere, by the client's address
	careReads   = allowance{60, 2 * time.Second}
)

func (s *Server) carePage(c *gin.Context, show func(*gin.Context, store.Care) error) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; style-src "+formats.CareStyle+
		"; img-src data:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("X-Robots-Tag", "noindex, nofollow")
	h.Set("Cache-Control", "private, max-age=300")
	who := c.ClientIP()
	if err := s.limits.take(careReads, who); err != nil || !s.limits.may(careGuesses, who) {
		s.slowDown(c)
		return
	}
	care, err := s.Store.LinkedBy(c, c.Param("link"))
	if err == nil {
		err = show(c, care)
	}
	switch {
	case err == nil:
	case errors.Is(err, store.ErrNotFound):
		if s.limits.take(careGuesses, who) != nil {
			s.slowDown(c)
			return
		}
		h.Set("Cache-Control", "no-store")
		c.Data(http.StatusNotFound, "text/plain; charset=utf-8",
			[]byte("There is no board at this address. The link on its card may have been renewed.\n"))
	default:
		s.Log.Error("care page", "id", h.Get(requestID), "error", err.Error())
		h.Set("Cache-Control", "no-store")
		c.Data(http.StatusServiceUnavailable, "text/plain; charset=utf-8",
			[]byte("This page cannot be shown now. Try again in a moment.\n"))
	}
}

func (s *Server) slowDown(c *gin.Context) {
	c.Header("Retry-After", strconv.Itoa(int(careGuesses.interval.Seconds())))
	c.Header("Cache-Control", "no-store")
	c.Data(
		http.StatusTooManyRequests,
		"text/plain; charset=utf-8",
		[]byte("Too many requests. Try again in a moment.\n"),
	)
}

// caredFor is a board of a care page, with when it is oiled next.
func (s *Server) caredFor(
	ctx context.Context,
	c store.Care,
) (page formats.CarePage, id string, days []time.Time, err error) {
	b, err := s.Store.Board(ctx, c.Workshop, c.Board)
	if err != nil {
		return page, "", nil, err
	}
	j, err := s.job(ctx, c.Workshop, b.Piece, c.Board)
	if err != nil {
		return page, "", nil, err
	}
	of, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return page, "", nil, err
	}
	zone, err := j.Shop.Zone()
	if err != nil {
		return page, "", nil, err
	}
	gift := of.Boards[0].Gift
	page = formats.CarePage{Card: cardOf(b.Board, j, of), Every: gift.Every}
	page.Names = b.Board.Give.Card != nil && b.Board.Give.Card.Public
	next := giving.NextOiling(gift.Every, c.Oiled, b.Given, gift.Ready)
	if next == nil {
		return page, c.Board, nil, nil
	}
	first := next.In(zone)
	for first.Before(s.Clock().AddDate(0, 0, -1)) { // what was missed is not called for by the calendar
		first = first.AddDate(0, 0, gift.Every)
	}
	const aYear = 365
	days = append([]time.Time{first}, giving.Oilings(first, gift.Every, aYear/gift.Every)...)
	page.Next = &days[0]
	return page, c.Board, days, nil
}

func (s *Server) showCare(c *gin.Context, care store.Care) error {
	page, _, _, err := s.caredFor(c, care)
	if err != nil {
		return err
	}
	page.Calendar = "/care/" + care.Link + "/oiling.ics"
	data, err := page.HTML()
	if err == nil {
		c.Data(http.StatusOK, "text/html; charset=utf-8", data)
	}
	return err
}

func (s *Server) careCalendar(c *gin.Context, care store.Care) error {
	page, id, days, err := s.caredFor(c, care)
	if err != nil {
		return err
	}
	title := "of " + page.Card.Wood
	if page.Names {
		title = "\"" + page.Card.Title + "\""
	}
	c.Header("Content-Disposition", `attachment; filename="oiling.ics"`)
	c.Data(http.StatusOK, calendarType, formats.OilingCalendar(id, title, days, s.Clock()))
	return nil
}
