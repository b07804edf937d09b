package drill

import "uskel/core/contact"

// rowsApart is how far a stroke lies below the one before, m: a little less than the cloth is high.
const rowsApart = 0.14

// Rows are straight strokes over a panel, along the car, from the top, each overlapping the one before.
func Rows(p contact.Panel) []Action {
	var all []Action
	for y := 0.08; y < p.Height+0.04; y += rowsApart {
		all = append(all, Action{Do: Stroke, Path: []contact.PathPoint{{T: 0, X: 0.02, Y: y}, {T: 1.8, X: p.Width - 0.02, Y: y}}})
	}
	return all
}

// AsTaught is the drill as it is taught: the mitt loaded, straight rows, turned half-way down, rinsed between panels, and what
// happens put right at once.
func (m Mitt) AsTaught() ([]Action, error) {
	s, all := m.Start(), []Action{}
	var err error
	do := func(a Action) {
		if err == nil {
			s, err = m.Play(s, a)
			all = append(all, a)
		}
	}
	do(Action{Do: Load})
	for i, p := range m.Panels {
		switch s.Mishap {
		case GuardUp:
			do(Action{Do: SeatGuard})
		case Fallen:
			do(Action{Do: Spare})
			do(Action{Do: Load})
		}
		rows := Rows(p)
		for k, a := range rows {
			if k == len(rows)/2 {
				do(Action{Do: FlipIt})
			}
			do(a)
		}
		do(Action{Do: RinseOff})
		if i < len(m.Panels)-1 {
			do(Action{Do: Rub})
			do(Action{Do: Load})
			do(Action{Do: NextPanel})
		}
	}
	return all, err
}
