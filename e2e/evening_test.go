package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/demo"
	"idletimber/store"
)

// installed waits until the page is one that is there without a network.
func (s *shop) installed() {
	s.t.Helper()
	s.do(s.wait(`navigator.serviceWorker.controller?.state === "activated"`))
	for _, path := range []string{"me", "shop", "tables", "bench"} {
		require.Eventually(s.t, func() bool {
			return ask[bool](s, `caches.match(location.origin + "/api/`+path+`").then((a) => a !== undefined)`)
		}, *patience, 50*time.Millisecond, path)
	}
}

// logged is the log of the sample shop since a moment, in the order in which it was pressed.
func (s *shop) logged(since time.Time) (out []store.Entry) {
	a, err := s.store.AccountByEmail(s.ctx, demo.Email)
	require.NoError(s.t, err)
	all, err := s.store.Log(s.ctx, a.Workshop, store.Wished{From: since, Oldest: true, Most: 1000})
	require.NoError(s.t, err)
	for _, e := range all {
		if e.At.After(since) {
			out = append(out, e)
		}
	}
	return out
}

// A whole evening without a signal: the page is opened anew meanwhile, crashes, and a week later all that was
// pressed is in the log once. A place that needs the server says so, and the rail stays.
func TestAnEveningWithoutASignal(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.installed()
	before := s.clock.Now()
	s.later(time.Minute)
	s.gone()
	card := func(n int) string { return fmt.Sprintf(`document.querySelectorAll("[data-card]")[%d]`, n) }
	s.do(
		chromedp.Navigate(s.url+"/bench"), // there is no server to ask
		s.see("The server is away"), s.see("Next"),
		s.wait(`document.querySelector("nav.rail") !== null`),
		s.click(card(0)+`.querySelector(".bench-do button")`),
		s.see("kept on this device"),
	)
	title := ask[string](s, card(0)+`.querySelector(".step-title").textContent`)
	s.do(chromedp.Reload(), s.see(title+", begun"), s.see("In hand"))
	s.do(chromedp.Navigate("about:blank"), chromedp.Navigate(s.url+"/bench"), s.see(title+", begun"))
	s.do(
		s.press("Finish"),
		s.field("Minutes it took", "12"),
		s.press("Write it down"),
		s.see(title+", finished"),
		chromedp.Reload(),
		s.see(title+", finished"),
		s.press(
			"Logbook",
		),
		s.see("The server does not answer"),
		s.wait(`document.querySelector("nav.rail") !== null`),
		s.press("Bench"),
		s.see(title+", finished"),
		// Whoever signs out is told that not all is sent.
		chromedp.Navigate(
			s.url+"/shop?part=you",
		),
		s.click(`[...document.querySelectorAll("#part button")].find((b) => b.innerText === "Sign out")`),
		s.see("2 presses wait"),
		s.press("Stay"),
	)
	assert.Empty(t, s.logged(before))
	s.later(7 * 24 * time.Hour)
	s.restart()
	s.back()
	s.do(chromedp.Navigate(s.url+"/bench"), s.wait(allSent), s.see("Next"),
		s.wait(`document.querySelector(".kept, .away-mark") === null`))
	got := s.logged(before)
	require.Len(t, got, 2)
	assert.Equal(t, "start", got[0].Event)
	assert.Equal(t, "finish", got[1].Event)
	assert.Equal(t, 12.0, got[1].Minutes)
	assert.WithinDuration(t, before, got[1].At, 5*time.Minute, "with the time at which it was pressed")
}

// presses are the lists of presses that the device keeps, with those that were sent or without.
const presses = `Object.entries(localStorage)
	.filter(([k]) => k.startsWith("idletimber-presses") && !k.endsWith("-last"))`

// pressesMade is how many presses were made on the device, sent or not.
const pressesMade = presses + `.reduce((n, [, v]) => n + JSON.parse(v).length, 0)`

// allSent tells whether nothing waits on the device.
const allSent = presses + `.every(([k, v]) => k.endsWith("-sent") || v === "[]")`

// later turns the clock on when the server has all that was pressed, so that it was pressed before.
func (s *shop) later(d time.Duration) {
	s.t.Helper()
	if !s.away.gone.Load() {
		s.do(s.wait(`location.protocol !== "http:" || ` + allSent))
	}
	s.clock.advance(d)
}

// noteClicks notes which step was pressed how and when, by what is seen where the pointer comes down; a button that
// writes nothing into the log may have moved there.
const noteClicks = `if (!window.notes) {
	window.notes = true;
	document.addEventListener("click", (e) => {
		const card = e.target.closest?.("[data-card]"), button = e.target.closest?.("button");
		if (!card || !button || !/^(Start|Go on|Pause|Not begun after all|Take it back)$/.test(button.innerText.trim()))
			return;
		const clicks = JSON.parse(sessionStorage.clicks ?? "[]");
		const back = /Done before: (.*?), \d/.exec(button.parentElement.textContent);
		clicks.push(back ? back[1] : card.querySelector(".step-title").textContent, button.innerText.trim(),
			new Date(Date.now() + Number(localStorage["idletimber-skew"])).toISOString());
		sessionStorage.clicks = JSON.stringify(clicks);
	}, true);
}`

// clicksMade is how many of them were noted.
const clicksMade = `JSON.parse(sessionStorage.clicks ?? "[]").length / 3`

// Two hundred presses in any order, with the signal lost, the page opened anew and the server killed in between: the
// log has each once, in their order, with their own time.
func TestTwoHundredPresses(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.installed()
	before := s.clock.Now()
	s.clock.tick()
	random := rand.New(rand.NewPCG(7, 7))
	events := map[string]string{"Start": "start", "Go on": "start", "Pause": "pause", "Not begun after all": "undo",
		"Take it back": "undo"}
	for ask[float64](s, clicksMade) < 200 {
		switch n := random.IntN(12); {
		case n == 0:
			s.gone()
		case n == 1:
			s.back()
			s.do(s.wait(allSent))
		case n == 2:
			s.do(chromedp.Reload(), s.wait(`document.querySelectorAll("[data-card]").length > 2`))
		case n == 3:
			s.gone()
			s.restart()
			s.back()
		}
		s.do(run(noteClicks))
		button := fmt.Sprintf(`(() => { const all = [...document.querySelectorAll("[data-card] button")]
			.filter((b) => !b.disabled && /^(Start|Go on|Pause|Not begun after all)$/.test(b.innerText.trim()));
			return all[%d %% all.length]; })()`, random.IntN(1000))
		count := ask[int](s, pressesMade)
		s.do(s.click(button))
		for look := 0; look < 40 && ask[int](s, pressesMade) <= count; look++ {
			s.do(run(`new Promise(requestAnimationFrame)`)) // what was pressed may just have moved away
		}
	}
	s.back()
	s.do(chromedp.Reload(), s.wait(allSent))
	got := s.logged(before)
	clicks := ask[[]string](s, `JSON.parse(sessionStorage.clicks)`)
	for i, e := range got { // the first that differs tells most
		require.Less(t, 3*i+1, len(clicks), "%s %s was never pressed", e.Title, e.Event)
		require.Equal(t, clicks[3*i]+" "+events[clicks[3*i+1]], e.Title+" "+e.Event, "press %d", i)
	}
	require.Len(t, got, len(clicks)/3)
	for i, e := range got {
		at, err := time.Parse(time.RFC3339, clicks[3*i+2])
		require.NoError(t, err)
		assert.WithinDuration(t, at, e.At, 2*time.Second, "press %d", i)
	}
}

// What is noticed at a step is written down there, also without a signal: words, a reading, a picture, a mishap; what
// was forgotten is set back. It is found in the logbook.
func TestWhatIsNoticedAtAStep(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.installed()
	card := `document.querySelector("[data-card]")`
	s.do(s.see("Next"), s.wait(card+" !== null"))
	key := ask[string](s, card+`.dataset.card`)
	in := `document.querySelector('[data-card="` + key + `"]')`
	write := func(name string, fill ...Action) {
		s.do(s.click(`[...`+in+`.querySelectorAll("button")].find((b) => b.innerText === "Write something down")`),
			s.wait(`document.querySelector(".note-form") !== null`), s.press(name))
		s.do(fill...)
		s.do(s.click(`document.querySelector(".note-form [type=submit]")`),
			s.wait(`document.querySelector(".note-form") === null`))
	}
	s.gone()
	write("In words", s.field("Words", "the far end lifts"))
	write("Thickness", s.field("Thickness", "21.4"))
	write("Time was lost", s.field("Days lost", "1"), s.field("Words, if you like", "slipped with the chisel"))
	file := filepath.Join(t.TempDir(), "seen.png")
	var img bytes.Buffer
	require.NoError(t, png.Encode(&img, image.NewGray(image.Rect(0, 0, 3000, 2000))))
	require.NoError(t, os.WriteFile(file, img.Bytes(), 0o600))
	write("A picture", chromedp.SetUploadFiles(chromedp.CSS(".take-picture input"), []string{file}, chromedp.NodeReady),
		s.wait(`document.querySelector(".take-picture img")?.naturalWidth === 1024`))
	s.do(s.see("the far end lifts"), chromedp.Reload(), s.see("slipped with the chisel"))
	s.back()
	s.do(s.wait(allSent), s.wait(in+" !== null"))
	write("Mass", s.wait(`document.querySelector(".sent")?.dataset.listening === "true"`),
		s.press("Press the bench scale"), s.see("the bench scale: "),
		s.wait(`Number(document.querySelector(".note-form input").value) > 100`))
	s.do(s.wait(allSent))

	s.do(s.click(`[...`+in+`.querySelectorAll("button")].find((b) => b.innerText === "Finish")`),
		s.field("Minutes it took", "9"), s.field("Finished how many minutes ago", "50"), s.press("Write it down"),
		s.wait(allSent))
	done := s.logged(s.clock.Now().Add(-time.Hour))
	done = slices.DeleteFunc(done, func(e store.Entry) bool { return e.Step != key })
	require.Len(t, done, 6)
	assert.True(t, slices.ContainsFunc(done, func(e store.Entry) bool { return e.What == "mass" && e.Value > 100 }))
	assert.Equal(t, "finish", done[0].Event, "it stands before what was written down since")
	assert.WithinDuration(t, s.clock.Now().Add(-50*time.Minute), done[0].At, 10*time.Second)

	s.do(chromedp.Navigate(s.url+"/logbook"), s.see("“the far end lifts”"), s.see("21.4 mm thick"),
		s.wait(`document.querySelector(".log img")?.naturalWidth === 1024`))
	s.accessible("logbook")
	s.thumb("logbook")
	s.do(s.field("Board, step or words", "CHISEL"), s.see("a day lost"),
		s.wait(`document.querySelectorAll(".log tbody tr").length === 1`),
		s.press("What it took"), s.see("By month"), s.see("1 in 1"))
	s.accessible("what it took")
	s.thumb("what it took")
}
