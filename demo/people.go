package demo

import (
	"context"
	"time"

	"idletimber/craft/aftercare"
	"idletimber/craft/giving"
	"idletimber/store"
)

// keepPeople keeps the volunteers of the orchard, and the supper at which each gets a board: three have none yet.
func keepPeople(ctx context.Context, tx *store.Store, workshop string, now time.Time) error {
	yearly := func(name string, days int) []giving.Day {
		return []giving.Day{{Name: name, Day: now.AddDate(0, 0, days).Format("01-02")}}
	}
	volunteers := []giving.Person{
		{Name: "the wheelbarrow driver", Likes: "Plain things that hang by the door"},
		{Name: "the basket weaver", Likes: "Live edges, pale wood"},
		{Name: "the wasp catcher", Likes: "Cheese, and a handle to carry it by", Nuts: true},
		{Name: "the pruner", Likes: "Small boards for one", Days: yearly("the first day in the orchard", 33)},
		{Name: "the brush carrier"},
		{Name: "the kindling stacker", Likes: "Anything of plane"},
		{Name: "the ladder holder", Likes: "Long and narrow, for bread", Days: yearly("the first ladder", 21)},
		{Name: "the press keeper", Likes: "End grain; cuts on it every day"},
		{Name: "the bee watcher", Likes: "Holes and hollows, nothing square"},
		{Name: "the ferry café", Likes: "Six alike, for the terrace", Whom: "customer"},
	}
	ids, err := tx.People().New(ctx, workshop, volunteers)
	if err != nil {
		return err
	}
	_, err = tx.Occasions().New(ctx, workshop, []giving.Occasion{{
		Name: "The orchard's midsummer supper", Day: now.AddDate(0, 0, 54).Format(time.DateOnly), Yearly: true,
		People: []string{ids[0], ids[1], ids[2], ids[6], ids[7], ids[8]},
		Note:   "Boards on the long table, each with its card under a sprig.",
	}})
	return err
}

// comeBack takes a board back that came back yesterday; nothing where nothing was seen on it.
func comeBack(ctx context.Context, st *store.Store, workshop, id, seen string, now time.Time) error {
	if seen == "" {
		return nil
	}
	b, err := st.Board(ctx, workshop, id)
	if err != nil {
		return err
	}
	b.Board.Returned = &aftercare.Return{At: now.AddDate(0, 0, -1), Sign: seen}
	b.Board.Give.Due, b.Board.Locked = now.AddDate(0, 0, 26).Format(time.DateOnly), true
	return st.TakeBack(ctx, workshop, b.Stored())
}
