package api

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/audit"
	"uskel/core/climate"
	"uskel/core/measure"
	"uskel/core/procedure/starters"
	"uskel/core/shop"
	"uskel/core/wrong"
	"uskel/store"
)

// SetupView is whether a shop is still to be set up, and what may be chosen.
type SetupView struct {
	Open      bool           `json:"open" doc:"the database holds no shop: this page works once"`
	Choices   *shop.Choices  `json:"choices,omitempty"`
	Questions []QuestionView `json:"questions"`
}

// Founder is the first person of a shop, its owner.
type Founder struct {
	Name     string `json:"name" minLength:"1" maxLength:"80"`
	SignIn   string `json:"signIn" minLength:"1" maxLength:"60"`
	Password string `json:"password" minLength:"1" maxLength:"400"`
}

// SetUp is all that a new shop begins with.
type SetUp struct {
	shop.Answers
	Founder Founder `json:"founder"`
}

func (s *server) registerSetup(api huma.API) {
	operation(s, api, get("/setup", "setup", "Whether a shop is still to be set up"), nobody, s.setupView)
	operation(
		s,
		api,
		post("/setup", "setUp", "Set a shop up in an empty database, by the code that the server printed"),
		nobody,
		s.setUp,
	)
}

func (s *server) setupView(ctx context.Context, _ *struct{}) (*Out[SetupView], error) {
	empty, err := s.Store.Empty(ctx)
	if err != nil || !empty {
		return &Out[SetupView]{SetupView{Questions: []QuestionView{}}}, err
	}
	offered := shop.Offered()
	return out(SetupView{true, &offered, questions()})
}

// setupLimits slow guessing of the set-up code.
func setupLimits(address string) []store.Limit {
	return []store.Limit{
		{Key: "setup", Burst: 30, Every: 10 * time.Second},
		{Key: "setup from " + address, Burst: 10, Every: 10 * time.Second},
	}
}

func (s *server) setUp(ctx context.Context, in *struct {
	Agent string `header:"User-Agent"`
	Body  struct {
		Code string `json:"code" maxLength:"40" doc:"as the server printed it when it started"`
		SetUp
	}
}) (*Out[Me], error) {
	if may, err := s.Store.TakeTry(ctx, setupLimits(cameFrom(ctx).address)...); err != nil {
		return nil, err
	} else if !may {
		return nil, tooMany()
	}
	hash, err := s.Store.SetupCode(ctx)
	if err != nil {
		return nil, err
	}
	if hash == "" {
		return nil, conflict("A shop is set up here already: sign in.")
	}
	typed, _ := shop.ReadCode(in.Body.Code)
	if ok, err := s.matches(ctx, typed, hash); err != nil {
		return nil, err
	} else if !ok {
		return nil, invalid("code", errors.New("this is not the code that the server printed when it was last started"))
	}
	f, err := Founding(in.Body.SetUp, s.Now(), s.Refused...)
	if err != nil {
		return nil, err
	}
	if f.Lead.PasswordHash, err = s.hash(ctx, in.Body.Founder.Password); err != nil {
		return nil, err
	}
	if err := s.Store.Found(ctx, f); errors.Is(err, store.ErrFounded) {
		return nil, conflict("A shop is set up here already: sign in.")
	} else if err != nil {
		return nil, err
	}
	s.Told()
	if err := s.begin(ctx, f.Lead, shop.ByPassword, nil, in.Agent); err != nil {
		return nil, err
	}
	return s.me(ctx, f.Lead)
}

// Founding is what a shop begins with by the answers that were given; the lead's password is left to be hashed. What
// cannot be is named field by field.
func Founding(a SetUp, now time.Time, refused ...string) (store.Founding, error) {
	var errs []error
	settings, err := a.Answers.Settings(store.NewID)
	if err != nil {
		errs = append(errs, err)
	}
	signIn, err := shop.ParseSignIn(a.Founder.SignIn)
	if err != nil {
		errs = append(errs, wrong.In("founder.signIn", err))
	}
	if err := shop.CheckPassword(a.Founder.Password, signIn, a.Founder.Name, refused...); err != nil {
		errs = append(errs, wrong.In("founder.password", err))
	}
	if len(errs) > 0 {
		return store.Founding{}, invalid("", errors.Join(errs...))
	}
	f := store.Founding{
		Lead: store.Person{
			ID:     store.NewID(),
			Name:   strings.TrimSpace(a.Founder.Name),
			SignIn: signIn,
			Role:   shop.Owner,
			Active: true,
		},
		Settings:   settings,
		Procedures: starters.Starters(),
		Products:   a.Products(),
		Checklists: audit.Starters(),
		Note:       "The starter procedures.",
		At:         now,
	}
	for _, c := range shop.StarterCloths {
		f.Cloths = append(
			f.Cloths,
			store.ClothRow{
				ID:        store.NewID(),
				Kind:      c.Kind,
				Colour:    c.Colour,
				Count:     c.Count,
				WashLimit: c.WashLimit,
				Since:     now,
			},
		)
	}
	if a.Water != nil {
		reading, err := waterReading(*a.Water, now)
		if err != nil {
			return f, invalid("water", err)
		}
		f.Readings = append(f.Readings, reading)
	}
	return f, nil
}

// waterReading is the supply as it was told at setting up.
func waterReading(a shop.WaterAnswer, now time.Time) (store.Reading, error) {
	hardness, err := measure.NewHardness(a.Hardness, a.Unit)
	if err != nil {
		return store.Reading{}, err
	}
	doc, err := json.Marshal(climate.Supply(hardness, a.Solids))
	return store.Reading{
		ID:      store.NewID(),
		Kind:    climate.WaterReading,
		At:      now,
		Doc:     doc,
		Source:  "typed in at setting up",
		TakenAt: now,
	}, err
}
