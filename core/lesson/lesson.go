// Package lesson makes the card from which a skill is taught, out of its rubric and the shop's own procedures.
package lesson

import (
	"fmt"
	"slices"

	c "uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/skills"
)

// Lesson is a skill's card: the job in a minute, in detail, and how it is done in this shop.
type Lesson struct {
	Rubric  skills.Rubric `json:"rubric"`
	Here    []HereDone    `json:"here" doc:"how this shop settles what the trade disagrees on"`
	Steps   []Step        `json:"steps" doc:"the shop's own steps of the skill, each title once"`
	Picture Picture       `json:"picture"`
	Vessels []string      `json:"vessels" doc:"what is filled and how it is dosed"`
}

// HereDone is a question of the trade as this shop settles it.
type HereDone struct {
	Question string `json:"question"`
	Answer   string `json:"answer"`
	Why      string `json:"why"`
}

// Step is a step of one of the shop's procedures.
type Step struct {
	Procedure string `json:"procedure"`
	Title     string `json:"title"`
	Text      string `json:"text"`
	Cloth     string `json:"cloth,omitempty"`
	Colour    string `json:"colour,omitempty"`
	LookFor   string `json:"lookFor,omitempty"`
}

// Picture is what is drawn on a card, for somebody who reads the language poorly.
type Picture string

// The pictures.
const (
	NoPicture     Picture = ""
	PanelPicture  Picture = "panel"
	PailPicture   Picture = "buckets"
	WheelPicture  Picture = "wheel"
	CarPicture    Picture = "car"
	TowelPicture  Picture = "towel"
	ShutsPicture  Picture = "shuts"
	JetPicture    Picture = "jet"
	FoamedPicture Picture = "foam"
)

// Values lists the pictures.
func (Picture) Values() []string {
	return []string{string(NoPicture), string(PanelPicture), string(PailPicture), string(WheelPicture), string(CarPicture),
		string(TowelPicture), string(ShutsPicture), string(JetPicture), string(FoamedPicture)}
}

// taughtWith are the questions of the trade that belong to a skill, and what is drawn for it.
var taughtWith = map[procedure.Skill]struct {
	questions []c.Fact
	picture   Picture
}{
	procedure.SkillScope:   {nil, CarPicture},
	procedure.SkillLance:   {[]c.Fact{c.RinsedFirst}, JetPicture},
	procedure.SkillWheels:  {[]c.Fact{c.WheelsWhen, c.WheelsRinsed, c.CleanerFrom}, WheelPicture},
	procedure.SkillBuckets: {[]c.Fact{c.MittRinse, c.MittsOrBuckets}, PailPicture},
	procedure.SkillFoam:    {[]c.Fact{c.FoamAtAll, c.FoamFrom, c.FoamOffFrom, c.OverFoam}, FoamedPicture},
	procedure.SkillMitt:    {[]c.Fact{c.StrokeDirection, c.MittRinse, c.SpongeUse}, PanelPicture},
	procedure.SkillDry:     {[]c.Fact{c.DryWith, c.TowelState, c.DryingAidUse}, TowelPicture},
	procedure.SkillShuts:   {[]c.Fact{c.ShutsWhen}, ShutsPicture},
	procedure.SkillLook:    {nil, CarPicture},
}

// mostSteps is how many of the shop's steps fit on a card.
const mostSteps = 5

// Of is a skill's card, made from the shop's procedures and its own answers to the trade's questions.
func Of(r skills.Rubric, published []procedure.Procedure, shop procedure.Pins, vessels []string) Lesson {
	l := Lesson{Rubric: r, Here: []HereDone{}, Steps: []Step{}, Picture: taughtWith[r.Skill].picture, Vessels: []string{}}
	settled := procedure.Settle(c.Facts{}, nil, nil, shop)
	for _, q := range c.Questions() {
		if !slices.Contains(taughtWith[r.Skill].questions, q.Fact) {
			continue
		}
		at := slices.IndexFunc(settled, func(s procedure.Settled) bool { return s.Fact == q.Fact })
		l.Here = append(l.Here, HereDone{q.Text, settled[at].Value, settled[at].Why})
	}
	for _, p := range published {
		l.take(p)
	}
	if r.Skill == procedure.SkillBuckets || r.Skill == procedure.SkillFoam {
		l.Vessels = append(l.Vessels, vessels...)
	}
	return l
}

// take puts a procedure's steps of the skill on the card, as long as there is room; a title once.
func (l *Lesson) take(p procedure.Procedure) {
	for _, stage := range p.Stages {
		for _, s := range stage.Steps {
			known := slices.ContainsFunc(l.Steps, func(x Step) bool { return x.Title == s.Title })
			if s.Skill == l.Rubric.Skill && !known && len(l.Steps) < mostSteps {
				l.Steps = append(l.Steps, Step{p.Title, s.Title, s.Text, s.Cloth, s.Colour, s.LookFor})
			}
		}
	}
}

// Filled says a vessel in words: what it holds, and what it weighs when it is full.
func Filled(name string, litres float64) string {
	return fmt.Sprintf("%s: %.3g l to its line, some %.0f kg full", name, litres, litres+1)
}
