package demo

import (
	"context"
	"time"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/shelf"
	"idletimber/craft/stage"
	"idletimber/store"
)

// keepShelf fills the shelf of the sample: enough of most things, some of it short or old.
func keepShelf(ctx context.Context, tx *store.Store, workshop string, now time.Time) error {
	day := func(days int) string { return now.AddDate(0, 0, days).Format(time.DateOnly) }
	counted := now.AddDate(0, 0, -12)
	p := func(kind stage.Kind, item, name string, unit craft.Unit, count, pack float64, cents, days int) shelf.Product {
		return shelf.Product{
			Kind:    kind,
			Item:    item,
			Name:    name,
			Unit:    unit,
			Count:   count,
			Counted: counted,
			Pack:    pack,
			Cents:   cents,
			Days:    days,
		}
	}
	discs := func(grit string, count float64) shelf.Product {
		d := p(stage.Abrasive, "discs P"+grit, "Discs P"+grit, shelf.Pieces, count, 50, 1890, 4)
		d.Where, d.Shops = "drawer by the sander", "the mill shop at the bridge"
		return d
	}
	all := []shelf.Product{
		discs("80", 22), discs("100", 6), discs("120", 41), discs("150", 4), discs("180", 30), discs("220", 15),
		discs("320", 12), discs("400", 9),
		p(stage.Resin, "casting resin", "Casting resin", craft.Gram, 310, 1000, 3450, 6),
		p(stage.Hardener, "hardener of casting resin", "Casting hardener", craft.Gram, 12, 500, 2150, 6),
		p(stage.Filler, "thin CA", "Thin CA", craft.ML, 14, 20, 780, 3),
		p(stage.Finish, "oil", "Oil, food grade", craft.Gram, 640, 1000, 1560, 3),
		p(stage.Finish, finish.Beeswax, "Beeswax from the orchard's hives", craft.Gram, 85, 250, 900, 1),
		p(stage.Finish, finish.PasteItem(3), "Orchard paste, 3 to 1", craft.Gram, 40, 60, 126, 0),
		p(stage.Finish, finish.Cloths, "Cotton cloths from old sheets", shelf.Pieces, 34, 0, 0, 1),
		p(stage.Filler, fill.DustOf("Pear"), "Pear dust", craft.Gram, 60, 0, 0, 0),
		p(stage.Filler, fill.DustOf("London plane"), "Plane dust", craft.Gram, 25, 0, 0, 0),
		p(stage.Packing, "card", "Card stock, cream", shelf.Pieces, 12, 50, 690, 3),
		p(stage.Packing, "wrapping paper", "Brown paper sheets", shelf.Pieces, 18, 25, 520, 2),
		p(stage.Glue, "PVA, D4", "Water-proof glue", craft.Gram, 260, 500, 1190, 2),
		p(stage.Hardware, "feet", "Rubber feet, 8 high", shelf.Pieces, 6, 20, 640, 5),
		p(stage.Hardware, "screws for the feet", "Screws for the feet", shelf.Pieces, 60, 100, 420, 2),
		p(stage.Hardware, "cord", "Hemp cord", craft.MM, 2400, 5000, 560, 4),
	}
	for i := range all {
		switch s := &all[i]; s.Item {
		case "casting resin", "hardener of casting resin":
			s.Opened, s.Where = day(-120), "warm cupboard"
		case "thin CA":
			s.Opened, s.Where = day(-230), "cold box"
		case "oil":
			s.Opened, s.Best, s.Where = day(-40), day(300), "finishing shelf"
		case finish.PasteItem(3):
			s.Recipe = &shelf.Recipe{Parts: []shelf.Part{
				{
					Kind:  stage.Finish,
					Item:  finish.Oil,
					Parts: 3,
				}, {Kind: stage.Finish, Item: finish.Beeswax, Parts: 1},
			}}
			s.Where = "finishing shelf"
		case "cord":
			s.Colour = "straw"
		}
	}
	_, err := tx.Shelf().New(ctx, workshop, all)
	return err
}
