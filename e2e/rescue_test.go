package e2e

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// wentWrong opens what may go wrong on a board at its next step, from the bench as it is held in the hand.
func (s *shop) wentWrong(name string) {
	s.t.Helper()
	s.do(
		chromedp.Navigate(s.url+"/bench"),
		s.see(name),
		s.click(fmt.Sprintf(`[...document.querySelectorAll(".bench-card[data-card]")]
			.find((c) => c.innerText.includes(%s)).querySelector(".went-wrong")`, quote(name))),
		s.see("What went wrong?"),
	)
}

// kind chooses what went wrong, wherever it is listed.
func (s *shop) kind(key string) Action {
	find := fmt.Sprintf(`document.querySelector('[data-kind=%q]')`, key)
	return chromedp.Steps(s.see("What went wrong?"), s.unlessThere(find), s.click(find))
}

// unlessThere shows the other kinds unless the one that is looked for is there.
func (s *shop) unlessThere(find string) Action {
	return chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		if there, err := chromedp.Evaluate[bool](find+" != null")(ctx, t); err != nil || there {
			return err
		}
		_, err := s.press("Something else")(ctx, t)
		return err
	})
}

// draw draws on the board with the pointer, through places in its own frame, mm.
func (s *shop) draw(mm ...point) {
	s.t.Helper()
	s.at("svg.marking", 0.5, 0.5) // it stands still
	steps := []Action{}
	var last point
	for i, p := range mm {
		xy := ask[[]float64](s, fmt.Sprintf(`(() => { const to = document.querySelector("svg.marking").getScreenCTM();
			const p = new DOMPoint(%v, %v).matrixTransform(to); return [p.x, p.y]; })()`, p.X, -p.Y))
		last = point{xy[0], xy[1]}
		if i == 0 {
			steps = append(steps, press(last))
		} else {
			steps = append(steps, moveTo(last))
		}
	}
	s.do(chromedp.Steps(append(steps, release(last))...))
}

// ways are the labels of the ways out as they are listed.
func (s *shop) ways() []string {
	s.t.Helper()
	s.do(s.see("were tried"))
	return ask[[]string](s, `[...document.querySelectorAll(".way")].map((w) => w.dataset.way)`)
}

// take chooses a way by its key and takes it.
func (s *shop) takeWay(key string) {
	s.t.Helper()
	s.do(
		s.click(fmt.Sprintf(`document.querySelector('[data-way=%q] .way-open')`, key)),
		s.wait(fmt.Sprintf(`document.querySelector('[data-way=%q].open') != null`, key)),
		s.press("Take this way"),
		s.see("It is the plan now"),
	)
}

// reckoned is a board as its sheet has it: an expression over its reckoning r and its document b.
func ofBoard[T any](s *shop, name, expression string) T {
	s.t.Helper()
	return ask[T](s, fmt.Sprintf(`(async () => {
		const get = (path) => fetch(path).then((r) => r.json());
		const id = (await get("/api/boards")).items.find((b) => b.name.startsWith(%s)).id;
		const { board: b, reckoning } = await get("/api/boards/" + id);
		const r = reckoning.boards[0];
		return %s;
	})()`, quote(name), expression))
}

// At the phone, cut too deep in a curve: three taps and a mark lead to the ways out, the first comes soon, the one that
// is taken is the plan, and it can be taken back.
func TestTooDeepInACurve(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.upTo("Beekeeper", "edges")
	s.step("three taps and a mark", func() {
		s.wentWrong("Beekeeper's paddle")
		s.fits("What went wrong on the phone")
		s.thumb("What went wrong on the phone")
		s.do(s.kind("deep"), s.see("Stop there"))
		box := ofBoard[[]float64](s, "Beekeeper", "r.box")
		top := box[3]
		s.draw(
			point{-72, top + 4},
			point{-66, top - 3},
			point{-58, top - 4},
			point{-50, top - 3},
			point{-44, top + 4},
		)
		s.fits("Marking on the phone")
		s.do(s.press("Show the ways out"), s.wait(`document.querySelector(".way") != null`))
	})
	before := ofBoard[float64](s, "Beekeeper", "r.course.steps.length")
	s.step("ways out", func() {
		keys := s.ways()
		assert.Contains(t, keys, "fair")
		assert.Greater(t, len(keys), 3)
		s.fits("Ways out on the phone")
		s.thumb("Ways out on the phone")
		s.accessible("Ways out on the phone")
		assert.Equal(t, "stop", ofBoard[string](s, "Beekeeper", "r.level"), "until it is decided")
	})
	s.step("taken", func() {
		s.takeWay("fair")
		assert.NotEqual(t, "stop", ofBoard[string](s, "Beekeeper", "r.level"))
		assert.Greater(t, ofBoard[float64](s, "Beekeeper", "r.course.steps.length"), before)
		s.do(chromedp.Navigate(s.url+"/bench"), s.see("Draw the new line"))
	})
	s.step("taken back", func() {
		s.do(s.click(`[...document.querySelectorAll(".bench-card[data-card]")]
			.find((c) => c.innerText.includes("Beekeeper's paddle")).querySelector(".went-wrong")`),
			s.press("Take it back"), s.see("were tried"))
		assert.Equal(t, before, ofBoard[float64](s, "Beekeeper", "r.course.steps.length"))
		s.do(chromedp.Navigate(s.url+"/logbook?notes=yes"), s.see("not decided after all"))
	})
}

// The wood behind a hole has broken: for a gift it is glued, a customer sees a fault in that.
func TestAWebIsBroken(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.wentWrong("Wasp catcher's board")
	s.do(s.kind("web"), s.see("Keep the piece"))
	box := ofBoard[[]float64](s, "Wasp", "r.box")
	end := box[2]
	s.draw(point{end - 22, -9}, point{end + 4, -9}, point{end + 4, 9}, point{end - 22, 9})
	s.do(s.press("Show the ways out"))
	assert.Contains(t, s.ways(), "glue-back")
	s.accessible("Ways out")
	s.do(s.press("A customer"))
	keys := s.ways()
	assert.NotContains(t, keys, "glue-back")
	assert.Contains(t, keys, "angled")
	holes := ofBoard[float64](s, "Wasp", "r.holes.length")
	s.step("two side by side", func() {
		s.do(s.click(`document.querySelector(".way > .text-link")`),
			s.wait(`document.querySelectorAll(".ways-drawn figure").length === 2`))
	})
	s.takeWay("angled")
	assert.Equal(t, holes-1, ofBoard[float64](s, "Wasp", "r.holes.length"), "the hole is gone")
	assert.NotEqual(t, "stop", ofBoard[string](s, "Wasp", "r.level"))
}

// The live edge is lost: the new line leaves it where it is sound.
func TestTheLiveEdgeIsLost(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.upTo("Gatekeepers", "edges")
	s.wentWrong("Gatekeepers")
	s.do(s.kind("edge"))
	box := ofBoard[[]float64](s, "Gatekeepers", "r.box")
	s.draw(point{-40, box[3] + 8}, point{-30, box[3] - 22}, point{30, box[3] - 22}, point{40, box[3] + 8})
	s.do(s.press("Show the ways out"))
	keys := s.ways()
	way := ""
	for _, k := range keys {
		if strings.HasPrefix(k, "fair") {
			way = k
			break
		}
	}
	assert.NotEmpty(t, way, keys)
	s.takeWay(way)
	assert.NotEqual(t, "stop", ofBoard[string](s, "Gatekeepers", "r.level"))
}

// Sanded through: its thickness is told as a calliper shows it, also in inches; it is taken down. Where the server is
// away meanwhile, what was told waits and is sent once.
func TestSandedTooThin(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(s.press("mm"), s.see("inch"))
	s.wentWrong("Basket weaver's board")
	s.do(s.kind("thin"), s.field("Thickness now, at its thinnest", `5/8"`))
	s.do(
		s.wait(`![...document.querySelectorAll("button")].find((b) => b.innerText === "Show the ways out").disabled`),
	)
	s.gone()
	s.do(s.press("Show the ways out"), s.see("kept on this device"))
	s.back()
	s.later(time.Minute)
	s.do(s.see("Take it down to"))
	assert.Equal(t, []string{"take-down"}, s.ways()[:1])
	s.takeWay("take-down")
	assert.InDelta(t, 15.5, ofBoard[float64](s, "Basket", "b.design.thickness"), 0.2)
	assert.Equal(t, 1.0, ofBoard[float64](s, "Basket", "b.mishaps.length"))
	s.do(chromedp.Navigate(s.url+"/logbook?part=mishaps"), s.see("Sanded through, or too thin"))
	s.accessible("What went wrong")
}

// At the phone without a signal: what went wrong is told and marked there, kept, and sent once when the server is back.
func TestAMishapWithoutASignal(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.installed()
	id := ofBoard[string](s, "Wasp", "b.id")
	s.do(chromedp.Navigate(s.url+"/bench"), s.see("Wasp catcher's board"))
	kept := func(what string) {
		require.Eventually(t, func() bool { return ask[bool](s, what) }, *patience, 50*time.Millisecond, what)
	}
	kept(`caches.match(location.origin + "/api/boards/` + id + `/rescue").then((a) => a !== undefined)`)
	kept(`caches.keys().then((names) => Promise.all(names.map((n) => caches.open(n).then((c) => c.keys()))))
		.then((all) => ["Rescue", "Tell"].every((n) => all.flat().some((r) => r.url.includes("/" + n + "-"))))`)
	s.gone()
	s.wentWrong("Wasp catcher's board")
	s.do(s.kind("end"))
	s.draw(point{130, 60}, point{160, 60}, point{160, 85}, point{130, 85})
	s.do(s.press("Show the ways out"), s.see("kept on this device"), chromedp.Reload(), s.see("kept on this device"))
	s.back()
	s.do(s.see("were tried"))
	assert.Equal(t, 1.0, ofBoard[float64](s, "Wasp", "b.mishaps.length"))
}

// A made-up board is solved; nothing of it enters the records.
func TestPractice(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	lines := ask[float64](s, `fetch("/api/log?notes=true").then((r) => r.json()).then((l) => l.lines.length)`)
	s.do(chromedp.Navigate(s.url+"/logbook/practice"), s.see("Too deep in a curve"))
	s.accessible("Practice")
	s.do(s.press("A hole well off"), s.see("were tried"))
	assert.Zero(t, ask[float64](s, `document.querySelectorAll(".way-first").length`), "which is best is not told")
	s.do(s.click(`document.querySelector('[data-way="centred"] .way-open')`), s.press("This is what I would do"),
		s.see("There is a better way"), s.see("takes in the old one"))
	s.do(s.click(`document.querySelector('[data-way="wider-hole"] .way-open')`),
		s.press("This is what I would do"), s.see("That is the best way"))
	assert.Equal(t, lines,
		ask[float64](s, `fetch("/api/log?notes=true").then((r) => r.json()).then((l) => l.lines.length)`))
}
