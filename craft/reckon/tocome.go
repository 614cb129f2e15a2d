package reckon

import (
	"math"
	"time"

	"idletimber/craft"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/species"
)

// ToCome asks what wood must be there, by when, so that it is dry on a day.
type ToCome struct {
	Species   string  `json:"species" doc:"By its name"`
	Thickness float64 `json:"thickness" mm:"5,200" doc:"As it is milled to dry, mm"`
	Day       string  `json:"day" doc:"On which it must be dry, YYYY-MM-DD"`
	Boards    int     `json:"boards" range:"1,1000" doc:"How many are wanted"`
	Board     float64 `json:"board" mm:"50,5000" doc:"Length of one, with what its ends need"`
	Log       float64 `json:"log" mm:"200,10000" doc:"Length of a log, or of what the mill offers"`
	Trim      float64 `json:"trim" mm:"0,500" doc:"Off each of its ends, where it checks"`
}

// Check reports what is out of range or unknown.
func (t ToCome) Check(field string, at shop.Shop) (ps craft.Problems) {
	ps.InRange(field, t)
	ps = append(ps, species.Check(field+".species", t.Species, at.Species)...)
	if _, err := time.Parse(time.DateOnly, t.Day); err != nil {
		ps.Add(field+".day", "it is not a day", "write it like 2031-06-20")
	}
	return ps
}

// Coming is what must be there, by when.
type Coming struct {
	PerLog int     `json:"perLog" doc:"Boards that the length of one log gives"`
	OnRack int     `json:"onRack" doc:"Boards that pieces of this wood on the rack give, as thick and dry by then"`
	Logs   int     `json:"logs" doc:"Lengths still to be got"`
	Target float64 `json:"target" doc:"What it must come down to, %"`
	Rest   float64 `json:"rest" doc:"Where the shop's air brings it, %"`
	Tau    float64 `json:"tau" doc:"Time constant of drying, days"`

	Ways []Supply `json:"ways" doc:"As it may be got, the wettest first"`
}

// Supply is one state in which wood may be got.
type Supply struct {
	State   string  `json:"state" doc:"In the trade's words"`
	Percent float64 `json:"percent" doc:"Moisture that it has"`
	Days    float64 `json:"days" doc:"Until it is dry, and two readings agree"`
	By      string  `json:"by,omitempty" doc:"Day by which it must lie milled here; empty where it never dries"`
	Late    bool    `json:"late" doc:"That day has passed"`
}

// states are those in which wood is got, with the moisture that it has then, % (rules).
var states = []Supply{
	{State: "green, from the saw", Percent: 60}, {State: "half a year in the air", Percent: 25},
	{State: "air-dry", Percent: 18}, {State: "kiln-dried", Percent: 10},
}

// logKerf is what the saw takes between two lengths of a log, mm (rule).
const logKerf = 5

// PerLength is how many boards a length gives, mm: floor((length − 2 trims + kerf) ÷ (board + kerf)).
func PerLength(length, trim, board float64) int {
	return max(0, int((length-2*trim+logKerf)/(board+logKerf)+1e-9))
}

// Stock reckons what must be bought or milled, and by when, where some pieces lie on the rack.
func Stock(ask ToCome, rack []slab.Slab, at shop.Shop, now time.Time) Coming {
	zone, err := at.Zone()
	if err != nil {
		zone = time.UTC
	}
	due := plan.Noon(ask.Day, zone)
	out := Coming{
		PerLog: PerLength(ask.Log, ask.Trim, ask.Board), Rest: at.Air.EMC(), Tau: moisture.Tau(ask.Thickness, at.Rules),
		Target: at.Home.Mean() + at.Rules.Get(rule.ReadyBand), Ways: []Supply{},
	}
	for _, v := range rack {
		if v.Species != ask.Species || v.Reserved != "" {
			continue
		}
		w := slab.Draw(v, at.Species)
		dry := moisture.Dry(v.Moisture, at.Air, w.Target(at.Home), w.Rough.Mean, at.Rules)
		if w.Rough.Thinnest >= ask.Thickness && len(v.Moisture) > 0 && due != nil && dry.At(*due) <= out.Target {
			out.OnRack += PerLength(v.Length, ask.Trim, ask.Board)
		}
	}
	if missing := ask.Boards - out.OnRack; missing > 0 && out.PerLog > 0 {
		out.Logs = (missing + out.PerLog - 1) / out.PerLog
	}
	for _, s := range states {
		s.Days = moisture.DaysTo(s.Percent, out.Target, out.Rest, out.Tau) + at.Rules.Get(rule.ReadyDays)
		never := s.Percent > out.Target && out.Rest >= out.Target
		if never || due == nil {
			s.Days = 0
		} else {
			by := due.AddDate(0, 0, -int(math.Ceil(s.Days)))
			s.By, s.Late = by.Format(time.DateOnly), by.Before(now)
		}
		out.Ways = append(out.Ways, s)
	}
	return out
}
