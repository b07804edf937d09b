package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/drill"
	"uskel/core/practice"
)

// A drill by hand is its player's: played, saved by version, judged on the server by replaying it, tried again from a move.
func TestDrillsByHand(t *testing.T) {
	s := open(t)
	pia, cal, lead := s.as("pia"), s.as("cal"), s.as("maren")
	car := into[api.Training](pia.get("/api/training").is(200)).Cars[0]
	start := map[string]any{"bookingId": car.BookingID, "level": 2, "what": "washing by hand"}
	run := into[api.RunView](pia.do("POST", "/api/drill-runs", start).is(200))
	require.Len(t, run.Drill.Mitt.Panels, 2)
	path := "/api/drill-runs/" + run.ID
	cal.get(path).problem(403)
	assert.False(t, into[api.RunView](lead.get(path).is(200)).Mine)
	taught, err := run.Drill.AsTaught()
	require.NoError(t, err)
	save := func(c *caller, version int, actions []drill.Action) reply {
		return c.do("PUT", path+"/actions", map[string]any{"version": version, "actions": actions})
	}
	save(lead, 0, taught[:1]).problem(403)
	saved := into[api.RunSaved](save(pia, 0, taught[:3]).is(200))
	save(pia, 0, taught[:4]).problem(409)
	twice := []drill.Action{{Do: drill.NextPanel}, {Do: drill.NextPanel}}
	assert.Contains(t, save(pia, saved.Version, twice).problem(422).says(), "actions[1]")
	assert.Contains(t, pia.do("POST", path+"/finish", nil).problem(409).says(), "not done")
	saved = into[api.RunSaved](save(pia, saved.Version, taught).is(200))
	done := into[api.RunView](pia.do("POST", path+"/finish", nil).is(200))
	require.NotNil(t, done.Result)
	assert.True(t, done.Result.Passed, done.Result.Why)
	pia.do("POST", path+"/finish", nil).problem(409)
	save(pia, saved.Version, taught[:2]).problem(409)

	again := into[api.RunView](pia.do("POST", path+"/again", map[string]int{"from": 3}).is(200))
	assert.Equal(t, taught[:3], again.Actions)
	assert.Nil(t, again.Result)
	pia.do("POST", path+"/again", map[string]int{"from": len(taught) + 1}).problem(422)
	mine := into[[]api.RunLine](pia.get("/api/drill-runs").is(200))
	assert.Equal(t, again.ID, mine[0].ID, "the newest first")
	for _, line := range mine {
		assert.Equal(t, run.Person.ID, line.Person.ID)
	}
}

// Every kind of practice is made from a car of the day, is played as taught and passes, and counts for its own skill.
func TestEveryPractice(t *testing.T) {
	s := open(t)
	pia := s.as("pia")
	cars := into[api.Training](pia.get("/api/training").is(200)).Cars
	for _, what := range practice.What("").Values() {
		for level := 1; level <= 3; level++ {
			car := cars[level%len(cars)]
			run := into[api.RunView](pia.do("POST", "/api/drill-runs", map[string]any{"bookingId": car.BookingID, "level": level,
				"what": what}).is(200))
			require.NoError(t, run.Drill.Check(), what)
			taught, err := run.Drill.AsTaught()
			require.NoError(t, err, "%s, level %d", what, level)
			pia.do("PUT", "/api/drill-runs/"+run.ID+"/actions", map[string]any{"version": 0, "actions": taught}).is(200)
			done := into[api.RunView](pia.do("POST", "/api/drill-runs/"+run.ID+"/finish", nil).is(200))
			assert.True(t, done.Result.Passed, "%s, level %d: %v", what, level, done.Result.Why)
			line := into[[]api.RunLine](pia.get("/api/drill-runs").is(200))[0]
			assert.Equal(t, run.Drill.Skill(), line.Skill)
		}
	}
	library := into[api.RunView](pia.do("POST", "/api/drill-runs", map[string]any{"level": 1, "what": "buckets"}).is(200))
	assert.Equal(t, "Practice car", library.Title)
	start := map[string]any{"bookingId": cars[0].BookingID, "level": 1, "what": "juggling"}
	pia.do("POST", "/api/drill-runs", start).problem(422)
}

// Evidence is for whoever signs off and for oneself: cases, drills, watched washes and audits, each counted, with what they
// say together.
func TestEvidenceIsShownToWhomItConcerns(t *testing.T) {
	s := open(t)
	seen := func(c *caller, id string) (skills map[string]string, sources map[string]bool) {
		skills, sources = map[string]string{}, map[string]bool{}
		for _, p := range into[api.Training](c.get("/api/training").is(200)).People {
			for _, skill := range p.Skills {
				if p.ID != id || skill.Evidence == nil {
					continue
				}
				skills[string(skill.Skill)] = skill.Evidence.Says
				for _, of := range skill.Evidence.Of {
					sources[string(of.Source)] = true
					assert.LessOrEqual(t, of.FadedSeen, float64(of.Seen)+1e-9)
					assert.LessOrEqual(t, of.Well, of.Seen)
				}
			}
		}
		return skills, sources
	}
	lead, pia, cal := s.as("maren"), s.as("pia"), s.as("cal")
	skills, sources := seen(lead, lead.id("pia"))
	assert.Len(t, skills, 9)
	assert.Contains(t, skills["rinse and lance"], "watched criteria")
	assert.True(t, sources["cases"] && sources["drills"] && sources["watched"] && sources["audits"], "%v", sources)
	own, _ := seen(pia, lead.id("pia"))
	assert.Equal(t, skills, own)
	others, _ := seen(cal, lead.id("pia"))
	assert.Empty(t, others, "not another trainee's")
}

// A sign-off lapses by the shop's rule: the skill is no longer held, its refresher is told, and signing off anew brings it back.
func TestASignOffLapses(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	settings := into[api.SettingsView](lead.get("/api/settings").is(200))
	settings.Settings.Lapses = 1
	lead.do("PUT", "/api/settings", settings).is(200)
	of := func(name, skill string) api.SkillHeld {
		for _, p := range into[api.Training](lead.get("/api/training").is(200)).People {
			for _, held := range p.Skills {
				if p.ID == lead.id(name) && string(held.Skill) == skill {
					return held
				}
			}
		}
		return api.SkillHeld{}
	}
	gone := of("osk", "mitt")
	assert.False(t, gone.Held)
	assert.True(t, gone.Refresher)
	require.NotNil(t, gone.Lapses)
	lead.do("POST", "/api/sign-offs", map[string]any{"personId": lead.id("osk"), "skill": "mitt", "criteria": map[string]bool{
		"weight": true, "straight": true, "flips": true, "wrings": true, "up": true, "small": true}}).is(200)
	anew := of("osk", "mitt")
	assert.True(t, anew.Held)
	assert.Nil(t, of("maren", "mitt").Lapses, "who signs others off holds theirs")
}
