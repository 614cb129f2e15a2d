package aftercare

import (
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"idletimber/craft/plan"
)

// What the interface may send is what there is.
func TestSignsOfAReturn(t *testing.T) {
	field, _ := reflect.TypeFor[Return]().FieldByName("Sign")
	assert.Equal(t, Keys(), strings.Split(field.Tag.Get("enum"), ","))
}

// Every sign tells its owner and the shop what to do, and its course has somebody who ends each wait.
func TestEverySignHasAnAnswer(t *testing.T) {
	seen := map[string]bool{}
	for _, s := range Signs() {
		assert.False(t, seen[s.Key], s.Key)
		seen[s.Key] = true
		assert.NotEmpty(t, s.Owner, s.Key)
		assert.NotEmpty(t, s.Shop, s.Key)
		found, ok := SignOf(s.Key)
		assert.True(t, ok)
		assert.Equal(t, s.Seen, found.Seen)
		r := s.Restore(plan.Pace{})
		assert.NotEmpty(t, r.Steps, s.Key)
		keys := map[string]bool{}
		for i, step := range r.Steps {
			assert.Positive(t, step.Minutes, "%s %s", s.Key, step.Key)
			assert.False(t, keys[step.Key], "%s %s", s.Key, step.Key)
			assert.NotEqual(t, string(step.Kind), step.Setup, "it is no operation of those that make boards")
			assert.Empty(t, step.Tool())
			keys[step.Key] = true
			last := i == len(r.Steps)-1
			comes := !last || s.Sands || s.Coats != NoCoats || s.Key == "handle" // it is given back by hand
			assert.True(t, step.Wait == 0 || comes, "%s: nobody ends the wait after %s", s.Key, step.Key)
			assert.Equal(t, step.Wait > 0, step.WaitFor != "", "%s %s", s.Key, step.Key)
		}
		for _, u := range r.Uses {
			assert.True(t, keys[u.Step], "%s takes %s for no step", s.Key, u.Item)
			assert.Positive(t, u.Amount)
		}
	}
	for _, key := range []string{
		"furry", "dry", "haze", "stained", "scorched", "cupped", "open", "handle", "dishwasher", "smells",
	} {
		assert.True(t, seen[key], key)
	}
	_, ok := SignOf("haunted")
	assert.False(t, ok)
}

func TestAReturnIsChecked(t *testing.T) {
	assert.Empty(t, (*Return)(nil).Check("returned"))
	assert.Empty(t, (&Return{At: time.Unix(0, 0), Sign: "furry"}).Check("returned"))
	assert.Len(t, (&Return{Sign: "haunted"}).Check("returned"), 2)
}
