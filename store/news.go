package store

import (
	"context"
	"encoding/json"
	"sync"
	"time"

	"github.com/jackc/pgx/v5"
)

// News is what one process tells all that work on the same database, and itself.
type News struct {
	About string          `json:"about"` // whom it concerns, such as "workshop 7…"
	Kind  string          `json:"kind"`
	Body  json.RawMessage `json:"body,omitempty"`
}

// Missed is the kind of news that tells that others may have been missed: what is shown is read again.
const Missed = "missed"

// Times of news: how long they are collected before they are told together, how often a line is tried that has said
// nothing, and how long a database that is gone is waited for.
const (
	newsGather = 10 * time.Millisecond
	newsTry    = 15 * time.Second
	newsAgain  = 500 * time.Millisecond
)

// newsChannel is the channel of PostgreSQL that news go by.
const newsChannel = "idletimber"

// newsPending is how many news wait to be told or heard; what comes to a full line is dropped.
const newsPending = 256

// news carries news between processes by LISTEN and NOTIFY.
type news struct {
	tell chan News
	mu   sync.Mutex
	to   map[string]map[chan News]bool
}

func newNews() *news {
	return &news{tell: make(chan News, newsPending), to: map[string]map[chan News]bool{}}
}

// Tell tells all processes something, soon. News that cannot be told are lost: whoever misses some reads again when the
// database is back.
func (s *Store) Tell(about, kind string, body any) {
	n := News{About: about, Kind: kind}
	if body != nil {
		data, err := json.Marshal(body)
		if err != nil {
			return // it is told nowhere what cannot be written
		}
		n.Body = data
	}
	select {
	case s.news.tell <- n:
	default:
	}
}

// Hear carries what is told about somebody, and Missed after the database was out of reach, until shut. Whoever does
// not listen misses what is told meanwhile.
func (s *Store) Hear(about string) (heard <-chan News, shut func()) {
	n := s.news
	line := make(chan News, newsPending)
	n.mu.Lock()
	defer n.mu.Unlock()
	if n.to[about] == nil {
		n.to[about] = map[chan News]bool{}
	}
	n.to[about][line] = true
	return line, func() {
		n.mu.Lock()
		defer n.mu.Unlock()
		if delete(n.to[about], line); len(n.to[about]) == 0 {
			delete(n.to, about)
		}
	}
}

// AboutWorkshop is whom news of a workshop concern: Changed, and what its instruments read.
func AboutWorkshop(id string) string { return "workshop " + id }

// Changed is news that something of a workshop has changed, and by which page.
type Changed struct {
	By string `json:"by"`
}

// ChangedNews is the kind of such news.
const ChangedNews = "changed"

func (s *Store) tellChanged(workshop string, save *Save) {
	var by string
	if save != nil {
		by = save.By
	}
	s.Tell(AboutWorkshop(workshop), ChangedNews, Changed{by})
}

// pass hands news to those who listen: of one about whom, or to all.
func (n *news) pass(heard News) {
	n.mu.Lock()
	defer n.mu.Unlock()
	for about, lines := range n.to {
		if heard.Kind != Missed && about != heard.About {
			continue
		}
		for line := range lines {
			select {
			case line <- heard:
			default:
			}
		}
	}
}

// hear listens to all processes until it is cancelled.
func (s *Store) hear(ctx context.Context, config *pgx.ConnConfig) {
	for first := true; ctx.Err() == nil; first = false {
		s.hearOn(ctx, config, func() {
			if !first {
				s.news.pass(News{Kind: Missed})
			}
			s.heard.Do(func() { close(s.hears) })
		})
		select {
		case <-ctx.Done():
		case <-time.After(newsAgain):
		}
	}
}

// hearOn listens on one connection until that breaks.
func (s *Store) hearOn(ctx context.Context, config *pgx.ConnConfig, listening func()) {
	dial, cancel := context.WithTimeout(ctx, queryTime)
	defer cancel()
	conn, err := pgx.ConnectConfig(dial, config)
	if err != nil {
		return
	}
	defer conn.Close(context.WithoutCancel(dial))
	if _, err := conn.Exec(dial, "LISTEN "+newsChannel); err != nil {
		return
	}
	listening()
	for ctx.Err() == nil {
		wait, cancel := context.WithTimeout(ctx, newsTry)
		note, err := conn.WaitForNotification(wait)
		cancel()
		if err != nil {
			try, cancel := context.WithTimeout(ctx, queryTime)
			err = conn.Ping(try)
			cancel()
			if err != nil {
				return
			}
			continue
		}
		var n News
		if json.Unmarshal([]byte(note.Payload), &n) == nil {
			s.news.pass(n)
		}
	}
}

// speak tells what is to be told until it is cancelled, a few news together: each telling is a transaction that others
// wait for.
func (s *Store) speak(ctx context.Context) {
	for {
		var first News
		select {
		case <-ctx.Done():
			return
		case first = <-s.news.tell:
		}
		select {
		case <-ctx.Done():
		case <-time.After(newsGather):
		}
		texts, known := []string{}, map[string]bool{}
		for n, more := first, true; more; {
			if text, err := encode(n); err == nil && !known[text] {
				known[text] = true
				texts = append(texts, text)
			}
			select {
			case n = <-s.news.tell:
			default:
				more = false
			}
		}
		saying, cancel := context.WithTimeout(context.WithoutCancel(ctx), queryTime)
		_, _ = s.aside.ExecContext(
			saying,
			`SELECT pg_notify($1, text) FROM unnest($2::text[]) text`,
			newsChannel,
			texts,
		)
		cancel()
	}
}
