package vehicle

import "fmt"

// Body is the kind of body.
type Body string

// The bodies Uskel draws and measures.
const (
	Hatch        Body = "hatch"
	Saloon       Body = "saloon"
	Estate       Body = "estate"
	SportUtility Body = "sport utility"
	Pickup       Body = "pickup"
	Van          Body = "van"
	SoftTop      Body = "soft top"
)

// Values lists the bodies.
func (Body) Values() []string {
	return []string{"hatch", "saloon", "estate", "sport utility", "pickup", "van", "soft top"}
}

// Profile holds the body's proportions in metres, from which the unfolded car is drawn: heights above the ground,
// distances from the nose. All are invented for a typical vehicle of the kind (model).
type Profile struct {
	Length      float64 `json:"length"`
	Width       float64 `json:"width"`
	Height      float64 `json:"height"`
	FrontAxle   float64 `json:"frontAxle"`
	RearAxle    float64 `json:"rearAxle"`
	WheelRadius float64 `json:"wheelRadius" doc:"with tyre"`
	ScreenBase  float64 `json:"screenBase" doc:"foot of the windscreen"`
	RoofStart   float64 `json:"roofStart" doc:"head of the windscreen"`
	RoofEnd     float64 `json:"roofEnd" doc:"head of the rear glass"`
	DeckStart   float64 `json:"deckStart" doc:"foot of the rear glass"`
	NoseHeight  float64 `json:"noseHeight"`
	CowlHeight  float64 `json:"cowlHeight" doc:"at the foot of the windscreen"`
	DeckHeight  float64 `json:"deckHeight" doc:"at the foot of the rear glass"`
	TailHeight  float64 `json:"tailHeight"`
	LineHeight  float64 `json:"lineHeight" doc:"body line between upper and lower doors"`
	SillHeight  float64 `json:"sillHeight"`
	CabEnd      float64 `json:"cabEnd" doc:"where the side glass ends"`
}

type bodyFacts struct {
	label   string
	scale   float64 // of the mid-size areas: docs/trade.md, section 2 (model)
	profile Profile
}

var bodies = map[Body]bodyFacts{
	Hatch: {
		"Hatch",
		0.85,
		Profile{3.95, 1.72, 1.49, 0.80, 3.33, 0.31, 1.05, 1.72, 3.35, 3.78, 0.66, 0.98, 1.02, 0.90, 0.62, 0.24, 3.30},
	},
	Saloon: {
		"Saloon",
		1.15,
		Profile{4.75, 1.84, 1.44, 0.92, 3.74, 0.33, 1.42, 2.12, 3.42, 4.02, 0.64, 0.96, 1.02, 0.98, 0.62, 0.22, 3.72},
	},
	Estate: {
		"Estate",
		1.15,
		Profile{4.75, 1.84, 1.48, 0.92, 3.74, 0.33, 1.40, 2.10, 4.25, 4.62, 0.66, 0.97, 1.02, 0.95, 0.62, 0.22, 4.28},
	},
	SportUtility: {
		"Sport utility",
		1.30,
		Profile{4.65, 1.92, 1.76, 0.92, 3.68, 0.38, 1.30, 1.90, 4.05, 4.48, 0.92, 1.18, 1.22, 1.10, 0.80, 0.36, 4.05},
	},
	Pickup: {
		"Pickup",
		1.25,
		Profile{5.30, 1.90, 1.80, 0.98, 4.15, 0.39, 1.42, 2.00, 3.16, 3.38, 0.98, 1.20, 1.16, 1.14, 0.84, 0.42, 3.18},
	},
	Van: {
		"Van",
		1.80,
		Profile{5.20, 1.98, 2.10, 0.95, 4.10, 0.34, 0.72, 1.35, 5.02, 5.14, 0.92, 1.24, 1.30, 1.20, 0.80, 0.28, 2.30},
	},
	SoftTop: {
		"Soft top",
		0.85,
		Profile{4.10, 1.76, 1.30, 0.86, 3.30, 0.32, 1.42, 2.00, 2.72, 3.20, 0.60, 0.88, 0.92, 0.86, 0.58, 0.20, 2.86},
	},
}

// Label is the body's name.
func (b Body) Label() string { return bodies[b].label }

// Profile gives the proportions for drawing.
func (b Body) Profile() Profile { return bodies[b].profile }

// Parts lists the body's zones with areas in m2, in the order of a walk round the car.
func (b Body) Parts() []Part {
	facts, ok := bodies[b]
	if !ok {
		return nil
	}
	parts := make([]Part, 0, len(zoneFacts))
	for _, p := range zoneFacts {
		p.Area = roundTo(p.Area*facts.scale, 1000)
		if p.Band == Wheels { // wheels scale with their diameter, not with the body
			p.Area = zoneFacts[zoneIndex[p.Zone]].Area
		}
		if b == SoftTop && p.Zone == Roof {
			p.Label, p.Surface = "soft top", Fabric
		}
		if b == Pickup && p.Zone == BootLid {
			p.Label = "bed and tailgate top"
		}
		if b == Van && p.Zone == BootLid {
			p.Label = "rear doors, upper"
		}
		parts = append(parts, p)
	}
	return parts
}

// Part finds one zone on the body.
func (b Body) Part(z Zone) (Part, error) {
	for _, p := range b.Parts() {
		if p.Zone == z {
			return p, nil
		}
	}
	return Part{}, fmt.Errorf("zone %q on body %q: no such zone", z, b)
}

// AreaOf sums the areas of zones in m2; zones the body does not have count nothing.
func (b Body) AreaOf(zones []Zone) float64 {
	want := make(map[Zone]bool, len(zones))
	for _, z := range zones {
		want[z] = true
	}
	sum := 0.0
	for _, p := range b.Parts() {
		if want[p.Zone] {
			sum += p.Area
		}
	}
	return sum
}

func roundTo(f float64, per float64) float64 { return float64(int64(f*per+0.5)) / per }

// PanelArea is what the trade means by "a panel" when it counts panels before a rinse, in m2: two
// panels are what one mitt face does on light soil, 1.6 m2 (model, from the calibration in docs/models.md).
const PanelArea = 0.8
