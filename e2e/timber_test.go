package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// piece opens a piece of the rack by the beginning of its name.
func (s *shop) piece(name string) {
	s.t.Helper()
	s.do(chromedp.Navigate(s.url+"/timber"), s.see(name), s.press(name), s.see("Where it came from"))
}

// slab asks for a value of the open piece's document as it is stored.
func slab[T any](s *shop, of string) T {
	s.t.Helper()
	return ask[T](
		s,
		`fetch("/api/pieces/" + location.pathname.split("/")[2]).then((r) => r.json()).then((p) => `+of+`)`,
	)
}

// From a photograph to an outline, and to a flaw marked on the picture.
func TestFromAPhotographToFlaws(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.piece("Chestnut")
	s.do(s.part("Edges"), s.press("From a photograph"), s.see("Lay a sheet of paper"))
	file := filepath.Join(t.TempDir(), "not-a-picture.png")
	require.NoError(t, os.WriteFile(file, []byte("<svg/>"), 0o600))
	s.do(
		chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}, chromedp.NodeReady),
		s.see("no PNG or JPEG"),
		s.press("Try a sample picture"),
		s.see("2. The sheet"),
		s.wait(`document.querySelectorAll("[data-grip]").length === 4`),
	)

	// A corner is put wrong, and right again by keys.
	corner := s.at(`[data-grip="1"]`, 0.5, 0.5)
	s.do(
		drag(corner, point{corner.X - 40, corner.Y + 30}),
		s.wait(fmt.Sprintf(`document.querySelector('[data-grip="1"]').getBoundingClientRect().x < %v - 25`, corner.X)),
		drag(
			point{corner.X - 40, corner.Y + 30},
			corner,
		),
		run(`document.querySelector(".photo-room svg").focus()`),
		chromedp.KeyEvent(kb.ArrowLeft),
		chromedp.KeyEvent(kb.ArrowRight),
		s.press("Find the edge of the wood"),
		s.see("Expect it to be right"),
		s.wait(`document.querySelector(".found-line") != null`),
	)
	nodes := `document.querySelectorAll("[data-grip]").length`
	before := ask[int](s, nodes)
	s.do(s.field("Simplify within", "3"), s.wait(fmt.Sprintf(`%s < %d`, nodes, before)))
	found := ask[float64](s, `parseFloat(document.querySelector(".found-words").textContent)`)
	// The node farthest along is dragged past the end that was found: the piece grows with it.
	// Where several lie close together, it is the one on top that is taken.
	far := ask[int](s, `(() => {
		const all = [...document.querySelectorAll("[data-grip]")], box = all.map((e) => e.getBoundingClientRect());
		const at = box.reduce((f, b, i) => (b.x > box[f].x ? i : f), 0);
		return Number(document.elementFromPoint(box[at].x + box[at].width / 2,
			box[at].y + box[at].height / 2).getAttribute("data-grip") ?? all[at].getAttribute("data-grip"));
	})()`)
	node := s.at(fmt.Sprintf(`[data-grip="%d"]`, far), 0.5, 0.5)
	s.do(
		drag(node, point{node.X + 6, node.Y}),
		s.wait(
			fmt.Sprintf(
				`(() => { const b = document.querySelector('[data-grip="%d"]').getBoundingClientRect();
					return b.x + b.width / 2 > %v + 3; })()`,
				far,
				node.X,
			),
		),
		s.press("Take this outline"),
		s.see("Drawn by"),
		s.wait(`document.querySelector(".drawing image") != null`),
	)
	long := slab[float64](s, `p.slab.length`)
	assert.InDelta(t, 600, found, 4)
	assert.Greater(t, long, found)
	assert.GreaterOrEqual(
		t,
		long,
		slab[float64](s, `Math.max(...p.slab.outline.map((n) => n.x))`),
		"it reaches as far as its farthest node",
	)
	assert.Greater(t, slab[int](s, `p.slab.outline.length`), 10)

	s.do(s.saved(), s.part("Faces"), s.press("Mark a flaw"), s.press("Knot"), s.see("Drag along it"))
	s.do(
		drag(s.at(".slab-line", 0.2, 0.5), s.at(".slab-line", 0.22, 0.5)),
		s.wait(`document.querySelectorAll("[data-flaw]").length === 2`),
		s.saved(),
		chromedp.Reload(),
		s.see("Worth showing"),
		s.wait(`document.querySelectorAll("[data-flaw]").length === 2`),
	)
	assert.InDelta(t, 120, slab[float64](s, `p.slab.flaws[1].centre.x`), 8)

	s.step("A node of what was taken over is moved by keys", func() {
		x := slab[float64](s, `p.slab.outline[0].x`)
		s.do(
			s.part("Edges"),
			s.wait(`document.querySelector(".drawing [data-grip]") != null`),
			focus(),
			chromedp.KeyEvent("]"),
			s.see("Node 1: from the butt"),
			chromedp.KeyEvent(kb.ArrowRight),
			s.saved(),
		)
		assert.InDelta(s.t, x+1, slab[float64](s, `p.slab.outline[0].x`), 1e-6)
		assert.Empty(s.t, s.seen())
	})
}

// A damp piece is read with the meter again and again until it is ready.
func TestADryingPieceBecomesReady(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.piece("Chestnut")
	s.do(
		s.part("Moisture"),
		s.see("Still damp for the home it goes to"),
		s.see("Milled thinner first"),
		s.see("Listening"),
	)
	read := func() Action {
		return chromedp.Steps(
			s.press("Press the pin meter into it"),
			s.see("the pin meter shows"),
			s.press("Keep it"),
			s.wait(`!document.body.innerText.includes("the pin meter shows")`),
			s.saved(),
		)
	}
	s.do(read())
	assert.Equal(t, "the pin meter", slab[string](s, `p.slab.moisture.at(-1).by`))
	assert.InDelta(t, 14.1, slab[float64](s, `p.slab.moisture.at(-1).percent`), 0.5)
	for i := 0; i < 8 && !ask[bool](s, `document.body.innerText.includes("In balance with the home it goes to")`); i++ {
		for range 4 { // who comes by every ten days stays signed in
			s.later(10 * 24 * time.Hour)
			ask[bool](s, `fetch("/api/me").then((r) => r.ok)`)
		}
		s.do(read())
	}
	s.do(s.see("In balance with the home it goes to"))
	assert.True(t, slab[bool](s, `p.wood.ready`))

	s.step("It goes to another home: not ready for that one", func() {
		s.do(
			s.choose("Its boards go to", "a house in the humid tropics"),
			s.see("Drier than the home it goes to"),
			s.saved(),
			s.choose("Its boards go to", "usual"),
			s.see("In balance with the home it goes to"),
			s.saved(),
		)
		s.do(
			s.field("A piece that has lived there reads", "14"),
			s.see("The home-dry piece"),
			s.see("Drier than the home"),
			s.saved(),
		)
	})

	s.step("The rings are turned and bent by keys; the cup is told", func() {
		s.do(
			s.field("A piece that has lived there reads", "0"),
			run(`document.querySelector(".end-grain svg").focus()`),
			chromedp.KeyEvent(kb.ArrowRight),
			s.wait(`document.querySelector("[role=slider]").getAttribute("aria-valuenow") === "2"`),
			chromedp.KeyEvent(kb.ArrowUp),
			s.see("Cups across the year by"),
			s.saved(),
		)
		s.do(chromedp.Navigate(s.url+"/timber?ready=ready"), s.see("Chestnut crook"), s.see("11 ready"))
		assert.Empty(s.t, s.seen())
	})
}

func TestResawing(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.piece("Hornbeam")
	s.do(
		s.part("Thickness"),
		s.see("Resaw it"),
		s.press("It is sawn"),
		s.see("boards still to be made lie on this piece"),
	)
	s.piece("Chestnut")
	s.do(
		s.part("Thickness"),
		s.field("Leaves", "9"),
		s.press("It is sawn"),
		s.see("saw fewer leaves"),
		s.field("Leaves", "2"),
		s.press("It is sawn"),
		s.wait(`document.querySelector("h1").innerText === "Chestnut crook, leaf 1 of 2"`),
	)
	first := slab[[]float64](s, `[p.slab.readings[0].thickness, p.slab.show[0].left, p.slab.show[0].right]`)
	s.do(
		s.press("What it was part of"),
		s.wait(`document.querySelector("h1").innerText === "Chestnut crook"`),
		s.part("Laid"),
		s.see("Cut up"),
		s.press("Chestnut crook, leaf 2 of 2"),
		s.wait(`document.querySelector("h1").innerText.endsWith("leaf 2 of 2")`),
	)
	second := slab[[]float64](s, `[p.slab.readings[0].thickness, p.slab.show[0].left, p.slab.show[0].right]`)
	assert.InDelta(t, first[0], second[0], 0.01)
	assert.InDelta(
		t,
		first[1],
		-second[2],
		2,
		"opened like a book, one mirrors the other but for the slope of the edge",
	)
	s.do(
		chromedp.Navigate(s.url+"/timber"),
		s.see("leaf 1 of 2"),
		s.see("13 pieces"),
		s.choose("Where", "cut"),
		s.see("2 pieces,"),
		s.press("Chestnut crook"),
		s.part("Laid"),
		s.press("Put it back on the rack"),
		s.wait(`!document.body.innerText.includes("Cut up")`),
	)
	assert.Empty(t, s.seen())
}

// The boards are cut; what is left comes back as pieces with their true outlines.
func TestOffcutsComeBack(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.piece("Weir plane")
	s.do(s.part("Laid"), s.wait(`document.querySelectorAll(".leftovers li").length > 3`))
	kept := ask[int](s, `document.querySelectorAll(".leftovers input:checked").length`)
	require.Greater(t, kept, 1)
	s.do(
		s.click(`document.querySelector(".leftovers input:checked")`),
		s.wait(fmt.Sprintf(`document.querySelectorAll(".leftovers input:checked").length === %d`, kept-1)),
		s.press("The boards are cut"),
		s.see("Cut up"),
		s.see("Weir plane, first slab, offcut 1"),
		s.press("Weir plane, first slab, offcut 1"),
		s.wait(`document.querySelector("h1").innerText.endsWith("offcut 1")`),
	)
	assert.Equal(t, "offcut", slab[string](s, `p.slab.stock`))
	assert.Greater(t, slab[int](s, `p.slab.outline.length`), 6)
	s.do(chromedp.Navigate(s.url+"/timber?stock=offcut"), s.see(fmt.Sprintf("%d piece", kept-1)))
	s.do(chromedp.Navigate(s.url+"/boards"), s.see("Beekeeper"))
	assert.Empty(t, s.seen())
}

func TestAListWithBadLines(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	dir := t.TempDir()
	list, broken := filepath.Join(dir, "rack.csv"), filepath.Join(dir, "broken.xlsx")
	require.NoError(
		t,
		os.WriteFile(
			list,
			[]byte(
				"Name,Species,Length,Width at the butt,Thickness\nOar "+
					"blank,Pear,900,120,28\nMystery,Moonwood,900,120,28\nStump,Pear,long,120,28\nGate "+
					"post,Robinia,1400,110,60\n",
			),
			0o600,
		),
	)
	require.NoError(t, os.WriteFile(broken, []byte("PK\x03\x04 cut short"), 0o600))
	take := func(file string) Action {
		return chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}, chromedp.NodeReady)
	}
	s.do(
		chromedp.Navigate(s.url+"/timber"),
		s.press("Lists and labels"),
		s.press("Take in a list"),
		s.see("The first line names the columns"),
		take(broken),
		s.see("cannot be read"),
		take(
			list,
		),
		s.see("2 lines cannot be pieces"),
		s.see("Line 3, Mystery"),
		s.see("not in the species table"),
		s.see("Line 4, Stump"),
		s.see("2 pieces can be taken in"),
	)
	assert.EqualValues(
		t,
		12,
		ask[int](s, `fetch("/api/pieces").then((r) => r.json()).then((l) => l.total)`),
		"nothing is stored before it is pressed",
	)
	s.do(
		s.press("Put these 2 pieces on the rack"),
		s.see("14 pieces"),
		s.see("Gate post"),
		s.field("Look for a name or species", "oar"),
		s.see("1 piece,"),
	)
	csv := ask[string](s, `fetch("/api/rack.csv?q=oar").then((r) => r.text())`)
	assert.Equal(t, 2, strings.Count(strings.TrimSpace(csv), "\n")+1, csv)
	assert.Contains(t, csv, "Oar blank,Pear,plank,900,120,120,28")
	assert.Empty(t, s.seen())
}

// A flaw of the under face, seen as one turns the slab over; made deeper, it
// tells which boards it touches; the faces are exchanged.
func TestFlipAndFlaw(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.piece("Weir plane")
	s.do(s.part("Faces"), s.press("Flip to the under face"), s.see("Under face"))
	s.do(s.press("Mark a flaw"), s.press("Dent"), s.see("Drag along it"))
	place := s.at(".slab-line", 0.4, 0.3)
	s.do(drag(place, point{place.X + 9, place.Y}), s.wait(`document.querySelectorAll(".flaw").length === 6`), s.saved())
	assert.True(t, slab[bool](s, `p.slab.flaws[5].under`))
	assert.Negative(t, slab[float64](s, `p.slab.flaws[5].centre.y`), "turned over, what lies above is on the right")
	hidden := `document.querySelector('[data-flaw="' + document.querySelector(".flaw.is-selected").dataset.flaw + '"]')
		.classList.contains("flaw-hidden")`
	s.do(s.wait(`!`+hidden), s.press("Flip to the show face"), s.wait(hidden))
	s.do(
		s.field("Depth", "30"),
		s.see("in Gatekeepers' long board"),
		s.wait(`document.querySelector(".touched")?.innerText.includes("Gatekeepers' long board")`),
		s.tick("Goes through"),
		s.wait(`!(`+hidden+`)`),
		s.field("and to the left by", "-200"),
		s.saved(),
	)

	s.step("The under face becomes the show face; what lay on it goes along", func() {
		before := slab[[]float64](s, `[p.slab.flaws[1].line[0].y, p.slab.show[0].left]`)
		s.do(
			s.press("Make the under face the show face"),
			s.wait(
				`fetch("/api/pieces/" + location.pathname.split("/")[2]) &&
				document.querySelector("[data-save]")?.dataset.save === "saved"`,
			),
			s.wait(`document.querySelectorAll(".flaw-hidden").length > 2`),
		)
		after := slab[[]float64](s, `[p.slab.flaws[1].line[0].y, p.slab.show[0].right]`)
		assert.Equal(s.t, []float64{-before[0], -before[1]}, after)
		assert.True(
			t,
			ask[bool](
				s,
				`fetch("/api/boards").then((r) => r.json()).then((l) => fetch("/api/boards/" + l.items
				.find((b) => b.name.startsWith("Gate")).id)).then((r) => r.json()).then((b) => b.board.placement.flip)`,
			),
		)
		assert.Empty(s.t, s.seen())
	})
}

// An outline from a drawing with several closed lines, by the keyboard's file
// choice, and out again.
func TestAnOutlineFromADrawing(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	file := filepath.Join(t.TempDir(), "slab.svg")
	require.NoError(
		t,
		os.WriteFile(
			file,
			[]byte(
				`<svg width="700mm" height="300mm" viewBox="0 0 700 300">`+
					`<path id="wood" d="M0 20Q350 -20 700 30L690 280Q350 310 10 270z"/>`+
					`<circle id="hole" cx="300" cy="150" r="30"/></svg>`,
			),
			0o600,
		),
	)
	s.piece("Robinia")
	s.do(
		s.part("Edges"),
		chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}, chromedp.NodeReady),
		s.see("2 closed lines"),
		s.press("wood, "),
		s.see("Drawn by"),
		s.saved(),
	)
	assert.InDelta(t, 700, slab[float64](s, `p.slab.length`), 3)
	svg := ask[string](
		s,
		`fetch("/api/pieces/" + location.pathname.split("/")[2] + "/outline.svg").then((r) => r.text())`,
	)
	assert.Contains(t, svg, `id="show"`)
	dxf := ask[string](
		s,
		`fetch("/api/pieces/" + location.pathname.split("/")[2] + "/outline.dxf").then((r) => r.text())`,
	)
	assert.Contains(t, dxf, "POLYLINE")
	s.do(s.press("Back to stations"), s.see("Stations"), s.saved())
}

// The shop knows the meter, the instruments and woods of its own.
func TestInstrumentsAndOwnSpecies(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(
		s.press("Shop"),
		s.press("Instruments"),
		s.see("Instruments that send"),
		s.wait(`document.querySelector(".instruments").dataset.listening === "true"`),
		s.press("Read it"),
		s.see("the shelf sensor"),
		s.wait(`document.querySelector(".instruments").innerText.includes("°C")`),
		s.press("It is the shop's air"),
		s.saved(),
		s.field("Name of the instrument", "bench meter"),
		s.press("Add it"),
		s.see("Its key, shown once"),
	)
	key := s.text(".device-key code")
	status := ask[int](
		s,
		`fetch("/api/readings", { method: "POST", headers: { "Content-Type": "application/json",
			Authorization: "Bearer `+key+`" }, body: '{"percent": 8.7}' }).then((r) => r.status)`,
	)
	assert.Equal(t, 204, status)
	s.do(
		s.see("moisture meter: 8.7 %"),
		s.press("Remove bench meter"),
		s.wait(`!document.body.innerText.includes("8.7 %")`),
		s.press("House and hours"),
		s.press("Add a species"),
		s.field("Species name", "Bog oak"),
		s.field("Janka hardness", "7000"),
		s.saved(),
	)
	s.piece("Pear")
	s.do(
		s.field("Species", "bog oak"),
		s.see("hardness 7000 N"),
		s.saved(),
		s.press("Shop"),
		s.see("Bog oak"),
		s.press("Remove Bog oak"),
		s.see("is on the rack and cannot be taken away"),
		s.press("Undo"),
		s.saved(),
	)
}
