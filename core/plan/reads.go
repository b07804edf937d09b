package plan

import (
	"fmt"

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

// Otherwise names a procedure that reads a product's ratio in another way than its label: 1:10 in ten parts of water is
// a tenth stronger than one part in ten.
func (p Product) Otherwise(reads Reads) string {
	if p.Ratio == nil {
		return ""
	}
	for _, reading := range p.Reading.Values() {
		if title, there := reads[p.Class][measure.Reading(reading)]; there && measure.Reading(reading) != p.Reading {
			return fmt.Sprintf("%s reads it “%s”", title, reading)
		}
	}
	return ""
}
