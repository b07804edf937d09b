package procedure

// Steps and rounds are built from others by small changes, each on a copy.

// With changes a copy of a step.
func (s Step) With(change func(*Step)) Step { change(&s); return s }

// Called renames a step's id, where a procedure has two of a kind.
func (s Step) Called(id string) Step { return s.With(func(s *Step) { s.ID = id }) }

// OnlyIf adds a condition to a step.
func (s Step) OnlyIf(r Rule) Step {
	return s.With(func(s *Step) {
		if s.When.Always() {
			s.When = r
		} else {
			s.When = All(s.When, r)
		}
	})
}

// Taking replaces a step's time.
func (s Step) Taking(t Time) Step { return s.With(func(s *Step) { s.Time = t }) }

// Ending says whose product the step takes off.
func (s Step) Ending(ids ...string) Step { return s.With(func(s *Step) { s.Ends = ids }) }

// OnZones limits a step to a group of zones.
func (s Step) OnZones(g ZoneGroup) Step { return s.With(func(s *Step) { s.Zones = g }) }

// InRound makes a step one of a round.
func (s Step) InRound(id string) Step { return s.With(func(s *Step) { s.Round = id }) }

// Called renames a round's id, where a procedure has two of a kind.
func (r Round) Called(id string) Round {
	r.ID = id
	return r
}

// Worded replaces title and instruction.
func (s Step) Worded(title, text string) Step {
	return s.With(func(s *Step) { s.Title, s.Text = title, text })
}

// Asking adds a question to a step.
func (s Step) Asking(question string) Step {
	return s.With(func(s *Step) { s.Asks = &Ask{Text: question} })
}

// OnYes makes a step one that is done only after a yes to another's question.
func (s Step) OnYes(asked string) Step {
	return s.With(func(s *Step) { s.If = &Branch{asked, SaysYes} })
}
