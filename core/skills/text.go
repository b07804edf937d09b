package skills

import (
	"fmt"
	"strings"
)

// Markdown is the rubric as a document: the job in a minute, what is taught, and what is watched.
func (r Rubric) Markdown() string {
	var b strings.Builder
	fmt.Fprintf(&b, "# %s\n\nVersion %d. %s\n", strings.ToUpper(string(r.Skill[:1]))+string(r.Skill[1:]), r.Version, r.Why)
	if len(r.Minute) > 0 {
		b.WriteString("\n## In a minute\n\n")
		for n, line := range r.Minute {
			fmt.Fprintf(&b, "%d. %s\n", n+1, line)
		}
	}
	if len(r.Rules) > 0 {
		b.WriteString("\n## Taught\n")
		for _, t := range r.Rules {
			fmt.Fprintf(&b, "\n**%s** %s %s\n", t.Ask, t.Rule, t.Because)
		}
	}
	b.WriteString("\n## Watched\n\n")
	for _, c := range r.Criteria {
		must := ""
		if c.Must {
			must = " (must)"
		}
		fmt.Fprintf(&b, "- %s%s\n", c.Text, must)
	}
	return b.String()
}
