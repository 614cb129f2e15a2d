// Package e2e drives the real interface in headless Chromium against a real
// server and a real PostgreSQL.
package e2e

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"flag"
	"fmt"
	"log/slog"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"idletimber/demo"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
	"idletimber/web"
)

var postgres *pgserver.Server

func TestMain(m *testing.M) {
	if _, err := web.Dist().Open("index.html"); err != nil {
		fmt.Fprintln(os.Stderr, "the interface is not built: run make build first")
		os.Exit(1)
	}
	os.Exit(pgserver.Around(m, &postgres))
}

// start is the moment at which every journey begins: a Tuesday in April.
var start = time.Date(2031, 4, 22, 15, 30, 0, 0, time.UTC)

// clock is a clock that a journey turns on.
type clock struct {
	mu    sync.Mutex
	now   time.Time
	since time.Time // when it began to tick by itself; zero while it stands
}

func (c *clock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	if !c.since.IsZero() {
		return c.now.Add(time.Since(c.since))
	}
	return c.now
}

// tick lets it go by itself.
func (c *clock) tick() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.since = time.Now()
}

func (c *clock) advance(d time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.now = c.now.Add(d)
}

// Action is one step in the browser.
type Action = chromedp.Action[chromedp.Void]

// shop is a served sample shop and a browser looking at it.
type shop struct {
	t     *testing.T
	ctx   context.Context
	url   string
	http  *httptest.Server
	store *store.Store
	clock *clock
	away  *switchable

	mu     sync.Mutex
	faults []string
}

func open(t *testing.T, width, height int64) *shop {
	t.Helper()
	ctx := context.Background()
	url, err := postgres.NewDatabase(ctx)
	require.NoError(t, err)
	s := &shop{t: t, clock: &clock{now: start}}
	s.store, err = store.Open(ctx, store.Config{URL: url}, s.clock.Now)
	require.NoError(t, err)
	s.away = &switchable{}
	s.restart()
	require.NoError(t, demo.Load(ctx, s.away.next.Load(), start))
	s.http = httptest.NewUnstartedServer(s.away)
	s.http.Listener = counted{s.http.Listener, &s.away.wire}
	s.http.Start()
	s.url = s.http.URL

	t.Cleanup(func() {
		s.http.CloseClientConnections()
		s.http.Close()
		s.away.next.Load().Close()
		s.store.Close()
	})
	s.fresh(width, height)
	return s
}

// fresh goes on in a browser that has never been here.
func (s *shop) fresh(width, height int64) {
	t := s.t
	t.Helper()
	ctx := context.Background()
	allocator, stopBrowser := chromedp.NewExecAllocator(ctx,
		chromedp.Headless, chromedp.NoSandbox, chromedp.DisableGPU, chromedp.NoFirstRun,
		chromedp.Flag("disable-quic", true), chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true),
		chromedp.Flag("force-prefers-reduced-motion", true), // colours and places are judged where they come to rest
		chromedp.UserDataDir(t.TempDir()), chromedp.WindowSize(int(width), int(height)))
	tab, closeTab := chromedp.NewContext(allocator)
	require.NoError(t, chromedp.Do(tab)) // starts the browser, whose life is the tab's
	limited, cancel := context.WithTimeout(tab, 25*time.Minute)
	s.ctx = limited
	t.Cleanup(func() {
		cancel()
		closeTab()
		stopBrowser()
	})
	require.NoError(t, chromedp.Listen(tab, func(event any) {
		if _, ok := event.(*page.EventJavascriptDialogOpening); ok { // leaving is asked about; whoever reloads means it
			go func() {
				_, _ = chromedp.Call(tab, page.HandleJavaScriptDialog, page.HandleJavaScriptDialogParams{Accept: true})
			}()
		}
		if e, ok := event.(*runtime.EventExceptionThrown); ok {
			s.mu.Lock()
			defer s.mu.Unlock()
			s.faults = append(s.faults, e.ExceptionDetails.Text)
		}
	}))
	view := []chromedp.EmulateViewportOption{}
	if width < 600 {
		view = append(view, chromedp.EmulateMobile)
	}
	s.do(chromedp.EmulateViewport(width, height, view...))
}

// restart puts a new server in the place of the one there was, which knows nothing of it but what was stored.
func (s *shop) restart() {
	srv, err := server.New(server.Config{
		Searches: 1,
		Store:    s.store, Clock: s.clock.Now, Log: slog.New(slog.DiscardHandler), Web: web.Dist(), Demo: demo.Email,
	})
	require.NoError(s.t, err)
	if before := s.away.next.Swap(srv); before != nil {
		before.Close()
	}
}

// A busy machine is slow; what is there is seen at once.
var patience = flag.Duration("patience", 2*time.Minute, "how long a journey waits for what it is to see")

// step is a named part of a journey; when it fails, the journey ends.
func (s *shop) step(name string, walk func()) {
	s.t.Helper()
	journey := s.t
	passed := journey.Run(name, func(t *testing.T) {
		s.t = t
		defer func() { s.t = journey }()
		walk()
	})
	if !passed {
		journey.FailNow()
	}
}

// do runs actions; when one fails it says what was on the page.
func (s *shop) do(actions ...Action) {
	s.t.Helper()
	ctx, cancel := context.WithTimeout(s.ctx, *patience)
	defer cancel()
	if err := chromedp.Do(ctx, actions...); err != nil {
		text, _ := chromedp.Run(s.ctx, chromedp.Evaluate[string](`document.body.innerText.slice(0, 1500)`))
		require.NoError(s.t, err, "%v on the page:\n%s", s.seen(), text)
	}
}

// ask evaluates an expression in the page, and waits for it when it is a promise.
func ask[T any](s *shop, expression string) T {
	s.t.Helper()
	v, err := chromedp.Run(s.ctx, chromedp.Evaluate[T](expression, chromedp.EvalAwaitPromise))
	require.NoError(s.t, err, expression)
	return v
}

// run evaluates an expression for what it does.
func run(expression string) Action { return chromedp.Evaluate[chromedp.Void](expression) }

func (s *shop) seen() []string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.faults
}

// enter opens the sample shop by its one press.
func (s *shop) enter() {
	s.t.Helper()
	s.do(chromedp.Navigate(s.url), s.press("Open the sample shop"), s.see("Bench"))
}

// wait waits until an expression in the page is true.
func (s *shop) wait(expression string) Action {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		tick := time.NewTicker(25 * time.Millisecond)
		defer tick.Stop()
		for {
			if ok, err := chromedp.Evaluate[bool]("!!("+expression+")")(ctx, t); err == nil && ok {
				return nil
			}
			select {
			case <-ctx.Done():
				return fmt.Errorf("waited in vain for %s: %w", expression, ctx.Err())
			case <-tick.C:
			}
		}
	})
}

// see waits until the page shows a text.
func (s *shop) see(text string) Action {
	return s.wait(fmt.Sprintf(`document.body.innerText.includes(%s)`, quote(text)))
}

// press presses the button or link of a name, or else the first that begins
// with it, once it is there.
func (s *shop) press(name string) Action {
	find := fmt.Sprintf(`(() => {
		const all = [...document.querySelectorAll("button, a, summary, [role=tab]")].filter((b) => !b.disabled)
			.map((b) => [(b.getAttribute("aria-label") ?? b.innerText).trim(), b]);
		return (all.find(([n]) => n === %[1]s) ?? all.find(([n]) => n.startsWith(%[1]s)))?.[1];
	})()`, quote(name))
	return s.click(find)
}

// reach waits until the pointer would hit what an expression finds, and tells
// where: what is covered, or off the screen, is never reached.
func (s *shop) reach(find string, then func(at point) Action) Action {
	place := fmt.Sprintf(`(() => {
		const e = %s;
		if (!e) return null;
		const box = () => [...e.getClientRects()].find((r) => r.width > 0) ?? e.getBoundingClientRect();
		const hit = () => {
			const r = box();
			const p = { x: r.x + r.width / 2, y: r.y + Math.min(r.height, innerHeight) / 2 };
			const top = document.elementFromPoint(p.x, p.y);
			return top && (e.contains(top) || top.closest("label")?.control === e) ? p : null;
		};
		if (!hit()) e.scrollIntoView({ block: "center", inline: "center", behavior: "instant" });
		return hit();
	})()`, find)
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		tick := time.NewTicker(25 * time.Millisecond)
		defer tick.Stop()
		const still = 4 // looks, until what the pointer goes for has come to rest
		var last point
		for seen := 0; ; {
			at, err := chromedp.Evaluate[*point](place)(ctx, t)
			switch {
			case err != nil || at == nil:
				seen = 0
			case *at == last:
				seen++
			default:
				seen, last = 0, *at
			}
			if seen == still {
				_, err := then(last)(ctx, t)
				return err
			}
			select {
			case <-ctx.Done():
				return fmt.Errorf("cannot be pressed: %s: %w", find, ctx.Err())
			case <-tick.C:
			}
		}
	})
}

// click presses what an expression finds, with the pointer. An answer that
// arrives between the look and the press may push the thing away from under the
// pointer: then it is pressed again, as a person would.
func (s *shop) click(find string) Action {
	watch := run(fmt.Sprintf(`{
		window.pressed = false;
		const found = () => %s;
		const before = found(); // a box that is ticked is not found by its tick any more
		addEventListener("click", (e) => { window.pressed = [before, found()].some((o) => o?.contains(e.target)); },
			{ capture: true, once: true });
	}`, find))
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		for {
			_, err := s.reach(find, func(at point) Action {
				return chromedp.Steps(watch, moveTo(at), press(at), release(at))
			})(ctx, t)
			if err != nil {
				return err
			}
			missed, err := chromedp.Evaluate[bool](`window.pressed === false`)(ctx, t)
			if err != nil || !missed { // a page that has been left has nothing to tell
				return nil
			}
		}
	})
}

// field types into the field of a label, in place of what stood there.
func (s *shop) field(label, value string) Action {
	find := fmt.Sprintf(`(() => {
		const label = [...document.querySelectorAll("label")]
			.find((l) => l.innerText.trim().startsWith(%[1]s) || l.textContent.trim() === %[1]s);
		return label ? document.getElementById(label.htmlFor) : document.querySelector("[aria-label=" + %[2]s + "]");
	})()`, quote(label), quote(quote(label)))
	focus := run(fmt.Sprintf(`{ const e = %s; e.focus(); e.select?.(); }`, find))
	return chromedp.Steps(
		s.reach(find, func(at point) Action { return focus }),
		chromedp.KeyEvent(kb.Delete),
		chromedp.KeyEvent(value),
	)
}

// choose picks an option of the select of a label.
func (s *shop) choose(label, value string) Action {
	find := fmt.Sprintf(`document.getElementById([...document.querySelectorAll("label")]
		.find((l) => l.textContent.trim() === %s)?.htmlFor)`, quote(label))
	pick := run(fmt.Sprintf(`{
		const select = %s;
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(select, %s);
		select.dispatchEvent(new Event("change", { bubbles: true }));
	}`, find, quote(value)))
	return s.reach(find, func(point) Action { return pick })
}

// saved waits until the last change is stored.
func (s *shop) saved() Action {
	return chromedp.Steps(
		// What was done is shown.
		run(`new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))`),
		s.wait(`document.querySelector("[data-save]")?.dataset.save === "saved"`),
	)
}

// text reads the text of what a selector finds.
func (s *shop) text(selector string) string {
	s.t.Helper()
	return ask[string](s, fmt.Sprintf(`document.querySelector(%s)?.innerText ?? ""`, quote(selector)))
}

// download fetches a file as the page would, and returns where it is.
func (s *shop) download(link string) string {
	s.t.Helper()
	data, err := base64.StdEncoding.DecodeString(
		ask[string](
			s,
			fmt.Sprintf(
				`fetch(%s).then((r) => r.arrayBuffer()).then((b) => btoa([...new Uint8Array(b)]
					.map((c) => String.fromCharCode(c)).join("")))`,
				quote(link),
			),
		),
	)
	require.NoError(s.t, err)
	file := filepath.Join(s.t.TempDir(), "file")
	require.NoError(s.t, os.WriteFile(file, data, 0o600))
	return file
}

func quote(text string) string {
	data, _ := json.Marshal(text)
	return string(data)
}

// accessible fails on what axe-core reports as serious or critical.
func (s *shop) accessible(view string) {
	s.t.Helper()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(s.t, err)
	s.do(run(string(axe) + ";0"))
	found := ask[[]string](s, `axe.run(document, { resultTypes: ["violations"] }).then((r) =>
		r.violations.filter((v) => v.impact === "serious" || v.impact === "critical")
			.map((v) => v.id + ": " + v.nodes.slice(0, 4)
				.map((n) => n.html.slice(0, 140) + " " + (n.failureSummary ?? "").slice(0, 200)).join(" | ")))`)
	require.Empty(s.t, found, "%s: %s", view, strings.Join(found, "\n"))
}

// fits fails when the page must be scrolled sideways.
func (s *shop) fits(view string) {
	s.t.Helper()
	over := ask[float64](s, `document.documentElement.scrollWidth - document.documentElement.clientWidth`)
	require.LessOrEqual(s.t, over, 0.0, "%s needs sideways scrolling by %v px", view, over)
}

// thumb fails when something to press is smaller than a thumb hits.
func (s *shop) thumb(view string) {
	s.t.Helper()
	small := ask[[]string](
		s,
		`[...document.querySelectorAll("button, select, input:not([type=checkbox]):not([type=file]), " +
			".btn, .card-link, .rack-line, .rail-link")]
		.map((e) => [e, e.getBoundingClientRect()])
		.filter(([e, r]) => r.width > 1 && r.height > 1 && r.height < 43.5)
		.map(([e, r]) => e.outerHTML.slice(0, 120) + " " + r.height)`,
	)
	require.Empty(s.t, small, "%s: %s", view, strings.Join(small, "\n"))
}

// picture writes a PNG of the page.
func (s *shop) picture(file string) {
	s.t.Helper()
	ask[bool](s, `document.fonts.ready.then(() => true)`)
	png, err := chromedp.Run(s.ctx, chromedp.CaptureScreenshot())
	require.NoError(s.t, err)
	require.NoError(s.t, os.WriteFile(file, png, 0o644))
}
