package procedure

import (
	c "uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Steps that several families share. Doses, dwells and times: docs/trade.md, sections 5 to 7. Common practice, no source;
// a family that does a step otherwise says so where it uses it.

// Cautions come from docs/trade.md, section 12; the label, the safety data sheet and local codes come first.
const (
	cautionGloves  = "Gloves and eye protection; the label and the safety data sheet come first."
	cautionJet     = "Never point the jet at people, hands or feet. Tip 0.30 to 0.45 m away, two hands on the lance."
	cautionHot     = "Hot wheels and brakes burn and flash product dry: wait until a hand can rest on them."
	cautionNoise   = "Hearing and eye protection; look for loose stones first."
	cautionSlip    = "Wet soap is slippery. Stand on a step on level ground, never on the sill."
	cautionLift    = "A full 15 l bucket weighs over 15 kg: fill it where it will stand."
	cautionRoll    = "One person drives, nobody near the wheels. The first braking after a wash is weak."
	cautionRunoff  = "Local rules on wash water and drains come first."
	cautionElectro = "Dry plugs and residual-current protection."
	cautionFumes   = "Good air: it smells strongly. Gloves and eye protection; never mix it with anything."
)

// OpenHose is the tool that sheets water off: a hose without its head.
const OpenHose = "open hose"

// Machines and colours by the names they have in every procedure.
const (
	washer      = "pressure washer"
	hose        = "hose"
	blower      = "blower"
	forPaint    = "tide: paint"
	forWheels   = "rust: wheels only"
	forDrying   = "white: drying"
	forShuts    = "slate: shuts"
	forGlass    = "sky: glass"
	forProtects = "moss: protection"
	forInside   = "sand: inside"
)

func ratio(first, second int64, reading measure.Reading) measure.Ratio {
	r, err := measure.NewRatio(first, second, reading)
	if err != nil {
		panic(err)
	}
	return r
}

func usOunces(n float64) measure.Volume {
	v, err := measure.NewVolume(n, measure.USFluidOunce)
	if err != nil {
		panic(err)
	}
	return v
}

// dose mixes a vessel full by the ratio as its label prints it.
func dose(class ProductClass, first, second int64, reading measure.Reading, vessel string, fill measure.Volume) *Dose {
	return &Dose{Class: class, Ratio: ratio(first, second, reading), Vessel: vessel, Fill: fill, Reading: reading}
}

// toWater doses the water already in a bucket.
func toWater(
	class ProductClass,
	first, second int64,
	reading measure.Reading,
	vessel string,
	water measure.Volume,
) *Dose {
	return &Dose{Class: class, Ratio: ratio(first, second, reading), Vessel: vessel, Fill: water, ByWater: true, Reading: reading}
}

func works(from, to measure.Seconds, cue string) *Dwell { return &Dwell{Min: from, Max: to, Cue: cue} }

const minute = measure.Minute

// with changes a copy of a step.
func (s Step) with(change func(*Step)) Step { change(&s); return s }

// called renames a step's id, where a procedure has two of a kind.
func (s Step) called(id string) Step { return s.with(func(s *Step) { s.ID = id }) }

// when adds a condition to a step.
func (s Step) when(r Rule) Step {
	return s.with(func(s *Step) {
		if s.When.Always() {
			s.When = r
		} else {
			s.When = All(s.When, r)
		}
	})
}

// taking replaces a step's time.
func (s Step) taking(t Time) Step { return s.with(func(s *Step) { s.Time = t }) }

// ending says whose product the step takes off.
func (s Step) ending(ids ...string) Step { return s.with(func(s *Step) { s.Ends = ids }) }

// on limits a step to a group of zones.
func (s Step) on(g ZoneGroup) Step { return s.with(func(s *Step) { s.Zones = g }) }

// inRound makes a step one of a round.
func (s Step) inRound(id string) Step { return s.with(func(s *Step) { s.Round = id }) }

// bySections is a round over sections that the planner sizes, the sunny side first.
func bySections() Round {
	return Round{ID: "sections", Title: "Section by section", Over: OverSections, Order: SunnyFirst}
}

// bySides is a round over the sides, where suds dry before the whole car could be rinsed.
func bySides() Round {
	return Round{ID: "sides", Title: "Side by side", Over: OverSides, Order: SunnyFirst, When: Max(c.SudsWindow, 10)}
}

// byShortLabel does one wheel at a time where the cleaner's label is too short for all four.
func byShortLabel() Round {
	return Round{ID: "short-label", Title: "Wheel by wheel: the label is short", Over: OverWheels, Order: ByRoute, When: Max(c.WheelLabel, 3)}
}

// byWheels finishes a wheel before the next is begun.
func byWheels() Round {
	return Round{ID: "wheel-by-wheel", Title: "Wheel by wheel", Over: OverWheels, Order: ByRoute}
}

// called renames a round's id, where a procedure has two of a kind.
func (r Round) called(id string) Round {
	r.ID = id
	return r
}

// worded replaces title and instruction.
func (s Step) worded(title, text string) Step {
	return s.with(func(s *Step) { s.Title, s.Text = title, text })
}

var (
	notSatin = BeNot(c.PaintFinish, vehicle.Satin)
	hasBugs  = Be(c.HasBugs, "yes")
	hasSalt  = Be(c.HasSalt, "yes")
	flat     = Be(c.WaterOnPaint, c.Flat)
	coated   = Be(c.Protected, c.Coating)
	signed   = BeNot(c.ServiceWanted, c.Basic)
)

// Entries that families share.
var (
	washable = Entry{Be(c.MustNotWash, "no"), "This vehicle must not be washed now: see the watch list."}
	drained  = Entry{Be(c.RunoffAllowed, "yes"), "Wash water may not run off here, and this wash rinses."}
	jetHere  = Entry{
		Be(c.WasherHere, "yes"),
		"It rinses and foams with a pressure washer, and there is none here.",
	}
	running = Entry{BeNot(c.SupplyHere, c.Carried), "It needs running water, and there is only carried water here."}
)

func cool() Step {
	return Step{
		ID:    "cool",
		Title: "Cool the hot panels",
		Text: "Move into shade, doors shut, and wait. Mist wheels and bonnet from a distance once they no " +
			"longer hiss.",
		Reason:    "A hot panel boils a film of product dry by itself.",
		Zones:     UpperPaint,
		Technique: Prepare,
		Time: Time{
			Fixed:      8,
			Unattended: true,
		},
		Cautions: []string{cautionHot},
		LookFor:  "A hand can rest on bonnet and brakes.",
		When:     Be(c.HotPanels, "yes"),
	}
}

func layOut() Step {
	return Step{
		ID:    "setup",
		Title: "Lay out",
		Text: "Wash, rinse and wheel buckets, each its own colour. Guards in at an angle, then pressed down " +
			"snug. Two drying towels and the shut towels within reach.",
		Says: []Saying{
			{Be(c.SupplyHere, c.PressureWasher), "Foam bottle full, washer on, hose untangled."},
			{Be(c.SupplyHere, c.Hose), "Hose untangled, nozzle on."},
		},
		Reason:    "Towels laid out after the rinse are laid out while water dries.",
		Zones:     NoZones,
		Technique: Prepare,
		Tool:      "3 buckets, 2 guards",
		Time: Time{
			Fixed: 3,
		},
		Skill:    SkillBuckets,
		Cautions: []string{cautionLift, cautionElectro},
		LookFor:  "Guards seated and under water; colours right.",
	}
}

// soak is the wheel cleaner on all four at once.
func soak() Step {
	return Step{
		ID:    "soak",
		Title: "Wheel cleaner on all four",
		Text:  "On cool, dry wheels: face, barrel, tyre.",
		Says: []Saying{
			{
				Be(c.CleanerFrom, c.FromBottom),
				"In rows from the bottom up, so that runs meet product.",
			},
			{Be(c.CleanerFrom, c.FromTop), "From the top, all over."},
		},
		Reason:    "Cleaner goes on dry: water dilutes it.",
		Zones:     AllWheels,
		Technique: Apply,
		Act:       contact.Citrus,
		Tool:      "trigger sprayer",
		Dose:      dose(WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000)),
		Dwell:     works(2*minute, 5*minute, "It turns brown or purple where it works."),
		Time: Time{
			PerWheel: 0.3,
		},
		Skill:    SkillWheels,
		Cautions: []string{cautionGloves, cautionHot},
		LookFor:  "Every wheel wet all over.",
	}
}

// wheelsOne is each wheel cleaned and rinsed before the next.
func wheelsOne() Step {
	return Step{
		ID:    "wheels",
		Title: "Wheel, tyre and arch",
		Text: "Degreaser on. Start at the valve: barrel, behind the spokes, face with the soft mitt, tyre brush " +
			"until the foam is no longer brown, arch edge. Rinse this wheel before the next.",
		Says: []Saying{
			{Be(c.CleanerFrom, c.FromBottom), "Cleaner in rows from the bottom up."},
			{Be(c.WheelsRinsed, c.Yes), "Rinse the lumps off first."},
			{
				Be(c.BareWheels, "yes"),
				"Soft mitt only on the face: no stiff bristle, no acid.",
			},
			{Be(c.SoapDries, c.ReWet), "Re-wet what starts to dry."},
		},
		Reason:    "By the time the fourth is soaped the first is dry, so each is finished before the next.",
		Zones:     AllWheels,
		Technique: Agitate,
		Tool:      "barrel brush, tyre brush, wheel bucket",
		Cloth:     "1 wheel mitt",
		Colour:    forWheels,
		Dose:      dose(Degreaser, 10, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000)),
		Dwell:     &Dwell{Min: minute, Max: 5 * minute, Cue: "Brown runs from spokes and tyre.", Each: true},
		Time: Time{
			PerWheel: 3.5,
			Soiled:   true,
		},
		Machine:  washer,
		Skill:    SkillWheels,
		Cautions: []string{cautionGloves, cautionHot, cautionJet},
		LookFor:  "White cloth behind a spoke stays white.",
	}
}

func jet(id, title, text string) Step {
	return Step{
		ID:        id,
		Title:     title,
		Text:      text,
		Zones:     OutsideRims,
		Technique: Rinse,
		Act:       contact.JetRinse,
		Tool:      "wide fan",
		Machine:   washer,
		Reason:    "What leaves without touch is a scratch saved: a rinse takes 80 to 85 %.",
		Time: Time{
			Body: 2.5,
		},
		Skill:    SkillLance,
		Cautions: []string{cautionJet, cautionRunoff},
		LookFor:  "Water runs off clear. Does it bead or lie flat?",
	}
}

func hosed(id, title, text string) Step {
	return Step{
		ID:        id,
		Title:     title,
		Text:      text,
		Zones:     OutsideRims,
		Technique: Rinse,
		Act:       contact.HoseRinse,
		Tool:      "hose, shower head",
		Machine:   hose,
		Reason:    "A hose takes some seventy per cent: the slower, the better.",
		Time: Time{
			Body: 3.5,
		},
		Skill:    SkillLance,
		Cautions: []string{cautionRunoff, cautionSlip},
		LookFor:  "Water runs off clear. Does it bead or lie flat?",
	}
}

// hoseJet is a rinse with the hose's jet nozzle, before anything touches: it takes more than a shower.
func hoseJet(id, title, text string) Step {
	return hosed(id, title, text).with(func(s *Step) {
		s.Act, s.Tool, s.Reason = contact.HoseJet, "hose, jet nozzle", "The nozzle takes more than a shower does; slowly, top down."
	})
}

func lumps() Step {
	return jet(
		"lumps",
		"Knock off the lumps",
		"From below: arches, behind the wheels, sills. Let the jet carry the lumps off the car.",
	).
		with(func(s *Step) {
			s.Reason, s.LookFor, s.When = "Caked soil under foam stays there.", "No lumps left anywhere.", Be(
				c.RinsedFirst,
				c.Yes,
			)
		})
}

func underSpray() Step {
	return Step{
		ID:        "under",
		Title:     "Rinse the underside",
		Text:      "Wheeled under-spray, front to rear, twice along each sill.",
		Reason:    "Salt under the car goes on eating.",
		Zones:     Below,
		Technique: Rinse,
		Tool:      "under-spray",
		Machine:   washer,
		Time: Time{
			Fixed: 2,
		},
		Skill:    SkillLance,
		Cautions: []string{cautionJet},
		LookFor:  "Clear water from the sills.",
		When:     hasSalt,
	}
}

func soakBugs() Step {
	return Step{
		ID:        "bugs",
		Title:     "Soak the bugs",
		Text:      "Bug degreaser on front bumper, grille and mirrors. Do not rub.",
		Reason:    "Softened bugs rinse off; rubbed bugs scratch.",
		Zones:     FrontEnd,
		Technique: Apply,
		Act:       contact.Citrus,
		Tool:      "trigger sprayer",
		Dose:      dose(CitrusWash, 10, 1, measure.WaterFirst, "1 l bug sprayer", measure.Ml(1000)),
		Dwell:     works(3*minute, 10*minute, "Bugs swell and go pale."),
		Time: Time{
			Fixed: 0.7,
		},
		Skill:    SkillFoam,
		Cautions: []string{cautionGloves},
		LookFor:  "Bugs slide under a finger of water.",
		When:     hasBugs,
	}
}

func citrus() Step {
	return Step{
		ID:        "citrus",
		Title:     "Citrus on the lower half",
		Text:      "From the bottom up along sills, bumpers and behind the wheels.",
		Reason:    "From grade 3 foam alone does not reach what clings low down.",
		Zones:     LowerHalf,
		Technique: Apply,
		Act:       contact.Citrus,
		Tool:      "pump sprayer",
		Dose:      dose(CitrusWash, 10, 1, measure.WaterFirst, "2 l pump sprayer", measure.Ml(2000)),
		Dwell:     works(5*minute, 10*minute, "Dirt lets go and runs."),
		Time: Time{
			Body: 1.5,
		},
		Skill:    SkillFoam,
		Cautions: []string{cautionGloves},
		LookFor:  "Brown runs below the body line.",
		When:     Exactly(c.GradeLower, 3),
	}
}

func citrusHeavy() Step {
	return citrus().with(func(s *Step) {
		s.ID, s.Title, s.Reason = "citrus-heavy", "Strong citrus on the lower half", "Caked soil wants the heavy mix."
		s.Dose = dose(CitrusWash, 5, 1, measure.WaterFirst, "2 l pump sprayer", measure.Ml(2000))
		s.When = Min(c.GradeLower, 4)
	})
}

// foamOn is foam over whatever works below it.
func foamOn(over ...string) Step {
	return Step{
		ID:    "foam",
		Title: "Foam",
		Text:  "Overlapping, all round. It must cling, then drip.",
		Says: []Saying{
			{
				Be(c.FoamFrom, c.FromBottom),
				"From the bottom up: the dirt there gets the longest dwell.",
			},
			{Be(c.FoamFrom, c.FromTop), "From the top down: it races the sun."},
			{
				Be(c.FoamBody, c.Thin),
				"Thin enough to drip within its dwell.",
			},
			{Be(c.FoamBody, c.Thick), "Thick, to lubricate the mitt."},
		},
		Reason:    "Foam carries grit off while it runs.",
		Zones:     Outside,
		Technique: Apply,
		Act:       contact.Foam,
		Rewets:    over,
		Tool:      "foam sprayer, 1 l bottle",
		Machine:   washer,
		Dose:      dose(FoamProduct, 1, 9, measure.PartsPlusParts, "1 l foam bottle", measure.Ml(1000)),
		Dwell:     works(5*minute, 10*minute, "Where foam sticks, there is dirt. It slides, then drips."),
		Time: Time{
			Body: 1.75,
		},
		Skill:    SkillFoam,
		Cautions: []string{cautionSlip},
		LookFor:  "A thin skin that drips, no bare patches.",
	}
}

func foamOff(ends ...string) Step {
	return Step{
		ID:    "foam-off",
		Title: "Rinse the foam off",
		Text:  "Once, slowly. Behind badges, mirrors, grille.",
		Says: []Saying{
			{
				Be(c.FoamOffFrom, c.FromTop),
				"From the top down.",
			},
			{Be(c.FoamOffFrom, c.FromBottom), "From the bottom up, so that you see what is left."},
		},
		Reason:    "The dirt is carried away before the mitt comes.",
		Zones:     Outside,
		Technique: Rinse,
		Act:       contact.JetRinse,
		Ends:      ends,
		Machine:   washer,
		Time: Time{
			Body: 2.5,
		},
		Skill:    SkillLance,
		Cautions: []string{cautionJet, cautionRunoff},
		LookFor:  "No foam in gaps; no grey below the line.",
	}
}

func fillBuckets() Step {
	return Step{
		ID:        "fill",
		Title:     "Fill wash and rinse bucket",
		Text:      "Water first, by jet for suds, then product. Half to three quarters full, guard well under.",
		Reason:    "Filled while product works, they cost no time.",
		Zones:     NoZones,
		Technique: Prepare,
		Tool:      "2 buckets",
		Dose:      toWater(Shampoo, 1, 500, measure.PartsPlusParts, "wash bucket", measure.Ml(12_000)),
		Time: Time{
			Fixed: 2,
		},
		Skill:    SkillBuckets,
		Cautions: []string{cautionLift},
		LookFor:  "50 mm of water over the guard.",
	}
}

func mitt() Step {
	return Step{
		ID:    "mitt",
		Title: "Two-bucket wash",
		Text: "Weight of the mitt only. Upper all round, then middle, then lower, front bumper last. Where it is dirty, " +
			"a second light pass with the clean face.",
		Says: []Saying{
			{Rule{}, "Wipers up."},
			{Be(c.StrokeDirection, c.Along), "Straight, along the car."},
			{Be(c.StrokeDirection, c.UpAndDown), "Up and down on the sides, along on the flats."},
			{
				Be(c.StrokeDirection, c.Crosshatch),
				"Both ways, one after the other; never circles.",
			},
			{Be(c.MittRinse, c.Rub), "Rub the mitt twice over the guard and wring it outside the bucket."},
			{Be(c.MittRinse, c.Swish), "Swish the mitt high in the bucket and wring it outside."},
			{All(Min(c.Crew, 2), Min(c.RinseBuckets, 2)), "Each with a mitt and a rinse bucket of their own."},
			{All(Min(c.Crew, 2), Max(c.RinseBuckets, 1)), "Each with a mitt of their own; one at a time at the rinse bucket."},
		},
		Reason:    "Clean zones first, so that their grit never meets more.",
		Zones:     Outside,
		Technique: ContactWash,
		Tool:      "wash bucket, rinse bucket with guard",
		Cloth:     "1 long-pile mitt, a second for the lower band from grade 3",
		Colour:    forPaint,
		Skill:     SkillMitt,
		Opens:     []string{"wipers up"},
		Cautions:  []string{cautionSlip},
		LookFor:   "Mitt and rinse water: no grit felt with a bare hand.",
	}
}

func brushBadges() Step {
	return Step{
		ID:        "badges",
		Title:     "Brush badges and edges",
		Text:      "Soft brush in badges, window edges, filler, grille.",
		Reason:    "The mitt passes over them.",
		Zones:     FrontEnd,
		Technique: Agitate,
		Tool:      "soft detailing brush",
		Time:      Time{Fixed: 1.5},
		Skill:     SkillMitt,
		Fresh:     true, // a soft brush in gaps uses the wait; the panels are left to work
		LookFor:   "Suds from every gap run white.",
	}
}

func finalJet(ends ...string) Step {
	return jet("final", "Rinse top down", "Roof first, always downward; gaps, mirrors, badges, wheels.").
		with(func(s *Step) {
			s.Reason, s.LookFor, s.Ends, s.Tool = "Suds left in gaps dry as streaks.", "Small standing beads, or "+
				"flat water?", ends, ""
		})
}

// asking adds a question to a step.
func (s Step) asking(question string) Step {
	return s.with(func(s *Step) { s.Asks = &Ask{Text: question} })
}

// onYes makes a step one that is done only after a yes to another's question.
func (s Step) onYes(asked string) Step {
	return s.with(func(s *Step) { s.If = &Branch{asked, SaysYes} })
}

// What is seen in the work (docs/trade.md, section 20), asked where the look-over could not see it.
const (
	askFlat  = "Does water lie flat?"
	askDrags = "Does it drag?"
	askBrown = "Still brown after the rinse?"
)

// agentIfFlat is a drying agent for water that turns out to lie flat, and its rinse.
func agentIfFlat() []Step {
	unseen := All(Be(c.WaterOnPaint, string(c.NotSeen)), notSatin)
	return []Step{
		dryingAid().called("agent").onYes("final").with(func(s *Step) { s.When = unseen }),
		dryingAidOff().called("agent-off").ending("agent").onYes("final").with(func(s *Step) { s.When = unseen }),
	}
}

// moreIfItDrags is a little more product on the panel for a towel that drags.
func moreIfItDrags() Step {
	return Step{
		ID:        "slip",
		Title:     "A little product on the panel",
		Text:      "A spray a panel, and draw the towel again.",
		Reason:    "A towel that drags on dry paint marks it; with a little product it glides.",
		Zones:     PaintOnly,
		Technique: Dry,
		Class:     DryingAid,
		Cloth:     "1 drying towel",
		Colour:    forDrying,
		Time:      Time{Body: 1},
		Skill:     SkillDry,
		LookFor:   "It glides.",
	}.onYes("towel")
}

// brushedAgain is a wheel that was still brown after its rinse.
func brushedAgain() Step {
	return Step{
		ID:        "brush-again",
		Title:     "Brush this wheel again",
		Text:      "Tyre and barrel once more with fresh cleaner, and rinse.",
		Reason:    "What still runs brown would be wiped off with the towel, or sling onto the sills.",
		Zones:     AllWheels,
		Technique: Agitate,
		Tool:      "tyre brush, barrel brush, wheel bucket",
		Colour:    forWheels,
		Time:      Time{PerWheel: 1.2},
		Machine:   washer,
		Skill:     SkillWheels,
		Cautions:  []string{cautionGloves, cautionJet},
		LookFor:   "Runs clear.",
	}.onYes("wheels")
}

func finalHose(ends ...string) Step {
	return hosed("final", "Shower rinse", "Top down, section by section outdoors, before it dries.").
		with(func(s *Step) {
			s.Reason, s.LookFor, s.Ends = "Suds left in gaps dry as streaks.", "Small standing beads, or "+
				"flat water?", ends
		})
}

func sheet() Step {
	return Step{
		ID:        "sheet",
		Title:     "Sheet the water off",
		Text:      "Open hose without its head, held low over roof, glass and bonnet.",
		Reason:    "Water that runs together takes 60 to 70 % of itself along.",
		Zones:     UpperPaint,
		Technique: Rinse,
		Tool:      OpenHose,
		Machine:   hose,
		Time:      Time{Fixed: 1},
		Skill:     SkillDry,
		Cautions:  []string{cautionSlip},
		LookFor:   "Only beads are left.",
	}
}

func dryingAid() Step {
	return Step{
		ID:        "aid",
		Title:     "Drying agent on",
		Text:      "Mist it over the wet car, thin and even.",
		Reason:    "The agent makes water bead and halves the drying.",
		Zones:     PaintOnly,
		Technique: Apply,
		Tool:      "trigger sprayer",
		Dose:      dose(DryingAid, 1, 9, measure.PartsPlusParts, "1 l drying-aid sprayer", measure.Ml(1000)),
		Dwell:     works(20, 2*minute, "Water pulls together."),
		Time:      Time{Body: 1},
		Skill:     SkillDry,
		LookFor:   "Water pulls together.",
		When:      All(flat, notSatin),
	}
}

func dryingAidOff() Step {
	return finalJet(
		"aid",
	).called("aid-off").
		worded("Rinse the agent off", "Top down, once.").
		on(Outside).
		taking(Time{Body: 1.2}).
		with(func(s *Step) {
			s.Act, s.Reason, s.LookFor, s.When = "", "Agent left on satin trim and "+
				"glass streaks.", "Water runs off by itself.", All(
				flat,
				notSatin,
			)
		})
}

func blow() Step {
	return Step{
		ID:        "blow",
		Title:     "Blow dry",
		Text:      "Top down: roof, glass, gaps, mirrors, grille, badges, then wheels.",
		Reason:    "Air touches nothing and empties the gaps that drip later.",
		Zones:     OutsideRims,
		Technique: Dry,
		Tool:      "blower",
		Machine:   blower,
		Time: Time{
			Body: 3,
		},
		Skill:    SkillDry,
		Cautions: []string{cautionNoise},
		LookFor:  "Mirrors and lamps no longer drip.",
		When:     BeNot(c.DryWith, c.TowelOnly),
	}
}

func towels() Step {
	return Step{
		ID:    "towel",
		Title: "Two towels",
		Text:  "Lay flat and draw towards you; the first takes most, the second finishes. Wring when heavy.",
		Says: []Saying{
			{
				Be(c.TowelState, c.DampTowel),
				"Start on the glass: a slightly damp towel drinks better.",
			},
			{Be(c.TowelState, c.DryTowel), "Start with a dry towel."},
			{Be(c.DryingAidUse, c.Yes), "A spray of drying aid a panel, where the towel would drag."},
		},
		Reason:    "Drawn, not rubbed: rubbing marks.",
		Zones:     Outside,
		Technique: Dry,
		Cloth:     "2 drying towels",
		Colour:    forDrying,
		Time: Time{
			Body: 4,
		},
		Skill:   SkillDry,
		LookFor: "Towel stays clean: a dirty towel means the wash was thin. Log it.",
		When:    BeNot(c.DryWith, c.BlowerOnly),
	}
}

func protect(id, title, text string, class ProductClass, why string) Step {
	return Step{
		ID:        id,
		Title:     title,
		Text:      text,
		Reason:    why,
		Zones:     PaintOnly,
		Technique: Finish,
		Class:     class,
		Cloth:     "2 short-pile towels",
		Colour:    forProtects,
		Time:      Time{Body: 5},
		Skill:     SkillDry,
		LookFor:   "Even slickness under the back of the hand.",
		When:      notSatin,
	}
}

func glass() Step {
	return Step{
		ID:        "glass",
		Title:     "Glass",
		Text:      "Edges first, then the middle; turn the cloth to dry. One cloth cleans, one dries.",
		Reason:    "Last of the wiping: sprays mist it before.",
		Zones:     AllGlass,
		Technique: Finish,
		Class:     GlassClean,
		Cloth:     "2 low-pile glass cloths",
		Colour:    forGlass,
		Time:      Time{Fixed: 3.5},
		Skill:     SkillDry,
		LookFor:   "Clear against the light.",
	}
}

func tyres() Step {
	return Step{
		ID:    "tyres",
		Title: "Tyre shine",
		Text: "On bone-dry rubber, a thin ribbon each. Wipe back for satin. Roll the car 0.3 m for the part " +
			"on the ground.",
		Reason:    "On wet rubber, or too much of it, it slings onto paint.",
		Zones:     Tyres,
		Technique: Finish,
		Class:     TyreGel,
		Tool:      "applicator",
		Time: Time{
			PerWheel: 0.6,
		},
		Skill:    SkillWheels,
		Cautions: []string{cautionRoll},
		LookFor:  "No wet blotches; nothing comes off on a finger.",
		When:     Be(c.WantsShine, "yes"),
	}
}

// waffle dries with waffle towels, which are wrung as they fill.
func waffle(s Step) Step {
	return s.worded("Waffle towels", "Lay flat and draw towards you, panel by panel; the second finishes.").with(func(s *Step) {
		s.Cloth, s.Reason = "2 waffle drying towels", "It drinks fast and is light to wring; drawn, not rubbed: rubbing marks."
	})
}

// greasyShuts are the shuts degreased while everything is wet, where that is the school.
func greasyShuts() Step {
	return Step{
		ID:        "shuts-clean",
		Title:     "Degrease the shuts",
		Text:      "Mild degreaser on hinges, latches and sills of doors and boot, a soft brush, then a little water from below.",
		Reason:    "Grease from hinges soils clothes, and the towel that wipes it later.",
		Zones:     AllShuts,
		Technique: Agitate,
		Tool:      "trigger sprayer, soft shut brush",
		Colour:    forShuts,
		Dose:      dose(Degreaser, 10, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000)),
		Uses:      &Consumption{Fixed: 60},
		Time:      Time{Fixed: 2.5},
		Skill:     SkillShuts,
		Cautions:  []string{cautionGloves},
		LookFor:   "No grey in the hinge corners.",
		When:      Be(c.ShutsWhen, c.WithTheWash),
	}
}

// dressed are the steps after the body is dry: wheels with their own towel, tyres, tips where they are ordered.
func dressed(gel Step) []Step { return append(append([]Step{dryWheels()}, coats(gel)...), tips()) }

// coats are one coat of dressing for satin, or two for gloss.
func coats(gel Step) []Step {
	gloss := func(s *Step) { s.When = Be(c.TyresWanted, string(c.GlossTyres)) }
	return []Step{
		gel.with(func(s *Step) { s.When = Be(c.TyresWanted, string(c.SatinTyres)) }),
		gel.called("gloss").worded("Tyres, first coat", "A thin ribbon each on bone-dry rubber; leave it ten minutes.").
			with(gloss).with(func(s *Step) { s.Dwell = works(10*minute, 60*minute, "It has gone dull.") }),
		gel.called("gloss-again").worded("Tyres, second coat for gloss", "After ten minutes, thin; wipe off what is too much.").
			ending("gloss").taking(Time{PerWheel: 0.4}).with(gloss),
	}
}

func dryWheels() Step {
	return Step{
		ID:        "dry-wheels",
		Title:     "Dry the wheels",
		Text:      "Face and behind the spokes, with their own towel, after the body.",
		Reason:    "They are never wholly clean: their towel meets no paint. Water behind spokes runs out on the drive home.",
		Zones:     Rims,
		Technique: Dry,
		Cloth:     "1 wheel towel",
		Colour:    forWheels,
		Time:      Time{PerWheel: 0.3},
		Skill:     SkillWheels,
		LookFor:   "Nothing runs when the car is rolled.",
	}
}

func tips() Step {
	return Step{
		ID:        "tips",
		Title:     "Exhaust tips",
		Text:      "Wipe; metal polish now and then.",
		Reason:    "They go black for good.",
		Zones:     TipsOnly,
		Technique: Finish,
		Cloth:     "1 old towel",
		Time:      Time{Fixed: 0.4},
		LookFor:   "Bright.",
		When:      Be(c.WantsTips, "yes"),
	}
}

func shuts() Step {
	return Step{
		ID:        "shuts",
		Title:     "Wipe the shuts",
		Text:      "Doors, boot, filler. Own towel, greasy side last.",
		Reason:    "The most forgotten place, and the first the customer sees on getting in.",
		Zones:     AllShuts,
		Technique: Finish,
		Cloth:     "1 shut towel",
		Colour:    forShuts,
		Time:      Time{Body: 3},
		Skill:     SkillShuts,
		LookFor:   "Every shut opened, filler too.",
	}
}

func lookAgain() Step {
	return Step{
		ID:    "look",
		Title: "Out into daylight",
		Text: "Walk round once in other light. Mirrors, badges, sills for drips. Spot-fix with rinseless mix " +
			"and a fresh cloth.",
		Says:      []Saying{{Be(c.CoverAfter, c.No), "No cover over it outdoors."}},
		Reason:    "After five minutes the drips show.",
		Zones:     Outside,
		Technique: Inspect,
		Cloth:     "1 plush towel",
		Colour:    forPaint,
		Time:      Time{Fixed: 2},
		Skill:     SkillLook,
		LookFor:   "Nothing the customer would see standing.",
	}
}

func putAway() Step {
	return Step{
		ID:        "away",
		Title:     "Put away",
		Text:      "Empty and wipe buckets, mitts and towels to the laundry bags by colour, hose coiled, machines off.",
		Reason:    "The next wash starts in three minutes, not ten.",
		Zones:     NoZones,
		Technique: Prepare,
		Time:      Time{Fixed: 3},
		LookFor:   "Bay clear, floor rinsed.",
	}
}

func inside() Step {
	return Step{
		ID:        "inside",
		Title:     "Inside, quickly",
		Text:      "Vacuum seats and mats, wipe dash and sills.",
		Reason:    "The customer sits in it first.",
		Zones:     NoZones,
		Technique: Finish,
		Tool:      "vacuum",
		Cloth:     "1 inside towel",
		Colour:    forInside,
		Time:      Time{Fixed: 6},
		Cautions:  []string{cautionNoise},
		LookFor:   "No crumbs, no smears.",
		When:      Be(c.WantsInside, "yes"),
	}
}

// Stages carry the same names in every procedure, so that times can be compared.
func setUp(steps ...Step) Stage      { return Stage{"setup", "Set up", steps} }
func firstRinse(steps ...Step) Stage { return Stage{"rinse", "First rinse", steps} }
func wheelStage(steps ...Step) Stage { return Stage{"wheels", "Wheels", steps} }
func preWash(steps ...Step) Stage    { return Stage{"prewash", "Pre-wash", steps} }
func preSpray(steps ...Step) Stage   { return Stage{"prewash", "Pre-spray", steps} }
func contactWash(steps ...Step) Stage {
	return Stage{"contact", "Contact wash", steps}
}
func towelWash(steps ...Step) Stage  { return Stage{"contact", "Towel wash", steps} }
func finalRinse(steps ...Step) Stage { return Stage{"final", "Final rinse", steps} }
func decon(steps ...Step) Stage      { return Stage{"decon", "Decontaminate", steps} }
func dry(steps ...Step) Stage        { return Stage{"dry", "Dry", steps} }
func protects(steps ...Step) Stage   { return Stage{"protect", "Protect", steps} }
func glassStage(steps ...Step) Stage { return Stage{"glass", "Glass", steps} }
func tyreStage(steps ...Step) Stage  { return Stage{"tyres", "Tyres", steps} }
func shutStage(steps ...Step) Stage  { return Stage{"shuts", "Shuts", steps} }
func insideStage(steps ...Step) Stage {
	return Stage{"inside", "Inside", steps}
}
func lastLook(steps ...Step) Stage     { return Stage{"look", "Last look", steps} }
func putAwayStage(steps ...Step) Stage { return Stage{"away", "Put away", steps} }
