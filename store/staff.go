package store

import (
	"context"
	"slices"
	"time"

	"gorm.io/gorm"

	"uskel/core/shop"
)

// SignIn is a sign-in that lasts: where it was made and when it was last used.
type SignIn struct {
	ID       string
	PersonID string
	DeviceID *string // the shared tablet it was made on
	How      shop.How
	Agent    string // what the browser calls itself
	Address  string
	At       time.Time
	SeenAt   time.Time
}

// TableName is sign_ins.
func (SignIn) TableName() string { return "sign_ins" }

// ChangePerson stores what somebody is to be, or somebody new, if the rules on staff (shop.CheckChange) let by do so
// and nobody changed them since the version; who is let go is signed out. Changes of the staff wait for each other,
// so that two leads do not let each other go at once.
func (s *Store) ChangePerson(ctx context.Context, by string, p Person) error {
	return s.inStaff(ctx, func(in *Store, staff []Person) error {
		if err := checkChange(staff, by, p); err != nil {
			return err
		}
		was := p.Version
		p.Version++
		if was == 0 {
			return translate(in.with(ctx).Create(&p).Error, "sign-in "+p.SignIn)
		}
		err := oneRow(
			in.with(ctx).
				Where("id = ? AND version = ?", p.ID, was).
				Select("Version", "Name", "SignIn", "Role", "Active").
				Updates(&p),
			"person",
		)
		if err == nil && !p.Active {
			err = in.endSignIns(ctx, "i.person_id = ?", p.ID)
		}
		return err
	})
}

func checkChange(staff []Person, by string, to Person) error {
	members := make([]shop.Member, len(staff))
	var actor shop.Member
	for i, p := range staff {
		members[i] = shop.Member{ID: p.ID, Role: p.Role, Active: p.Active}
		if p.ID == by {
			actor = members[i]
		}
	}
	return shop.CheckChange(members, actor, shop.Member{ID: to.ID, Role: to.Role, Active: to.Active})
}

// inStaff works on everybody at once, while no one else does.
func (s *Store) inStaff(ctx context.Context, work func(in *Store, staff []Person) error) error {
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Exec("SELECT pg_advisory_xact_lock(hashtext('staff'))").Error; err != nil {
			return translate(err, "staff")
		}
		in := s.inside(tx)
		staff, err := in.People(ctx)
		if err != nil {
			return err
		}
		return work(in, staff)
	})
	return err
}

// GiveCode gives somebody a one-time code in place of their password, and signs them out, if by may change them; "" is
// whoever has the machine itself. The password that they had opens no more.
func (s *Store) GiveCode(ctx context.Context, by, personID, hash string, until time.Time) error {
	return s.inStaff(ctx, func(in *Store, staff []Person) error {
		at := slices.IndexFunc(staff, func(p Person) bool { return p.ID == personID && p.Active })
		if at < 0 {
			return NoSuch("person")
		}
		actor := slices.IndexFunc(staff, func(p Person) bool { return p.ID == by })
		if by != "" && staff[at].Role == shop.Owner && (actor < 0 || staff[actor].Role != shop.Owner) {
			return shop.ErrOwners
		}
		if err := in.endSignIns(ctx, "i.person_id = ?", personID); err != nil {
			return err
		}
		if err := in.with(ctx).Exec("UPDATE people SET password_hash = '' WHERE id = ?", personID).Error; err != nil {
			return translate(err, "person")
		}
		return translate(in.with(ctx).Exec(`INSERT INTO sign_in_codes (person_id, hash, until) VALUES (?, ?, ?)
			ON CONFLICT (person_id) DO UPDATE SET hash = excluded.hash, until = excluded.until`, personID, hash, until).Error, "code")
	})
}

// CodeOf is the hash of somebody's one-time code, "" when there is none that still opens.
func (s *Store) CodeOf(ctx context.Context, personID string, now time.Time) (string, error) {
	var hash string
	err := s.with(ctx).
		Raw("SELECT coalesce((SELECT hash FROM sign_in_codes WHERE person_id = ? AND until > ?), '')", personID, now).
		Scan(&hash).
		Error
	return hash, translate(err, "code")
}

// UseCode sets a password in return for a code that has just been looked at; the code opens no more. ErrStale when
// another was quicker.
func (s *Store) UseCode(ctx context.Context, personID, codeHash, passwordHash string) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		used := tx.Exec("DELETE FROM sign_in_codes WHERE person_id = ? AND hash = ?", personID, codeHash)
		if err := oneRow(used, "code"); err != nil {
			return err
		}
		return translate(
			tx.Exec("UPDATE people SET password_hash = ? WHERE id = ? AND active", passwordHash, personID).Error,
			"person",
		)
	})
}

// SetPassword changes somebody's password, if it is still the one that was looked at, and signs them out everywhere but
// where they are.
func (s *Store) SetPassword(ctx context.Context, personID, was, hash, here string) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		in := s.inside(tx)
		set := tx.Exec("UPDATE people SET password_hash = ? WHERE id = ? AND password_hash = ?", hash, personID, was)
		if err := oneRow(set, "password"); err != nil {
			return err
		}
		return in.endSignIns(ctx, "i.person_id = ? AND i.id::text <> ?", personID, here)
	})
}

// SetDigits sets the four digits that somebody signs in with on a shared tablet.
func (s *Store) SetDigits(ctx context.Context, personID, hash string) error {
	return oneRow(s.with(ctx).Exec("UPDATE people SET pin_hash = ? WHERE id = ?", hash, personID), "person")
}

// SignIns are those that last, of one person or, for "", of everybody: the newest first.
func (s *Store) SignIns(ctx context.Context, personID string) ([]SignIn, error) {
	rows := []SignIn{}
	err := s.with(ctx).
		Where(`EXISTS (SELECT 1 FROM sessions x WHERE x.sign_in_id = sign_ins.id AND x.expiry > clock_timestamp())
		AND (? = '' OR person_id::text = ?)`, personID, personID).
		Order("seen_at DESC").
		Limit(500).
		Find(&rows).
		Error
	return rows, translate(err, "sign-ins")
}

// LastSeen is when each person was here last.
func (s *Store) LastSeen(ctx context.Context) (map[string]time.Time, error) {
	var rows []struct {
		PersonID string
		At       time.Time
	}
	err := s.with(ctx).Raw("SELECT person_id, max(seen_at) AS at FROM sign_ins GROUP BY person_id").Scan(&rows).Error
	seen := map[string]time.Time{}
	for _, r := range rows {
		seen[r.PersonID] = r.At.UTC()
	}
	return seen, translate(err, "sign-ins")
}

// AddSignIn notes a sign-in.
func (s *Store) AddSignIn(ctx context.Context, in SignIn) error {
	return translate(s.with(ctx).Create(&in).Error, "sign-in")
}

// Seen notes that a sign-in is still used.
func (s *Store) Seen(ctx context.Context, signInID string, at time.Time) error {
	return translate(
		s.with(ctx).Exec("UPDATE sign_ins SET seen_at = greatest(seen_at, ?) WHERE id = ?", at, signInID).Error,
		"sign-in",
	)
}

// EndSignIn ends a sign-in; of a person's own when one is named. The screens that follow by it end, too.
func (s *Store) EndSignIn(ctx context.Context, id, personID string) error {
	return s.endSignIns(ctx, "i.id::text = ? AND (? = '' OR i.person_id::text = ?)", id, personID, personID)
}

func (s *Store) endSignIns(ctx context.Context, where string, args ...any) error {
	return translate(
		s.with(ctx).Exec("DELETE FROM sessions x USING sign_ins i WHERE x.sign_in_id = i.id AND "+where, args...).Error,
		"sign-ins",
	)
}

// Device is something that is signed in by itself.
type Device struct {
	ID        string
	Kind      shop.DeviceKind
	Name      string
	TokenHash string
	ByID      string
	At        time.Time
	SeenAt    *time.Time
	EndedAt   *time.Time
}

// AddDevice stores a device.
func (s *Store) AddDevice(ctx context.Context, d Device) error {
	return translate(s.with(ctx).Create(&d).Error, "device")
}

// Devices are those that may still be used, the newest first.
func (s *Store) Devices(ctx context.Context) ([]Device, error) {
	return list[Device](ctx, s, "devices", "at DESC", "ended_at IS NULL")
}

// DeviceBy finds the device of a kind that holds a token, by the token's hash, if it was not ended.
func (s *Store) DeviceBy(ctx context.Context, kind shop.DeviceKind, tokenHash string) (Device, error) {
	return find[Device](ctx, s, "device", "kind = ? AND token_hash = ? AND ended_at IS NULL", kind, tokenHash)
}

// RenewDevice gives a sensor or a calendar another token: the old one opens nothing from then on.
func (s *Store) RenewDevice(ctx context.Context, id, tokenHash string) error {
	done := s.with(ctx).Exec("UPDATE devices SET token_hash = ? WHERE id = ? AND ended_at IS NULL AND kind <> ?", tokenHash, id, shop.Tablet)
	if done.Error == nil && done.RowsAffected == 0 {
		return NoSuch("device")
	}
	return translate(done.Error, "device")
}

// EndDevice ends a device with whoever is signed in on it.
func (s *Store) EndDevice(ctx context.Context, id string, at time.Time) error {
	return s.with(ctx).Transaction(func(tx *gorm.DB) error {
		in := s.inside(tx)
		if err := oneRow(
			tx.Exec("UPDATE devices SET ended_at = ? WHERE id = ? AND ended_at IS NULL", at, id),
			"device",
		); err != nil {
			return err
		}
		return in.endSignIns(ctx, "i.device_id = ?", id)
	})
}

// DeviceSeen notes that a device is used.
func (s *Store) DeviceSeen(ctx context.Context, id string, at time.Time) error {
	return translate(s.with(ctx).Exec("UPDATE devices SET seen_at = ? WHERE id = ?", at, id).Error, "device")
}
