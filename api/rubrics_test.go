package api_test

import (
	"fmt"
	"net/url"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/lesson"
	"uskel/core/procedure"
	"uskel/core/ready"
	"uskel/core/skills"
	"uskel/store"
)

// Every skill's rubric is to be had as a document, as Uskel brings it and as the shop has written it; so is a checklist that nobody has
// taken into use yet.
func TestRubricsAndOfferedListsAreExported(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	for _, skill := range procedure.Skill("").Values() {
		path := "/api/rubrics/" + url.PathEscape(skill)
		r := into[[]api.RubricVersion](lead.get(path).is(200))[0]
		made := into[skills.Rubric](lead.get(path + "/export").is(200))
		want := r.Rubric
		want.Version = r.Version
		assert.Equal(t, want, made, skill)
		text := string(lead.get(path + "/export?format=markdown").is(200).body)
		for _, c := range r.Rubric.Criteria {
			assert.Contains(t, text, c.Text)
		}
	}
	for _, list := range audit.Offered() {
		assert.Contains(t, string(lead.get("/api/checklists/"+list.ID+"/export?format=markdown").is(200).body), list.Title)
	}
	lead.get("/api/checklists/nothing/export").problem(404)
}

// A rubric is a document with versions: written by a lead, told apart in words, refused when somebody else was first.
func TestRubricsAreDocuments(t *testing.T) {
	s := open(t)
	lead, pia := s.as("maren"), s.as("pia")
	versions := into[[]api.RubricVersion](lead.get("/api/rubrics/mitt").is(200))
	require.Len(t, versions, 1)
	r := versions[0].Rubric
	save := func(c *caller, version int, r skills.Rubric) reply {
		return c.do("PUT", "/api/rubrics/mitt", map[string]any{"version": version, "rubric": r})
	}
	save(pia, 0, r).problem(403)
	assert.Contains(t, save(lead, 0, r).problem(422).says(), "nothing is different")
	r.Criteria = append(r.Criteria, skills.Criterion{ID: "thumb", Text: "Thumb outside the mitt", Must: true})
	r.Needs.Watched = 3
	versions = into[[]api.RubricVersion](save(lead, 0, r).is(200))
	require.Len(t, versions, 2)
	assert.Equal(t, []string{"Watched now: Thumb outside the mitt.",
		"A sign-off needs: 3 watched washes, 2 drills at level 1 or above."}, versions[0].Changed)
	assert.Contains(t, save(lead, 0, r).problem(409).says(), "Maren")
	r.Criteria = nil
	assert.Contains(t, save(lead, 1, r).problem(422).says(), "criteria")
	for _, rubric := range into[api.Training](lead.get("/api/training").is(200)).Rubrics {
		if rubric.Skill == "mitt" {
			assert.Equal(t, 1, rubric.Version)
			assert.Len(t, rubric.Criteria, 7)
		}
	}
	lead.get("/api/rubrics/juggling").problem(422)
}

// running is a trainee's wash that runs.
func (s *place) running(c *caller) string {
	s.t.Helper()
	for _, w := range into[api.Training](c.get("/api/training").is(200)).Running {
		return w.WashID
	}
	require.Fail(s.t, "no wash runs in the demo")
	return ""
}

// A trainer marks what is seen, from a device that may send twice and late; nobody marks themselves, or somebody who did
// not wash; what was seen is evidence, and fills in what the sign-off needs.
func TestAWashIsWatched(t *testing.T) {
	s := open(t)
	lead, pia := s.as("maren"), s.as("pia")
	id := s.running(lead)
	everybody, err := s.store.People(t.Context())
	require.NoError(t, err)
	person := func(name string) string {
		for _, p := range everybody {
			if p.SignIn == name {
				return p.ID
			}
		}
		return ""
	}
	path := "/api/washes/" + id + "/watch"
	pia.get(path).problem(403)
	v := into[api.WatchedWash](lead.get(path).is(200))
	require.NotEmpty(t, v.People)
	require.NotEmpty(t, v.Steps)
	step := v.Steps[0]
	for _, x := range v.Steps {
		if x.Skill == "mitt" {
			step = x
		}
	}
	require.NotEmpty(t, step.Criteria)
	washer := v.People[0]
	mark := func(n int, criterion string, m skills.Mark) api.WatchMark {
		return api.WatchMark{ID: fmt.Sprintf("0192f0a0-0000-7000-8000-%012d", n), PersonID: washer.ID, Skill: step.Skill, Criterion: criterion,
			Mark: m, Step: step.ID, Note: "thumb out", At: morning.Add(time.Duration(n-100) * time.Second)}
	}
	send := func(c *caller, marks ...api.WatchMark) reply {
		return c.do("POST", path, map[string]any{"marks": marks})
	}
	send(pia, mark(1, step.Criteria[0], 2)).problem(403)
	send(lead, mark(1, "hat", 2)).problem(422)
	other := mark(1, step.Criteria[0], 2)
	other.PersonID = person("cal")
	send(lead, other).problem(422)
	own := mark(1, step.Criteria[0], 2)
	own.PersonID = person("maren")
	send(lead, own).problem(403)
	late := mark(1, step.Criteria[0], 2)
	late.At = morning.Add(-10 * 24 * time.Hour)
	send(lead, late).problem(422)

	all := []api.WatchMark{mark(0, step.Criteria[0], skills.WithHelp)}
	for i, c := range step.Criteria {
		all = append(all, mark(i+1, c, skills.Alone))
	}
	send(lead, all...).is(200)
	v = into[api.WatchedWash](send(lead, all...).is(200))
	assert.Len(t, v.Marks, len(all), "sent twice, kept once")
	assert.Equal(t, "thumb out", v.Marks[0].Note)
	for _, p := range into[api.Training](lead.get("/api/training").is(200)).People {
		for _, line := range p.Skills {
			if p.ID != washer.ID || line.Skill != step.Skill {
				continue
			}
			require.NotEmpty(t, line.Watched)
			assert.Equal(t, v.WashID, line.Watched[0].WashID, "the wash that was watched is named")
			assert.Equal(t, v.Label, line.Watched[0].Label)
			for _, c := range step.Criteria {
				assert.Equal(t, skills.Alone, line.Watched[0].Marks[c])
			}
			require.NotEmpty(t, line.Needs)
			assert.Equal(t, 1, line.Needs[0].Have, "the newest mark of each counts: %+v", line.Needs)
			for _, e := range line.Evidence.Of {
				if e.Source == ready.FromWatched {
					assert.GreaterOrEqual(t, e.Well, len(step.Criteria))
				}
			}
		}
	}
}

// Who meets a new version of a procedure they have washed by is told what changed, at most four lines, confirms it once, and
// is not told again; whoever never did it is told nothing.
func TestWhatChangedSinceYouLastDidIt(t *testing.T) {
	s := open(t)
	lead, osk := s.as("maren"), s.as("osk")
	doc, err := s.store.Versions(t.Context(), "maintenance")
	require.NoError(t, err)
	next := doc[0].Doc
	next.Version = 2
	next.Stages = slices.Clone(next.Stages)
	for i := range next.Stages {
		next.Stages[i].Steps = slices.Clone(next.Stages[i].Steps)
		for k := range next.Stages[i].Steps {
			next.Stages[i].Steps[k].Text += " Twice."
		}
	}
	by := lead.id("maren")
	require.NoError(t, s.store.Publish(t.Context(), store.Version{Doc: next, ByID: &by, PublishedAt: morning, Note: "twice"}))
	b := lead.booking("CAB 14")
	begun := into[api.WashView](lead.do("POST", "/api/bookings/"+b.ID+"/wash",
		map[string]string{"procedure": "maintenance", "washerId": lead.id("osk")}).is(200))
	path := "/api/washes/" + begun.ID + "/changed"
	told := into[api.Changed](osk.get(path).is(200))
	assert.Equal(t, 1, told.Was)
	assert.Len(t, told.Lines, 4)
	assert.Positive(t, told.More)
	assert.Zero(t, into[api.Changed](lead.get(path).is(200)).Was, "she has never washed by it")
	assert.Zero(t, into[api.Changed](osk.do("POST", path, nil).is(200)).Was)
	assert.Zero(t, into[api.Changed](osk.get(path).is(200)).Was)
	s.as("hesper").get(path).problem(403)
}

// A lesson card is made from the shop's own steps, its answers to what the trade disagrees on, and its vessels.
func TestLessonsAreTheShopsOwn(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	for _, skill := range procedure.Skill("").Values() {
		l := into[lesson.Lesson](lead.get("/api/lessons/" + url.PathEscape(skill)).is(200))
		assert.NotEmpty(t, l.Rubric.Minute, skill)
		assert.NotEmpty(t, l.Picture, skill)
		assert.LessOrEqual(t, len(l.Steps), 5)
	}
	buckets := into[lesson.Lesson](lead.get("/api/lessons/buckets").is(200))
	assert.NotEmpty(t, buckets.Vessels)
	require.NotEmpty(t, buckets.Here)
	assert.Equal(t, "rub on the guard", buckets.Here[0].Answer)
	settings := into[api.SettingsView](lead.get("/api/settings").is(200))
	settings.Settings.Pins = map[condition.Fact]string{condition.MittRinse: condition.Swish}
	lead.do("PUT", "/api/settings", settings).is(200)
	assert.Equal(t, "swish", into[lesson.Lesson](lead.get("/api/lessons/buckets").is(200)).Here[0].Answer)
}
