package fill

import (
	"fmt"
	"slices"
	"time"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/vehicle"
)

// filmOf is the film that a step leaves to dry.
func filmOf(s procedure.Step) climate.Film {
	if s.Act == contact.Foam {
		return climate.FoamFilm
	}
	return climate.SprayFilm
}

const (
	mostSections = 8
	// dryingMargin is the share of the window that may be used, so that the alarm comes before the drying (model).
	dryingMargin = 0.9
)

// caught is from which share of a span that is too short the product is taken off: nobody is there to the second (model).
const caught = 0.7

// dwell fits the product's dwell into label and drying window by the wet clock (docs/models.md): from the end of the
// putting on to the beginning of the taking off. The zone that waits longest waits for both besides; where that does not
// fit, the zones are done in sections.
func (f *filler) dwell(step *plan.FilledStep, s procedure.Step) {
	full := s.Dwell.Max
	if s.Dose != nil {
		if p, ok := f.product(s.Dose.Class, s.Product); ok && p.DwellMax > 0 {
			full = min(full, p.DwellMax)
		}
	}
	film := filmOf(s)
	first := f.driest(panelsOf(s), film)
	if f.part != nil {
		first = f.driestOn(step.Zones, film)
	}
	window := first.window
	usable := measure.Seconds(float64(window) * dryingMargin)
	dries := f.mayDry(s)
	if s.Waits() || dries {
		usable = full // it is meant to dry, or may
	}
	d := &plan.Dwell{
		From:     min(s.Dwell.Min, full),
		Full:     full,
		Window:   window,
		Sections: 1,
		Effect:   1,
		Each:     s.Dwell.Each,
		Cue:      s.Dwell.Cue,
	}
	if first.zone != "" {
		d.Driest = first.zone.Label()
	}
	d.Waits, d.MayDry = s.Waits(), dries
	d.Least, d.Gentle = d.From, slices.Contains(plan.Gentle, s.ProductClass())
	on := f.spellOf(step, s)
	f.fit(d, on, usable)
	d.CoverBy = f.coverBy(step, s, usable)
	if d.To < d.From { // even a small section dries before the minimum
		d.To = max(d.To, 0)
		least := measure.Seconds(float64(d.To) * caught)
		d.Effect = float64(least) / float64(d.From)
		d.From, d.Least = least, min(d.Least, least)
		step.Cautions = append(
			step.Cautions,
			fmt.Sprintf(
				"It dries in %s here, before its %s are up: mist it again before it dries, or move into shade.",
				window,
				s.Dwell.Min,
			),
		)
	}
	d.Shortened = usable < full
	if dries && window < full {
		step.Cautions = append(step.Cautions, fmt.Sprintf("It may dry here after %s and is wetted again before it is touched: some "+
			"say that it marks. The label comes first.", window))
	}
	step.Dwell = d
	from := fmt.Sprintf(
		"%s to %s by procedure and label; the film stays wet %s (%s), of which 0.9 is used; the zone that waits longest "+
			"waits %s more, as putting on takes %s and taking off %s",
		s.Dwell.Min,
		full,
		window,
		f.air(),
		d.Spread,
		on.putting/measure.Seconds(d.Sections),
		on.taking/measure.Seconds(d.Sections),
	)
	step.Figures = append(
		step.Figures,
		plan.Figure{
			Name:   "Dwell",
			Value:  fmt.Sprintf("%s to %s", d.From, d.To),
			From:   from,
			Source: "Energy balance of a wet panel (model), checked against psychrometric tables",
		},
	)
}

func (f *filler) air() string {
	return fmt.Sprintf(
		"%.0f degC, %.0f %% humidity, wind %.1f m/s at the car, %s",
		float64(f.here.Temp),
		f.here.RH*100,
		f.here.Wind,
		f.job.LookOver.Place.Cover,
	)
}

// foamWorks is how long the procedure's foam may stay on here and now, from when it is on until it begins to come off:
// within its dwell, and wet where it waits longest.
func (f *filler) foamWorks(p procedure.Procedure, window measure.Seconds) time.Duration {
	longest := time.Duration(0)
	var zones []vehicle.Zone
	for _, part := range f.parts {
		zones = append(zones, part.Zone)
	}
	steps := p.Steps()
	for _, s := range steps {
		if s.Act != contact.Foam || s.Dwell == nil {
			continue
		}
		spread := f.roughly(s, zones)
		if at := slices.IndexFunc(steps, func(t procedure.Step) bool { return slices.Contains(t.Ends, s.ID) }); at >= 0 {
			spread = max(spread, f.roughly(steps[at], zones))
		}
		wet := measure.Seconds(float64(window)*dryingMargin) - spread
		longest = max(longest, min(s.Dwell.Max, wet).Duration())
	}
	return longest
}

// mayDry reports whether a foam may dry by the school that is chosen, since a later step wets it again before it comes
// off.
func (f *filler) mayDry(s procedure.Step) bool {
	return f.facts[condition.SoapDries].Text == condition.MayDry && slices.Contains(plan.Gentle, s.ProductClass()) &&
		slices.ContainsFunc(f.all, func(t procedure.Step) bool { return slices.Contains(t.Rewets, s.ID) })
}

// fit finds the fewest sections in which a product keeps its dwell on every zone, and from when to when it may be begun to
// be taken off. Where that is all that helps, the taking off begins before the least dwell is up: a zone put on last is
// taken off last.
func (f *filler) fit(d *plan.Dwell, w spell, usable measure.Seconds) {
	for d.Sections = 1; ; d.Sections++ {
		longest, shortest := w.longest, w.shortest
		if d.Sections > 1 {
			longest, shortest = w.bounds(d.Sections)
		}
		d.Spread, d.From = longest, d.Least
		d.To = min(d.Full-d.Strict(), usable-d.Spread)
		if d.To < d.From {
			d.From = max(0, d.Least-shortest, min(d.From, d.To))
		}
		if d.To >= d.From || d.Sections == mostSections {
			return
		}
	}
}
