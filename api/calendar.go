package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/danielgtaylor/huma/v2"

	"uskel/core/shop"
	"uskel/core/visit"
	"uskel/store"
)

// How far a calendar that follows the bookings reaches.
const (
	feedBack  = 14 * 24 * time.Hour
	feedAhead = 90 * 24 * time.Hour
)

func (s *server) registerCalendar(api huma.API) {
	feed := file(get("/calendar/{token}", "calendarFeed", "The bookings as a calendar, for whoever has its secret address"), "text/calendar")
	operation(s, api, feed, nobody, s.calendarFeed)
	operation(s, api, post("/devices/{id}/renew", "renewDevice", "Give a sensor or a calendar another token in place of its own"),
		shop.KeepPeople, s.renewDevice)
}

func (s *server) renewDevice(ctx context.Context, in *ID) (*Out[Token], error) {
	token := newToken()
	if err := s.Store.RenewDevice(ctx, in.ID, tokenHash(token)); err != nil {
		return nil, err
	}
	s.Log.Info("device renewed", "device", in.ID, "person", who(ctx).ID)
	return out(Token{ID: in.ID, Token: token})
}

// calendarFeed gives the bookings about now. Programs that follow it send no cookie: its address is the secret, and is in no log.
func (s *server) calendarFeed(ctx context.Context, in *struct {
	Token string `path:"token" maxLength:"100" doc:"as it was shown once, with or without .ics"`
}) (*Document, error) {
	d, err := s.Store.DeviceBy(ctx, shop.Calendar, tokenHash(strings.TrimSuffix(in.Token, ".ics")))
	if errors.Is(err, store.ErrNotFound) {
		return nil, huma.NewError(http.StatusNotFound, "There is no calendar at this address: it may have been renewed. Ask a lead for it.")
	}
	if err != nil {
		return nil, err
	}
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	views, err := s.Store.Bookings(ctx, s.Now().Add(-feedBack), s.Now().Add(feedAhead))
	if err != nil {
		return nil, err
	}
	cal, menu := s.newCalendar(settings.ShopName), settings.Menu()
	for _, v := range views {
		b := v.Booking
		event := cal.event(b.ID, statusOf(b.Stage))
		from := b.ArrivesAt
		if b.StartsAt != nil {
			from = *b.StartsAt
		}
		event.SetStartAt(from)
		event.SetEndAt(b.PromisedAt)
		event.SetSequence(b.Version + v.Moves) // a program that follows takes the higher one (RFC 5545, 3.8.7.4)
		event.SetSummary(oneEnd(fmt.Sprintf("%s, %s", b.Vehicle.Plate, b.Vehicle.Label)))
		event.SetLocation(oneEnd(b.Place.Name))
		event.SetDescription(oneEnd(fmt.Sprintf("%s: %s", menu.Of(b.Service).Name, b.Stage)))
	}
	if err := s.Store.DeviceSeen(ctx, d.ID, s.Now()); err != nil {
		return nil, err
	}
	return &Document{"text/calendar; charset=utf-8", `attachment; filename="bookings.ics"`, []byte(cal.text())}, nil
}

// statusOf says of a booking whether it stands (RFC 5545, 3.8.1.11).
func statusOf(stage visit.Stage) ics.ObjectStatus {
	if stage == visit.Cancelled || stage == visit.DidNotCome {
		return ics.ObjectStatusCancelled
	}
	return ics.ObjectStatusConfirmed
}

// calendar is an iCalendar (RFC 5545) of the shop's.
type calendar struct {
	*ics.Calendar
	now time.Time
}

func (s *server) newCalendar(name string) calendar {
	cal := ics.NewCalendarFor("Uskel")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(oneEnd(name))
	return calendar{cal, s.Now()}
}

// event is that of a booking, by one name for good.
func (c calendar) event(booking string, status ics.ObjectStatus) *ics.VEvent {
	event := c.AddEvent(booking + "@uskel")
	event.SetDtStampTime(c.now)
	event.SetStatus(status)
	return event
}

func (c calendar) text() string { return c.Serialize(ics.WithNewLine("\r\n")) }

// dayCalendar writes the day, or one person's part of it, as iCalendar (RFC 5545): an event for each vehicle.
func (s *server) dayCalendar(d dayPlan, view DayView, who string) string {
	cal := s.newCalendar(d.settings.ShopName)
	for _, v := range view.Visits {
		first, last := v.Start, v.End
		if who != "" {
			if first, last = spanOf(view, v.Booking.ID, who); last == 0 {
				continue
			}
		}
		event := cal.event(v.Booking.ID, ics.ObjectStatusConfirmed)
		event.SetStartAt(d.zero.Add(first.Duration()))
		event.SetEndAt(d.zero.Add(last.Duration()))
		event.SetSummary(oneEnd(fmt.Sprintf("%s, %s", v.Booking.Plate, v.Booking.Label)))
		event.SetLocation(oneEnd(v.BayName))
		lines := slices.DeleteFunc(
			[]string{v.Title, strings.Join(v.Who, ", "), v.Says},
			func(line string) bool { return line == "" },
		)
		event.SetDescription(oneEnd(strings.Join(lines, "\n")))
	}
	return cal.text()
}

// oneEnd writes every line end in a text as a line feed, which iCalendar escapes; a carriage return by itself would
// end a content line (RFC 5545, 3.1).
func oneEnd(text string) string {
	return strings.ReplaceAll(strings.ReplaceAll(text, "\r\n", "\n"), "\r", "\n")
}
