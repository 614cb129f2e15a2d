package tool

import (
	"fmt"

	"idletimber/craft"
)

// Setup is how a machine is set for one operation, kept by a name so that it can be set so again. Lengths are mm; what
// is 0 plays no part.
type Setup struct {
	Name   string  `json:"name" doc:"What the maker calls it"`
	Kind   string  `json:"kind" doc:"Kind of work that it is for"`
	Stop   float64 `json:"stop,omitempty" mm:"0,5000" doc:"From the blade or the bit to the stop"`
	End    string  `json:"end,omitempty" enum:",butt,top" doc:"From which end of the board the stop counts"`
	Fence  float64 `json:"fence,omitempty" mm:"0,2000" doc:"From the blade or the bit to the fence"`
	Spacer float64 `json:"spacer,omitempty" mm:"0,500" doc:"Laid between the board and the stop or the fence"`
	Lift   float64 `json:"lift,omitempty" mm:"0,200" doc:"Of the blade or the bit over the table"`
	Note   string  `json:"note,omitempty" doc:"The maker's own words"`
}

// mostSetups bounds the set-ups that are kept.
const mostSetups = 200

// CheckSetups reports what is out of range, or there twice.
func CheckSetups(field string, all []Setup) (ps craft.Problems) {
	if len(all) > mostSetups {
		ps.Add(field, "there are too many set-ups", fmt.Sprintf("keep at most %d", mostSetups))
		return ps
	}
	named := map[string]bool{}
	for i, s := range all {
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.InRange(at, s)
		ps.OneOf(at+".end", s.End, "", "butt", "top")
		switch {
		case s.Name == "" || len(s.Name) > 200:
			ps.Add(at+".name", "the name is empty or too long", "give a name of 1 to 200 characters")
		case named[s.Name]:
			ps.Add(at+".name", fmt.Sprintf("%q is there twice", s.Name), "give each set-up a name of its own")
		}
		if len(s.Kind) > 40 || len(s.Note) > 2000 {
			ps.Add(at+".note", "the text is too long", "use at most 2000 characters")
		}
		named[s.Name] = true
	}
	return ps
}
