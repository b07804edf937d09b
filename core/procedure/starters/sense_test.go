package starters

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	c "uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
)

// plainWash is a small procedure with nothing wrong in it.
func plainWash() procedure.Procedure {
	return procedure.Procedure{ID: "plain", Version: 1, Title: "Plain wash", Entry: []procedure.Entry{washable, jetHere, drained},
		Stages: []procedure.Stage{
			firstRinse(jet("rinse", "Rinse", "Top down.")),
			wheelStage(wheelsOne()),
			preWash(foamOn(), foamOff("foam")),
			contactWash(fillBuckets(), mitt()),
			finalRinse(finalJet()),
			dry(towels().With(func(s *procedure.Step) { s.When = procedure.Rule{} })),
			protects(protect("seal", "Sealant", "Panel by panel.", procedure.SpraySeal, "It lasts.")),
			glassStage(glass()), shutStage(shuts()), tyreStage(tyres()), lastLook(lookAgain()),
		}}
}

// step gives a pointer to a step to break it.
func step(p *procedure.Procedure, id string) *procedure.Step {
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
func add(p *procedure.Procedure, stage string, steps ...procedure.Step) {
	for i := range p.Stages {
		if p.Stages[i].ID == stage {
			p.Stages[i].Steps = append(p.Stages[i].Steps, steps...)
			return
		}
	}
	panic("no stage " + stage)
}

// drop takes a step out.
func drop(p *procedure.Procedure, id string) {
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
	breakIt  func(*procedure.Procedure)
	says     string
	labelled []procedure.Label
}{
	"never-applies": {at: "badges", says: "no vehicle this procedure takes", breakIt: func(p *procedure.Procedure) {
		add(p, "contact", brushBadges().OnlyIf(procedure.All(procedure.Min(c.GradeLower, 3), procedure.Max(c.GradeOverall, 2))))
	}},
	"nothing-hangs-on-it": {at: "blow", says: "no later step waits", breakIt: func(p *procedure.Procedure) {
		add(p, "dry", blow().Asking("Is it dry?").OnlyIf(procedure.Be(c.BlowerHere, "yes")))
	}},
	"left-open": {at: "look", says: "filler flap. No later step closes it", breakIt: func(p *procedure.Procedure) {
		step(p, "look").Opens = []string{"filler flap"}
	}},
	"comes-too-early": {
		at:      "rinse",
		says:    "does not stand before it",
		breakIt: func(p *procedure.Procedure) { step(p, "rinse").After = []string{"mitt"} },
	},
	"dwell-backwards": {
		at:      "foam",
		says:    "before it begins",
		breakIt: func(p *procedure.Procedure) { step(p, "foam").Dwell = works(9*minute, 2*minute, "") },
	},
	"dwell-over-label": {at: "foam", says: "allows 3 min", breakIt: func(*procedure.Procedure) {},
		labelled: []procedure.Label{{Class: procedure.FoamProduct, Name: "Label", DwellMax: 180}}},
	"product-left-on": {
		at:      "foam",
		says:    "Nothing takes it off when",
		breakIt: func(p *procedure.Procedure) { step(p, "foam-off").When = hasBugs },
	},
	"lower-before-upper": {at: "sills", says: "goes higher", breakIt: func(p *procedure.Procedure) {
		p.Stages[3].Steps = append([]procedure.Step{mitt().Called("sills").OnZones(procedure.LowerHalf)}, p.Stages[3].Steps...)
	}},
	"wheel-cloth-on-paint": {
		at:      "mitt",
		says:    "is for wheels",
		breakIt: func(p *procedure.Procedure) { step(p, "mitt").Colour = forWheels },
	},
	"contact-before-rinse": {at: "mitt", says: "no rinse or pre-wash", breakIt: func(p *procedure.Procedure) {
		drop(p, "rinse")
		drop(p, "foam")
		drop(p, "foam-off")
	}},
	"rinseless-on-caked-soil": {at: "mitt", says: "stops at 2", breakIt: func(p *procedure.Procedure) {
		drop(p, "rinse")
		drop(p, "foam")
		drop(p, "foam-off")
		add(p, "rinse", wetDown())
		step(p, "mitt").Ends = []string{"wet"}
	}},
	"runoff-forbidden": {at: "under", says: "may not run off", breakIt: func(p *procedure.Procedure) {
		p.Entry = []procedure.Entry{washable, jetHere}
		for _, s := range p.Steps() {
			if s.Technique == procedure.Rinse {
				step(p, s.ID).When = procedure.All(s.When, procedure.Be(c.RunoffAllowed, "yes"))
			}
		}
		for _, id := range []string{"foam", "mitt"} {
			step(p, id).When = procedure.Be(c.RunoffAllowed, "yes")
		}
		add(p, "rinse", underSpray())
	}},
	"machine-not-there": {at: "blow", says: "none is allowed", breakIt: func(p *procedure.Procedure) {
		add(p, "dry", blow().With(func(s *procedure.Step) { s.When = procedure.Rule{} }))
	}},
	"acid-on-bare-metal": {at: "acid", says: "bare or dark wheels", breakIt: func(p *procedure.Procedure) {
		add(p, "wheels", wheelsOne().Called("acid").With(func(s *procedure.Step) { s.Dose, s.Class = nil, procedure.AcidWheel }))
	}},
	"wax-on-matte": {
		at:      "seal",
		says:    "satin or matte",
		breakIt: func(p *procedure.Procedure) { step(p, "seal").When = procedure.Rule{} },
	},
	"clay-on-coating": {
		at:   "clay",
		says: "coated car",
		breakIt: func(p *procedure.Procedure) {
			add(p, "final", mitt().Called("clay").Worded("Clay bar", "Panel by panel."))
		},
	},
	"spots-without-second-wash": {at: "spots", says: "No second wash", breakIt: func(p *procedure.Procedure) {
		add(p,
			"dry",
			procedure.Step{
				ID:        "spots",
				Title:     "Spots",
				Text:      "On and off.",
				Reason:    "Acid.",
				Zones:     procedure.PaintOnly,
				Technique: procedure.Finish,
				Class:     procedure.SpotRemover,
				Time:      procedure.Time{Fixed: 2},
				Cautions:  []string{cautionGloves},
				LookFor:   "Gone.",
			},
		)
	}},
	"mixed-chemistry": {at: "bugs", says: "holds citrus", breakIt: func(p *procedure.Procedure) {
		bugs := soakBugs()
		bugs.Dose.Vessel = "1 l wheel sprayer"
		p.Stages[2].Steps = append([]procedure.Step{bugs}, p.Stages[2].Steps...)
		step(p, "foam-off").Ends = []string{"foam", "bugs"}
	}},
	"warm-water-for-cold-product": {at: "fill", says: "wants cold water", breakIt: func(p *procedure.Procedure) {
		step(p, "fill").Dose = toWater(procedure.CoatingShampoo, 1, 350, measure.PartsPlusParts, "wash bucket", measure.Ml(12_000))
		step(p, "fill").Water = procedure.WarmWater
	}},
	"blower-without-hearing": {at: "blow", says: "hearing", breakIt: func(p *procedure.Procedure) {
		add(p, "dry", blow().With(func(s *procedure.Step) { s.Cautions, s.When = nil, procedure.Be(c.BlowerHere, "yes") }))
	}},
	"jet-without-caution": {
		at:      "rinse",
		says:    "must not point",
		breakIt: func(p *procedure.Procedure) { step(p, "rinse").Cautions = nil },
	},
	"chemistry-without-gloves": {
		at:      "wheels",
		says:    "gloves",
		breakIt: func(p *procedure.Procedure) { step(p, "wheels").Cautions = []string{cautionHot} },
	},
	"hot-wheels": {
		at:      "wheels",
		says:    "cool",
		breakIt: func(p *procedure.Procedure) { step(p, "wheels").Cautions = []string{cautionGloves} },
	},
	"protection-before-drying": {
		at:      "seal",
		says:    "before the car is dry",
		breakIt: func(p *procedure.Procedure) { p.Stages[5], p.Stages[6] = p.Stages[6], p.Stages[5] },
	},
	"dressing-on-wet-tyres": {at: "tyres", says: "wets the tyres again", breakIt: func(p *procedure.Procedure) {
		add(p, "tyres", finalJet().Called("rinse-2"))
	}},
	"glass-before-spray": {
		at:      "glass",
		says:    "sprays after it",
		breakIt: func(p *procedure.Procedure) { p.Stages[6], p.Stages[7] = p.Stages[7], p.Stages[6] },
	},
	"wheels-dry-before-rinse": {at: "soak", says: "one wheel at a time", breakIt: func(p *procedure.Procedure) {
		p.Stages[1].Steps = append([]procedure.Step{soak()}, p.Stages[1].Steps...)
		step(p, "wheels").Ends, step(p, "wheels").Dose, step(p, "wheels").Dwell = []string{"soak"}, nil, nil
		step(p, "soak").Dwell = works(minute, 2*minute, "")
		step(p, "soak").Time.PerWheel = 1
	}},
	"same-step-twice": {at: "citrus-heavy", says: "both apply when", breakIt: func(p *procedure.Procedure) {
		p.Stages[2].Steps = append(
			[]procedure.Step{citrus().With(func(s *procedure.Step) { s.When = procedure.Min(c.GradeLower, 3) }), citrusHeavy()},
			p.Stages[2].Steps...)
		step(p, "foam-off").Ends = []string{"foam", "citrus", "citrus-heavy"}
	}},
	"shuts-never-visited": {at: "", says: "No step visits", breakIt: func(p *procedure.Procedure) { drop(p, "shuts") }},
	"final-look-missing":  {at: "", says: "Nobody looks", breakIt: func(p *procedure.Procedure) { drop(p, "look") }},
	"too-few-cloths": {
		at:      "towel",
		says:    "One towel",
		breakIt: func(p *procedure.Procedure) { step(p, "towel").Cloth = "1 drying towel" },
	},
	"circles": {
		at:      "mitt",
		says:    "circles",
		breakIt: func(p *procedure.Procedure) { step(p, "mitt").Text = "Wash in small circles." },
	},
	"label-reads-otherwise": {
		at:      "foam",
		says:    `reads "one part in"`,
		breakIt: func(*procedure.Procedure) {},
		labelled: []procedure.Label{
			{
				Class:   procedure.FoamProduct,
				Name:    "Label",
				Ratio:   ptr(ratio(1, 9, measure.PartsPlusParts)),
				Reading: measure.OnePartIn,
			},
		},
	},
	"no-reason": {at: "mitt", says: "why", breakIt: func(p *procedure.Procedure) { step(p, "mitt").Reason = " " }},
	"dwell-of-nothing": {at: "badges", says: "names no product", breakIt: func(p *procedure.Procedure) {
		badges := brushBadges()
		badges.When, badges.Dwell, badges.Dose, badges.Class = procedure.Rule{}, works(minute, 2*minute, ""), nil, ""
		badges.Dwell.Each = true
		add(p, "contact", badges)
	}},
	"nothing-to-look-for": {at: "mitt", says: "shows", breakIt: func(p *procedure.Procedure) { step(p, "mitt").LookFor = "" }},
	"each-over-its-label": {
		at:      "wheels",
		says:    "Each takes 3 min 30 s, and its product may work 1 min",
		breakIt: func(p *procedure.Procedure) { step(p, "wheels").Dwell.Max = minute },
	},
	"no-time": {
		at:      "towel",
		says:    "no time",
		breakIt: func(p *procedure.Procedure) { step(p, "towel").Time = procedure.Time{} },
	},
	"no-skill": {at: "mitt", says: "no skill", breakIt: func(p *procedure.Procedure) { step(p, "mitt").Skill = "" }},
}

func ptr[T any](v T) *T { return &v }

// Each rule finds a procedure that breaks only that rule, at the right step, and nothing else in it.
func TestEachRuleFindsItsMistakeAndNoOther(t *testing.T) {
	require.Empty(t, procedure.SenseCheck(plainWash(), nil), "the plain wash is clean")
	assert.GreaterOrEqual(t, len(procedure.SenseRules()), 25)
	for _, rule := range procedure.SenseRules() {
		b, there := breakages[rule]
		if !assert.True(t, there, "%s: show here how it is broken", rule) {
			continue
		}
		p := plainWash()
		b.breakIt(&p)
		found := procedure.SenseCheck(p, b.labelled)
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
	drop(&p, "shuts")
	p.Waivers = []procedure.Waiver{{Rule: "shuts-never-visited", Step: "", Reason: "Another crew does them."}}
	found := procedure.SenseCheck(p, nil)
	require.Len(t, found, 1)
	assert.Equal(t, "Another crew does them.", found[0].Waived)
	assert.True(t, procedure.Publishable(found))

	step(&p, "rinse").Cautions = nil
	p.Waivers = append(p.Waivers, procedure.Waiver{Rule: "jet-without-caution", Step: "rinse", Reason: "We know."})
	found = procedure.SenseCheck(p, nil)
	assert.Empty(t, found[0].Waived, "an error stands")
	assert.False(t, procedure.Publishable(found))
}

func BenchmarkSenseCheckHundredSteps(b *testing.B) {
	p := Maintenance()
	extra := &p.Stages[len(p.Stages)-1]
	for i := len(p.Steps()); i < 100; i++ {
		s := shuts().Called("extra-" + string(rune('a'+i%26)) + string(rune('a'+i/26)))
		s.When = procedure.All(procedure.Min(c.GradeLower, float64(i%4)), procedure.BeNot(c.PaintFinish, "satin"),
			procedure.Any(hasBugs, hasSalt))
		extra.Steps = append(extra.Steps, s)
	}
	b.ReportAllocs()
	for b.Loop() {
		procedure.SenseCheck(p, nil)
	}
}
