package schedule_test

import (
	"fmt"

	"uskel/core/measure"
	"uskel/core/schedule"
)

// Foam works by itself: one person does the wheels meanwhile.
func ExampleSolve() {
	p := schedule.Problem{
		People: []schedule.Person{{Name: "Osk"}},
		Work: []schedule.Work{
			{ID: "foam", Step: "foam", Title: "Foam", Seconds: 120},
			{ID: "wheels", Step: "wheels", Title: "Wheels", Seconds: 300},
			{ID: "rinse", Step: "rinse", Title: "Rinse", Seconds: 180},
		},
		Lags: []schedule.Lag{{From: "foam", To: "rinse", Min: 300, Max: ptr(600 * measure.Second)}},
	}
	t, err := schedule.Solve(p, schedule.Options{Seed: 1, Effort: 1000})
	if err != nil {
		panic(err)
	}
	for _, s := range t.Slots {
		fmt.Println(s.Title, "from", s.Start, "to", s.End)
	}
	// Output:
	// Foam from 0 s to 2 min
	// Wheels from 2 min to 7 min
	// Rinse from 7 min to 10 min
}

func ptr[T any](v T) *T { return &v }
