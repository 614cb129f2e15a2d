// Package instruments is a simulated moisture meter, a simulated room sensor and a
// simulated scale, behind the interface that real ones use: an instrument is read, and
// each reading is pushed over HTTP with the device's own key, one a request.
package instruments

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"hash/fnv"
	"io"
	"math"
	"net/http"
	"time"

	"idletimber/craft/moisture"
)

// The kinds of instruments.
const (
	MoistureMeter = "moisture meter"
	RoomSensor    = "room sensor"
	Scale         = "scale"
)

// Reading is what an instrument shows: a meter its percent, or that the wood is
// below its range; a room sensor the air; a scale the grams that lie on it.
type Reading struct {
	Percent     *float64 `json:"percent,omitempty" doc:"Moisture of wood, %"`
	Below       bool     `json:"below,omitempty" doc:"Below the meter's range"`
	Temperature *float64 `json:"temperature,omitempty" doc:"°C"`
	Humidity    *float64 `json:"humidity,omitempty" doc:"Relative humidity, %"`
	Grams       *float64 `json:"grams,omitempty" doc:"What lies on the scale, the cup with it, g"`
}

// Instrument is something that can be read.
type Instrument interface {
	Read(at time.Time) Reading
}

// Meter is a simulated moisture meter pressed into wood that holds truth
// percent; it shows tenths, a little off, and nothing below its lowest.
type Meter struct {
	Truth  float64
	Lowest float64
}

// Read presses the meter into the wood.
func (m Meter) Read(at time.Time) Reading {
	shown := tenth(m.Truth + 0.15*chance("meter", at))
	if shown < m.Lowest {
		return Reading{Below: true}
	}
	return Reading{Percent: &shown}
}

// Room is a simulated sensor of the air, which swings through the day.
type Room struct{ Air moisture.Air }

// Read reads the air.
func (r Room) Read(at time.Time) Reading {
	day := math.Sin(2 * math.Pi * (float64(at.Hour()) + float64(at.Minute())/60 - 9) / 24)
	t := tenth(r.Air.Temperature + 1.2*day + 0.2*chance("warmth", at))
	h := tenth(min(99, max(1, r.Air.Humidity-2.5*day+0.8*chance("damp", at))))
	return Reading{Temperature: &t, Humidity: &h}
}

// Balance is a simulated scale with so many grams on it, which shows steps of so many.
type Balance struct{ On, Step float64 }

// Read shows what lies on it, to the step.
func (b Balance) Read(time.Time) Reading {
	shown := math.Round(b.On/b.Step) * b.Step
	return Reading{Grams: &shown}
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// chance is a number from −1 to 1 that depends on the moment alone.
func chance(what string, at time.Time) float64 {
	h := fnv.New64a()
	fmt.Fprint(h, what, at.UnixMilli())
	return float64(h.Sum64()%2001)/1000 - 1
}

// Pusher sends readings to a server.
type Pusher struct {
	Client *http.Client
	URL    string // of the server, such as http://127.0.0.1:7350
	Key    string // of the device
}

// Push sends one reading. The error says what the server had against it.
func (p Pusher) Push(ctx context.Context, r Reading) error {
	body, err := json.Marshal(r)
	if err != nil {
		return err
	}
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, p.URL+"/api/readings", bytes.NewReader(body))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Authorization", "Bearer "+p.Key)
	res, err := p.Client.Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	if res.StatusCode >= 300 {
		said, _ := io.ReadAll(io.LimitReader(res.Body, 2000))
		return fmt.Errorf("the server answered %s: %s", res.Status, said)
	}
	return nil
}
