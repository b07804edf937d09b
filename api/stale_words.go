package api

import (
	"regexp"
	"strconv"
	"strings"

	"uskel/core/vehicle"
)

// fieldWords are what a field of a document is called on the screens, where its JSON name does not say.
var fieldWords = map[string]string{
	"grades": "grade", "bonded": "bonded matter", "watch": "watch list", "protection": "protection",
	"kind": "kind", "ageDays": "age, days", "water": "water on it", "place": "place", "cover": "cover",
	"supply": "water supply", "runoff": "wash water may run off", "blower": "a blower may be used",
	"heading": "nose points to", "budget": "minutes there are", "crew": "pairs of hands", "service": "service",
	"tyreShine": "tyre shine", "notes": "notes", "pins": "where practitioners disagree", "shopName": "name of the shop",
	"timeZone": "time zone", "vessels": "vessel", "places": "place", "machines": "machine", "shifts": "shift",
	"labour": "cost of an hour of work", "rest": "allowances", "prices": "price", "lockMinutes": "minutes until a tablet locks",
	"breakFrom": "break from", "breakTo": "break to", "personId": "person", "startsAt": "begins at", "washerId": "who washes",
	"verdict": "answer", "findings": "finding", "severity": "how bad", "moves": "move", "dwellMax": "works at most",
}

var steps = regexp.MustCompile(`\.?([^.\[\]]+)|\[(\d+)\]`)

// fieldInWords says a path of a document as the screens do: ".grades.roof" is "roof, grade", ".places[0].name" is
// "place 1, name".
func fieldInWords(path string) string {
	var said []string
	for _, m := range steps.FindAllStringSubmatch(path, -1) {
		name, index := m[1], m[2]
		switch zone := vehicle.Zone(name); {
		case index != "":
			n, _ := strconv.Atoi(index)
			if len(said) > 0 {
				said[len(said)-1] += " " + strconv.Itoa(n+1)
			}
		case zone.Known():
			said = append([]string{zone.Label()}, said...)
		case fieldWords[name] != "":
			said = append(said, fieldWords[name])
		default:
			said = append(said, name)
		}
	}
	return strings.Join(said, ", ")
}

// valueInWords says a JSON value as people do.
func valueInWords(json string) string {
	switch json {
	case "true":
		return "yes"
	case "false":
		return "no"
	case "absent", "null", `""`:
		return "nothing"
	}
	if text, err := strconv.Unquote(json); err == nil {
		return "“" + text + "”"
	}
	return json
}
