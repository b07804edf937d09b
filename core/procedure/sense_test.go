package procedure

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/measure"
)

// plainWash is a small procedure with nothing wrong in it.
func plainWash() Procedure {
	return Procedure{ID: "plain", Version: 1, Title: "Plain wash", Entry: []Entry{washable, jetHere, drained},
		Stages: []Stage{
			firstRinse(jet("rinse", "Rinse", "Top down.")),
			wheelStage(wheelsOne()),
			preWash(foamOn(), foamOff("foam")),
			contactWash(fillBuckets(), mitt()),
			finalRinse(finalJet()),
			dry(towels().with(func(s *Step) { s.When = Rule{} })),
			protects(protect("seal", "Sealant", "Panel by panel.", SpraySeal, "It lasts.")),
			glassStage(glass()), shutStage(shuts()), tyreStage(tyres()), lastLook(lookAgain()),
		}}
}

// step gives a pointer to a step to break it.
func (p *Procedure) step(id string) *Step {
	for i := range p.Stages {
		for j := range p.Stages[i].Steps {
			if p.Stages[i].Steps[j].ID == id {
				return &p.Stages[i].Steps[j]
			}
		}
	}
	panic("no step " + id)
}

// add puts steps at the end of a stage.
func (p *Procedure) add(stage string, steps ...Step) {
	for i := range p.Stages {
		if p.Stages[i].ID == stage {
			p.Stages[i].Steps = append(p.Stages[i].Steps, steps...)
			return
		}
	}
	panic("no stage " + stage)
}

// drop takes a step out.
func (p *Procedure) drop(id string) {
	for i := range p.Stages {
		for j := range p.Stages[i].Steps {
			if p.Stages[i].Steps[j].ID == id {
				p.Stages[i].Steps = append(p.Stages[i].Steps[:j:j], p.Stages[i].Steps[j+1:]...)
				return
			}
		}
	}
	panic("no step " + id)
}

// breakages has, for each rule of the sense check, a way to break that rule and no other, and where it is found.
var breakages = map[string]struct {
	at       string
	breakIt  func(*Procedure)
	says     string
	labelled []Label
}{
	"never-applies": {at: "badges", says: "no vehicle this procedure takes", breakIt: func(p *Procedure) {
		p.add("contact", brushBadges().when(All(Min(c.GradeLower, 3), Max(c.GradeOverall, 2))))
	}},
	"nothing-hangs-on-it": {at: "blow", says: "no later step waits", breakIt: func(p *Procedure) {
		p.add("dry", blow().asking("Is it dry?").when(Be(c.BlowerHere, "yes")))
	}},
	"left-open": {at: "look", says: "filler flap. No later step closes it", breakIt: func(p *Procedure) {
		p.step("look").Opens = []string{"filler flap"}
	}},
	"comes-too-early": {
		at:      "rinse",
		says:    "does not stand before it",
		breakIt: func(p *Procedure) { p.step("rinse").After = []string{"mitt"} },
	},
	"dwell-backwards": {
		at:      "foam",
		says:    "before it begins",
		breakIt: func(p *Procedure) { p.step("foam").Dwell = works(9*minute, 2*minute, "") },
	},
	"dwell-over-label": {at: "foam", says: "allows 3 min", breakIt: func(*Procedure) {},
		labelled: []Label{{Class: FoamProduct, Name: "Label", DwellMax: 180}}},
	"product-left-on": {
		at:      "foam",
		says:    "Nothing takes it off when",
		breakIt: func(p *Procedure) { p.step("foam-off").When = hasBugs },
	},
	"lower-before-upper": {at: "sills", says: "goes higher", breakIt: func(p *Procedure) {
		p.Stages[3].Steps = append([]Step{mitt().called("sills").on(LowerHalf)}, p.Stages[3].Steps...)
	}},
	"wheel-cloth-on-paint": {
		at:      "mitt",
		says:    "is for wheels",
		breakIt: func(p *Procedure) { p.step("mitt").Colour = forWheels },
	},
	"contact-before-rinse": {at: "mitt", says: "no rinse or pre-wash", breakIt: func(p *Procedure) {
		p.drop("rinse")
		p.drop("foam")
		p.drop("foam-off")
	}},
	"rinseless-on-caked-soil": {at: "mitt", says: "stops at 2", breakIt: func(p *Procedure) {
		p.drop("rinse")
		p.drop("foam")
		p.drop("foam-off")
		p.add("rinse", wetDown())
		p.step("mitt").Ends = []string{"wet"}
	}},
	"runoff-forbidden": {at: "under", says: "may not run off", breakIt: func(p *Procedure) {
		p.Entry = []Entry{washable, jetHere}
		for _, s := range p.Steps() {
			if s.Technique == Rinse {
				p.step(s.ID).When = All(s.When, Be(c.RunoffAllowed, "yes"))
			}
		}
		for _, id := range []string{"foam", "mitt"} {
			p.step(id).When = Be(c.RunoffAllowed, "yes")
		}
		p.add("rinse", underSpray())
	}},
	"machine-not-there": {at: "blow", says: "none is allowed", breakIt: func(p *Procedure) {
		p.add("dry", blow().with(func(s *Step) { s.When = Rule{} }))
	}},
	"acid-on-bare-metal": {at: "acid", says: "bare or dark wheels", breakIt: func(p *Procedure) {
		p.add("wheels", wheelsOne().called("acid").with(func(s *Step) { s.Dose, s.Class = nil, AcidWheel }))
	}},
	"wax-on-matte": {
		at:      "seal",
		says:    "satin or matte",
		breakIt: func(p *Procedure) { p.step("seal").When = Rule{} },
	},
	"clay-on-coating": {
		at:      "clay",
		says:    "coated car",
		breakIt: func(p *Procedure) { p.add("final", mitt().called("clay").worded("Clay bar", "Panel by panel.")) },
	},
	"spots-without-second-wash": {at: "spots", says: "No second wash", breakIt: func(p *Procedure) {
		p.add(
			"dry",
			Step{
				ID:        "spots",
				Title:     "Spots",
				Text:      "On and off.",
				Reason:    "Acid.",
				Zones:     PaintOnly,
				Technique: Finish,
				Class:     SpotRemover,
				Time:      Time{Fixed: 2},
				Cautions:  []string{cautionGloves},
				LookFor:   "Gone.",
			},
		)
	}},
	"mixed-chemistry": {at: "bugs", says: "holds citrus", breakIt: func(p *Procedure) {
		bugs := soakBugs()
		bugs.Dose.Vessel = "1 l wheel sprayer"
		p.Stages[2].Steps = append([]Step{bugs}, p.Stages[2].Steps...)
		p.step("foam-off").Ends = []string{"foam", "bugs"}
	}},
	"warm-water-for-cold-product": {at: "fill", says: "wants cold water", breakIt: func(p *Procedure) {
		p.step("fill").Dose = toWater(CoatingShampoo, 1, 350, measure.PartsPlusParts, "wash bucket", measure.Ml(12_000))
		p.step("fill").Water = WarmWater
	}},
	"blower-without-hearing": {at: "blow", says: "hearing", breakIt: func(p *Procedure) {
		p.add("dry", blow().with(func(s *Step) { s.Cautions, s.When = nil, Be(c.BlowerHere, "yes") }))
	}},
	"jet-without-caution": {
		at:      "rinse",
		says:    "must not point",
		breakIt: func(p *Procedure) { p.step("rinse").Cautions = nil },
	},
	"chemistry-without-gloves": {
		at:      "wheels",
		says:    "gloves",
		breakIt: func(p *Procedure) { p.step("wheels").Cautions = []string{cautionHot} },
	},
	"hot-wheels": {
		at:      "wheels",
		says:    "cool",
		breakIt: func(p *Procedure) { p.step("wheels").Cautions = []string{cautionGloves} },
	},
	"protection-before-drying": {
		at:      "seal",
		says:    "before the car is dry",
		breakIt: func(p *Procedure) { p.Stages[5], p.Stages[6] = p.Stages[6], p.Stages[5] },
	},
	"dressing-on-wet-tyres": {at: "tyres", says: "wets the tyres again", breakIt: func(p *Procedure) {
		p.add("tyres", finalJet().called("rinse-2"))
	}},
	"glass-before-spray": {
		at:      "glass",
		says:    "sprays after it",
		breakIt: func(p *Procedure) { p.Stages[6], p.Stages[7] = p.Stages[7], p.Stages[6] },
	},
	"wheels-dry-before-rinse": {at: "soak", says: "one wheel at a time", breakIt: func(p *Procedure) {
		p.Stages[1].Steps = append([]Step{soak()}, p.Stages[1].Steps...)
		p.step("wheels").Ends, p.step("wheels").Dose, p.step("wheels").Dwell = []string{"soak"}, nil, nil
		p.step("soak").Dwell = works(minute, 2*minute, "")
		p.step("soak").Time.PerWheel = 1
	}},
	"same-step-twice": {at: "citrus-heavy", says: "both apply when", breakIt: func(p *Procedure) {
		p.Stages[2].Steps = append(
			[]Step{citrus().with(func(s *Step) { s.When = Min(c.GradeLower, 3) }), citrusHeavy()},
			p.Stages[2].Steps...)
		p.step("foam-off").Ends = []string{"foam", "citrus", "citrus-heavy"}
	}},
	"shuts-never-visited": {at: "", says: "No step visits", breakIt: func(p *Procedure) { p.drop("shuts") }},
	"final-look-missing":  {at: "", says: "Nobody looks", breakIt: func(p *Procedure) { p.drop("look") }},
	"too-few-cloths": {
		at:      "towel",
		says:    "One towel",
		breakIt: func(p *Procedure) { p.step("towel").Cloth = "1 drying towel" },
	},
	"circles": {
		at:      "mitt",
		says:    "circles",
		breakIt: func(p *Procedure) { p.step("mitt").Text = "Wash in small circles." },
	},
	"label-reads-otherwise": {
		at:      "foam",
		says:    `reads "one part in"`,
		breakIt: func(*Procedure) {},
		labelled: []Label{
			{
				Class:   FoamProduct,
				Name:    "Label",
				Ratio:   ptr(ratio(1, 9, measure.PartsPlusParts)),
				Reading: measure.OnePartIn,
			},
		},
	},
	"no-reason": {at: "mitt", says: "why", breakIt: func(p *Procedure) { p.step("mitt").Reason = " " }},
	"dwell-of-nothing": {at: "badges", says: "names no product", breakIt: func(p *Procedure) {
		badges := brushBadges()
		badges.When, badges.Dwell, badges.Dose, badges.Class = Rule{}, works(minute, 2*minute, ""), nil, ""
		badges.Dwell.Each = true
		p.add("contact", badges)
	}},
	"nothing-to-look-for": {at: "mitt", says: "shows", breakIt: func(p *Procedure) { p.step("mitt").LookFor = "" }},
	"each-over-its-label": {
		at:      "wheels",
		says:    "Each takes 3 min 30 s, and its product may work 1 min",
		breakIt: func(p *Procedure) { p.step("wheels").Dwell.Max = minute },
	},
	"no-time": {
		at:      "towel",
		says:    "no time",
		breakIt: func(p *Procedure) { p.step("towel").Time = Time{} },
	},
	"no-skill": {at: "mitt", says: "no skill", breakIt: func(p *Procedure) { p.step("mitt").Skill = "" }},
}

func ptr[T any](v T) *T { return &v }

// Each rule finds a procedure that breaks only that rule, at the right step, and nothing else in it.
func TestEachRuleFindsItsMistakeAndNoOther(t *testing.T) {
	require.Empty(t, SenseCheck(plainWash(), nil), "the plain wash is clean")
	assert.GreaterOrEqual(t, len(SenseRules()), 25)
	for _, rule := range SenseRules() {
		b, there := breakages[rule]
		if !assert.True(t, there, "%s: show here how it is broken", rule) {
			continue
		}
		p := plainWash()
		b.breakIt(&p)
		found := SenseCheck(p, b.labelled)
		if assert.NotEmpty(t, found, rule) {
			for _, m := range found {
				assert.Equal(t, rule, m.Rule, "%s: also found %q", rule, m.Says)
			}
			assert.Equal(t, b.at, found[0].Step, rule)
			assert.NotEmpty(t, found[0].Reason)
		}
	}
}

func TestWarningsCanBeWaivedAndErrorsCannot(t *testing.T) {
	p := plainWash()
	p.drop("shuts")
	p.Waivers = []Waiver{{"shuts-never-visited", "", "Another crew does them."}}
	found := SenseCheck(p, nil)
	require.Len(t, found, 1)
	assert.Equal(t, "Another crew does them.", found[0].Waived)
	assert.True(t, Publishable(found))

	p.step("rinse").Cautions = nil
	p.Waivers = append(p.Waivers, Waiver{"jet-without-caution", "rinse", "We know."})
	found = SenseCheck(p, nil)
	assert.Empty(t, found[0].Waived, "an error stands")
	assert.False(t, Publishable(found))
}

func BenchmarkSenseCheckHundredSteps(b *testing.B) {
	p := Maintenance()
	extra := &p.Stages[len(p.Stages)-1]
	for i := len(p.Steps()); i < 100; i++ {
		s := shuts().called("extra-" + string(rune('a'+i%26)) + string(rune('a'+i/26)))
		s.When = All(Min(c.GradeLower, float64(i%4)), BeNot(c.PaintFinish, "satin"), Any(hasBugs, hasSalt))
		extra.Steps = append(extra.Steps, s)
	}
	b.ReportAllocs()
	for b.Loop() {
		SenseCheck(p, nil)
	}
}
