package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"text/tabwriter"
	"time"
)

// crowd are makers, each in a workshop of their own, who press, draw and look about once in a while.
type crowd struct {
	urls    []string // of the processes, which makers come to in turns
	makers  int
	think   time.Duration
	lasts   time.Duration
	streams bool
}

// maker is one of them.
type maker struct {
	url, address, cookie string
	http                 *http.Client
	random               *rand.Rand

	board   map[string]any
	version any
	saves   int
}

// reply is an answer.
type reply struct {
	status int
	body   []byte
}

func (r reply) json() (out map[string]any) {
	_ = json.Unmarshal(r.body, &out) // what is no object has nothing in it
	return out
}

// ask asks the server once.
func (m *maker) ask(ctx context.Context, method, path string, body any) (reply, error) {
	var data []byte
	switch b := body.(type) {
	case nil:
	case []byte:
		data = b
	default:
		var err error
		if data, err = json.Marshal(body); err != nil {
			return reply{}, err
		}
	}
	req, err := http.NewRequestWithContext(ctx, method, m.url+path, bytes.NewReader(data))
	if err != nil {
		return reply{}, err
	}
	m.head(req)
	res, err := m.http.Do(req)
	if err != nil {
		return reply{}, err
	}
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	for _, c := range res.Cookies() {
		m.cookie = c.Name + "=" + c.Value
	}
	return reply{res.StatusCode, out}, err
}

// head tells who asks: the cookie is kept by hand, since the processes take themselves to be reached by HTTPS.
func (m *maker) head(req *http.Request) {
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Forwarded-For", m.address)
	req.Header.Set("X-Forwarded-Proto", "https")
	if m.cookie != "" {
		req.Header.Set("Cookie", m.cookie)
	}
}

// mustAsk asks what has to be answered well.
func (m *maker) mustAsk(ctx context.Context, method, path string, body any) (reply, error) {
	r, err := m.ask(ctx, method, path, body)
	if err == nil && r.status/100 != 2 {
		err = fmt.Errorf("%s %s: %d %.200s", method, path, r.status, r.body)
	}
	return r, err
}

// arrive signs a maker up, with a piece and a board of the sample shop's.
func (m *maker) arrive(ctx context.Context, email string, job []byte) error {
	_, err := m.mustAsk(ctx, "POST", "/api/sign-up", map[string]any{"email": email, "password": "amber weir lattice"})
	if err != nil {
		return err
	}
	if _, err = m.mustAsk(ctx, "POST", "/api/jobs", job); err != nil {
		return err
	}
	return m.open(ctx)
}

// open opens the first board of a maker.
func (m *maker) open(ctx context.Context) error {
	list, err := m.mustAsk(ctx, "GET", "/api/boards", nil)
	if err != nil {
		return err
	}
	items, _ := list.json()["items"].([]any)
	if len(items) == 0 {
		return errors.New("a maker has no board")
	}
	line := items[0].(map[string]any)
	sheet, err := m.mustAsk(ctx, "GET", "/api/boards/"+line["id"].(string), nil)
	if err != nil {
		return err
	}
	doc := sheet.json()
	m.board, m.version = doc["board"].(map[string]any), doc["version"]
	return nil
}

// act is something that a maker does, so often among all.
type act struct {
	name  string
	share int // of a thousand
	do    func(ctx context.Context, m *maker) (reply, error)
}

func get(path string) func(context.Context, *maker) (reply, error) {
	return func(ctx context.Context, m *maker) (reply, error) { return m.ask(ctx, "GET", path, nil) }
}

// acts are what makers do: an evening is mostly drawing and looking at the bench.
var acts = []act{
	{"POST board/draft", 400, func(ctx context.Context, m *maker) (reply, error) {
		return m.ask(ctx, "POST", "/api/boards/"+m.board["id"].(string)+"/draft", m.board)
	}},
	{"GET bench", 150, get("/api/bench")},
	{"GET board", 100, func(ctx context.Context, m *maker) (reply, error) {
		return m.ask(ctx, "GET", "/api/boards/"+m.board["id"].(string), nil)
	}},
	{"GET boards", 80, get("/api/boards")},
	{"PUT board", 80, func(ctx context.Context, m *maker) (reply, error) {
		m.saves++
		m.board["name"] = fmt.Sprint("named ", m.saves)
		r, err := m.ask(ctx, "PUT", "/api/boards/"+m.board["id"].(string),
			map[string]any{"version": m.version, "board": m.board})
		if v, ok := r.json()["version"]; ok {
			m.version = v
		}
		return r, err
	}},
	{"GET pieces", 65, get("/api/pieces")},
	{"GET plan", 40, get("/api/plan")},
	{"GET log", 32, get("/api/log")},
	{"GET shelf", 32, get("/api/shelf")},
	{"GET shop", 20, get("/api/shop")},
	{"POST search", 1, search},
}

// searchOn looks for a lay-out for a second and waits for its end.
func (m *maker) searchOn(ctx context.Context, piece string, fresh any) (reply, error) {
	r, err := m.ask(ctx, "POST", "/api/pieces/"+piece+"/searches", map[string]any{"boards": []any{}, "seconds": 1,
		"seeking": map[string]any{"seed": 1, "wants": []any{map[string]any{
			"board": fresh, "least": 1, "most": 4, "worth": 1, "turn": true}}}})
	if err != nil || r.status != http.StatusOK {
		return r, err
	}
	req, err := http.NewRequestWithContext(ctx, "GET", m.url+"/api/searches/"+r.json()["id"].(string)+"/news", nil)
	if err != nil {
		return r, err
	}
	m.head(req)
	req.Header.Set("Accept", "text/event-stream")
	res, err := m.http.Do(req)
	if err != nil {
		return r, err
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body) // it ends with the search
	if err == nil && !bytes.Contains(text, []byte(`"state":"done"`)) {
		err = fmt.Errorf("a search ended so: %.300s", text[max(0, len(text)-300):])
	}
	return r, err
}

// search is one on the piece of the maker's board.
func search(ctx context.Context, m *maker) (reply, error) {
	sheet, err := m.ask(ctx, "GET", "/api/boards/"+m.board["id"].(string), nil)
	if err != nil || sheet.status != http.StatusOK {
		return sheet, err
	}
	piece, _ := sheet.json()["piece"].(string)
	layout, err := m.ask(ctx, "GET", "/api/pieces/"+piece+"/layout", nil)
	if err != nil || layout.status != http.StatusOK {
		return layout, err
	}
	return m.searchOn(ctx, piece, layout.json()["fresh"])
}

// tally is how acts were answered.
type tally struct {
	mu    sync.Mutex
	took  map[string][]time.Duration
	wrong map[string]int
	why   map[string]string // of the first that went wrong
	lasts time.Duration
}

func newTally() *tally {
	return &tally{took: map[string][]time.Duration{}, wrong: map[string]int{}, why: map[string]string{}}
}

func (t *tally) note(name string, took time.Duration, r reply, err error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.took[name] = append(t.took[name], took)
	if err == nil && r.status/100 == 2 {
		return
	}
	t.wrong[name]++
	if t.why[name] == "" {
		t.why[name] = fmt.Sprintf("%d %v %.200s", r.status, err, r.body)
	}
}

// at is the time within which so many per cent were answered.
func at(took []time.Duration, percent int) time.Duration {
	if len(took) == 0 {
		return 0
	}
	slices.Sort(took)
	return took[min(len(took)*percent/100, len(took)-1)]
}

// String is the tally as a table.
func (t *tally) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	var out strings.Builder
	w := tabwriter.NewWriter(&out, 0, 0, 2, ' ', tabwriter.AlignRight)
	ms := func(d time.Duration) string { return fmt.Sprintf("%.1f", float64(d.Microseconds())/1000) }
	fmt.Fprintln(w, "what\tcount\tp50 ms\tp95 ms\tp99 ms\tmost ms\terrors\t")
	count, wrong := 0, 0
	for _, a := range acts {
		took := t.took[a.name]
		fmt.Fprintf(w, "%s\t%d\t%s\t%s\t%s\t%s\t%d\t\n", a.name, len(took), ms(at(took, 50)), ms(at(took, 95)),
			ms(at(took, 99)), ms(at(took, 100)), t.wrong[a.name])
		count, wrong = count+len(took), wrong+t.wrong[a.name]
	}
	w.Flush()
	fmt.Fprintf(&out, "%d in %.0f s, %.0f a second, %d errors\n", count, t.lasts.Seconds(),
		float64(count)/t.lasts.Seconds(), wrong)
	for name, why := range t.why {
		fmt.Fprintf(&out, "%s: %s\n", name, why)
	}
	return out.String()
}

// client keeps a connection to each process for every maker.
func client(makers int) *http.Client {
	return &http.Client{Timeout: 2 * time.Minute,
		Transport: &http.Transport{MaxIdleConnsPerHost: 3 * makers, IdleConnTimeout: 5 * time.Minute}}
}

// sampleJob is a piece with boards of the sample shop, as a job file.
func sampleJob(ctx context.Context, url string, c *http.Client) ([]byte, error) {
	m := &maker{url: url, address: "10.255.255.1", http: c}
	if _, err := m.mustAsk(ctx, "POST", "/api/sign-in/sample", nil); err != nil {
		return nil, fmt.Errorf("%w; start the processes with demo", err)
	}
	if err := m.open(ctx); err != nil {
		return nil, err
	}
	job, err := m.mustAsk(ctx, "GET", "/api/boards/"+m.board["id"].(string)+"/job.json", nil)
	return job.body, err
}

// signUpsAtOnce is how many makers sign up at once: passwords are hashed slowly on purpose.
const signUpsAtOnce = 4

// arrived are makers who have signed up.
func (c crowd) arrived(ctx context.Context) ([]*maker, error) {
	shared := client(c.makers)
	job, err := sampleJob(ctx, c.urls[0], shared)
	if err != nil {
		return nil, err
	}
	all := make([]*maker, c.makers)
	began := time.Now().UnixNano()
	var wait sync.WaitGroup
	var next atomic.Int64
	fails := make(chan error, signUpsAtOnce)
	for range signUpsAtOnce {
		wait.Go(func() {
			for n := int(next.Add(1)) - 1; n < c.makers; n = int(next.Add(1)) - 1 {
				m := &maker{
					url:     c.urls[n%len(c.urls)],
					address: fmt.Sprintf("10.%d.%d.%d", n>>16&255, n>>8&255, n&255),
					http:    shared,
					random:  rand.New(rand.NewPCG(uint64(n), 1)),
				}
				all[n] = m
				if err := m.arrive(ctx, fmt.Sprintf("maker%d-%d@example.org", began, n), job); err != nil {
					fails <- err
					return
				}
			}
		})
	}
	wait.Wait()
	select {
	case err := <-fails:
		return nil, err
	default:
		return all, nil
	}
}

// work lets the crowd work and tells how it was answered.
func (c crowd) work(ctx context.Context) (*tally, error) {
	all, err := c.arrived(ctx)
	if err != nil {
		return nil, err
	}
	t := newTally()
	t.lasts = c.lasts
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	ends := time.Now().Add(c.lasts)
	var wait sync.WaitGroup
	for _, m := range all {
		if c.streams {
			go m.follow(ctx, t)
		}
		wait.Go(func() { m.goOn(ctx, t, c.think, ends) })
	}
	wait.Wait()
	return t, nil
}

// goOn does one thing after another, thinking in between.
func (m *maker) goOn(ctx context.Context, t *tally, think time.Duration, ends time.Time) {
	for {
		pause := time.NewTimer(time.Duration((0.5 + m.random.Float64()) * float64(think)))
		select {
		case <-ctx.Done():
			return
		case <-pause.C:
		}
		if time.Now().After(ends) {
			return
		}
		a := m.choose()
		begun := time.Now()
		r, err := a.do(ctx, m)
		t.note(a.name, time.Since(begun), r, err)
	}
}

func (m *maker) choose() act {
	n := m.random.IntN(1000)
	for _, a := range acts {
		if n -= a.share; n < 0 {
			return a
		}
	}
	return acts[0]
}

// follow listens to the news as a page does, until its context ends.
func (m *maker) follow(ctx context.Context, t *tally) {
	for ctx.Err() == nil {
		req, err := http.NewRequestWithContext(ctx, "GET", m.url+"/api/news", nil)
		if err != nil {
			return
		}
		m.head(req)
		req.Header.Set("Accept", "text/event-stream")
		res, err := (&http.Client{Transport: m.http.Transport}).Do(req)
		if err == nil {
			_, err = io.Copy(io.Discard, res.Body)
			res.Body.Close()
		}
		if err != nil && ctx.Err() == nil {
			t.note("news", 0, reply{}, err)
		}
	}
}
