package condition

// The questions on which practitioners disagree (docs/trade.md, section 8). Each is a fact like any other: a step's
// condition can ask how it is settled. How it is settled by default is in core/procedure, since that follows from
// conditions.
const (
	WheelsWhen      Fact = "wheels when"
	WheelsRinsed    Fact = "wheels rinsed first"
	CleanerFrom     Fact = "wheel cleaner from"
	RinsedFirst     Fact = "rinse before foam"
	FoamBody        Fact = "foam body"
	FoamFrom        Fact = "foam from"
	FoamOffFrom     Fact = "foam rinsed from"
	FoamAtAll       Fact = "foam at all"
	OverFoam        Fact = "wash over foam"
	MittRinse       Fact = "mitt in the rinse bucket"
	MittsOrBuckets  Fact = "mitts or buckets"
	StrokeDirection Fact = "strokes"
	SpongeUse       Fact = "sponge"
	BrushWhen       Fact = "detailing brush"
	SoapDries       Fact = "soap left to dry"
	DryingAidUse    Fact = "drying aid"
	TowelState      Fact = "drying towel"
	DryWith         Fact = "dry with"
	ShutsWhen       Fact = "shuts when"
	DishSoap        Fact = "dish soap"
	CoverAfter      Fact = "car cover"
)

// School is one answer to a question and its reason.
type School struct {
	Value  string `json:"value"`
	Reason string `json:"reason"`
}

// Question is a disagreement of the trade with the reasons of its schools.
type Question struct {
	Fact    Fact     `json:"fact"`
	Text    string   `json:"text"`
	Schools []School `json:"schools"`
}

// The answers that conditions speak of by name.
const (
	First          = "first"
	DuringFoam     = "during foam"
	Last           = "last"
	Yes            = "yes"
	No             = "no"
	FromTop        = "top"
	FromBottom     = "bottom"
	Thick          = "thick"
	Thin           = "thin"
	RinseItOff     = "rinse first"
	WashOver       = "over the foam"
	Rub            = "rub on the guard"
	Swish          = "swish"
	TwoBuckets     = "two buckets"
	ManyMitts      = "many mitts"
	Along          = "along the car"
	UpAndDown      = "up and down on the sides"
	Crosshatch     = "crosshatch"
	NoSponge       = "none"
	SplitFaceOnly  = "split-face"
	InPrewash      = "in the pre-wash"
	InContact      = "in the contact wash"
	MayDry         = "may dry"
	ReWet          = "re-wet"
	DryTowel       = "dry"
	DampTowel      = "damp"
	BlowerOnly     = "blower"
	TowelOnly      = "towel"
	BlowerAndTowel = "blower, then towel"
	WithTheWash    = "with the wash"
	AfterDrying    = "after drying"
)

var questions = []Question{
	{WheelsWhen, "Wheels before or during foam?", []School{
		{First, "Alone and first: the dirtiest spray never lands on clean paint."},
		{DuringFoam, "While foam works: saves the dwell time."},
		{Last, "Last, where nothing is rinsed: brake dust stays away from the paint's cloths."}}},
	{WheelsRinsed, "Rinse wheels before the cleaner?", []School{
		{No, "Water dilutes the cleaner."}, {Yes, "Knocks off the lumps."}}},
	{CleanerFrom, "Wheel cleaner from the top, or in rows from the bottom?", []School{
		{FromTop, "Covers the whole wheel."}, {FromBottom, "Runs meet product: no streak stains."}}},
	{RinsedFirst, "Rinse before foam?", []School{
		{Yes, "Always: loose dirt goes first."}, {No, "Foam works best on dry paint."}}},
	{FoamBody, "Foam thick or thin?", []School{
		{Thick, "Lubricates the mitt."}, {Thin, "Must drip and carry dirt down."}}},
	{
		FoamFrom,
		"Foam from the bottom or the top?",
		[]School{
			{
				FromBottom,
				"Even, you see where you stopped, longest dwell on the dirt.",
			},
			{FromTop, "Gravity helps, and it is quicker."},
		},
	},
	{FoamOffFrom, "Rinse foam off from the bottom or the top?", []School{
		{FromBottom, "Shows what is left."}, {FromTop, "Down, once: nothing runs over what is clean."}}},
	{
		FoamAtAll,
		"Is foam needed at all?",
		[]School{
			{
				Yes,
				"It carries grit away before anything touches.",
			},
			{No, "A good rinse does nearly as much on light dirt."},
		},
	},
	{OverFoam, "Wash over the foam, or rinse it first?", []School{
		{WashOver, "More slip."}, {RinseItOff, "The dirt is carried away before the mitt comes."}}},
	{MittRinse, "Mitt in the rinse bucket: rub on the guard?", []School{
		{Rub, "Gets the grit out of the pile."}, {Swish, "Swish and wring outside: the bottom is not stirred."}}},
	{MittsOrBuckets, "One mitt and two buckets, or many mitts?", []School{
		{TwoBuckets, "Rinsed well, one mitt is enough."}, {ManyMitts, "A fresh one a section, no rinse bucket."}}},
	{
		StrokeDirection,
		"Strokes: which way?",
		[]School{
			{
				Along,
				"With the airflow: what marks there are hide best.",
			},
			{UpAndDown, "Dirt goes the way water goes."},
			{Crosshatch, "Both ways, for coverage."},
		},
	},
	{
		SpongeUse,
		"Sponge?",
		[]School{
			{
				NoSponge,
				"A plain sponge holds grit at its face and scratches.",
			},
			{SplitFaceOnly, "A split face lets grit go into its slits."},
		},
	},
	{
		BrushWhen,
		"Detailing brush during the pre-wash?",
		[]School{
			{
				InPrewash,
				"Reaches badges while foam works.",
			},
			{InContact, "In the pre-wash it touches before the dirt is off."},
		},
	},
	{SoapDries, "Soap left to dry on a wheel or panel?", []School{
		{MayDry, "Harmless, and better than bare water."}, {ReWet, "Never let anything dry: it marks."}}},
	{DryingAidUse, "Drying aid?", []School{
		{Yes, "Lubricates and adds protection."}, {No, "Needless with a good towel or blower."}}},
	{TowelState, "Towel dry or damp?", []School{
		{DryTowel, "Takes more water at once."}, {DampTowel, "Damped on the glass first it drinks better."}}},
	{
		DryWith,
		"Blower or towel?",
		[]School{
			{
				BlowerOnly,
				"Touches nothing.",
			},
			{TowelOnly, "Quiet, and quick on a beading car."},
			{BlowerAndTowel, "Air takes most, a towel the rest."},
		},
	},
	{
		ShutsWhen,
		"Shuts when?",
		[]School{
			{
				WithTheWash,
				"While everything is wet.",
			},
			{AfterDrying, "Last, with their own towel: grease stays off the paint's cloths."},
		},
	},
	{DishSoap, "Gentle dish soap as shampoo?", []School{
		{Yes, "Cheap slip."}, {No, "Leaves a gloss film that hides what water does, and strips wax."}}},
	{CoverAfter, "Car cover after washing?", []School{
		{Yes, "Keeps dust off."}, {No, "Outdoors it moves and rubs grit in."}}},
}

// Questions lists the disagreements in the order of the work.
func Questions() []Question { return questions }

func (q Question) values() []string {
	values := make([]string, len(q.Schools))
	for i, s := range q.Schools {
		values[i] = s.Value
	}
	return values
}

var questionLabels = map[Fact]string{
	WheelsWhen:      "the time for wheels",
	WheelsRinsed:    "rinsing wheels before the cleaner",
	CleanerFrom:     "the wheel cleaner's start",
	RinsedFirst:     "rinsing before foam",
	FoamBody:        "the foam's body",
	FoamFrom:        "the foam's start",
	FoamOffFrom:     "the foam rinse's start",
	FoamAtAll:       "using foam",
	OverFoam:        "what the mitt meets",
	MittRinse:       "the mitt's rinse",
	MittsOrBuckets:  "the mitt's school",
	StrokeDirection: "the stroke",
	SpongeUse:       "the sponge allowed",
	BrushWhen:       "the brush's time",
	SoapDries:       "what soap may do",
	DryingAidUse:    "using a drying aid",
	TowelState:      "the drying towel",
	DryWith:         "the drying tool",
	ShutsWhen:       "the time for shuts",
	DishSoap:        "using dish soap",
	CoverAfter:      "using a car cover",
}

func init() {
	for _, q := range questions {
		factInfos = append(
			factInfos,
			FactInfo{Fact: q.Fact, Label: questionLabels[q.Fact], Kind: Choice, Choices: q.values(), Question: true},
		)
	}
}
