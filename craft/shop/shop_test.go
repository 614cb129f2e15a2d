package shop

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/species"
)

var grits = []int{60, 80, 100, 120, 150, 180, 220, 320, 400}

func TestTheUsualShopCanWork(t *testing.T) {
	s := Usual()
	require.Empty(t, s.Check("shop", grits))
	zone, err := s.Zone()
	require.NoError(t, err)
	assert.Equal(t, time.UTC, zone)
	assert.NotEmpty(t, s.Sessions)
}

func TestCheckNamesTheField(t *testing.T) {
	for _, c := range []struct {
		field string
		spoil func(*Shop)
	}{
		{"shop.units", func(s *Shop) { s.Units = "cubits" }},
		{"shop.paper", func(s *Shop) { s.Paper = "A0" }},
		{"shop.timeZone", func(s *Shop) { s.TimeZone = "" }},
		{"shop.timeZone", func(s *Shop) { s.TimeZone = "Middle/Nowhere" }},
		{"shop.name", func(s *Shop) { s.Name = "" }},
		{"shop.air.humidity", func(s *Shop) { s.Air.Humidity = 140 }},
		{"shop.home.summer.temperature", func(s *Shop) { s.Home.Summer.Temperature = 90 }},
		{"shop.tools[0].throat", func(s *Shop) { s.Tools[0].Throat = -1 }},
		{"shop.scaleStep", func(s *Shop) { s.ScaleStep = 0 }},
		{"shop.bits[1].diameter", func(s *Shop) { s.Bits[1].Diameter = 900 }},
		{"shop.grits[0]", func(s *Shop) { s.Grits = []int{81} }},
		{"shop.sessions[0].end", func(s *Shop) { s.Sessions[0].End = "18:00" }},
		{"shop.sessions[0].start", func(s *Shop) { s.Sessions[0].Start = "seven" }},
		{"shop.rules.soak", func(s *Shop) { s.Rules = rule.Set{rule.Soak: 40} }},
		{"shop", func(s *Shop) { s.Sessions = make([]plan.Session, 51) }},
	} {
		s := Usual()
		c.spoil(&s)
		fields := []string{}
		for _, p := range s.Check("shop", grits) {
			fields = append(fields, p.Field)
			assert.NotEmpty(t, p.Right)
		}
		assert.Contains(t, fields, c.field)
	}
}

func TestTheMeterAndOwnSpeciesAreChecked(t *testing.T) {
	s := Usual()
	s.Meter.Correction, s.Meter.Lowest = 11, 50
	oak, _ := species.Find("European oak")
	s.Species = []species.Species{oak}
	var fields []string
	for _, p := range s.Check("shop", grits) {
		fields = append(fields, p.Field)
	}
	assert.ElementsMatch(t, []string{"shop.meter.correction", "shop.meter.lowest", "shop.species[0].name"}, fields)
	oak.Name = "Bog oak"
	s = Usual()
	s.Species = []species.Species{oak, oak}
	ps := s.Check("shop", grits)
	require.Len(t, ps, 1)
	assert.Equal(t, "shop.species[1].name", ps[0].Field)
	s.Species = make([]species.Species, 201)
	assert.Equal(t, "shop.species", s.Check("shop", grits)[0].Field)
}
