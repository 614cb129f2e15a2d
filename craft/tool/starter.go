package tool

import (
	"slices"

	"idletimber/craft/measure"
)

// Starter is a shop to begin with, whose tools are ticked and measured afterwards.
type Starter struct {
	Name string `json:"name" doc:"In a word or two"`
	What string `json:"what" doc:"What it is, in a sentence"`
	Kit  Kit    `json:"kit" doc:"What it holds"`
}

// Starters are the shops to begin with, the smallest first.
var Starters = named([]Starter{
	{
		"Hand tools", "A bench, hand saws, planes, a drill and a jigsaw: a board is sawn, planed and scraped by hand.",
		handTools(),
	},
	{
		"Small garage", "A band saw, a planer, a mitre saw, a drill press and a router, each of a bench's size.",
		Usual(),
	},
	{
		"Full shop",
		"Standing machines with a jointer, a drum sander and sleds; most cuts have a machine of their own.",
		fullShop(),
	},
})

// named lets each kit remember what it began as.
func named(of []Starter) []Starter {
	for i := range of {
		of[i].Kit.Starter = of[i].Name
	}
	return of
}

func handTools() Kit {
	tools := News(Jigsaw, HandSaw, FretSaw, HandPlane, DrillGuide, Drill, OrbitSander, Scraper, File, Gouge,
		Drawknife, Spokeshave, WireBrush, Rags)
	return Kit{
		Tools:  tools,
		Blades: []Blade{UsualBlades[6], UsualBlades[7]},
		Bits:   NewBits(4, 6, 8, 10, 20, 25, 30),
		Clamps: []Clamps{{"F-clamp", 400, 4}},
	}
}

// Usual is a small shop's kit to begin with.
func Usual() Kit {
	tools := News(BandSaw, Jigsaw, TableSaw, MitreSaw, TrackSaw, HandSaw, Planer, Sled, HandPlane, DrillPress, Drill,
		OrbitSander, SpindleSander, Scraper, File, Drawknife, WireBrush, PushSticks, Cauls, Rags)
	return Kit{
		Tools:  tools,
		Blades: []Blade{UsualBlades[2], UsualBlades[7]},
		Bits:   NewBits(UsualBits[measure.Millimetre]...),
		Drums:  []float64{6.5, 13, 25},
		Clamps: []Clamps{{"bar clamp", 900, 4}, {"F-clamp", 400, 6}},
		Router: Router{
			Base: 150, Bushes: []float64{17, 24, 30},
			Bits: []RouterBit{
				{
					Kind:     Straight,
					Diameter: 6,
					Length:   16,
					Shank:    6,
				}, {Kind: Straight, Diameter: 12, Length: 25, Shank: 12},
				{Kind: RoundNose, Diameter: 12, Length: 14, Shank: 6},
				{Kind: RoundNose, Diameter: 8, Length: 12, Shank: 6},
				{Kind: FlushTrim, Diameter: 12.7, Length: 25, Bearing: 12.7, Shank: 6.35},
				{Kind: RoundOver, Diameter: 6, Length: 12, Bearing: 9.5, Shank: 6.35},
				{Kind: Chamfer, Diameter: 22, Length: 12, Bearing: 9.5, Shank: 6.35},
			},
		},
	}
}

func fullShop() Kit {
	k := Usual()
	k.Tools = append(k.Tools, News(FretSaw, Jointer, RouterSled, DrumSander, DrillGuide, BeltSander, Grinder,
		Gouge, Spokeshave, NylonWheel, Mould, DryRack, Stand, OilTub, HeatGun, Torch, Roller)...)
	larger := map[string]func(*Tool){
		BandSaw:    func(t *Tool) { t.Throat, t.Height = 440, 300 },
		TableSaw:   func(t *Tool) { t.Height, t.Width = 100, 1300 },
		Planer:     func(t *Tool) { t.Width, t.Heavy = 510, true },
		Sled:       func(t *Tool) { t.Width = 480 },
		RouterSled: func(t *Tool) { t.Width = 900 },
		DrumSander: func(t *Tool) { t.Width = 560 },
		Jointer:    func(t *Tool) { t.Width = 250 },
		DrillPress: func(t *Tool) { t.Travel, t.Throat = 120, 250 },
	}
	for i := range k.Tools {
		if change := larger[k.Tools[i].Kind]; change != nil {
			change(&k.Tools[i])
		}
	}
	k.Blades = slices.Clone(UsualBlades)
	k.Bits = NewBits(3, 4, 6, 8, 10, 12, 16, 20, 22, 25, 28, 30, 32, 35, 40, 50)
	k.Drums = []float64{6.5, 10, 13, 19, 25, 38}
	k.Router.SubBase, k.Router.Table = 300, true
	k.Router.Bits = append(
		slices.Clone(k.Router.Bits),
		RouterBit{
			Kind:     Straight,
			Diameter: 19,
			Length:   32,
			Shank:    12,
		},
		RouterBit{Kind: RoundNose, Diameter: 19, Length: 19, Shank: 12},
		RouterBit{Kind: FlushTrim, Diameter: 19, Length: 51, Bearing: 19, Shank: 12},
		RouterBit{Kind: RoundOver, Diameter: 12, Length: 16, Bearing: 12.7, Shank: 12},
	)
	k.Clamps = []Clamps{{"parallel clamp", 1000, 8}, {"bar clamp", 900, 6}, {"F-clamp", 400, 12}}
	return k
}
