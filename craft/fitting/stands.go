package fitting

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// Usual measures of what stands on a board, mm: a foot's diameter, how far a pull reaches
// past its holes, and how wide its feet are.
const (
	footWide  = 20
	pastHoles = 7
	pullWide  = 12
)

// clearFoot is how far a foot keeps from what opens in the face that it stands on, mm
// (rule).
const clearFoot = 6

// outlines are the fittings as they stand on a board.
func (c Choice) outlines(s board.Shaped) []Outline {
	out := []Outline{}
	for i, at := range c.Stands(s) {
		out = append(out, Outline{fmt.Sprintf("foot %d", i+1), round(at, footWide).SVG(), true})
	}
	if p := c.Pulls; p != nil {
		for i, x := range p.lines(s.Outline.Bounds()) {
			out = append(out, Outline{fmt.Sprintf("pull %d", i+1), p.shape(s, x).SVG(), false})
		}
	}
	if h := c.Bolted; h != nil {
		x := s.Outline.Bounds().MaxX - h.From
		if right, left, ok := across(s, x); ok {
			box := geom.Bounds{MinX: x - h.Width/2, MaxX: x + h.Width/2, MinY: right, MaxY: left}
			out = append(out, Outline{"wooden handle", box.Ring().SVG(), false})
		}
	}
	if l := c.Cleat; l != nil {
		box := s.Outline.Bounds()
		if right, left, ok := across(s, box.MinX+l.Width/2); ok {
			lies := geom.Bounds{MinX: box.MinX, MaxX: box.MinX + l.Width, MinY: right, MaxY: left}
			out = append(out, Outline{"cleat", lies.Ring().SVG(), true})
		}
	}
	if o := c.Coin; o != nil {
		out = append(out, Outline{"coin", round(geom.Point{X: o.X, Y: o.Y}, o.Diameter).SVG(), !o.Show})
	}
	return out
}

func round(at geom.Point, diameter float64) geom.Ring {
	return geom.Ellipse{Centre: at, A: diameter / 2, B: diameter / 2}.Ring(36)
}

// shape is a pull as it lies across a board at x.
func (p Pull) shape(s board.Shaped, x float64) geom.Ring {
	holes := p.holes(s, x)
	middle := (holes[0].Y + holes[1].Y) / 2
	half := cmp.Or(p.Long, p.Spacing+2*pastHoles) / 2
	wide := cmp.Or(p.Wide, pullWide) / 2
	path := geom.SoftRectangle(2*wide, 2*half, math.Min(wide, half)*0.9).Translate(x, middle)
	return geom.Largest(geom.Flatten(path, geom.Fine))
}

// measured gives every mark its distances from the ends and sides that the maker chose,
// and the number at which its stop is set.
func (f *Fitted) measured(c Choice, b Board) {
	box := b.Shaped.Outline.Bounds()
	for i := range f.Spots {
		s := &f.Spots[i]
		if c.MarkEnd != "" {
			if s.End, s.FromEnd = c.MarkEnd, box.MaxX-s.X; c.MarkEnd == farEnd {
				s.FromEnd = s.X - box.MinX
			}
		}
		if right, left, ok := across(b.Shaped, s.X); ok && c.MarkSide != "" && s.Side != ShowFace {
			if s.Side, s.FromSide = c.MarkSide, left-s.Y; c.MarkSide == RightSide {
				s.FromSide = s.Y - right
			}
		}
		first := slices.IndexFunc(b.Shaped.Bores, func(o board.Bore) bool { // a head's seat comes after its hole
			return o.A.Sub(geom.Point{X: s.X, Y: s.Y}).Len() <= 0.01
		})
		if first < 0 {
			continue
		}
		o := b.Shaped.Bores[first]
		if deep := o.Long(b.Thickness); o.Side() || deep < b.Thickness-1e-9 && deep >= o.Bites {
			s.Deep = deep
		}
	}
}

// told are the marks in words, so that they stand where the work is done.
func (f *Fitted) told() (out []string) {
	for _, s := range f.Spots {
		line := fmt.Sprintf("%s, %s: %s from the %s, %s from the %s", s.Name, s.Face, craft.Length(s.FromEnd), s.End,
			craft.Length(s.FromSide), s.Side)
		if s.Diameter > 0 {
			line += ", bit " + craft.Size(s.Diameter)
		}
		if s.Deep > 0 {
			line += ", stop at " + craft.Length(s.Deep)
		}
		out = append(out, line)
	}
	return out
}

// footing judges whether the feet stand clear of what opens in the under face, with
// another inset where they do not.
func (f *Fitted) footing(c Choice, b Board) {
	n := len(f.verdicts)
	if f.feetClear(c, b); len(f.verdicts) > n {
		v := &f.verdicts[n]
		v.Remedies = otherInset(c, b, v.Level)
	}
}

// feetClear judges it as the feet stand.
func (f *Fitted) feetClear(c Choice, b Board) {
	spots := c.Stands(b.Shaped)
	if len(spots) == 0 {
		return
	}
	least, name, at := math.Inf(1), "", spots[0]
	for i, spot := range spots {
		own := fmt.Sprintf("foot %d", i+1)
		pad := board.Hollow{Ring: round(spot, footWide), Top: b.Thickness, Bottom: b.Thickness}
		for _, h := range b.Shaped.Hollows(b.Thickness) {
			if h.Of == own || h.Bottom < b.Thickness-0.01 {
				continue
			}
			if d := pad.Clear(h, 4*clearFoot); d < least {
				least, name, at = d, h.Name, spot
			}
		}
	}
	if math.IsInf(least, 1) {
		return
	}
	level, finding := craft.Under(least, clearFoot, 0), "The feet stand clear of the "+name
	if level != craft.Good {
		level, finding = craft.Mind, "A foot stands on the "+name+", or close to it"
	}
	f.judge("feet-clear", level, finding, "A foot over an opening rocks, and its screw finds no wood.", craft.Figure{
		Key: "fit.feet-clear", Label: "Least distance of a foot to it", Value: least, Unit: craft.MM,
		Formula: "from the rim of a foot to what opens in the face that it stands on",
		Terms:   []craft.Term{mm("foot's diameter", footWide)}, Source: "rule of the trade", Rule: true,
	}, clearFoot, true)
	f.verdicts[len(f.verdicts)-1].Mark = &craft.Mark{AX: at.X - 4, AY: at.Y - 4, BX: at.X + 4, BY: at.Y + 4}
}

// otherInset seeks another inset at which the feet stand clear.
func otherInset(c Choice, b Board, level craft.Level) []craft.Remedy {
	if level == craft.Good {
		return nil
	}
	for to := 15.0; to <= 80; to += 5 {
		next := c
		next.FootInset = to
		again := b
		again.Shaped = next.Cut(b.Shaped)
		if len(next.Stands(again.Shaped)) == 0 {
			return nil
		}
		try := Fitted{}
		try.feetClear(next, again)
		if len(try.verdicts) == 0 || try.verdicts[0].Level == craft.Good {
			return []craft.Remedy{{
				Label: "Set the feet {} in", Amount: to, Unit: craft.MM,
				Patch: craft.Patch{"fit": map[string]any{"footInset": to}},
			}}
		}
	}
	return nil
}

func (f *Fitted) coin(o Coin, b Board) {
	f.item("coin", 1, "pieces")
	left := b.Thickness - o.Deep
	want := math.Max(leastLeft, b.Thickness/3)
	f.judge("coin-floor", craft.Under(left, want, 3), "Wood left under the coin",
		"A seat bored too deep shows through, and cups the board there.", craft.Figure{
			Key: "fit.coin", Label: "Wood left", Value: left, Unit: craft.MM,
			Formula: "thickness − the depth of its seat",
			Terms:   []craft.Term{mm("thickness", b.Thickness), mm("seat", o.Deep)},
			Source:  "rule of the trade", Rule: true,
		}, want, true)
	face := UnderFace
	if o.Show {
		face = ShowFace
	}
	f.spot(b, "coin", geom.Point{X: o.X, Y: o.Y}, o.Diameter, face)
	f.near(b, "coin", "coin-edge", 5+o.Diameter/2)
	f.Steps = append(f.Steps, "Glue the coin in its seat with epoxy, flush or a hair below the face")
}
