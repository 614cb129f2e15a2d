package caution

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/tool"
)

func titles(kind plan.Kind, with string, m Material) (out []string) {
	for _, c := range For(kind, with, m) {
		out = append(out, c.Title)
	}
	return out
}

func TestCautionsStandAtTheirSteps(t *testing.T) {
	iroko, _ := species.Find("Iroko")
	lime, _ := species.Find("Lime")
	hornbeam, _ := species.Find("Hornbeam")
	of := func(woods ...species.Species) Material { return Material{Woods: woods} }
	for _, c := range []struct {
		kind plan.Kind
		with string
		m    Material
		want []string
	}{
		{plan.Sanding, "", of(lime), []string{"Dust", "Ears"}},
		{plan.Sanding, "", of(lime, iroko), []string{"Dust", "Ears", "Dust of Iroko"}},
		{plan.HogOut, "", Material{}, []string{"Machines", "Router", "Dust"}},
		{plan.HogOut, tool.Gouge, Material{}, []string{"Machines", "Dust"}},
		{plan.Resaw, "", Material{}, []string{"Machines", "Resawing", "Dust"}},
		{plan.Pour, "", Material{}, []string{"Epoxy"}},
		{plan.ThinGlue, "", Material{}, []string{"Cyanoacrylate"}},
		{plan.Coat, "", Material{Curing: true}, []string{"Spirits and solvents", "Oily rags", "Nut oils"}},
		{plan.Coat, "", Material{Paste: true}, []string{"Melting wax", "Nut oils"}},
		{
			plan.Planing, "", Material{Reclaimed: true},
			[]string{"Machines", "Planer, jointer", "Dust", "Reclaimed wood"},
		},
		{plan.Curve, tool.TableSaw, Material{}, []string{"Machines", "Table and mitre saw", "Dust"}},
		{plan.Curve, tool.Jigsaw, of(hornbeam), []string{"Machines", "Hand-held saw", "Dull blades", "Dust"}},
		{plan.CrossCut, tool.MitreSaw, Material{Bowed: true, Short: 150},
			[]string{"Machines", "Table and mitre saw", "Twisted stock", "Short pieces", "Dust"}},
		{plan.Rip, "", Material{Narrow: 40}, []string{"Machines", "Table and mitre saw", "Narrow rips", "Dust"}},
		{plan.Rip, "", Material{Narrow: 60}, []string{"Machines", "Table and mitre saw", "Dust"}},
		{plan.Bore, tool.DrillPress, Material{}, []string{"Machines", "Drill"}},
		{plan.RouterSled, "", Material{}, []string{"Machines", "Hand plane and router sled", "Dust"}},
		{plan.Wipe, "", Material{Curing: true}, []string{"Spirits and solvents", "Oily rags"}},
		{plan.Buff, "", Material{Curing: true}, []string{"Oily rags"}},
		{plan.Water, "", Material{}, nil},
	} {
		assert.Equal(t, c.want, titles(c.kind, c.with, c.m), c.kind)
	}
}
