package plan

import (
	"fmt"
	"slices"

	"uskel/core/procedure"
	"uskel/core/schedule"
)

// Beside is a trainee who washes with somebody signed off beside them.
type Beside struct {
	Trainer string `json:"trainer" format:"uuid"`
	Whole   bool   `json:"whole,omitempty" doc:"watches the whole wash, not only what the trainee is not signed off for"`
}

// Attention is what stands for somebody's attention in a timeline: whoever stands beside a trainee does nothing else.
func (b Beside) Attention() string { return "beside " + b.Trainer }

// Check says why somebody cannot stand beside a trainee: they are the same, or not signed off themselves for something in
// the work that the trainee is not signed off for.
func (b Beside) Check(work []schedule.Work, trainee, trainer schedule.Person) error {
	if trainee.Key() == trainer.Key() {
		return fmt.Errorf("%s cannot stand beside themselves", trainer.Name)
	}
	for _, w := range work {
		if w.Skill != "" && !slices.Contains(trainee.Skills, w.Skill) && !slices.Contains(trainer.Skills, w.Skill) {
			return fmt.Errorf("%s is not signed off for %s either: choose somebody who is", trainer.Name, procedure.Skill(w.Skill))
		}
	}
	return nil
}

// Stand gives all of a wash's work to the trainee. What they are not signed off for, or all of it, takes the trainer's
// attention.
func (b Beside) Stand(work []schedule.Work, trainee schedule.Person) {
	for i := range work {
		w := &work[i]
		if w.Unattended || w.Pinned != nil {
			continue
		}
		lacks := w.Skill != "" && !slices.Contains(trainee.Skills, w.Skill)
		w.Only, w.Together = []string{trainee.Key()}, ""
		if lacks {
			w.Skill = ""
		}
		if lacks || b.Whole {
			w.Uses = append(slices.Clone(w.Uses), b.Attention())
		}
	}
}

// Attend keeps the trainer's own work apart from standing beside somebody: what only they do takes their attention, and
// what anybody may do is left to the others.
func (b Beside) Attend(work []schedule.Work, people []schedule.Person) {
	for i := range work {
		w := &work[i]
		if w.Unattended || w.Pinned != nil || slices.Contains(w.Uses, b.Attention()) {
			continue
		}
		if len(w.Only) == 0 {
			others := []string{}
			for _, p := range people {
				if p.Key() != b.Trainer && (w.Skill == "" || slices.Contains(p.Skills, w.Skill)) {
					others = append(others, p.Key())
				}
			}
			if len(others) > 0 {
				w.Only = others
				continue
			}
			w.Only = []string{b.Trainer}
		}
		if slices.Contains(w.Only, b.Trainer) {
			w.Uses = append(slices.Clone(w.Uses), b.Attention())
		}
	}
}

// Machine is the attention as the timeline shows it.
func (b Beside) Machine(trainer string) schedule.Machine {
	return schedule.Machine{ID: b.Attention(), Name: trainer + ", beside", Count: 1}
}
