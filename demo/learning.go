package demo

import (
	"math/rand"
	"time"

	"uskel/core/cases"
	"uskel/core/shop"
	"uskel/store"
)

// learner is how somebody answers judgement cases: since when, how often, how surely at first and how surely now.
type learner struct {
	days, every int
	first, now  float64
	weak        string // a skill that they get wrong more often
}

// learners are the shop's own: the trainees practise every few days, the washers now and then.
var learners = map[string]learner{
	"pia":  {pia, 3, 0.55, 0.88, "drying"},
	"cal":  {cal, 3, 0.45, 0.7, "buckets"},
	"osk":  {170, 11, 0.8, 0.92, ""},
	"ines": {170, 12, 0.85, 0.95, ""},
	"jory": {150, 14, 0.7, 0.8, "wheels"},
}

// learning lets everybody answer cases through the half year, true to how surely they answer.
func (l *loader) learning() error {
	dice := rand.New(rand.NewSource(Seed + 2))
	for _, h := range Hands {
		who, learns := learners[h.SignIn]
		if !learns || h.Role == shop.Lead {
			continue
		}
		for ago := min(who.days, l.days); ago > 0; ago -= who.every {
			at := l.now.AddDate(0, 0, -ago).Add(-time.Duration(dice.Intn(180)) * time.Minute)
			if err := l.session(h.SignIn, who, at, float64(ago)/float64(who.days), dice); err != nil {
				return err
			}
		}
	}
	if err := l.byHand(dice); err != nil {
		return err
	}
	return l.watched()
}

// session is three cases at one moment, dealt and answered.
func (l *loader) session(name string, who learner, at time.Time, ago float64, dice *rand.Rand) error {
	person := l.people[name]
	known, err := l.store.Recalls(l.ctx, person)
	if err != nil {
		return err
	}
	rows, err := l.store.DealCases(l.ctx, person, func([]store.CaseRow) ([]store.CaseRow, error) {
		var rows []store.CaseRow
		for _, pick := range cases.Deal(cases.Kinds(), known, at, 3, nil, dice.Int63()) {
			made, err := cases.Make(pick.Kind, dice.Int63(), pick.Level, cases.World{Menu: services()})
			if err != nil {
				return nil, err
			}
			rows = append(rows, store.CaseRow{ID: idFrom(dice), PersonID: person, Kind: made.Kind, Skill: made.Skill, Body: made, DealtAt: at})
		}
		return rows, nil
	})
	if err != nil {
		return err
	}
	for i, row := range rows {
		sure := who.first*ago + who.now*(1-ago)
		if string(row.Skill) == who.weak {
			sure -= 0.25
		}
		if err := l.answered(row, dice.Float64() < sure, at.Add(time.Duration(i+1)*40*time.Second), 5_000+dice.Intn(30_000)); err != nil {
			return err
		}
	}
	return nil
}

// answered is an answer, right or wrong.
func (l *loader) answered(row store.CaseRow, right bool, at time.Time, millis int) error {
	given := cases.Given{Millis: millis}
	if choices := len(row.Body.Choices); choices > 0 {
		pick := row.Body.Answer.Choice
		if !right {
			pick = (pick + 1) % choices
		}
		given.Choice = &pick
	} else {
		number := row.Body.Answer.Number
		if !right {
			number = number*2 + 3
		}
		given.Number = &number
	}
	row.AnsweredAt, row.Given, row.Correct = &at, &given, &right
	_, err := l.store.AnswerCase(l.ctx, row, func(r cases.Recall) (cases.Recall, error) { return r.After(at, given.Rated(right)) })
	return err
}
