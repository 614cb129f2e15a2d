package reckon

import (
	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/slab"
)

// Leaf is another leaf of the piece that a slab was resawn from, with its boards.
type Leaf struct {
	Slab   slab.Slab `json:"slab" doc:"As it was measured"`
	Boards []Board   `json:"boards" doc:"That are laid on it"`
	Taken  []Board   `json:"taken,omitempty" doc:"That were cut from it"`
	Strips []Strip   `json:"strips,omitempty" doc:"That are to be cut from it for panels"`
}

// TwinName follows the name of a board in that of its twin.
const TwinName = ", its twin"

// TwinOf is the twin of a board on another leaf: at the same place, or its mirror
// image at the mirror place where the leaves open like a book.
func TwinOf(d Board, on, other slab.Slab) Board {
	at, mirrored := on.Twin(d.Placement, other)
	d.Placement = at
	if mirrored {
		d.Design, d.Cut = d.Design.Mirrored(), d.Cut.Mirrored()
	}
	return d
}

// Follow brings a twin to where its board has it now, its show face as it was.
func (d Board) Follow(of Board, on, other slab.Slab) Board {
	then := TwinOf(of, on, other)
	if d.Placement.Flip != then.Placement.Flip { // the leaf was turned since: the same wood, seen from its other face
		then.Placement.Flip, then.Design = d.Placement.Flip, then.Design.Mirrored()
	}
	d.Placement, d.Design = then.Placement, then.Design
	return d
}

// twinLeaf is another leaf while the twins of boards are judged on it.
type twinLeaf struct {
	*drawn
	around   []layout.Neighbour
	from     slab.Slab // the leaf whose boards have their twins here
	mirrored bool
}

// twinLeaf draws the scene's other leaf.
func (j Scene) twinLeaf() (*twinLeaf, error) {
	if j.Leaf == nil || j.Slab == nil {
		return nil, craft.Problems{
			{
				Field: "leaf",
				Wrong: "there is no other leaf for the twins",
				Right: "give the leaf that they are laid on",
			},
		}
	}
	b, err := draw(
		Scene{
			Schema: j.Schema,
			Now:    j.Now,
			Slab:   &j.Leaf.Slab,
			Boards: j.Leaf.Boards,
			Taken:  j.Leaf.Taken,
			Strips: j.Leaf.Strips,
			Shop:   j.Shop,
		},
	)
	if err != nil {
		return nil, err
	}
	_, mirrored := j.Slab.Twin(geom.Placement{}, j.Leaf.Slab)
	return &twinLeaf{b, b.neighbours(-1), *j.Slab, mirrored}, nil
}

// stops are the checks that come out as a stop for the twin of a board.
func (l *twinLeaf) stops(d Board) map[string]bool {
	return l.lay(TwinOf(d, l.from, *l.Slab), l.around).stops()
}

// avoid is where no board may lie on the other slab, so that its twin lies in the
// wood here, clear of what is laid and of what is to be kept out.
func (l *twinLeaf) avoid(sheet geom.Ring, apart float64) (out []geom.Ring) {
	across := func(r geom.Ring) geom.Ring {
		if !l.mirrored {
			return r
		}
		return upright(r.Map(func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} }))
	}
	out = sheet.Less(across(l.sheet()))
	for _, r := range l.keptClear(l.around, apart) {
		out = append(out, across(r))
	}
	return out
}
