// Package shop is how a shop is set up: who may do what, its settings, and what a new shop begins with.
package shop

import (
	"fmt"
	"slices"
	"strings"

	"uskel/core/visit"
)

// Role is what a person is in the shop.
type Role string

// The roles. The owner may do whatever a lead may, and take the shop's records away or have some forgotten.
const (
	Owner   Role = "owner"
	Lead    Role = "lead"
	Washer  Role = "washer"
	Trainee Role = "trainee"
	Auditor Role = "auditor"
)

// Roles lists the roles.
var Roles = []Role{Owner, Lead, Washer, Trainee, Auditor}

// UsualPace is what a role takes of the standard time, percent, before anybody's own washes say: a trainee two fifths
// longer (model); 0 for the standard.
func (r Role) UsualPace() int {
	if r == Trainee {
		return 140
	}
	return 0
}

// Values lists the roles.
func (Role) Values() []string {
	values := make([]string, len(Roles))
	for i, r := range Roles {
		values[i] = string(r)
	}
	return values
}

// Leads reports whether somebody of the role runs the shop.
func (r Role) Leads() bool { return r == Owner || r == Lead }

// Right is one thing that some roles may do. The zero value is what anybody may do who has not even signed in.
type Right string

// The rights.
const (
	See          Right = "see"
	RunTheDay    Right = "run the day"
	LookOver     Right = "look over"
	Wash         Right = "wash"
	Practise     Right = "practise"
	Audit        Right = "audit"
	SignAudit    Right = "sign an audit"
	Remedy       Right = "keep remedies"
	Correct      Right = "correct"
	SignOff      Right = "sign off"
	SetStandards Right = "set standards"
	Write        Right = "write procedures"
	KeepShelf    Right = "keep the shelf"
	KeepPeople   Right = "keep people"
	Set          Right = "change settings"
	Export       Right = "export"
	Forget       Right = "forget"
)

// Grant is a right with who has it.
type Grant struct {
	Right Right
	Roles []Role
	// Password is asked for on a shared tablet: four digits are seen over a shoulder and are not enough for this.
	Password bool
	Says     string // what it covers
	// Again is asked for everywhere, once the password was typed an hour ago: what is done with it cannot be taken back.
	Again bool
}

var (
	everyone = Roles
	leads    = []Role{Owner, Lead}
)

// Grants is the one table of who may do what. docs/rights.md prints it, the server asks it.
var Grants = []Grant{
	{See, everyone, false, "See the yard, the day, plans, procedures, audits, training and the shelf; one's own times", false},
	{RunTheDay, leads, false, "Book vehicles, give slots and hands, arrange plans", false},
	{LookOver, []Role{Owner, Lead, Washer}, false, "Enter vehicles, look them over, count stock, tell customers", false},
	{Wash, []Role{Owner, Lead, Washer, Trainee}, false, "Start a wash and tap in it; say where a vehicle stands", false},
	{Practise, []Role{Owner, Lead, Washer, Trainee}, false, "Do drills", false},
	{
		Audit,
		[]Role{Owner, Lead, Washer, Auditor},
		false,
		"Walk round a finished wash that one did not wash, and answer its checklist",
		false,
	},
	{SignAudit, []Role{Owner, Lead, Washer, Auditor}, true, "Sign an audit", false},
	{Remedy, leads, false, "Take something up about findings, change it, close it with what was measured; keep the calibration set", false},
	{Correct, leads, true, "Correct a closed wash, beside the original", false},
	{SignOff, leads, true, "Sign somebody off for a skill", false},
	{SetStandards, leads, true, "Accept standard times", false},
	{Write, leads, true, "Write, publish and retire procedures", false},
	{KeepShelf, leads, false, "Enter products and cloths", false},
	{
		KeepPeople,
		leads,
		true,
		"Add people, change their role, let them go, give one-time codes, end sign-ins, set tablets up",
		true,
	},
	{Set, leads, true, "Change the shop's settings", false},
	{Export, []Role{Owner}, true, "Take all of the shop's records away", true},
	{Forget, []Role{Owner}, true, "Have a person's or a vehicle's name forgotten; the washes stay", true},
}

// Grant finds a right's grant. A right that is not in the table is nobody's.
func (r Right) Grant() Grant {
	at := slices.IndexFunc(Grants, func(g Grant) bool { return g.Right == r })
	if at < 0 {
		return Grant{Right: r, Password: true}
	}
	return Grants[at]
}

// May reports whether a role has a right.
func (r Role) May(right Right) bool { return slices.Contains(right.Grant().Roles, r) }

// saying is the right that it takes to say what becomes of a vehicle.
var saying = map[visit.Move]Right{
	visit.Cancel:   RunTheDay,
	visit.NotCome:  LookOver,
	visit.BreakOff: Wash,
	visit.Release:  RunTheDay,
	visit.HandOver: LookOver,
	visit.ComeBack: LookOver,
}

// Sayable reports whether somebody says the move, and it takes a right of its own. What was said last is taken back by
// whoever said it, or a lead.
func Sayable(m visit.Move) bool { _, known := saying[m]; return known }

// MaySay reports whether people of the role may say what becomes of a vehicle.
func (r Role) MaySay(m visit.Move) bool { return Sayable(m) && r.May(saying[m]) }

// Rights are those of a role, in the order of the table.
func (r Role) Rights() []Right {
	rights := []Right{}
	for _, g := range Grants {
		if slices.Contains(g.Roles, r) {
			rights = append(rights, g.Right)
		}
	}
	return rights
}

// Values lists the rights.
func (Right) Values() []string {
	values := make([]string, len(Grants))
	for i, g := range Grants {
		values[i] = string(g.Right)
	}
	return values
}

// RightsTable writes the grants as a table in Markdown.
func RightsTable() string {
	var b strings.Builder
	b.WriteString("| right | ")
	for _, r := range Roles {
		fmt.Fprintf(&b, "%s | ", r)
	}
	b.WriteString("password on a shared tablet | what it covers |\n|---|" + strings.Repeat("---|", len(Roles)+2) + "\n")
	mark := map[bool]string{true: "yes", false: ""}
	asked := func(g Grant) string {
		if g.Again {
			return "yes, and everywhere after an hour"
		}
		return mark[g.Password]
	}
	for _, g := range Grants {
		fmt.Fprintf(&b, "| %s | ", g.Right)
		for _, r := range Roles {
			fmt.Fprintf(&b, "%s | ", mark[slices.Contains(g.Roles, r)])
		}
		fmt.Fprintf(&b, "%s | %s |\n", asked(g), g.Says)
	}
	return b.String()
}
