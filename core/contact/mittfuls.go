package contact

import (
	"math"
	"slices"

	"uskel/core/vehicle"
)

// Doing is one act, for a wash with the zone and how much of it, as people say it.
type Doing struct {
	Do   MoveKind     `json:"do"`
	Zone vehicle.Zone `json:"zone,omitempty"`
	Part string       `json:"part,omitempty" doc:"of the whole zone, in words; absent for all of it"`
}

// Mittful is what is done between two rinses of the mitt.
type Mittful struct {
	Acts  []Doing        `json:"acts"`
	Zones []vehicle.Zone `json:"zones"`
}

// Mittfuls cuts a plan at its rinses: a mittful each, and a rinse after each but the last.
func (p Plan) Mittfuls() []Mittful {
	list := []Mittful{}
	now := Mittful{Acts: []Doing{}, Zones: []vehicle.Zone{}}
	left := map[vehicle.Zone]float64{}
	for _, m := range p.Moves {
		switch m.Kind {
		case RubGuard, SwishOnly:
			list = append(list, now)
			now = Mittful{Acts: []Doing{}, Zones: []vehicle.Zone{}}
		case Flip:
			now.Acts = append(now.Acts, Doing{Do: Flip})
		case LowerMitt:
			now.Acts = append(now.Acts, Doing{Do: LowerMitt})
		case WashZone:
			before, begun := left[m.Zone]
			if !begun {
				before = 1
			}
			share := before * m.Share
			left[m.Zone] = before - share
			now.Acts = append(now.Acts, Doing{WashZone, m.Zone, partOf(share, before)})
			if !slices.Contains(now.Zones, m.Zone) {
				now.Zones = append(now.Zones, m.Zone)
			}
		}
	}
	if len(now.Acts) > 0 {
		list = append(list, now)
	}
	return list
}

// parts are shares of a zone as people say them; what is nearest to none of these is most of it.
var parts = []struct {
	share float64
	says  string
}{{0.25, "a quarter"}, {1. / 3, "a third"}, {0.5, "half"}, {2. / 3, "two thirds"}, {0.75, "three quarters"}, {0.9, "most"}}

// partOf says a share of a zone of which so much was left; nothing for all of it.
func partOf(share, before float64) string {
	if share > 0.97 {
		return ""
	}
	if before < 0.99 && before-share < 0.03 {
		return "the rest"
	}
	best := parts[0]
	for _, p := range parts {
		if math.Abs(p.share-share) < math.Abs(best.share-share) {
			best = p
		}
	}
	return best.says
}
