package audit

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/procedure/starters"
	"uskel/core/vehicle"
)

var washed = func() plan.Plan {
	p := plan.Plan{OutScope: []condition.OutOfScope{{Matter: condition.Tar, Zones: []vehicle.Zone{vehicle.LowerLeft}}}}
	for _, s := range starters.Maintenance().Steps() {
		p.Steps = append(p.Steps, plan.FilledStep{ID: s.ID, Title: s.Title, Skill: s.Skill, Technique: s.Technique})
	}
	return p
}()

// all answers every item with pass, then overrides some.
func all(override map[string]Answer) map[string]Answer {
	answers := map[string]Answer{}
	for _, i := range Starter().Items {
		answers[i.ID] = Answer{Verdict: Pass}
	}
	for id, a := range override {
		answers[id] = a
	}
	return answers
}

func found(fs ...Finding) Answer { return Answer{Verdict: Found, Findings: fs} }

func TestScoreAndBar(t *testing.T) {
	major := Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Major}
	minor := Finding{Zone: vehicle.Roof, Kind: Spots, Severity: Minor}
	critical := Finding{Zone: vehicle.Bonnet, Kind: LiftedEdge, Severity: Critical}
	for _, c := range []struct {
		name    string
		answers map[string]Answer
		score   int
		passed  bool
	}{
		{"clean", all(nil), 100, true},
		{"one major", all(map[string]Answer{"lower": found(major)}), 85, true},
		{"one major, two minor", all(map[string]Answer{"lower": found(major), "upper": found(minor, minor)}), 75, false},
		{"four minor", all(map[string]Answer{"upper": found(minor, minor, minor, minor)}), 80, true},
		{"a critical one fails whatever else", all(map[string]Answer{"edges": found(critical)}), 0, false},
		{"not applicable weighs nothing", all(map[string]Answer{"tyres": {Verdict: NotApplicable, Note: "no tyres"}}), 100, true},
		{"nothing below zero", all(map[string]Answer{"lower": found(major, major, major, major, major, major, major, major)}), 0, false},
	} {
		r := Judge(Starter(), c.answers, washed, Walked{})
		assert.Equal(t, c.score, r.Score, c.name)
		assert.Equal(t, c.passed, r.Passed, c.name)
	}
	open := Judge(Starter(), map[string]Answer{}, washed, Walked{})
	assert.Len(t, open.Open, len(Starter().Items))
	assert.False(t, open.Passed, "an unfinished walk passes nothing")
}

// "A maintenance wash is not failed for bonded matter declared out of scope": common practice, no source.
func TestDeclaredMatterDoesNotCount(t *testing.T) {
	tar := Finding{Zone: vehicle.LowerLeft, Kind: BondedMatter, Matter: condition.Tar, Severity: Major}
	elsewhere := tar
	elsewhere.Zone = vehicle.LowerRight
	r := Judge(Starter(), all(map[string]Answer{"lower": found(tar, elsewhere)}), washed, Walked{})
	assert.Equal(t, 85, r.Score)
	assert.False(t, r.Findings[0].Counts)
	assert.True(t, r.Findings[1].Counts)
}

// Finding, step and skill: docs/trade.md, section 10. Common practice, no source.
func TestFindingsGoBackToTheirStepAndSkill(t *testing.T) {
	for kind, want := range map[Kind]struct {
		step  string
		skill procedure.Skill
	}{
		DirtLeft: {"mitt", procedure.SkillMitt}, FineCircles: {"mitt", procedure.SkillMitt}, Spots: {"blow", procedure.SkillDry},
		BrakeDust: {"wheels", procedure.SkillWheels}, TyreBlotch: {"tyres", procedure.SkillWheels}, LiftedEdge: {"lumps", procedure.SkillLance},
		GreasyShuts: {"shuts", procedure.SkillShuts}, InCabin: {"bugs", procedure.SkillFoam},
	} {
		got := trace(Finding{Zone: vehicle.Roof, Kind: kind, Severity: Minor}, washed)
		assert.Equal(t, want.step, got.Step, string(kind))
		assert.Equal(t, want.skill, got.Skill, string(kind))
		assert.NotEmpty(t, got.Cause)
	}
}

func TestReworkIsTimedAndOnlyForWhatCountsAndCanBeMended(t *testing.T) {
	r := Judge(Starter(), all(map[string]Answer{
		"lower": found(
			Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Major},
			Finding{Zone: vehicle.LowerLeft, Kind: BondedMatter, Matter: condition.Tar, Severity: Minor},
		),
		"upper": found(Finding{Zone: vehicle.Roof, Kind: FineCircles, Severity: Minor}),
	}), washed, Walked{})
	steps := Rework(r, 2)
	assert.Equal(t, "rework-2-2", steps[0].ID, "each round has steps of its own")
	assert.Len(t, steps, 1, "a scratch is not washed out, declared tar is not chased")
	assert.Equal(t, "lower doors and sill, left: dirt left", steps[0].Title)
	assert.Equal(t, 2.0, steps[0].Minutes)
}

func TestWhoWashedDoesNotAudit(t *testing.T) {
	assert.Error(t, MayAudit("ann", []string{"bo", "ann"}))
	assert.NoError(t, MayAudit("cy", []string{"bo", "ann"}))
}

func TestAnswersAreChecked(t *testing.T) {
	ok := Finding{Zone: vehicle.Roof, Kind: Spots, Severity: Minor}
	bad := func(change func(*Finding)) Answer { f := ok; change(&f); return found(f) }
	for says, a := range map[string]Answer{
		"verdict":  {Verdict: "maybe"},
		"at least": {Verdict: Found},
		"has none": {Verdict: Pass, Findings: []Finding{ok}},
		"zone":     bad(func(f *Finding) { f.Zone = "sunroof" }),
		"kind":     bad(func(f *Finding) { f.Kind = "ghost" }),
		"severity": bad(func(f *Finding) { f.Severity = "awful" }),
		"matter":   bad(func(f *Finding) { f.Kind = BondedMatter }),
	} {
		assert.ErrorContains(t, a.Check(), says)
	}
	assert.NoError(t, found(ok).Check())
}

// What a service leaves does not count against whoever washed it (docs/trade.md, section 17); damage always does.
func TestWhatTheServiceLeavesIsAccepted(t *testing.T) {
	film := Finding{Zone: vehicle.Roof, Kind: DirtLeft, Severity: Minor}
	for name, c := range map[string]struct {
		service string
		f       Finding
		counts  bool
	}{
		"touchless leaves a film":          {"touchless", film, false},
		"a maintenance wash does not":      {"basic", film, true},
		"but no dirt seen standing":        {"touchless", Finding{Zone: vehicle.Roof, Kind: DirtLeft, Severity: Major}, true},
		"ten minutes leave drips":          {"ten-minutes", Finding{Zone: vehicle.MirrorLeft, Kind: Drips, Severity: Minor}, false},
		"and shuts":                        {"ten-minutes", Finding{Zone: vehicle.Shuts, Kind: DirtLeft, Severity: Major}, false},
		"rinseless reaches so deep":        {"rinseless", Finding{Zone: vehicle.WheelFL, Kind: BrakeDust, Severity: Minor}, false},
		"and cleans what it reaches":       {"rinseless", Finding{Zone: vehicle.WheelFL, Kind: BrakeDust, Severity: Major}, true},
		"but nothing else on them":         {"rinseless", Finding{Zone: vehicle.WheelFL, Kind: WheelStain, Severity: Minor}, true},
		"nothing ordered excuses a damage": {"touchless", Finding{Zone: vehicle.Roof, Kind: DirtLeft, Severity: Critical}, true},
	} {
		p := washed
		p.Ordered = condition.StarterMenu().Of(c.service)
		r := Judge(Starter(), all(map[string]Answer{"upper": found(c.f)}), p, Walked{})
		assert.Equal(t, c.counts, r.Findings[0].Counts, name)
		if !c.counts {
			assert.Contains(t, r.Findings[0].Cause, "left by what was ordered", name)
			assert.Equal(t, 100, r.Score, name)
		}
	}
}

// Small misses are put right on the spot and stay findings; what was there before the wash does not count, however many there
// are. docs/trade.md, sections 10 and 17: common practice, no source.
func TestPutRightOnTheSpotAndThereBefore(t *testing.T) {
	missed := Finding{Zone: vehicle.LowerLeft, Kind: DirtLeft, Severity: Minor, PutRight: 40}
	scratch := Finding{Zone: vehicle.Bonnet, Kind: FineCircles, Severity: Critical, Before: true}
	drips := Finding{Zone: vehicle.MirrorLeft, Kind: Drips, Severity: Minor, Amount: 2}
	old := Finding{Zone: vehicle.MirrorRight, Kind: Drips, Severity: Minor, Amount: 9, Before: true}
	given := map[string]Answer{"lower": found(missed), "upper": found(scratch), "front": found(drips, old)}
	r := Judge(Starter(), all(given), washed, Walked{})
	assert.Equal(t, 95, r.Score, "put right is still a finding; what was there before is none")
	assert.Zero(t, r.Critical)
	assert.Empty(t, Rework(r, 1), "nothing is left to do")
	for _, f := range r.Findings {
		assert.Equal(t, f.PutRight > 0, f.Counts, "%s on %s", f.Kind, f.Zone)
	}
	missed.Severity = Critical
	assert.ErrorContains(t, found(missed).Check(), "not put right on the spot")
	missed.Severity, missed.PutRight = Minor, 1801
	assert.ErrorContains(t, found(missed).Check(), "rework")
}
