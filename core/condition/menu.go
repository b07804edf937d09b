package condition

import "slices"

// The methods that wash a whole car by contact, by their family's code (docs/trade.md, section 5).
var wholeWashes = []string{"F1", "F3", "F5", "F6", "F7", "F8", "F9", "F12", "F13", "F14", "F15", "F18"}

// inMaintenance is what a maintenance wash takes off (docs/trade.md, section 3).
var inMaintenance = []Matter{Bugs, BirdLime, OldDressing}

// StarterMenu is what a shop without a list of its own sells: the services of the trade (docs/trade.md, sections 5 and 20),
// without prices. Minutes are common practice, no source; the first two take as long as the promise gives.
func StarterMenu() Menu { return slices.Clone(starterMenu) }

var starterMenu = Menu{
	{ID: "basic", Name: "Maintenance basic", Families: wholeWashes, Level: Basic, Takes: inMaintenance, Tyres: BareTyres},
	{ID: "signature", Name: "Maintenance signature", Families: wholeWashes, Level: Signature, Takes: inMaintenance,
		Tyres: SatinTyres, Tips: true},
	{ID: "rinse-and-dry", Name: "Quick rinse and dry", Families: []string{"F15"}, Level: Basic, Tyres: BareTyres, Minutes: 45,
		Leaves: []Leave{LeavesBugs, LeavesShuts, LeavesTyres, LeavesBarrels, LeavesTips}},
	{ID: "ten-minutes", Name: "Ten-minute wash", Families: []string{"F11"}, Level: Basic, Takes: []Matter{Bugs},
		Tyres: BareTyres, Minutes: 12, Leaves: []Leave{LeavesDrips, LeavesShuts, LeavesTyres, LeavesBarrels, LeavesTips}},
	{ID: "express", Name: "Thirty-minute express", Families: []string{"F2"}, Level: Basic, Takes: inMaintenance,
		Tyres: SatinTyres, Tips: true, Minutes: 30, Drops: []Option{TipsOption, TyresOption, ProtectOption},
		Leaves: []Leave{LeavesShuts, LeavesDrips}},
	{ID: "touchless", Name: "Touchless upkeep", Families: []string{"F10"}, Level: Basic, Tyres: BareTyres, Minutes: 40,
		Leaves: []Leave{LeavesFilm, LeavesBugs, LeavesShuts, LeavesBarrels}},
	{ID: "rinseless", Name: "Rinseless wash", Families: []string{"F12", "F13", "F14", "F15"}, Level: Basic,
		Takes: inMaintenance, Tyres: BareTyres, Minutes: 75, Leaves: []Leave{LeavesBarrels}},
	{ID: "coating-service", Name: "Coating service with decontamination", Families: []string{"F4"}, Level: Signature,
		Takes: append([]Matter{Iron, WaterSpots}, inMaintenance...), Tyres: GlossTyres, Tips: true},
	{ID: "wheels-only", Name: "Wheels only", Families: []string{"F17"}, Level: Basic, Takes: []Matter{OldDressing},
		Tyres: SatinTyres, Minutes: 45, Leaves: []Leave{LeavesBody}},
	{ID: "show", Name: "Show preparation", Families: []string{"F3", "F4", "F6", "F7"}, Level: Show,
		Takes: append([]Matter{Tar, Iron, Sap, WaterSpots, TrafficFilm}, inMaintenance...), Tyres: GlossTyres, Inside: true,
		Tips: true},
	{ID: "winter-rescue", Name: "Winter rescue", Families: []string{"F8", "F9"}, Level: Basic, Takes: inMaintenance,
		Tyres: BareTyres, Leaves: []Leave{LeavesShuts}},
}
