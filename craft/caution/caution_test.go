package caution

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft/plan"
	"idletimber/craft/species"
)

func titles(kind plan.Kind, m Material) (out []string) {
	for _, c := range For(kind, m) {
		out = append(out, c.Title)
	}
	return out
}

func TestCautionsStandAtTheirSteps(t *testing.T) {
	iroko, _ := species.Find("Iroko")
	lime, _ := species.Find("Lime")
	for _, c := range []struct {
		kind plan.Kind
		m    Material
		want []string
	}{
		{plan.Sanding, Material{Woods: []species.Species{lime}}, []string{"Dust", "Ears"}},
		{plan.Sanding, Material{Woods: []species.Species{lime, iroko}}, []string{"Dust", "Ears", "Dust of Iroko"}},
		{plan.HogOut, Material{}, []string{"Machines", "Router", "Dust"}},
		{plan.Resaw, Material{}, []string{"Machines", "Resawing"}},
		{plan.Pour, Material{}, []string{"Epoxy"}},
		{plan.ThinGlue, Material{}, []string{"Cyanoacrylate"}},
		{plan.Coat, Material{Curing: true}, []string{"Oily rags", "Spirits and solvents", "Nut oils"}},
		{plan.Coat, Material{Paste: true}, []string{"Melting wax", "Nut oils"}},
		{plan.Planing, Material{Reclaimed: true}, []string{"Machines", "Planer, jointer", "Reclaimed wood"}},
		{plan.Curve, Material{Saw: "table saw"}, []string{"Machines", "Table and mitre saw"}},
		{plan.Wipe, Material{Curing: true}, []string{"Spirits and solvents", "Oily rags"}},
		{plan.Buff, Material{Curing: true}, []string{"Oily rags"}},
		{plan.Water, Material{}, nil},
	} {
		assert.Equal(t, c.want, titles(c.kind, c.m), c.kind)
	}
}
