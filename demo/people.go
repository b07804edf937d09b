// Package demo is an invented shop: a wash yard beside a small island's ferry slip. Nobody and nothing in
// it is real. Everything is written through the same core and store as a shop's own work, from a fixed seed.
package demo

import (
	"math/rand"
	"slices"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/store"
)

// Password is everybody's, in the demo only.
const Password = "saltwater"

// Hand is an invented person and how they work.
type Hand struct {
	Name, SignIn string
	Role         shop.Role
	pace         float64 // of the standard time; 1 is practised
	spread       float64 // coefficient of variation of a step's time (docs/models.md)
	care         float64 // chance that a checklist item brings up nothing
}

// Hands are the people of the shop.
var Hands = []Hand{
	{"Maren Tolley", "maren", shop.Lead, 0.95, 0.12, 0.97},
	{"Osk Pellow", "osk", shop.Washer, 0.97, 0.15, 0.95},
	{"Ines Varga", "ines", shop.Washer, 1.02, 0.15, 0.97},
	{"Jory Dunn", "jory", shop.Washer, 0.88, 0.18, 0.90}, // fast, and it shows
	{"Pia Lunt", "pia", shop.Trainee, 1.85, 0.30, 0.86},
	{"Cal Strand", "cal", shop.Trainee, 1.95, 0.30, 0.80},
	{"Hesper Quill", "hesper", shop.Auditor, 1, 0.15, 1},
	{"Lis Marsh", "lis", shop.Auditor, 1, 0.15, 1},
	{"Bram Oakes", "bram", shop.Auditor, 1, 0.15, 1}, // looks kindly upon things
}

// joined is how many of them are there from the beginning: the ids of those who joined are from dice of their own.
const joined = 7

func (h Hand) id(l *loader) string {
	at := slices.IndexFunc(Hands, func(o Hand) bool { return o.SignIn == h.SignIn })
	if at < joined {
		return l.id()
	}
	return idFrom(rand.New(rand.NewSource(-Seed - int64(at))))
}

type car struct {
	plate, label string
	spec         vehicle.Vehicle
	watch        []vehicle.Watch
	protection   condition.Protection
}

var cars = []car{
	{
		"TID 101",
		"District carers' hatchback",
		spec(vehicle.Hatch, vehicle.White, vehicle.Ordinary, 15, vehicle.PlainSpokes),
		nil,
		condition.Protection{Kind: condition.Sealant, AgeDays: 60, Water: condition.Beads},
	},
	{
		"TID 102",
		"District carers' hatchback, blue",
		spec(vehicle.Hatch, vehicle.Mid, vehicle.Ordinary, 15, vehicle.PlainSpokes),
		nil,
		condition.Protection{Kind: condition.Bare, Water: condition.Flat},
	},
	{
		"PLT 7",
		"Harbour pilot's pickup",
		spec(vehicle.Pickup, vehicle.Dark, vehicle.Hard, 18, vehicle.OpenSpokes),
		[]vehicle.Watch{vehicle.BlackPlastic},
		condition.Protection{Kind: condition.Wax, AgeDays: 40, Water: condition.Flat},
	},
	{
		"BUN 55",
		"Baker's van",
		spec(vehicle.Van, vehicle.White, vehicle.Ordinary, 16, vehicle.PlainSpokes),
		nil,
		condition.Protection{Kind: condition.Bare, Water: condition.Flat},
	},
	{
		"VOW 1",
		"Wedding soft top",
		spec(vehicle.SoftTop, vehicle.White, vehicle.Soft, 17, vehicle.ManySpokes),
		[]vehicle.Watch{vehicle.OpenTop},
		condition.Protection{Kind: condition.Wax, AgeDays: 20, Water: condition.Beads},
	},
	{
		"CAB 12",
		"Island taxi, saloon",
		spec(vehicle.Saloon, vehicle.Silver, vehicle.Ordinary, 17, vehicle.OpenSpokes),
		nil,
		condition.Protection{Kind: condition.Sealant, AgeDays: 100, Water: condition.Flat},
	},
	{
		"CAB 14",
		"Island taxi, estate",
		spec(vehicle.Estate, vehicle.Mid, vehicle.Ordinary, 17, vehicle.OpenSpokes),
		[]vehicle.Watch{vehicle.StoneChips},
		condition.Protection{Kind: condition.Sealant, AgeDays: 90, Water: condition.Flat},
	},
	{
		"VLT 30",
		"Coated electric saloon",
		electric(spec(vehicle.Saloon, vehicle.Dark, vehicle.Ordinary, 19, vehicle.ManySpokes)),
		[]vehicle.Watch{vehicle.GlossBlack},
		condition.Protection{Kind: condition.Coating, AgeDays: 210, Water: condition.Beads},
	},
	{
		"RED 9",
		"Film-fronted coupe",
		spec(vehicle.Saloon, vehicle.Mid, vehicle.Soft, 19, vehicle.OpenSpokes),
		[]vehicle.Watch{vehicle.FilmEdges},
		condition.Protection{Kind: condition.FilmWrap, AgeDays: 400, Water: condition.Beads},
	},
	{
		"MUD 4",
		"Satin-wrapped off-roader",
		spec(vehicle.SportUtility, vehicle.Dark, vehicle.Satin, 18, vehicle.OpenSpokes),
		[]vehicle.Watch{vehicle.FilmEdges, vehicle.BlackPlastic},
		condition.Protection{Kind: condition.FilmWrap, AgeDays: 120, Water: condition.Beads},
	},
}

func spec(b vehicle.Body, s vehicle.Shade, f vehicle.Finish, inches int, spokes vehicle.Spokes) vehicle.Vehicle {
	return vehicle.Vehicle{Body: b, Shade: s, Finish: f, Wheels: vehicle.WheelSpec{Inches: inches, Spokes: spokes}}
}

func electric(v vehicle.Vehicle) vehicle.Vehicle { v.Electric, v.Wheels.Bare = true, true; return v }

// The three places of the yard. The island's rules let wash water run off only over the two drained bays.
var (
	coveredBay = condition.Place{ID: "covered-bay", Name: "Covered bay", Cover: climate.Indoors,
		Supply: condition.PressureWasher, Runoff: true, Blower: true, Heading: 20}
	openBay = condition.Place{ID: "open-bay", Name: "Open bay", Cover: climate.OpenSky,
		Supply: condition.PressureWasher, Runoff: true, Blower: true, Heading: 110}
	slipCorner = condition.Place{ID: "slip-corner", Name: "Slip corner", Cover: climate.InShade,
		Supply: condition.Carried, Runoff: false, Heading: 290}
)

var products = []shelf.Product{
	product("gull-shampoo", "Gullwing shampoo", procedure.Shampoo, 1, 500, measure.PartsPlusParts, 0, 1200, 7, ""),
	product("spume", "Spume foam", procedure.FoamProduct, 1, 9, measure.PartsPlusParts, 600, 850, 7.5, ""),
	product(
		"zest",
		"Zest citrus wash",
		procedure.CitrusWash,
		10,
		1,
		measure.WaterFirst,
		600,
		700,
		9.5,
		"not on hot or bare metal; keep off plain black plastic",
	),
	product(
		"slipway",
		"Slipway cleaner",
		procedure.Degreaser,
		10,
		1,
		measure.WaterFirst,
		180,
		600,
		11,
		"gloves and eye protection; never on hot wheels",
	),
	product("stillwater", "Stillwater rinseless", procedure.Rinseless, 256, 1, measure.WaterFirst, 0, 2600, 7, ""),
	product("runaway", "Runaway drying aid", procedure.DryingAid, 1, 9, measure.PartsPlusParts, 120, 1100, 7, ""),
	product(
		"keelcoat",
		"Keelcoat spray sealant",
		procedure.SpraySeal,
		0,
		0,
		measure.PartsPlusParts,
		0,
		2400,
		7,
		"cool panels only",
	),
	product("lantern", "Lantern glass cleaner", procedure.GlassClean, 0, 0, measure.PartsPlusParts, 0, 500, 8, ""),
	product(
		"spindrift",
		"Spindrift wheel gel",
		procedure.WheelCleaner,
		4,
		1,
		measure.WaterFirst,
		300,
		1300,
		7.5,
		"gloves and eye protection; cool wheels only",
	),
	product(
		"bleeder",
		"Redrun iron remover",
		procedure.IronRemover,
		0,
		0,
		measure.PartsPlusParts,
		300,
		1900,
		6.5,
		"good air; never in the sun; never with anything else",
	),
	product(
		"pebble",
		"Pebble spot remover",
		procedure.SpotRemover,
		0,
		0,
		measure.PartsPlusParts,
		60,
		2100,
		2.5,
		"acid: gloves and eye protection; never on bare metal",
	),
	product(
		"hull-shampoo",
		"Hullguard coating shampoo",
		procedure.CoatingShampoo,
		1,
		350,
		measure.PartsPlusParts,
		0,
		1800,
		7,
		"",
	),
	product(
		"topsail",
		"Topsail coating top-up",
		procedure.CoatingTopUp,
		0,
		0,
		measure.PartsPlusParts,
		0,
		3200,
		7,
		"cool panels only",
	),
	product(
		"swell",
		"Swell spray wax",
		procedure.SprayWax,
		0,
		0,
		measure.PartsPlusParts,
		0,
		1400,
		7,
		"not on satin or matte",
	),
	product("haze", "Seahaze waterless mist", procedure.WaterlessMist, 0, 0, measure.PartsPlusParts, 0, 1000, 7, ""),
	product(
		"bollard",
		"Bollard tyre gel",
		procedure.TyreGel,
		0,
		0,
		measure.PartsPlusParts,
		0,
		1500,
		7,
		"dry rubber only: it slings",
	),
}

func product(
	id, name string,
	class procedure.ProductClass,
	first, second int64,
	reading measure.Reading,
	dwellMax measure.Seconds,
	cost measure.Money,
	ph float64,
	cautions string,
) shelf.Product {
	p := shelf.Product{
		ID:       id,
		Name:     name,
		Class:    class,
		Reading:  reading,
		DwellMax: dwellMax,
		CostPerL: cost,
		PH:       ph,
		Cautions: cautions,
	}
	if first > 0 {
		r, err := measure.NewRatio(first, second, reading)
		if err != nil {
			panic(err)
		}
		p.Ratio = &r
	}
	return p
}

// dryingColour is the colour of what dries.
const dryingColour = "white: drying"

// cloths are the yard's sets. The drying towels are the bad batch that the times tell of.
var cloths = []store.ClothRow{
	{Kind: "long-pile mitt", Colour: "tide: paint", Count: 8, WashLimit: 60},
	{Kind: "wheel mitt", Colour: "rust: wheels only", Count: 6, WashLimit: 40},
	{Kind: "drying towel", Colour: dryingColour, Count: 5, WashLimit: 25},
	{Kind: "shut towel", Colour: "slate: shuts", Count: 6, WashLimit: 80},
	{Kind: "glass cloth", Colour: "sky: glass", Count: 10, WashLimit: 100},
}

var vessels = []shelf.Vessel{
	{Name: "Wash bucket, to the line", Kind: shelf.Bucket, Holds: measure.Ml(12_000)},
	{Name: "Rinse bucket, to the line", Kind: shelf.Bucket, Holds: measure.Ml(14_000)},
	{Name: "Foam bottle", Kind: shelf.FoamBottle, Holds: measure.Ml(1000)},
	{Name: "Pump sprayer", Kind: shelf.Sprayer, Holds: measure.Ml(2000)},
	{Name: "Wheel sprayer", Kind: shelf.Sprayer, Holds: measure.Ml(1000)},
	{Name: "shampoo cap", Kind: shelf.Cap, Holds: measure.Ml(12)},
	{Name: "drum pump", Kind: shelf.Pump, Holds: measure.Ml(20)},
}
