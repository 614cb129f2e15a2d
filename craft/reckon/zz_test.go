package reckon
import ("testing";"idletimber/craft/geom";"idletimber/craft/rescue")
func BenchmarkWaysUnsawn(b *testing.B) {
	s := sample(); s.Slab.Flaws = nil
	on := doneUntil(b, s, "flatten")
	on = wrong(b, on, "flatten", rescue.Report{Kind: "deeper", Line: []geom.Point{{X: -190, Y: 10}, {X: -100, Y: 20}}})
	for b.Loop() { waysOf(b, on) }
}
