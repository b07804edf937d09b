package api_test

import (
	"slices"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/photo/phototest"
	"uskel/core/vehicle"
)

// A lead confirms what a signed audit found and puts it into the set; whoever knows it does not walk it, others see nothing of it and
// walk it once; what they found is told to themselves, and of all to the lead.
func TestTheCalibrationSet(t *testing.T) {
	s := open(t)
	lead, hesper, lis, ines := s.as("maren"), s.as("hesper"), s.as("lis"), s.as("ines")
	b := lead.booking("CAB 12")
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	path := "/api/audits/" + a.ID
	pass := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
	dirt := audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
		{Zone: vehicle.LowerLeft, Kind: audit.DirtLeft, Severity: audit.Minor}}}
	answers := map[string]audit.Answer{}
	for _, id := range a.Result.Open {
		answers[id] = pass
		if id == "lower" {
			answers[id] = dirt
		}
		hesper.do("PUT", path+"/items/"+id, map[string]any{"version": 0, "answer": answers[id]}).is(200)
	}
	hesper.sent("PUT", path+"/photos/"+uuid.NewString()+"?item=lower&zone=lower-left&note=here", string(phototest.Taken(90, 60)),
		map[string]string{"Content-Type": "image/jpeg"}).is(200)
	put := map[string]any{"id": uuid.NewString(), "title": "The taxi in spring", "truth": answers}
	assert.Contains(t, lead.do("POST", path+"/calibration", put).problem(409).says(), "not signed yet")
	hesper.do("POST", path+"/close", nil).is(200)
	hesper.do("POST", path+"/calibration", put).is(403)
	empty := map[string]any{"id": uuid.NewString(), "title": "Nothing", "truth": map[string]audit.Answer{"lower": pass}}
	assert.Contains(t, lead.do("POST", path+"/calibration", empty).problem(422).says(), "at least one finding")
	before := into[api.CalibrationSet](lead.get("/api/calibration").is(200))
	lead.do("POST", path+"/calibration", put).is(200)
	set := into[api.CalibrationSet](lead.do("POST", path+"/calibration", put).is(200))
	require.Len(t, set.Set, len(before.Set)+1, "sent twice it is there once")
	ours := func(set api.CalibrationSet) api.CalibrationLine {
		i := slices.IndexFunc(set.Set, func(l api.CalibrationLine) bool { return l.ID == put["id"] })
		require.GreaterOrEqual(t, i, 0)
		return set.Set[i]
	}
	assert.False(t, ours(set).MayWalk, "who confirmed it knows it")

	one := "/api/calibration/" + ours(set).ID
	seen := into[api.CalibrationSet](lis.get("/api/calibration").is(200))
	assert.Zero(t, ours(seen).Findings, "how much there is is not told before")
	assert.True(t, ours(seen).MayWalk)
	assert.Nil(t, seen.Shows)
	hesper.get(one).problem(409)
	s.as("jory").get(one).problem(409) // who washed it has seen what was found
	lis.get(one).problem(409)          // she has not said that she walks it
	lis.do("POST", "/api/blind", takes(audit.SetWalk, ours(set).ID, lead.id("lis"))).is(204)
	lis.get(path).problem(409)
	view := into[api.AuditView](lis.get(one).is(200))
	assert.Empty(t, view.Answers)
	assert.Empty(t, view.Result.Findings)
	require.Len(t, view.Photos, 2, "one of the look-over, one of the audit")
	for _, p := range view.Photos {
		assert.Equal(t, []string{"", "", ""}, []string{p.Item, p.Note, p.By}, "a photo says nothing of what was found")
	}

	walk := map[string]any{"id": uuid.NewString(), "light": audit.Lamp, "answers": answers}
	assert.Contains(t, hesper.do("POST", one+"/walks", walk).problem(409).says(), "was not offered to you")
	half := map[string]any{"id": uuid.NewString(), "light": audit.Lamp, "answers": map[string]audit.Answer{"lower": dirt}}
	assert.Contains(t, lis.do("POST", one+"/walks", half).problem(422).says(), "is not answered yet")
	lis.do("POST", one+"/walks", walk).is(200)
	got := ours(into[api.CalibrationSet](lis.do("POST", one+"/walks", walk).is(200)))
	require.NotNil(t, got.Mine)
	assert.Equal(t, []int{1, 1, 0, 1}, []int{got.Mine.Known, got.Mine.Found, got.Mine.False, got.Walks})
	walk["id"] = uuid.NewString()
	assert.Contains(t, lis.do("POST", one+"/walks", walk).problem(409).says(), "You have walked it already")
	missed := map[string]audit.Answer{}
	for id := range answers {
		missed[id] = pass
	}
	ines.do("POST", "/api/blind", takes(audit.SetWalk, ours(set).ID, lead.id("ines"))).is(204)
	ines.do("POST", one+"/walks", map[string]any{"id": uuid.NewString(), "light": audit.Lamp, "answers": missed}).is(200)
	eyes := func(set api.CalibrationSet, name string) audit.EyeOf {
		require.NotNil(t, set.Shows)
		return set.Shows.People[slices.IndexFunc(set.Shows.People, func(p audit.EyeOf) bool { return p.Name == name })]
	}
	after := into[api.CalibrationSet](lead.get("/api/calibration").is(200))
	for name, found := range map[string]int{"Lis Marsh": 1, "Ines Varga": 0} {
		assert.Equal(t, eyes(before, name).Known+1, eyes(after, name).Known)
		assert.Equal(t, eyes(before, name).Found+found, eyes(after, name).Found, name)
	}
	lis.do("DELETE", one, nil).is(403)
	assert.Len(t, into[api.CalibrationSet](lead.do("DELETE", one, nil).is(200)).Set, len(before.Set))
	lis.get(one).problem(404)
}

// A vehicle that waits is graded again by somebody who did not look it over and does not see the grades; what each comes to is kept,
// and how far people agree is worked out.
func TestGradersAreHeldAgainstEachOther(t *testing.T) {
	s := open(t)
	lead, osk := s.as("maren"), s.as("osk") // Maren looks over
	before := into[condition.Grading](lead.get("/api/grading").is(200))
	offered := into[[]api.OpenGrade](osk.get("/api/second-grades").is(200))
	require.NotEmpty(t, offered)
	for _, o := range into[[]api.OpenGrade](lead.get("/api/second-grades").is(200)) {
		assert.False(t, o.May, "she looked all of them over")
		assert.NotEmpty(t, o.People, "but may ask somebody")
	}
	path := "/api/bookings/" + offered[0].BookingID + "/second-grade"
	lead.get(path).problem(409)
	osk.get(path).problem(409)
	osk.do("POST", "/api/blind", takes(audit.SecondGrades, offered[0].BookingID, lead.id("osk"))).is(204)
	osk.get("/api/bookings/" + offered[0].BookingID + "/look-over").problem(409)
	car := into[api.ToGrade](osk.get(path).is(200))
	look := into[api.LookOverView](lead.get("/api/bookings/" + offered[0].BookingID + "/look-over").is(200))
	grades := condition.ZoneGrades{}
	for _, z := range car.Zones {
		grades[z] = look.LookOver.Grades[z]
	}
	grades[car.Zones[0]] = contact.Worst
	body := map[string]any{"id": uuid.NewString(), "lookOver": car.LookOver, "grades": condition.ZoneGrades{vehicle.Roof: 1}}
	assert.Contains(t, osk.do("POST", path, body).problem(422).says(), "is not graded yet")
	body["grades"], body["lookOver"] = grades, car.LookOver+1
	assert.Contains(t, osk.do("POST", path, body).problem(409).says(), "changed since")
	body["lookOver"] = car.LookOver
	lead.do("POST", path, body).problem(409)
	got := into[api.GradedAgain](osk.do("POST", path, body).is(200))
	assert.Equal(t, []vehicle.Zone{car.Zones[0]}, got.Apart)
	assert.Equal(t, int(contact.Worst), got.SecondOverall)
	assert.Greater(t, got.SecondOverall, got.FirstOverall)
	assert.NotEqual(t, got.FirstMinutes, got.SecondMinutes)
	osk.do("POST", path, body).is(200)
	body["id"] = uuid.NewString()
	s.as("ines").do("POST", path, body).problem(409)
	after := into[condition.Grading](lead.get("/api/grading").is(200))
	assert.Equal(t, []int{before.Cars + 1, before.Decides + 1}, []int{after.Cars, after.Decides})
	assert.NotEmpty(t, after.People)
	assert.Empty(t, into[condition.Grading](osk.get("/api/grading").is(200)).People, "who grades dirtier is for the lead")
	still := into[api.LookOverView](osk.get("/api/bookings/" + offered[0].BookingID + "/look-over").is(200))
	assert.Equal(t, look.LookOver.Grades, still.LookOver.Grades)
}
