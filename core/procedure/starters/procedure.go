package starters

import "uskel/core/procedure"

// Blank is a procedure with the stages of the work and no steps, for the lead to write.
func Blank(id, title string) procedure.Procedure {
	p := procedure.Procedure{ID: id, Version: 1, Title: title, Entry: []procedure.Entry{washable}}
	for _, stage := range []procedure.Stage{setUp(), firstRinse(), wheelStage(), preWash(), contactWash(), finalRinse(), dry(),
		protects(), shutStage(), lastLook(), putAwayStage()} {
		stage.Steps = []procedure.Step{}
		p.Stages = append(p.Stages, stage)
	}
	return p
}
