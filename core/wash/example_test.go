package wash_test

import (
	"fmt"
	"time"

	"uskel/core/wash"
)

// How a wash stands follows from its taps, in whatever order they came and however often.
func ExampleFold() {
	at := time.Date(2026, 4, 14, 9, 0, 0, 0, time.UTC)
	steps := []wash.PlannedStep{{ID: "rinse"}, {ID: "dry"}}
	started := wash.Event{ID: "1", Kind: wash.Start, Step: "rinse", At: at, By: "osk"}
	done := wash.Event{ID: "2", Kind: wash.Done, Step: "rinse", At: at.Add(4 * time.Minute), By: "osk"}
	state := wash.Fold(steps, []wash.Event{done, started, done})
	for _, s := range state.Steps {
		fmt.Println(s.ID, s.Status)
	}
	// Output:
	// rinse done
	// dry waiting
}
