package e2e

import (
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// board asks for a value of the open board as it is stored, with its reckoning.
func board[T any](s *shop, of string) T {
	s.t.Helper()
	return ask[T](
		s,
		`fetch("/api/boards/" + location.pathname.split("/")[2]).then((r) => r.json()).then((b) => `+of+`)`,
	)
}

// redesign stores the open board with parts of its design changed, from what it is
// as b, and opens it again.
func (s *shop) redesign(parts string) {
	s.t.Helper()
	s.do(run(`(async () => {
		const url = "/api/boards/" + location.pathname.split("/")[2];
		const b = await fetch(url).then((r) => r.json());
		Object.assign(b.board.design, `+parts+`);
		await fetch(url, { method: "PUT", headers: { "Content-Type": "application/json" },
			body: JSON.stringify({ version: b.version, board: b.board }) });
		window.stored = true;
	})()`), s.wait(`window.stored`), chromedp.Reload())
}

// focus gives the drawing the keys.
func focus() Action { return run(`document.querySelector(".drawing svg").focus()`) }

const over = `b.reckoning.boards[0].box`

// Half a template is drawn from one end of the centre line to the other; what
// is moved on one half moves on both.
func TestAMirroredTemplate(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "shape")
	s.do(
		s.press("Draw on from this by points"),
		s.see("points. Drag them"),
		s.tick("Half a template: the other half mirrors it"),
		s.wait(`document.querySelectorAll(".node-mirror").length > 1`),
		s.saved(),
	)
	points := ask[int](s, `document.querySelectorAll("[data-grip]").length`)
	s.do(
		drag(
			s.at(`[data-grip="node-1"]`, 0.5, 0.5),
			point{s.at(`[data-grip="node-1"]`, 0.5, 0.5).X, s.at(`[data-grip="node-1"]`, 0.5, 0.5).Y - 30},
		),
		s.see("Point 2"),
		s.saved(),
	)
	box := board[[]float64](s, over)
	assert.InDelta(t, box[3], -box[1], 0.05, "the right half is the mirror of the left")
	assert.Greater(t, box[3], 88.0)

	// By keys and by numbers.
	s.do(focus(), chromedp.KeyEvent("]"), chromedp.KeyEvent("["), chromedp.KeyEvent(kb.ArrowUp), s.saved())
	moved := board[[]float64](s, over)
	assert.InDelta(t, box[3]+1, moved[3], 0.6)
	s.do(
		s.press("Add a point after it"),
		s.wait(fmt.Sprintf(`document.querySelectorAll("[data-grip]").length > %d`, points)),
		focus(),
		chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)),
		s.wait(fmt.Sprintf(`document.querySelectorAll("[data-grip]").length === %d`, points)),
	)

	s.step("Kept as a template, it is used on another board", func() {
		s.do(
			s.field("Keep this shape as", "mirrored"),
			s.press("Keep it"),
			s.wait(`document.querySelector(".kept-shape") != null`),
			s.saved(),
		)
		s.sheet("Kitchen", "shape")
		s.do(s.press("mirrored"), s.see("points. Drag them"), s.saved())
		assert.InDeltaSlice(s.t, moved, board[[]float64](s, over), 0.01)
		assert.Empty(s.t, s.seen())
	})
}

// A batten is bent between two points: its rise is typed, or pulled by its grip.
func TestABattenCurve(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(
		s.field("Corners", "0"),
		s.see("522 cm²"),
		s.saved(),
		s.press("Draw on from this by points"),
		s.see("4 points"),
		s.saved(),
		focus(),
		chromedp.KeyEvent("]"),
		s.see("Point 1"),
		s.choose("To the next point", "batten"),
		s.field("Rise, outward", "30"),
		s.saved(),
	)
	box := board[[]float64](s, over)
	assert.InDelta(t, 145+30, box[3]-box[1], 0.1)
	grip := s.at(`[data-grip="node-rise-0"]`, 0.5, 0.5)
	s.do(drag(grip, point{grip.X, grip.Y - 25}), s.saved())
	assert.Less(t, board[[]float64](s, over)[3]-board[[]float64](s, over)[1], 145+29.0)
	s.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)), s.saved())
	assert.InDeltaSlice(t, box, board[[]float64](s, over), 1e-6, "a drag is one step to undo")

	s.step("A corner is rounded by tracing a round thing, another is cut off, an edge moved in", func() {
		area := func() float64 {
			return board[float64](s, `b.reckoning.boards[0].figures.find((f) => f.key === "shape.area").value`)
		}
		becomes := func(want float64) {
			t.Helper()
			require.Eventually(
				s.t,
				func() bool { return math.Abs(area()-want) < 0.05 },
				10*time.Second,
				50*time.Millisecond,
			)
		}
		before := area()
		s.do(
			focus(),
			chromedp.KeyEvent("]"),
			chromedp.KeyEvent("]"),
			s.see("Point 3"),
			s.field("or trace a round thing of", "60"),
		)
		traced := before - 9*(1-math.Pi/4)
		becomes(traced)
		s.do(
			focus(),
			chromedp.KeyEvent("]"),
			s.see("Round at point 3"),
			chromedp.KeyEvent("]"),
			s.see("Point 4"),
			s.field("or cut it off by", "20"),
		)
		becomes(traced - 2)
		assert.Empty(s.t, s.seen())
	})
}

// A handle that would break off is brought in by one press; what the remedy
// would make worse is said beside it.
func TestAHandleThatFailsIsRemedied(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(
		s.part("Handles"),
		s.choose("Handle", "heart"),
		s.field("From the end", "28"),
		s.verdict("web", "stop"),
		s.press("Move the heart-shaped hole"),
		s.noVerdict("web", "stop"),
		s.saved(),
	)
	hole := s.at(`[data-grip="handle-0"]`, 0.5, 0.5)
	s.do(press(hole), moveTo(point{hole.X + 20, hole.Y}), moveTo(point{hole.X + 55, hole.Y}), s.verdict("web", "stop"))
	s.do(
		release(point{hole.X + 55, hole.Y}),
		chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)),
		s.noVerdict("web", "stop"),
	)
	s.do(
		s.part("Recesses"),
		s.press("+ Well"),
		s.field("Depth", "20"),
		s.verdict("recess-floor", "stop"),
		s.press("Sink it only"),
		s.noVerdict("recess-floor", "stop"),
		s.see("guide bush"),
		s.saved(),
	)
	s.do(
		s.part("Cut"),
		s.see("Bore an entry hole for the heart-shaped hole"),
		s.see("End grain first"),
		s.press("Record the outline as cut"),
		s.see("Back to the planned outline"),
		s.saved(),
	)
	edge := s.at(`[data-grip="cut-1"]`, 0.5, 0.5)
	s.do(drag(edge, point{edge.X, edge.Y + 12}), s.wait(`document.querySelector(".planned-line") != null`), s.saved())
	assert.Greater(t, board[int](s, `b.board.design.asCut.length`), 3)
	s.do(s.press("Back to the planned outline"), s.wait(`document.querySelector(".planned-line") == null`), s.saved())
	assert.Empty(t, s.seen())
}

// What a remedy would spoil is said beside it, once nothing changes.
func TestARemedySaysWhatItSpoils(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.redesign(
		`{ shape: "rectangle", length: 360, width: 140, thickness: 20,
			handle: { ...b.board.design.handle, kind: "none" },
			recesses: [{ kind: "well", length: 120, width: 80, radius: 6, depth: 12, juice: 125, x: 0, y: 0 }] }`,
	)
	s.do(
		s.wait(
			`document.querySelector(".worsens")?.innerText.startsWith("but floor left under the well")`,
		),
	)
	if dir := os.Getenv("LOOK"); dir != "" {
		s.picture(filepath.Join(dir, "worsens.png"))
	}
	assert.Empty(t, s.seen())
}

// Every dimension has a grip: a plank's ends, the point of a heart, slanting
// edges, and each point of a hole that is drawn by points.
func TestEveryDimensionIsDragged(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	by := func(grip string, dx, dy float64) {
		t.Helper()
		at := s.at(`[data-grip="`+grip+`"]`, 0.5, 0.5)
		s.do(drag(at, point{at.X + dx, at.Y + dy}), s.saved())
	}
	s.do(s.choose("Shape", "heart"), s.field("Radius of the point", "12"), s.saved())
	by("tip", 20, 0)
	by("slant", 0, -12)
	assert.Greater(t, board[float64](s, `b.board.design.tip`), 12.0)
	assert.Greater(t, board[float64](s, `b.board.design.slant`), 2.0)
	s.do(s.choose("Shape", "plank"), s.choose("Handle end", "tab"), s.choose("Far end", "angle"), s.saved())
	by("handleEnd-width", 0, -12)
	assert.Greater(t, board[float64](s, `b.board.design.handleEnd.width`), 55.0)
	by("farEnd-angle", 15, 0)
	assert.Less(t, board[float64](s, `b.board.design.farEnd.angle`), 9.5)

	s.do(s.part("Handles"), s.choose("Handle", "own"), s.see("6 points. Drag them"), s.saved())
	was := board[float64](s, `b.board.design.handle.nodes[2].x`)
	by("own-0-2", -10, 0)
	assert.Less(t, board[float64](s, `b.board.design.handle.nodes[2].x`), was-2)
	s.do(s.see("Point 3"), s.field("To the next point", "arc"))
	assert.Empty(t, s.seen())
}

// At the bench a finger drags a grip as a mouse does.
func TestAFingerDragsAGrip(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(run(`document.querySelector('[data-grip="length"]').scrollIntoView({ block: "center" })`))
	was := board[float64](s, `b.board.design.length`)
	at := s.at(`[data-grip="length"]`, 0.5, 0.5)
	finger := func(kind input.DispatchTouchEventType, where ...*input.TouchPoint) Action {
		return func(ctx context.Context, t *chromedp.Target) (v chromedp.Void, err error) {
			_, err = cdp.Call(
				ctx,
				t,
				input.DispatchTouchEvent,
				input.DispatchTouchEventParams{Type: kind, TouchPoints: append([]*input.TouchPoint{}, where...)},
			)
			return v, err
		}
	}
	along := func(dx float64) *input.TouchPoint { return &input.TouchPoint{X: at.X + dx, Y: at.Y} }
	s.do(
		finger("touchStart", along(0)),
		finger("touchMove", along(10)),
		finger("touchMove", along(24)),
		finger("touchEnd"),
		s.saved(),
	)
	assert.Less(t, board[float64](s, `b.board.design.length`), was-10)
	assert.Empty(t, s.seen())
}

// A board is split by a curve into two that nest; the set is shown and judged.
func TestASetThatNests(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(
		s.part("Set"),
		s.press("Draw a line across"),
		s.wait(`document.querySelector(".split-line")?.getAttribute("d").includes("C")`),
	)
	grip := s.at(`[data-grip="line-1"]`, 0.5, 0.5)
	s.do(
		drag(grip, point{grip.X, grip.Y - 12}),
		s.press("Split the board"),
		s.wait(`document.querySelectorAll(".nest").length === 2`),
		s.verdict("mate", "good"),
		s.saved(),
	)
	s.step("each against every other", func() {
		s.do(
			s.wait(`document.querySelectorAll('.set-table [data-fits="true"]').length === 2`),
			s.press("Every pair must mate"), s.wait(`document.querySelectorAll(".set-table td").length === 4`),
			s.see("✓"),
		)
		s.accessible("a set")
	})
	mate := board[string](s, `b.board.mates[0].board`)
	s.do(
		s.field("Gap wanted", "0.5"),
		s.saved(),
		s.field("to the left", "0"),
		s.verdict("mate", "stop"),
		focus(),
		chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)),
		s.noVerdict("mate", "stop"),
		s.saved(),
	)
	s.do(
		chromedp.Navigate(s.url+"/boards/"+mate+"?stage=shape&part=set"),
		s.wait(`document.querySelectorAll(".nest").length === 2`),
		s.verdict("mate", "good"),
	)
	s.do(
		s.field("How many more", "2"),
		s.press("Same again × 2"),
		s.wait(
			`fetch("/api/boards").then((r) => r.json()).then((l) => { window.laid = l.items.length }) &&
				window.laid >= 7`,
		),
		s.saved(),
		chromedp.Navigate(s.url+"/boards"),
		s.see("its mate, 3"),
	)
	assert.Empty(t, s.seen())
}

// A slicer board for a left hand: its bore is named on the drawing, and turns
// over with it.
func TestASlicerBoard(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "fit")
	shim := `document.querySelector('[data-figure="fit.shim"] strong')?.innerText`
	s.do(
		s.tick("A wire slicer"),
		s.see("hole for the arm, right side"),
		s.choose("For", "left"),
		s.see("hole for the arm, left side"),
		s.wait(shim+` != null`),
		s.saved(),
	)
	was := ask[string](s, shim)
	s.do(
		s.field("Below the show face", "2"),
		s.verdict("slicer-bore", "stop"),
		s.wait(shim+` !== `+quote(was)),
		s.press("Bore it"),
		s.noVerdict("slicer-bore", "stop"),
		s.wait(shim+` === `+quote(was)), // as deep as it was before
		s.see("mirrored, the slot ruins the piece"),
	)
	up := s.at(".spot text", 0.5, 0.5).Y
	s.do(s.press("Turn to its under face"), s.see("Turn to its show face"))
	assert.Greater(t, s.at(".spot text", 0.5, 0.5).Y, up, "seen from below, the left side lies at the other hand")
	s.do(
		s.tick("Pulls screwed on"),
		s.see("hole 1 of pull 1"),
		s.field("Head sunk", "30"),
		s.verdict("pull-screws", "stop"),
	)
	assert.Empty(t, s.seen())
}

// The template is printed true: its bar measures 100 mm.
func TestATemplateIsPrintedTrue(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "shape")
	s.do(s.press("Take to the shop"), s.see("Half a template"))
	link := ask[string](
		s,
		`[...document.querySelectorAll("a.dropdown-item")]
			.find((a) => a.innerText === "Template 1:1, A4").getAttribute("href")`,
	)
	file := s.download(link)
	const dots = 300
	require.NoError(
		t,
		exec.Command("pdftoppm", "-r", fmt.Sprint(dots), "-f", "1", "-singlefile", "-png", file, file).Run(),
	)
	f, err := os.Open(file + ".png")
	require.NoError(t, err)
	defer f.Close()
	page, err := png.Decode(f)
	require.NoError(t, err)
	box := page.Bounds()
	measured := []float64{}
	for y := box.Max.Y * 9 / 10; y < box.Max.Y; y++ {
		run := 0
		for x := box.Min.X; x < box.Max.X; x++ {
			if r, _, _, _ := page.At(x, y).RGBA(); r < 0x8000 {
				run++
			} else {
				if mm := float64(run) * 25.4 / dots; mm > 99 && mm < 101 {
					measured = append(measured, mm)
				}
				run = 0
			}
		}
	}
	require.NotEmpty(t, measured, "there is a bar")
	for _, mm := range measured {
		assert.InDelta(t, 100, mm, 0.2)
	}
}

// Moving one of 200 points: what the page does for a pointer move, and the draft
// that follows it.
func TestDraggingOneOfManyPoints(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.redesign(
		`{ shape: "free", nodes: [...Array(200)].map((_, i) => { const a = 2 * Math.PI * i / 200,
			r = 1 + 0.05 * Math.sin(i / 5);
			return { x: 160 * r * Math.cos(a), y: 65 * r * Math.sin(a), kind: "smooth" }; }) }`,
	)
	s.do(s.wait(`document.querySelectorAll('[data-grip^="node-"]').length === 200`))
	took := ask[[]float64](s, `new Promise((done) => {
		const grip = document.querySelector('[data-grip="node-40"]'), svg = grip.closest("svg"),
			at = grip.getBoundingClientRect();
		const x = at.x + at.width / 2, y = at.y + at.height / 2, took = [];
		const send = (on, type, dx, dy) => on.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1,
			clientX: x + dx, clientY: y + dy }));
		svg.setPointerCapture = () => {};
		send(grip, "pointerdown", 0, 0);
		let i = 0;
		const later = () => new Promise((go) => { const c = new MessageChannel(); c.port1.onmessage = go;
			c.port2.postMessage(0); });
		const step = async () => {
			if (i++ === 120) { send(svg, "pointerup", 0, 0); return done(took); }
			await later(); // past the painting of the frame
			const was = grip.getAttribute("cx"), from = performance.now();
			send(svg, "pointermove", i % 2 ? 6 : -6, i % 5);
			while (grip.getAttribute("cx") === was) await later(); // until it is committed
			if (i > 20) took.push(performance.now() - from); // warm by then
			requestAnimationFrame(step);
		};
		step();
	})`)
	slices.Sort(took)
	t.Logf("a pointer move over 200 points: median %.1f ms, p95 %.1f ms", took[len(took)/2], took[len(took)*95/100])
	assert.Len(t, took, 100)
	s.do(s.saved())
	assert.Empty(t, s.seen())
}

// Bark that is kept is told, and taken off by one press; damp wood that makes a board late
// is milled thinner by one.
func TestBarkAndDampWood(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Gatekeepers", "flatten")
	s.do(
		s.choose("Bark on its left edge", "kept"),
		s.verdict("bark", "mind"),
		s.press("Take it off to the inner bark"),
		s.noVerdict("bark", "mind"),
		s.saved(),
	)
	assert.Equal(t, "inner", board[string](s, `b.board.cut.bark`))
	s.sheet("Kitchen", "give")
	s.do(
		s.see("Let the wood come to rest"),
		s.press("Mill it to 28 mm before it rests"),
		s.see("Mill it to 28 mm first"),
		s.saved(),
	)
	assert.Equal(t, 28.0, board[float64](s, `b.board.cut.millFirst`))
	assert.Empty(t, s.seen())
}

// A template on a picture, scaled by two marks that are dragged, becomes the outline of a board.
func TestATemplateTracedFromAPicture(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(s.press("Trace a picture"), s.see("square from above"))
	img := image.NewRGBA(image.Rect(0, 0, 600, 400))
	for y := range 400 {
		for x := range 600 {
			img.SetRGBA(x, y, color.RGBA{110, 120, 110, 255})
			dx, dy := float64(x-300)/180, float64(y-200)/100
			if dx*dx+dy*dy < 1 { // an oval of 360 × 200 pixels
				img.SetRGBA(x, y, color.RGBA{200, 150, 90, 255})
			}
		}
	}
	file := filepath.Join(t.TempDir(), "template.png")
	out, err := os.Create(file)
	require.NoError(t, err)
	require.NoError(t, png.Encode(out, img))
	require.NoError(t, out.Close())
	s.do(
		chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}, chromedp.NodeReady),
		s.see("Its scale"),
	)
	s.step("the marks are dragged to the ends of the oval", func() {
		// Where a place of the picture is seen.
		seen := func(x, y float64) point {
			return ask[point](s, fmt.Sprintf(`(() => { const r = document.querySelector(".photo-room svg image")
				.getBoundingClientRect();
				return { x: r.x + r.width * %v / 600, y: r.y + r.height * %v / 400 }; })()`, x, y))
		}
		s.do(
			drag(
				s.at(`[data-grip="0"]`, 0.5, 0.5),
				seen(120, 200),
			),
			drag(s.at(`[data-grip="1"]`, 0.5, 0.5), seen(480, 200)),
			s.field(
				"Between the marks",
				"270",
			),
			chromedp.KeyEvent(kb.Tab),
			s.press("Trace the shape"),
			s.see("Take this outline"),
		)
		s.accessible("trace")
		long := ask[float64](s, `parseFloat(document.querySelector(".found-words").innerText)`)
		assert.InDelta(t, 270, long, 4)
	})
	s.do(s.press("Take this outline"), s.see("Templates"), s.wait(`location.pathname.endsWith("/trace") === false`))
	assert.Equal(t, "free", board[string](s, `b.board.design.shape`))
	assert.InDelta(t, 270, board[float64](s, `b.board.design.length`), 4)
	assert.InDelta(t, 150, board[float64](s, `b.board.design.width`), 4)
}
