package wash

import (
	"math/rand"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uskel/core/prove"
)

// However a log comes, in batches, out of order, twice, with undos before and after what they take back, and late: folded as it grows
// it stands as it does folded whole, and a state that was given is never changed by what comes later.
func TestALogThatGrowsStandsAsItDoesFoldedWhole(t *testing.T) {
	for seed := range int64(prove.Seeds(t, 400)) {
		rng := rand.New(rand.NewSource(seed))
		story := randomStory(rng)
		for i := range story {
			story[i].Late = rng.Intn(15) == 0
			if rng.Intn(12) == 0 {
				story = append(story, Event{ID: "undo " + story[i].ID, Kind: Undo, Undoes: story[i].ID, By: story[i].By, At: story[i].At, Seq: 900 + i})
			}
		}
		if rng.Intn(2) == 0 {
			rng.Shuffle(len(story), func(i, k int) { story[i], story[k] = story[k], story[i] })
		}
		log, whole := NewLog(reworked), []Event{}
		for left := story; len(left) > 0; {
			n := min(len(left), 1+rng.Intn(3))
			batch := left[:n]
			if rng.Intn(6) == 0 && len(whole) > 0 {
				batch = append([]Event{whole[rng.Intn(len(whole))]}, batch...) // sent twice
			}
			log.Add(batch...)
			whole, left = append(whole, batch...), left[n:]
			given := log.State()
			require.Equal(t, Fold(reworked, whole), given, "seed %d after %d", seed, len(whole))
			if len(left) > 0 {
				log.Add(left[0])
				whole, left = append(whole, left[0]), left[1:]
				require.Equal(t, Fold(reworked, whole[:len(whole)-1]), given, "seed %d: what was given stays", seed)
			}
		}
		require.Equal(t, len(whole), log.Taps())
	}
}

// story of so many taps in order: a step is begun, paused and resumed over and over.
func longStory(n int) []Event {
	var log []Event
	for i := range n {
		kind := []Kind{Note, Rinsed, Pause, Resume}[i%4]
		if i == 0 {
			kind = Start
		}
		e := at(kind, "foam", i)
		e.ID, e.Seq = string(rune('a'+i%26))+time.Duration(i).String(), i
		log = append(log, e)
	}
	return log
}

// A tap on a log of 5,000 costs what one on a log of 50 costs.
func BenchmarkATapOnALongLog(b *testing.B) {
	for _, n := range []int{50, 5000} {
		story := longStory(n)
		b.Run(map[int]string{50: "50", 5000: "5000"}[n], func(b *testing.B) {
			log := NewLog(steps)
			log.Add(story...)
			last := story[n-1]
			for i := range b.N {
				last.ID, last.At = "tap "+time.Duration(i).String(), last.At.Add(time.Second)
				last.Kind = Rinsed
				log.Add(last)
				_ = log.State()
			}
		})
	}
}
