// Package money reckons what a board costs and what is asked for it, in whole cents of whatever currency the workshop
// counts in. Every line is rounded by itself, half a cent up, so that the lines add up to the sum that is shown.
package money

import (
	"fmt"
	"math"

	"idletimber/craft"
)

// Rates are what a workshop reckons a price by.
type Rates struct {
	Sign     string  `json:"sign,omitempty" doc:"Of the currency"`
	Hour     int     `json:"hour" range:"0,1000000" doc:"An hour of work, cents"`
	Overhead float64 `json:"overhead" range:"0,500" doc:"On all that it costs, percent"`
	ByHour   int     `json:"byHour,omitempty" range:"0,1000000" doc:"Overhead an hour of work, cents"`
	Margin   float64 `json:"margin" range:"0,1000" doc:"On the cost, percent"`
	Fee      float64 `json:"fee" range:"0,90" doc:"That the place of sale keeps of the price, percent"`
	Step     int     `json:"step" range:"1,1000000" doc:"Prices are rounded up to whole ones of it, cents"`
}

// Usual are rates to begin with.
func Usual() Rates { return Rates{Hour: 1800, Overhead: 5, Margin: 25, Step: 100} }

// mostSign bounds the sign of a currency.
const mostSign = 8

// Check reports what is out of range.
func (r Rates) Check(field string) (ps craft.Problems) {
	ps.InRange(field, r)
	if len(r.Sign) > mostSign {
		ps.Add(field+".sign", "it is too long", fmt.Sprintf("give a sign of at most %d letters", mostSign))
	}
	return ps
}

// Round is a sum in whole cents, half a cent up.
func Round(cents float64) int { return int(math.Floor(cents + 0.5 + slip)) }

// Work is what so many hours come to, cents.
func (r Rates) Work(hours float64) int { return Round(hours * float64(r.Hour)) }

// slip is what a sum of binary fractions may fall short of its half cent by.
const slip = 1e-6

// Costs is what goes into a board, cents, and the hours of its work.
type Costs struct {
	Wood     int     `json:"wood" doc:"Its share of its pieces"`
	Supplies int     `json:"supplies" doc:"What its steps take from the shelf"`
	Made     int     `json:"made,omitempty" doc:"Its part of the glue and the hours of the panel that it is cut from"`
	Bought   int     `json:"bought,omitempty" doc:"Add-ons and work bought in"`
	Hours    float64 `json:"hours" doc:"Hands-on, the log's once they are done"`
}

// Price is what a board comes to, with each line of the way.
type Price struct {
	Lines []craft.Figure `json:"lines" doc:"In their order; each is rounded by itself"`
	Cost  int            `json:"cost" doc:"All that it costs, cents"`
	Price int            `json:"price" doc:"What is asked for it, cents"`
}

// Of is the price of a board by rates.
func (r Rates) Of(c Costs) Price {
	var out Price
	sum := 0
	line := func(key, label string, cents int, formula string, terms ...craft.Term) {
		out.Lines = append(out.Lines, craft.Figure{
			Key: "money." + key, Stage: craft.Give, Label: label, Value: float64(cents), Unit: craft.Cents,
			Formula: formula, Terms: append([]craft.Term{}, terms...), Source: "the workshop's rates and prices",
		})
	}
	add := func(key, label string, cents int, formula string, terms ...craft.Term) {
		line(key, label, cents, formula, terms...)
		sum += cents
	}
	cents := func(name string, v int) craft.Term {
		return craft.Term{Name: name, Value: float64(v), Unit: craft.Cents}
	}
	percent := func(name string, v float64) craft.Term { return craft.Term{Name: name, Value: v, Unit: craft.Percent} }
	hours := craft.Term{Name: "hours", Value: 60 * c.Hours, Unit: craft.Minute}

	add("wood", "Wood", c.Wood, "its share of its pieces")
	add("supplies", "Supplies", c.Supplies, "what its steps take, at the shelf's prices")
	if c.Made > 0 {
		add("made", "Its part of making the panel", c.Made, "its part of the panel's supplies and hours")
	}
	if c.Bought > 0 {
		add("bought", "Add-ons and work bought in", c.Bought, "as it was paid")
	}
	add("work", "Work", r.Work(c.Hours), "hours × rate", hours, cents("rate", r.Hour))
	over, terms := float64(sum)*r.Overhead/100, []craft.Term{cents("all above", sum), percent("overhead", r.Overhead)}
	formula := "all above × overhead"
	if r.ByHour > 0 {
		over += c.Hours * float64(r.ByHour)
		formula += " + hours × overhead an hour"
		terms = append(terms, hours, cents("overhead an hour", r.ByHour))
	}
	add("overhead", "Overhead", Round(over), formula, terms...)
	out.Cost = sum
	line("cost", "Costs", sum, "the sum of the lines")

	with := sum + Round(float64(sum)*r.Margin/100)
	asked := Round(float64(with) / (1 - r.Fee/100))
	line("margin", "With the margin", with, "cost × (1 + margin)", cents("cost", sum), percent("margin", r.Margin))
	line("fee", "Before the fee", asked, "÷ (1 − fee)", cents("with the margin", with), percent("fee", r.Fee))
	step := max(1, r.Step)
	out.Price = (asked + step - 1) / step * step
	line("price", "Price", out.Price, "rounded up to a step", cents("before the fee", asked), cents("step", step))
	return out
}
