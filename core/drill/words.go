package drill

// Do is what somebody can do.
type Do string

// The actions of washing by hand.
const (
	Stroke    Do = "stroke"
	FlipIt    Do = "flip"
	Rub       Do = "rub on the guard"
	SwishIt   Do = "swish"
	Load      Do = "load"
	Look      Do = "look at the mitt"
	Feel      Do = "feel the pile"
	Rewet     Do = "wet the panel"
	RinseOff  Do = "rinse the panel"
	NextPanel Do = "next panel"
	Lower     Do = "take the lower mitt"
	Spare     Do = "take the spare"
	SeatGuard Do = "seat the guard"
)

// The actions with buckets.
const (
	LabelIt     Do = "label the bucket"
	Fill        Do = "fill with water"
	GuardIn     Do = "put the guard in"
	DoseIt      Do = "dose"
	Jet         Do = "jet for suds"
	Begin       Do = "begin washing"
	WashOn      Do = "wash on"
	ChangeWater Do = "change the water"
	FreshWash   Do = "make the wash bucket anew"
	SideBySide  Do = "set the buckets side by side"
)

// The actions of drying.
const (
	SheetOff   Do = "sheet with the open hose"
	Blow       Do = "blow"
	DryIt      Do = "dry"
	DampIt     Do = "damp the towel"
	Wring      Do = "wring"
	NextTowel  Do = "take the next towel"
	SecondLook Do = "look again"
	DryingDone Do = "the car is dry"
)

// The actions while products work.
const (
	FeelIt  Do = "feel the wheel"
	CoolIt  Do = "cool it with water"
	PutOn   Do = "put it on"
	WorkIt  Do = "work it"
	TakeOff Do = "take it off"
	Wait    Do = "wait"
)

// Values lists the actions.
func (Do) Values() []string {
	return stringsOf(Stroke, FlipIt, Rub, SwishIt, Load, Look, Feel, Rewet, RinseOff, NextPanel, Lower, Spare, SeatGuard,
		LabelIt, Fill, GuardIn, DoseIt, Jet, Begin, WashOn, ChangeWater, FreshWash, SideBySide,
		SheetOff, Blow, DryIt, DampIt, Wring, NextTowel, SecondLook, DryingDone, FeelIt, CoolIt, PutOn, WorkIt, TakeOff, Wait)
}

func stringsOf[S ~string](all ...S) []string {
	list := make([]string, len(all))
	for i, s := range all {
		list[i] = string(s)
	}
	return list
}

// Mishap is what may happen.
type Mishap string

// The mishaps.
const (
	NoMishap Mishap = ""
	GuardUp  Mishap = "the guard has come up"
	Fallen   Mishap = "the mitt fell on the ground"
	LowWater Mishap = "somebody took water out of the rinse bucket"
	DarkWash Mishap = "somebody put a dirty mitt into the wash bucket"
)

// Values lists the mishaps.
func (Mishap) Values() []string { return stringsOf(GuardUp, Fallen, LowWater, DarkWash) }

// Cause is what can be wrong with a move.
type Cause string

// The causes.
const (
	Circles    Cause = "circles"
	Pressing   Cause = "pressing"
	Bent       Cause = "bent"
	Against    Cause = "against the school"
	Upward     Cause = "back up"
	Loaded     Cause = "too much on the face"
	DryPanel   Cause = "dried"
	Scrubbed   Cause = "scrubbed"
	FilmEdge   Cause = "over the film's edge"
	MeshWide   Cause = "mesh beside the bugs"
	MeshDark   Cause = "mesh on dark gloss"
	NoSuds     Cause = "no suds"
	DirtyDip   Cause = "unrinsed into the wash bucket"
	Dropped    Cause = "went on with a fallen mitt"
	NoGuard    Cause = "rinsed without a guard"
	Alike      Cause = "buckets alike"
	MixedUp    Cause = "buckets mixed up"
	Shallow    Cause = "too little water"
	Floating   Cause = "guard not seated"
	Tight      Cause = "guard pressed too hard"
	WrongDose  Cause = "wrong dose"
	WrongHeat  Cause = "wrong temperature"
	NoJet      Cause = "no suds made"
	SudsFirst  Cause = "jet before the product"
	WashFirst  Cause = "wash bucket first"
	WrungIn    Cause = "wrung inside"
	Brown      Cause = "brown water"
	DarkLoad   Cause = "loaded from a dark wash bucket"
	Rubbed     Cause = "rubbed with the towel"
	DryTowel   Cause = "dry towel"
	FullTowel  Cause = "full towel"
	Unsheeted  Cause = "not sheeted"
	GritTaken  Cause = "grit from unwashed paint"
	ShutTowel  Cause = "the body's towel in the shuts"
	WheelTowel Cause = "the body's towel on the wheels"
	WheelsSoon Cause = "wheels before the body"
	Evaporated Cause = "water dried on it"
	Unhidden   Cause = "hidden water left"
	SoonLook   Cause = "looked again too soon"
	HotWheel   Cause = "on a hot wheel"
	TooSoon    Cause = "off before it had worked"
	TooLate    Cause = "off too late"
	DriedOn    Cause = "product dried on it"
)

// Values lists the causes.
func (Cause) Values() []string {
	return stringsOf(Circles, Pressing, Bent, Against, Upward, Loaded, DryPanel, Scrubbed, FilmEdge,
		MeshWide, MeshDark, NoSuds, DirtyDip, Dropped, NoGuard,
		Alike, MixedUp, Shallow, Floating, Tight, WrongDose, WrongHeat, NoJet, SudsFirst, WashFirst, WrungIn, Brown, DarkLoad,
		Rubbed, DryTowel, FullTowel, Unsheeted, GritTaken, ShutTowel, WheelTowel, WheelsSoon, Evaporated, Unhidden, SoonLook,
		HotWheel, TooSoon, TooLate, DriedOn)
}

// fails are the causes that no run passes with: what harms the paint for certain, or is unsafe.
var fails = map[Cause]bool{Circles: true, DryPanel: true, MeshDark: true, Dropped: true, MixedUp: true, Floating: true,
	WrongDose: true, Brown: true, Rubbed: true, GritTaken: true, WheelTowel: true, HotWheel: true, TooLate: true, DriedOn: true}

// words say each cause and what to do instead.
var words = map[Cause]string{
	Circles:    "In circles: straight lines only, circles show from everywhere",
	Pressing:   "Pressed: the weight of the mitt is enough",
	Bent:       "Not straight: draw it from end to end, then lift",
	Against:    "Across the way this shop strokes",
	Upward:     "Back up over the body line with a used face: grit from below meets what was clean",
	Loaded:     "The face carries more than the paint forgives: turn it or rinse",
	DryPanel:   "Over suds that had dried: wet the panel first",
	Scrubbed:   "Over the same place a third time: that is scrubbing",
	FilmEdge:   "Across the film's edge: go along it, or off it",
	MeshWide:   "The mesh where no bugs are: the plush side for the rest",
	MeshDark:   "The mesh on dark gloss marks it: wet the panel so that they soak, and take them with the plush side",
	NoSuds:     "Hardly any suds in the mitt: load it",
	DirtyDip:   "The dirty mitt went into the wash bucket: rinse it first",
	Dropped:    "With a mitt that had been on the ground: take the spare",
	NoGuard:    "Rinsed over a guard that does not sit: seat it first",
	Alike:      "Two buckets cannot be told apart at a glance: label each for its work",
	MixedUp:    "The dirty mitt went into the wrong bucket: tell them apart before the first dip",
	Shallow:    "Too little water to cover the mitt: fill half to three quarters",
	Floating:   "The guard does not sit: tilt it in and press it flat until it is snug, under water",
	Tight:      "Pressed in so hard that it will not come out: snug is enough",
	WrongDose:  "Not the label's dose: measure what the label asks for, for the water that is in it",
	WrongHeat:  "Not as warm as the label asks for",
	NoJet:      "No suds made: let the jet in once the product is in",
	SudsFirst:  "The jet before the product: a little water, the guard, the product, then the jet",
	WashFirst:  "The rinse bucket is filled first: then no product gets into it",
	WrungIn:    "Wrung inside the bucket: wring outside, or it goes back into the water",
	Brown:      "On with water so dirty that the guard cannot be seen: change it",
	DarkLoad:   "Loaded from a dark wash bucket: make it anew",
	Rubbed:     "Rubbed, or in circles: lay it flat and draw it off by the edge",
	DryTowel:   "A bone-dry towel drags and does not drink: damp it first",
	FullTowel:  "The towel was full: wring it or change it when it stops drinking",
	Unsheeted:  "The whole water by towel: sheet it off with the open hose first",
	GritTaken:  "Up to the unwashed neighbour: leave a wet margin there",
	ShutTowel:  "The body's towel in the shuts: they have their own",
	WheelTowel: "The body's towel on the wheels: never wholly clean, they have their own",
	WheelsSoon: "The wheels before the body: they come last",
	Evaporated: "Water dried on it before the towel came: flats first, and in sun a section at a time",
	Unhidden:   "Water was left in hiding: it runs out as a line of spots",
	SoonLook:   "Looked again before five minutes: most still hides",
	HotWheel:   "On a hot wheel: feel it first, and cool it with water",
	TooSoon:    "Off before it had worked: the label's time is not up",
	TooLate:    "On longer than its label allows",
	DriedOn:    "It dried where it was: off sooner, or less at a time",
}
