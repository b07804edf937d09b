package plan

// Way is in which direction a step goes over the car, for the picture in the bay.
type Way string

// The ways. Never circles (docs/trade.md, section 6).
const (
	NoWay     Way = ""
	WayAlong  Way = "along"       // straight, with the airflow
	WayDown   Way = "down"        // from the top
	WayUp     Way = "up"          // from the bottom
	WaySides  Way = "up and down" // up and down on the sides, along on the flats
	WayCrossH Way = "both ways"   // one after the other
)

// Values lists the ways.
func (Way) Values() []string {
	return []string{string(WayAlong), string(WayDown), string(WayUp), string(WaySides), string(WayCrossH)}
}
