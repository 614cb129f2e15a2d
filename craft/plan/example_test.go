package plan_test

import (
	"fmt"
	"time"

	"idletimber/craft/plan"
)

// A coat needs an hour at the bench and a night to soak: the plan puts it into the
// last session that still keeps the date, and into the first that is free.
func Example() {
	friday := time.Date(2031, 6, 6, 18, 0, 0, 0, time.UTC)
	coat := plan.Step{
		Key:     "coat",
		Title:   "First coat of oil",
		Minutes: 60,
		Usual:   60,
		Wait:    12 * 60,
		WaitFor: "the oil to soak in",
	}
	buff := plan.Step{Key: "buff", Title: "Buff", Minutes: 15, Usual: 15}
	evenings := []plan.Session{
		{Weekday: time.Tuesday, Start: "19:00", End: "21:00"},
		{Weekday: time.Thursday, Start: "19:00", End: "21:00"},
	}
	monday := friday.AddDate(0, 0, -4)
	board := plan.Chain{
		Subject: plan.Board("b"),
		Name:    "Ladder crew's board",
		Due:     &friday,
		Steps:   []plan.Step{coat, buff},
	}
	for _, c := range plan.Schedule([]plan.Chain{board}, evenings, time.UTC, monday) {
		fmt.Println("ready", c.Finish.Format("Monday 15:04"))
		fmt.Println("begin by", c.LatestStart.Format("Monday 15:04"))
	}
	// Output:
	// ready Thursday 19:15
	// begin by Tuesday 20:00
}
