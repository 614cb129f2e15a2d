package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every main view, on the laptop and on the phone, by day and in the evening:
// no serious violation, no scrolling sideways.
func TestEveryPlaceIsAccessibleAndFits(t *testing.T) {
	for _, size := range [][2]int64{{1280, 800}, {390, 844}} {
		t.Run(fmt.Sprintf("%d", size[0]), func(t *testing.T) {
			t.Parallel() // nothing is measured here
			s := open(t, size[0], size[1])
			s.do(chromedp.Navigate(s.url), s.see("Open the sample shop"))
			s.accessible("door")
			s.fits("door")
			s.enter()
			board := ask[string](
				s,
				`fetch("/api/boards").then((r) => r.json()).then((l) => "/boards/" + l.items
					.find((b) => b.name.startsWith("Gate")).id)`,
			)
			piece := ask[string](
				s,
				`fetch("/api/pieces?q=weir+plane").then((r) => r.json()).then((l) => "/timber/" + l.items[0].id)`,
			)
			trial := ask[string](
				s, `fetch("/api/trials").then((r) => r.json()).then((l) => "/logbook/trials/" + l[0].id)`,
			)
			hurt := ask[string](
				s,
				`fetch("/api/boards").then((r) => r.json()).then((l) => "/boards/" + l.items
					.find((b) => b.name.startsWith("Lantern")).id + "/rescue")`,
			)
			views := []struct{ path, shows string }{
				{trial, "not told apart yet"}, {trial + "?part=samples", "All cut from"},
				{trial + "?part=rounds", "Scores: feel"}, {trial + "?part=ways", "Made so"},
				{trial + "?part=score", "Round 10"}, {"/shop?part=drawers", "What a kilogram costs"},
				{
					"/bench",
					"Curing and drying",
				}, {"/timber", "Weir plane"}, {piece, "Where it came from"}, {piece + "?part=outline", "Stations"},
				{piece + "?part=marks", "Both faces"}, {piece + "?part=thickness", "Resaw it"},
				{
					piece + "?part=moisture",
					"End grain",
				}, {piece + "?part=boards", "go to the stove"}, {piece + "/photo", "Lay a sheet of paper"},
				{piece + "/layout", "Biggest clean board"}, {piece + "/layout?part=search", "What you wish for"},
				{piece + "/layout?part=cuts", "Cuts in order"},
				{piece + "/layout?part=waste", "Back on the rack"},
				{"/timber/list", "The first line names the columns"}, {"/boards", "Gatekeepers"},
				{"/shelf", "Hemp cord"}, {"/shelf?part=buy", "What has a price"},
				{
					"/logbook",
					"Newest first",
				}, {"/logbook?part=ledger", "Your pace"}, {"/logbook?part=mishaps", "What costs you most"},
				{
					"/logbook/practice/web-sold",
					"were tried",
				}, {hurt, "were tried"}, {board + "/rescue", "What went wrong?"}, {"/shop", "Rules of thumb"},
				{
					board + "?stage=layout",
					"Cutting it out",
				}, {board + "?stage=fill", "Voids within"}, {board + "?stage=give", "Earliest finish"},
				{board + "?stage=give&part=card", "Its care page"}, {board + "?stage=give&part=price", "Add-ons"},
				{board + "?stage=give&part=back", "What do you see?"}, {"/runs?part=people", "Days that come back"},
				{"/runs?part=occasions", "have none yet"}, {"/runs?part=given", "What is to be oiled first"},
				{"/shelf?part=wood", "A cubic metre"},
				{
					board + "?stage=wood",
					"Density",
				}, {board + "?stage=flatten", "Wanted in the end"}, {board + "?stage=glue", "nothing is glued"},
				{board + "?stage=shape", "Templates"}, {board + "?stage=shape&part=handles", "Another handle"},
				{
					board + "?stage=shape&part=edges",
					"Natural edges stay",
				}, {board + "?stage=shape&part=recesses", "A well for olives"},
				{
					board + "?stage=shape&part=set",
					"Same again",
				}, {board + "/trace", "square from above"}, {board + "?stage=shape&part=cut", "Cut list"},
				{
					board + "?stage=sand",
					"Raising the grain",
				}, {board + "?stage=finish", "Add a coat"}, {board + "?stage=fit", "hanging cord"},
			}
			for _, view := range views {
				s.do(chromedp.Navigate(s.url+view.path), s.see(view.shows))
				s.accessible(view.path)
				s.fits(view.path)
				if size[0] < 600 {
					s.thumb(view.path)
				}
			}
			if size[0] > 600 { // the colours are the same on the phone
				s.do(run(`localStorage.setItem("idletimber-evening", "yes")`))
				for _, view := range views[:20] {
					s.do(chromedp.Navigate(s.url+view.path), s.see(view.shows))
					s.accessible(view.path + " in the evening")
				}
			}
			s.do(
				chromedp.KeyEvent("?"),
				s.see("While the drawing has the focus"),
				s.wait(`getComputedStyle(document.querySelector(".modal")).opacity === "1"`),
			)
			s.accessible("keys")
			assert.Empty(t, s.seen())
		})
	}
}

func TestTheBenchAtThePhone(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	card := `[data-card="cross-cut"]`
	in := func(name string) Action {
		find := fmt.Sprintf(
			`[...document.querySelector(%s).querySelectorAll("button")].find((b) => b.innerText.trim() === %s &&
				!b.disabled)`,
			quote(card),
			quote(name),
		)
		return s.click(find)
	}
	state := func(want string) Action {
		return s.wait(fmt.Sprintf(`document.querySelector(%s)?.dataset.state === %s`, quote(card), quote(want)))
	}
	s.do(s.see("Curing and drying"), s.see("resin to cure"), s.see("is too late by"))
	name := s.text(card + " a")
	s.do(in("Start"), state("running"), s.see("In hand"))
	tall := ask[float64](
		s,
		`Math.min(...[...document.querySelectorAll(".bench-do .btn-lg")].map((b) => b.getBoundingClientRect().height))`,
	)
	assert.GreaterOrEqual(t, tall, 44.0, "a thumb hits every button")
	s.later(7 * time.Minute)
	s.do(
		in("Pause"),
		state("paused"),
		s.wait(fmt.Sprintf(`document.querySelector(%s + " .timer").innerText === "7:00"`, quote(card))),
	)
	s.later(time.Hour)
	s.do(in("Go on"), state("running"), s.wait(allSent)) // or it would be late, by the page's own clock
	s.later(2 * time.Minute)
	s.do(
		chromedp.Reload(),
		s.see("In hand"),
		in("Finish"),
		s.wait(`[...document.querySelectorAll("label")].some((l) => l.innerText.startsWith("Minutes it took"))`),
	)
	assert.Regexp(
		t,
		`^9(\.\d)?$`,
		ask[string](s, `document.querySelector(`+quote(card+" input")+`).value`),
		"the hour of rest does not count",
	)
	s.do(
		s.field("Minutes it took", "11"),
		s.press("Write it down"),
		s.see("Done before: Cross-cut the blank, 11 min"),
	)

	s.step("A mistake is taken back; then the next step waits its time", func() {
		s.do(
			s.press("Take it back"),
			state("to do"),
			in("Finish"),
			s.field("Minutes it took", "10"),
			s.press("Write it down"),
			s.see("Done before: Cross-cut the blank, 10 min"),
		)
		for range 40 {
			if ask[bool](s, `document.querySelector('[data-wait^="raise"]') != null`) {
				break
			}
			key := ask[string](
				s,
				fmt.Sprintf(
					`(() => {
						document.querySelectorAll("[data-mine]").forEach((c) => c.removeAttribute("data-mine"));
						const c = [...document.querySelectorAll("[data-card]")]
							.find((o) => o.querySelector("a").innerText === %s);
						c?.setAttribute("data-mine", ""); // other boards have a step of that key too
						return c?.dataset.card ?? "";
					})()`,
					quote(name),
				),
			)
			if key == "" { // it waits for what was put into it
				s.later(12 * time.Hour)
				s.do(chromedp.Reload(), s.see("Bench"), s.wait(`document.querySelector("[data-card]") !== null`))
				continue
			}
			card = "[data-mine]"
			s.do(
				in("Finish"),
				s.press("Write it down"),
				s.wait(
					fmt.Sprintf(
						`![...document.querySelectorAll("[data-card]")].some((c) => c.dataset.card === %s &&
						c.querySelector("a").innerText === %s)`,
						quote(key),
						quote(name),
					),
				),
			)
		}
		s.do(s.see("look for its own colour"))
		left := ask[string](s, `document.querySelector('[data-wait^="raise"] .timer').innerText`)
		assert.Regexp(s.t, `^3\d:\d\d$`, left, "half an hour and more to dry")
		s.later(50 * time.Minute)
		s.do(chromedp.Reload(), s.wait(`document.querySelector('[data-wait^="raise"]') == null`),
			s.wait(fmt.Sprintf(`[...document.querySelectorAll('[data-card^="sand-"]')].some((c) =>
				c.querySelector("a").innerText === %s)`, quote(name))))
		s.fits("bench")
		s.accessible("bench")
		s.do(chromedp.Navigate(s.url+"/logbook"), s.see("taken back"), s.see("Newest first"))
		s.fits("logbook")
		assert.Empty(s.t, s.seen())
	})
}

// When the last step is done and the finish has rested, the board waits to be given.
func TestADoneBoardIsReadyToGive(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Evaluate[chromedp.Void](`(async () => {
		const bench = await (await fetch("/api/bench")).json();
		const { course } = bench.boards.find((b) => b.course.name.startsWith("Ladder"));
		for (const step of course.steps.filter((s) => s.state !== "done"))
			await fetch("/api/boards/" + course.subject.id + "/log", { method: "POST",
				headers: { "Content-Type": "application/json" }, body: JSON.stringify({ step: step.key,
					event: "finish", minutes: 5 }) });
	})()`, chromedp.EvalAwaitPromise), chromedp.Reload(), s.see("rest before food"))
	s.later(4 * 24 * time.Hour)
	s.do(
		chromedp.Reload(),
		s.see("Ready to give"),
		s.press("Ladder crew"),
		s.see("It is given away"),
		s.press("It is given away"),
		s.see("Not given after all"),
		s.press("Bench"),
		s.wait(`!document.body.innerText.includes("Ready to give")`),
		s.wait(`document.title === "Bench · Idle Timber"`),
	)
}

// A session that has ended leads to the door, and what was typed meanwhile is
// stored after it.
func TestTheSessionEnds(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "give")
	s.do(
		chromedp.Evaluate[chromedp.Void](`fetch("/api/sign-out", { method: "POST" })`, chromedp.EvalAwaitPromise),
		s.field("For whom", "the pickers"),
		s.see("You are signed out"),
		s.press("Logbook"),
		s.press("Open the sample shop"),
		s.see("Newest first"),
		s.wait(
			`fetch("/api/boards").then((r) => r.json()).then((l) => { window.stored = l.items
				.some((b) => b.for === "the pickers"); }) && window.stored`,
		),
	)
}

// sheet opens the sheet of a board of the sample shop.
func (s *shop) sheet(name, stage string) {
	s.t.Helper()
	path := ask[string](
		s,
		fmt.Sprintf(
			`fetch("/api/boards").then((r) => r.json()).then((l) => "/boards/" + l.items
				.find((b) => b.name.startsWith(%s)).id)`,
			quote(name),
		),
	)
	s.do(
		chromedp.Navigate(s.url+path+"?stage="+stage),
		s.see("Take to the shop"),
		s.wait(`document.querySelector(".drawing svg, .flatten-views svg, .card-views img") != null`),
	)
}

func TestTheServerGoesAway(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "give")
	s.away.gone.Store(true)
	s.do(s.field("For whom", "the pickers"), s.see("Not saved"), s.see("The server does not answer"))
	warned := ask[bool](
		s,
		`(() => { const e = new Event("beforeunload", { cancelable: true }); window.dispatchEvent(e);
			return e.defaultPrevented; })()`,
	)
	assert.True(t, warned, "closing the page would warn")
	s.do(s.field("Your own words", "Typed while it was away"), s.date("due", "2031-04-23"))
	s.away.gone.Store(false)
	s.do(
		s.see("Too late by"),
		s.saved(),
		chromedp.Reload(),
		s.wait(`[...document.querySelectorAll("textarea")].some((a) => a.value === "Typed while it was away")`),
	)
	assert.Equal(t, "the pickers", ask[string](s, `document.querySelector("input.form-control").value`))

	s.step("What is left behind unsaved is stored as soon as the server takes it", func() {
		s.away.gone.Store(true)
		s.do(s.field("For whom", "the packers"), s.see("Not saved"), s.press("Logbook"))
		s.away.gone.Store(false)
		s.do(
			s.wait(
				`fetch("/api/boards").then((r) => r.json()).then((l) => { window.packers = l.items
				.some((b) => b.for === "the packers"); }) && window.packers`,
			),
		)
		s.do(
			s.wait(
				`(() => { const e = new Event("beforeunload", { cancelable: true }); window.dispatchEvent(e);
				return !e.defaultPrevented; })()`,
			),
		)
	})
}

func TestChangedElsewhere(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	elsewhere := func(who string) Action {
		return chromedp.Evaluate[chromedp.Void](
			fmt.Sprintf(`fetch("/api" + location.pathname).then((r) => r.json()).then((sheet) => {
			sheet.board.give.for = %s;
			return fetch("/api" + location.pathname, { method: "PUT",
				headers: { "Content-Type": "application/json" }, body: JSON.stringify({ version: sheet.version,
					board: sheet.board }) });
		}).then((r) => { if (!r.ok) throw new Error(r.status); })`, quote(who)),
			chromedp.EvalAwaitPromise,
		)
	}
	who := `document.querySelector("input.form-control").value`
	s.sheet("Ladder", "give")
	s.do(
		elsewhere("somebody else"),
		s.field("For whom", "mine"),
		s.see("both have changed give, for"),
		s.press("Take the stored one"),
		s.wait(who+` === "somebody else"`),
		s.saved(),
	)
	s.do(
		elsewhere("a third"),
		s.field("For whom", "mine again"),
		s.see("changed elsewhere"),
		s.press("Keep mine"),
		s.saved(),
		chromedp.Reload(),
		s.wait(`document.querySelector("input.form-control") && `+who+` === "mine again"`),
	)
	// What does not overlap is joined without a question.
	s.do(
		elsewhere("somebody else again"),
		s.date("due", "2031-06-20"),
		s.saved(),
		s.wait(who+` === "somebody else again"`),
		chromedp.Reload(),
		s.wait(`document.querySelector("input[type=date]") && document.querySelector("input[type=date]").value ===
			"2031-06-20" && `+who+` === "somebody else again"`),
	)
}

func TestBadInputKeepsWhatWasTyped(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "layout")
	length := `document.querySelector('[name="board-length"]')`
	for typed, says := range map[string]string{"wide": "this is not a length", "1,200": "one comma and three digits",
		"1/0": "divided by zero", "-5": "negative", "12 m": "over 10 m"} {
		s.do(s.field("Length", typed), s.see(says))
		assert.Equal(t, typed, ask[string](s, length+`.value`), "what was typed stays to be mended")
	}
	s.do(chromedp.KeyEvent(kb.Escape), s.wait(length+`.value === "380 mm"`), s.saved())

	s.step("Huge, but a length: the field says what would be right, and is not left behind unasked", func() {
		s.do(
			s.field("Length", "9000"),
			s.see("Give a length from 30 mm to 5000 mm"),
			s.press("Boards"),
			s.see("Your last change is not saved"),
			s.press("Stay"),
			s.wait(`document.querySelector(".modal") == null`),
			s.wait(length+`.value === "9000"`),
			s.field("Length", "390"),
			s.saved(),
		)
	})

	s.step("What only the server can refuse is not left behind unasked", func() {
		s.do(
			s.field("Name of the board", "x"),
			chromedp.KeyEvent(kb.Backspace),
			s.see("the name is empty"),
			s.press("Boards"),
			s.see("Your last change is not saved"),
			s.press("Stay"),
			s.wait(`document.querySelector(".modal") == null`),
			s.field("Name of the board", "Ladder crew's cheese board"),
			s.saved(),
			s.press("Boards"),
			s.see("Choose wood for a board"),
		)
	})

	s.step("A name is needed; a station lies on the slab", func() {
		s.do(
			s.press("Timber"),
			s.press("Pear from the lane"),
			s.see("Where it came from"),
			s.field("Name", " "),
			chromedp.KeyEvent(kb.Backspace),
			s.see("the name is empty"),
			s.field("Name", "Pear again"),
			s.saved(),
			s.part("Edges"),
			s.wait(`document.querySelector('[name="station-1-x"]') != null`),
			run(`document.querySelector('[name="station-1-x"]').focus()`),
			chromedp.KeyEvent("9999"),
			s.see("lies off the slab"),
			chromedp.KeyEvent(kb.Escape),
			s.wait(`!document.body.innerText.includes("lies off the slab")`),
			s.saved(),
			chromedp.Reload(),
			s.wait(`document.querySelector('[name="station-1-x"]')?.value === "240 mm"`),
		)
		for _, gone := range []string{"/boards/made-up", "/timber/00000000-0000-0000-0000-000000000000"} {
			s.do(chromedp.Navigate(s.url+gone), s.see("no such thing in your workshop"))
		}
	})

	s.step("Nothing is made of what is mistyped, and all that was typed counts", func() {
		width := `document.querySelector(".modal .is-invalid")`
		s.do(
			chromedp.Navigate(s.url+"/timber"),
			s.press("Add a piece"),
			s.field("Species of the piece", "Unknown wood"),
			s.field("Width in the middle", "1/8 in"),
			s.see("Give a length from 10 mm"),
			s.press("Put it on the rack"),
			s.see("Set right what is marked first"),
			s.field("Width in the middle", "230"),
			s.wait(width+` == null`),
			s.field("Thickness of the piece", "41"),
			s.press("Put it on the rack"),
			s.see("Where it came from"),
		)
		sizes := slab[[]float64](s, `[p.slab.show[1].left * 2, p.slab.readings[0].thickness]`)
		assert.Equal(s.t, []float64{230, 41}, sizes)
	})
}

func TestTheDoor(t *testing.T) {
	s := open(t, 1280, 800)
	s.do(
		chromedp.Navigate(s.url),
		s.press("New here"),
		s.field("E-mail", "maker@example.org"),
		s.field("Password", "short"),
		s.press("Open a workshop"),
		s.see("10 or more"),
		s.field("Password", "long enough now"),
		s.press("Open a workshop"),
		s.see("Nothing is in work"),
		s.press("Shop"),
		s.press("You"),
		s.field("Old password", "wrong one here"),
		s.field("New password", "quite another one"),
		s.press("Change it"),
		s.see("the old password is wrong"),
		s.field("Old password", "long enough now"),
		s.press("Change it"),
		s.see("The password is changed"),
		s.press("Sign out"),
		s.see("Open the sample shop"),
		s.field("E-mail", "maker@example.org"),
		s.field("Password", "long enough now"),
		s.press("Sign in"),
		s.see("do not go together"),
		s.field("Password", "quite another one"),
		s.press("Sign in"),
		s.see("Nothing is in work"),
	)
}

// The rail and the page change the same document: neither is told that the
// other has changed it elsewhere.
func TestTheShopIsOneDocument(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	units := `[...document.querySelectorAll("select")].find((o) => o.value === "in" || o.value === "mm").value`
	s.do(
		s.press("Shop"),
		s.see("Rules of thumb"),
		s.press("mm"),
		s.wait(units+` === "in"`),
		s.field("Name", "Weir Lane"),
		s.saved(),
		s.press("inch"),
		s.wait(units+` === "mm"`),
		s.press("Rules of thumb"),
		s.field("Search the rules", "cup"),
		s.press("Resin left in the cup"),
		s.field("Resin left in the cup", "9"),
		s.see("Your own"),
		s.see("Back to 8 ml"),
		s.saved(),
		s.press("You"),
		s.tick("Evening colours"),
		s.wait(`document.documentElement.dataset.bsTheme === "dark"`),
		chromedp.Reload(),
		s.see("Rules of thumb"),
		s.wait(`document.documentElement.dataset.bsTheme === "dark"`),
	)
	assert.Equal(t, "Weir Lane", s.text(".shop-name"))
}

func TestAPlankKeepsWhatIsNatural(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "layout")
	s.do(s.choose("Shape", "plank"), s.see("keep the right edge"), s.noVerdict("live-edge", "stop"), s.saved())
	kept := ask[[]bool](
		s,
		`[...document.querySelectorAll(".work-panel input[type=checkbox]")].slice(0, 2).map((b) => b.checked)`,
	)
	assert.Equal(t, []bool{false, true}, kept, "only the right edge of this slab is natural")
}

// A live edge slopes: the under face is measured by itself, and what is usable
// is what both faces share.
func TestTheUnderFaceHasEdgesOfItsOwn(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(
		chromedp.Navigate(s.url+"/timber"),
		s.press("Weir plane"),
		s.part("Edges"),
		s.see("Stations"),
		s.wait(`document.querySelector(".slab-line") && !document.querySelector(".usable-line")`),
		s.press("Flip to the under face"),
		s.press("Measure the under face too"),
		s.wait(`document.querySelector('[name="station-2-left"]')?.value === "148 mm"`),
		run(
			`document.querySelector('[name="station-2-left"]').focus()`,
		),
		chromedp.KeyEvent("120"),
		s.wait(`document.querySelector(".usable-line")`),
		s.saved(),
		s.press("Flip to the show face"),
		s.wait(`document.querySelector('[name="station-2-left"]').value === "148 mm"`),
	)
	stored := ask[[]float64](
		s,
		`fetch("/api/pieces/" + location.pathname.split("/").pop()).then((r) => r.json())
			.then((p) => [p.slab.show[2].left, p.slab.under[2].left])`,
	)
	assert.Equal(t, []float64{148, 120}, stored)
	s.do(
		s.press("Flip to the under face"),
		s.press("The same as the show face"),
		s.wait(`!document.querySelector(".usable-line")`),
		s.see("taken to lie under"),
		s.saved(),
	)
}

func TestInchesEverywhere(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "layout")
	s.do(
		focus(),
		chromedp.KeyEvent("u"),
		s.wait(`document.querySelector('[name="board-length"]').value === '14 15/16"+'`),
		s.field("Length", `15 1/2`),
		s.wait(`document.querySelector(".dimension text").textContent === '15 1/2"'`),
		s.saved(),
	)
	sheet := ask[string](
		s,
		`fetch("/api" + location.pathname).then((r) => r.json()).then((r) => String(r.board.design.length))`,
	)
	assert.Equal(t, "393.7", sheet, "files and the store keep millimetres")
	s.do(s.press("Timber"), s.see(`28 3/8"− × `))
}

func TestAJobFileGoesOutAndIn(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "give")
	job := ask[string](s, `fetch("/api" + location.pathname + "/job.json").then((r) => r.text())`)
	require.True(t, json.Valid([]byte(job)))
	dir := t.TempDir()
	good, bad := filepath.Join(dir, "job.json"), filepath.Join(dir, "bad.json")
	require.NoError(t, os.WriteFile(good, []byte(job), 0o600))
	require.NoError(t, os.WriteFile(bad, []byte(`{"schema": 1, "boards": "none"`), 0o600))
	s.do(
		s.press("Boards"),
		s.see("Take in a job file"),
		chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{bad}, chromedp.NodeReady),
		s.wait(`document.querySelector("[role=alert]") != null`),
		chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{good}, chromedp.NodeReady),
		s.see("Take to the shop"),
		s.wait(`document.querySelector(".title-field").value.startsWith("Ladder")`),
	)
}
