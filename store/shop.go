package store

import (
	"context"
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"uskel/core/audit"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/vehicle"
	"uskel/core/visit"
)

// AddPerson stores someone new, whatever the rules on staff say: see ChangePerson.
func (s *Store) AddPerson(ctx context.Context, p Person) error {
	p.Version = 1
	return translate(s.with(ctx).Create(&p).Error, "sign-in "+p.SignIn)
}

// People lists everyone, by name.
func (s *Store) People(ctx context.Context) ([]Person, error) {
	return list[Person](ctx, s, "people", "name", "true")
}

// Person finds someone by id.
func (s *Store) Person(ctx context.Context, id string) (Person, error) {
	return find[Person](ctx, s, "person", "id = ?", id)
}

// PersonBySignIn finds someone by the name they sign in with, in small letters or capitals.
func (s *Store) PersonBySignIn(ctx context.Context, signIn string) (Person, error) {
	return find[Person](ctx, s, "person", "lower(sign_in) = lower(?)", signIn)
}

// Settings gives the shop's settings with their version.
func (s *Store) Settings(ctx context.Context) (shop.Settings, int, error) {
	row, err := find[settingsRow](ctx, s, "settings", "id = 1")
	return row.Doc, row.Version, err
}

// SaveSettings replaces the settings if nobody did since version; version 0 makes the first ones.
func (s *Store) SaveSettings(ctx context.Context, doc shop.Settings, version int) error {
	next := settingsRow{1, version + 1, doc}
	if version == 0 {
		return translate(s.with(ctx).Create(&next).Error, "settings")
	}
	return oneRow(
		s.with(ctx).Where("id = 1 AND version = ?", version).Select("Version", "Doc").Updates(&next),
		"settings",
	)
}

// oneRow reports ErrStale when an optimistic update met no row.
func oneRow(tx *gorm.DB, what string) error {
	if tx.Error == nil && tx.RowsAffected == 0 {
		return stale(what)
	}
	return translate(tx.Error, what)
}

// AddVehicle stores a vehicle.
func (s *Store) AddVehicle(ctx context.Context, v Vehicle) error {
	v.PlateKey = vehicle.PlateKey(v.Plate)
	return translate(s.with(ctx).Create(&v).Error, "plate "+v.Plate)
}

// Vehicles lists vehicles by plate, those whose plate or name has a text in it, from some place in the list on.
func (s *Store) Vehicles(ctx context.Context, find string, from, most int) ([]Vehicle, error) {
	rows := []Vehicle{}
	key := vehicle.PlateKey(find)
	like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(find) + "%"
	err := s.with(ctx).
		Where("plate ILIKE ? OR label ILIKE ? OR ? <> '' AND plate_key LIKE ?", like, like, key, "%"+key+"%").
		Order("plate").
		Offset(from).
		Limit(most).
		Find(&rows).
		Error
	return rows, translate(err, "vehicles")
}

// Vehicle finds a vehicle by id.
func (s *Store) Vehicle(ctx context.Context, id string) (Vehicle, error) {
	return find[Vehicle](ctx, s, "vehicle", "id = ?", id)
}

// AddBooking stores a booking. A vehicle that is booked already at that time is a *Booked.
func (s *Store) AddBooking(ctx context.Context, b Booking) error {
	return s.atVehicle(ctx, b.VehicleID, func(in *Store) error {
		if err := in.notBooked(ctx, b); err != nil {
			return err
		}
		return translate(in.with(ctx).Omit("Vehicle", "Washer").Create(&b).Error, "booking")
	})
}

// Booked is a booking that a vehicle has already at the same time.
type Booked struct{ ArrivesAt, PromisedAt time.Time }

func (b *Booked) Error() string { return "booked already" }

// atVehicle holds a vehicle while it is booked: two bookings of one wait for each other.
func (s *Store) atVehicle(ctx context.Context, id string, do func(in *Store) error) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		var there []string
		if err := tx.Raw("SELECT id FROM vehicles WHERE id = ? FOR NO KEY UPDATE", id).Scan(&there).Error; err != nil {
			return translate(err, "vehicle")
		}
		if len(there) == 0 {
			return NoSuch("vehicle")
		}
		return do(s.inside(tx))
	})
}

// notBooked refuses a booking of a vehicle that has another at the same time which nobody has closed.
func (s *Store) notBooked(ctx context.Context, b Booking) error {
	var others []Booked
	err := s.with(ctx).Raw(`SELECT arrives_at, promised_at FROM bookings WHERE vehicle_id = ? AND id <> ? AND arrives_at < ?
		AND promised_at > ?
		AND stage NOT IN ('cancelled', 'did not come', 'handed over', 'come back') ORDER BY arrives_at LIMIT 1`, b.VehicleID, b.ID, b.PromisedAt,
		b.ArrivesAt).Scan(&others).Error
	if err != nil || len(others) == 0 {
		return translate(err, "booking")
	}
	return &others[0]
}

// BookingView is a booking with what became of it.
type BookingView struct {
	Booking  Booking
	LookOver *LookOver
	Wash     *Wash
	Audit    *Audit     // the newest
	Said     *VisitMove // what was said of it last
	Moves    int        // how often something was said of it
}

// Bookings lists the bookings between whose arrival and promise a span of time lies, wholly or in part, each with
// look-over, wash and audit, in a fixed number of queries.
func (s *Store) Bookings(ctx context.Context, from, to time.Time) ([]BookingView, error) {
	var rows []Booking
	err := s.with(ctx).
		Joins("Vehicle").
		Joins("Washer").
		Where("promised_at >= ? AND arrives_at < ?", from, to).
		Order("arrives_at").
		Find(&rows).
		Error
	if err != nil {
		return nil, translate(err, "bookings")
	}
	return s.views(ctx, rows)
}

// Standing lists the bookings of a span of time, as Bookings does, with all vehicles from before it that nobody has closed yet: they
// stand in the yard, whatever the date.
func (s *Store) Standing(ctx context.Context, from, to time.Time) ([]BookingView, error) {
	var rows []Booking
	err := s.with(ctx).
		Joins("Vehicle").
		Joins("Washer").
		Where("promised_at >= ? AND arrives_at < ? OR arrives_at < ? AND stage NOT IN ('cancelled', 'did not come', 'handed over')",
			from, to, from).
		Order("arrives_at").
		Find(&rows).
		Error
	if err != nil {
		return nil, translate(err, "bookings")
	}
	return s.views(ctx, rows)
}

// BookingsOf lists a vehicle's bookings that arrive before a moment, the newest first, each with what became of it.
func (s *Store) BookingsOf(ctx context.Context, vehicle string, before time.Time, most int) ([]BookingView, error) {
	var rows []Booking
	err := s.with(ctx).
		Joins("Vehicle").
		Joins("Washer").
		Where("bookings.vehicle_id = ? AND arrives_at < ?", vehicle, before).
		Order("arrives_at DESC").
		Limit(most).
		Find(&rows).
		Error
	if err != nil {
		return nil, translate(err, "bookings")
	}
	return s.views(ctx, rows)
}

// Booking finds one booking with what became of it.
func (s *Store) Booking(ctx context.Context, id string) (BookingView, error) {
	var row Booking
	err := s.with(ctx).Joins("Vehicle").Joins("Washer").Where("bookings.id = ?", id).Take(&row).Error
	if err != nil {
		return BookingView{}, translate(err, "booking")
	}
	views, err := s.views(ctx, []Booking{row})
	if err != nil {
		return BookingView{}, err
	}
	return views[0], nil
}

func (s *Store) views(ctx context.Context, rows []Booking) ([]BookingView, error) {
	ids := make([]string, len(rows))
	views := make([]BookingView, len(rows))
	at := map[string]*BookingView{}
	for i, b := range rows {
		ids[i], views[i].Booking = b.ID, b
		at[b.ID] = &views[i]
	}
	looks, err := list[LookOver](ctx, s, "look-overs", "booking_id", "booking_id IN ?", ids)
	if err != nil {
		return nil, err
	}
	for i := range looks {
		at[looks[i].BookingID].LookOver = &looks[i]
	}
	var washes []Wash
	if err := s.with(ctx).Omit("Plan").Joins("Washer").Where("booking_id IN ?", ids).Find(&washes).Error; err != nil {
		return nil, translate(err, "washes")
	}
	var said []struct {
		VisitMove
		Moves int
	}
	err = s.with(ctx).Raw(`SELECT DISTINCT ON (booking_id) *, count(*) OVER (PARTITION BY booking_id) AS moves FROM visit_moves
		WHERE booking_id IN ? ORDER BY booking_id, at DESC, id DESC`, ids).Scan(&said).Error
	if err != nil {
		return nil, translate(err, "visits")
	}
	for i := range said {
		of := at[said[i].BookingID]
		of.Said, of.Moves = &said[i].VisitMove, said[i].Moves
	}
	washAt, washIDs := map[string]*BookingView{}, make([]string, len(washes))
	for i := range washes {
		washIDs[i] = washes[i].ID
		at[washes[i].BookingID].Wash = &washes[i]
		washAt[washes[i].ID] = at[washes[i].BookingID]
	}
	if len(washIDs) == 0 {
		return views, nil
	}
	audits, err := list[Audit](ctx, s, "audits", "round", "wash_id IN ?", washIDs)
	for i := range audits {
		washAt[audits[i].WashID].Audit = &audits[i]
	}
	return views, err
}

// SaveLookOver stores a look-over if nobody saved since version and the wash has not begun; version 0 makes the first
// one.
func (s *Store) SaveLookOver(ctx context.Context, l LookOver) (LookOver, error) {
	err := s.atVisit(ctx, "id = ?", l.BookingID, func(in *Store, v *held) error {
		if err := v.move(visit.LookOver); err != nil {
			return err
		}
		was := l.Version
		l.Version++
		if was == 0 {
			err := translate(in.with(ctx).Create(&l).Error, "look-over")
			if errors.Is(err, ErrTaken) {
				err = stale("look-over")
			}
			return err
		}
		return oneRow(in.with(ctx).Where("booking_id = ? AND version = ?", l.BookingID, was).Select("Version", "Doc",
			"ByID", "At").Updates(&l), "look-over")
	})
	return l, err
}

// PublishChecklist stores a version of a checklist.
func (s *Store) PublishChecklist(ctx context.Context, c audit.Checklist, at time.Time) error {
	row := ChecklistRow{ID: c.ID, Version: c.Version, Doc: c, PublishedAt: at}
	return translate(s.with(ctx).Omit("By").Clauses(clause.OnConflict{DoNothing: true}).Create(&row).Error, "checklist")
}

// AddChecklist stores a new version; one that somebody else has written meanwhile is ErrStale.
func (s *Store) AddChecklist(ctx context.Context, row ChecklistRow) error {
	return oneRow(s.with(ctx).Omit("By").Clauses(clause.OnConflict{DoNothing: true}).Create(&row), "checklist")
}

// Checklists are the newest versions of all lists, in the order in which they were first published.
func (s *Store) Checklists(ctx context.Context) ([]ChecklistRow, error) {
	rows := []ChecklistRow{}
	err := s.with(ctx).Joins("By").
		Where("(checklists.id, checklists.version) IN (SELECT id, max(version) FROM checklists GROUP BY id)").
		Order("(SELECT min(published_at) FROM checklists f WHERE f.id = checklists.id), checklists.id").Find(&rows).Error
	return rows, translate(err, "checklists")
}

// ChecklistVersions are all versions of a list, the newest first; none where there is no such list.
func (s *Store) ChecklistVersions(ctx context.Context, id string) ([]ChecklistRow, error) {
	rows := []ChecklistRow{}
	err := s.with(ctx).Joins("By").Where("checklists.id = ?", id).Order("checklists.version DESC").Find(&rows).Error
	return rows, translate(err, "checklists")
}

// Checklist finds a version of a checklist; version 0 is the newest.
func (s *Store) Checklist(ctx context.Context, id string, version int) (audit.Checklist, error) {
	var row ChecklistRow
	err := s.with(ctx).
		Where("id = ? AND (version = ? OR ? = 0)", id, version, version).
		Order("version DESC").
		First(&row).
		Error
	return row.Doc, translate(err, "checklist")
}

// SaveProduct stores a product if nobody did since version; version 0 makes a new one.
func (s *Store) SaveProduct(ctx context.Context, p shelf.Product, version int) error {
	row := productRow{p.ID, version + 1, p}
	if version == 0 {
		return translate(s.with(ctx).Create(&row).Error, "product "+p.ID)
	}
	return oneRow(
		s.with(ctx).Where("id = ? AND version = ?", p.ID, version).Select("Version", "Doc").Updates(&row),
		"product",
	)
}

// Products lists the shelf.
func (s *Store) Products(ctx context.Context) ([]shelf.Product, error) {
	docs, _, err := s.ProductVersions(ctx)
	return docs, err
}

// ProductVersions lists the shelf with the version of each product.
func (s *Store) ProductVersions(ctx context.Context) ([]shelf.Product, map[string]int, error) {
	rows, err := list[productRow](ctx, s, "products", "id", "true")
	docs, versions := make([]shelf.Product, len(rows)), map[string]int{}
	for i, r := range rows {
		docs[i], versions[r.ID] = r.Doc, r.Version
	}
	return docs, versions, err
}
