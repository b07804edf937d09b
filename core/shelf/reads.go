package shelf

import (
	"uskel/core/measure"
	"uskel/core/procedure"
)

// Reads are the readings of ratios that a shop's procedures use, by class of product, each with the title of a
// procedure that reads a ratio so.
type Reads map[procedure.ProductClass]map[measure.Reading]string

// ReadsOf looks at the doses of procedures.
func ReadsOf(procedures []procedure.Procedure) Reads {
	reads := Reads{}
	for _, doc := range procedures {
		for _, step := range doc.Steps() {
			if step.Dose == nil {
				continue
			}
			if reads[step.Dose.Class] == nil {
				reads[step.Dose.Class] = map[measure.Reading]string{}
			}
			reads[step.Dose.Class][step.Dose.Reading] = doc.Title
		}
	}
	return reads
}
