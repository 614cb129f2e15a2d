package finish

import (
	"fmt"
	"slices"

	"idletimber/craft"
)

// Choice is how a board is finished: by a school, or by a list of coats and acts that was begun from
// one and edited.
type Choice struct {
	School string  `json:"school" enum:"oil,oil bath,oil then paste,paste alone,hard wax,curing oil,one coat,two nights of oil,silky oil,bath then wax,coffee then paste,engraving and wax,wax over cured oil" doc:"Begun from that one"`
	Coats  int     `json:"coats" doc:"Of its first product; 0 for the school's usual number"`
	Ratio  float64 `json:"ratio" range:"1,10" doc:"Oil to wax in the paste, by mass"`

	List  []Act          `json:"list,omitempty" doc:"Coats and acts as they were edited; empty for the school's"`
	Name  string         `json:"name,omitempty" doc:"Under which an edited list is kept"`
	Batch float64        `json:"batch,omitempty" range:"0,50000" doc:"Paste mixed at once, g; 0 for what it takes"`
	Needs map[string]int `json:"needs,omitempty" doc:"What matters, 0 to 3, by the names of needs"`
}

// Act is one coat, or what is done between coats.
//
//	coat ─ ─ soak ─ ─→ wipe ─ ─ haze ─ ─→ buff ─ ─ wait ─ ─→ sand
//
// What a product is soaked in and wiped off, hazed and buffed by, are different waits, and each ends
// with somebody's hand; the last wait ends by itself.
type Act struct {
	ID      int      `json:"id,omitempty" range:"0,100000" doc:"By which a coat's steps are known; 0 for its place"`
	Product string   `json:"product" enum:",oil,thin oil,paste,hard wax,curing oil,walnut oil,coffee,tea,stain" doc:"Empty where nothing is put on"`
	On      []string `json:"on,omitempty" doc:"Parts of the board; empty for all of it"`
	Face    float64  `json:"face,omitempty" range:"0,500" doc:"On face grain, g/m²; 0 as usual"`
	Bath    bool     `json:"bath,omitempty" doc:"It lies under oil in a tub"`
	Soak    float64  `json:"soak,omitempty" range:"0,20160" doc:"Minutes until it is wiped, or buffed"`
	Wipe    bool     `json:"wipe,omitempty" doc:"What stays wet is wiped off"`
	Haze    float64  `json:"haze,omitempty" range:"0,20160" doc:"Minutes from then until it is buffed"`
	Buff    bool     `json:"buff,omitempty" doc:"It is buffed"`
	Wait    float64  `json:"wait,omitempty" range:"0,86400" doc:"Minutes until what comes next"`
	Sand    int      `json:"sand,omitempty" doc:"Grit that it is rubbed with then; 0 for none"`
	Wet     bool     `json:"wet,omitempty" doc:"It is rubbed wet"`
	Early   bool     `json:"early,omitempty" doc:"Put on before the grain is raised for the last time"`
}

// The parts of a board that a coat may be for.
const (
	ShowFace  = "show face"
	UnderFace = "under face"
	Edges     = "edges"
	Cavities  = "cavities"
)

// Parts lists them, in the order in which they are coated: the show face last.
var Parts = []string{UnderFace, Edges, Cavities, ShowFace}

// mostActs bounds a list.
const mostActs = 30

// Check reports an unknown choice.
func (c Choice) Check(field string) (ps craft.Problems) {
	ps.InRange(field, c)
	names := make([]string, len(Schools))
	for i, s := range Schools {
		names[i] = s.Name
	}
	ps.OneOf(field+".school", c.School, names...)
	ps.Range(field+".coats", float64(c.Coats), 0, float64(max(1, Find(c.School).Most)))
	if len(c.Name) > 200 {
		ps.Add(field+".name", "the name is too long", "use at most 200 characters")
	}
	if len(c.List) > mostActs {
		ps.Add(field+".list", "there are too many coats and acts", fmt.Sprintf("list at most %d", mostActs))
		return ps
	}
	known := map[int]bool{0: true}
	for i, a := range c.List {
		at := fmt.Sprintf("%s.list[%d]", field, i)
		ps = append(ps, a.check(at)...)
		if a.Product != "" && a.ID != 0 && known[a.ID] {
			ps.Add(at+".id", fmt.Sprintf("%d is there twice", a.ID), "give each coat a number of its own, or none")
		}
		known[a.ID] = true
	}
	if len(c.Needs) > len(Needs) {
		ps.Add(field+".needs", "there are too many", "weigh each need once")
		return ps
	}
	for name, weight := range c.Needs {
		ps.OneOf(field+".needs", name, needNames()...)
		ps.Range(field+".needs."+name, float64(weight), 0, 3)
	}
	return ps
}

func (a Act) check(field string) (ps craft.Problems) {
	ps.InRange(field, a)
	ps.OneOf(field+".product", a.Product, append(productNames(), "")...)
	for _, part := range a.On {
		ps.OneOf(field+".on", part, Parts...)
	}
	if len(a.On) > len(Parts) {
		ps.Add(field+".on", "a part is named twice", "name each part once")
	}
	if a.Sand != 0 && !slices.Contains(RubGrits, a.Sand) {
		ps.Add(field+".sand", fmt.Sprintf("P%d is not rubbed with between coats", a.Sand),
			fmt.Sprintf("choose from %v", RubGrits))
	}
	if a.Product == "" && a.Sand == 0 && a.Wait == 0 {
		ps.Add(field, "nothing is done", "name a product, a grit to rub with, or a wait")
	}
	return ps
}

// RubGrits are the grits that are rubbed with between coats.
var RubGrits = []int{220, 240, 280, 320, 360, 400, 500, 600, 800, 1000, 1200}

// Acts are the coats and acts of a choice, as they were edited or as the school has them. Each coat
// has the number by which its steps are known, whatever is moved or removed before it: its own, or
// its place where none has one, else one beyond them.
func (c Choice) Acts() []Act {
	acts := slices.Clone(c.List)
	if len(acts) == 0 {
		acts = Find(c.School).list(c.Coats)
	}
	most := mostID(acts)
	for i := range acts {
		if acts[i].Product != "" && acts[i].ID == 0 {
			most++
			acts[i].ID = most
		}
	}
	return acts
}

// mostID is the greatest number of a coat in a list; 0 where none has one.
func mostID(acts []Act) (most int) {
	for _, a := range acts {
		most = max(most, a.ID)
	}
	return most
}

// Last is the product that comes last on the board, which decides how fine it is sanded.
func (c Choice) Last() (product string) {
	for _, a := range c.Acts() {
		if p, ok := ProductOf(a.Product); ok && !p.Water {
			product = p.Name
		}
	}
	return product
}
