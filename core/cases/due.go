package cases

import (
	"cmp"
	"math/rand"
	"slices"
	"time"

	"uskel/core/procedure"
	"uskel/core/recall"
)

// Recall is what somebody remembers of one kind of case.
type Recall struct {
	Kind     string          `json:"kind"`
	Skill    procedure.Skill `json:"skill"`
	Memory   recall.Memory   `json:"memory"`
	Last     time.Time       `json:"last" doc:"when it was answered last"`
	Due      time.Time       `json:"due" doc:"when it is asked again"`
	Answered int             `json:"answered"`
	Right    int             `json:"right"`
}

// again is after how long a kind that was answered wrong comes back, in another dress (model).
const again = 10 * time.Minute

// wholeDays is how many days lie between two answers.
func wholeDays(from, to time.Time) int { return max(0, int(to.Sub(from).Hours()/24)) }

// After is what is remembered after an answer at a time.
func (r Recall) After(at time.Time, rating recall.Rating) (Recall, error) {
	memory, err := r.Memory.After(wholeDays(r.Last, at), rating)
	if err != nil {
		return r, err
	}
	r.Memory, r.Last = memory, at
	r.Answered++
	r.Due = at.AddDate(0, 0, memory.Interval())
	if rating == recall.Wrong {
		r.Due = at.Add(again)
	} else {
		r.Right++
	}
	return r, nil
}

// Chance is how likely it is still known at a time, 0 to 1; 0 for what was never asked.
func (r Recall) Chance(at time.Time) float64 {
	if !r.Memory.Known() {
		return 0
	}
	return r.Memory.Recall(at.Sub(r.Last).Hours() / 24)
}

// harderFrom are the days of stability from which cases come at the second and the third level (model).
var harderFrom = [2]float64{4, 15}

// Level is how hard the next case of the kind is.
func (r Recall) Level() int {
	switch {
	case r.Memory.Stability >= harderFrom[1]:
		return Hardest
	case r.Memory.Stability >= harderFrom[0]:
		return Hardest - 1
	}
	return 1
}

// newShare is of how many cases one is new, while there are kinds that were never asked (model).
const newShare = 3

// Pick is a case to be dealt.
type Pick struct {
	Kind  string
	Level int
}

// Deal picks so many kinds to ask somebody: what is due, the longest overdue first, then what was never asked, in the order
// of teaching, then what is likeliest forgotten. One in three is new while there are new ones, or what is due would crowd
// them out. No two of one skill come after each other where that can be helped. None of the kinds without is picked.
func Deal(kinds []Kind, known []Recall, at time.Time, n int, without []string, seed int64) []Pick {
	of := map[string]Recall{}
	for _, r := range known {
		of[r.Kind] = r
	}
	queue := slices.DeleteFunc(slices.Clone(kinds), func(k Kind) bool { return slices.Contains(without, k.ID) })
	rng := rand.New(rand.NewSource(seed))
	rng.Shuffle(len(queue), func(i, j int) { queue[i], queue[j] = queue[j], queue[i] })
	taught := procedure.Skill("").Values()
	order := func(k Kind) int {
		listed := slices.IndexFunc(kinds, func(o Kind) bool { return o.ID == k.ID })
		return slices.Index(taught, string(k.Skill))*len(kinds) + listed
	}
	slices.SortStableFunc(queue, func(a, b Kind) int {
		ra, rb := of[a.ID], of[b.ID]
		if x, y := turn(ra, at), turn(rb, at); x != y {
			return x - y
		}
		switch turn(ra, at) {
		case 0:
			return ra.Due.Compare(rb.Due)
		case 1:
			return order(a) - order(b)
		}
		return cmp.Compare(ra.Chance(at), rb.Chance(at))
	})
	var picks []Pick
	last := procedure.Skill("")
	due := n - n/newShare
	isNew := func(k Kind) bool { return turn(of[k.ID], at) == 1 }
	for len(picks) < n && len(queue) > 0 {
		only := len(picks) >= due && slices.ContainsFunc(queue, isNew)
		fits := func(k Kind) bool { return !only || isNew(k) }
		i := slices.IndexFunc(queue, func(k Kind) bool { return fits(k) && k.Skill != last })
		if i < 0 {
			i = slices.IndexFunc(queue, fits)
		}
		k := queue[i]
		queue = slices.Delete(queue, i, i+1)
		last = k.Skill
		picks = append(picks, Pick{k.ID, of[k.ID].Level()})
	}
	return picks
}

// turn is when a kind has its turn: 0 when it is due, 1 when it is new, 2 when it may wait.
func turn(r Recall, at time.Time) int {
	switch {
	case !r.Memory.Known():
		return 1
	case !r.Due.After(at):
		return 0
	}
	return 2
}
