package procedure

import (
	"fmt"
	"slices"
)

// YesOrNo is what whoever washes answers to a question.
type YesOrNo string

// The answers.
const (
	SaysYes YesOrNo = "yes"
	SaysNo  YesOrNo = "no"
)

// Values lists the answers.
func (YesOrNo) Values() []string { return []string{string(SaysYes), string(SaysNo)} }

// Ask is what a step asks of whoever washes: what is seen in the work decides how it goes on.
type Ask struct {
	Text   string  `json:"text" minLength:"1" maxLength:"120" doc:"A question that is answered by yes or no" example:"Does water lie flat?"`
	Expect YesOrNo `json:"expect,omitempty" doc:"What the plan counts with until it is answered; no when unsaid"`
}

// Expected is the answer that the plan counts with.
func (a Ask) Expected() YesOrNo {
	if a.Expect == "" {
		return SaysNo
	}
	return a.Expect
}

// Branch makes a step one that is done only after an answer.
type Branch struct {
	Step string  `json:"step" doc:"An earlier step that asks"`
	Says YesOrNo `json:"says" doc:"The answer after which it is done"`
}

// branches names what is wrong with questions and with steps that wait for their answers.
func (p Procedure) branches(add func(string, ...any)) {
	asked := map[string]Step{}
	for _, s := range p.Steps() {
		if s.Asks != nil && s.Asks.Text == "" {
			add("step %s asks: write the question", s.ID)
		}
		if s.If != nil {
			before, there := asked[s.If.Step]
			switch {
			case !there || before.Asks == nil:
				add("step %s if %q: that is no earlier step that asks", s.ID, s.If.Step)
			case !slices.Contains(s.If.Says.Values(), string(s.If.Says)):
				add("step %s if says %q: use yes or no", s.ID, s.If.Says)
			}
		}
		for _, mark := range append(slices.Clone(s.Opens), s.Closes...) {
			if mark == "" {
				add("step %s: name what it leaves open or closes", s.ID)
			}
		}
		asked[s.ID] = s
	}
}

// sayAsk is a question with what is expected.
func sayAsk(a *Ask) string {
	if a == nil {
		return ""
	}
	return fmt.Sprintf("%s (%s expected)", a.Text, a.Expected())
}

// sayBranch is after which answer a step is done.
func (p Procedure) sayBranch(b *Branch) string {
	if b == nil {
		return ""
	}
	if s, err := p.Step(b.Step); err == nil && s.Asks != nil {
		return fmt.Sprintf("only after %s to “%s”", b.Says, s.Asks.Text)
	}
	return fmt.Sprintf("only after %s to %s", b.Says, b.Step)
}
