package shop

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/wrong"
)

// PlaceKind is a kind of place that shops wash at.
type PlaceKind string

// The kinds of place.
const (
	CoveredBay PlaceKind = "covered bay"
	OpenYard   PlaceKind = "open yard"
	Garage     PlaceKind = "garage"
	Mobile     PlaceKind = "mobile"
)

// PlaceTemplate is what a kind of place usually is (common practice, no source); everything can be changed.
type PlaceTemplate struct {
	Kind     PlaceKind        `json:"kind"`
	Name     string           `json:"name"`
	Says     string           `json:"says"`
	Cover    climate.Cover    `json:"cover"`
	Supply   condition.Supply `json:"supply"`
	Blower   bool             `json:"blower"`
	Machines []Equipment      `json:"machines"`
}

var (
	pressureWasher = Equipment{ID: "pressure washer", Name: "Pressure washer", Count: 1}
	hose           = Equipment{ID: "hose", Name: "Hose", Count: 1}
	blower         = Equipment{ID: "blower", Name: "Blower", Count: 1}
)

// PlaceTemplates are the four that a shop begins with.
var PlaceTemplates = []PlaceTemplate{
	{
		Kind:     CoveredBay,
		Name:     "Covered bay",
		Says:     "Under a roof, with a drain and a pressure washer",
		Cover:    climate.Indoors,
		Supply:   condition.PressureWasher,
		Blower:   true,
		Machines: []Equipment{pressureWasher, hose, blower},
	},
	{
		Kind:     OpenYard,
		Name:     "Open yard",
		Says:     "Under the sky: sun, wind and rain decide what can be done",
		Cover:    climate.OpenSky,
		Supply:   condition.PressureWasher,
		Blower:   true,
		Machines: []Equipment{pressureWasher, hose, blower},
	},
	{Kind: Garage, Name: "Garage", Says: "Indoors with a hose", Cover: climate.Indoors,
		Supply: condition.Hose, Blower: true, Machines: []Equipment{hose, blower}},
	{
		Kind:     Mobile,
		Name:     "At the customer's",
		Says:     "Water comes along; neighbours and drains are not yours",
		Cover:    climate.InShade,
		Supply:   condition.Carried,
		Machines: []Equipment{},
	},
}

// Values lists the kinds.
func (PlaceKind) Values() []string {
	values := make([]string, len(PlaceTemplates))
	for i, t := range PlaceTemplates {
		values[i] = string(t.Kind)
	}
	return values
}

// place is one of this kind.
func (t PlaceTemplate) place(name string, runoff bool, heading float64) condition.Place {
	return condition.Place{Name: cmp.Or(strings.TrimSpace(name), t.Name), Cover: t.Cover, Supply: t.Supply, Runoff: runoff,
		Blower: t.Blower, Heading: heading}
}

// PlaceAnswer is a place of a new shop.
type PlaceAnswer struct {
	Kind    PlaceKind `json:"kind"`
	Name    string    `json:"name,omitempty" maxLength:"80" doc:"the template's when absent"`
	Runoff  bool      `json:"runoff,omitempty" doc:"Local rules let wash water run to the drain here. Ask first: when unsure, no."`
	Heading float64   `json:"heading,omitempty" minimum:"0" maximum:"360" doc:"Where a vehicle's nose points, degrees from north"`
}

// WaterAnswer is the supply as a strip or a meter told it.
type WaterAnswer struct {
	Hardness float64              `json:"hardness" minimum:"0" maximum:"5000"`
	Unit     measure.HardnessUnit `json:"unit"`
	Solids   float64              `json:"solids,omitempty" minimum:"0" maximum:"10000" doc:"mg/l by a meter; by the hardness when absent"`
}

// Price is what a service costs the customer.
type Price struct {
	Service string        `json:"service" maxLength:"80" doc:"id of a service"`
	Amount  measure.Money `json:"amount" minimum:"0" doc:"minor units"`
}

// Answers is all that setting a shop up asks; whatever is left out can be said later.
type Answers struct {
	ShopName string                    `json:"shopName" minLength:"1" maxLength:"80"`
	Units    measure.System            `json:"units"`
	Currency string                    `json:"currency" minLength:"1" maxLength:"8"`
	TimeZone string                    `json:"timeZone" minLength:"1" maxLength:"60"`
	Latitude *float64                  `json:"latitude,omitempty" minimum:"-70" maximum:"70" doc:"degrees north, for the sun; about is enough"`
	Places   []PlaceAnswer             `json:"places,omitempty" maxItems:"30" doc:"a covered bay when there is none"`
	Machines []Equipment               `json:"machines,omitempty" maxItems:"20" doc:"those of the places' templates when there are none"`
	Water    *WaterAnswer              `json:"water,omitempty" doc:"hard water is assumed until it is known"`
	Pins     map[condition.Fact]string `json:"pins,omitempty" doc:"The shop's way where practitioners disagree; by the condition when unsaid"`
	Shelf    []procedure.ProductClass  `json:"shelf,omitempty" maxItems:"40" doc:"classes of product that stand on the shelf"`
	Prices   []Price                   `json:"prices,omitempty" maxItems:"40" doc:"those that have one are sold; two when none has"`
	Labour   measure.Money             `json:"labour,omitempty" minimum:"0" doc:"what an hour of work costs, minor units"`
	Launder  measure.Money             `json:"launder,omitempty" minimum:"0" doc:"what laundering a cloth costs, minor units"`
	CubicM   measure.Money             `json:"cubicMetre,omitempty" minimum:"0" doc:"what a cubic metre of water and drain costs, minor units"`
	Costs    []ClassCost               `json:"costs,omitempty" maxItems:"40" doc:"what a litre of a class on the shelf costs"`
}

// ClassCost is what a litre of a class of product costs the shop.
type ClassCost struct {
	Class    procedure.ProductClass `json:"class"`
	PerLitre measure.Money          `json:"perLitre" minimum:"0" doc:"minor units"`
}

// Settings are those that the answers make, with ids of their own.
func (a Answers) Settings(newID func() string) (Settings, error) {
	s := Settings{ShopName: strings.TrimSpace(a.ShopName), Units: a.Units, Currency: a.Currency, TimeZone: a.TimeZone,
		Latitude: a.Latitude, Pins: a.Pins, Vessels: vessels, Services: a.services(), Labour: a.Labour, Launder: a.Launder, Water: a.CubicM}
	answers := a.Places
	if len(answers) == 0 {
		answers = []PlaceAnswer{{Kind: CoveredBay}}
	}
	machines := map[string]Equipment{}
	var errs []error
	for i, answer := range answers {
		at := slices.IndexFunc(PlaceTemplates, func(t PlaceTemplate) bool { return t.Kind == answer.Kind })
		if at < 0 {
			errs = append(errs, wrong.At(fmt.Sprintf("places[%d].kind", i), "%q: use one of %q", answer.Kind, PlaceKind("").Values()))
			continue
		}
		t := PlaceTemplates[at]
		s.Places = append(s.Places, t.place(answer.Name, answer.Runoff, answer.Heading))
		for _, m := range t.Machines {
			if _, there := machines[m.ID]; !there {
				machines[m.ID] = m
				s.Machines = append(s.Machines, m)
			}
		}
	}
	if len(a.Machines) > 0 {
		s.Machines = a.Machines
	}
	if a.Water != nil {
		if _, err := measure.NewHardness(a.Water.Hardness, a.Water.Unit); err != nil {
			errs = append(errs, wrong.In("water", err))
		}
	}
	s = s.Identified(newID)
	return s, errors.Join(append(errs, s.Check(nil))...)
}

// services are those that are sold: the ones that a price was said of, or else the two maintenance washes.
func (a Answers) services() condition.Menu {
	menu := condition.StarterMenu()
	if len(a.Prices) == 0 {
		return menu[:2]
	}
	var sold condition.Menu
	for _, s := range menu {
		if at := slices.IndexFunc(a.Prices, func(p Price) bool { return p.Service == s.ID }); at >= 0 {
			s.Price = a.Prices[at].Amount
			sold = append(sold, s)
		}
	}
	return sold
}

// Products are what stands on the shelf, by class: what the labels say of them can follow, and until then the
// procedures' own ratios and dwells hold.
func (a Answers) Products() []shelf.Product {
	products := []shelf.Product{}
	for _, class := range a.Shelf {
		id := strings.ReplaceAll(string(class), " ", "-")
		if slices.ContainsFunc(products, func(p shelf.Product) bool { return p.ID == id }) {
			continue
		}
		name := strings.ToUpper(string(class[:1])) + string(class[1:])
		made := shelf.Product{ID: id, Name: name, Class: class, Reading: measure.PartsPlusParts, PH: neutral,
			Cautions: "Label not entered yet: read it before use."}
		if at := slices.IndexFunc(a.Costs, func(c ClassCost) bool { return c.Class == class }); at >= 0 {
			made.CostPerL = a.Costs[at].PerLitre
		}
		products = append(products, made)
	}
	return products
}

// neutral is the pH that a product is taken to have until its label is entered.
const neutral = 7

// usualShelf is what most shops have; each of the starters does with these (docs/trade.md, section 9).
var usualShelf = []procedure.ProductClass{
	procedure.Shampoo,
	procedure.FoamProduct,
	procedure.WheelCleaner,
	procedure.Degreaser,
	procedure.Rinseless,
	procedure.DryingAid,
	procedure.GlassClean,
	procedure.TyreGel,
}

// Cloths is a set of cloths that a shop begins with, and how often they may be laundered (common practice, no source).
type Cloths struct {
	Kind, Colour     string
	Count, WashLimit int
}

// StarterCloths are sets that are told apart by colour: what meets wheels never meets paint.
var StarterCloths = []Cloths{
	{"long-pile mitt", "blue: paint", 4, 60},
	{"wheel mitt", "red: wheels only", 3, 40},
	{
		"drying towel",
		"white: drying",
		4,
		80,
	},
	{"shut towel", "grey: shuts", 4, 80},
	{"glass cloth", "yellow: glass", 6, 100},
}

// vessels are those that the starters' doses are made up in.
var vessels = []shelf.Vessel{
	{Name: "Wash bucket, to the line", Kind: shelf.Bucket, Holds: measure.Ml(12_000)},
	{Name: "Rinse bucket, to the line", Kind: shelf.Bucket, Holds: measure.Ml(14_000)},
	{Name: "Foam bottle", Kind: shelf.FoamBottle, Holds: measure.Ml(1000)},
	{Name: "Pump sprayer", Kind: shelf.Sprayer, Holds: measure.Ml(2000)},
	{Name: "Wheel sprayer", Kind: shelf.Sprayer, Holds: measure.Ml(1000)},
}

// Choices are what setting up offers, with what is taken when nothing is said.
type Choices struct {
	Places   []PlaceTemplate          `json:"places"`
	Offers   []PlaceOffer             `json:"offers" doc:"what can be washed at each kind of place"`
	Classes  []procedure.ProductClass `json:"classes"`
	Usual    []procedure.ProductClass `json:"usual" doc:"classes that most shops have"`
	Services condition.Menu           `json:"services"`
	Units    []measure.HardnessUnit   `json:"hardnessUnits"`
}

// Offered are the choices.
func Offered() Choices {
	c := Choices{Places: PlaceTemplates, Offers: PlaceOffers(), Usual: usualShelf, Services: condition.StarterMenu()}
	for _, v := range procedure.ProductClass("").Values() {
		c.Classes = append(c.Classes, procedure.ProductClass(v))
	}
	for _, v := range measure.HardnessUnit("").Values() {
		c.Units = append(c.Units, measure.HardnessUnit(v))
	}
	return c
}
