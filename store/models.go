package store

import (
	"slices"
	"time"

	"github.com/google/uuid"

	"uskel/core/audit"
	"uskel/core/condition"
	"uskel/core/plan"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/stock"
	"uskel/core/timing"
	"uskel/core/vehicle"
	"uskel/core/visit"
	"uskel/core/wash"
)

// NewID makes an id that sorts by time.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

// Person is someone who signs in.
type Person struct {
	ID           string
	Name         string
	SignIn       string
	Role         shop.Role
	PasswordHash string // nobody signs in by an empty one
	PinHash      string // of the four digits for a shared tablet; empty when they have none
	Active       bool
	Version      int
}

// TableName is people.
func (Person) TableName() string { return "people" }

type settingsRow struct {
	ID      int
	Version int
	Doc     shop.Settings `gorm:"serializer:json"`
}

// TableName is settings.
func (settingsRow) TableName() string { return "settings" }

// Vehicle is a customer's vehicle.
type Vehicle struct {
	ID    string
	Plate string
	// PlateKey is what it is known by, however the plate is typed; kept with it.
	PlateKey string
	Label    string
	Spec     vehicle.Vehicle `gorm:"serializer:json"`
	DueAt    *time.Time      // when it needs something next
	Care     *condition.Care `gorm:"serializer:json"` // what was done to it, kept with its washes
}

// Booking is a vehicle on a day.
type Booking struct {
	ID         string
	VehicleID  string
	ArrivesAt  time.Time
	PromisedAt time.Time
	Service    string
	Place      condition.Place `gorm:"serializer:json"`
	WasherID   *string
	Version    int
	Stage      visit.Stage
	Arranged   *plan.Arranged `gorm:"serializer:json"`
	StartsAt   *time.Time     // when the wash is to begin, if it was given a slot
	Vehicle    Vehicle
	Washer     *Person
}

// LookOver is a booking's look-over.
type LookOver struct {
	BookingID string `gorm:"primaryKey"`
	Version   int
	Doc       condition.LookOver `gorm:"serializer:json"`
	ByID      string
	At        time.Time
}

// ChecklistRow is a version of a checklist; nobody wrote what a shop began with.
type ChecklistRow struct {
	ID          string          `gorm:"primaryKey"`
	Version     int             `gorm:"primaryKey"`
	Doc         audit.Checklist `gorm:"serializer:json"`
	PublishedAt time.Time
	ByID        *string
	By          *Person
}

// TableName is checklists.
func (ChecklistRow) TableName() string { return "checklists" }

type productRow struct {
	ID      string
	Version int
	Doc     shelf.Product `gorm:"serializer:json"`
}

// TableName is products.
func (productRow) TableName() string { return "products" }

// Wash is a wash with the plan it ran.
type Wash struct {
	ID         string
	BookingID  string
	Plan       plan.Plan          `gorm:"serializer:json"` // left out of lists: it is large
	Planned    []wash.PlannedStep `gorm:"column:steps;serializer:json"`
	Rework     []wash.PlannedStep `gorm:"serializer:json"`
	Uses       stock.Uses         `gorm:"serializer:json"` // by the plan
	Used       *stock.Uses        `gorm:"serializer:json"` // by the taps, once it is finished
	WasherID   string
	CreatedAt  time.Time
	StartedAt  *time.Time // kept with the times
	FinishedAt *time.Time
	Summary    *timing.WashTimes `gorm:"serializer:json"`
	ClosedAt   *time.Time
	Frozen     plan.Frozen `gorm:"serializer:json"`
	AuditID    *string     // the newest
	Covered    bool        // protection was put on
	Serviced   bool        // it is the service a coating wants
	// Varies is how the length of each stage varies when the wash begins, as a share of it: kept with its steps.
	Varies map[string]float64 `gorm:"-"`
	// Looks is what is looked at before each step when the wash begins: kept with its steps.
	Looks   map[string][]wash.Look `gorm:"-"`
	Booking Booking
	Washer  Person
}

// Steps are the plan's steps and any rework, as the fold needs them.
func (w Wash) Steps() []wash.PlannedStep { return slices.Concat(w.Planned, w.Rework) }

type eventRow struct {
	ID         string
	WashID     string
	Kind       wash.Kind
	Step       string
	At         time.Time
	Seq        int
	Body       string
	Undoes     string
	ByID       string
	ReceivedAt time.Time
	Detail     wash.Detail `gorm:"serializer:json"`
	Device     string
	Late       bool
	No         int64 `gorm:"->"` // in the order in which they came; the database's own
}

// TableName is wash_events.
func (eventRow) TableName() string { return "wash_events" }

func (e eventRow) event() wash.Event {
	return wash.Event{ID: e.ID, Kind: e.Kind, Step: e.Step, At: e.At.UTC(), Seq: e.Seq, Text: e.Body,
		Undoes: e.Undoes, By: e.ByID, Device: e.Device, Late: e.Late,
		Detail: e.Detail}
}

// Audit is a walk round a finished wash.
type Audit struct {
	ID               string
	WashID           string
	AuditorID        string
	ChecklistID      string
	ChecklistVersion int
	StartedAt        time.Time
	Light            audit.Light
	Skips            map[string]string `gorm:"serializer:json"` // items that the wash does not ask for, each with why
	ClosedAt         *time.Time
	Result           *audit.Result `gorm:"serializer:json"`
	Round            int           // 1 for the first, one more each time rework was asked for and it is looked at again
	WashedToo        bool          // somebody who signed or answered it turned out to have washed
	SignerID         *string       // who signed it, who need not have opened it
	Auditor          Person
	Signer           *Person
	Items            []AuditItem
	Remarks          []AuditRemark
}

// Answers are what was answered, by item.
func (a Audit) Answers() map[string]audit.Answer {
	given := map[string]audit.Answer{}
	for _, item := range a.Items {
		given[item.Item] = item.Answer
	}
	return given
}

// Walked is how it is walked.
func (a Audit) Walked() audit.Walked { return audit.Walked{Light: a.Light, Skips: a.Skips} }

// AuditRemark is an answer that came after the audit was signed.
type AuditRemark struct {
	ID      string
	AuditID string
	Item    string
	Answer  audit.Answer `gorm:"serializer:json"`
	ByID    string
	At      time.Time
}

// Correction is the lead's correction of a closed wash.
type Correction struct {
	ID     string
	WashID string
	Doc    wash.Correction `gorm:"serializer:json"`
	ByID   string
	At     time.Time
	By     Person
}

// VisitMove is what somebody said of a visit.
type VisitMove struct {
	ID        string
	BookingID string
	Move      visit.Move
	From      visit.Stage `gorm:"column:from_stage"`
	To        visit.Stage `gorm:"column:to_stage"`
	Why       string
	ByID      string
	At        time.Time
}

// AuditItem is one answered item.
type AuditItem struct {
	AuditID string `gorm:"primaryKey"`
	Item    string `gorm:"primaryKey"`
	Version int
	Answer  audit.Answer `gorm:"serializer:json"`
	ByID    string
	At      time.Time
}

// SignOff is a trainer's judgement.
type SignOff struct {
	ID        string
	PersonID  string
	Skill     procedure.Skill
	WashID    *string
	TrainerID string
	Criteria  map[string]bool `gorm:"serializer:json"`
	Version   int             // of the rubric
	Passed    bool
	At        time.Time
	Trainer   Person
}
