package audit

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"uskel/core/condition"
	"uskel/core/procedure"
	"uskel/core/vehicle"
	"uskel/core/wrong"
)

// Item is one thing to look at.
type Item struct {
	ID    string              `json:"id" pattern:"^[a-z0-9-]{1,40}$"`
	Title string              `json:"title" minLength:"2" maxLength:"120"`
	How   string              `json:"how" maxLength:"300" doc:"light, stance, touch, cloth, water, what is opened"`
	Done  string              `json:"done,omitempty" maxLength:"200" doc:"done when: what a pass looks like, so that two people answer alike"`
	Zones procedure.ZoneGroup `json:"zones"`
	Side  vehicle.Side        `json:"side,omitempty" doc:"only that side's zones of the group"`
	Kinds []Kind              `json:"kinds" maxItems:"14" doc:"Findings this look usually brings up, likeliest first"`
	// Usual is how bad a kind of finding usually is here; minor when unsaid.
	Usual  map[Kind]Severity `json:"usual,omitempty" doc:"how bad each usually is here"`
	Lets   []Let             `json:"lets,omitempty" maxItems:"6" doc:"what is let pass"`
	Light  bool              `json:"light,omitempty" doc:"cannot be judged at dusk: marks, smears"`
	Photo  bool              `json:"photo,omitempty" doc:"a finding here wants a photo before the audit is signed"`
	Weight int               `json:"weight,omitempty" minimum:"0" maximum:"3" doc:"how much a finding here weighs: 1 when unsaid"`
	When   procedure.Rule    `json:"when" doc:"asked only when it holds; {} for always"`
	// Reading is the number that an answer wants, as its proof.
	Reading *Reading `json:"reading,omitempty" doc:"what is read for it"`
}

// Let is how much of a kind of finding is let pass: up to 2 drips, up to 5 % of dirt.
type Let struct {
	Kind Kind    `json:"kind"`
	Most float64 `json:"most" minimum:"0" maximum:"100"`
	Unit LetUnit `json:"unit"`
}

// LetUnit is what a tolerance is counted in.
type LetUnit string

// The units: so many, or so much of what was looked at.
const (
	InNumber  LetUnit = "number"
	InPercent LetUnit = "%"
)

// Values lists the units.
func (LetUnit) Values() []string { return []string{string(InNumber), string(InPercent)} }

// Words are a tolerance as it is read: "up to 2: drips".
func (l Let) Words() string {
	if l.Unit == InPercent {
		return fmt.Sprintf("%s: up to %g %%", l.Kind, l.Most)
	}
	return fmt.Sprintf("%s: up to %g", l.Kind, l.Most)
}

// Checklist is a shared, versioned list. An audit keeps the version that it was walked by.
type Checklist struct {
	ID      string `json:"id" pattern:"^[a-z0-9-]{1,40}$"`
	Version int    `json:"version" minimum:"0"`
	Title   string `json:"title" minLength:"2" maxLength:"80"`
	About   string `json:"about,omitempty" maxLength:"300" doc:"what it is for, in a sentence"`
	// Families are the methods that it is for (docs/trade.md, section 5).
	Families  []string       `json:"families,omitempty" maxItems:"20" doc:"method families that it is for; any when empty"`
	When      procedure.Rule `json:"when" doc:"which washes it is for; {} for any"`
	OnRequest bool           `json:"onRequest,omitempty" doc:"taken only when an auditor chooses it"`
	At        Moment         `json:"at,omitempty" doc:"when it is walked: round the finished car, or on the way of the wash"`
	Items     []Item         `json:"items" minItems:"1" maxItems:"60"`
}

var shortID = regexp.MustCompile(`^[a-z0-9-]{1,40}$`)

// Unproven are the items whose findings want a photo and have none; photographed are the items that photos were taken at.
func (c Checklist) Unproven(answers map[string]Answer, photographed []string) []string {
	items := []string{}
	for _, i := range c.Items {
		if i.Photo && answers[i.ID].Verdict == Found && !slices.Contains(photographed, i.ID) {
			items = append(items, i.ID)
		}
	}
	return items
}

// Check says what is wrong with a list, naming the field.
func (c Checklist) Check() error {
	if !shortID.MatchString(c.ID) {
		return wrong.At("id", "small letters, digits and dashes, up to 40")
	}
	if strings.TrimSpace(c.Title) == "" {
		return wrong.At("title", "say what the list is called")
	}
	if len(c.Items) == 0 {
		return wrong.At("items", "at least one thing to look at")
	}
	if c.At != WhenFinished && !slices.Contains(c.At.Values(), string(c.At)) {
		return wrong.At("at", "%q: nothing, or one of %q", c.At, c.At.Values())
	}
	seen := map[string]bool{}
	for i, item := range c.Items {
		if seen[item.ID] {
			return wrong.At(fmt.Sprintf("items[%d].id", i), "%q is used twice", item.ID)
		}
		seen[item.ID] = true
		if err := item.check(); err != nil {
			return wrong.In(fmt.Sprintf("items[%d]", i), err)
		}
	}
	return nil
}

func (i Item) check() error {
	switch {
	case !shortID.MatchString(i.ID):
		return wrong.At("id", "small letters, digits and dashes, up to 40")
	case strings.TrimSpace(i.Title) == "":
		return wrong.At("title", "say what is looked at")
	case !slices.Contains(groups(), i.Zones):
		return wrong.At("zones", "%q: use one of %q", i.Zones, groups())
	case i.Weight < 0 || i.Weight > 3:
		return wrong.At("weight", "1 to 3")
	}
	if i.Reading != nil {
		if err := i.Reading.check(); err != nil {
			return err
		}
	}
	for k, kind := range i.Kinds {
		if kinds[kind].skill == "" {
			return wrong.At(fmt.Sprintf("kinds[%d]", k), "%q: use one of %q", kind, kind.Values())
		}
	}
	for kind, severity := range i.Usual {
		if !slices.Contains(i.Kinds, kind) || !slices.Contains(severity.Values(), string(severity)) {
			return wrong.At(fmt.Sprintf("usual[%q]", kind), "%q: one of the item's kinds, with one of %q", severity, severity.Values())
		}
	}
	for k, l := range i.Lets {
		switch {
		case !slices.Contains(i.Kinds, l.Kind):
			return wrong.At(fmt.Sprintf("lets[%d].kind", k), "%q: one of the item's kinds", l.Kind)
		case !slices.Contains(l.Unit.Values(), string(l.Unit)):
			return wrong.At(fmt.Sprintf("lets[%d].unit", k), "%q: use one of %q", l.Unit, l.Unit.Values())
		case !(l.Most >= 0 && l.Most <= 100):
			return wrong.At(fmt.Sprintf("lets[%d].most", k), "0 to 100")
		}
	}
	return nil
}

// groups are the zone groups that an item can look at.
func groups() []procedure.ZoneGroup {
	var all []procedure.ZoneGroup
	for _, g := range procedure.ZoneGroup("").Values() {
		if procedure.ZoneGroup(g) != procedure.ChosenZones {
			all = append(all, procedure.ZoneGroup(g))
		}
	}
	return all
}

// On are the zones that an item looks at on a body.
func (i Item) On(body vehicle.Body) []vehicle.Zone {
	zones := []vehicle.Zone{}
	for _, p := range body.Parts() {
		if i.Zones.Has(p) && (i.Side == vehicle.NoSide || p.Zone.Side() == i.Side) {
			zones = append(zones, p.Zone)
		}
	}
	return zones
}

// weighs is what a finding at an item weighs.
func (i Item) weighs() int { return cmp.Or(i.Weight, 1) }

// let finds the tolerance for a kind of finding.
func (i Item) let(kind Kind) (Let, bool) {
	at := slices.IndexFunc(i.Lets, func(l Let) bool { return l.Kind == kind })
	if at < 0 {
		return Let{}, false
	}
	return i.Lets[at], true
}

// Skips are the items that a wash does not ask for, each with why.
func (c Checklist) Skips(facts condition.Facts) map[string]string {
	skips := map[string]string{}
	for _, i := range c.Items {
		if !i.When.Holds(facts) {
			skips[i.ID] = i.When.Why(facts)
		}
	}
	return skips
}

// For chooses the list of a wash: one whose condition holds, else one for its method, else one for any. Nothing is found where
// no list is for it.
func For(lists []Checklist, family string, facts condition.Facts) (Checklist, bool) {
	return forMoment(lists, WhenFinished, family, facts)
}

func forMoment(lists []Checklist, at Moment, family string, facts condition.Facts) (Checklist, bool) {
	for _, fits := range []func(Checklist) bool{
		func(c Checklist) bool { return !c.When.Always() },
		func(c Checklist) bool { return len(c.Families) > 0 },
		func(Checklist) bool { return true },
	} {
		for _, c := range lists {
			mine := len(c.Families) == 0 || slices.Contains(c.Families, family)
			if mine && c.At == at && !c.OnRequest && fits(c) && c.When.Holds(facts) {
				return c, true
			}
		}
	}
	return Checklist{}, false
}

// Differs says in words what became of a list.
func (c Checklist) Differs(was Checklist) []string {
	words := []string{}
	say := func(format string, args ...any) { words = append(words, fmt.Sprintf(format, args...)) }
	if c.Title != was.Title || c.About != was.About {
		say("It is called %q.", c.Title)
	}
	if c.forWhom() != was.forWhom() {
		say("It is for %s.", c.forWhom())
	}
	known := map[string]Item{}
	for _, i := range was.Items {
		known[i.ID] = i
	}
	var order, before []string
	for _, i := range c.Items {
		old, there := known[i.ID]
		if !there {
			say("New: %s.", i.Title)
			continue
		}
		order = append(order, i.ID)
		words = append(words, i.differs(old)...)
		delete(known, i.ID)
	}
	for _, i := range was.Items {
		if _, gone := known[i.ID]; gone {
			say("No longer looked at: %s.", i.Title)
		} else {
			before = append(before, i.ID)
		}
	}
	if !slices.Equal(order, before) {
		say("They are walked in another order.")
	}
	return words
}

// forWhom says which washes a list is for.
func (c Checklist) forWhom() string {
	words := []string{"every wash"}
	if len(c.Families) > 0 {
		words = []string{"method " + strings.Join(c.Families, ", ")}
	}
	if !c.When.Always() {
		words = append(words, c.When.Sentence())
	}
	if c.At != WhenFinished {
		words = append(words, string(c.At))
	}
	if c.OnRequest {
		words = append(words, "when it is chosen")
	}
	return strings.Join(words, ", ")
}

func (i Item) differs(was Item) []string {
	var words []string
	change := func(is bool, format string, args ...any) {
		if is {
			words = append(words, strings.TrimSuffix(i.Title+": "+fmt.Sprintf(format, args...), ".")+".")
		}
	}
	change(i.Title != was.Title, "it was called %q", was.Title)
	change(i.How != was.How, "how: %s", i.How)
	change(i.Done != was.Done, "done when: %s", cmp.Or(i.Done, "no longer said"))
	change(i.Zones != was.Zones || i.Side != was.Side, "looks at %s", where(i))
	change(!slices.Equal(i.Kinds, was.Kinds), "finds %s", joined(i.Kinds))
	change(!slices.Equal(i.Lets, was.Lets), "lets pass %s", cmp.Or(lets(i.Lets), "nothing"))
	change(i.weighs() != was.weighs(), "weighs %d, was %d", i.weighs(), was.weighs())
	change(i.Light != was.Light, "%s", map[bool]string{true: "needs light", false: "needs no special light"}[i.Light])
	change(i.Photo != was.Photo, "%s", map[bool]string{true: "a finding wants a photo", false: "a finding wants no photo"}[i.Photo])
	change(reading(i) != reading(was), "reads %s", cmp.Or(reading(i), "nothing"))
	change(i.When.Sentence() != was.When.Sentence(), "asked %s", i.When.Sentence())
	for _, k := range i.Kinds {
		change(usual(i, k) != usual(was, k) && slices.Contains(was.Kinds, k), "%s is usually %s", k, usual(i, k))
	}
	return words
}

func reading(i Item) string {
	if i.Reading == nil {
		return ""
	}
	return i.Reading.Words()
}

func usual(i Item, k Kind) Severity { return cmp.Or(i.Usual[k], Minor) }

func where(i Item) string {
	if i.Side != vehicle.NoSide {
		return fmt.Sprintf("%s, %s", i.Zones, i.Side.Label())
	}
	return string(i.Zones)
}

func joined(all []Kind) string {
	names := make([]string, len(all))
	for i, k := range all {
		names[i] = string(k)
	}
	return strings.Join(names, ", ")
}

func lets(all []Let) string {
	names := make([]string, len(all))
	for i, l := range all {
		names[i] = l.Words()
	}
	return strings.Join(names, "; ")
}
