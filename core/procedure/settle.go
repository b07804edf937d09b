package procedure

import (
	"fmt"
	"slices"
	"strings"

	c "uskel/core/condition"
)

// answer is a default: when it holds, the question is settled so, and why.
type answer struct {
	when  Rule
	value string
	why   string
}

// defaults settle each disagreement by condition (docs/trade.md, section 8, last column). The first answer that holds
// counts; the last of each always does.
var defaults = map[c.Fact][]answer{
	c.WheelsWhen: {
		{Be(c.SupplyHere, c.Carried), c.Last, "nothing is rinsed here"},
		{Be(c.FoamOutlasts, "yes"), c.DuringFoam, "foam may work longer than the wheels take"},
		{Rule{}, c.First, "foam must be off before the wheels are done"}},
	c.WheelsRinsed: {
		{Min(c.GradeWheels, 4), c.Yes, "caked wheels: lumps come off first"},
		{Rule{}, c.No, "water would dilute the cleaner"}},
	c.CleanerFrom: {{Rule{}, c.FromBottom, "runs meet product, so nothing streaks"}},
	c.RinsedFirst: {
		{Any(Min(c.GradeOverall, 4), Min(c.GradeLower, 4)), c.Yes, "there are lumps, which foam only hides"},
		{Rule{}, c.No, "without lumps foam works best on dry paint"}},
	c.FoamBody: {
		{Min(c.GradeOverall, 2), c.Thin, "it must drip within its dwell and carry the dirt down"},
		{Rule{}, c.Thick, "there is little to carry, so it may cling"}},
	c.FoamFrom: {
		{Max(c.FoamWindow, 5), c.FromTop, "it races the sun"},
		{Rule{}, c.FromBottom, "the dirt below gets the longest dwell"}},
	c.FoamOffFrom: {{Rule{}, c.FromTop, "down, once; bottom up only before contact, to see what is left"}},
	c.FoamAtAll: {
		{Min(c.GradeOverall, 2), c.Yes, "needed from grade 2"},
		{Be(c.Protected, c.Coating), c.Yes, "a coating wants it"},
		{Rule{}, c.No, "a good rinse is enough for light dirt"}},
	c.OverFoam: {
		{Min(c.GradeOverall, 2), c.RinseItOff, "from grade 2 the dirt is carried away first"},
		{Rule{}, c.WashOver, "at grade 0 to 1 the slip is worth more"}},
	c.MittRinse: {{Rule{}, c.Rub, "if the guard holds 50 mm over the bottom; and wring outside"}},
	c.MittsOrBuckets: {
		{Min(c.GradeOverall, 3), c.ManyMitts, "from grade 3, if the shop has a laundry"},
		{Rule{}, c.TwoBuckets, "rinsed well, one is enough"},
	},
	c.StrokeDirection: {{Rule{}, c.Along, "straight, one direction a pass; never circles or eights"}},
	c.SpongeUse: {
		{Be(c.SupplyHere, c.Carried), c.SplitFaceOnly, "allowed in a rinseless wash"},
		{Rule{}, c.NoSponge, "no plain sponge"},
	},
	c.BrushWhen: {
		{Min(c.GradeOverall, 2), c.InContact, "before, it would touch what is still dirty"},
		{Rule{}, c.InPrewash, "light dirt: it may touch while foam works"},
	},
	c.SoapDries: {{Rule{}, c.ReWet, "never let anything dry"}},
	c.DryingAidUse: {
		{Be(c.WaterOnPaint, c.Flat), c.Yes, "water lies flat"},
		{Be(c.DarkPaint, "yes"), c.Yes, "dark paint shows what a dragging towel does"},
		{Rule{}, c.No, "the towel does not drag"}},
	c.TowelState: {{Rule{}, c.DampTowel, "damped on the glass first"}},
	c.DryWith: {
		{Be(c.BlowerHere, "yes"), c.BlowerAndTowel, "power and neighbours allow the blower"},
		{Rule{}, c.TowelOnly, "no blower here"}},
	c.ShutsWhen:  {{Rule{}, c.AfterDrying, "with their own towel"}},
	c.DishSoap:   {{Rule{}, c.No, "it hides what water does"}},
	c.CoverAfter: {{Rule{}, c.No, "outdoors it rubs grit in"}},
}

// Pins settle questions ahead of the defaults.
type Pins = map[c.Fact]string

// Settled is how a question was settled, by whom, and why.
type Settled struct {
	Fact  c.Fact `json:"fact" doc:"the question"`
	Value string `json:"value"`
	By    string `json:"by" doc:"this wash, this procedure, the shop or the condition" enum:"this wash,this procedure,the shop,the condition"`
	Why   string `json:"why"`
}

// Settle answers every question: pinned for the wash, else by the procedure, else by the shop, else by the condition.
// The answers are added to the facts, so that steps can ask for them.
func Settle(facts c.Facts, wash, procedure, shop Pins) []Settled {
	settled := make([]Settled, 0, len(c.Questions()))
	for _, q := range c.Questions() {
		s := Settled{Fact: q.Fact}
		switch {
		case wash[q.Fact] != "":
			s.Value, s.By, s.Why = wash[q.Fact], "this wash", "pinned for this wash"
		case procedure[q.Fact] != "":
			s.Value, s.By, s.Why = procedure[q.Fact], "this procedure", "part of this procedure"
		case shop[q.Fact] != "":
			s.Value, s.By, s.Why = shop[q.Fact], "the shop", "the shop's way"
		default:
			i := slices.IndexFunc(defaults[q.Fact], func(a answer) bool { return a.when.Holds(facts) })
			a := defaults[q.Fact][i]
			s.Value, s.By, s.Why = a.value, "the condition", a.why
			if found := a.when.Why(facts); found != "" {
				s.Why = fmt.Sprintf("%s (%s)", a.why, found)
			}
		}
		if q.Fact == c.DryWith && facts[c.BlowerHere].Text == "no" && s.Value != c.TowelOnly {
			s.Value, s.By, s.Why = c.TowelOnly, "the condition", "no blower may be used here, whatever is pinned"
		}
		facts[q.Fact] = c.Value{Text: s.Value}
		settled = append(settled, s)
	}
	return settled
}

// Defaults says how a question is settled when nobody pins it, in words.
func Defaults(question c.Fact) string {
	var said []string
	for _, a := range defaults[question] {
		switch when := a.when.Sentence(); {
		case when != "":
			said = append(said, fmt.Sprintf("%s if %s", a.value, when))
		case len(said) > 0:
			said = append(said, "otherwise "+a.value)
		default:
			said = append(said, a.value)
		}
	}
	return strings.Join(said, "; ")
}

// planned are the questions that no rule need ask about: the planner itself goes by them where some step does the thing.
var planned = map[c.Fact]func(Step) bool{
	c.FoamFrom:    func(s Step) bool { return s.Technique == Apply && s.is(FoamProduct, CitrusWash) },
	c.FoamOffFrom: func(s Step) bool { return s.Technique == Rinse && len(s.Ends) > 0 },
	c.CleanerFrom: func(s Step) bool { return s.Zones == AllWheels && s.Technique == Apply },
	c.SoapDries:   func(s Step) bool { return len(s.Rewets) > 0 },
}

// Relevant keeps those answers that change something in this procedure: some rule of it asks about them, or the planner
// goes by them. What changes nothing is not shown as settled.
func (p Procedure) Relevant(settled []Settled) []Settled {
	asked := map[c.Fact][]float64{}
	for _, e := range p.Entry {
		e.Rule.mention(asked)
	}
	p.Suits.mention(asked)
	for _, r := range p.Rounds {
		r.When.mention(asked)
	}
	for _, s := range p.Steps() {
		s.When.mention(asked)
		for _, say := range s.Says {
			say.When.mention(asked)
		}
		if s.Dose != nil {
			for _, strength := range s.Dose.Stronger {
				strength.When.mention(asked)
			}
		}
	}
	kept := []Settled{}
	for _, s := range settled {
		_, ruled := asked[s.Fact]
		does := planned[s.Fact]
		if ruled || does != nil && slices.ContainsFunc(p.Steps(), does) {
			kept = append(kept, s)
		}
	}
	return kept
}
