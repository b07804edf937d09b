package shop

import (
	"slices"
	"strings"
	"time"

	"uskel/core/climate"
	"uskel/core/measure"
	"uskel/core/schedule"
)

// PressureWasher is what procedures call the machine that most shops have one of.
const PressureWasher = "pressure washer"

// Kit is what the shop shares: one pressure washer, hose and blower, unless the settings say otherwise, and whatever
// else they name.
func (s Settings) Kit() []schedule.Machine {
	kit := []schedule.Machine{{Name: PressureWasher, Count: 1}, {Name: "hose", Count: 1}, {Name: "blower", Count: 1}}
	for _, e := range s.Machines {
		machine := schedule.Machine{ID: e.Key(), Name: e.Name, Count: e.Count}
		at := slices.IndexFunc(kit, func(m schedule.Machine) bool { return m.Key() == e.Key() })
		if at < 0 {
			kit = append(kit, machine)
		} else {
			kit[at] = machine
		}
	}
	return kit
}

// bayPrefix keeps places apart from machines that happen to be called alike.
const bayPrefix = "bay "

// BayKey is a place as a schedule knows it, by its id.
func BayKey(place string) string { return bayPrefix + place }

// BayPlace is the id of the place that a machine of a schedule stands for.
func BayPlace(m schedule.Machine) (place string, is bool) {
	return strings.CutPrefix(m.Key(), bayPrefix)
}

// Bays are the shop's places as a schedule takes them on a day that begins at zero: one vehicle at a time; one under
// the open sky is shut in hours with rain, as nothing dries there and rain thins what is put on.
func (s Settings) Bays(zero time.Time, hours []climate.Hour) []schedule.Machine {
	var rain []schedule.Span
	for _, h := range hours {
		if from := measure.SecondsOf(h.At.Sub(zero)); h.Weather.Rain > 0 {
			rain = append(rain, schedule.Span{Start: from, End: from + measure.Hour})
		}
	}
	var bays []schedule.Machine
	for _, p := range s.Places {
		bay := schedule.Machine{ID: BayKey(p.Key()), Name: p.Name, Count: 1}
		if p.Cover == climate.OpenSky {
			bay.Shut = rain
		}
		bays = append(bays, bay)
	}
	return bays
}
