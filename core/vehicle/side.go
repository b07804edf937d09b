package vehicle

import "strings"

// Side is one of the parts that a car is walked round by: people wash a side, then the next.
type Side string

// The sides. The top is the roof with the glass before and behind it; bonnet and boot lid go with the front and the rear
// that they close.
const (
	NoSide    Side = ""
	TopSide   Side = "top"
	LeftSide  Side = "left"
	RightSide Side = "right"
	FrontSide Side = "front"
	RearSide  Side = "rear"
)

// Label is the side in words.
func (s Side) Label() string {
	switch s {
	case TopSide:
		return "roof and screens"
	case LeftSide, RightSide:
		return string(s) + " side"
	}
	return string(s)
}

// Side is the side that a zone belongs to; none for shuts, underside and tips.
func (z Zone) Side() Side {
	switch z {
	case Roof, Windscreen, RearGlass:
		return TopSide
	case Bonnet, Front:
		return FrontSide
	case BootLid, Rear:
		return RearSide
	case Shuts, Underside, Tips:
		return NoSide
	}
	if strings.HasSuffix(string(z), "left") || z.Corner() == "fl" || z.Corner() == "rl" {
		return LeftSide
	}
	return RightSide
}

// Corner is the wheel that a zone belongs to, fl, fr, rr or rl; empty for zones of the body.
func (z Zone) Corner() string {
	for _, corner := range []string{"fl", "fr", "rr", "rl"} {
		if strings.HasSuffix(string(z), "-"+corner) {
			return corner
		}
	}
	return ""
}
