package procedure

import (
	"uskel/core/climate"
	c "uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
)

// The starter procedures are the method families of docs/trade.md, section 5, in its order, with its quantities and
// times. Common practice, no source. A shop starts from them and publishes its own versions.

// Starters lists them, F1 to F18.
func Starters() []Procedure {
	return []Procedure{
		HoseTwoBucket(),
		Express(),
		Enthusiast(),
		CoatingService(),
		CareWash(),
		Maintenance(),
		SevenStep(),
		WinterLowProduct(),
		SaltRescue(),
		Touchless(),
		SpeedWash(),
		RinselessTowels(),
		RinselessSponge(),
		RinselessMitt(),
		RinselessTwoTowels(),
		Waterless(),
		WheelsOnly(),
		ManyMittWash(),
	}
}

// FamilyName is a method family and what its starter is called.
type FamilyName struct {
	Family string `json:"family"`
	Title  string `json:"title"`
}

// FamilyNames lists the method families.
func FamilyNames() []FamilyName {
	var names []FamilyName
	for _, p := range Starters() {
		names = append(names, FamilyName{p.Family, p.Title})
	}
	return names
}

// Families lists the families' codes.
func Families() []string {
	var codes []string
	for _, n := range FamilyNames() {
		codes = append(codes, n.Family)
	}
	return codes
}

// HoseTwoBucket is family F1.
func HoseTwoBucket() Procedure {
	return Procedure{
		ID:      "hose-two-bucket",
		Family:  "F1",
		Version: 1,
		Title:   "Hose, two buckets",
		Fits:    "No pressure washer: a hose, a drain and two buckets. Grade 1 to 3.",
		Entry: []Entry{
			washable,
			running,
			drained,
			{Max(c.GradeOverall, 3), "A hose does not knock caked soil off: blast it at a pressure bay first."},
		},
		Suits:  Be(c.SupplyHere, c.Hose),
		Rounds: []Round{byWheels(), bySides()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().taking(Time{PerWheel: 3.2, Soiled: true}).inRound("wheel-by-wheel").with(func(s *Step) {
				s.Machine, s.Cautions = hose, []string{
					cautionGloves,
					cautionHot,
				}
				s.Dose = dose(WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000))
			})),
			firstRinse(
				soakBugs(),
				citrus().when(Min(c.GradeLower, 3)),
				fillBuckets(),
				hoseJet(
					"rinse",
					"Rinse hard, panel by panel",
					"Top down, close and slow, every gap.",
				).ending("bugs", "citrus").
					taking(Time{Body: 4}).inRound("sides"),
			),
			contactWash(
				mitt().worded("Two-bucket wash, both faces", "Both faces of the mitt before each rinse: the upper half with "+
					"one, the lower half with the other. Wring outside the bucket, reload.").inRound("sides"),
			),
			finalRinse(finalHose().inRound("sides")),
			dry(waffle(towels()).taking(Time{Body: 5}).inRound("sides"), blow()),
			protects(
				protect(
					"seal",
					"Spray sealant, panel by panel",
					"A few sprays on the towel; spread with one side, buff with the other.",
					SpraySeal,
					"Lasts one to three months on a protected car.",
				),
			),
			shutStage(shuts()),
			tyreStage(dressed(tyres().worded("Tyre dressing, water-based", "On bone-dry rubber, thin. Lasts 8 to 14 days."))...),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// Express is family F2: under thirty minutes with set-up and put-away.
func Express() Procedure {
	return Procedure{
		ID:      "express",
		Family:  "F2",
		Version: 1,
		Title:   "Thirty-minute express",
		Fits:    "A hose on a wall reel, grade 1 to 2, half an hour all told.",
		Entry: []Entry{
			washable,
			running,
			drained,
			{Max(c.GradeOverall, 2), "From grade 3 a pre-wash takes longer than this wash has."},
			{Max(c.GradeLower, 3), "Caked sills do not come off in half an hour."},
		},
		Suits:   Max(c.MinutesThere, 35),
		Pins:    Pins{c.DryWith: c.TowelOnly},
		Waivers: []Waiver{{"shuts-never-visited", "", "Half an hour has no room for them."}},
		Stages: []Stage{
			setUp(
				layOut().taking(Time{Fixed: 1}).
					worded("Reel out", "Hose from the wall reel, caddy and buckets to the car."),
			),
			wheelStage(
				soak().with(func(s *Step) { s.Dwell = works(3*minute, 5*minute, "Brown runs from spokes and tyre.") }),
				fillBuckets().with(func(s *Step) { s.During = "soak" }),
				hosed(
					"wheels-off",
					"Rinse the wheels",
					"In the order the cleaner went on.",
				).on(AllWheels).
					taking(Time{PerWheel: 0.4}).
					ending("soak"),
			),
			preWash(
				citrus().with(func(s *Step) {
					s.ID, s.Title, s.When, s.Time = "spray", "Pre-rinse spray on lower body and front", Rule{}, Time{
						Body: 0.7,
					}
					s.Zones, s.Reason, s.Dwell = LowerAndFront, "It works while the hose is readied.", works(
						5*minute,
						8*minute,
						"Dirt lets go and runs.",
					)
				}),
				Step{
					ID:        "ready",
					Title:     "Ready the hose",
					Text:      "Shower head on, towels laid out.",
					Reason:    "The spray works meanwhile.",
					Zones:     NoZones,
					Technique: Prepare,
					During:    "spray",
					Time:      Time{Fixed: 0.6},
					LookFor:   "Nothing left to fetch.",
				},
				hoseJet("rinse", "Rinse", "Top down.").taking(Time{Body: 2.2}).ending("spray"),
			),
			contactWash(
				mitt(),
				Step{
					ID:        "suds",
					Title:     "Brush the wheels with what suds are left",
					Text:      "Face and tyre once round, with the wheel brush.",
					Reason:    "Suds that would be poured away.",
					Zones:     AllWheels,
					Technique: Agitate,
					Tool:      "wheel brush",
					Colour:    forWheels,
					Time:      Time{PerWheel: 0.3},
					Skill:     SkillWheels,
					LookFor:   "Even grey gone.",
				},
			),
			finalRinse(finalHose().taking(Time{Body: 1.6})),
			dry(towels().taking(Time{Body: 3})),
			protects(
				protect(
					"seal",
					"Spray protection",
					"One spray a panel, spread and buff.",
					SprayWax,
					"The next wash is shorter.",
				).taking(Time{Body: 1.8}),
			),
			tyreStage(
				tyres().taking(Time{PerWheel: 0.3}),
				tips(),
			),
			lastLook(lookAgain().taking(Time{Fixed: 0.5})),
			putAwayStage(putAway().taking(Time{Fixed: 1.2})),
		},
	}
}

// Enthusiast is family F3.
func Enthusiast() Procedure {
	return Procedure{
		ID:      "enthusiast",
		Family:  "F3",
		Version: 1,
		Title:   "Full wash with inside",
		Fits:    "Pressure, foam and blower on kept-up paint; inside wiped and vacuumed.",
		Entry: []Entry{
			washable,
			jetHere,
			drained,
			{Max(c.GradeOverall, 3), "Caked soil wants the shop maintenance wash: rinse, foam, rinse again."},
		},
		Pins:   Pins{c.WheelsWhen: c.First, c.RinsedFirst: c.Yes, c.FoamBody: c.Thick},
		Rounds: []Round{byWheels()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().inRound("wheel-by-wheel")),
			firstRinse(jet("rinse", "Rinse from the top", "Top down, every gap.")),
			preWash(
				soakBugs(),
				foamOn("bugs").with(func(s *Step) {
					s.Dwell = works(10*minute, 15*minute, "It has dripped off by itself.")
				}),
				fillBuckets().with(func(s *Step) { s.During = "foam" }),
				brushBadges().when(Be(c.BrushWhen, c.InPrewash))),
			contactWash(
				mitt().ending("foam", "bugs"),
				brushBadges().called("badges-late").when(Be(c.BrushWhen, c.InContact)),
			),
			finalRinse(
				finalJet("foam").worded("Rinse every crevice", "Top down; mirrors, badges, grille, shuts' edges."),
			),
			dry(
				blow().worded("Blow dry", "The blower takes 95 %: top down, gaps, mirrors, grille."),
				towels().taking(Time{Body: 2}).
					worded("Damp finish", "Drying aid and one large towel, drawn."),
				dryingAid().called("aid-mist").with(func(s *Step) {
					s.Dwell, s.When, s.Time = nil, All(Be(c.DryingAidUse, c.Yes), notSatin), Time{Body: 0.6}
				}),
			),
			shutStage(shuts()),
			insideStage(inside()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// CoatingService is family F4: every two to three months on a coating.
func CoatingService() Procedure {
	return Procedure{
		ID:      "coating-service",
		Family:  "F4",
		Version: 1,
		Title:   "Coated car, service wash",
		Fits:    "Every two to three months on a coating: wash, take iron and spots off, top up.",
		Entry: []Entry{
			washable,
			jetHere,
			drained,
			{coated, "There is no coating on it to service."},
			{Max(c.GradeOverall, 3), "Wash the caked soil off first."},
		},
		Suits:  All(coated, Any(flat, Be(c.HasIron, "yes"), Be(c.HasSpots, "yes")), Min(c.ProtectionAge, 60)),
		Pins:   Pins{c.WheelsWhen: c.First, c.FoamAtAll: c.Yes},
		Rounds: []Round{byWheels()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().inRound("wheel-by-wheel")),
			preWash(
				foamOn().with(func(s *Step) {
					s.Text, s.Dwell = "On dry paint, all round.", works(3*minute, 5*minute, "It slides, then drips.")
				}),
				fillBuckets().worded("Fill the buckets, cold", "Cold water first, coating shampoo after; rinse "+
					"bucket beside it.").
					with(func(s *Step) {
						s.During, s.Water = "foam", ColdWater
						s.Dose = toWater(
							CoatingShampoo,
							1,
							500,
							measure.PartsPlusParts,
							"wash bucket",
							measure.Ml(12_000),
						)
					}),
				foamOff("foam"),
			),
			contactWash(mitt()),
			finalRinse(finalJet()),
			decon(
				Step{
					ID:        "iron",
					Title:     "Iron remover",
					Text:      "On wet paint and wheels, until it runs purple. Never in the sun.",
					Reason:    "Iron specks take the coating's water behaviour.",
					Zones:     OutsideRims,
					Technique: Apply,
					Tool:      "trigger sprayer",
					Class:     IronRemover,
					Dwell:     works(3*minute, 5*minute, "Purple runs."),
					Time:      Time{Body: 2},
					Skill:     SkillFoam,
					Cautions:  []string{cautionFumes},
					LookFor:   "Purple, then clear.",
					When:      Any(flat, Be(c.HasIron, "yes")),
				},
				finalJet(
					"iron",
				).called("iron-off").
					when(Any(flat, Be(c.HasIron, "yes"))).
					worded("Rinse the iron remover off", "Top down, wheels too, twice."),
				towels().called("dry-spots").
					on(PaintOnly).
					worded("Dry for the spot remover", "Spot remover works on dry paint.").
					with(func(s *Step) { s.Says = nil }). // no drying aid under a remover
					taking(Time{Body: 3}).
					when(Be(c.HasSpots, "yes")),
				Step{
					ID:        "spots",
					Title:     "Spot remover, on and straight off",
					Text:      "A panel at a time: on with a damp cloth, straight off with another.",
					Reason:    "Acid: seconds, never minutes.",
					Zones:     PaintOnly,
					Technique: Finish,
					Class:     SpotRemover,
					Cloth:     "2 short-pile towels",
					Colour:    forPaint,
					Time:      Time{Body: 5},
					Skill:     SkillDry,
					Cautions:  []string{cautionGloves},
					LookFor:   "Spots gone from the side.",
					When:      Be(c.HasSpots, "yes"),
				},
				freshBuckets(),
				mitt().called("wash-again").
					worded("Wash again", "Once more with coating shampoo: acid must not stay.").
					taking(Time{Body: 6}).
					when(Be(c.HasSpots, "yes")).
					with(func(s *Step) { s.Again = true }),
				finalJet().called("rinse-again").when(Be(c.HasSpots, "yes")),
			),
			protects(
				protect(
					"topup",
					"Top-up spray as drying aid",
					"On the wet car, a spray a panel, drawn off with the drying towel.",
					CoatingTopUp,
					"It dries and protects in one.",
				).taking(Time{Body: 5}).
					with(func(s *Step) {
						s.Technique, s.Cloth, s.Colour, s.When = Dry, "2 drying towels", forDrying, notSatin
					}),
			),
			dry(
				towels().taking(Time{Body: 1.5}).
					worded("Finish with the second towel", "Glass, sills, behind the mirrors."),
			),
			glassStage(glass()),
			shutStage(shuts()),
			tyreStage(
				dressed(tyres().worded("Tyre gel", "On bone-dry rubber, a thin ribbon each; it settles in five minutes."))...,
			),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// freshBuckets are mixed for the second wash: acid must not come back with the mitt.
func freshBuckets() Step {
	return fillBuckets().called("fill-again").worded("Fresh buckets", "Empty and fill both again, cold, with coating shampoo.").
		when(Be(c.HasSpots, "yes")).with(func(s *Step) {
		s.Water = ColdWater
		s.Dose = toWater(CoatingShampoo, 1, 500, measure.PartsPlusParts, "wash bucket", measure.Ml(12_000))
	})
}

// CareWash is family F5: weekly to fortnightly on a coating or film.
func CareWash() Procedure {
	protected := Any(coated, Be(c.Protected, c.FilmWrap))
	keptWheels := Time{PerWheel: 1.3, Soiled: true} // kept up weekly: little sticks
	return Procedure{
		ID:      "care-wash",
		Family:  "F5",
		Version: 1,
		Title:   "Coated or filmed car, care wash",
		Fits:    "Weekly to fortnightly on a coating or film.",
		Entry: []Entry{
			washable,
			jetHere,
			drained,
			{protected, "It is for a coating or a film, and there is none on it."},
			{Max(c.GradeOverall, 3), "Caked soil wants the shop maintenance wash."},
		},
		Suits:  All(protected, Max(c.GradeOverall, 2), BeNot(c.WaterOnPaint, c.Flat), Be(c.HasIron, "no")),
		Pins:   Pins{c.FoamAtAll: c.Yes},
		Rounds: []Round{byWheels(), byWheels().called("wheels-under-foam")},
		Stages: []Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().inRound("wheel-by-wheel").taking(keptWheels).when(Be(c.WheelsWhen, c.First))),
			preWash(
				soakBugs(),
				foamOn("bugs").with(func(s *Step) { s.Dwell = works(5*minute, 15*minute, "It slides, then drips.") }),
				wheelsOne().called("wheels-during").inRound("wheels-under-foam").taking(keptWheels).
					when(Be(c.WheelsWhen, c.DuringFoam)).
					with(func(s *Step) { s.Title, s.During = "Wheels while foam works", "foam" }),
				foamOff(
					"foam",
					"bugs",
				).worded("Rinse to the panel's edge", "So that the jet carries dirt to the panel's edge and off "+
					"the car; shallow at film edges."),
				greasyShuts(),
				fillBuckets().worded("Fill the buckets", "Cold water for a coating shampoo.").
					with(func(s *Step) { s.Water = ColdWater }),
			),
			contactWash(mitt().with(func(s *Step) { s.LowerMitt, s.Cloth = true, "2 long-pile mitts, one for the lower band" })),
			finalRinse(finalJet().worded("Rinse each section", "Outdoors section by section, top down.")),
			dry(
				blow().taking(Time{Body: 1.5}),
				towels().worded("Drag-dry", "Lay the towel flat, draw it towards you.").asking(askDrags),
				moreIfItDrags(),
			),
			protects(
				protect(
					"topup",
					"Top-up spray",
					"A spray a panel, spread and buff.",
					CoatingTopUp,
					"Every six to eight weeks for the maker's warranty, or every three months.",
				).when(Any(signed, Min(c.ProtectionAge, 42))),
			),
			shutStage(shuts()),
			tyreStage(dressed(tyres())...),
			insideStage(inside()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// Maintenance is family F6, the shop maintenance wash in two levels and the training standard.
func Maintenance() Procedure {
	return Procedure{
		ID:      "maintenance",
		Family:  "F6",
		Version: 1,
		Title:   "Shop maintenance wash",
		Fits: "The training standard. Any grade, with a pressure washer and a drain. Basic, or signature with " +
			"a spray sealant.",
		Entry:    []Entry{washable, jetHere, drained},
		Standard: true,
		Pins:     Pins{c.WheelsWhen: c.First, c.MittsOrBuckets: c.TwoBuckets, c.FoamAtAll: c.Yes},
		Rounds:   []Round{byWheels()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			firstRinse(
				lumps(),
				jet(
					"rinse",
					"Rinse with arches and wheels",
					"Top down, every gap, mirrors, grille, arches and wheels.",
				),
				underSpray(),
			),
			wheelStage(wheelsOne().asking(askBrown).inRound("wheel-by-wheel"), brushedAgain().inRound("wheel-by-wheel")),
			preWash(
				soakBugs(),
				citrus(),
				citrusHeavy(),
				foamOn("bugs", "citrus", "citrus-heavy"),
				fillBuckets().with(func(s *Step) { s.During = "foam" }),
				brushBadges().called("badges-early").
					when(Be(c.BrushWhen, c.InPrewash)).
					with(func(s *Step) { s.During = "foam" }),
				foamOff(
					"bugs",
					"citrus",
					"citrus-heavy",
					"foam",
				).when(Any(Be(c.OverFoam, c.RinseItOff), hasBugs, Min(c.GradeLower, 2))),
			),
			contactWash(mitt().ending("foam"), brushBadges().when(Be(c.BrushWhen, c.InContact))),
			finalRinse(append([]Step{finalJet("foam").asking(askFlat), dryingAid(), dryingAidOff()}, agentIfFlat()...)...),
			dry(blow(), towels().asking(askDrags), moreIfItDrags()),
			protects(
				protect(
					"seal",
					"Spray sealant",
					"A few sprays on the towel, panel by panel; spread with one side, buff with the other.",
					SpraySeal,
					"Signature: the next wash gets shorter.",
				).when(signed),
			),
			shutStage(shuts()),
			tyreStage(dressed(tyres())...),
			insideStage(inside()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// SevenStep is family F7.
func SevenStep() Procedure {
	return Procedure{
		ID:      "seven-step",
		Family:  "F7",
		Version: 1,
		Title:   "Shop seven-step",
		Fits:    "Pre-washed twice: citrus below, foam over all. Grade 2 to 4.",
		Entry:   []Entry{washable, jetHere, drained},
		Suits:   All(Min(c.GradeOverall, 3), Max(c.GradeOverall, 3)),
		Pins: Pins{
			c.RinsedFirst: c.Yes,
			c.WheelsWhen:  c.First,
			c.FoamFrom:    c.FromBottom,
			c.BrushWhen:   c.InPrewash,
			c.FoamAtAll:   c.Yes,
		},
		Rounds: []Round{byWheels()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			firstRinse(jet("rinse", "Rinse", "Top down, wheels and arches too."), underSpray()),
			wheelStage(wheelsOne().inRound("wheel-by-wheel").with(func(s *Step) {
				s.Dose = dose(WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000))
			})),
			preWash(
				citrus().with(func(s *Step) { s.When = Max(c.GradeLower, 3) }),
				citrusHeavy(),
				foamOff(
					"citrus",
					"citrus-heavy",
				).called("citrus-off").
					on(LowerHalf).
					taking(Time{Body: 1.2}).
					worded("Rinse the citrus off", "Lower half, top down."),
				soakBugs(),
				foamOn("bugs"),
				brushBadges().with(func(s *Step) { s.During = "foam" }),
				fillBuckets().worded("Two buckets, half full", "Water first, then product.").
					with(func(s *Step) { s.During = "foam" }),
				foamOff("foam", "bugs"),
			),
			contactWash(mitt()),
			finalRinse(append([]Step{
				finalJet().worded("Rinse mirrors and gaps", "Top down; mirrors, gaps, badges.").asking(askFlat),
			}, agentIfFlat()...)...),
			dry(
				blow(),
				towels().worded("Lay and pull", "Lay the towel flat, pull it towards you; no rubbing.").asking(askDrags),
				moreIfItDrags(),
			),
			shutStage(shuts()),
			glassStage(glass()),
			tyreStage(dressed(tyres().worded("Tyre gel", "On bone-dry rubber, thin."))...),
			insideStage(inside()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// WinterLowProduct is family F8.
func WinterLowProduct() Procedure {
	apc := func() *Dose {
		return dose(Degreaser, 10, 1, measure.WaterFirst, "500 ml wheel sprayer", measure.Ml(500))
	}
	pad := func(id, title, text string, zones ZoneGroup) Step {
		return mitt().called(id).
			worded(title, text).
			on(zones).
			with(func(s *Step) {
				s.Medium, s.Cloth, s.Tool = contact.Pad, "1 flat pad", "wash bucket, rinse bucket with guard"
			})
	}
	return Procedure{
		ID:      "winter-low",
		Family:  "F8",
		Version: 1,
		Title:   "Winter maintenance, little product",
		Fits:    "Grade 2 to 3 in winter with the least product.",
		Entry: []Entry{
			washable,
			jetHere,
			drained,
			{Max(c.GradeOverall, 3), "Caked soil wants a rinse and more product."},
			{Min(c.GradeOverall, 1), "There is hardly any dirt: a lighter wash will do."},
		},
		Suits: All(Max(c.AirTemp, 5), Min(c.GradeOverall, 2), Be(c.HasSalt, "no")),
		Pins: Pins{
			c.WheelsWhen:  c.First,
			c.FoamFrom:    c.FromBottom,
			c.FoamOffFrom: c.FromBottom,
			c.TowelState:  c.DampTowel,
			c.FoamAtAll:   c.Yes,
		},
		Rounds: []Round{byWheels()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().inRound("wheel-by-wheel").with(func(s *Step) {
				s.Text, s.Dose = "All-purpose cleaner on mitt and brush; start at the valve. Rinse this wheel "+
					"before the next.", apc()
			})),
			preWash(
				foamOn().with(func(s *Step) {
					s.Dose = dose(FoamProduct, 40, 460, measure.PartsPlusParts, "500 ml foam bottle", measure.Ml(500))
					s.Dwell = works(5*minute, 8*minute, "It slides, then drips.")
				}),
				fillBuckets().with(func(s *Step) { s.During = "foam" }),
				foamOff("foam").worded("Rinse bottom up", "So that you see what has gone.")),
			contactWash(
				pad(
					"pad",
					"Pad left and right, flip, up and down",
					"Upper and middle: left-right with one face, flip, up-down with the other.",
					UpperAndMiddle,
				),
				pad(
					"pad-lower",
					"Second pad for the lower third",
					"Lower doors, sills and bumpers with the second pad.",
					LowerHalf,
				).with(func(s *Step) { s.Cloth = "second flat pad" }),
				brushBadges().worded("Third pad for the trim", "Trim, plastic, badges with the third pad.").
					with(func(s *Step) { s.Tool, s.Cloth, s.Colour = "", "third flat pad", "slate: trim" }),
			),
			finalRinse(finalJet(), sheet().when(Be(c.HoseHere, "yes"))),
			dry(towels().worded("Towel damped on the glass first", "Then roof, bonnet, sides; lay and draw.")),
			shutStage(shuts()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// SaltRescue is family F9.
func SaltRescue() Procedure {
	rinsedOff := Be(c.OverFoam, c.RinseItOff)
	return Procedure{
		ID:      "salt-rescue",
		Family:  "F9",
		Version: 1,
		Title:   "Salt rescue",
		Fits:    "Grade 3 to 4 in winter: salt foamed wet again before anything touches.",
		Entry:   []Entry{washable, jetHere, drained},
		Suits:   All(hasSalt, Min(c.GradeOverall, 3)),
		Pins: Pins{
			c.RinsedFirst: c.No,
			c.FoamAtAll:   c.Yes,
			c.WheelsWhen:  c.DuringFoam,
			c.SoapDries:   c.MayDry,
			c.ShutsWhen:   c.WithTheWash,
		},
		Rounds: []Round{byWheels()},
		Stages: []Stage{
			setUp(cool(), layOut()),
			preWash(
				foamOn().called("salt-foam").
					worded("Foam the dry car heavily", "Heavy mix, all over, bottom up, and leave it.").
					with(func(s *Step) {
						s.Dose, s.Says = dose(
							FoamProduct,
							1,
							3,
							measure.PartsPlusParts,
							"1 l foam bottle",
							measure.Ml(1000),
						), nil
						s.Dwell = works(5*minute, 60*minute, "It has wetted the crystals.") // it is wetted again; the label wins
					}),
				wheelsOne().inRound("wheel-by-wheel").worded("Wheels with iron cleaner", "Iron cleaner, barrel, spokes, face, tyre; rinse, "+
					"then soap the finished wheel again so that water does not dry on it.").
					with(func(s *Step) {
						s.During, s.Class, s.Dose, s.Cautions = "salt-foam", IronRemover, nil, []string{
							cautionFumes,
							cautionHot,
						}
					}),
				fillBuckets().worded("Two soap buckets and one rinse", "So that there is always a clean one.").
					with(func(s *Step) { s.Tool, s.Time, s.During = "3 buckets", Time{Fixed: 3}, "salt-foam" }),
				Step{
					ID:        "mist",
					Title:     "Mist the foam wet",
					Text:      "A fine mist over roof, bonnet and the sunny side.",
					Reason:    "Dried crystals cut: re-wet them before the rinse.",
					Zones:     Outside,
					Technique: Apply,
					Tool:      "pump sprayer",
					Rewets:    []string{"salt-foam"},
					Repeats:   true,
					Dwell: works(
						0,
						10*minute,
						"Foam runs again.",
					),
					Time:    Time{Fixed: 1},
					Skill:   SkillFoam,
					LookFor: "Nothing dry anywhere.",
				},
				foamOff("salt-foam", "mist").when(rinsedOff),
				foamOn().worded("Foam again, thin", "A second, thin coat that takes what the first has let go.").
					with(func(s *Step) { s.Dwell = works(minute, 10*minute, "It slides, then drips.") }).when(rinsedOff),
				foamOff("foam").called("foam-off-2").taking(Time{Body: 2}).when(rinsedOff),
			),
			contactWash(
				mitt().ending("salt-foam", "mist").worded("Sunny side first", "Sunny side first; rinse the mitt often. Upper, middle, lower; "+
					"front last."),
				brushBadges().worded("Brush the gaps", "Gaps, badges, edges; leave the filler open as a reminder.").
					with(func(s *Step) { s.Opens = []string{"filler flap"} }),
				shuts().worded("Shuts with the small mitt", "Doors, boot, filler with the small mitt, rinsed with "+
					"little water."),
			),
			finalRinse(underSpray(), finalJet("salt-foam", "mist")),
			dry(
				blow(),
				towels().worded("Sunny side first, flats before uprights", "Second, smaller towel for detail; "+
					"wheels last with the wheel towel."),
			),
			tyreStage(dryWheels()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// Touchless is family F10: fifteen to twenty minutes, 90 to 95 % clean.
func Touchless() Procedure {
	return Procedure{
		ID:      "touchless",
		Family:  "F10",
		Version: 1,
		Title:   "Touchless",
		Fits:    "Well protected, kept up, grade 0 to 2: nothing touches the paint. Leaves it 90 to 95 % clean.",
		Entry: []Entry{
			washable,
			jetHere,
			drained,
			{Max(c.GradeOverall, 2), "Above grade 2 a film stays that only a touch takes off."},
			{
				All(BeNot(c.Protected, c.Bare), BeNot(c.Protected, c.Unknown), BeNot(c.WaterOnPaint, c.Flat)),
				"It lives on good protection: here water does not run off by itself, or nobody knows what is on it.",
			},
			{Be(c.BlowerHere, "yes"), "It is dried by air alone, and no blower may be used here."},
		},
		Suits:   Max(c.GradeOverall, 1),
		Pins:    Pins{c.RinsedFirst: c.Yes, c.FoamAtAll: c.Yes, c.DryWith: c.BlowerOnly, c.OverFoam: c.RinseItOff},
		Waivers: []Waiver{{"shuts-never-visited", "", "Nothing is opened and nothing touched."}},
		Stages: []Stage{
			setUp(
				cool(),
				layOut().worded("Lay out", "Foam bottle full, washer on, hose untangled, blower ready.").
					taking(Time{Fixed: 2}).
					with(func(s *Step) { s.Tool = "" }),
			),
			preWash(
				jet("rinse", "Rinse top down", "Top down, slowly, arches and wheels: it takes 80 to 85 %."),
				foamOn(),
				foamOff("foam").with(func(s *Step) {
					s.Says = append(s.Says, Saying{hasBugs, "What the jet does not take of the bugs stays: without a touch " +
						"some may be left. Tell the customer."})
				})),
			dry(blow().taking(Time{Body: 3.5}).with(func(s *Step) { s.When = Rule{} })),
			lastLook(
				Step{
					ID:        "roll",
					Title:     "Roll and brake lightly",
					Text:      "Roll the car and brake lightly once, to wipe the discs.",
					Reason:    "Wet discs rust overnight.",
					Zones:     NoZones,
					Technique: Inspect,
					Time: Time{
						Fixed: 0.7,
					},
					Skill:    SkillLook,
					Cautions: []string{cautionRoll},
					LookFor:  "Discs bright, mirrors no longer drip.",
				},
			),
			putAwayStage(putAway()),
		},
	}
}

// SpeedWash is family F11: under ten minutes on a light, large car, at a walking pace, every inch once. Its rates are
// its own.
func SpeedWash() Procedure {
	return Procedure{
		ID:      "speed",
		Family:  "F11",
		Version: 1,
		Title:   "Speed wash",
		Fits:    "Light soil, any size, under ten minutes.",
		Entry: []Entry{
			washable,
			jetHere,
			drained,
			{Max(c.GradeOverall, 1), "It is for light soil: two towels do not carry more."},
			{Max(c.GradeLower, 2), "Sills this dirty want a mitt of their own."},
		},
		Suits: Max(c.MinutesThere, 15),
		Pins:  Pins{c.WheelsWhen: c.First, c.RinsedFirst: c.Yes, c.DryWith: c.TowelOnly},
		Waivers: []Waiver{
			{"shuts-never-visited", "", "No shuts: that is how it stays under ten minutes."},
			{"too-few-cloths", "towel", "One big towel, wrung once: light soil, little water."},
		},
		Stages: []Stage{
			setUp(
				layOut().taking(Time{Fixed: 2}).
					worded("Lay out", "Foam bottle full, two wet towels, one big dry one.").
					with(func(s *Step) { s.Tool = "" }),
			),
			wheelStage(
				soak().with(func(s *Step) {
					s.Text, s.Dwell = "All four, no brushing.", works(30, 3*minute, "Brown runs from spokes and tyre.")
				}),
				jet(
					"wheels-off",
					"Rinse the wheels in the same order",
					"In the order the cleaner went on.",
				).on(AllWheels).
					taking(Time{PerWheel: 0.15}).
					ending("soak"),
			),
			preWash(
				jet("rinse", "Rinse top down", "Once, at a walking pace.").on(Outside).taking(Time{Body: 0.8}),
				foamOn().taking(Time{Body: 0.7}).
					with(func(s *Step) { s.Dwell = works(0, 5*minute, "It slides, then drips.") }),
			),
			contactWash(
				mitt().ending("foam").
					worded("Two wet towels, every inch once", "A wet towel in each hand instead of a mitt; "+
						"straight, once over everything, lower last with the second.").
					with(func(s *Step) {
						s.Technique, s.Medium, s.Cloths, s.BothHands = ContactTowel, contact.WetTowel, 2, true
						s.Cloth, s.Tool, s.Says = "2 wet plush towels", "1 bucket", nil
						s.Dose = toWater(Shampoo, 1, 500, measure.PartsPlusParts, "bucket", measure.Ml(10_000))
					}),
			),
			finalRinse(finalJet("foam").on(Outside).taking(Time{Body: 0.8})),
			dry(
				towels().taking(Time{Body: 1.3}).
					worded("One big towel", "Laid and drawn, roof to sills.").
					with(func(s *Step) { s.Cloth = "1 large drying towel" }),
			),
			glassStage(
				glass().taking(Time{Fixed: 0.6}).
					worded("Glass again, dry cloth", "Once over with a dry cloth.").
					with(func(s *Step) { s.Class = "" }),
			),
			lastLook(
				lookAgain().taking(Time{Fixed: 0.3}).worded("Look", "Once round.").with(func(s *Step) { s.Says = nil }),
			),
			putAwayStage(putAway()),
		},
	}
}

// rinselessEntry is what every wash without a rinse needs.
func rinselessEntry() []Entry {
	return []Entry{
		washable,
		{
			Max(c.GradeOverall, 2),
			"Rinseless drags what is not rinsed off: above grade 2 the grit would be rubbed over the paint. Rinse " +
				"and foam first.",
		},
		{BeNot(c.CoverHere, climate.OpenSky), "It needs shade: under open sky the mix dries on the panel."},
		{
			Not(All(hasSalt, Min(c.GradeLower, 2))),
			"Salt crystals low on the car scratch like sand until running water takes them off.",
		},
	}
}

// noRinse are how rinseless washes settle what is settled for them.
var noRinse = Pins{c.WheelsWhen: c.Last, c.FoamAtAll: c.No, c.RinsedFirst: c.No}

func rinselessMix(vessel string, water measure.Volume) *Dose {
	return toWater(Rinseless, 256, 1, measure.WaterFirst, vessel, water)
}

func mixBucket(water measure.Volume) Step {
	return Step{
		ID:        "mix",
		Title:     "Mix the bucket",
		Text:      "Water first, then the concentrate; stir by hand.",
		Reason:    "Weak mix does not lift, strong mix streaks.",
		Zones:     NoZones,
		Technique: Prepare,
		Tool:      "1 bucket",
		Dose:      rinselessMix("bucket", water),
		Time: Time{
			Fixed: 2,
		},
		Skill:    SkillBuckets,
		Cautions: []string{cautionLift},
		LookFor:  "Slick between the fingers.",
	}
}

func deionised() Step {
	return Step{
		ID:        "mix-hard",
		Title:     "Use deionised water",
		Text:      "Fill bucket and sprayer from the deionised tap.",
		Reason:    "Hard water dries to spots, and nothing rinses it off here.",
		Zones:     NoZones,
		Technique: Prepare,
		Water:     Deionised,
		Time:      Time{Fixed: 0.5},
		Skill:     SkillBuckets,
		When:      Min(c.WaterHardness, 121),
	}
}

func wetDown() Step {
	return Step{
		ID:        "wet",
		Title:     "Wet the car",
		Text:      "Pump sprayer over every panel, lower parts twice. Leave it to work.",
		Reason:    "The mix wraps loose grit so that it glides.",
		Zones:     Outside,
		Technique: Apply,
		Act:       contact.WetDown,
		Tool:      "pump sprayer",
		Dose:      rinselessMix("2 l pump sprayer", measure.Ml(2000)),
		Dwell:     works(minute, 10*minute, "Drops pull together on the panel."),
		Time: Time{
			Body: 3,
		},
		Skill:    SkillFoam,
		Cautions: []string{cautionSlip},
		LookFor:  "Wet all over; re-wet what dries.",
	}
}

func wheelsLast() Step {
	return Step{
		ID:        "wheels",
		Title:     "Wheels last",
		Text:      "Spray, wait, wipe face, spokes and tyre with one towel a wheel.",
		Reason:    "With no rinse, brake dust must stay away from the paint towels.",
		Zones:     AllWheels,
		Technique: Agitate,
		Cloth:     "4 wheel towels",
		Colour:    forWheels,
		Time: Time{
			PerWheel: 2,
			Soiled:   true,
		},
		Skill:    SkillWheels,
		Cautions: []string{cautionHot, cautionGloves},
		LookFor:  "White cloth behind a spoke stays white.",
	}
}

func sprayWax() Step {
	return protect(
		"wax",
		"Spray wax on the wet panel",
		"One spray a panel before drying.",
		SprayWax,
		"Lubricates the drying towel.",
	).taking(Time{Body: 2}).
		with(func(s *Step) { s.Cloth, s.Colour, s.LookFor, s.WetPaint = "", "", "Even mist.", true })
}

func dryPanels() Step {
	return towels().called("dry").
		taking(Time{Body: 7}).
		worded("Dry panel by panel", "Lay and draw; never overlap unwashed paint.").
		with(func(s *Step) { s.Reason, s.When = "The towel would carry grit back.", Rule{} })
}

func lookInside() Step {
	return lookAgain().worded("Look again", "Other light, eye along the panel. Then towels to the laundry by colour.").
		taking(Time{Fixed: 3}).
		with(func(s *Step) {
			s.Cloth, s.Colour, s.Reason, s.LookFor = "", "", "Streaks show from the side.", "No streaks, no drips."
		})
}

// RinselessTowels is family F12, rinseless with many towels.
func RinselessTowels() Procedure {
	return Procedure{
		ID: "rinseless-towels", Family: "F12", Version: 1,
		Title: "Rinseless, many towels",
		Fits:  "Where nothing may run off: grade 0 to 2, shade, no caked soil.",
		Entry: rinselessEntry(), Suits: Be(c.RunoffAllowed, "no"), Pins: noRinse, Rounds: []Round{bySections()},
		Stages: []Stage{
			setUp(mixBucket(usOunces(256)), deionised(),
				Step{
					ID:        "fold",
					Title:     "Soak and fold the towels",
					Text:      "Each in four: eight faces. Wrung till damp.",
					Reason:    "A fresh face for each section takes the place of the rinse bucket.",
					Zones:     NoZones,
					Technique: Prepare,
					Cloth:     "plush towels, see the count",
					Colour:    forPaint,
					Time:      Time{Fixed: 2},
					Skill:     SkillMitt,
				}),
			preSpray(wetDown().inRound("sections")),
			towelWash(
				Step{
					ID:    "towels",
					Title: "One face a section",
					Text: "Straight, along the airflow, no pressure. Turn to a fresh face for each section; " +
						"a used towel never goes back into the bucket. Upper, middle, lower, front last.",
					Reason:    "What the face picked up must not travel on.",
					Zones:     Outside,
					Technique: ContactTowel,
					Ends:      []string{"wet"},
					Cloth:     "plush towels in four",
					Colour:    forPaint,
					Skill:     SkillMitt,
					LookFor:   "The last face of each towel is pale.",
					Round:     "sections",
				},
				sprayWax().inRound("sections"),
			),
			dry(dryPanels().inRound("sections")),
			wheelStage(wheelsLast()),
			tyreStage(coats(tyres())...),
			shutStage(shuts().worded("Shuts last", "Doors, boot, filler, with the shut towel.")),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		},
	}
}

// RinselessSponge is family F13, rinseless with a split-face sponge, indoors in winter.
func RinselessSponge() Procedure {
	return Procedure{
		ID:      "rinseless-sponge",
		Family:  "F13",
		Version: 1,
		Title:   "Rinseless, split-face sponge",
		Fits:    "Indoors in winter, grade 0 to 2.",
		Entry:   rinselessEntry(),
		Suits:   All(Be(c.CoverHere, climate.Indoors), Be(c.RunoffAllowed, "no"), Max(c.AirTemp, 5)),
		Pins: Pins{
			c.WheelsWhen:  c.Last,
			c.FoamAtAll:   c.No,
			c.RinsedFirst: c.No,
			c.SpongeUse:   c.SplitFaceOnly,
			c.MittRinse:   c.Rub,
		},
		Rounds: []Round{bySections()},
		Stages: []Stage{
			setUp(
				mixBucket(
					usOunces(512),
				).worded("Mix the bucket, warm", "Four US gallons of warm water, then four caps of "+
					"concentrate; guard in.").
					with(func(s *Step) { s.Water, s.Tool = WarmWater, "1 bucket, 1 guard" }),
				deionised(),
			),
			preSpray(wetDown().worded("Pre-spray the whole car", "Every panel, lower parts twice; re-wet what dries.").inRound("sections")),
			contactWash(
				mitt().called("sponge").
					ending("wet").
					worded("Sponge, barely dripping", "Roof with one side, glass and bonnet with the other. Open "+
						"its slits under water over the guard. Upper, middle, lower, front last.").
					with(func(s *Step) {
						s.Medium, s.Cloth, s.Tool = contact.SplitSponge, "1 split-face sponge", "bucket with guard"
					}).inRound("sections"),
			),
			dry(dryPanels().worded("Drag or dab dry", "Panel by panel; never overlap unwashed paint.").inRound("sections")),
			protects(
				protect(
					"seal",
					"Sealant, if wanted",
					"A few sprays on the towel, panel by panel.",
					SpraySeal,
					"Signature: the next wash gets shorter.",
				).when(signed),
			),
			wheelStage(wheelsLast()),
			shutStage(shuts()),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		},
	}
}

// RinselessMitt is family F14, rinseless with two buckets and a mitt, where there is no hose at all.
func RinselessMitt() Procedure {
	return Procedure{ID: "rinseless-mitt", Family: "F14", Version: 1, Title: "Rinseless, two buckets and mitt",
		Fits:  "No hose at all: carried water, two buckets with guards.",
		Entry: rinselessEntry(), Suits: All(Be(c.SupplyHere, c.Carried), Min(c.GradeOverall, 2)), Pins: noRinse, Rounds: []Round{bySections()},
		Stages: []Stage{
			setUp(
				mixBucket(
					usOunces(384),
				).worded("Two buckets with guards", "Three US gallons each; two to three ounces of concentrate in one.").
					with(func(s *Step) {
						s.Tool = "2 buckets, 2 guards"
						s.Dose = toWater(
							Rinseless,
							5,
							768,
							measure.PartsPlusParts,
							"wash bucket",
							usOunces(384),
						) // 2.5 fl oz to 3 US gal
					}),
				deionised(),
			),
			preSpray(
				wetDown().worded("Spray deionised water", "Every panel; two passes where it is dirty.").
					with(func(s *Step) { s.Water, s.Dose = Deionised, nil }).inRound("sections"),
			),
			contactWash(
				mitt().ending("wet").
					worded("Mitt, two passes where dirty", "Wring outside the bucket, rub twice on the guard, "+
						"look at the mitt. Upper, middle, lower, front last.").inRound("sections"),
			),
			dry(dryPanels().worded("Pat or drag dry", "Panel by panel; never overlap unwashed paint.").inRound("sections")),
			protects(sprayWax().with(func(s *Step) {
				s.WetPaint, s.Title, s.Cloth, s.Colour = false, "Spray wax", "2 short-pile towels", forProtects
			})),
			glassStage(glass()),
			wheelStage(wheelsLast()),
			shutStage(shuts()),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		}}
}

// RinselessTwoTowels is family F15, a quick upkeep with two towels that take turns.
func RinselessTwoTowels() Procedure {
	return Procedure{
		ID:      "rinseless-two-towels",
		Family:  "F15",
		Version: 1,
		Title:   "Rinseless, two alternating towels",
		Fits:    "Quick upkeep of light dirt.",
		Entry: append(
			rinselessEntry(),
			Entry{Max(c.GradeOverall, 1), "Two towels that take turns are for light dirt."},
		),
		Suits:   All(Be(c.RunoffAllowed, "no"), Max(c.MinutesThere, 45)),
		Pins:    noRinse,
		Rounds:  []Round{bySections()},
		Waivers: []Waiver{{"shuts-never-visited", "", "A quick upkeep between washes that do them."}},
		Stages: []Stage{
			setUp(mixBucket(usOunces(256)), deionised()),
			firstRinse(
				jet(
					"rinse",
					"Rinse first, where one may",
					"Top down.",
				).when(All(Be(c.WasherHere, "yes"), Be(c.RunoffAllowed, "yes"))),
			),
			preSpray(wetDown().taking(Time{Body: 2}).inRound("sections")),
			contactWash(
				mitt().ending("wet").
					worded("Towels in turn", "Towels wrung to the verge of dripping; while one works the other "+
						"sheds its dirt in the bucket. Upper, middle, lower, front last.").
					with(func(s *Step) {
						s.Medium, s.Cloth, s.Tool = contact.WetTowel, "2 plush towels", "bucket with guard"
					}).inRound("sections"),
			),
			dry(
				dryPanels().taking(Time{Body: 5}).
					worded("Dry with a little drying aid", "A few sprays of drying aid; lay and draw.").inRound("sections"),
			),
			glassStage(
				glass().taking(Time{Fixed: 2}).
					worded("Glass again", "With a low-pile towel.").
					with(func(s *Step) { s.Class = "" }),
			),
			wheelStage(wheelsLast()),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		},
	}
}

// Waterless is family F16: dust, fingerprints, after a show drive.
func Waterless() Procedure {
	return Procedure{
		ID:      "waterless",
		Family:  "F16",
		Version: 1,
		Title:   "Waterless touch-up",
		Fits:    "Dust and fingerprints only.",
		Entry: []Entry{
			washable,
			{
				Max(c.GradeOverall, 0),
				"It is for a day's dust: anything that a finger writes in would be rubbed over the paint.",
			},
			{
				Max(c.GradeLower, 1),
				"The sills are past dust.",
			},
			{BeNot(c.CoverHere, climate.OpenSky), "It needs shade."},
			{Be(c.HasSalt, "no"), "Salt scratches until running water takes it off."},
		},
		Suits: Max(c.GradeOverall, 0),
		Pins:  noRinse,
		Stages: []Stage{
			setUp(
				Step{
					ID:        "cloths",
					Title:     "Cloths folded",
					Text:      "Six plush cloths in four.",
					Reason:    "Fold often: a fresh face for each panel.",
					Zones:     NoZones,
					Technique: Prepare,
					Cloth:     "6 plush towels",
					Colour:    forPaint,
					Time:      Time{Fixed: 1},
					Skill:     SkillMitt,
				},
			),
			towelWash(
				Step{
					ID:        "mist",
					Title:     "Mist and wipe",
					Text:      "A panel at a time: mist well, wipe once, straight, no pressure; turn to a fresh face.",
					Reason:    "The mist lifts dust so that it glides.",
					Zones:     Outside,
					Technique: ContactTowel,
					Act:       contact.WetDown,
					Class:     WaterlessMist,
					Cloth:     "plush towels in four",
					Colour:    forPaint,
					Skill:     SkillMitt,
					LookFor:   "Faces stay pale.",
				},
				Step{
					ID:        "buff",
					Title:     "Buff dry",
					Text:      "With a dry face, straight.",
					Reason:    "Mist left to dry streaks.",
					Zones:     Outside,
					Technique: Dry,
					Cloth:     "2 plush towels",
					Colour:    forPaint,
					Time:      Time{Body: 4},
					Skill:     SkillDry,
					LookFor:   "No streaks from the side.",
				},
			),
			glassStage(glass().taking(Time{Fixed: 2})),
			shutStage(shuts().taking(Time{Body: 1.5})),
			lastLook(lookInside().taking(Time{Fixed: 1})),
			putAwayStage(putAway().taking(Time{Fixed: 1})),
		},
	}
}

// WheelsOnly is family F17: wheels and tyres, nothing else.
func WheelsOnly() Procedure {
	gel := func(s *Step) {
		s.Dwell = works(3*minute, 8*minute, "Brown runs meet product below.")
		s.Dose = dose(WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000))
	}
	return Procedure{ID: "wheels-only", Family: "F17", Version: 1, Title: "Wheels and tyres only",
		Fits:    "Any car; nothing else is washed.",
		Entry:   []Entry{washable, running, drained},
		Pins:    Pins{c.CleanerFrom: c.FromBottom},
		Rounds:  []Round{byShortLabel()},
		Waivers: []Waiver{{"shuts-never-visited", "", "Wheels only."}},
		Stages: []Stage{
			setUp(
				layOut().worded("Lay out", "Wheel bucket, brushes, wheel towels; lance at reduced pressure.").
					with(func(s *Step) { s.Tool = "1 bucket" }).
					taking(Time{Fixed: 2}),
			),
			wheelStage(
				hosed(
					"knock",
					"Knock off the lumps",
					"Lumps only.",
				).on(AllWheels).
					taking(Time{PerWheel: 0.4}).
					when(Be(c.WheelsRinsed, c.Yes)).inRound("short-label"),
				soak().with(gel).inRound("short-label"),
				Step{
					ID:        "agitate",
					Round:     "short-label",
					Title:     "Brush only what is baked",
					Text:      "Barrel, behind the spokes, nuts; soft mitt on the face.",
					Reason:    "What runs off by itself is not rubbed.",
					Zones:     AllWheels,
					Technique: Agitate,
					Tool:      "barrel brush, tyre brush, wheel bucket",
					Cloth:     "1 wheel mitt",
					Colour:    forWheels,
					Time:      Time{PerWheel: 0.8, Soiled: true},
					Skill:     SkillWheels,
					Cautions:  []string{cautionGloves},
					LookFor:   "White cloth behind a spoke stays white.",
				},
				hosed(
					"rinse",
					"Rinse at an angle",
					"Reduced pressure, at an angle, in the order the cleaner went on.",
				).on(AllWheels).
					taking(Time{PerWheel: 0.5}).
					ending("soak").inRound("short-label"),
				Step{
					ID:        "dry",
					Title:     "Tyres bone dry",
					Text:      "Blower or wheel towel, tyres last of all.",
					Reason:    "Dressing on wet rubber slings.",
					Zones:     AllWheels,
					Technique: Dry,
					Cloth:     "2 wheel towels",
					Colour:    forWheels,
					Time:      Time{PerWheel: 0.8},
					Skill:     SkillWheels,
					LookFor:   "Rubber dry to the finger.",
				},
			),
			tyreStage(coats(tyres().worded("A thin ribbon each", "Wipe back for satin."))...),
			lastLook(
				lookAgain().on(AllWheels).
					worded("Look", "Sling dots on the paint behind?").
					taking(Time{Fixed: 1}).
					with(func(s *Step) { s.Says, s.Cloth, s.Colour = nil, "", "" }),
			),
			putAwayStage(putAway()),
		}}
}

// ManyMittWash is family F18: a clean mitt for each section, used ones straight to the laundry bag.
func ManyMittWash() Procedure {
	return Procedure{ID: "many-mitts", Family: "F18", Version: 1, Title: "Many-mitt wash",
		Fits:   "A crew and a laundry; heavy soil.",
		Entry:  []Entry{washable, jetHere, drained},
		Suits:  All(Min(c.Crew, 2), Min(c.GradeOverall, 3)),
		Pins:   Pins{c.MittsOrBuckets: c.ManyMitts, c.WheelsWhen: c.First, c.FoamAtAll: c.Yes, c.RinsedFirst: c.Yes},
		Rounds: []Round{byWheels()},
		Stages: []Stage{
			setUp(
				cool(),
				layOut().worded("Lay out", "A tub of clean mitts in suds, laundry bag open, wheel bucket apart.").
					with(func(s *Step) { s.Tool = "1 tub, 1 wheel bucket, laundry bag" }),
			),
			firstRinse(jet("rinse", "Rinse with arches and wheels", "Top down, every gap."), underSpray()),
			wheelStage(wheelsOne().inRound("wheel-by-wheel")),
			preWash(
				soakBugs(),
				citrus(),
				citrusHeavy(),
				foamOn("bugs", "citrus", "citrus-heavy"),
				fillBuckets().worded("Fill the tub", "Water first, then product; mitts in.").
					with(func(s *Step) { s.During, s.Tool = "foam", "1 tub" }),
				foamOff("bugs", "citrus", "citrus-heavy", "foam"),
			),
			contactWash(
				Step{
					ID:    "mitts",
					Title: "A clean mitt a section",
					Text: "Both faces, then into the laundry bag: no rinse bucket. Upper, middle, lower, " +
						"front last.",
					Says:      mitt().Says[:3],
					Reason:    "What a mitt picked up never comes back.",
					Zones:     Outside,
					Technique: ContactTowel,
					Medium:    contact.Mitt,
					Tool:      "tub of suds",
					Cloth:     "long-pile mitts, see the count",
					Colour:    forPaint,
					Skill:     SkillMitt,
					Cautions:  []string{cautionSlip},
					LookFor:   "No mitt goes back into the tub.",
				},
			),
			finalRinse(finalJet(), dryingAid(), dryingAidOff()),
			dry(blow(), towels()),
			shutStage(shuts()),
			tyreStage(dressed(tyres())...),
			insideStage(inside()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		}}
}
