package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/jobs"
)

// Ten everyday jobs, each within its number of actions: with the mouse, on a phone, and with the
// keyboard alone.
func TestJobs(t *testing.T) {
	w := jobs.World{API: api, Manage: demo.Manage, Name: demo.Name, Password: demo.Password, Browser: chromium}
	for _, j := range jobs.All {
		for _, way := range []struct {
			name          string
			width, height int
			keys          bool
			budget        int
		}{
			{"mouse", 1280, 800, false, j.Budget},
			{"phone", 390, 844, false, j.Budget + 1},
			{"keys", 1280, 800, true, j.Budget},
		} {
			if way.name == "phone" && !j.Phone {
				continue
			}
			t.Run(j.Name+"-"+way.name, func(t *testing.T) {
				if !j.Pastes && !(way.keys && j.Name == "B") {
					t.Parallel()
				}
				a, err := j.Run(w.For(j.Name+"-"+way.name), way.width, way.height, way.keys)
				require.NoError(t, err)
				assert.LessOrEqual(t, a.Actions, way.budget, "%s: %v", j.About, a.Log)
				t.Logf("%d of %d: %v", a.Actions, way.budget, a.Log)
			})
		}
	}
}
