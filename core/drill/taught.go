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
	if !m.folds() {
		p.do(Action{Do: Load})
	}
	for i, panel := range m.Panels {
		p.putRight(p.s.Mishap)
		rows := Rows(panel)
		for k, a := range rows {
			switch {
			case m.folds():
				p.foldWhenFull(m)
			case k == len(rows)/2:
				p.do(Action{Do: FlipIt})
			}
			p.do(a)
		}
		p.takeBugs(m, panel)
		p.do(Action{Do: RinseOff})
		if i == len(m.Panels)-1 {
			break
		}
		if !m.folds() {
			p.do(Action{Do: m.rinse()})
			p.do(Action{Do: Load})
		}
		p.do(Action{Do: NextPanel})
		if m.folds() && p.err == nil && p.s.Mishap == NoMishap {
			p.nextFace(m) // nothing travels from panel to panel
		}
	}
	return p.all, p.err
}

// takeBugs takes what still sticks with one more pass along it: with the mesh side, or soaked where no mesh may go.
func (p *script) takeBugs(m Mitt, panel contact.Panel) {
	for _, o := range panel.Obstacles {
		if o.Kind != contact.Bugs || p.err != nil || p.s.Sheets[p.s.Panel].Bugs() == 0 {
			continue
		}
		if m.Dark {
			p.do(Action{Do: Rewet})
		}
		y := o.Y + o.H/2
		p.do(Action{Do: Stroke, Mesh: !m.Dark, Path: []contact.PathPoint{{T: 0, X: o.X + 0.1, Y: y}, {T: 0.5, X: o.X + o.W - 0.1, Y: y}}})
	}
}

// foldWhenFull turns a towel to its next face before the one in use carries half of what the paint forgives.
func (p *script) foldWhenFull(m Mitt) {
	if p.err == nil && p.s.Hand.Face().Exposed > m.Lacquer.Limit/2 {
		p.nextFace(m)
	}
}

func (p *script) nextFace(m Mitt) {
	if p.s.Folded+1 < m.Cloth.Faces() {
		p.do(Action{Do: FlipIt})
	} else {
		p.do(Action{Do: Spare})
	}
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
		if p.s.Washing == nil || p.s.Hand.Bare {
			p.do(Action{Do: Load})
		}
	case LowWater:
		p.do(Action{Do: ChangeWater})
	case DarkWash:
		p.do(Action{Do: FreshWash})
	}
}
