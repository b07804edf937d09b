package procedure

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"

	c "uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Severity is how bad a mistake in a procedure is.
type Severity string

// The severities: an error keeps a procedure from being published, a warning may be waived with a reason.
const (
	Error   Severity = "error"
	Warning Severity = "warning"
)

// Values lists the severities.
func (Severity) Values() []string { return []string{string(Error), string(Warning)} }

// Mistake is something the sense check found.
type Mistake struct {
	Rule     string   `json:"rule"`
	Severity Severity `json:"severity"`
	Step     string   `json:"step,omitempty" doc:"Where to look; empty for the whole procedure"`
	Other    string   `json:"other,omitempty" doc:"The other step, where two are at odds"`
	Says     string   `json:"says"`
	Reason   string   `json:"reason" doc:"Why the trade minds"`
	Waived   string   `json:"waived,omitempty" doc:"The lead's reason for letting a warning stand"`
}

// Waiver lets a warning stand, with a reason that is kept with the version.
type Waiver struct {
	Rule   string `json:"rule"`
	Step   string `json:"step,omitempty"`
	Reason string `json:"reason" minLength:"1" maxLength:"400"`
}

// Label is what the sense check must know of a product on the shelf.
type Label struct {
	Class    ProductClass
	Name     string
	DwellMax measure.Seconds
	Ratio    *measure.Ratio
	Reading  measure.Reading
	Cold     bool
}

// senseRule is one thing the trade minds (docs/trade.md, sections 5, 6, 9 and 12; common practice, no source).
type senseRule struct {
	id       string
	severity Severity
	reason   string
	find     func(*reader) []Mistake
}

// reader is a procedure being read: its steps in order, and what must hold for it to be used at all.
type reader struct {
	p      Procedure
	steps  []Step
	entry  Rule
	labels []Label
	// entryFacts are the facts each part of the entry asks about.
	entryFacts [][]c.Fact
}

// SenseCheck reads a procedure as an old hand would and lists what is wrong, errors first, in the order of the steps.
func SenseCheck(p Procedure, shelf []Label) []Mistake {
	r := &reader{p: p, steps: p.Steps(), labels: shelf}
	held := []Rule{}
	for _, e := range p.Entry {
		held = append(held, e.Rule)
	}
	for fact, value := range p.Pins {
		if pinned, err := NewTest(fact, Is, c.Value{Text: value}); err == nil { // Check names pins that cannot be
			held = append(held, pinned)
		}
	}
	r.entry = All(held...)
	for _, one := range held {
		asks := map[c.Fact][]float64{}
		one.mention(asks)
		r.entryFacts = append(r.entryFacts, slices.Collect(maps.Keys(asks)))
	}
	found := []Mistake{}
	for _, rule := range senseRules {
		for _, m := range rule.find(r) {
			m.Rule, m.Severity, m.Reason = rule.id, rule.severity, rule.reason
			for _, w := range p.Waivers {
				if w.Rule == m.Rule && w.Step == m.Step && m.Severity == Warning {
					m.Waived = w.Reason
				}
			}
			found = append(found, m)
		}
	}
	at := map[string]int{}
	for i, s := range r.steps {
		at[s.ID] = i + 1
	}
	slices.SortStableFunc(found, func(a, b Mistake) int {
		if a.Severity != b.Severity {
			return strings.Compare(string(a.Severity), string(b.Severity))
		}
		return at[a.Step] - at[b.Step]
	})
	return found
}

// Unusable are the mistakes that make a procedure unusable, whatever it is used on: what Check names, an error each.
func (p Procedure) Unusable() []Mistake {
	err := p.Check()
	if err == nil {
		return nil
	}
	list := []error{err}
	if many, ok := err.(interface{ Unwrap() []error }); ok {
		list = many.Unwrap()
	}
	found := make([]Mistake, len(list))
	for i, e := range list {
		found[i] = Mistake{Rule: "unusable", Severity: Error, Says: e.Error(), Reason: "It is refused when it is published."}
	}
	return found
}

// Publishable reports whether nothing in the list keeps a procedure from being published.
func Publishable(found []Mistake) bool {
	return !slices.ContainsFunc(found, func(m Mistake) bool { return m.Severity == Error })
}

// SenseRules lists the rules' ids, for documentation and tests.
func SenseRules() []string {
	ids := make([]string, len(senseRules))
	for i, r := range senseRules {
		ids[i] = r.id
	}
	return ids
}

// applies is when a step is in the plan at all.
func (r *reader) applies(s Step) Rule { return All(r.entry, s.When) }

// can reports whether a step can be in a plan in which some more holds. Entries that are tied to it by no fact do not
// come into it: each of them can hold by itself.
func (r *reader) can(s Step, more ...Rule) bool {
	asked := map[c.Fact][]float64{}
	rest := All(append([]Rule{s.When}, more...)...)
	rest.mention(asked)
	linked, used := []Rule{rest}, make([]bool, len(r.entry.all))
	for grown := true; grown; {
		grown = false
		for i, held := range r.entry.all {
			if !used[i] && tied(r.entryFacts[i], asked) {
				used[i], grown = true, true
				linked = append(linked, held)
				held.mention(asked)
			}
		}
	}
	return Possible(All(linked...))
}

// tied reports whether any of some facts is among others, or is bound to one of them by a law.
func tied(own []c.Fact, asked map[c.Fact][]float64) bool {
	for _, fact := range own {
		if _, there := asked[fact]; there {
			return true
		}
		for _, l := range laws {
			_, one := asked[l.one]
			_, other := asked[l.other]
			if l.other == fact && one || l.one == fact && other {
				return true
			}
		}
	}
	return false
}

// together reports whether two steps can be in the same plan.
func (r *reader) together(a, b Step, more ...Rule) bool {
	return Possible(All(append([]Rule{r.entry, a.When, b.When}, more...)...))
}

// none is the rule that none of the steps is in the plan.
func none(steps []Step) Rule {
	rules := make([]Rule, len(steps))
	for i, s := range steps {
		if s.When.Always() {
			return Not(Rule{})
		}
		rules[i] = Not(s.When)
	}
	return All(rules...)
}

// title names a step, or gives back the id of one that is gone.
func (r *reader) title(id string) string {
	if s, err := r.p.Step(id); err == nil {
		return s.Title
	}
	return id
}

// every lists a mistake for each step that a test finds wrong.
func (r *reader) every(says func(i int, s Step) string) []Mistake {
	var found []Mistake
	for i, s := range r.steps {
		if text := says(i, s); text != "" {
			found = append(found, Mistake{Step: s.ID, Says: text})
		}
	}
	return found
}

// where lists the steps among some that a test picks.
func where(steps []Step, pick func(Step) bool) []Step {
	var picked []Step
	for _, s := range steps {
		if pick(s) {
			picked = append(picked, s)
		}
	}
	return picked
}

// group facts of a mid-size car, worked out once.
var groupZones = func() map[ZoneGroup][]vehicle.Part {
	all := map[ZoneGroup][]vehicle.Part{}
	for _, name := range ZoneGroup("").Values() {
		for _, p := range vehicle.Hatch.Parts() {
			if ZoneGroup(name).Has(p) {
				all[ZoneGroup(name)] = append(all[ZoneGroup(name)], p)
			}
		}
	}
	return all
}()

// anyPart reports whether the step works on a part of a mid-size car that a test picks.
func (s Step) anyPart(test func(vehicle.Part) bool) bool {
	if s.Zones != ChosenZones {
		return slices.ContainsFunc(groupZones[s.Zones], test)
	}
	return slices.ContainsFunc(vehicle.Hatch.Parts(), func(p vehicle.Part) bool { return s.On(p) && test(p) })
}

// usualTouch is what a contact wash usually takes, min/m2, rinses included (docs/trade.md, section 20: 8 to 15 min for a
// mid-size; common practice, no source).
const usualTouch = 0.75

// usualMinutes is what the step takes on a mid-size car, moderately dirty.
func (s Step) usualMinutes() float64 {
	if !s.Touches() {
		return s.Time.Fixed + s.Time.Body + 4*s.Time.PerWheel
	}
	area := 0.0
	s.anyPart(func(p vehicle.Part) bool { area += p.Area; return false })
	return s.Time.Fixed + usualTouch*area
}

func (s Step) onlyBand(b vehicle.Band) bool {
	all := func(vehicle.Part) bool { return true }
	return s.anyPart(all) && !s.anyPart(func(p vehicle.Part) bool { return p.Band != b })
}

func (s Step) hasPaint() bool {
	return s.anyPart(func(p vehicle.Part) bool { return p.Surface == vehicle.Paint })
}

func (s Step) hasWheels() bool {
	return s.anyPart(func(p vehicle.Part) bool { return p.Band == vehicle.Wheels })
}

// ProductClass is the class of what the step uses, mixed or as it comes.
func (s Step) ProductClass() ProductClass {
	if s.Dose != nil {
		return s.Dose.Class
	}
	return s.Class
}

func (s Step) is(classes ...ProductClass) bool { return slices.Contains(classes, s.ProductClass()) }

func (s Step) cautioned(word string) bool {
	return slices.ContainsFunc(
		s.Cautions,
		func(text string) bool { return strings.Contains(strings.ToLower(text), word) },
	)
}

var leadingNumber = regexp.MustCompile(`^\s*(\d+)\b`)

// ClothPurpose is what a cloth is for, by how it is marked: "blue: paint" and "tide: paint" are for the same, and never for wheels. What
// is marked by a colour alone is for that.
func ClothPurpose(marked string) string {
	_, purpose, told := strings.Cut(marked, ":")
	if !told {
		purpose = marked
	}
	return strings.ToLower(strings.Join(strings.Fields(purpose), " "))
}

// ClothCount is the number of cloths a step names; 0 when it names none.
func ClothCount(cloth string) int {
	m := leadingNumber.FindStringSubmatch(cloth)
	if m == nil {
		return 0
	}
	n, _ := strconv.Atoi(m[1])
	return n
}

var senseRules = []senseRule{
	{"never-applies", Error, "A step nobody ever meets hides a mistake in its condition.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.When.Always() || r.can(s) {
				return ""
			}
			return fmt.Sprintf("Never true: no vehicle this procedure takes is such that %s.", s.When.Sentence())
		})
	}},
	{"comes-too-early", Error, "What a step builds on must be done before it.", func(r *reader) []Mistake {
		return r.every(func(i int, s Step) string {
			for _, id := range s.After {
				if !slices.ContainsFunc(r.steps[:i], func(earlier Step) bool { return earlier.ID == id }) {
					return fmt.Sprintf("It comes after “%s”, which does not stand before it.", r.title(id))
				}
			}
			return ""
		})
	}},
	{"nothing-hangs-on-it", Warning, "A question that changes nothing is a tap for nothing.", func(r *reader) []Mistake {
		return r.every(func(i int, s Step) string {
			waits := func(later Step) bool { return later.If != nil && later.If.Step == s.ID }
			if s.Asks == nil || slices.ContainsFunc(r.steps[i:], waits) {
				return ""
			}
			return fmt.Sprintf("It asks “%s”, and no later step waits for the answer.", s.Asks.Text)
		})
	}},
	{"left-open", Warning, "What is left open as a reminder must be closed before the vehicle goes.", func(r *reader) []Mistake {
		return r.every(func(i int, s Step) string {
			if len(where(r.steps, func(s Step) bool { return s.Technique == Inspect })) == 0 {
				return "" // that is said of the procedure itself
			}
			for _, mark := range s.Opens {
				closes := func(later Step) bool { return later.Technique == Inspect || slices.Contains(later.Closes, mark) }
				if !slices.ContainsFunc(r.steps[i+1:], closes) {
					return fmt.Sprintf("It leaves open: %s. No later step closes it, nor a last look after it.", mark)
				}
			}
			return ""
		})
	}},
	{"dwell-backwards", Error, "A product cannot come off before it has worked.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.Dwell == nil || s.Dwell.Max >= s.Dwell.Min {
				return ""
			}
			return fmt.Sprintf("Its dwell ends at %s, before it begins at %s.", s.Dwell.Max, s.Dwell.Min)
		})
	}},
	{"dwell-of-nothing", Error, "What works on the car is a product or water, and it works somewhere.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			switch {
			case s.Dwell == nil:
				return ""
			case s.ProductClass() == "" && s.Water == "" && s.Act == "" && len(s.Rewets) == 0:
				return "It works for a while, and names no product or water that does."
			case !s.anyPart(func(vehicle.Part) bool { return true }):
				return "It works for a while, and names no zones on which it does."
			}
			return ""
		})
	}},
	{"dwell-over-label", Warning, "The label wins: the plan will cut the dwell short.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			for _, l := range r.labels {
				if s.Dwell != nil && l.Class == s.ProductClass() && l.Class != "" && l.DwellMax > 0 &&
					s.Dwell.Min > l.DwellMax {
					return fmt.Sprintf(
						"It is to work at least %s; the label of %s allows %s.",
						s.Dwell.Min,
						l.Name,
						l.DwellMax,
					)
				}
			}
			return ""
		})
	}},
	{"product-left-on", Error, "Product that is never rinsed dries and stains.", func(r *reader) []Mistake {
		return r.every(func(i int, s Step) string {
			coat := s.Technique == Finish // what is left on to set is a wait between coats, not a film that is taken off
			if s.Dwell == nil || s.Dwell.Each || coat {
				return ""
			}
			enders := where(r.steps[i+1:], func(later Step) bool { return slices.Contains(later.Ends, s.ID) })
			facts, left := Witness(All(r.applies(s), none(enders)))
			if !left {
				return ""
			}
			if len(enders) == 0 {
				return "Nothing takes it off again."
			}
			return fmt.Sprintf("Nothing takes it off when %s.", Describe(facts))
		})
	}},
	{
		"lower-before-upper",
		Error,
		"What is picked up low down is dragged over what was clean.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if !s.Touches() || !s.onlyBand(vehicle.Lower) {
					return ""
				}
				for _, later := range r.steps[i+1:] {
					if later.Touches() && !later.Again && !later.onlyBand(vehicle.Lower) && r.together(s, later) {
						return fmt.Sprintf("The lower band is washed before “%s”, which goes higher.", later.Title)
					}
				}
				return ""
			})
		},
	},
	{"wheel-cloth-on-paint", Error, "Brake dust in a cloth is sandpaper.", func(r *reader) []Mistake {
		colours := map[string]bool{}
		for _, s := range r.steps {
			if s.hasWheels() && !s.hasPaint() && s.Colour != "" {
				colours[s.Colour] = true
			}
		}
		return r.every(func(_ int, s Step) string {
			if s.hasPaint() && s.Colour != "" && colours[s.Colour] {
				return fmt.Sprintf("The cloth colour “%s” is for wheels, and this step touches paint.", s.Colour)
			}
			if s.hasPaint() && !s.hasWheels() && strings.Contains(s.Tool, "wheel") {
				return fmt.Sprintf("“%s” belongs to the wheels, and this step touches paint.", s.Tool)
			}
			return ""
		})
	}},
	{
		"contact-before-rinse",
		Error,
		"At grade 3 a pre-wash is not optional: a touch would drag what water takes off.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if !s.Touches() {
					return ""
				}
				before := where(r.steps[:i], func(earlier Step) bool { return earlier.Act != "" && earlier.hasPaint() })
				if facts, dry := Witness(All(r.applies(s), Min(c.GradeOverall, 3), none(before))); dry {
					return fmt.Sprintf("Paint is touched with no rinse or pre-wash before it when %s.", Describe(facts))
				}
				return ""
			})
		},
	},
	{
		"rinseless-on-caked-soil",
		Error,
		"Rinseless drags what is not rinsed off: above grade 2 it is rubbed over the paint.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if !s.Touches() {
					return ""
				}
				rinsed := where(r.steps[:i], func(earlier Step) bool {
					return earlier.Technique == Rinse && earlier.Act != "" && earlier.hasPaint()
				})
				wetted := s.Act == contact.WetDown ||
					slices.ContainsFunc(r.steps[:i], func(earlier Step) bool { return earlier.Act == contact.WetDown })
				if wetted && r.can(s, Min(c.GradeOverall, 3), none(rinsed)) {
					return "It may be used above grade 2: give the procedure an entry that stops at 2."
				}
				return ""
			})
		},
	},
	{"runoff-forbidden", Error, "Local rules on wash water come first.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.Technique == Rinse && r.can(s, Be(c.RunoffAllowed, "no")) {
				return "It rinses where wash water may not run off: give the procedure an entry, or the step a condition."
			}
			return ""
		})
	}},
	{"machine-not-there", Error, "A step that needs what is not there stops the wash.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			switch {
			case s.Machine == WasherMachine && r.can(s, All(BeNot(c.SupplyHere, c.PressureWasher), Be(c.WasherHere, "no"))):
				return "It needs a pressure washer and may be used where there is none."
			case s.Machine == HoseMachine && r.can(s, All(Be(c.SupplyHere, c.Carried), Be(c.HoseHere, "no"))):
				return "It needs a hose and may be used where there is only carried water."
			case s.Machine == BlowerMachine && r.can(s, Be(c.BlowerHere, "no")):
				return "It needs a blower and may be used where none is allowed."
			}
			return ""
		})
	}},
	{"acid-on-bare-metal", Error, "Acid etches bare metal and dark wheels for good.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.is(AcidWheel, SpotRemover) && s.hasWheels() && r.can(s, Be(c.BareWheels, "yes")) {
				return fmt.Sprintf("%s may meet bare or dark wheels.", s.ProductClass())
			}
			return ""
		})
	}},
	{
		"wax-on-matte",
		Error,
		"Satin and matte take no wax or gloss product: it shines in patches for good.",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				if s.is(SprayWax, SpraySeal, WaxShampoo) && s.hasPaint() && r.can(s, Be(c.PaintFinish, vehicle.Satin)) {
					return fmt.Sprintf("%s may go on a satin or matte finish.", s.ProductClass())
				}
				return ""
			})
		},
	},
	{"clay-on-coating", Error, "Clay takes a coating off.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if strings.Contains(strings.ToLower(s.Title+" "+s.Tool), "clay") && r.can(s, Be(c.Protected, c.Coating)) {
				return "Clay may be used on a coated car."
			}
			return ""
		})
	}},
	{
		"spots-without-second-wash",
		Error,
		"A spot remover is an acid: it must be washed off.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if !s.is(SpotRemover) {
					return ""
				}
				washes := where(r.steps[i+1:], func(later Step) bool { return later.Technique == ContactWash })
				if Possible(All(r.applies(s), none(washes))) {
					return "No second wash follows it."
				}
				return ""
			})
		},
	},
	{
		"mixed-chemistry",
		Error,
		"Two products in one vessel react or spoil each other: label every bottle and keep one product in it.",
		func(r *reader) []Mistake {
			first := map[string]Step{}
			return r.every(func(_ int, s Step) string {
				if s.Dose == nil {
					return ""
				}
				other, used := first[s.Dose.Vessel]
				if !used {
					first[s.Dose.Vessel] = s
					return ""
				}
				if other.Dose.Class != s.Dose.Class && r.together(other, s) {
					return fmt.Sprintf(
						"“%s” holds %s here and %s in “%s”.",
						s.Dose.Vessel,
						s.Dose.Class,
						other.Dose.Class,
						other.Title,
					)
				}
				return ""
			})
		},
	},
	{
		"warm-water-for-cold-product",
		Error,
		"A protective shampoo sets in warm water: follow the label.",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				cold := s.is(CoatingShampoo)
				for _, l := range r.labels {
					cold = cold || l.Cold && l.Class == s.ProductClass() && l.Class != ""
				}
				if s.Water == WarmWater && cold {
					return fmt.Sprintf("%s wants cold water.", s.ProductClass())
				}
				return ""
			})
		},
	},
	{
		"blower-without-hearing",
		Error,
		"A blower is loud enough to deafen in a working day (NIOSH REL 85 dBA, OSHA 29 CFR 1910.95).",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				if (s.Machine == BlowerMachine || strings.Contains(s.Tool, "vacuum")) && !s.cautioned("hearing") {
					return "No word of hearing protection."
				}
				return ""
			})
		},
	},
	{
		"jet-without-caution",
		Error,
		"A jet injects water under the skin: that is a surgical emergency.",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				if s.Machine == WasherMachine && s.Technique == Rinse && !s.cautioned("jet") {
					return "No word of where the jet must not point."
				}
				return ""
			})
		},
	},
	{
		"chemistry-without-gloves",
		Error,
		"Cleaners burn skin and eyes: label and safety data sheet come first.",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				if s.is(Degreaser, WheelCleaner, IronRemover, TarRemover, SpotRemover, AcidWheel, CitrusWash) &&
					!s.cautioned("glove") {
					return fmt.Sprintf("No word of gloves with %s.", s.ProductClass())
				}
				return ""
			})
		},
	},
	{"hot-wheels", Warning, "Hot wheels and brakes burn and flash product dry.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.is(Degreaser, WheelCleaner, IronRemover, AcidWheel) && s.hasWheels() && !s.hasPaint() &&
				!s.cautioned("hot") {
				return "No word of letting the wheels cool."
			}
			return ""
		})
	}},
	{
		"protection-before-drying",
		Error,
		"Protection on a wet panel streaks and does not hold, unless it is made for it.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if s.Technique != Finish || s.WetPaint || !s.is(SpraySeal, SprayWax, CoatingTopUp) {
					return ""
				}
				dried := where(
					r.steps[:i],
					func(earlier Step) bool { return earlier.Technique == Dry && earlier.hasPaint() },
				)
				if Possible(All(r.applies(s), none(dried))) {
					return "It may come before the car is dry."
				}
				return ""
			})
		},
	},
	{"dressing-on-wet-tyres", Error, "Dressing on wet rubber slings onto paint.", func(r *reader) []Mistake {
		return r.every(func(i int, s Step) string {
			if !s.is(TyreGel) {
				return ""
			}
			for _, later := range r.steps[i+1:] {
				if later.Technique == Rinse && later.hasWheels() && r.together(s, later) {
					return fmt.Sprintf("“%s” wets the tyres again afterwards.", later.Title)
				}
			}
			return ""
		})
	}},
	{
		"glass-before-spray",
		Warning,
		"Glass is the last of the wiping: what is sprayed after mists it.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if s.Zones != AllGlass || s.Technique != Finish {
					return ""
				}
				for _, later := range r.steps[i+1:] {
					if later.is(SpraySeal, SprayWax, CoatingTopUp, WaterlessMist, DryingAid) && r.together(s, later) {
						return fmt.Sprintf("“%s” sprays after it.", later.Title)
					}
				}
				return ""
			})
		},
	},
	{
		"each-over-its-label",
		Warning,
		"Product that may work so long stays on every item for as long as the item takes.",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				if s.Dwell == nil || !s.Dwell.Each || measure.Seconds(60*s.Time.PerWheel) <= s.Dwell.Max {
					return ""
				}
				return fmt.Sprintf("Each takes %s, and its product may work %s: rinse it sooner, or make it steps of its own.",
					measure.Seconds(60*s.Time.PerWheel), s.Dwell.Max)
			})
		},
	},
	{
		"wheels-dry-before-rinse",
		Warning,
		"By the time one comes round, the first wheel is dry.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				if s.Technique != Apply || s.Dwell == nil || s.Dwell.Each || !s.hasWheels() || s.hasPaint() {
					return ""
				}
				between := 0.0
				for _, later := range r.steps[i+1:] {
					if slices.Contains(later.Ends, s.ID) {
						longest := measure.Seconds(60 * (3*max(s.Time.PerWheel, later.Time.PerWheel) + between))
						if longest > s.Dwell.Max {
							return fmt.Sprintf(
								"One person on four wheels leaves it on for %s on one of them, and it may work "+
									"%s: do one wheel at a time.",
								longest,
								s.Dwell.Max,
							)
						}
						return ""
					}
					if later.When.Always() {
						between += later.usualMinutes()
					}
				}
				return ""
			})
		},
	},
	{"same-step-twice", Warning, "Two steps meant as alternatives both apply.", func(r *reader) []Mistake {
		var found []Mistake
		for i, s := range r.steps {
			if s.Technique != Apply || s.ProductClass() == "" {
				continue
			}
			for _, earlier := range slices.Backward(r.steps[:i]) {
				if earlier.Technique == Rinse {
					break
				}
				if earlier.Technique != Apply || earlier.ProductClass() != s.ProductClass() || earlier.Zones != s.Zones ||
					!slices.Equal(earlier.Only, s.Only) {
					continue
				}
				if facts, both := Witness(All(r.entry, earlier.When, s.When)); both {
					found = append(
						found,
						Mistake{
							Step:  s.ID,
							Other: earlier.ID,
							Says: fmt.Sprintf(
								"It and “%s” both apply when %s.",
								earlier.Title,
								orAlways(Describe(facts)),
							),
						},
					)
				}
			}
		}
		return found
	}},
	{
		"shuts-never-visited",
		Warning,
		"Shuts are the most forgotten place, and the first the customer sees on getting in.",
		func(r *reader) []Mistake {
			if slices.ContainsFunc(
				r.steps,
				func(s Step) bool { return s.Zones == AllShuts || slices.Contains(s.Only, vehicle.Shuts) },
			) {
				return nil
			}
			return []Mistake{{Says: "No step visits the shuts."}}
		},
	},
	{
		"final-look-missing",
		Warning,
		"After five minutes the drips show; nobody sees them who does not look again.",
		func(r *reader) []Mistake {
			if slices.ContainsFunc(r.steps, func(s Step) bool { return s.Technique == Inspect }) {
				return nil
			}
			return []Mistake{{Says: "Nobody looks again at the end."}}
		},
	},
	{
		"too-few-cloths",
		Warning,
		"Two drying towels: the first takes, the second finishes. One towel a wheel where nothing is rinsed.",
		func(r *reader) []Mistake {
			return r.every(func(i int, s Step) string {
				switch {
				case s.Technique == Dry && s.Zones == Outside && s.Cloth != "" && ClothCount(s.Cloth) == 1:
					return "One towel dries the whole car."
				case s.Technique == Agitate && s.Zones == AllWheels && s.Machine == "" && ClothCount(s.Cloth) > 0 && ClothCount(s.Cloth) < 4 &&
					!slices.ContainsFunc(r.steps, func(x Step) bool { return x.Technique == Rinse && x.hasWheels() }):
					return fmt.Sprintf("%s for four wheels, and nothing rinses them.", s.Cloth)
				}
				return ""
			})
		},
	},
	{"circles", Error, "Circles and eights show from every angle: straight lines only.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			text := strings.ToLower(s.Text)
			if s.hasPaint() && (strings.Contains(text, "circl") || strings.Contains(text, "figure of eight")) &&
				!strings.Contains(text, "never") &&
				!strings.Contains(text, "no circ") {
				return "Its instruction speaks of circles."
			}
			return ""
		})
	}},
	{
		"label-reads-otherwise",
		Warning,
		"The same two numbers mean two strengths: the commonest mixing error there is.",
		func(r *reader) []Mistake {
			return r.every(func(_ int, s Step) string {
				if s.Dose == nil {
					return ""
				}
				for _, l := range r.labels {
					if l.Class == s.Dose.Class && l.Ratio != nil && l.Reading != s.Dose.Reading {
						return fmt.Sprintf(
							"The label of %s reads “%s”, the step “%s”.",
							l.Name,
							l.Reading,
							s.Dose.Reading,
						)
					}
				}
				return ""
			})
		},
	},
	{"no-reason", Warning, "Trainees do what they understand.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if strings.TrimSpace(s.Reason) == "" {
				return "It does not say why it is done."
			}
			return ""
		})
	}},
	{"nothing-to-look-for", Warning, "What shows that a step is done feeds the checklist.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.Technique != Prepare && strings.TrimSpace(s.LookFor) == "" {
				return "It does not say what shows that it is done."
			}
			return ""
		})
	}},
	{"no-time", Warning, "A step without a time makes every promise wrong.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.usualMinutes() == 0 {
				return "It takes no time at all."
			}
			return ""
		})
	}},
	{"no-skill", Warning, "A step that touches the car needs someone who may do it.", func(r *reader) []Mistake {
		return r.every(func(_ int, s Step) string {
			if s.Skill == "" &&
				(s.Touches() || s.Technique == Rinse || s.Technique == Agitate || s.Technique == Dry) {
				return "It names no skill."
			}
			return ""
		})
	}},
}

func orAlways(text string) string {
	if text == "" {
		return "whatever the condition"
	}
	return text
}
