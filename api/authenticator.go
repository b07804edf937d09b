package api

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"image/png"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"
	"github.com/pquerna/otp/totp"

	"uskel/core/shop"
)

// AuthenticatorView is whether somebody's authenticator is asked for.
type AuthenticatorView struct {
	On       *time.Time `json:"on,omitempty" doc:"since when; absent while it is off"`
	Recovery int        `json:"recovery" doc:"recovery codes left"`
}

// NewAuthenticator is what an authenticator app is told, once.
type NewAuthenticator struct {
	Secret  string `json:"secret" doc:"to type by hand"`
	Link    string `json:"link" doc:"what the picture holds"`
	Picture string `json:"picture" doc:"to be looked at by the app's camera: a PNG as a data URL"`
}

// RecoveryCodes each open once in place of the app, and are shown once.
type RecoveryCodes struct {
	Codes []string `json:"codes"`
}

func (s *server) registerAuthenticator(api huma.API) {
	operation(s, api, get("/session/authenticator", "authenticator", "Whether one's own authenticator is asked for"), shop.See,
		func(ctx context.Context, _ *struct{}) (*Out[AuthenticatorView], error) {
			a, err := s.Store.Authenticator(ctx, who(ctx).ID)
			return &Out[AuthenticatorView]{AuthenticatorView{a.On, a.Left}}, err
		})
	operation(s, api, post("/session/authenticator", "offerAuthenticator", "Begin to set one's own authenticator up"), shop.KeepPeople,
		s.offerAuthenticator)
	operation(s, api, post("/session/authenticator/on", "turnOnAuthenticator", "Ask for it from now on"), shop.KeepPeople,
		s.turnOnAuthenticator)
	operation(s, api, huma.Operation{Method: http.MethodDelete, Path: "/session/authenticator", OperationID: "turnOffAuthenticator",
		Summary: "Ask for it no more"}, shop.KeepPeople, func(ctx context.Context, _ *struct{}) (*struct{}, error) {
		if err := s.Store.TurnOff(ctx, who(ctx).ID); err != nil {
			return nil, err
		}
		s.Log.Info("authenticator turned off", "person", who(ctx).ID)
		return nil, nil
	})
}

// The codes are those of RFC 6238 as most apps take them: six digits by SHA-1, a new one every 30 s, and the one before or after is
// taken too, for clocks that differ (its section 5.2; from memory).
const (
	codeEvery = 30 * time.Second
	codeSlack = 1
)

var codeForm = hotp.ValidateOpts{Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}

func (s *server) offerAuthenticator(ctx context.Context, _ *struct{}) (*Out[NewAuthenticator], error) {
	settings, _, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: strings.ReplaceAll(settings.ShopName, ":", " "), AccountName: who(ctx).SignIn,
		Period: uint(codeEvery / time.Second), Digits: codeForm.Digits, Algorithm: codeForm.Algorithm})
	if err != nil {
		return nil, err
	}
	picture, err := key.Image(240, 240)
	if err != nil {
		return nil, err
	}
	var file bytes.Buffer
	if err := png.Encode(&file, picture); err != nil {
		return nil, err
	}
	if err := s.Store.OfferAuthenticator(ctx, who(ctx).ID, key.Secret()); err != nil {
		return nil, err
	}
	return out(NewAuthenticator{key.Secret(), key.String(), "data:image/png;base64," + base64.StdEncoding.EncodeToString(file.Bytes())})
}

func (s *server) turnOnAuthenticator(ctx context.Context, in *In[struct {
	Code string `json:"code" minLength:"6" maxLength:"40" doc:"the app's, to see that it works"`
}]) (*Out[RecoveryCodes], error) {
	a, err := s.Store.Authenticator(ctx, who(ctx).ID)
	if err != nil {
		return nil, err
	}
	step, ok := stepOf(a.Secret, in.Body.Code, s.Wall())
	if a.Secret == "" || !ok {
		return nil, invalid("code", errors.New("this is not the app's code of now: see that the clock of its device is right"))
	}
	var made RecoveryCodes
	var hashes []string
	for range recoveryCodes {
		code := recoveryCode()
		made.Codes, hashes = append(made.Codes, code), append(hashes, tokenHash(bareCode(code)))
	}
	if err := s.Store.TurnOn(ctx, who(ctx).ID, a.Secret, step, hashes, s.Now()); err != nil {
		return nil, err
	}
	s.Log.Info("authenticator turned on", "person", who(ctx).ID)
	return out(made)
}

// stepOf is the step of the clock whose code was typed, among those that are taken now.
func stepOf(secret, typed string, now time.Time) (step int64, ok bool) {
	at := now.Unix() / int64(codeEvery/time.Second)
	for step := at - codeSlack; step <= at+codeSlack; step++ {
		code, err := hotp.GenerateCodeCustom(secret, uint64(step), codeForm)
		if err == nil && subtle.ConstantTimeCompare([]byte(code), []byte(bareCode(typed))) == 1 {
			return step, true
		}
	}
	return 0, false
}

// recoveryCodes is how many there are.
const recoveryCodes = 10

// recoveryCode draws one of 80 bits, in fours.
func recoveryCode() string {
	t := strings.ToLower(rand.Text())
	return strings.Join([]string{t[:4], t[4:8], t[8:12], t[12:16]}, "-")
}

// bareCode is a code without the blanks and dashes that people type.
func bareCode(typed string) string {
	return strings.ToLower(strings.NewReplacer(" ", "", "-", "", "\u00a0", "").Replace(strings.TrimSpace(typed)))
}

// authenticatorField is where a refusal points that a code of the authenticator would lift.
const authenticatorField = "body.authenticator"

// second looks at the second thing that somebody signs in by, where they have switched one on: their app's code, or a recovery code.
func (s *server) second(ctx context.Context, a attempt, typed string) error {
	app, err := s.Store.Authenticator(ctx, a.person.ID)
	if err != nil || app.On == nil {
		return err
	}
	if typed == "" { // the password was right: asking costs no try
		if err := s.Store.GiveTryBack(ctx, a.limits...); err != nil {
			return err
		}
		return huma.NewError(http.StatusUnauthorized, "Type the code that your authenticator shows.",
			&huma.ErrorDetail{Location: authenticatorField, Message: "the code of your authenticator is asked for"})
	}
	var opened bool
	if step, ok := stepOf(app.Secret, typed, s.Wall()); ok {
		opened, err = s.Store.UseStep(ctx, a.person.ID, step)
	} else {
		opened, err = s.Store.UseRecovery(ctx, a.person.ID, tokenHash(bareCode(typed)), s.Now())
	}
	if err != nil {
		return err
	}
	if !opened {
		s.Log.Warn("authenticator refused", "person", a.person.ID, "from", cameFrom(ctx).address)
		return huma.NewError(http.StatusUnauthorized, "This code opens nothing: type the one that your authenticator shows now.",
			&huma.ErrorDetail{Location: authenticatorField, Message: "not the code of now, or used already"})
	}
	return nil
}
