package procedure

import (
	"fmt"
	"slices"
	"strings"

	c "uskel/core/condition"
	"uskel/core/measure"
	"uskel/core/vehicle"
)

// Edit is one meaningful difference between two versions, in words.
type Edit struct {
	Kind string `json:"kind" enum:"added,removed,moved,changed"`
	Step string `json:"step,omitempty" doc:"Id of the step; empty for the procedure as a whole"`
	Says string `json:"says"`
	What string `json:"what,omitempty" doc:"of a text that changed: which"`
	// Words marks the words of a text that changed, so that nobody has to compare two long quotations.
	Words []WordSpan `json:"words,omitempty"`
}

// Difference lists what changed from one version to the next, in the order of the newer one: the procedure itself,
// then its steps, then what is gone. Conditions that differ only in writing do not count.
func Difference(old, new Procedure) []Edit {
	d := &differ{old: old, new: new, edits: []Edit{}}
	d.whole(old, new)
	before, after := placed(old), placed(new)
	moved := movedSteps(before, after)
	for _, now := range after {
		i := slices.IndexFunc(before, func(p place) bool { return p.step.ID == now.step.ID })
		if i < 0 {
			d.add("added", now.step.ID, "“%s” is new in %s.", now.step.Title, now.stage)
			continue
		}
		was := before[i]
		switch {
		case was.stageID != now.stageID:
			d.add("moved", now.step.ID, "“%s” moved from %s to %s.", now.step.Title, was.stage, now.stage)
		case moved[now.step.ID]:
			d.add("moved", now.step.ID, "“%s” now comes %s.", now.step.Title, now.follows())
		}
		d.step(was.step, now.step)
	}
	for _, was := range before {
		if !slices.ContainsFunc(after, func(p place) bool { return p.step.ID == was.step.ID }) {
			d.add("removed", was.step.ID, "“%s” is gone from %s.", was.step.Title, was.stage)
		}
	}
	return d.edits
}

type differ struct {
	old, new Procedure
	edits    []Edit
}

func (d *differ) add(kind, step, format string, args ...any) {
	d.edits = append(d.edits, Edit{Kind: kind, Step: step, Says: fmt.Sprintf(format, args...)})
}

// place is a step where it stands.
type place struct {
	stageID, stage, previous string
	step                     Step
}

func (p place) follows() string {
	if p.previous == "" {
		return "first"
	}
	return "after “" + p.previous + "”"
}

func placed(p Procedure) []place {
	var all []place
	previous := ""
	for _, stage := range p.Stages {
		for _, s := range stage.Steps {
			all = append(all, place{stage.ID, stage.Title, previous, s})
			previous = s.Title
		}
	}
	return all
}

// movedSteps are the fewest steps that must be moved to turn one order into the other: those outside the longest
// common order.
func movedSteps(before, after []place) map[string]bool {
	at := map[string]int{}
	for i, p := range before {
		at[p.step.ID] = i
	}
	var ids []string
	for _, p := range after {
		if _, common := at[p.step.ID]; common {
			ids = append(ids, p.step.ID)
		}
	}
	best, from := make([]int, len(ids)), make([]int, len(ids))
	last := -1
	for i := range ids {
		best[i], from[i] = 1, -1
		for j := range i {
			if at[ids[j]] < at[ids[i]] && best[j]+1 > best[i] {
				best[i], from[i] = best[j]+1, j
			}
		}
		if last < 0 || best[i] > best[last] {
			last = i
		}
	}
	moved := map[string]bool{}
	for _, id := range ids {
		moved[id] = true
	}
	for i := last; i >= 0; i = from[i] {
		delete(moved, ids[i])
	}
	return moved
}

func (d *differ) whole(old, new Procedure) {
	d.text("", "The title", old.Title, new.Title)
	d.text("", "What it is for", old.Fits, new.Fits)
	d.rule("", "It is made for", old.Suits, new.Suits)
	d.rounds(old, new)
	for _, now := range new.Stages {
		if i := slices.IndexFunc(old.Stages, func(s Stage) bool { return s.ID == now.ID }); i >= 0 {
			d.text("", "The title of a stage", old.Stages[i].Title, now.Title)
		}
	}
	for _, e := range new.Entry {
		at := slices.IndexFunc(old.Entry, func(o Entry) bool { return Equivalent(o.Rule, e.Rule) })
		if at < 0 {
			d.add("added", "", "It may be used only where %s.", e.Rule.Sentence())
			continue
		}
		d.text("", "What is said where not "+e.Rule.Sentence(), old.Entry[at].Refusal, e.Refusal)
	}
	for _, o := range old.Entry {
		if !slices.ContainsFunc(new.Entry, func(e Entry) bool { return Equivalent(o.Rule, e.Rule) }) {
			d.add("removed", "", "It no longer asks that %s.", o.Rule.Sentence())
		}
	}
	for _, q := range c.Questions() {
		was, is := old.Pins[q.Fact], new.Pins[q.Fact]
		switch {
		case was == is:
		case is == "":
			d.add("changed", "", "%s No longer pinned; it follows the condition.", q.Text)
		default:
			d.add("changed", "", "%s Pinned to %s.", q.Text, is)
		}
	}
	if old.Standard != new.Standard {
		d.add(
			"changed",
			"",
			"It is %s the shop's standard.",
			map[bool]string{true: "now", false: "no longer"}[new.Standard],
		)
	}
	d.list("", "A warning let stand", waived(old.Waivers), waived(new.Waivers))
}

func (d *differ) rounds(old, new Procedure) {
	for _, now := range new.Rounds {
		was, there := old.Round(now.ID)
		if !there {
			d.add("added", "", "A round is new: %s", now.Sentence())
			continue
		}
		name := "The round “" + now.Title + "”: "
		d.text("", name+"the title", was.Title, now.Title)
		d.text("", name+"what it goes over", string(was.Over), string(now.Over))
		d.text("", name+"its order", string(was.Order), string(now.Order))
		d.list("", name+"its parts", was.Given, now.Given)
		d.rule("", name+"part by part", was.When, now.When)
	}
	for _, was := range old.Rounds {
		if _, there := new.Round(was.ID); !there {
			d.add("removed", "", "The round “%s” is gone.", was.Title)
		}
	}
}

// fewWords are quoted whole: they are seen at a glance.
const fewWords = 4

// text says that words changed, quoting the new ones.
func (d *differ) text(step, what, old, new string) {
	switch {
	case old == new:
	case new == "":
		d.add("changed", step, "%s is gone: “%s”.", what, old)
	case old == "":
		d.add("changed", step, "%s is new: “%s”.", what, new)
	default:
		d.add("changed", step, "%s was “%s” and is “%s”.", what, old, new)
		if last := &d.edits[len(d.edits)-1]; len(strings.Fields(old)) >= fewWords {
			last.What, last.Words = what, Worded(old, new)
		}
	}
}

// rule says how a condition changed, and whether it takes in more or less than before.
func (d *differ) rule(step, what string, old, new Rule) {
	if old.Normal().Sentence() == new.Normal().Sentence() || Equivalent(old, new) {
		return
	}
	how := ""
	switch {
	case Implies(old, new):
		how = ", which takes in more"
	case Implies(new, old):
		how = ", which takes in less"
	}
	say := func(r Rule) string {
		if r.Always() {
			return "always"
		}
		return "when " + r.Sentence()
	}
	d.add("changed", step, "%s %s; before, %s%s.", what, say(new), say(old), how)
}

func (d *differ) number(step, what string, old, new float64, unit string) {
	if old != new {
		d.add("changed", step, "%s was %g%s and is %g%s.", what, old, unit, new, unit)
	}
}

func (d *differ) step(old, new Step) {
	id, name := new.ID, "“"+new.Title+"”: "
	d.text(id, name+"the title", old.Title, new.Title)
	d.text(id, name+"the instruction", old.Text, new.Text)
	d.list(id, name+"now and then says", sayings(old.Says), sayings(new.Says))
	d.text(id, name+"the reason", old.Reason, new.Reason)
	d.text(id, name+"what to look for", old.LookFor, new.LookFor)
	d.text(id, name+"the zones", string(old.Zones), string(new.Zones))
	d.text(id, name+"the chosen zones", vehicle.ListLabels(old.Only), vehicle.ListLabels(new.Only))
	d.text(id, name+"the technique", string(old.Technique), string(new.Technique))
	d.text(id, name+"what it takes off untouched", string(old.Act), string(new.Act))
	d.text(id, name+"the tool", old.Tool, new.Tool)
	d.text(id, name+"the cloth", old.Cloth, new.Cloth)
	d.text(id, name+"what touches the paint", string(old.Medium), string(new.Medium))
	d.number(id, name+"how many cloths are taken", float64(old.Cloths), float64(new.Cloths), "")
	d.yes(id, name+"a cloth in each hand", old.BothHands, new.BothHands)
	d.text(id, name+"the cloth's colour", old.Colour, new.Colour)
	d.text(id, name+"the machine", old.Machine, new.Machine)
	d.text(id, name+"the skill", string(old.Skill), string(new.Skill))
	d.text(id, name+"the water", string(old.Water), string(new.Water))
	d.text(id, name+"the product", string(old.Class), string(new.Class))
	d.rule(id, name+"it applies", old.When, new.When)
	d.text(id, name+"the round it belongs to", old.Round, new.Round)
	d.text(id, name+"once in the round", string(old.Once), string(new.Once))
	d.number(id, name+"the fixed time", old.Time.Fixed, new.Time.Fixed, " min")
	d.number(id, name+"the time for the body", old.Time.Body, new.Time.Body, " min")
	d.number(id, name+"the time a wheel", old.Time.PerWheel, new.Time.PerWheel, " min")
	d.yes(id, name+"more time with soil", old.Time.Soiled, new.Time.Soiled)
	d.yes(id, name+"runs by itself", old.Time.Unattended, new.Time.Unattended)
	d.yes(id, name+"meant for wet paint", old.WetPaint, new.WetPaint)
	d.yes(id, name+"a second wash", old.Again, new.Again)
	d.yes(id, name+"works product in fresh", old.Fresh, new.Fresh)
	d.yes(id, name+"repeats itself", old.Repeats, new.Repeats)
	d.yes(id, name+"has a mitt of its own for the lower band", old.LowerMitt, new.LowerMitt)
	d.text(id, name+"the dose", sayDose(old.Dose), sayDose(new.Dose))
	d.text(id, name+"how much it takes", sayAmount(old.Uses), sayAmount(new.Uses))
	d.text(id, name+"the dwell", sayDwell(old.Dwell), sayDwell(new.Dwell))
	d.text(id, name+"what shows that it works", cue(old.Dwell), cue(new.Dwell))
	d.list(id, name+"takes off", old.Ends, new.Ends)
	d.list(id, name+"wets again", old.Rewets, new.Rewets)
	d.list(id, name+"comes after", old.After, new.After)
	d.text(id, name+"may be done during", old.During, new.During)
	d.text(id, name+"the product by name", old.Product, new.Product)
	d.list(id, name+"caution", old.Cautions, new.Cautions)
	d.text(id, name+"what it asks", sayAsk(old.Asks), sayAsk(new.Asks))
	d.text(id, name+"after which answer it is done", d.old.sayBranch(old.If), d.new.sayBranch(new.If))
	d.list(id, name+"leaves open", old.Opens, new.Opens)
	d.list(id, name+"closes", old.Closes, new.Closes)
}

func (d *differ) yes(step, what string, old, new bool) {
	if old != new {
		d.add("changed", step, "%s: %s.", what, map[bool]string{true: "now yes", false: "no longer"}[new])
	}
}

func waived(list []Waiver) []string {
	says := make([]string, len(list))
	for i, w := range list {
		says[i] = strings.TrimSpace(w.Step+" "+w.Rule) + ": " + w.Reason
	}
	return says
}

// sayings are the conditional sentences with their conditions.
func sayings(list []Saying) []string {
	says := make([]string, len(list))
	for i, s := range list {
		says[i] = fmt.Sprintf("%s (when %s)", s.Text, s.When.Sentence())
	}
	return says
}

func sayDose(x *Dose) string {
	if x == nil {
		return ""
	}
	of := ""
	if x.ByWater {
		of = " of water"
	}
	strength := func(r measure.Ratio, c *Counted) string {
		if c != nil {
			return c.String()
		}
		return r.In(x.Reading)
	}
	said := fmt.Sprintf("%s %s, %.0f ml%s in the %s", x.Class, strength(x.Ratio, x.Counted), x.Fill.Ml(), of, x.Vessel)
	for _, s := range x.Stronger {
		said += fmt.Sprintf("; %s when %s", strength(s.Ratio, s.Counted), s.When.Sentence())
	}
	for _, e := range x.Extras {
		said += fmt.Sprintf("; with %s of %s", e.Counted, e.Class)
	}
	return said
}

func sayAmount(u *Consumption) string {
	if u == nil {
		return ""
	}
	var parts []string
	for _, p := range []struct {
		ml float64
		of string
	}{{u.Fixed, ""}, {u.PerM2, " a m²"}, {u.PerWheel, " a wheel"}} {
		if p.ml > 0 {
			parts = append(parts, fmt.Sprintf("%g ml%s", p.ml, p.of))
		}
	}
	return strings.Join(parts, " and ")
}

func sayDwell(w *Dwell) string {
	if w == nil {
		return ""
	}
	each := ""
	if w.Each {
		each = " on each"
	}
	return fmt.Sprintf("%s to %s%s", w.Min, w.Max, each)
}

func cue(w *Dwell) string {
	if w == nil {
		return ""
	}
	return w.Cue
}

func (d *differ) list(step, what string, old, new []string) {
	for _, x := range new {
		if !slices.Contains(old, x) {
			d.add("changed", step, "%s: “%s” is new.", what, x)
		}
	}
	for _, x := range old {
		if !slices.Contains(new, x) {
			d.add("changed", step, "%s: “%s” is gone.", what, strings.TrimSpace(x))
		}
	}
}
