package audit

import (
	"uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// Starters are the lists that a new shop begins with: common practice, no source; what each method leaves: docs/trade.md,
// section 17.
func Starters() []Checklist {
	return []Checklist{Starter(), traineeWalk(), touchlessWalk(), rinselessWalk(), spotCheck(), wheelsWalk()}
}

// Offered are all lists that Uskel brings: the starters, and checks on the way that a shop takes into use by publishing them.
func Offered() []Checklist { return append(Starters(), onTheWay()...) }

// OfferedAs is one of them by its id, which nobody has published yet.
func OfferedAs(id string) (Checklist, bool) {
	for _, c := range Offered() {
		if c.ID == id {
			c.Version = 0
			return c, true
		}
	}
	return Checklist{}, false
}

// Starter is the final walk of a wash by hand, in one walk round the car.
func Starter() Checklist {
	return Checklist{ID: "final-walk", Version: 1, Title: "Final walk", About: "The whole car, in one walk round it.", Items: []Item{
		{ID: "towel", Title: "Drying towel and buckets", Zones: procedure.NoZones, Kinds: []Kind{DirtyTowel},
			How:  "Lay the drying towel open; look at rinse and wash bucket side by side. A dark wash bucket means grit went back.",
			Done: "The towel's edge is not brown, and the wash bucket is paler than the rinse bucket."},
		{ID: "upper", Title: "Roof, bonnet and boot lid", Zones: procedure.PaintOnly, Light: true,
			Kinds: []Kind{Spots, FineCircles, StraightMark, DirtLeft}, How: "Eye level along the panel; a lamp held across.",
			Done: "No spot, no line and no circle at a metre under the lamp.", Usual: map[Kind]Severity{FineCircles: Major}},
		{ID: "lower", Title: "Sills, behind the wheels, rear bumper", Zones: procedure.LowerHalf, Kinds: []Kind{DirtLeft, BondedMatter, Spots},
			How:   "A clean white cloth over the sill and the strip behind each wheel.",
			Done:  "The cloth stays white from end to end, on both sides.",
			Usual: map[Kind]Severity{DirtLeft: Major}},
		{ID: "front", Title: "Front bumper, grille and mirrors", Zones: procedure.FrontEnd, Kinds: []Kind{Drips, DirtLeft, BondedMatter},
			How:  "Finger inside the mirror; look again after five minutes.",
			Done: "Nothing runs from mirror, badge or lamp after five minutes; no insect is left.",
			Lets: []Let{{Drips, 2, InNumber}}},
		{ID: "wheels", Title: "Wheels", Zones: procedure.Rims, Kinds: []Kind{BrakeDust, WheelStain},
			How:  "White cloth behind a spoke and inside the barrel.",
			Done: "The cloth is grey at the most, and no streak is seen standing."},
		{ID: "tyres", Title: "Tyres and arches", Zones: procedure.Tyres, Kinds: []Kind{TyreBlotch, DirtLeft},
			How:  "Even, dry to the finger; no dots on the paint behind.",
			Done: "Even all round with its lower part, dry to the finger, no dot on the paint."},
		{ID: "glass", Title: "Glass", Zones: procedure.AllGlass, Kinds: []Kind{SmearedGlass, Spots}, Light: true,
			How: "From inside against the light.", Done: "No smear against the light, and the wipers are down."},
		{ID: "shuts", Title: "Shuts", Zones: procedure.AllShuts, Kinds: []Kind{GreasyShuts, Drips}, Lets: []Let{{Drips, 2, InNumber}},
			How: "Open every door, the boot and the filler.", Done: "A cloth along every shut stays clean; no puddle in the sill."},
		{ID: "edges", Title: "Film edges, trim, lacquer", Zones: procedure.PaintOnly, Kinds: []Kind{LiftedEdge, InCabin},
			How: "Finger along the edges named at look-over.", Done: "Every edge that the look-over names lies flat.",
			Usual: map[Kind]Severity{LiftedEdge: Critical}},
		{ID: "tips", Title: "Exhaust tips", Zones: procedure.TipsOnly, Kinds: []Kind{DirtLeft}, How: "Finger inside, then look along them.",
			Done: "They shine all round, without a bluish rim of product.", When: procedure.Be(condition.WantsTips, "yes")},
		{ID: "water", Title: "What water does", Zones: procedure.UpperPaint, Kinds: []Kind{BondedMatter, Spots},
			How: "A few drops on the bonnet: do they stand as beads?", Done: "It does what the look-over said it does."},
	}}
}

// traineeWalk is the final walk with what a trainee is taught, side by side.
func traineeWalk() Checklist {
	side := func(id, title string, s vehicle.Side) Item {
		return Item{ID: id, Title: title, Zones: procedure.PaintOnly, Side: s, Light: true,
			Kinds: []Kind{DirtLeft, Spots, FineCircles, StraightMark}, Usual: map[Kind]Severity{DirtLeft: Major, FineCircles: Major},
			How: "Eye along the panel under a lamp, then a white cloth over the sill.", Done: "No line under the lamp, and the cloth stays white."}
	}
	return Checklist{ID: "trainee-walk", Version: 1, Title: "Trainee's walk", About: "Side by side, with the trainee beside you.",
		When: procedure.Be(condition.TraineeWashes, "yes"), Items: []Item{
			{ID: "buckets", Title: "Buckets and towels side by side", Zones: procedure.NoZones, Kinds: []Kind{DirtyTowel},
				How: "Rinse and wash bucket beside each other, the towel laid open.", Done: "The wash bucket is paler, the towel has no brown edge."},
			side("front", "Bonnet, front bumper and grille", vehicle.FrontSide), side("left", "Left side", vehicle.LeftSide),
			side("rear", "Boot lid and rear bumper", vehicle.RearSide), side("right", "Right side", vehicle.RightSide),
			{ID: "top", Title: "Roof", Zones: procedure.PaintOnly, Side: vehicle.TopSide, Light: true, Kinds: []Kind{Spots, DirtLeft, FineCircles},
				How: "From a step on level ground, never from the sill.", Done: "No spot and no line under the lamp."},
			{ID: "wheels", Title: "Wheels and tyres", Zones: procedure.AllWheels, Kinds: []Kind{BrakeDust, WheelStain, TyreBlotch},
				How:  "White cloth behind a spoke and in the barrel; finger on the tyre.",
				Done: "Grey at the most; the tyre even and dry to the finger."},
			{ID: "glass", Title: "Glass", Zones: procedure.AllGlass, Kinds: []Kind{SmearedGlass, Spots}, Light: true,
				How: "Against the light, both sides.", Done: "No smear against the light."},
			{ID: "second", Title: "Second look: mirrors, badges, lamps, shuts", Zones: procedure.AllShuts, Kinds: []Kind{Drips, GreasyShuts},
				How: "Five minutes after drying: open all, look below mirrors and badges.", Done: "Nothing runs any more.",
				Lets: []Let{{Drips, 2, InNumber}}},
		}}
}

// touchlessWalk looks at what a wash without touch reaches: 5 to 10 % of the film stays (docs/trade.md, section 17).
func touchlessWalk() Checklist {
	return Checklist{ID: "touchless-walk", Version: 1, Title: "Walk after a touchless wash", Families: []string{"F10"},
		About: "Without touch a film of 5 to 10 % stays: that is let pass.", Items: []Item{
			{ID: "loose", Title: "Loose dirt", Zones: procedure.Outside, Kinds: []Kind{DirtLeft}, Lets: []Let{{DirtLeft, 10, InPercent}},
				How: "Standing, a metre away; no cloth.", Done: "No clot or run of dirt; a thin film on a tenth of it at the most."},
			{ID: "spots", Title: "Spots of water or foam", Zones: procedure.OutsideRims, Kinds: []Kind{Spots}, Light: true,
				How: "Eye along the panel once it is dry.", Done: "No spot and no streak of foam that dried."},
			{ID: "wheels", Title: "Wheels", Zones: procedure.AllWheels, Kinds: []Kind{BrakeDust, WheelStain},
				Lets: []Let{{BrakeDust, 10, InPercent}}, How: "Faces, standing.", Done: "Faces are even; the barrel is not part of it."},
			{ID: "edges", Title: "Film edges, seals, trim", Zones: procedure.PaintOnly, Kinds: []Kind{LiftedEdge, InCabin},
				How: "Finger along the edges named at look-over; the cabin's sills are dry.", Done: "Every edge lies flat; no water inside.",
				Usual: map[Kind]Severity{LiftedEdge: Critical}},
		}}
}

// rinselessWalk looks at what a rinseless wash does: it reaches the barrel only so deep.
func rinselessWalk() Checklist {
	return Checklist{ID: "rinseless-walk", Version: 1, Title: "Walk after a rinseless wash", Families: []string{"F12", "F13", "F14", "F15"},
		About: "Towels and marks first: there was no rinse to carry grit away.", Items: []Item{
			{ID: "towels", Title: "Used towels", Zones: procedure.NoZones, Kinds: []Kind{DirtyTowel},
				How: "Open all used towels: each face once.", Done: "No face was used twice, none went back into the clean bucket."},
			{ID: "marks", Title: "Upper surfaces under a lamp", Zones: procedure.UpperAndMiddle, Kinds: []Kind{StraightMark, FineCircles, Spots},
				How: "Lamp held across, a step back, then close.", Done: "No line that was not there at the look-over.", Light: true,
				Usual: map[Kind]Severity{StraightMark: Major, FineCircles: Major}},
			{ID: "lower", Title: "Lower half", Zones: procedure.LowerHalf, Kinds: []Kind{DirtLeft, Spots},
				How: "White cloth over sill and rear bumper.", Done: "The cloth stays white.", Usual: map[Kind]Severity{DirtLeft: Major}},
			{ID: "wheels", Title: "Wheels as deep as a hand reaches", Zones: procedure.AllWheels, Kinds: []Kind{BrakeDust, WheelStain, TyreBlotch},
				How: "Cloth over faces and the outer barrel.", Done: "Clean as deep as fingers reach."},
			{ID: "glass", Title: "Glass", Zones: procedure.AllGlass, Kinds: []Kind{SmearedGlass}, How: "Against the light.", Light: true,
				Done: "No smear against the light."},
			{ID: "shuts", Title: "Shuts and tips", Zones: procedure.AllShuts, Kinds: []Kind{GreasyShuts}, How: "Open all.",
				Done: "Wiped once, no grease."},
		}}
}

// wheelsWalk looks at the wheels alone, after new staff, a new cleaner or new brushes.
func wheelsWalk() Checklist {
	return Checklist{ID: "wheels-walk", Version: 1, Title: "Wheels", OnRequest: true, About: "The wheels alone, all four.", Items: []Item{
		{ID: "barrels", Title: "Barrels and behind the spokes", Zones: procedure.Rims, Kinds: []Kind{BrakeDust}, How: "White cloth, a lamp.",
			Done: "The cloth is grey at the most, on all four.", Usual: map[Kind]Severity{BrakeDust: Major}},
		{ID: "faces", Title: "Faces, bolts and the tyre's edge", Zones: procedure.Rims, Kinds: []Kind{WheelStain, StraightMark}, Light: true,
			How: "Standing, then close; a lamp on dark faces.", Done: "No streak of cleaner, no mark of bristles.",
			Usual: map[Kind]Severity{WheelStain: Major}},
		{ID: "tyres", Title: "Tyres with their lower part", Zones: procedure.Tyres, Kinds: []Kind{TyreBlotch, DirtLeft},
			How: "Finger on the wall; roll half a turn.", Done: "Even all round, dry to the finger, no dot on the paint behind."},
		{ID: "discs", Title: "Discs after a braking roll", Zones: procedure.AllWheels, Kinds: []Kind{BrakeDust, Drips}, How: "Roll, brake, look.",
			Done: "No rust film, and nothing runs from the spokes."},
	}}
}

// spotCheck takes two minutes on any wash.
func spotCheck() Checklist {
	return Checklist{ID: "spot-check", Version: 1, Title: "Spot check of two minutes", OnRequest: true,
		About: "Where it goes wrong most: five looks.", Items: []Item{
			{ID: "sill", Title: "One sill and the strip behind its wheel", Zones: procedure.LowerHalf, Kinds: []Kind{DirtLeft},
				How: "White cloth, one side.", Done: "The cloth stays white.", Usual: map[Kind]Severity{DirtLeft: Major}},
			{ID: "mirror", Title: "Mirrors and grille", Zones: procedure.FrontEnd, Kinds: []Kind{Drips}, Lets: []Let{{Drips, 2, InNumber}},
				How: "Finger inside the mirror.", Done: "Two drips at the most."},
			{ID: "spoke", Title: "Behind one spoke", Zones: procedure.Rims, Kinds: []Kind{BrakeDust}, How: "White cloth.",
				Done: "Grey at the most."},
			{ID: "bonnet", Title: "Bonnet under a lamp", Zones: procedure.UpperPaint, Kinds: []Kind{FineCircles, StraightMark, Spots}, Light: true,
				How: "Lamp held across.", Done: "No line, no spot.", Usual: map[Kind]Severity{FineCircles: Major}},
			{ID: "shut", Title: "Driver's door shut", Zones: procedure.AllShuts, Kinds: []Kind{GreasyShuts, Drips}, How: "Open it.",
				Done: "A cloth stays clean."},
		}}
}
