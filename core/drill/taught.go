package drill

import (
	"uskel/core/condition"
	"uskel/core/contact"
)

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

// asTaught is the mitt loaded, straight rows, turned half-way down, rinsed between panels, and what happens put right at once.
func (m Mitt) asTaught() ([]Action, error) {
	p := scripted(m)
	p.do(Action{Do: Load})
	for i, panel := range m.Panels {
		p.putRight(p.s.Mishap)
		rows := Rows(panel)
		for k, a := range rows {
			if k == len(rows)/2 {
				p.do(Action{Do: FlipIt})
			}
			p.do(a)
		}
		p.do(Action{Do: RinseOff})
		if i < len(m.Panels)-1 {
			p.do(Action{Do: m.rinse()})
			p.do(Action{Do: Load})
			p.do(Action{Do: NextPanel})
		}
	}
	return p.all, p.err
}

// rinse is how this shop empties a mitt.
func (m Mitt) rinse() Do { return rinsedBy(m.Rinse) }

func rinsedBy(school string) Do {
	if school == condition.Swish {
		return SwishIt
	}
	return Rub
}

// putRight does what a mishap asks for.
func (p *script) putRight(m Mishap) {
	switch m {
	case GuardUp:
		p.do(Action{Do: SeatGuard})
	case Fallen:
		p.do(Action{Do: Spare})
		p.do(Action{Do: Load})
	case LowWater:
		p.do(Action{Do: ChangeWater})
	}
}
