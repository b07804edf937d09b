package starters

import (
	c "uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
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

// Machines and colours by the names they have in every procedure.
const (
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
func dose(class procedure.ProductClass, first, second int64, reading measure.Reading, vessel string, fill measure.Volume) *procedure.Dose {
	return &procedure.Dose{Class: class, Ratio: ratio(first, second, reading), Vessel: vessel, Fill: fill, Reading: reading}
}

// toWater doses the water already in a bucket.
func toWater(
	class procedure.ProductClass,
	first, second int64,
	reading measure.Reading,
	vessel string,
	water measure.Volume,
) *procedure.Dose {
	return &procedure.Dose{Class: class, Ratio: ratio(first, second, reading), Vessel: vessel, Fill: water, ByWater: true, Reading: reading}
}

func works(from, to measure.Seconds, cue string) *procedure.Dwell {
	return &procedure.Dwell{Min: from, Max: to, Cue: cue}
}

const minute = measure.Minute

// bySections is a round over sections that the planner sizes, the sunny side first.
func bySections() procedure.Round {
	return procedure.Round{ID: "sections", Title: "Section by section", Over: procedure.OverSections, Order: procedure.SunnyFirst}
}

// bySides is a round over the sides, where suds dry before the whole car could be rinsed.
func bySides() procedure.Round {
	return procedure.Round{ID: "sides", Title: "Side by side", Over: procedure.OverSides, Order: procedure.SunnyFirst,
		When: procedure.Max(c.SudsWindow, 10)}
}

// byShortLabel does one wheel at a time where the cleaner's label is too short for all four.
func byShortLabel() procedure.Round {
	return procedure.Round{ID: "short-label", Title: "Wheel by wheel: the label is short", Over: procedure.OverWheels,
		Order: procedure.ByRoute, When: procedure.Max(c.WheelLabel, 3)}
}

// byWheels finishes a wheel before the next is begun.
func byWheels() procedure.Round {
	return procedure.Round{ID: "wheel-by-wheel", Title: "Wheel by wheel", Over: procedure.OverWheels, Order: procedure.ByRoute}
}

var (
	notSatin = procedure.BeNot(c.PaintFinish, vehicle.Satin)
	hasBugs  = procedure.Be(c.HasBugs, "yes")
	hasSalt  = procedure.Be(c.HasSalt, "yes")
	flat     = procedure.Be(c.WaterOnPaint, c.Flat)
	coated   = procedure.Be(c.Protected, c.Coating)
	signed   = procedure.BeNot(c.ServiceWanted, c.Basic)
)

// Entries that families share.
var (
	washable = procedure.Entry{Rule: procedure.Be(c.MustNotWash, "no"), Refusal: "This vehicle must not be washed now: see the watch list."}
	drained  = procedure.Entry{Rule: procedure.Be(c.RunoffAllowed, "yes"), Refusal: "Wash water may not run off here, and this wash rinses."}
	jetHere  = procedure.Entry{
		Rule:    procedure.Be(c.WasherHere, "yes"),
		Refusal: "It rinses and foams with a pressure washer, and there is none here.",
	}
	running = procedure.Entry{Rule: procedure.BeNot(c.SupplyHere, c.Carried),
		Refusal: "It needs running water, and there is only carried water here."}
)

func cool() procedure.Step {
	return procedure.Step{
		ID:    "cool",
		Title: "Cool the hot panels",
		Text: "Move into shade, doors shut, and wait. Mist wheels and bonnet from a distance once they no " +
			"longer hiss.",
		Reason:    "A hot panel boils a film of product dry by itself.",
		Zones:     procedure.UpperPaint,
		Technique: procedure.Prepare,
		Time: procedure.Time{
			Fixed:      8,
			Unattended: true,
		},
		Cautions: []string{cautionHot},
		LookFor:  "A hand can rest on bonnet and brakes.",
		When:     procedure.Be(c.HotPanels, "yes"),
	}
}

func layOut() procedure.Step {
	return procedure.Step{
		ID:    "setup",
		Title: "Lay out",
		Text: "Wash, rinse and wheel buckets, each its own colour. Guards in at an angle, then pressed down " +
			"snug. Two drying towels and the shut towels within reach.",
		Says: []procedure.Saying{
			{When: procedure.Be(c.SupplyHere, c.PressureWasher), Text: "Foam bottle full, washer on, hose untangled."},
			{When: procedure.Be(c.SupplyHere, c.Hose), Text: "Hose untangled, nozzle on."},
		},
		Reason:    "Towels laid out after the rinse are laid out while water dries.",
		Zones:     procedure.NoZones,
		Technique: procedure.Prepare,
		Tool:      "3 buckets, 2 guards",
		Time: procedure.Time{
			Fixed: 3,
		},
		Skill:    procedure.SkillBuckets,
		Cautions: []string{cautionLift, cautionElectro},
		LookFor:  "Guards seated and under water; colours right.",
	}
}

// soak is the wheel cleaner on all four at once.
func soak() procedure.Step {
	return procedure.Step{
		ID:    "soak",
		Title: "Wheel cleaner on all four",
		Text:  "On cool, dry wheels: face, barrel, tyre.",
		Says: []procedure.Saying{
			{
				When: procedure.Be(c.CleanerFrom, c.FromBottom),
				Text: "In rows from the bottom up, so that runs meet product.",
			},
			{When: procedure.Be(c.CleanerFrom, c.FromTop), Text: "From the top, all over."},
		},
		Reason:    "Cleaner goes on dry: water dilutes it.",
		Zones:     procedure.AllWheels,
		Technique: procedure.Apply,
		Act:       contact.Citrus,
		Tool:      "trigger sprayer",
		Dose:      dose(procedure.WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000)),
		Dwell:     works(2*minute, 5*minute, "It turns brown or purple where it works."),
		Time: procedure.Time{
			PerWheel: 0.3,
		},
		Skill:    procedure.SkillWheels,
		Cautions: []string{cautionGloves, cautionHot},
		LookFor:  "Every wheel wet all over.",
	}
}

// wheelsOne is each wheel cleaned and rinsed before the next.
func wheelsOne() procedure.Step {
	return procedure.Step{
		ID:    "wheels",
		Title: "Wheel, tyre and arch",
		Text: "Degreaser on. Start at the valve: barrel, behind the spokes, face with the soft mitt, tyre brush " +
			"until the foam is no longer brown, arch edge. Rinse this wheel before the next.",
		Says: []procedure.Saying{
			{When: procedure.Be(c.CleanerFrom, c.FromBottom), Text: "Cleaner in rows from the bottom up."},
			{When: procedure.Be(c.WheelsRinsed, c.Yes), Text: "Rinse the lumps off first."},
			{
				When: procedure.Be(c.BareWheels, "yes"),
				Text: "Soft mitt only on the face: no stiff bristle, no acid.",
			},
			{When: procedure.Be(c.SoapDries, c.ReWet), Text: "Re-wet what starts to dry."},
		},
		Reason:    "By the time the fourth is soaped the first is dry, so each is finished before the next.",
		Zones:     procedure.AllWheels,
		Technique: procedure.Agitate,
		Tool:      "barrel brush, tyre brush, wheel bucket",
		Cloth:     "1 wheel mitt",
		Colour:    forWheels,
		Dose:      dose(procedure.Degreaser, 10, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000)),
		Dwell:     &procedure.Dwell{Min: minute, Max: 5 * minute, Cue: "Brown runs from spokes and tyre.", Each: true},
		Time: procedure.Time{
			PerWheel: 3.5,
			Soiled:   true,
		},
		Machine:  procedure.WasherMachine,
		Skill:    procedure.SkillWheels,
		Cautions: []string{cautionGloves, cautionHot, cautionJet},
		LookFor:  "White cloth behind a spoke stays white.",
	}
}

func jet(id, title, text string) procedure.Step {
	return procedure.Step{
		ID:        id,
		Title:     title,
		Text:      text,
		Zones:     procedure.OutsideRims,
		Technique: procedure.Rinse,
		Act:       contact.JetRinse,
		Tool:      "wide fan",
		Machine:   procedure.WasherMachine,
		Reason:    "What leaves without touch is a scratch saved: a rinse takes 80 to 85 %.",
		Time: procedure.Time{
			Body: 2.5,
		},
		Skill:    procedure.SkillLance,
		Cautions: []string{cautionJet, cautionRunoff},
		LookFor:  "Water runs off clear. Does it bead or lie flat?",
	}
}

func hosed(id, title, text string) procedure.Step {
	return procedure.Step{
		ID:        id,
		Title:     title,
		Text:      text,
		Zones:     procedure.OutsideRims,
		Technique: procedure.Rinse,
		Act:       contact.HoseRinse,
		Tool:      "hose, shower head",
		Machine:   procedure.HoseMachine,
		Reason:    "A hose takes some seventy per cent: the slower, the better.",
		Time: procedure.Time{
			Body: 3.5,
		},
		Skill:    procedure.SkillLance,
		Cautions: []string{cautionRunoff, cautionSlip},
		LookFor:  "Water runs off clear. Does it bead or lie flat?",
	}
}

// hoseJet is a rinse with the hose's jet nozzle, before anything touches: it takes more than a shower.
func hoseJet(id, title, text string) procedure.Step {
	return hosed(id, title, text).With(func(s *procedure.Step) {
		s.Act, s.Tool, s.Reason = contact.HoseJet, "hose, jet nozzle", "The nozzle takes more than a shower does; slowly, top down."
	})
}

func lumps() procedure.Step {
	return jet(
		"lumps",
		"Knock off the lumps",
		"From below: arches, behind the wheels, sills. Let the jet carry the lumps off the car.",
	).
		With(func(s *procedure.Step) {
			s.Reason, s.LookFor, s.When = "Caked soil under foam stays there.", "No lumps left anywhere.", procedure.Be(
				c.RinsedFirst,
				c.Yes,
			)
		})
}

func underSpray() procedure.Step {
	return procedure.Step{
		ID:        "under",
		Title:     "Rinse the underside",
		Text:      "Wheeled under-spray, front to rear, twice along each sill.",
		Reason:    "Salt under the car goes on eating.",
		Zones:     procedure.Below,
		Technique: procedure.Rinse,
		Tool:      "under-spray",
		Machine:   procedure.WasherMachine,
		Time: procedure.Time{
			Fixed: 2,
		},
		Skill:    procedure.SkillLance,
		Cautions: []string{cautionJet},
		LookFor:  "Clear water from the sills.",
		When:     hasSalt,
	}
}

func soakBugs() procedure.Step {
	return procedure.Step{
		ID:        "bugs",
		Title:     "Soak the bugs",
		Text:      "Bug degreaser on front bumper, grille and mirrors. Do not rub.",
		Reason:    "Softened bugs rinse off; rubbed bugs scratch.",
		Zones:     procedure.FrontEnd,
		Technique: procedure.Apply,
		Act:       contact.Citrus,
		Tool:      "trigger sprayer",
		Dose:      dose(procedure.CitrusWash, 10, 1, measure.WaterFirst, "1 l bug sprayer", measure.Ml(1000)),
		Dwell:     works(3*minute, 10*minute, "Bugs swell and go pale."),
		Time: procedure.Time{
			Fixed: 0.7,
		},
		Skill:    procedure.SkillFoam,
		Cautions: []string{cautionGloves},
		LookFor:  "Bugs slide under a finger of water.",
		When:     hasBugs,
	}
}

func citrus() procedure.Step {
	return procedure.Step{
		ID:        "citrus",
		Title:     "Citrus on the lower half",
		Text:      "From the bottom up along sills, bumpers and behind the wheels.",
		Reason:    "From grade 3 foam alone does not reach what clings low down.",
		Zones:     procedure.LowerHalf,
		Technique: procedure.Apply,
		Act:       contact.Citrus,
		Tool:      "pump sprayer",
		Dose:      dose(procedure.CitrusWash, 10, 1, measure.WaterFirst, "2 l pump sprayer", measure.Ml(2000)),
		Dwell:     works(5*minute, 10*minute, "Dirt lets go and runs."),
		Time: procedure.Time{
			Body: 1.5,
		},
		Skill:    procedure.SkillFoam,
		Cautions: []string{cautionGloves},
		LookFor:  "Brown runs below the body line.",
		When:     procedure.Exactly(c.GradeLower, 3),
	}
}

func citrusHeavy() procedure.Step {
	return citrus().With(func(s *procedure.Step) {
		s.ID, s.Title, s.Reason = "citrus-heavy", "Strong citrus on the lower half", "Caked soil wants the heavy mix."
		s.Dose = dose(procedure.CitrusWash, 5, 1, measure.WaterFirst, "2 l pump sprayer", measure.Ml(2000))
		s.When = procedure.Min(c.GradeLower, 4)
	})
}

// foamOn is foam over whatever works below it.
func foamOn(over ...string) procedure.Step {
	return procedure.Step{
		ID:    "foam",
		Title: "Foam",
		Text:  "Overlapping, all round. It must cling, then drip.",
		Says: []procedure.Saying{
			{
				When: procedure.Be(c.FoamFrom, c.FromBottom),
				Text: "From the bottom up: the dirt there gets the longest dwell.",
			},
			{When: procedure.Be(c.FoamFrom, c.FromTop), Text: "From the top down: it races the sun."},
			{
				When: procedure.Be(c.FoamBody, c.Thin),
				Text: "Thin enough to drip within its dwell.",
			},
			{When: procedure.Be(c.FoamBody, c.Thick), Text: "Thick, to lubricate the mitt."},
		},
		Reason:    "Foam carries grit off while it runs.",
		Zones:     procedure.Outside,
		Technique: procedure.Apply,
		Act:       contact.Foam,
		Rewets:    over,
		Tool:      "foam sprayer, 1 l bottle",
		Machine:   procedure.WasherMachine,
		Dose:      dose(procedure.FoamProduct, 1, 9, measure.PartsPlusParts, "1 l foam bottle", measure.Ml(1000)),
		Dwell:     works(5*minute, 10*minute, "Where foam sticks, there is dirt. It slides, then drips."),
		Time: procedure.Time{
			Body: 1.75,
		},
		Skill:    procedure.SkillFoam,
		Cautions: []string{cautionSlip},
		LookFor:  "A thin skin that drips, no bare patches.",
	}
}

func foamOff(ends ...string) procedure.Step {
	return procedure.Step{
		ID:    "foam-off",
		Title: "Rinse the foam off",
		Text:  "Once, slowly. Behind badges, mirrors, grille.",
		Says: []procedure.Saying{
			{
				When: procedure.Be(c.FoamOffFrom, c.FromTop),
				Text: "From the top down.",
			},
			{When: procedure.Be(c.FoamOffFrom, c.FromBottom), Text: "From the bottom up, so that you see what is left."},
		},
		Reason:    "The dirt is carried away before the mitt comes.",
		Zones:     procedure.Outside,
		Technique: procedure.Rinse,
		Act:       contact.JetRinse,
		Ends:      ends,
		Machine:   procedure.WasherMachine,
		Time: procedure.Time{
			Body: 2.5,
		},
		Skill:    procedure.SkillLance,
		Cautions: []string{cautionJet, cautionRunoff},
		LookFor:  "No foam in gaps; no grey below the line.",
	}
}

func fillBuckets() procedure.Step {
	return procedure.Step{
		ID:        "fill",
		Title:     "Fill wash and rinse bucket",
		Text:      "Water first, by jet for suds, then product. Half to three quarters full, guard well under.",
		Reason:    "Filled while product works, they cost no time.",
		Zones:     procedure.NoZones,
		Technique: procedure.Prepare,
		Tool:      "2 buckets",
		Dose:      toWater(procedure.Shampoo, 1, 500, measure.PartsPlusParts, "wash bucket", measure.Ml(12_000)),
		Time: procedure.Time{
			Fixed: 2,
		},
		Skill:    procedure.SkillBuckets,
		Cautions: []string{cautionLift},
		LookFor:  "50 mm of water over the guard.",
	}
}

func mitt() procedure.Step {
	return procedure.Step{
		ID:    "mitt",
		Title: "Two-bucket wash",
		Text: "Weight of the mitt only. Upper all round, then middle, then lower, front bumper last. Where it is dirty, " +
			"a second light pass with the clean face.",
		Says: []procedure.Saying{
			{When: procedure.Rule{}, Text: "Wipers up."},
			{When: procedure.Be(c.StrokeDirection, c.Along), Text: "Straight, along the car."},
			{When: procedure.Be(c.StrokeDirection, c.UpAndDown), Text: "Up and down on the sides, along on the flats."},
			{
				When: procedure.Be(c.StrokeDirection, c.Crosshatch),
				Text: "Both ways, one after the other; never circles.",
			},
			{When: procedure.Be(c.MittRinse, c.Rub), Text: "Rub the mitt twice over the guard and wring it outside the bucket."},
			{When: procedure.Be(c.MittRinse, c.Swish), Text: "Swish the mitt high in the bucket and wring it outside."},
			{When: procedure.All(procedure.Min(c.Crew, 2), procedure.Min(c.RinseBuckets, 2)),
				Text: "Each with a mitt and a rinse bucket of their own."},
			{When: procedure.All(procedure.Min(c.Crew, 2), procedure.Max(c.RinseBuckets, 1)),
				Text: "Each with a mitt of their own; one at a time at the rinse bucket."},
		},
		Reason:    "Clean zones first, so that their grit never meets more.",
		Zones:     procedure.Outside,
		Technique: procedure.ContactWash,
		Tool:      "wash bucket, rinse bucket with guard",
		Cloth:     "1 long-pile mitt, a second for the lower band from grade 3",
		Colour:    forPaint,
		Skill:     procedure.SkillMitt,
		Opens:     []string{"wipers up"},
		Cautions:  []string{cautionSlip},
		LookFor:   "Mitt and rinse water: no grit felt with a bare hand.",
	}
}

func brushBadges() procedure.Step {
	return procedure.Step{
		ID:        "badges",
		Title:     "Brush badges and edges",
		Text:      "Soft brush in badges, window edges, filler, grille.",
		Reason:    "The mitt passes over them.",
		Zones:     procedure.FrontEnd,
		Technique: procedure.Agitate,
		Tool:      "soft detailing brush",
		Time:      procedure.Time{Fixed: 1.5},
		Skill:     procedure.SkillMitt,
		Fresh:     true, // a soft brush in gaps uses the wait; the panels are left to work
		LookFor:   "Suds from every gap run white.",
	}
}

func finalJet(ends ...string) procedure.Step {
	return jet("final", "Rinse top down", "Roof first, always downward; gaps, mirrors, badges, wheels.").
		With(func(s *procedure.Step) {
			s.Reason, s.LookFor, s.Ends, s.Tool = "Suds left in gaps dry as streaks.", "Small standing beads, or "+
				"flat water?", ends, ""
		})
}

// What is seen in the work (docs/trade.md, section 20), asked where the look-over could not see it.
const (
	askFlat  = "Does water lie flat?"
	askDrags = "Does it drag?"
	askBrown = "Still brown after the rinse?"
)

// agentIfFlat is a drying agent for water that turns out to lie flat, and its rinse.
func agentIfFlat() []procedure.Step {
	unseen := procedure.All(procedure.Be(c.WaterOnPaint, string(c.NotSeen)), notSatin)
	return []procedure.Step{
		dryingAid().Called("agent").OnYes("final").With(func(s *procedure.Step) { s.When = unseen }),
		dryingAidOff().Called("agent-off").Ending("agent").OnYes("final").With(func(s *procedure.Step) { s.When = unseen }),
	}
}

// moreIfItDrags is a little more product on the panel for a towel that drags.
func moreIfItDrags() procedure.Step {
	return procedure.Step{
		ID:        "slip",
		Title:     "A little product on the panel",
		Text:      "A spray a panel, and draw the towel again.",
		Reason:    "A towel that drags on dry paint marks it; with a little product it glides.",
		Zones:     procedure.PaintOnly,
		Technique: procedure.Dry,
		Class:     procedure.DryingAid,
		Cloth:     "1 drying towel",
		Colour:    forDrying,
		Time:      procedure.Time{Body: 1},
		Skill:     procedure.SkillDry,
		LookFor:   "It glides.",
	}.OnYes("towel")
}

// brushedAgain is a wheel that was still brown after its rinse.
func brushedAgain() procedure.Step {
	return procedure.Step{
		ID:        "brush-again",
		Title:     "Brush this wheel again",
		Text:      "Tyre and barrel once more with fresh cleaner, and rinse.",
		Reason:    "What still runs brown would be wiped off with the towel, or sling onto the sills.",
		Zones:     procedure.AllWheels,
		Technique: procedure.Agitate,
		Tool:      "tyre brush, barrel brush, wheel bucket",
		Colour:    forWheels,
		Time:      procedure.Time{PerWheel: 1.2},
		Machine:   procedure.WasherMachine,
		Skill:     procedure.SkillWheels,
		Cautions:  []string{cautionGloves, cautionJet},
		LookFor:   "Runs clear.",
	}.OnYes("wheels")
}

func finalHose(ends ...string) procedure.Step {
	return hosed("final", "Shower rinse", "Top down, section by section outdoors, before it dries.").
		With(func(s *procedure.Step) {
			s.Reason, s.LookFor, s.Ends = "Suds left in gaps dry as streaks.", "Small standing beads, or "+
				"flat water?", ends
		})
}

func sheet() procedure.Step {
	return procedure.Step{
		ID:        "sheet",
		Title:     "Sheet the water off",
		Text:      "Open hose without its head, held low over roof, glass and bonnet.",
		Reason:    "Water that runs together takes 60 to 70 % of itself along.",
		Zones:     procedure.UpperPaint,
		Technique: procedure.Rinse,
		Tool:      procedure.OpenHose,
		Machine:   procedure.HoseMachine,
		Time:      procedure.Time{Fixed: 1},
		Skill:     procedure.SkillDry,
		Cautions:  []string{cautionSlip},
		LookFor:   "Only beads are left.",
	}
}

func dryingAid() procedure.Step {
	return procedure.Step{
		ID:        "aid",
		Title:     "Drying agent on",
		Text:      "Mist it over the wet car, thin and even.",
		Reason:    "The agent makes water bead and halves the drying.",
		Zones:     procedure.PaintOnly,
		Technique: procedure.Apply,
		Tool:      "trigger sprayer",
		Dose:      dose(procedure.DryingAid, 1, 9, measure.PartsPlusParts, "1 l drying-aid sprayer", measure.Ml(1000)),
		Dwell:     works(20, 2*minute, "Water pulls together."),
		Time:      procedure.Time{Body: 1},
		Skill:     procedure.SkillDry,
		LookFor:   "Water pulls together.",
		When:      procedure.All(flat, notSatin),
	}
}

func dryingAidOff() procedure.Step {
	return finalJet(
		"aid",
	).Called("aid-off").
		Worded("Rinse the agent off", "Top down, once.").
		OnZones(procedure.Outside).
		Taking(procedure.Time{Body: 1.2}).
		With(func(s *procedure.Step) {
			s.Act, s.Reason, s.LookFor, s.When = "", "Agent left on satin trim and "+
				"glass streaks.", "Water runs off by itself.", procedure.All(
				flat,
				notSatin,
			)
		})
}

func blow() procedure.Step {
	return procedure.Step{
		ID:        "blow",
		Title:     "Blow dry",
		Text:      "Top down: roof, glass, gaps, mirrors, grille, badges, then wheels.",
		Reason:    "Air touches nothing and empties the gaps that drip later.",
		Zones:     procedure.OutsideRims,
		Technique: procedure.Dry,
		Tool:      "blower",
		Machine:   procedure.BlowerMachine,
		Time: procedure.Time{
			Body: 3,
		},
		Skill:    procedure.SkillDry,
		Cautions: []string{cautionNoise},
		LookFor:  "Mirrors and lamps no longer drip.",
		When:     procedure.BeNot(c.DryWith, c.TowelOnly),
	}
}

func towels() procedure.Step {
	return procedure.Step{
		ID:    "towel",
		Title: "Two towels",
		Text:  "Lay flat and draw towards you; the first takes most, the second finishes. Wring when heavy.",
		Says: []procedure.Saying{
			{
				When: procedure.Be(c.TowelState, c.DampTowel),
				Text: "Start on the glass: a slightly damp towel drinks better.",
			},
			{When: procedure.Be(c.TowelState, c.DryTowel), Text: "Start with a dry towel."},
			{When: procedure.Be(c.DryingAidUse, c.Yes), Text: "A spray of drying aid a panel, where the towel would drag."},
		},
		Reason:    "Drawn, not rubbed: rubbing marks.",
		Zones:     procedure.Outside,
		Technique: procedure.Dry,
		Cloth:     "2 drying towels",
		Colour:    forDrying,
		Time: procedure.Time{
			Body: 4,
		},
		Skill:   procedure.SkillDry,
		LookFor: "Towel stays clean: a dirty towel means the wash was thin. Log it.",
		When:    procedure.BeNot(c.DryWith, c.BlowerOnly),
	}
}

func protect(id, title, text string, class procedure.ProductClass, why string) procedure.Step {
	return procedure.Step{
		ID:        id,
		Title:     title,
		Text:      text,
		Reason:    why,
		Zones:     procedure.PaintOnly,
		Technique: procedure.Finish,
		Class:     class,
		Cloth:     "2 short-pile towels",
		Colour:    forProtects,
		Time:      procedure.Time{Body: 5},
		Skill:     procedure.SkillDry,
		LookFor:   "Even slickness under the back of the hand.",
		When:      notSatin,
	}
}

func glass() procedure.Step {
	return procedure.Step{
		ID:        "glass",
		Title:     "Glass",
		Text:      "Edges first, then the middle; turn the cloth to dry. One cloth cleans, one dries.",
		Reason:    "Last of the wiping: sprays mist it before.",
		Zones:     procedure.AllGlass,
		Technique: procedure.Finish,
		Class:     procedure.GlassClean,
		Cloth:     "2 low-pile glass cloths",
		Colour:    forGlass,
		Time:      procedure.Time{Fixed: 3.5},
		Skill:     procedure.SkillDry,
		LookFor:   "Clear against the light.",
	}
}

func tyres() procedure.Step {
	return procedure.Step{
		ID:    "tyres",
		Title: "Tyre shine",
		Text: "On bone-dry rubber, a thin ribbon each. Wipe back for satin. Roll the car 0.3 m for the part " +
			"on the ground.",
		Reason:    "On wet rubber, or too much of it, it slings onto paint.",
		Zones:     procedure.Tyres,
		Technique: procedure.Finish,
		Class:     procedure.TyreGel,
		Tool:      "applicator",
		Time: procedure.Time{
			PerWheel: 0.6,
		},
		Skill:    procedure.SkillWheels,
		Cautions: []string{cautionRoll},
		LookFor:  "No wet blotches; nothing comes off on a finger.",
		When:     procedure.Be(c.WantsShine, "yes"),
	}
}

// waffle dries with waffle towels, which are wrung as they fill.
func waffle(s procedure.Step) procedure.Step {
	return s.Worded("Waffle towels", "Lay flat and draw towards you, panel by panel; the second finishes.").With(func(s *procedure.Step) {
		s.Cloth, s.Reason = "2 waffle drying towels", "It drinks fast and is light to wring; drawn, not rubbed: rubbing marks."
	})
}

// greasyShuts are the shuts degreased while everything is wet, where that is the school.
func greasyShuts() procedure.Step {
	return procedure.Step{
		ID:        "shuts-clean",
		Title:     "Degrease the shuts",
		Text:      "Mild degreaser on hinges, latches and sills of doors and boot, a soft brush, then a little water from below.",
		Reason:    "Grease from hinges soils clothes, and the towel that wipes it later.",
		Zones:     procedure.AllShuts,
		Technique: procedure.Agitate,
		Tool:      "trigger sprayer, soft shut brush",
		Colour:    forShuts,
		Dose:      dose(procedure.Degreaser, 10, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000)),
		Uses:      &procedure.Consumption{Fixed: 60},
		Time:      procedure.Time{Fixed: 2.5},
		Skill:     procedure.SkillShuts,
		Cautions:  []string{cautionGloves},
		LookFor:   "No grey in the hinge corners.",
		When:      procedure.Be(c.ShutsWhen, c.WithTheWash),
	}
}

// dressed are the steps after the body is dry: wheels with their own towel, tyres, tips where they are ordered.
func dressed(gel procedure.Step) []procedure.Step {
	return append(append([]procedure.Step{dryWheels()}, coats(gel)...), tips())
}

// coats are one coat of dressing for satin, or two for gloss.
func coats(gel procedure.Step) []procedure.Step {
	gloss := func(s *procedure.Step) { s.When = procedure.Be(c.TyresWanted, string(c.GlossTyres)) }
	return []procedure.Step{
		gel.With(func(s *procedure.Step) { s.When = procedure.Be(c.TyresWanted, string(c.SatinTyres)) }),
		gel.Called("gloss").Worded("Tyres, first coat", "A thin ribbon each on bone-dry rubber; leave it ten minutes.").
			With(gloss).With(func(s *procedure.Step) { s.Dwell = works(10*minute, 60*minute, "It has gone dull.") }),
		gel.Called("gloss-again").Worded("Tyres, second coat for gloss", "After ten minutes, thin; wipe off what is too much.").
			Ending("gloss").Taking(procedure.Time{PerWheel: 0.4}).With(gloss),
	}
}

func dryWheels() procedure.Step {
	return procedure.Step{
		ID:        "dry-wheels",
		Title:     "Dry the wheels",
		Text:      "Face and behind the spokes, with their own towel, after the body.",
		Reason:    "They are never wholly clean: their towel meets no paint. Water behind spokes runs out on the drive home.",
		Zones:     procedure.Rims,
		Technique: procedure.Dry,
		Cloth:     "1 wheel towel",
		Colour:    forWheels,
		Time:      procedure.Time{PerWheel: 0.3},
		Skill:     procedure.SkillWheels,
		LookFor:   "Nothing runs when the car is rolled.",
	}
}

func tips() procedure.Step {
	return procedure.Step{
		ID:        "tips",
		Title:     "Exhaust tips",
		Text:      "Wipe; metal polish now and then.",
		Reason:    "They go black for good.",
		Zones:     procedure.TipsOnly,
		Technique: procedure.Finish,
		Cloth:     "1 old towel",
		Time:      procedure.Time{Fixed: 0.4},
		LookFor:   "Bright.",
		When:      procedure.Be(c.WantsTips, "yes"),
	}
}

func shuts() procedure.Step {
	return procedure.Step{
		ID:        "shuts",
		Title:     "Wipe the shuts",
		Text:      "Doors, boot, filler. Own towel, greasy side last.",
		Reason:    "The most forgotten place, and the first the customer sees on getting in.",
		Zones:     procedure.AllShuts,
		Technique: procedure.Finish,
		Cloth:     "1 shut towel",
		Colour:    forShuts,
		Time:      procedure.Time{Body: 3},
		Skill:     procedure.SkillShuts,
		LookFor:   "Every shut opened, filler too.",
	}
}

func lookAgain() procedure.Step {
	return procedure.Step{
		ID:    "look",
		Title: "Out into daylight",
		Text: "Walk round once in other light. Mirrors, badges, sills for drips. Spot-fix with rinseless mix " +
			"and a fresh cloth.",
		Says:      []procedure.Saying{{When: procedure.Be(c.CoverAfter, c.No), Text: "No cover over it outdoors."}},
		Reason:    "After five minutes the drips show.",
		Zones:     procedure.Outside,
		Technique: procedure.Inspect,
		Cloth:     "1 plush towel",
		Colour:    forPaint,
		Time:      procedure.Time{Fixed: 2},
		Skill:     procedure.SkillLook,
		LookFor:   "Nothing the customer would see standing.",
	}
}

func putAway() procedure.Step {
	return procedure.Step{
		ID:        "away",
		Title:     "Put away",
		Text:      "Empty and wipe buckets, mitts and towels to the laundry bags by colour, hose coiled, machines off.",
		Reason:    "The next wash starts in three minutes, not ten.",
		Zones:     procedure.NoZones,
		Technique: procedure.Prepare,
		Time:      procedure.Time{Fixed: 3},
		LookFor:   "Bay clear, floor rinsed.",
	}
}

func inside() procedure.Step {
	return procedure.Step{
		ID:        "inside",
		Title:     "Inside, quickly",
		Text:      "Vacuum seats and mats, wipe dash and sills.",
		Reason:    "The customer sits in it first.",
		Zones:     procedure.NoZones,
		Technique: procedure.Finish,
		Tool:      "vacuum",
		Cloth:     "1 inside towel",
		Colour:    forInside,
		Time:      procedure.Time{Fixed: 6},
		Cautions:  []string{cautionNoise},
		LookFor:   "No crumbs, no smears.",
		When:      procedure.Be(c.WantsInside, "yes"),
	}
}

// Stages carry the same names in every procedure, so that times can be compared.
func setUp(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "setup", Title: "Set up", Steps: steps}
}
func firstRinse(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "rinse", Title: "First rinse", Steps: steps}
}
func wheelStage(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "wheels", Title: "Wheels", Steps: steps}
}
func preWash(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "prewash", Title: "Pre-wash", Steps: steps}
}
func preSpray(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "prewash", Title: "Pre-spray", Steps: steps}
}
func contactWash(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "contact", Title: "Contact wash", Steps: steps}
}
func towelWash(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "contact", Title: "Towel wash", Steps: steps}
}
func finalRinse(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "final", Title: "Final rinse", Steps: steps}
}
func decon(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "decon", Title: "Decontaminate", Steps: steps}
}
func dry(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "dry", Title: "Dry", Steps: steps}
}
func protects(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "protect", Title: "Protect", Steps: steps}
}
func glassStage(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "glass", Title: "Glass", Steps: steps}
}
func tyreStage(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "tyres", Title: "Tyres", Steps: steps}
}
func shutStage(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "shuts", Title: "Shuts", Steps: steps}
}
func insideStage(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "inside", Title: "Inside", Steps: steps}
}
func lastLook(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "look", Title: "Last look", Steps: steps}
}
func putAwayStage(steps ...procedure.Step) procedure.Stage {
	return procedure.Stage{ID: "away", Title: "Put away", Steps: steps}
}
