// Package starters has the procedures that a shop begins with, one for each family of washes, and a blank one.
package starters

import (
	"uskel/core/climate"
	c "uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
)

// The starter procedures are the method families of docs/trade.md, section 5, in its order, with its quantities and
// times. Common practice, no source. A shop starts from them and publishes its own versions.

// Starters lists them, F1 to F18.
func Starters() []procedure.Procedure {
	return []procedure.Procedure{
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
func HoseTwoBucket() procedure.Procedure {
	return procedure.Procedure{
		ID:      "hose-two-bucket",
		Family:  "F1",
		Version: 1,
		Title:   "Hose, two buckets",
		Fits:    "No pressure washer: a hose, a drain and two buckets. Grade 1 to 3.",
		Entry: []procedure.Entry{
			washable,
			running,
			drained,
			{Rule: procedure.Max(c.GradeOverall, 3), Refusal: "A hose does not knock caked soil off: blast it at a pressure bay first."},
		},
		Suits:  procedure.Be(c.SupplyHere, c.Hose),
		Rounds: []procedure.Round{byWheels(), bySides()},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().Taking(procedure.Time{PerWheel: 3.2, Soiled: true}).InRound("wheel-by-wheel").With(func(s *procedure.Step) {
				s.Machine, s.Cautions = procedure.HoseMachine, []string{
					cautionGloves,
					cautionHot,
				}
				s.Dose = dose(procedure.WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000))
			})),
			firstRinse(
				soakBugs(),
				citrus().OnlyIf(procedure.Min(c.GradeLower, 3)),
				fillBuckets(),
				hoseJet(
					"rinse",
					"Rinse hard, panel by panel",
					"Top down, close and slow, every gap.",
				).Ending("bugs", "citrus").
					Taking(procedure.Time{Body: 4}).InRound("sides"),
			),
			contactWash(
				mitt().Worded("Two-bucket wash, both faces", "Both faces of the mitt before each rinse: the upper half with "+
					"one, the lower half with the other. Wring outside the bucket, reload.").InRound("sides"),
			),
			finalRinse(finalHose().InRound("sides")),
			dry(waffle(towels()).Taking(procedure.Time{Body: 5}).InRound("sides"), blow()),
			protects(
				protect(
					"seal",
					"Spray sealant, panel by panel",
					"A few sprays on the towel; spread with one side, buff with the other.",
					procedure.SpraySeal,
					"Lasts one to three months on a protected car.",
				),
			),
			shutStage(shuts()),
			tyreStage(dressed(tyres().Worded("Tyre dressing, water-based", "On bone-dry rubber, thin. Lasts 8 to 14 days."))...),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// Express is family F2: under thirty minutes with set-up and put-away.
func Express() procedure.Procedure {
	return procedure.Procedure{
		ID:      "express",
		Family:  "F2",
		Version: 1,
		Title:   "Thirty-minute express",
		Fits:    "A hose on a wall reel, grade 1 to 2, half an hour all told.",
		Entry: []procedure.Entry{
			washable,
			running,
			drained,
			{Rule: procedure.Max(c.GradeOverall, 2), Refusal: "From grade 3 a pre-wash takes longer than this wash has."},
			{Rule: procedure.Max(c.GradeLower, 3), Refusal: "Caked sills do not come off in half an hour."},
		},
		Suits:   procedure.Max(c.MinutesThere, 35),
		Pins:    procedure.Pins{c.DryWith: c.TowelOnly},
		Waivers: []procedure.Waiver{{Rule: "shuts-never-visited", Step: "", Reason: "Half an hour has no room for them."}},
		Stages: []procedure.Stage{
			setUp(
				layOut().Taking(procedure.Time{Fixed: 1}).
					Worded("Reel out", "Hose from the wall reel, caddy and buckets to the car."),
			),
			wheelStage(
				soak().With(func(s *procedure.Step) { s.Dwell = works(3*minute, 5*minute, "Brown runs from spokes and tyre.") }),
				fillBuckets().With(func(s *procedure.Step) { s.During = "soak" }),
				hosed(
					"wheels-off",
					"Rinse the wheels",
					"In the order the cleaner went on.",
				).OnZones(procedure.AllWheels).
					Taking(procedure.Time{PerWheel: 0.4}).
					Ending("soak"),
			),
			preWash(
				citrus().With(func(s *procedure.Step) {
					s.ID, s.Title, s.When, s.Time = "spray", "Pre-rinse spray on lower body and front", procedure.Rule{}, procedure.Time{
						Body: 0.7,
					}
					s.Zones, s.Reason, s.Dwell = procedure.LowerAndFront, "It works while the hose is readied.", works(
						5*minute,
						8*minute,
						"Dirt lets go and runs.",
					)
				}),
				procedure.Step{
					ID:        "ready",
					Title:     "Ready the hose",
					Text:      "Shower head on, towels laid out.",
					Reason:    "The spray works meanwhile.",
					Zones:     procedure.NoZones,
					Technique: procedure.Prepare,
					During:    "spray",
					Time:      procedure.Time{Fixed: 0.6},
					LookFor:   "Nothing left to fetch.",
				},
				hoseJet("rinse", "Rinse", "Top down.").Taking(procedure.Time{Body: 2.2}).Ending("spray"),
			),
			contactWash(
				mitt(),
				procedure.Step{
					ID:        "suds",
					Title:     "Brush the wheels with what suds are left",
					Text:      "Face and tyre once round, with the wheel brush.",
					Reason:    "Suds that would be poured away.",
					Zones:     procedure.AllWheels,
					Technique: procedure.Agitate,
					Tool:      "wheel brush",
					Colour:    forWheels,
					Time:      procedure.Time{PerWheel: 0.3},
					Skill:     procedure.SkillWheels,
					LookFor:   "Even grey gone.",
				},
			),
			finalRinse(finalHose().Taking(procedure.Time{Body: 1.6})),
			dry(towels().Taking(procedure.Time{Body: 3})),
			protects(
				protect(
					"seal",
					"Spray protection",
					"One spray a panel, spread and buff.",
					procedure.SprayWax,
					"The next wash is shorter.",
				).Taking(procedure.Time{Body: 1.8}),
			),
			tyreStage(
				tyres().Taking(procedure.Time{PerWheel: 0.3}),
				tips(),
			),
			lastLook(lookAgain().Taking(procedure.Time{Fixed: 0.5})),
			putAwayStage(putAway().Taking(procedure.Time{Fixed: 1.2})),
		},
	}
}

// Enthusiast is family F3.
func Enthusiast() procedure.Procedure {
	return procedure.Procedure{
		ID:      "enthusiast",
		Family:  "F3",
		Version: 1,
		Title:   "Full wash with inside",
		Fits:    "Pressure, foam and blower on kept-up paint; inside wiped and vacuumed.",
		Entry: []procedure.Entry{
			washable,
			jetHere,
			drained,
			{Rule: procedure.Max(c.GradeOverall, 3), Refusal: "Caked soil wants the shop maintenance wash: rinse, foam, rinse again."},
		},
		Pins:   procedure.Pins{c.WheelsWhen: c.First, c.RinsedFirst: c.Yes, c.FoamBody: c.Thick},
		Rounds: []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().InRound("wheel-by-wheel")),
			firstRinse(jet("rinse", "Rinse from the top", "Top down, every gap.")),
			preWash(
				soakBugs(),
				foamOn("bugs").With(func(s *procedure.Step) {
					s.Dwell = works(10*minute, 15*minute, "It has dripped off by itself.")
				}),
				fillBuckets().With(func(s *procedure.Step) { s.During = "foam" }),
				brushBadges().OnlyIf(procedure.Be(c.BrushWhen, c.InPrewash))),
			contactWash(
				mitt().Ending("foam", "bugs"),
				brushBadges().Called("badges-late").OnlyIf(procedure.Be(c.BrushWhen, c.InContact)),
			),
			finalRinse(
				finalJet("foam").Worded("Rinse every crevice", "Top down; mirrors, badges, grille, shuts' edges."),
			),
			dry(
				blow().Worded("Blow dry", "The blower takes 95 %: top down, gaps, mirrors, grille."),
				towels().Taking(procedure.Time{Body: 2}).
					Worded("Damp finish", "Drying aid and one large towel, drawn."),
				dryingAid().Called("aid-mist").With(func(s *procedure.Step) {
					s.Dwell, s.When, s.Time = nil, procedure.All(procedure.Be(c.DryingAidUse, c.Yes), notSatin), procedure.Time{Body: 0.6}
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
func CoatingService() procedure.Procedure {
	return procedure.Procedure{
		ID:      "coating-service",
		Family:  "F4",
		Version: 1,
		Title:   "Coated car, service wash",
		Fits:    "Every two to three months on a coating: wash, take iron and spots off, top up.",
		Entry: []procedure.Entry{
			washable,
			jetHere,
			drained,
			{Rule: coated, Refusal: "There is no coating on it to service."},
			{Rule: procedure.Max(c.GradeOverall, 3), Refusal: "Wash the caked soil off first."},
		},
		Suits: procedure.All(coated, procedure.Any(flat, procedure.Be(c.HasIron, "yes"), procedure.Be(c.HasSpots, "yes")),
			procedure.Min(c.ProtectionAge, 60)),
		Pins:   procedure.Pins{c.WheelsWhen: c.First, c.FoamAtAll: c.Yes},
		Rounds: []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().InRound("wheel-by-wheel")),
			preWash(
				foamOn().With(func(s *procedure.Step) {
					s.Text, s.Dwell = "On dry paint, all round.", works(3*minute, 5*minute, "It slides, then drips.")
				}),
				fillBuckets().Worded("Fill the buckets, cold", "Cold water first, coating shampoo after; rinse "+
					"bucket beside it.").
					With(func(s *procedure.Step) {
						s.During, s.Water = "foam", procedure.ColdWater
						s.Dose = toWater(
							procedure.CoatingShampoo,
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
				procedure.Step{
					ID:        "iron",
					Title:     "Iron remover",
					Text:      "On wet paint and wheels, until it runs purple. Never in the sun.",
					Reason:    "Iron specks take the coating's water behaviour.",
					Zones:     procedure.OutsideRims,
					Technique: procedure.Apply,
					Tool:      "trigger sprayer",
					Class:     procedure.IronRemover,
					Dwell:     works(3*minute, 5*minute, "Purple runs."),
					Time:      procedure.Time{Body: 2},
					Skill:     procedure.SkillFoam,
					Cautions:  []string{cautionFumes},
					LookFor:   "Purple, then clear.",
					When:      procedure.Any(flat, procedure.Be(c.HasIron, "yes")),
				},
				finalJet(
					"iron",
				).Called("iron-off").
					OnlyIf(procedure.Any(flat, procedure.Be(c.HasIron, "yes"))).
					Worded("Rinse the iron remover off", "Top down, wheels too, twice."),
				towels().Called("dry-spots").
					OnZones(procedure.PaintOnly).
					Worded("Dry for the spot remover", "Spot remover works on dry paint.").
					With(func(s *procedure.Step) { s.Says = nil }). // no drying aid under a remover
					Taking(procedure.Time{Body: 3}).
					OnlyIf(procedure.Be(c.HasSpots, "yes")),
				procedure.Step{
					ID:        "spots",
					Title:     "Spot remover, on and straight off",
					Text:      "A panel at a time: on with a damp cloth, straight off with another.",
					Reason:    "Acid: seconds, never minutes.",
					Zones:     procedure.PaintOnly,
					Technique: procedure.Finish,
					Class:     procedure.SpotRemover,
					Cloth:     "2 short-pile towels",
					Colour:    forPaint,
					Time:      procedure.Time{Body: 5},
					Skill:     procedure.SkillDry,
					Cautions:  []string{cautionGloves},
					LookFor:   "Spots gone from the side.",
					When:      procedure.Be(c.HasSpots, "yes"),
				},
				freshBuckets(),
				mitt().Called("wash-again").
					Worded("Wash again", "Once more with coating shampoo: acid must not stay.").
					Taking(procedure.Time{Body: 6}).
					OnlyIf(procedure.Be(c.HasSpots, "yes")).
					With(func(s *procedure.Step) { s.Again = true }),
				finalJet().Called("rinse-again").OnlyIf(procedure.Be(c.HasSpots, "yes")),
			),
			protects(
				protect(
					"topup",
					"Top-up spray as drying aid",
					"On the wet car, a spray a panel, drawn off with the drying towel.",
					procedure.CoatingTopUp,
					"It dries and protects in one.",
				).Taking(procedure.Time{Body: 5}).
					With(func(s *procedure.Step) {
						s.Technique, s.Cloth, s.Colour, s.When = procedure.Dry, "2 drying towels", forDrying, notSatin
					}),
			),
			dry(
				towels().Taking(procedure.Time{Body: 1.5}).
					Worded("Finish with the second towel", "Glass, sills, behind the mirrors."),
			),
			glassStage(glass()),
			shutStage(shuts()),
			tyreStage(
				dressed(tyres().Worded("Tyre gel", "On bone-dry rubber, a thin ribbon each; it settles in five minutes."))...,
			),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// freshBuckets are mixed for the second wash: acid must not come back with the mitt.
func freshBuckets() procedure.Step {
	return fillBuckets().Called("fill-again").Worded("Fresh buckets", "Empty and fill both again, cold, with coating shampoo.").
		OnlyIf(procedure.Be(c.HasSpots, "yes")).With(func(s *procedure.Step) {
		s.Water = procedure.ColdWater
		s.Dose = toWater(procedure.CoatingShampoo, 1, 500, measure.PartsPlusParts, "wash bucket", measure.Ml(12_000))
	})
}

// CareWash is family F5: weekly to fortnightly on a coating or film.
func CareWash() procedure.Procedure {
	protected := procedure.Any(coated, procedure.Be(c.Protected, c.FilmWrap))
	keptWheels := procedure.Time{PerWheel: 1.3, Soiled: true} // kept up weekly: little sticks
	return procedure.Procedure{
		ID:      "care-wash",
		Family:  "F5",
		Version: 1,
		Title:   "Coated or filmed car, care wash",
		Fits:    "Weekly to fortnightly on a coating or film.",
		Entry: []procedure.Entry{
			washable,
			jetHere,
			drained,
			{Rule: protected, Refusal: "It is for a coating or a film, and there is none on it."},
			{Rule: procedure.Max(c.GradeOverall, 3), Refusal: "Caked soil wants the shop maintenance wash."},
		},
		Suits: procedure.All(protected, procedure.Max(c.GradeOverall, 2), procedure.BeNot(c.WaterOnPaint, c.Flat),
			procedure.Be(c.HasIron, "no")),
		Pins:   procedure.Pins{c.FoamAtAll: c.Yes},
		Rounds: []procedure.Round{byWheels(), byWheels().Called("wheels-under-foam")},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().InRound("wheel-by-wheel").Taking(keptWheels).OnlyIf(procedure.Be(c.WheelsWhen, c.First))),
			preWash(
				soakBugs(),
				foamOn("bugs").With(func(s *procedure.Step) { s.Dwell = works(5*minute, 15*minute, "It slides, then drips.") }),
				wheelsOne().Called("wheels-during").InRound("wheels-under-foam").Taking(keptWheels).
					OnlyIf(procedure.Be(c.WheelsWhen, c.DuringFoam)).
					With(func(s *procedure.Step) { s.Title, s.During = "Wheels while foam works", "foam" }),
				foamOff(
					"foam",
					"bugs",
				).Worded("Rinse to the panel's edge", "So that the jet carries dirt to the panel's edge and off "+
					"the car; shallow at film edges."),
				greasyShuts(),
				fillBuckets().Worded("Fill the buckets", "Cold water for a coating shampoo.").
					With(func(s *procedure.Step) { s.Water = procedure.ColdWater }),
			),
			contactWash(mitt().With(func(s *procedure.Step) { s.LowerMitt, s.Cloth = true, "2 long-pile mitts, one for the lower band" })),
			finalRinse(finalJet().Worded("Rinse each section", "Outdoors section by section, top down.")),
			dry(
				blow().Taking(procedure.Time{Body: 1.5}),
				towels().Worded("Drag-dry", "Lay the towel flat, draw it towards you.").Asking(askDrags),
				moreIfItDrags(),
			),
			protects(
				protect(
					"topup",
					"Top-up spray",
					"A spray a panel, spread and buff.",
					procedure.CoatingTopUp,
					"Every six to eight weeks for the maker's warranty, or every three months.",
				).OnlyIf(procedure.Any(signed, procedure.Min(c.ProtectionAge, 42))),
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
func Maintenance() procedure.Procedure {
	return procedure.Procedure{
		ID:      "maintenance",
		Family:  "F6",
		Version: 1,
		Title:   "Shop maintenance wash",
		Fits: "The training standard. Any grade, with a pressure washer and a drain. Basic, or signature with " +
			"a spray sealant.",
		Entry:    []procedure.Entry{washable, jetHere, drained},
		Standard: true,
		Pins:     procedure.Pins{c.WheelsWhen: c.First, c.MittsOrBuckets: c.TwoBuckets, c.FoamAtAll: c.Yes},
		Rounds:   []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
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
			wheelStage(wheelsOne().Asking(askBrown).InRound("wheel-by-wheel"), brushedAgain().InRound("wheel-by-wheel")),
			preWash(
				soakBugs(),
				citrus(),
				citrusHeavy(),
				foamOn("bugs", "citrus", "citrus-heavy"),
				fillBuckets().With(func(s *procedure.Step) { s.During = "foam" }),
				brushBadges().Called("badges-early").
					OnlyIf(procedure.Be(c.BrushWhen, c.InPrewash)).
					With(func(s *procedure.Step) { s.During = "foam" }),
				foamOff(
					"bugs",
					"citrus",
					"citrus-heavy",
					"foam",
				).OnlyIf(procedure.Any(procedure.Be(c.OverFoam, c.RinseItOff), hasBugs, procedure.Min(c.GradeLower, 2))),
			),
			contactWash(mitt().Ending("foam"), brushBadges().OnlyIf(procedure.Be(c.BrushWhen, c.InContact))),
			finalRinse(append([]procedure.Step{finalJet("foam").Asking(askFlat), dryingAid(), dryingAidOff()}, agentIfFlat()...)...),
			dry(blow(), towels().Asking(askDrags), moreIfItDrags()),
			protects(
				protect(
					"seal",
					"Spray sealant",
					"A few sprays on the towel, panel by panel; spread with one side, buff with the other.",
					procedure.SpraySeal,
					"Signature: the next wash gets shorter.",
				).OnlyIf(signed),
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
func SevenStep() procedure.Procedure {
	return procedure.Procedure{
		ID:      "seven-step",
		Family:  "F7",
		Version: 1,
		Title:   "Shop seven-step",
		Fits:    "Pre-washed twice: citrus below, foam over all. Grade 2 to 4.",
		Entry:   []procedure.Entry{washable, jetHere, drained},
		Suits:   procedure.All(procedure.Min(c.GradeOverall, 3), procedure.Max(c.GradeOverall, 3)),
		Pins: procedure.Pins{
			c.RinsedFirst: c.Yes,
			c.WheelsWhen:  c.First,
			c.FoamFrom:    c.FromBottom,
			c.BrushWhen:   c.InPrewash,
			c.FoamAtAll:   c.Yes,
		},
		Rounds: []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			firstRinse(jet("rinse", "Rinse", "Top down, wheels and arches too."), underSpray()),
			wheelStage(wheelsOne().InRound("wheel-by-wheel").With(func(s *procedure.Step) {
				s.Dose = dose(procedure.WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000))
			})),
			preWash(
				citrus().With(func(s *procedure.Step) { s.When = procedure.Max(c.GradeLower, 3) }),
				citrusHeavy(),
				foamOff(
					"citrus",
					"citrus-heavy",
				).Called("citrus-off").
					OnZones(procedure.LowerHalf).
					Taking(procedure.Time{Body: 1.2}).
					Worded("Rinse the citrus off", "Lower half, top down."),
				soakBugs(),
				foamOn("bugs"),
				brushBadges().With(func(s *procedure.Step) { s.During = "foam" }),
				fillBuckets().Worded("Two buckets, half full", "Water first, then product.").
					With(func(s *procedure.Step) { s.During = "foam" }),
				foamOff("foam", "bugs"),
			),
			contactWash(mitt()),
			finalRinse(append([]procedure.Step{
				finalJet().Worded("Rinse mirrors and gaps", "Top down; mirrors, gaps, badges.").Asking(askFlat),
			}, agentIfFlat()...)...),
			dry(
				blow(),
				towels().Worded("Lay and pull", "Lay the towel flat, pull it towards you; no rubbing.").Asking(askDrags),
				moreIfItDrags(),
			),
			shutStage(shuts()),
			glassStage(glass()),
			tyreStage(dressed(tyres().Worded("Tyre gel", "On bone-dry rubber, thin."))...),
			insideStage(inside()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// WinterLowProduct is family F8.
func WinterLowProduct() procedure.Procedure {
	apc := func() *procedure.Dose {
		return dose(procedure.Degreaser, 10, 1, measure.WaterFirst, "500 ml wheel sprayer", measure.Ml(500))
	}
	pad := func(id, title, text string, zones procedure.ZoneGroup) procedure.Step {
		return mitt().Called(id).
			Worded(title, text).
			OnZones(zones).
			With(func(s *procedure.Step) {
				s.Medium, s.Cloth, s.Tool = contact.Pad, "1 flat pad", "wash bucket, rinse bucket with guard"
			})
	}
	return procedure.Procedure{
		ID:      "winter-low",
		Family:  "F8",
		Version: 1,
		Title:   "Winter maintenance, little product",
		Fits:    "Grade 2 to 3 in winter with the least product.",
		Entry: []procedure.Entry{
			washable,
			jetHere,
			drained,
			{Rule: procedure.Max(c.GradeOverall, 3), Refusal: "Caked soil wants a rinse and more product."},
			{Rule: procedure.Min(c.GradeOverall, 1), Refusal: "There is hardly any dirt: a lighter wash will do."},
		},
		Suits: procedure.All(procedure.Max(c.AirTemp, 5), procedure.Min(c.GradeOverall, 2), procedure.Be(c.HasSalt, "no")),
		Pins: procedure.Pins{
			c.WheelsWhen:  c.First,
			c.FoamFrom:    c.FromBottom,
			c.FoamOffFrom: c.FromBottom,
			c.TowelState:  c.DampTowel,
			c.FoamAtAll:   c.Yes,
		},
		Rounds: []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			wheelStage(wheelsOne().InRound("wheel-by-wheel").With(func(s *procedure.Step) {
				s.Text, s.Dose = "All-purpose cleaner on mitt and brush; start at the valve. Rinse this wheel "+
					"before the next.", apc()
			})),
			preWash(
				foamOn().With(func(s *procedure.Step) {
					s.Dose = dose(procedure.FoamProduct, 40, 460, measure.PartsPlusParts, "500 ml foam bottle", measure.Ml(500))
					s.Dwell = works(5*minute, 8*minute, "It slides, then drips.")
				}),
				fillBuckets().With(func(s *procedure.Step) { s.During = "foam" }),
				foamOff("foam").Worded("Rinse bottom up", "So that you see what has gone.")),
			contactWash(
				pad(
					"pad",
					"Pad left and right, flip, up and down",
					"Upper and middle: left-right with one face, flip, up-down with the other.",
					procedure.UpperAndMiddle,
				),
				pad(
					"pad-lower",
					"Second pad for the lower third",
					"Lower doors, sills and bumpers with the second pad.",
					procedure.LowerHalf,
				).With(func(s *procedure.Step) { s.Cloth = "second flat pad" }),
				brushBadges().Worded("Third pad for the trim", "Trim, plastic, badges with the third pad.").
					With(func(s *procedure.Step) { s.Tool, s.Cloth, s.Colour = "", "third flat pad", "slate: trim" }),
			),
			finalRinse(finalJet(), sheet().OnlyIf(procedure.Be(c.HoseHere, "yes"))),
			dry(towels().Worded("Towel damped on the glass first", "Then roof, bonnet, sides; lay and draw.")),
			shutStage(shuts()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// SaltRescue is family F9.
func SaltRescue() procedure.Procedure {
	rinsedOff := procedure.Be(c.OverFoam, c.RinseItOff)
	return procedure.Procedure{
		ID:      "salt-rescue",
		Family:  "F9",
		Version: 1,
		Title:   "Salt rescue",
		Fits:    "Grade 3 to 4 in winter: salt foamed wet again before anything touches.",
		Entry:   []procedure.Entry{washable, jetHere, drained},
		Suits:   procedure.All(hasSalt, procedure.Min(c.GradeOverall, 3)),
		Pins: procedure.Pins{
			c.RinsedFirst: c.No,
			c.FoamAtAll:   c.Yes,
			c.WheelsWhen:  c.DuringFoam,
			c.SoapDries:   c.MayDry,
			c.ShutsWhen:   c.WithTheWash,
		},
		Rounds: []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
			setUp(cool(), layOut()),
			preWash(
				foamOn().Called("salt-foam").
					Worded("Foam the dry car heavily", "Heavy mix, all over, bottom up, and leave it.").
					With(func(s *procedure.Step) {
						s.Dose, s.Says = dose(
							procedure.FoamProduct,
							1,
							3,
							measure.PartsPlusParts,
							"1 l foam bottle",
							measure.Ml(1000),
						), nil
						s.Dwell = works(5*minute, 60*minute, "It has wetted the crystals.") // it is wetted again; the label wins
					}),
				wheelsOne().InRound("wheel-by-wheel").Worded("Wheels with iron cleaner", "Iron cleaner, barrel, spokes, face, tyre; rinse, "+
					"then soap the finished wheel again so that water does not dry on it.").
					With(func(s *procedure.Step) {
						s.During, s.Class, s.Dose, s.Cautions = "salt-foam", procedure.IronRemover, nil, []string{
							cautionFumes,
							cautionHot,
						}
					}),
				fillBuckets().Worded("Two soap buckets and one rinse", "So that there is always a clean one.").
					With(func(s *procedure.Step) { s.Tool, s.Time, s.During = "3 buckets", procedure.Time{Fixed: 3}, "salt-foam" }),
				procedure.Step{
					ID:        "mist",
					Title:     "Mist the foam wet",
					Text:      "A fine mist over roof, bonnet and the sunny side.",
					Reason:    "Dried crystals cut: re-wet them before the rinse.",
					Zones:     procedure.Outside,
					Technique: procedure.Apply,
					Tool:      "pump sprayer",
					Rewets:    []string{"salt-foam"},
					Repeats:   true,
					Dwell: works(
						0,
						10*minute,
						"Foam runs again.",
					),
					Time:    procedure.Time{Fixed: 1},
					Skill:   procedure.SkillFoam,
					LookFor: "Nothing dry anywhere.",
				},
				foamOff("salt-foam", "mist").OnlyIf(rinsedOff),
				foamOn().Worded("Foam again, thin", "A second, thin coat that takes what the first has let go.").
					With(func(s *procedure.Step) { s.Dwell = works(minute, 10*minute, "It slides, then drips.") }).OnlyIf(rinsedOff),
				foamOff("foam").Called("foam-off-2").Taking(procedure.Time{Body: 2}).OnlyIf(rinsedOff),
			),
			contactWash(
				mitt().Ending("salt-foam", "mist").Worded("Sunny side first", "Sunny side first; rinse the mitt often. Upper, middle, lower; "+
					"front last."),
				brushBadges().Worded("Brush the gaps", "Gaps, badges, edges; leave the filler open as a reminder.").
					With(func(s *procedure.Step) { s.Opens = []string{"filler flap"} }),
				shuts().Worded("Shuts with the small mitt", "Doors, boot, filler with the small mitt, rinsed with "+
					"little water."),
			),
			finalRinse(underSpray(), finalJet("salt-foam", "mist")),
			dry(
				blow(),
				towels().Worded("Sunny side first, flats before uprights", "Second, smaller towel for detail; "+
					"wheels last with the wheel towel."),
			),
			tyreStage(dryWheels()),
			lastLook(lookAgain()),
			putAwayStage(putAway()),
		},
	}
}

// Touchless is family F10: fifteen to twenty minutes, 90 to 95 % clean.
func Touchless() procedure.Procedure {
	return procedure.Procedure{
		ID:      "touchless",
		Family:  "F10",
		Version: 1,
		Title:   "Touchless",
		Fits:    "Well protected, kept up, grade 0 to 2: nothing touches the paint. Leaves it 90 to 95 % clean.",
		Entry: []procedure.Entry{
			washable,
			jetHere,
			drained,
			{Rule: procedure.Max(c.GradeOverall, 2), Refusal: "Above grade 2 a film stays that only a touch takes off."},
			{
				Rule: procedure.All(procedure.BeNot(c.Protected, c.Bare), procedure.BeNot(c.Protected, c.Unknown),
					procedure.BeNot(c.WaterOnPaint, c.Flat)),
				Refusal: "It lives on good protection: here water does not run off by itself, or nobody knows what is on it.",
			},
			{Rule: procedure.Be(c.BlowerHere, "yes"), Refusal: "It is dried by air alone, and no blower may be used here."},
		},
		Suits:   procedure.Max(c.GradeOverall, 1),
		Pins:    procedure.Pins{c.RinsedFirst: c.Yes, c.FoamAtAll: c.Yes, c.DryWith: c.BlowerOnly, c.OverFoam: c.RinseItOff},
		Waivers: []procedure.Waiver{{Rule: "shuts-never-visited", Step: "", Reason: "Nothing is opened and nothing touched."}},
		Stages: []procedure.Stage{
			setUp(
				cool(),
				layOut().Worded("Lay out", "Foam bottle full, washer on, hose untangled, blower ready.").
					Taking(procedure.Time{Fixed: 2}).
					With(func(s *procedure.Step) { s.Tool = "" }),
			),
			preWash(
				jet("rinse", "Rinse top down", "Top down, slowly, arches and wheels: it takes 80 to 85 %."),
				foamOn(),
				foamOff("foam").With(func(s *procedure.Step) {
					s.Says = append(s.Says, procedure.Saying{When: hasBugs, Text: "What the jet does not take of the bugs stays: without a touch " +
						"some may be left. Tell the customer."})
				})),
			dry(blow().Taking(procedure.Time{Body: 3.5}).With(func(s *procedure.Step) { s.When = procedure.Rule{} })),
			lastLook(
				procedure.Step{
					ID:        "roll",
					Title:     "Roll and brake lightly",
					Text:      "Roll the car and brake lightly once, to wipe the discs.",
					Reason:    "Wet discs rust overnight.",
					Zones:     procedure.NoZones,
					Technique: procedure.Inspect,
					Time: procedure.Time{
						Fixed: 0.7,
					},
					Skill:    procedure.SkillLook,
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
func SpeedWash() procedure.Procedure {
	return procedure.Procedure{
		ID:      "speed",
		Family:  "F11",
		Version: 1,
		Title:   "Speed wash",
		Fits:    "Light soil, any size, under ten minutes.",
		Entry: []procedure.Entry{
			washable,
			jetHere,
			drained,
			{Rule: procedure.Max(c.GradeOverall, 1), Refusal: "It is for light soil: two towels do not carry more."},
			{Rule: procedure.Max(c.GradeLower, 2), Refusal: "Sills this dirty want a mitt of their own."},
		},
		Suits: procedure.Max(c.MinutesThere, 15),
		Pins:  procedure.Pins{c.WheelsWhen: c.First, c.RinsedFirst: c.Yes, c.DryWith: c.TowelOnly},
		Waivers: []procedure.Waiver{
			{Rule: "shuts-never-visited", Step: "", Reason: "No shuts: that is how it stays under ten minutes."},
			{Rule: "too-few-cloths", Step: "towel", Reason: "One big towel, wrung once: light soil, little water."},
		},
		Stages: []procedure.Stage{
			setUp(
				layOut().Taking(procedure.Time{Fixed: 2}).
					Worded("Lay out", "Foam bottle full, two wet towels, one big dry one.").
					With(func(s *procedure.Step) { s.Tool = "" }),
			),
			wheelStage(
				soak().With(func(s *procedure.Step) {
					s.Text, s.Dwell = "All four, no brushing.", works(30, 3*minute, "Brown runs from spokes and tyre.")
				}),
				jet(
					"wheels-off",
					"Rinse the wheels in the same order",
					"In the order the cleaner went on.",
				).OnZones(procedure.AllWheels).
					Taking(procedure.Time{PerWheel: 0.15}).
					Ending("soak"),
			),
			preWash(
				jet("rinse", "Rinse top down", "Once, at a walking pace.").OnZones(procedure.Outside).Taking(procedure.Time{Body: 0.8}),
				foamOn().Taking(procedure.Time{Body: 0.7}).
					With(func(s *procedure.Step) { s.Dwell = works(0, 5*minute, "It slides, then drips.") }),
			),
			contactWash(
				mitt().Ending("foam").
					Worded("Two wet towels, every inch once", "A wet towel in each hand instead of a mitt; "+
						"straight, once over everything, lower last with the second.").
					With(func(s *procedure.Step) {
						s.Technique, s.Medium, s.Cloths, s.BothHands = procedure.ContactTowel, contact.WetTowel, 2, true
						s.Cloth, s.Tool, s.Says = "2 wet plush towels", "1 bucket", nil
						s.Dose = toWater(procedure.Shampoo, 1, 500, measure.PartsPlusParts, "bucket", measure.Ml(10_000))
					}),
			),
			finalRinse(finalJet("foam").OnZones(procedure.Outside).Taking(procedure.Time{Body: 0.8})),
			dry(
				towels().Taking(procedure.Time{Body: 1.3}).
					Worded("One big towel", "Laid and drawn, roof to sills.").
					With(func(s *procedure.Step) { s.Cloth = "1 large drying towel" }),
			),
			glassStage(
				glass().Taking(procedure.Time{Fixed: 0.6}).
					Worded("Glass again, dry cloth", "Once over with a dry cloth.").
					With(func(s *procedure.Step) { s.Class = "" }),
			),
			lastLook(
				lookAgain().Taking(procedure.Time{Fixed: 0.3}).Worded("Look", "Once round.").With(func(s *procedure.Step) { s.Says = nil }),
			),
			putAwayStage(putAway()),
		},
	}
}

// rinselessEntry is what every wash without a rinse needs.
func rinselessEntry() []procedure.Entry {
	return []procedure.Entry{
		washable,
		{
			Rule: procedure.Max(c.GradeOverall, 2),
			Refusal: "Rinseless drags what is not rinsed off: above grade 2 the grit would be rubbed over the paint. Rinse " +
				"and foam first.",
		},
		{Rule: procedure.BeNot(c.CoverHere, climate.OpenSky), Refusal: "It needs shade: under open sky the mix dries on the panel."},
		{
			Rule:    procedure.Not(procedure.All(hasSalt, procedure.Min(c.GradeLower, 2))),
			Refusal: "Salt crystals low on the car scratch like sand until running water takes them off.",
		},
	}
}

// noRinse are how rinseless washes settle what is settled for them.
var noRinse = procedure.Pins{c.WheelsWhen: c.Last, c.FoamAtAll: c.No, c.RinsedFirst: c.No}

func rinselessMix(vessel string, water measure.Volume) *procedure.Dose {
	return toWater(procedure.Rinseless, 256, 1, measure.WaterFirst, vessel, water)
}

func mixBucket(water measure.Volume) procedure.Step {
	return procedure.Step{
		ID:        "mix",
		Title:     "Mix the bucket",
		Text:      "Water first, then the concentrate; stir by hand.",
		Reason:    "Weak mix does not lift, strong mix streaks.",
		Zones:     procedure.NoZones,
		Technique: procedure.Prepare,
		Tool:      "1 bucket",
		Dose:      rinselessMix("bucket", water),
		Time: procedure.Time{
			Fixed: 2,
		},
		Skill:    procedure.SkillBuckets,
		Cautions: []string{cautionLift},
		LookFor:  "Slick between the fingers.",
	}
}

func deionised() procedure.Step {
	return procedure.Step{
		ID:        "mix-hard",
		Title:     "Use deionised water",
		Text:      "Fill bucket and sprayer from the deionised tap.",
		Reason:    "Hard water dries to spots, and nothing rinses it off here.",
		Zones:     procedure.NoZones,
		Technique: procedure.Prepare,
		Water:     procedure.Deionised,
		Time:      procedure.Time{Fixed: 0.5},
		Skill:     procedure.SkillBuckets,
		When:      procedure.Min(c.WaterHardness, 121),
	}
}

func wetDown() procedure.Step {
	return procedure.Step{
		ID:        "wet",
		Title:     "Wet the car",
		Text:      "Pump sprayer over every panel, lower parts twice. Leave it to work.",
		Reason:    "The mix wraps loose grit so that it glides.",
		Zones:     procedure.Outside,
		Technique: procedure.Apply,
		Act:       contact.WetDown,
		Tool:      "pump sprayer",
		Dose:      rinselessMix("2 l pump sprayer", measure.Ml(2000)),
		Dwell:     works(minute, 10*minute, "Drops pull together on the panel."),
		Time: procedure.Time{
			Body: 3,
		},
		Skill:    procedure.SkillFoam,
		Cautions: []string{cautionSlip},
		LookFor:  "Wet all over; re-wet what dries.",
	}
}

func wheelsLast() procedure.Step {
	return procedure.Step{
		ID:        "wheels",
		Title:     "Wheels last",
		Text:      "Spray, wait, wipe face, spokes and tyre with one towel a wheel.",
		Reason:    "With no rinse, brake dust must stay away from the paint towels.",
		Zones:     procedure.AllWheels,
		Technique: procedure.Agitate,
		Cloth:     "4 wheel towels",
		Colour:    forWheels,
		Time: procedure.Time{
			PerWheel: 2,
			Soiled:   true,
		},
		Skill:    procedure.SkillWheels,
		Cautions: []string{cautionHot, cautionGloves},
		LookFor:  "White cloth behind a spoke stays white.",
	}
}

func sprayWax() procedure.Step {
	return protect(
		"wax",
		"Spray wax on the wet panel",
		"One spray a panel before drying.",
		procedure.SprayWax,
		"Lubricates the drying towel.",
	).Taking(procedure.Time{Body: 2}).
		With(func(s *procedure.Step) { s.Cloth, s.Colour, s.LookFor, s.WetPaint = "", "", "Even mist.", true })
}

func dryPanels() procedure.Step {
	return towels().Called("dry").
		Taking(procedure.Time{Body: 7}).
		Worded("Dry panel by panel", "Lay and draw; never overlap unwashed paint.").
		With(func(s *procedure.Step) { s.Reason, s.When = "The towel would carry grit back.", procedure.Rule{} })
}

func lookInside() procedure.Step {
	return lookAgain().Worded("Look again", "Other light, eye along the panel. Then towels to the laundry by colour.").
		Taking(procedure.Time{Fixed: 3}).
		With(func(s *procedure.Step) {
			s.Cloth, s.Colour, s.Reason, s.LookFor = "", "", "Streaks show from the side.", "No streaks, no drips."
		})
}

// RinselessTowels is family F12, rinseless with many towels.
func RinselessTowels() procedure.Procedure {
	return procedure.Procedure{
		ID: "rinseless-towels", Family: "F12", Version: 1,
		Title: "Rinseless, many towels",
		Fits:  "Where nothing may run off: grade 0 to 2, shade, no caked soil.",
		Entry: rinselessEntry(), Suits: procedure.Be(c.RunoffAllowed, "no"), Pins: noRinse, Rounds: []procedure.Round{bySections()},
		Stages: []procedure.Stage{
			setUp(mixBucket(usOunces(256)), deionised(),
				procedure.Step{
					ID:        "fold",
					Title:     "Soak and fold the towels",
					Text:      "Each in four: eight faces. Wrung till damp.",
					Reason:    "A fresh face for each section takes the place of the rinse bucket.",
					Zones:     procedure.NoZones,
					Technique: procedure.Prepare,
					Cloth:     "plush towels, see the count",
					Colour:    forPaint,
					Time:      procedure.Time{Fixed: 2},
					Skill:     procedure.SkillMitt,
				}),
			preSpray(wetDown().InRound("sections")),
			towelWash(
				procedure.Step{
					ID:    "towels",
					Title: "One face a section",
					Text: "Straight, along the airflow, no pressure. Turn to a fresh face for each section; " +
						"a used towel never goes back into the bucket. Upper, middle, lower, front last.",
					Reason:    "What the face picked up must not travel on.",
					Zones:     procedure.Outside,
					Technique: procedure.ContactTowel,
					Ends:      []string{"wet"},
					Cloth:     "plush towels in four",
					Colour:    forPaint,
					Skill:     procedure.SkillMitt,
					LookFor:   "The last face of each towel is pale.",
					Round:     "sections",
				},
				sprayWax().InRound("sections"),
			),
			dry(dryPanels().InRound("sections")),
			wheelStage(wheelsLast()),
			tyreStage(coats(tyres())...),
			shutStage(shuts().Worded("Shuts last", "Doors, boot, filler, with the shut towel.")),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		},
	}
}

// RinselessSponge is family F13, rinseless with a split-face sponge, indoors in winter.
func RinselessSponge() procedure.Procedure {
	return procedure.Procedure{
		ID:      "rinseless-sponge",
		Family:  "F13",
		Version: 1,
		Title:   "Rinseless, split-face sponge",
		Fits:    "Indoors in winter, grade 0 to 2.",
		Entry:   rinselessEntry(),
		Suits:   procedure.All(procedure.Be(c.CoverHere, climate.Indoors), procedure.Be(c.RunoffAllowed, "no"), procedure.Max(c.AirTemp, 5)),
		Pins: procedure.Pins{
			c.WheelsWhen:  c.Last,
			c.FoamAtAll:   c.No,
			c.RinsedFirst: c.No,
			c.SpongeUse:   c.SplitFaceOnly,
			c.MittRinse:   c.Rub,
		},
		Rounds: []procedure.Round{bySections()},
		Stages: []procedure.Stage{
			setUp(
				mixBucket(
					usOunces(512),
				).Worded("Mix the bucket, warm", "Four US gallons of warm water, then four caps of "+
					"concentrate; guard in.").
					With(func(s *procedure.Step) { s.Water, s.Tool = procedure.WarmWater, "1 bucket, 1 guard" }),
				deionised(),
			),
			preSpray(wetDown().Worded("Pre-spray the whole car", "Every panel, lower parts twice; re-wet what dries.").InRound("sections")),
			contactWash(
				mitt().Called("sponge").
					Ending("wet").
					Worded("Sponge, barely dripping", "Roof with one side, glass and bonnet with the other. Open "+
						"its slits under water over the guard. Upper, middle, lower, front last.").
					With(func(s *procedure.Step) {
						s.Medium, s.Cloth, s.Tool = contact.SplitSponge, "1 split-face sponge", "bucket with guard"
					}).InRound("sections"),
			),
			dry(dryPanels().Worded("Drag or dab dry", "Panel by panel; never overlap unwashed paint.").InRound("sections")),
			protects(
				protect(
					"seal",
					"Sealant, if wanted",
					"A few sprays on the towel, panel by panel.",
					procedure.SpraySeal,
					"Signature: the next wash gets shorter.",
				).OnlyIf(signed),
			),
			wheelStage(wheelsLast()),
			shutStage(shuts()),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		},
	}
}

// RinselessMitt is family F14, rinseless with two buckets and a mitt, where there is no hose at all.
func RinselessMitt() procedure.Procedure {
	return procedure.Procedure{ID: "rinseless-mitt", Family: "F14", Version: 1, Title: "Rinseless, two buckets and mitt",
		Fits:  "No hose at all: carried water, two buckets with guards.",
		Entry: rinselessEntry(), Suits: procedure.All(procedure.Be(c.SupplyHere, c.Carried), procedure.Min(c.GradeOverall, 2)),
		Pins: noRinse, Rounds: []procedure.Round{bySections()},
		Stages: []procedure.Stage{
			setUp(
				mixBucket(
					usOunces(384),
				).Worded("Two buckets with guards", "Three US gallons each; two to three ounces of concentrate in one.").
					With(func(s *procedure.Step) {
						s.Tool = "2 buckets, 2 guards"
						s.Dose = toWater(
							procedure.Rinseless,
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
				wetDown().Worded("Spray deionised water", "Every panel; two passes where it is dirty.").
					With(func(s *procedure.Step) { s.Water, s.Dose = procedure.Deionised, nil }).InRound("sections"),
			),
			contactWash(
				mitt().Ending("wet").
					Worded("Mitt, two passes where dirty", "Wring outside the bucket, rub twice on the guard, "+
						"look at the mitt. Upper, middle, lower, front last.").InRound("sections"),
			),
			dry(dryPanels().Worded("Pat or drag dry", "Panel by panel; never overlap unwashed paint.").InRound("sections")),
			protects(sprayWax().With(func(s *procedure.Step) {
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
func RinselessTwoTowels() procedure.Procedure {
	return procedure.Procedure{
		ID:      "rinseless-two-towels",
		Family:  "F15",
		Version: 1,
		Title:   "Rinseless, two alternating towels",
		Fits:    "Quick upkeep of light dirt.",
		Entry: append(
			rinselessEntry(),
			procedure.Entry{Rule: procedure.Max(c.GradeOverall, 1), Refusal: "Two towels that take turns are for light dirt."},
		),
		Suits:   procedure.All(procedure.Be(c.RunoffAllowed, "no"), procedure.Max(c.MinutesThere, 45)),
		Pins:    noRinse,
		Rounds:  []procedure.Round{bySections()},
		Waivers: []procedure.Waiver{{Rule: "shuts-never-visited", Step: "", Reason: "A quick upkeep between washes that do them."}},
		Stages: []procedure.Stage{
			setUp(mixBucket(usOunces(256)), deionised()),
			firstRinse(
				jet(
					"rinse",
					"Rinse first, where one may",
					"Top down.",
				).OnlyIf(procedure.All(procedure.Be(c.WasherHere, "yes"), procedure.Be(c.RunoffAllowed, "yes"))),
			),
			preSpray(wetDown().Taking(procedure.Time{Body: 2}).InRound("sections")),
			contactWash(
				mitt().Ending("wet").
					Worded("Towels in turn", "Towels wrung to the verge of dripping; while one works the other "+
						"sheds its dirt in the bucket. Upper, middle, lower, front last.").
					With(func(s *procedure.Step) {
						s.Medium, s.Cloth, s.Tool = contact.WetTowel, "2 plush towels", "bucket with guard"
					}).InRound("sections"),
			),
			dry(
				dryPanels().Taking(procedure.Time{Body: 5}).
					Worded("Dry with a little drying aid", "A few sprays of drying aid; lay and draw.").InRound("sections"),
			),
			glassStage(
				glass().Taking(procedure.Time{Fixed: 2}).
					Worded("Glass again", "With a low-pile towel.").
					With(func(s *procedure.Step) { s.Class = "" }),
			),
			wheelStage(wheelsLast()),
			lastLook(lookInside()),
			putAwayStage(putAway()),
		},
	}
}

// Waterless is family F16: dust, fingerprints, after a show drive.
func Waterless() procedure.Procedure {
	return procedure.Procedure{
		ID:      "waterless",
		Family:  "F16",
		Version: 1,
		Title:   "Waterless touch-up",
		Fits:    "Dust and fingerprints only.",
		Entry: []procedure.Entry{
			washable,
			{
				Rule:    procedure.Max(c.GradeOverall, 0),
				Refusal: "It is for a day's dust: anything that a finger writes in would be rubbed over the paint.",
			},
			{
				Rule:    procedure.Max(c.GradeLower, 1),
				Refusal: "The sills are past dust.",
			},
			{Rule: procedure.BeNot(c.CoverHere, climate.OpenSky), Refusal: "It needs shade."},
			{Rule: procedure.Be(c.HasSalt, "no"), Refusal: "Salt scratches until running water takes it off."},
		},
		Suits: procedure.Max(c.GradeOverall, 0),
		Pins:  noRinse,
		Stages: []procedure.Stage{
			setUp(
				procedure.Step{
					ID:        "cloths",
					Title:     "Cloths folded",
					Text:      "Six plush cloths in four.",
					Reason:    "Fold often: a fresh face for each panel.",
					Zones:     procedure.NoZones,
					Technique: procedure.Prepare,
					Cloth:     "6 plush towels",
					Colour:    forPaint,
					Time:      procedure.Time{Fixed: 1},
					Skill:     procedure.SkillMitt,
				},
			),
			towelWash(
				procedure.Step{
					ID:        "mist",
					Title:     "Mist and wipe",
					Text:      "A panel at a time: mist well, wipe once, straight, no pressure; turn to a fresh face.",
					Reason:    "The mist lifts dust so that it glides.",
					Zones:     procedure.Outside,
					Technique: procedure.ContactTowel,
					Act:       contact.WetDown,
					Class:     procedure.WaterlessMist,
					Cloth:     "plush towels in four",
					Colour:    forPaint,
					Skill:     procedure.SkillMitt,
					LookFor:   "Faces stay pale.",
				},
				procedure.Step{
					ID:        "buff",
					Title:     "Buff dry",
					Text:      "With a dry face, straight.",
					Reason:    "Mist left to dry streaks.",
					Zones:     procedure.Outside,
					Technique: procedure.Dry,
					Cloth:     "2 plush towels",
					Colour:    forPaint,
					Time:      procedure.Time{Body: 4},
					Skill:     procedure.SkillDry,
					LookFor:   "No streaks from the side.",
				},
			),
			glassStage(glass().Taking(procedure.Time{Fixed: 2})),
			shutStage(shuts().Taking(procedure.Time{Body: 1.5})),
			lastLook(lookInside().Taking(procedure.Time{Fixed: 1})),
			putAwayStage(putAway().Taking(procedure.Time{Fixed: 1})),
		},
	}
}

// WheelsOnly is family F17: wheels and tyres, nothing else.
func WheelsOnly() procedure.Procedure {
	gel := func(s *procedure.Step) {
		s.Dwell = works(3*minute, 8*minute, "Brown runs meet product below.")
		s.Dose = dose(procedure.WheelCleaner, 4, 1, measure.WaterFirst, "1 l wheel sprayer", measure.Ml(1000))
	}
	return procedure.Procedure{ID: "wheels-only", Family: "F17", Version: 1, Title: "Wheels and tyres only",
		Fits:    "Any car; nothing else is washed.",
		Entry:   []procedure.Entry{washable, running, drained},
		Pins:    procedure.Pins{c.CleanerFrom: c.FromBottom},
		Rounds:  []procedure.Round{byShortLabel()},
		Waivers: []procedure.Waiver{{Rule: "shuts-never-visited", Step: "", Reason: "Wheels only."}},
		Stages: []procedure.Stage{
			setUp(
				layOut().Worded("Lay out", "Wheel bucket, brushes, wheel towels; lance at reduced pressure.").
					With(func(s *procedure.Step) { s.Tool = "1 bucket" }).
					Taking(procedure.Time{Fixed: 2}),
			),
			wheelStage(
				hosed(
					"knock",
					"Knock off the lumps",
					"Lumps only.",
				).OnZones(procedure.AllWheels).
					Taking(procedure.Time{PerWheel: 0.4}).
					OnlyIf(procedure.Be(c.WheelsRinsed, c.Yes)).InRound("short-label"),
				soak().With(gel).InRound("short-label"),
				procedure.Step{
					ID:        "agitate",
					Round:     "short-label",
					Title:     "Brush only what is baked",
					Text:      "Barrel, behind the spokes, nuts; soft mitt on the face.",
					Reason:    "What runs off by itself is not rubbed.",
					Zones:     procedure.AllWheels,
					Technique: procedure.Agitate,
					Tool:      "barrel brush, tyre brush, wheel bucket",
					Cloth:     "1 wheel mitt",
					Colour:    forWheels,
					Time:      procedure.Time{PerWheel: 0.8, Soiled: true},
					Skill:     procedure.SkillWheels,
					Cautions:  []string{cautionGloves},
					LookFor:   "White cloth behind a spoke stays white.",
				},
				hosed(
					"rinse",
					"Rinse at an angle",
					"Reduced pressure, at an angle, in the order the cleaner went on.",
				).OnZones(procedure.AllWheels).
					Taking(procedure.Time{PerWheel: 0.5}).
					Ending("soak").InRound("short-label"),
				procedure.Step{
					ID:        "dry",
					Title:     "Tyres bone dry",
					Text:      "Blower or wheel towel, tyres last of all.",
					Reason:    "Dressing on wet rubber slings.",
					Zones:     procedure.AllWheels,
					Technique: procedure.Dry,
					Cloth:     "2 wheel towels",
					Colour:    forWheels,
					Time:      procedure.Time{PerWheel: 0.8},
					Skill:     procedure.SkillWheels,
					LookFor:   "Rubber dry to the finger.",
				},
			),
			tyreStage(coats(tyres().Worded("A thin ribbon each", "Wipe back for satin."))...),
			lastLook(
				lookAgain().OnZones(procedure.AllWheels).
					Worded("Look", "Sling dots on the paint behind?").
					Taking(procedure.Time{Fixed: 1}).
					With(func(s *procedure.Step) { s.Says, s.Cloth, s.Colour = nil, "", "" }),
			),
			putAwayStage(putAway()),
		}}
}

// ManyMittWash is family F18: a clean mitt for each section, used ones straight to the laundry bag.
func ManyMittWash() procedure.Procedure {
	return procedure.Procedure{ID: "many-mitts", Family: "F18", Version: 1, Title: "Many-mitt wash",
		Fits:   "A crew and a laundry; heavy soil.",
		Entry:  []procedure.Entry{washable, jetHere, drained},
		Suits:  procedure.All(procedure.Min(c.Crew, 2), procedure.Min(c.GradeOverall, 3)),
		Pins:   procedure.Pins{c.MittsOrBuckets: c.ManyMitts, c.WheelsWhen: c.First, c.FoamAtAll: c.Yes, c.RinsedFirst: c.Yes},
		Rounds: []procedure.Round{byWheels()},
		Stages: []procedure.Stage{
			setUp(
				cool(),
				layOut().Worded("Lay out", "A tub of clean mitts in suds, laundry bag open, wheel bucket apart.").
					With(func(s *procedure.Step) { s.Tool = "1 tub, 1 wheel bucket, laundry bag" }),
			),
			firstRinse(jet("rinse", "Rinse with arches and wheels", "Top down, every gap."), underSpray()),
			wheelStage(wheelsOne().InRound("wheel-by-wheel")),
			preWash(
				soakBugs(),
				citrus(),
				citrusHeavy(),
				foamOn("bugs", "citrus", "citrus-heavy"),
				fillBuckets().Worded("Fill the tub", "Water first, then product; mitts in.").
					With(func(s *procedure.Step) { s.During, s.Tool = "foam", "1 tub" }),
				foamOff("bugs", "citrus", "citrus-heavy", "foam"),
			),
			contactWash(
				procedure.Step{
					ID:    "mitts",
					Title: "A clean mitt a section",
					Text: "Both faces, then into the laundry bag: no rinse bucket. Upper, middle, lower, " +
						"front last.",
					Says:      mitt().Says[:3],
					Reason:    "What a mitt picked up never comes back.",
					Zones:     procedure.Outside,
					Technique: procedure.ContactTowel,
					Medium:    contact.Mitt,
					Tool:      "tub of suds",
					Cloth:     "long-pile mitts, see the count",
					Colour:    forPaint,
					Skill:     procedure.SkillMitt,
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
