package tool

// The saws for outlines, the one that cross-cuts, and what bores.
const (
	BandSaw  = "band saw"
	Jigsaw   = "jigsaw"
	TrackSaw = "track saw"
	TableSaw = "table saw"
	HandSaw  = "hand saw"
	MitreSaw = "mitre saw"
	FretSaw  = "fretsaw"
	Drill    = "hand drill"

	RouterTool = "router"
)

// Saw is a saw for outlines.
type Saw struct {
	Name  string  `json:"name"`
	Kerf  float64 `json:"kerf" doc:"Width of its cut, mm"`
	Leave float64 `json:"leave" doc:"How far outside the line it is led, for all that it wanders, mm"`

	Turns    bool `json:"turns" doc:"It follows a curve"`
	Circular bool `json:"circular" doc:"Its blade throws back what pinches it"`
	Table    bool `json:"table" doc:"It stands, and takes stock up to a thickness"`
}

// Saws lists the saws for outlines with their kerf and what they leave (rules). One that
// runs along a track or a fence leaves what the edge's sanding takes, and no more.
var Saws = []Saw{
	{Name: BandSaw, Kerf: 1.5, Leave: 0.8, Turns: true, Table: true},
	{Name: Jigsaw, Kerf: 2, Leave: 1.5, Turns: true},
	{Name: TrackSaw, Kerf: 3, Circular: true},
	{Name: TableSaw, Kerf: 3, Circular: true, Table: true},
	{Name: HandSaw, Kerf: 1.2, Leave: 1},
}

// TrimLeave is how far outside its line an outline is sawn that is trimmed with a flush bit
// after it, mm (rule).
const TrimLeave = 1.6

// CrossKerf is the kerf of the saw that cross-cuts, mm (rule).
const CrossKerf = 3

// FindSaw is the saw of that name; the first when there is none.
func FindSaw(name string) Saw {
	for _, s := range Saws {
		if s.Name == name {
			return s
		}
	}
	return Saws[0]
}

// Kerf is the width of a saw's cut, mm.
func Kerf(saw string) float64 { return FindSaw(saw).Kerf }

// Leave is how far outside its line a saw is led, mm, where the edge's sanding takes so
// much in any case.
func Leave(saw string, sanding float64) float64 { return max(FindSaw(saw).Leave, sanding) }

// SawNames lists the saws for outlines.
func SawNames() []string {
	names := make([]string, len(Saws))
	for i, s := range Saws {
		names[i] = s.Name
	}
	return names
}
