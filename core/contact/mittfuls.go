package contact

import (
	"fmt"
	"math"
	"slices"
	"strings"

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

// InWords says the first mittful and how it goes on, as a lead tells it: "half the roof, flip, the rest of it, then
// rinse". The words follow the cadence, so that they never stand beside other figures.
func (p Plan) InWords() string {
	fills := p.Mittfuls()
	if len(fills) == 0 {
		return ""
	}
	var said []string
	for _, d := range fills[0].Acts {
		switch {
		case d.Do == Flip:
			said = append(said, "flip")
		case d.Do != WashZone:
			said = append(said, "take the lower mitt")
		case d.Part == "":
			said = append(said, "the "+d.Zone.Label())
		case d.Part == theRest:
			said = append(said, "the rest of the "+d.Zone.Label())
		default:
			said = append(said, d.Part+" of the "+d.Zone.Label())
		}
	}
	words := strings.Join(said, ", ")
	if len(fills) == 1 {
		return words + ": one mittful does it."
	}
	return fmt.Sprintf("%s, then rinse the mitt; %d rinses in all.", words, p.Rinses)
}

// theRest is what is left of a zone that was begun.
const theRest = "the rest"

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
		return theRest
	}
	best := parts[0]
	for _, p := range parts {
		if math.Abs(p.share-share) < math.Abs(best.share-share) {
			best = p
		}
	}
	return best.says
}
