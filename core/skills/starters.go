package skills

import "uskel/core/procedure"

// Starters are the rubrics that a shop begins with, one a skill, in the order of teaching. What trainers teach and watch:
// common practice, no source.
func Starters() []Rubric {
	watched := Needs{Watched: 2, Level: 1}
	drilled := Needs{Watched: 2, Drills: 2, Level: 1}
	all := []Rubric{
		{Skill: procedure.SkillScope, Why: "Who says first what stays is not asked afterwards why it stayed.", Needs: watched,
			Minute: []string{"Read the look-over.", "Say what this wash takes off and what not.", "Leave tar and iron, note them."},
			Rules:  []TaughtRule{{"Is tar in a maintenance wash?", "No: note it and leave it.", "Rubbing at it marks the paint for nothing."}},
			Criteria: []Criterion{
				{ID: "says", Text: "Says what this wash will not take off, before starting", Must: true},
				{ID: "leaves", Text: "Leaves tar and iron alone and notes them", Must: true},
			}},
		{Skill: procedure.SkillLance, Why: "What the water takes away never meets the mitt.", Needs: watched,
			Minute: []string{"Top down, overlapping, flat at edges.", "Tip 0.30 to 0.45 m away.", "Carry the dirt off the panel's edge.",
				"Never across hands, feet or people."},
			Rules: []TaughtRule{{"Why not close up?", "Keep 0.30 m at least.", "A jet lifts film edges and chips."},
				{"When is it rinsed?", "When the water runs clear off the sill.", "What stays is ground in by the mitt."}},
			Criteria: []Criterion{
				{ID: "distance", Text: "Keeps the tip 0.30 to 0.45 m away, flat angle at edges", Must: true,
					Techniques: []procedure.Technique{procedure.Rinse}},
				{ID: "people", Text: "Never across hands, feet or people", Must: true},
				{ID: "carries", Text: "Carries dirt off the panel's edge", Techniques: []procedure.Technique{procedure.Rinse}},
			}},
		{Skill: procedure.SkillWheels, Why: "Brake dust pits, and cleaner that dries stains.", Needs: drilled,
			Minute: []string{"Feel that it is cool.", "Start at the valve, so that the end is known.", "Barrel, spokes, face, nuts.",
				"Wait until it has worked before you brush.", "Off before it dries."},
			Rules: []TaughtRule{{"The label allows 30 s: all four at once?", "One wheel at a time.", "The first would stain before you are back."},
				{"May the wheel mitt help on the sill?", "No: wheel things stay with the wheels.", "Brake dust is the hardest grit there is."}},
			Criteria: []Criterion{
				{ID: "own", Text: "Wheel bucket, mitt and brushes stay with the wheels", Must: true},
				{ID: "cool", Text: "Feels that the wheel is cool first", Must: true, Techniques: []procedure.Technique{procedure.Apply}},
				{ID: "order", Text: "Barrel, spokes, face, nuts; starts at the valve", Techniques: []procedure.Technique{procedure.Agitate}},
				{ID: "dry", Text: "No wheel dries with product on it", Must: true},
			}},
		{Skill: procedure.SkillBuckets, Why: "The rinse bucket keeps the grit, the guard keeps it down.", Needs: drilled,
			Minute: []string{"Tell them apart: wash, rinse, wheels.", "Rinse bucket first, plain water.", "Guard tilted in, pressed flat.",
				"Wash bucket: little water, guard, measured product, then the jet."},
			Rules: []TaughtRule{{"Soapier wanted: less water?", "More product, never less water.", "The mitt must be covered."},
				{"The guard cannot be seen: go on?", "Change the water.", "A clean face comes back dirty."}},
			Criteria: []Criterion{
				{ID: "guard", Text: "Guard seated, under water", Must: true},
				{ID: "dose", Text: "Dose measured, not guessed", Must: true, Techniques: []procedure.Technique{procedure.Prepare}},
				{ID: "told", Text: "Tells wash and rinse bucket apart at a glance", Must: true},
			}},
		{Skill: procedure.SkillFoam, Why: "Slow, even foam loosens more and is quicker in the end.", Needs: drilled,
			Minute: []string{"Bottom up, overlapping.", "Watch the clock and the panel.", "Rinse before it dries."},
			Rules: []TaughtRule{{"It begins to dry on the bonnet: wait for the label's time?",
				"Rinse, or wet it again.", "Dried foam leaves streaks."}},
			Criteria: []Criterion{
				{ID: "bottom", Text: "Bottom up, overlapping", Techniques: []procedure.Technique{procedure.Apply}},
				{ID: "clock", Text: "Watches the clock and the panel; nothing dries", Must: true},
			}},
		{Skill: procedure.SkillMitt, Why: "Straight marks polish out, circles show from everywhere.", Needs: drilled,
			Minute: []string{"Fully loaded, the weight of the mitt only.", "Straight lines, top before bottom.", "Flip at the body line.",
				"Rinse, wring outside, look, load."},
			Rules: []TaughtRule{{"When do you turn the mitt?", "At the body line, or when it drags.", "A used face carries grit up."},
				{"It fell on the ground: rinse it well?", "Out; take the spare.", "Stones stay in the pile."},
				{"How hard do you press?", "Not at all.", "Pressure is what makes grit cut."}},
			Criteria: []Criterion{
				{ID: "weight", Text: "No pressure on the mitt", Must: true},
				{ID: "straight", Text: "Straight lines", Must: true},
				{ID: "flips", Text: "Flips and rinses without being told", Must: true},
				{ID: "wrings", Text: "Rinses as taught here, wrings outside, looks at the pile", Must: true},
				{ID: "up", Text: "Never goes back up with a dirty face", Must: true},
				{ID: "small", Text: "Sections small enough for the weather"},
			}},
		{Skill: procedure.SkillDry, Why: "Water that dries leaves what was in it.", Needs: drilled,
			Minute: []string{"Towels in reach before the last rinse.", "Sheet it off with the open hose.", "Damp the towel; lay it, draw it off.",
				"Flats all round first, then uprights.", "Wait five minutes, look again."},
			Rules: []TaughtRule{{"Why damp a drying towel?", "A dry one drags and does not drink.", "Fibres take up water by water."},
				{"Where does water hide?", "Mirrors, handles, lamps, badges, sills.", "It runs out later, over what was dry."}},
			Criteria: []Criterion{
				{ID: "drawn", Text: "Towel laid and drawn, not rubbed", Must: true, Techniques: []procedure.Technique{procedure.Dry}},
				{ID: "ground", Text: "Towel kept off the ground", Must: true},
				{ID: "second", Text: "Second look at mirrors and badges"},
			}},
		{Skill: procedure.SkillShuts, Why: "Greasy shuts soil clothes, and the owner looks there every day.", Needs: watched,
			Minute: []string{"Open every door, boot and filler.", "Own towel, after the body.", "Close what was opened."},
			Rules:  []TaughtRule{{"The body's towel is at hand: use it?", "No, the shuts have their own.", "Grease goes on to the paint."}},
			Criteria: []Criterion{
				{ID: "every", Text: "Every shut, boot and filler opened", Must: true},
				{ID: "own", Text: "Own towel", Must: true},
			}},
		{Skill: procedure.SkillLook, Why: "The customer looks in other light than the bay's.", Needs: watched,
			Minute: []string{"Eye along the panel, then standing, then close.", "Again in other light.",
				"Put small misses right with a fresh cloth."},
			Rules: []TaughtRule{{"It is dusk: are there marks?", "Nobody can say: look with a lamp.", "Marks show only in hard light."}},
			Criteria: []Criterion{
				{ID: "light", Text: "Looks again in other light", Must: true},
				{ID: "fresh", Text: "Spot-fixes with a fresh cloth", Must: true},
			}},
	}
	for i := range all {
		all[i].Order = i + 1
	}
	return all
}
