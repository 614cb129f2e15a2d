package formats

import (
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/board"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/reckon"
	"idletimber/craft/shop"
)

// shaped is the example's board with another design.
func shaped(t testing.TB, change func(*reckon.Board)) (reckon.Scene, reckon.Reckoned) {
	t.Helper()
	j, _ := reckoned(t)
	j.Shop.Router = shop.Usual().Router
	change(&j.Boards[0])
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	return j, r.Boards[0]
}

var outlines = map[string]func(*reckon.Board){
	"paddle": func(b *reckon.Board) {
		b.Design.Shape, b.Design.Neck, b.Design.NeckLength, b.Design.Shoulder = board.Paddle, 56, 90, 25
	},
	"oval":  func(b *reckon.Board) { b.Design.Shape = board.Oval },
	"heart": func(b *reckon.Board) { b.Design.Shape, b.Design.Tip, b.Design.Shoulder = board.Heart, 12, 12 },
	"free": func(b *reckon.Board) {
		b.Design.Shape = board.Free
		b.Design.Nodes = []board.Node{
			{X: -150, Y: -60, Kind: "smooth"},
			{X: 0, Y: -80, Run: "batten", Rise: 12},
			{X: 150, Y: -50, Run: "arc", Rise: 40},
			{X: 150, Y: 50, Round: 20},
			{X: -140, Y: 70, Kind: "smooth"},
		}
	},
}

// Read back, a file gives the same outline and holes to 0.01 mm.
func TestBoardFilesComeBack(t *testing.T) {
	for name, change := range outlines {
		j, r := shaped(t, func(b *reckon.Board) {
			change(b)
			b.Design.Handle = board.Handle{Kind: "heart", Diameter: 30, Length: 32, Setback: 60}
		})
		for kind, data := range map[string][]byte{"svg": BoardSVG(j.Boards[0].Name, r), "dxf": BoardDXF(r)} {
			found, err := ReadOutlines(data)
			require.NoError(t, err, "%s %s", name, kind)
			for k, path := range []string{r.Path, r.Holes[0]} {
				fine := geom.Largest(geom.Flatten(parsed(path)[0], 0.001))
				match := closest(found, fine)
				for _, p := range fine {
					if _, d := match.Nearest(p); d > 0.01 {
						t.Fatalf("%s %s: ring %d strays %g mm", name, kind, k, d)
					}
				}
				assert.InEpsilon(t, fine.Area(), match.Area(), 0.0001)
			}
		}
	}
}

func closest(found []Outline, to geom.Ring) geom.Ring {
	best := found[0].Ring
	for _, o := range found {
		if d := o.Ring.Centroid().Sub(to.Centroid()).Len() + abs(o.Ring.Area()-to.Area()); d < best.Centroid().
			Sub(to.Centroid()).
			Len()+
			abs(best.Area()-to.Area()) {
			best = o.Ring
		}
	}
	return best
}

func abs(v float64) float64 { return max(v, -v) }

func TestLayersOfABoard(t *testing.T) {
	_, r := shaped(t, func(b *reckon.Board) {
		b.Design.Handle = board.Handle{Kind: "slot", Diameter: 28, Length: 90, Setback: 45}
		b.Design.Recesses = []board.Recess{{Kind: "well", Length: 90, Width: 60, Depth: 6, Radius: 6, X: -60}}
		b.Fit.Pulls = &fitting.Pull{Spacing: 64, Setback: 25, Foot: 4, Screw: 4, Both: true}
	})
	var names []string
	for _, l := range BoardLayers(r) {
		names = append(names, l.Name)
	}
	assert.Equal(t, []string{OutlineLayer, HolesLayer, RecessLayer, TemplateLayer, MarksLayer}, names)
	template, recess := BoardLayers(r)[3].Paths[0].Bounds(), BoardLayers(r)[2].Paths[0].Bounds()
	assert.InDelta(
		t,
		(17.0-12)/2,
		template.X1-recess.X1,
		0.02,
		"the template's opening stands outside by half the difference of bush and bit",
	)
	dxf := string(BoardDXF(r))
	assert.Contains(t, dxf, "\n42\n", "arcs are bulges")
}

// page renders one page of a PDF at so many dots an inch.
func renderPage(t *testing.T, file string, page, dpi string) image.Image {
	t.Helper()
	out := filepath.Join(t.TempDir(), "page")
	require.NoError(
		t,
		exec.Command("pdftoppm", "-r", dpi, "-f", page, "-l", page, "-png", "-singlefile", file, out).Run(),
	)
	f, err := os.Open(out + ".png")
	require.NoError(t, err)
	defer f.Close()
	img, err := png.Decode(f)
	require.NoError(t, err)
	return img
}

// longest is the longest dark run along the rows of the lowest part of a page,
// in pixels.
func longest(img image.Image, from float64) (best []int) {
	b := img.Bounds()
	for y := b.Min.Y + int(from*float64(b.Dy())); y < b.Max.Y; y++ {
		run, most := 0, 0
		for x := b.Min.X; x < b.Max.X; x++ {
			if r, _, _, _ := img.At(x, y).RGBA(); r < 0x8000 {
				run++
				most = max(most, run)
			} else {
				run = 0
			}
		}
		best = append(best, most)
	}
	return best
}

func TestTheCheckBarMeasures100mm(t *testing.T) {
	j, r := shaped(t, outlines["paddle"])
	for _, paper := range []string{"A4", "Letter", "A3", "Tabloid", "Whole"} {
		data, err := Template(j, r, TemplateChoice{Paper: paper})
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "template.pdf")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		img := renderPage(t, file, "1", "300")
		found := map[int]bool{}
		for _, run := range longest(img, 0.9) {
			mm := float64(run) * 25.4 / 300
			found[100] = found[100] || mm > 99.8 && mm < 100.2
			found[4] = found[4] || mm > 101.4 && mm < 101.8
		}
		assert.True(t, found[100], "the bar of 100 mm on %s", paper)
		assert.True(t, found[4], "the bar of 4 inches on %s", paper)
	}
	_, err := Template(j, r, TemplateChoice{Paper: "napkin"})
	assert.ErrorContains(t, err, "A4, Letter, A3, Tabloid")
}

// Pages laid by their marks give the whole outline: a page carries every part
// of the drawing that falls on it, and neighbours overlap.
func TestPagesCoverTheBoard(t *testing.T) {
	for _, size := range []geom.Bounds{{MinX: -200, MinY: -120, MaxX: 200, MaxY: 120},
		{MinX: -500, MinY: -60, MaxX: 500, MaxY: 60}, {MinX: -40, MinY: -40, MaxX: 40, MaxY: 40}} {
		for name, paper := range papers {
			tiles := tile(size, paper)
			last := func(n int, step, room float64) float64 { return float64(n-1)*step + room }
			assert.GreaterOrEqual(t, last(tiles.cols, tiles.stepX, tiles.roomX), size.MaxX-size.MinX, name)
			assert.GreaterOrEqual(t, last(tiles.rows, tiles.stepY, tiles.roomY), size.MaxY-size.MinY, name)
			assert.InDelta(t, overlap, tiles.roomX-tiles.stepX, 1e-9)
		}
	}
	j, r := shaped(t, outlines["free"])
	for _, half := range []bool{false, true} {
		data, err := Template(j, r, TemplateChoice{Paper: "A4", Half: half})
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "template.pdf")
		require.NoError(t, os.WriteFile(file, data, 0o600))
		text, err := exec.Command("pdftotext", file, "-").Output()
		require.NoError(t, err)
		for _, want := range []string{j.Boards[0].Name, "Print at 100 %", "Page A1"} {
			assert.Contains(t, string(text), want)
		}
		assert.Equal(t, half, strings.Contains(string(text), "left half"))
	}
}
