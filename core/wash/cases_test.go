package wash

import (
	"encoding/json"
	"fmt"
	"math/rand"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/condition"
)

// foldCases is where the front end's test finds what the server folds: the core that was built for devices must give
// the same, down to its JSON. Write it anew with UPDATE=1 go test ./core/wash.
const foldCases = "../../ui/src/core/fold.cases.json"

type foldCase struct {
	Steps  []PlannedStep `json:"steps"`
	Events []Event       `json:"events"`
	State  State         `json:"state"`
}

func TestStoriesForTheDevice(t *testing.T) {
	plan := []PlannedStep{
		{ID: "citrus", Stage: "Pre-wash", Title: "Citrus", Minutes: 1, Dwell: &Dwell{60, 180, 400}},
		{
			ID:      "foam",
			Stage:   "Pre-wash",
			Title:   "Foam",
			Minutes: 2,
			Dwell:   &Dwell{300, 600, 600},
			Rewets:  []string{"citrus"},
		},
		{ID: "fill", Stage: "Pre-wash", Title: "Fill", Minutes: 2},
		{ID: "rinse", Stage: "Pre-wash", Title: "Rinse", Minutes: 3, Ends: []string{"citrus", "foam"}},
		{ID: "mitt", Stage: "Contact wash", Title: "Mitt", Minutes: 9, Rinses: 4},
	}
	rng := rand.New(rand.NewSource(26))
	var cases []foldCase
	for n := range 12 {
		var events []Event
		now := noon
		for i := range 24 {
			now = now.Add(time.Duration(rng.Intn(90_000_000)) * time.Microsecond).Truncate(time.Microsecond)
			e := Event{
				ID:   fmt.Sprintf("%d-%02d", n, (i*7)%24),
				At:   now,
				Seq:  i,
				By:   []string{"a", "b"}[rng.Intn(2)],
				Step: plan[min(i/5+rng.Intn(2), 4)].ID,
				Text: "x",
				Kind: []Kind{Start, Start, Start, Done, Done, Done, Pause, Resume, Skip, Note, Undo, Rinsed, Dropped,
					Dried, Help, Helped, Bonded, HandOver, Replan, Reopen, Poured}[rng.Intn(21)],
			}
			e.Detail = Detail{
				Matter: []condition.Matter{"tar", "bugs"}[rng.Intn(2)],
				Zone:   "roof",
				Remedy: []Remedy{Leave, AskLead}[rng.Intn(2)],
				To:     "c",
				Whole:  rng.Intn(4) == 0,
			}
			if e.Kind == Poured {
				ml := float64(rng.Intn(2000)) / 10
				e.Ml = &ml
			}
			if e.Kind == Undo && i > 0 {
				e.Undoes = events[rng.Intn(i)].ID
			}
			if e.Kind == Replan {
				e.Plan = &Replanned{Without: []string{plan[rng.Intn(5)].ID, plan[rng.Intn(5)].ID}[:rng.Intn(3)],
					People: []string{"b", "c"}[:rng.Intn(3)]}
			}
			e.Late = n%5 == 4 && rng.Intn(4) == 0
			events = append(events, e)
		}
		if n%4 == 0 {
			events = append(
				events,
				events[rng.Intn(20)],
				Event{ID: "end", Kind: Finish, At: now.Add(time.Second), Seq: 99},
			)
		}
		rng.Shuffle(len(events), func(i, j int) { events[i], events[j] = events[j], events[i] })
		cases = append(cases, foldCase{plan, events, Fold(plan, events)})
	}
	lines := make([]string, len(cases)) // a story a line, so that a change shows as what it is
	for i, c := range cases {
		text, err := json.Marshal(c)
		require.NoError(t, err)
		lines[i] = string(text)
	}
	text := "[\n" + strings.Join(lines, ",\n") + "\n]\n"
	if os.Getenv("UPDATE") != "" {
		require.NoError(t, os.WriteFile(foldCases, []byte(text), 0o644))
	}
	written, err := os.ReadFile(foldCases)
	require.NoError(t, err)
	assert.Equal(
		t,
		text,
		string(written),
		"the fold has changed: write the cases anew and see that the core on the device still folds alike",
	)
}
