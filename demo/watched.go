package demo

import (
	"math/rand"

	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/skills"
	"uskel/store"
)

// watchedEvery is how often a trainee's wash is watched, and notedEvery how often something is noted.
const (
	watchedEvery = 5
	notedEvery   = 4
)

// notes are what the trainer writes, in three words.
var notes = []string{"pressed a little", "forgot the valve", "good, quick", "asked first", "towel too wet"}

// shownSkills are what a whole wash shows.
var shownSkills = []procedure.Skill{procedure.SkillLance, procedure.SkillWheels, procedure.SkillBuckets, procedure.SkillFoam,
	procedure.SkillMitt, procedure.SkillDry}

// watched are the trainees' washes that the lead watched: true to the washes, as one whose audit found more was helped more,
// and to how surely they answer cases.
func (l *loader) watched() error {
	dice := rand.New(rand.NewSource(Seed + 3))
	rubrics, err := l.store.Rubrics(l.ctx)
	if err != nil {
		return err
	}
	for _, h := range Hands {
		if h.Role != shop.Trainee {
			continue
		}
		lines, err := l.store.WashLines(l.ctx, store.WashQuery{Since: l.now.AddDate(0, 0, -l.days), Before: l.now, Most: 400,
			Asks: l.people["maren"], Of: l.people[h.SignIn]})
		if err != nil {
			return err
		}
		for i, w := range lines {
			if i%watchedEvery != 0 {
				continue
			}
			share := float64(i) / float64(len(lines)) // the newest first
			sure := learners[h.SignIn].now*(1-share) + learners[h.SignIn].first*share - 0.1*float64(w.Findings)
			if err := l.store.AddWatched(l.ctx, l.marksOf(w, rubrics, sure, dice)); err != nil {
				return err
			}
		}
	}
	return nil
}

func (l *loader) marksOf(w store.WashLine, rubrics []skills.Rubric, sure float64, dice *rand.Rand) []store.WatchedRow {
	var rows []store.WatchedRow
	for _, skill := range shownSkills {
		rubric, err := skills.RubricOf(rubrics, skill)
		if err != nil || dice.Intn(3) == 0 {
			continue
		}
		for _, c := range rubric.Criteria {
			mark := skills.WithHelp
			switch {
			case dice.Float64() < sure:
				mark = skills.Alone
			case dice.Intn(6) == 0:
				mark = skills.NotSeen
			}
			row := store.WatchedRow{ID: idFrom(dice), WashID: w.ID, PersonID: w.WasherID, TrainerID: l.people["maren"], Skill: skill,
				Version: rubric.Version, Criterion: c.ID, Mark: mark, At: w.FinishedAt, Received: w.FinishedAt}
			if dice.Intn(notedEvery) == 0 && mark != skills.NotSeen {
				row.Note = notes[dice.Intn(len(notes))]
			}
			rows = append(rows, row)
		}
	}
	return rows
}
