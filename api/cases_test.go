package api_test

import (
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/cases"
)

// A trainee is dealt three cases of different skills, the same until they are answered; an answer counts once, is judged on
// the server, and brings the kind back the same day when it was wrong. Nobody answers for somebody else.
func TestCasesAreDealtAndAnswered(t *testing.T) {
	s := open(t)
	pia, cal := s.as("pia"), s.as("cal")
	dealt := into[api.Dealt](pia.do("POST", "/api/cases", nil).is(200))
	require.Len(t, dealt.Cases, 3)
	again := into[api.Dealt](pia.do("POST", "/api/cases", nil).is(200))
	assert.Equal(t, dealt.Cases, again.Cases, "what is in hand stays")
	assert.NotEqual(t, dealt.Cases[0].Skill, dealt.Cases[1].Skill)

	first := dealt.Cases[0]
	path := "/api/cases/" + first.ID + "/answer"
	pick := 0
	cal.do("POST", path, cases.Given{Choice: &pick}).problem(403)
	assert.Contains(t, pia.do("POST", path, cases.Given{}).problem(422).says(), "pick one")
	judged := into[api.CaseJudged](pia.do("POST", path, cases.Given{Choice: &pick}).is(200))
	assert.NotEmpty(t, judged.Answer.Because)
	assert.Equal(t, judged.Answer.Choice == pick, judged.Right)
	pia.do("POST", path, cases.Given{Choice: &pick}).problem(409)

	now := into[api.Dealt](pia.do("POST", "/api/cases", nil).is(200))
	require.Len(t, now.Cases, 3, "another is dealt")
	assert.NotEqual(t, first.ID, now.Cases[0].ID)
	assert.Equal(t, dealt.Answered+1, now.Answered)

	own := into[api.CaseRecords](pia.get("/api/cases").is(200))
	require.Len(t, own.People, 1, "only their own")
	for _, k := range own.People[0].Kinds {
		if k.Kind == first.Kind {
			assert.GreaterOrEqual(t, k.Answered, 1)
			require.NotNil(t, k.Due)
			if !judged.Right {
				assert.Less(t, k.Due.Sub(judged.Due.Add(-10*time.Minute)), time.Hour)
			}
		}
	}
	assert.Greater(t, len(into[api.CaseRecords](s.as("maren").get("/api/cases").is(200)).People), 3, "the lead sees everybody")
}

// Dealing from two devices at once deals no more than three; answering twice at once counts once.
func TestCasesAtOnce(t *testing.T) {
	s := open(t)
	pia := s.as("pia")
	var both sync.WaitGroup
	for range 6 {
		both.Go(func() { pia.do("POST", "/api/cases", nil).is(200) })
	}
	both.Wait()
	dealt := into[api.Dealt](pia.do("POST", "/api/cases", nil).is(200))
	require.Len(t, dealt.Cases, 3)
	var counted sync.Map
	for i := range 4 {
		both.Go(func() {
			pick, number := 0, 1.0
			given := cases.Given{Choice: &pick}
			if dealt.Cases[0].Choices == nil {
				given = cases.Given{Number: &number}
			}
			if pia.do("POST", "/api/cases/"+dealt.Cases[0].ID+"/answer", given).status == 200 {
				counted.Store(i, true)
			}
		})
	}
	both.Wait()
	n := 0
	counted.Range(func(any, any) bool { n++; return true })
	assert.Equal(t, 1, n)
}

// A lead writes a case of the shop's own; it is dealt like the others until it is taken out of use.
func TestOwnCases(t *testing.T) {
	s := open(t)
	lead, pia := s.as("maren"), s.as("pia")
	own := cases.Own{Title: "The ramp", Skill: "last look", Ask: "Which way?", Choices: []string{"Down"}, Because: "It drips."}
	pia.do("POST", "/api/own-cases", own).problem(403)
	lead.do("POST", "/api/own-cases", own).problem(422)
	own.Choices = []string{"Down", "Up"}
	made := into[cases.Own](lead.do("POST", "/api/own-cases", own).is(200))
	kinds := func() (ids []string) {
		for _, k := range into[api.CaseRecords](pia.get("/api/cases").is(200)).People[0].Kinds {
			ids = append(ids, k.Kind)
		}
		return ids
	}
	assert.Contains(t, kinds(), "own-"+made.ID)
	lead.do("DELETE", "/api/own-cases/"+made.ID, nil).is(204)
	assert.NotContains(t, kinds(), "own-"+made.ID)
	lead.do("DELETE", "/api/own-cases/"+made.ID, nil).problem(409)
}
