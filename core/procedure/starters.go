package procedure

import (
	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Cautions come from the handbook, section 12; the label, the safety data sheet and local codes come first.
const (
	cautionGloves  = "Gloves and eye protection; the label and the safety data sheet come first."
	cautionJet     = "Never point the jet at people, hands or feet. Tip 0.30 to 0.45 m away, two hands on the lance."
	cautionHot     = "Hot wheels and brakes burn and flash product dry: wait until a hand can rest on them."
	cautionNoise   = "Hearing and eye protection; look for loose stones first."
	cautionSlip    = "Wet soap is slippery. Stand on a step on level ground, never on the sill."
	cautionLift    = "A full 15 l bucket weighs over 15 kg: fill it where it will stand."
	cautionRoll    = "One person drives, nobody near the wheels. The first braking after a wash is weak."
	cautionRunoff  = "Local rules on wash water and drains come first."
	cautionElectro = "Keep jets off an open charge port; dry plugs and residual-current protection."
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

var notSatin = BeNot(condition.PaintFinish, vehicle.Satin)

// washable is an entry every procedure shares.
var washable = Entry{Be(condition.MustNotWash, "no"), "This vehicle must not be washed now: see the watch list."}

// Maintenance is family F6, the shop maintenance wash in two levels and the training standard. Order, doses and
// times: handbook, sections 5 to 7. Common practice, no source.
func Maintenance() Procedure {
	return Procedure{
		ID: "maintenance", Family: "F6", Version: 1,
		Title: "Shop maintenance wash",
		Fits:  "The training standard. Any grade, with a pressure washer and a drain. Basic, or signature with a spray sealant.",
		Entry: []Entry{
			washable,
			{Be(condition.SupplyHere, condition.PressureWasher), "It rinses and foams with a pressure washer, and there is none here."},
			{Be(condition.RunoffAllowed, "yes"), "Wash water may not run off here, and this wash rinses four times."},
		},
		Stages: []Stage{
			{"setup", "Set up", []Step{
				{ID: "cool", Title: "Cool the hot panels", Text: "Move into shade, doors shut, and wait. Mist wheels and bonnet from a distance once they no longer hiss.",
					Reason: "A hot panel boils a film of product dry by itself.", Zones: UpperPaint, Technique: Prepare,
					Time: Time{Fixed: 8, Unattended: true}, Cautions: []string{cautionHot}, LookFor: "A hand can rest on bonnet and brakes.", When: Be(condition.HotPanels, "yes")},
				{ID: "setup", Title: "Lay out", Text: "Wash, rinse and wheel buckets, each its own colour. Guards in at an angle, then pressed down snug. Two drying towels and the shut towels within reach. Foam bottle full, washer on, hose untangled.",
					Reason: "Towels laid out after the rinse are laid out while water dries.", Zones: NoZones, Technique: Prepare, Tool: "3 buckets, 2 guards",
					Time: Time{Fixed: 3}, Skill: SkillBuckets, Cautions: []string{cautionLift, cautionElectro}, LookFor: "Guards seated and under water; colours right."},
			}},
			{"rinse", "First rinse", []Step{
				{ID: "lumps", Title: "Knock off the lumps", Text: "From below: arches, behind the wheels, sills. Let the jet carry the lumps off the car.",
					Reason: "Caked soil under foam stays there.", Zones: OutsideRims, Technique: Rinse, Act: contact.JetRinse, Tool: "wide fan", Machine: "pressure washer",
					Time: Time{Body: 2.5}, Skill: SkillLance, Cautions: []string{cautionJet, cautionRunoff}, LookFor: "No lumps left anywhere.", When: Min(condition.GradeLower, 4)},
				{ID: "rinse", Title: "Rinse with arches and wheels", Text: "Top down, every gap, mirrors, grille, arches and wheels.",
					Reason: "What leaves without touch is a scratch saved: a rinse takes 80 to 85 %.", Zones: OutsideRims, Technique: Rinse, Act: contact.JetRinse, Tool: "wide fan", Machine: "pressure washer",
					Time: Time{Body: 2.5}, Skill: SkillLance, Cautions: []string{cautionJet, cautionRunoff}, LookFor: "Water runs off clear. Does it bead or lie flat?"},
				{ID: "under", Title: "Rinse the underside", Text: "Wheeled under-spray, front to rear, twice along each sill.",
					Reason: "Salt under the car goes on eating.", Zones: Below, Technique: Rinse, Tool: "under-spray", Machine: "pressure washer",
					Time: Time{Fixed: 2}, Skill: SkillLance, Cautions: []string{cautionJet}, LookFor: "Clear water from the sills.", When: Be(condition.HasSalt, "yes")},
			}},
			{"wheels", "Wheels", []Step{
				{ID: "wheels", Title: "Wheels, one at a time", Text: "Degreaser on, rows from the bottom up. Start at the valve: barrel, behind the spokes, face with the soft mitt, tyre brush until the foam is no longer brown, arch edge. Rinse this wheel before the next.",
					Reason: "By the time the fourth is soaped the first is dry, so each is finished before the next.", Zones: AllWheels, Technique: Agitate,
					Tool: "barrel brush, tyre brush, wheel bucket", Cloth: "1 wheel mitt", Colour: "rust: wheels only",
					Dose:  &Dose{Degreaser, ratio(10, 1, measure.WaterFirst), "1 l trigger sprayer", measure.Ml(1000), false, measure.WaterFirst},
					Dwell: &Dwell{Min: measure.Minute, Max: 2 * measure.Minute, Cue: "Brown runs from spokes and tyre.", Each: true},
					Time:  Time{PerWheel: 3.5, Soiled: true}, Machine: "pressure washer", Skill: SkillWheels, Cautions: []string{cautionGloves, cautionHot, cautionJet}, LookFor: "White cloth behind a spoke stays white."},
			}},
			{"prewash", "Pre-wash", []Step{
				{ID: "bugs", Title: "Soak the bugs", Text: "Bug degreaser on front bumper, grille and mirrors. Do not rub.",
					Reason: "Softened bugs rinse off; rubbed bugs scratch.", Zones: FrontEnd, Technique: Apply, Act: contact.Citrus, Tool: "trigger sprayer",
					Dose:  &Dose{CitrusWash, ratio(10, 1, measure.WaterFirst), "1 l trigger sprayer", measure.Ml(1000), false, measure.WaterFirst},
					Dwell: &Dwell{Min: 3 * measure.Minute, Max: 10 * measure.Minute, Cue: "Bugs swell and go pale."},
					Time:  Time{Fixed: 0.7}, Skill: SkillFoam, Cautions: []string{cautionGloves}, LookFor: "Bugs slide under a finger of water.", When: Be(condition.HasBugs, "yes")},
				{ID: "citrus", Title: "Citrus on the lower half", Text: "From the bottom up along sills, bumpers and behind the wheels.",
					Reason: "From grade 3 foam alone does not reach what clings low down.", Zones: LowerHalf, Technique: Apply, Act: contact.Citrus, Tool: "pump sprayer",
					Dose:  &Dose{CitrusWash, ratio(10, 1, measure.WaterFirst), "2 l pump sprayer", measure.Ml(2000), false, measure.WaterFirst},
					Dwell: &Dwell{Min: 5 * measure.Minute, Max: 10 * measure.Minute, Cue: "Dirt lets go and runs."},
					Time:  Time{Body: 1.5}, Skill: SkillFoam, Cautions: []string{cautionGloves}, LookFor: "Brown runs below the body line.", When: All(Min(condition.GradeLower, 3), Max(condition.GradeLower, 3))},
				{ID: "citrus-heavy", Title: "Strong citrus on the lower half", Text: "From the bottom up along sills, bumpers and behind the wheels.",
					Reason: "Caked soil wants the heavy mix.", Zones: LowerHalf, Technique: Apply, Act: contact.Citrus, Tool: "pump sprayer",
					Dose:  &Dose{CitrusWash, ratio(5, 1, measure.WaterFirst), "2 l pump sprayer", measure.Ml(2000), false, measure.WaterFirst},
					Dwell: &Dwell{Min: 5 * measure.Minute, Max: 10 * measure.Minute, Cue: "Dirt lets go and runs."},
					Time:  Time{Body: 1.5}, Skill: SkillFoam, Cautions: []string{cautionGloves}, LookFor: "Brown runs below the body line.", When: Min(condition.GradeLower, 4)},
				{ID: "foam", Title: "Foam", Text: "From the bottom up, overlapping, all round. It must cling, then drip.",
					Reason: "Foam carries grit off while it runs; bottom first gives the dirt the longest dwell.", Zones: Outside, Technique: Apply, Act: contact.Foam, Rewets: []string{"bugs", "citrus", "citrus-heavy"}, Tool: "foam sprayer, 1 l bottle", Machine: "pressure washer",
					Dose:  &Dose{FoamProduct, ratio(1, 9, measure.PartsPlusParts), "1 l foam bottle", measure.Ml(1000), false, measure.PartsPlusParts},
					Dwell: &Dwell{Min: 5 * measure.Minute, Max: 10 * measure.Minute, Cue: "Where foam sticks, there is dirt. It slides, then drips."},
					Time:  Time{Body: 1.75}, Skill: SkillFoam, Cautions: []string{cautionSlip}, LookFor: "A thin skin that drips, no bare patches."},
				{ID: "fill", Title: "Fill wash and rinse bucket", Text: "Water first, by jet for suds, then product. Half to three quarters full, guard well under.",
					Reason: "The foam works meanwhile.", Zones: NoZones, Technique: Prepare, During: "foam", Tool: "2 buckets",
					Dose: &Dose{Shampoo, ratio(1, 500, measure.PartsPlusParts), "wash bucket", measure.Ml(12_000), true, measure.PartsPlusParts},
					Time: Time{Fixed: 2}, Skill: SkillBuckets, Cautions: []string{cautionLift}, LookFor: "50 mm of water over the guard."},
				{ID: "foam-off", Title: "Rinse the foam off", Text: "Top down, once, slowly. Behind badges, mirrors, grille.",
					Reason: "From grade 2 the dirt is carried away before the mitt comes.", Zones: Outside, Technique: Rinse, Act: contact.JetRinse, Ends: []string{"bugs", "citrus", "citrus-heavy", "foam"}, Machine: "pressure washer",
					Time: Time{Body: 2.5}, Skill: SkillLance, Cautions: []string{cautionJet, cautionRunoff}, LookFor: "No foam in gaps; no grey below the line.", When: Any(Min(condition.GradeOverall, 2), Be(condition.HasBugs, "yes"), Min(condition.GradeLower, 2))},
			}},
			{"contact", "Contact wash", []Step{
				{ID: "mitt", Title: "Two-bucket wash", Text: "Half the roof and the windscreen, then rinse the mitt. Straight lines, weight of the mitt only. Upper all round, then middle, then lower, front bumper last. Flip and one more light pass.",
					Reason: "Clean zones first, so that their grit never meets more.", Zones: Outside, Technique: ContactWash, Ends: []string{"foam"},
					Tool: "wash bucket, rinse bucket with guard", Cloth: "1 long-pile mitt, a second for the lower band from grade 3", Colour: "tide: paint",
					Time: Time{Body: 10, Soiled: true}, Skill: SkillMitt, Cautions: []string{cautionSlip}, LookFor: "Mitt and rinse water: no grit felt with a bare hand."},
				{ID: "badges", Title: "Brush badges and edges", Text: "Soft brush in badges, window edges, filler, grille.",
					Reason: "The mitt passes over them; by now the dirt around them is off.", Zones: FrontEnd, Technique: Agitate, Tool: "soft detailing brush",
					Time: Time{Fixed: 1.5}, Skill: SkillMitt, LookFor: "Suds from every gap run white.", When: Min(condition.GradeOverall, 2)},
			}},
			{"final", "Final rinse", []Step{
				{ID: "final", Title: "Rinse top down", Text: "Roof first, always downward; gaps, mirrors, badges, wheels.",
					Reason: "Suds left in gaps dry as streaks.", Zones: OutsideRims, Technique: Rinse, Act: contact.JetRinse, Ends: []string{"foam"}, Machine: "pressure washer",
					Time: Time{Body: 2.5}, Skill: SkillLance, Cautions: []string{cautionJet, cautionRunoff}, LookFor: "Small standing beads, or flat water?"},
				{ID: "aid", Title: "Drying agent on", Text: "Mist it over the wet car, thin and even.",
					Reason: "Water lies flat: the agent makes it bead and halves the drying.", Zones: PaintOnly, Technique: Apply, Tool: "trigger sprayer",
					Dose:  &Dose{DryingAid, ratio(1, 9, measure.PartsPlusParts), "1 l trigger sprayer", measure.Ml(1000), false, measure.PartsPlusParts},
					Dwell: &Dwell{Min: 20 * measure.Second, Max: 2 * measure.Minute},
					Time:  Time{Body: 1}, Skill: SkillDry, LookFor: "Water pulls together.", When: All(Be(condition.WaterOnPaint, condition.Flat), notSatin)},
				{ID: "aid-off", Title: "Rinse the agent off", Text: "Top down, once.",
					Reason: "Agent left on satin trim and glass streaks.", Zones: Outside, Technique: Rinse, Ends: []string{"aid"}, Machine: "pressure washer",
					Time: Time{Body: 1.2}, Skill: SkillLance, Cautions: []string{cautionJet}, LookFor: "Water runs off by itself.", When: All(Be(condition.WaterOnPaint, condition.Flat), notSatin)},
			}},
			{"dry", "Dry", []Step{
				{ID: "blow", Title: "Blow dry", Text: "Top down: roof, glass, gaps, mirrors, grille, badges, then wheels.",
					Reason: "Air touches nothing and empties the gaps that drip later.", Zones: OutsideRims, Technique: Dry, Tool: "blower", Machine: "blower",
					Time: Time{Body: 3}, Skill: SkillDry, Cautions: []string{cautionNoise}, LookFor: "Mirrors and lamps no longer drip."},
				{ID: "towel", Title: "Two towels", Text: "Lay flat and draw towards you; the first takes most, the second finishes. Start on the glass. Wring when heavy.",
					Reason: "A slightly damp towel drinks better; rubbing marks.", Zones: Outside, Technique: Dry, Cloth: "2 drying towels", Colour: "white: drying",
					Time: Time{Body: 4}, Skill: SkillDry, LookFor: "Towel stays clean: a dirty towel means the wash was thin. Log it."},
			}},
			{"protect", "Protect", []Step{
				{ID: "seal", Title: "Spray sealant", Text: "A few sprays on the towel, panel by panel; spread with one side, buff with the other.",
					Reason: "Signature: the next wash gets shorter.", Zones: PaintOnly, Technique: Finish, Cloth: "2 short-pile towels", Colour: "moss: protection",
					Time: Time{Body: 5}, Skill: SkillDry, LookFor: "Even slickness under the back of the hand.", When: All(Be(condition.ServiceWanted, condition.Signature), notSatin)},
			}},
			{"shuts", "Shuts", []Step{
				{ID: "shuts", Title: "Wipe the shuts", Text: "Doors, boot, filler. Own towel, greasy side last.",
					Reason: "The most forgotten place, and the first the customer sees on getting in.", Zones: AllShuts, Technique: Finish, Cloth: "1 shut towel", Colour: "slate: shuts",
					Time: Time{Body: 3, Soiled: false}, Skill: SkillShuts, LookFor: "Every shut opened, filler too."},
			}},
			{"tyres", "Tyres", []Step{
				{ID: "tyres", Title: "Tyre shine", Text: "On bone-dry rubber, a thin ribbon each. Wipe back for satin. Roll the car 0.3 m for the part on the ground.",
					Reason: "On wet rubber, or too much of it, it slings onto paint.", Zones: Tyres, Technique: Finish, Tool: "applicator",
					Time: Time{PerWheel: 0.6}, Skill: SkillWheels, Cautions: []string{cautionRoll}, LookFor: "No wet blotches; nothing comes off on a finger.", When: Be(condition.WantsShine, "yes")},
			}},
			{"look", "Last look", []Step{
				{ID: "look", Title: "Out into daylight", Text: "Walk round once in other light. Mirrors, badges, sills for drips. Spot-fix with rinseless mix and a fresh cloth.",
					Reason: "After five minutes the drips show.", Zones: Outside, Technique: Inspect, Cloth: "1 plush towel", Colour: "tide: paint",
					Time: Time{Fixed: 2}, Skill: SkillLook, LookFor: "Nothing the customer would see standing."},
				{ID: "away", Title: "Put away", Text: "Empty and wipe buckets, mitts and towels to the laundry bags by colour, hose coiled, washer off.",
					Reason: "The next wash starts in three minutes, not ten.", Zones: NoZones, Technique: Prepare,
					Time: Time{Fixed: 3}, LookFor: "Bay clear, floor rinsed."},
			}},
		},
	}
}

// RinselessTowels is family F12, rinseless with many towels. Order, doses and times: handbook, sections 5 to 7.
// Common practice, no source.
func RinselessTowels() Procedure {
	mix := func(vessel string, water measure.Volume) *Dose {
		return &Dose{Rinseless, ratio(256, 1, measure.WaterFirst), vessel, water, true, measure.WaterFirst}
	}
	return Procedure{
		ID: "rinseless-towels", Family: "F12", Version: 1,
		Title: "Rinseless, many towels",
		Fits:  "Where nothing may run off: grade 0 to 2, shade, no caked soil.",
		Entry: []Entry{
			washable,
			{Max(condition.GradeOverall, 2), "Rinseless drags what is not rinsed off: above grade 2 the grit would be rubbed over the paint. Rinse and foam first."},
			{BeNot(condition.CoverHere, climate.OpenSky), "It needs shade: under open sky the mix dries on the panel."},
			{Not(All(Be(condition.HasSalt, "yes"), Min(condition.GradeLower, 2))), "Salt crystals low on the car scratch like sand until running water takes them off."},
		},
		Stages: []Stage{
			{"setup", "Set up", []Step{
				{ID: "mix", Title: "Mix the bucket", Text: "Water first, then the concentrate; stir by hand.",
					Reason: "Weak mix does not lift, strong mix streaks.", Zones: NoZones, Technique: Prepare, Tool: "1 bucket", Dose: mix("towel bucket", usOunces(256)),
					Time: Time{Fixed: 2}, Skill: SkillBuckets, Cautions: []string{cautionLift}, LookFor: "Slick between the fingers."},
				{ID: "mix-hard", Title: "Use deionised water", Text: "Fill bucket and sprayer from the deionised tap.",
					Reason: "Hard water dries to spots, and nothing rinses it off here.", Zones: NoZones, Technique: Prepare, Time: Time{Fixed: 0.5}, Skill: SkillBuckets, When: Min(condition.WaterHardness, 121)},
				{ID: "fold", Title: "Soak and fold the towels", Text: "Each in four: eight faces. Wrung till damp.",
					Reason: "A fresh face for each section takes the place of the rinse bucket.", Zones: NoZones, Technique: Prepare, Cloth: "plush towels, see the count", Colour: "tide: paint", Time: Time{Fixed: 2}, Skill: SkillMitt},
			}},
			{"prewash", "Pre-spray", []Step{
				{ID: "wet", Title: "Wet the car", Text: "Pump sprayer over every panel, lower parts twice. Leave it to work.",
					Reason: "The mix wraps loose grit so that it glides.", Zones: Outside, Technique: Apply, Act: contact.WetDown, Tool: "pump sprayer", Dose: mix("2 l pump sprayer", measure.Ml(2000)),
					Dwell: &Dwell{Min: measure.Minute, Max: 10 * measure.Minute},
					Time:  Time{Body: 3}, Skill: SkillFoam, Cautions: []string{cautionSlip}, LookFor: "Wet all over; re-wet what dries."},
			}},
			{"contact", "Towel wash", []Step{
				{ID: "towels", Title: "One face a section", Text: "Straight, along the airflow, no pressure. Turn to a fresh face for each section; a used towel never goes back into the bucket. Upper, middle, lower, front last.",
					Reason: "What the face picked up must not travel on.", Zones: Outside, Technique: ContactTowel, Ends: []string{"wet"}, Cloth: "plush towels in four", Colour: "tide: paint",
					Time: Time{Body: 18, Soiled: true}, Skill: SkillMitt, LookFor: "The last face of each towel is pale."},
				{ID: "wax", Title: "Spray wax on the wet panel", Text: "One spray a panel before drying.",
					Reason: "Lubricates the drying towel.", Zones: PaintOnly, Technique: Finish,
					Time: Time{Body: 2}, Skill: SkillDry, LookFor: "Even mist.", When: notSatin},
			}},
			{"dry", "Dry", []Step{
				{ID: "dry", Title: "Dry panel by panel", Text: "Lay and draw; never overlap unwashed paint.",
					Reason: "The towel would carry grit back.", Zones: Outside, Technique: Dry, Cloth: "2 drying towels", Colour: "white: drying",
					Time: Time{Body: 7}, Skill: SkillDry, LookFor: "Towel stays clean."},
			}},
			{"wheels", "Wheels", []Step{
				{ID: "wheels", Title: "Wheels last", Text: "Spray, wait, wipe face, spokes and tyre with one towel a wheel.",
					Reason: "With no rinse, brake dust must stay away from the paint towels.", Zones: AllWheels, Technique: Agitate, Cloth: "4 wheel towels", Colour: "rust: wheels only",
					Time: Time{PerWheel: 2, Soiled: true}, Skill: SkillWheels, Cautions: []string{cautionHot, cautionGloves}, LookFor: "White cloth behind a spoke stays white."},
				{ID: "tyres", Title: "Tyre shine", Text: "On bone-dry rubber, a thin ribbon each.",
					Reason: "Too much slings.", Zones: Tyres, Technique: Finish, Tool: "applicator",
					Time: Time{PerWheel: 0.6}, Skill: SkillWheels, LookFor: "No wet blotches.", When: Be(condition.WantsShine, "yes")},
			}},
			{"shuts", "Shuts", []Step{
				{ID: "shuts", Title: "Shuts last", Text: "Doors, boot, filler, with the shut towel.",
					Reason: "Grease stays off the paint towels.", Zones: AllShuts, Technique: Finish, Cloth: "1 shut towel", Colour: "slate: shuts",
					Time: Time{Body: 3}, Skill: SkillShuts, LookFor: "Every shut opened."},
			}},
			{"look", "Last look", []Step{
				{ID: "look", Title: "Look again", Text: "Other light, eye along the panel. Then towels to the laundry by colour.",
					Reason: "Streaks show from the side.", Zones: Outside, Technique: Inspect,
					Time: Time{Fixed: 3}, Skill: SkillLook, LookFor: "No streaks, no drips."},
			}},
		},
	}
}

// Starters are the procedures a new shop begins with.
func Starters() []Procedure { return []Procedure{Maintenance(), RinselessTowels()} }
