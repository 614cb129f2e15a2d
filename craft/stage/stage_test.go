package stage

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"idletimber/craft"
	"idletimber/craft/plan"
)

func TestARecordNamesItsStage(t *testing.T) {
	r := Record{Stage: craft.Finish}
	r.Step("First coat", "of oil", plan.Step{Key: "coat-1", Minutes: 10}).Wait = 60
	r.Use(Finish, "oil", 12, craft.Gram, "coat-1")
	r.Use(Finish, "wax", 0, craft.Gram, "coat-1")
	r.Help("A school that cures sooner", "finish", map[string]any{"school": "oil"})
	assert.Equal(t, craft.Finish, r.Steps[0].Stage)
	assert.Equal(t, 60.0, r.Steps[0].Wait, "the step can be gone on with")
	assert.Len(t, r.Uses, 1, "nothing of it is not taken")
	assert.Equal(t, craft.OnBoard, r.Helps[0].On)
}

func ExampleTogether() {
	for _, u := range Together([]Use{
		{Finish, "oil", 12, craft.Gram, "coat-1"},
		{Abrasive, "discs P220", 1, "pieces", "sand-220"},
		{Finish, "oil", 6, craft.Gram, "coat-2"},
	}) {
		fmt.Println(u.Amount, u.Unit, u.Item)
	}
	// Output:
	// 18 g oil
	// 1 pieces discs P220
}
