package ready

import (
	"fmt"
	"strings"

	"uskel/core/procedure"
	"uskel/core/skills"
)

// StandsIn is how somebody stands in a skill.
type StandsIn struct {
	Skill     procedure.Skill
	Held      bool
	Proposed  bool
	Refresher bool
	Needs     []skills.Need
}

// ToDo are what a lead has to do for somebody, the most urgent first: sign off what is ready, watch again what lapses, and then
// what the next skill in the order of teaching still needs.
func ToDo(skills []StandsIn) []string {
	todo, next := []string{}, false
	for _, s := range skills {
		if s.Proposed {
			todo = append(todo, fmt.Sprintf("Sign off %s: all that it needs is there.", s.Skill))
		}
	}
	lapsing := []string{}
	for _, s := range skills {
		if s.Refresher && !s.Proposed {
			lapsing = append(lapsing, string(s.Skill))
		}
	}
	if len(lapsing) > 0 {
		todo = append(todo, fmt.Sprintf("Watch again, as the sign-off has lapsed or will within a month: %s.", strings.Join(lapsing, ", ")))
	}
	for _, s := range skills {
		if s.Held || s.Proposed || next {
			continue
		}
		next = true
		for _, n := range s.Needs {
			if !n.Met {
				todo = append(todo, fmt.Sprintf("Next is %s: %d of %d %s.", s.Skill, n.Have, n.Want, n.Says))
				break
			}
		}
	}
	return todo
}
