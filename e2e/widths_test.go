package e2e

import (
	_ "embed"
	"encoding/json"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// misfits finds what does not fit a page: what sticks out of it at a side, targets smaller than a wet-gloved thumb hits,
// and what lies under the bar at the page's end. Links in running text are words and no targets (WCAG 2.2, 2.5.8 leaves
// them out, too); what is hidden, or shut off, is none either.
//
//go:embed misfits.js
var misfits string

// fits says what on a page does not fit its width.
func (b *tab) fits(v view, least int) []string {
	b.t.Helper()
	b.resize(v)
	got, err := b.Eval(strings.TrimRight(misfits, ";\n"), least)
	require.NoError(b.t, err)
	var said []string
	require.NoError(b.t, json.Unmarshal([]byte(got.Value.Str()), &said))
	return said
}

// resize gives the page another width, and waits until it is drawn so.
func (b *tab) resize(v view) {
	b.t.Helper()
	require.NoError(b.t, b.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: v.width, Height: v.height,
		DeviceScaleFactor: 1, Mobile: v.width < 500}))
	b.run(`() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(done))))`)
}

// pagesOf is what each role opens from its own bar and from there on.
func (s *shop) pagesOf(role string) []string {
	wash, plan, audit := s.bookingOf(
		"VLT 30",
	).Wash.ID, s.bookingOf(
		"CAB 14",
	).Booking.ID, s.bookingOf(
		"TID 101",
	).Audit.ID
	all := map[string][]string{
		"washer": {
			"/",
			"/bay",
			"/bay/" + wash,
			"/look-over",
			"/look-over/" + plan,
			"/plan/" + plan,
			"/day",
			"/times",
			"/shelf",
			"/settings",
			"/training",
		},
		"trainee": {"/", "/bay", "/training", "/training/cases", "/training/lessons/drying",
			"/look-over", "/plan/" + plan, "/day", "/times/learning", "/settings"},
		"auditor": {"/", "/audits", "/audits/" + audit, "/audits/findings", "/audits/remedies", "/audits/agreement",
			"/audits/week", "/audits/lists", "/audits/lists/trainee-walk",
			"/training", "/day", "/settings"},
		"lead": {
			"/",
			"/day",
			"/look-over/" + plan,
			"/plan/" + plan,
			"/procedures",
			"/procedures/maintenance",
			"/procedures/maintenance/print",
			"/audits",
			"/audits/" + audit,
			"/audits/findings",
			"/audits/remedies",
			"/audits/remedies/new?kind=dirt+left",
			"/audits/agreement",
			"/audits/week",
			"/audits/lists",
			"/audits/lists/final-walk",
			"/audits/lists/final-walk/print",
			"/training",
			"/training/watch/" + wash,
			"/training/lessons/mitt",
			"/training/lessons/mitt/write",
			"/times",
			"/times/standards",
			"/times/charts",
			"/times/kinds",
			"/times/learning",
			"/times/washes",
			"/shelf",
			"/settings",
			"/settings/people",
			"/settings/readings",
			"/settings/devices",
			"/settings/you",
			"/first",
			"/book",
			"/book/" + plan,
			"/vehicles/" + s.bookingOf("TID 101").Booking.VehicleID,
		},
	}
	return all[role]
}

// Every page of every role fits a phone, a tablet and a desk.
func TestEveryPageFits(t *testing.T) {
	s := open(t)
	for _, who := range []struct{ name, role string }{
		{"osk", "washer"}, {"pia", "trainee"}, {"hesper", "auditor"}, {"maren", "lead"},
	} {
		t.Run(who.role, func(t *testing.T) {
			b := s.as(who.name, phone)
			b.t = t
			for _, path := range s.pagesOf(who.role) {
				least := 44
				if strings.HasPrefix(path, "/bay/") {
					least = 56
				}
				b.goes(path)
				b.settle()
				b.see("h1", ".")
				b.settle()
				for _, v := range []view{phone, {820, 1180}, desk} {
					if said := b.fits(v, least); len(said) > 0 {
						t.Errorf("%s at %d:\n  %s", path, v.width, strings.Join(said, "\n  "))
					}
				}
				b.resize(phone)
			}
		})
	}
}
