package main

import (
	"bufio"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"

	"uskel/api"
	"uskel/core/measure"
	"uskel/core/shop"
	"uskel/demo"
	"uskel/store"
)

// asked is one thing that setting up asks for.
type asked struct {
	flag, env, text, usual string
	into                   *string
}

// setUp fills an empty database with a new shop: by flags, by the environment, or by asking. What the set-up page asks
// besides can be said later, under Settings.
func setUp(ctx context.Context, s *store.Store, args []string, in io.Reader, out io.Writer) error {
	var a api.SetUp
	var units, kinds, passwordFile string
	questions := []asked{
		{"name", "USKEL_SHOP", "What is the shop called?", "", &a.ShopName},
		{"units", "USKEL_UNITS", "Units, metric or us", "metric", &units},
		{"currency", "USKEL_CURRENCY", "Currency sign", "€", &a.Currency},
		{"time-zone", "USKEL_TIME_ZONE", "Time zone, as in Europe/Lisbon", "UTC", &a.TimeZone},
		{
			"places",
			"USKEL_PLACES",
			"Where do you wash? Some of covered bay, open yard, garage, mobile, with commas between",
			"covered bay",
			&kinds,
		},
		{"lead", "USKEL_LEAD", "Your name", "", &a.Founder.Name},
		{"sign-in", "USKEL_SIGN_IN", "The name you want to sign in by", "", &a.Founder.SignIn},
		{"", "USKEL_PASSWORD", "A password: ten letters or more", "", &a.Founder.Password},
	}
	flags := flag.NewFlagSet("setup", flag.ContinueOnError)
	flags.SetOutput(out)
	for _, q := range questions {
		if q.flag != "" {
			flags.StringVar(q.into, q.flag, os.Getenv(q.env), q.text+" ("+q.env+")")
		}
	}
	a.Founder.Password = os.Getenv("USKEL_PASSWORD")
	answers := flags.String("answers", os.Getenv("USKEL_ANSWERS"),
		"file with all that the set-up page asks, as JSON, in place of the others (USKEL_ANSWERS)")
	flags.StringVar(
		&passwordFile,
		"password-file",
		"",
		"file that holds the password; else USKEL_PASSWORD, else it is asked for",
	)
	if err := flags.Parse(args); err != nil {
		return err
	}
	if flags.NArg() > 0 {
		return fmt.Errorf("setup does not take %q", flags.Arg(0))
	}
	if passwordFile != "" {
		text, err := os.ReadFile(passwordFile)
		if err != nil {
			return fmt.Errorf("password-file: %w", err)
		}
		a.Founder.Password = strings.TrimRight(string(text), "\r\n")
	}
	if *answers != "" {
		return setUpBy(ctx, s, *answers, a.Founder.Password, out)
	}
	if err := askFor(questions, in, out); err != nil {
		return err
	}
	a.Units = measure.System(units)
	if !slices.Contains(a.Units.Values(), units) {
		return fmt.Errorf("units %q: metric or us", units)
	}
	for _, kind := range strings.Split(kinds, ",") {
		a.Places = append(a.Places, shop.PlaceAnswer{Kind: shop.PlaceKind(strings.TrimSpace(kind))})
	}
	return found(ctx, s, a, out)
}

// setUpBy sets a shop up by a file of answers: the body of POST /api/setup, without its code.
func setUpBy(ctx context.Context, s *store.Store, path, password string, out io.Writer) error {
	file, err := os.Open(path)
	if err != nil {
		return fmt.Errorf("answers: %w", err)
	}
	defer file.Close()
	var a api.SetUp
	reader := json.NewDecoder(file)
	reader.DisallowUnknownFields()
	if err := reader.Decode(&a); err != nil {
		return fmt.Errorf("answers: %w", err)
	}
	if !slices.Contains(a.Units.Values(), string(a.Units)) {
		return fmt.Errorf("answers: units %q: metric or us", a.Units)
	}
	a.Founder.Password = cmp.Or(password, a.Founder.Password)
	return found(ctx, s, a, out)
}

// askFor asks for what neither a flag nor the environment said.
func askFor(questions []asked, in io.Reader, out io.Writer) error {
	lines := bufio.NewScanner(in)
	for _, q := range questions {
		for *q.into == "" {
			hint := ""
			if q.usual != "" {
				hint = " [" + q.usual + "]"
			}
			fmt.Fprintf(out, "%s%s: ", q.text, hint)
			if !lines.Scan() {
				return fmt.Errorf("%s: say it, by --%s or %s", q.text, cmp.Or(q.flag, "password-file"), q.env)
			}
			*q.into = cmp.Or(strings.TrimSpace(lines.Text()), q.usual)
		}
	}
	return nil
}

// found makes the shop.
func found(ctx context.Context, s *store.Store, a api.SetUp, out io.Writer) error {
	if err := s.Migrate(ctx); err != nil {
		return err
	}
	f, err := api.Founding(a, time.Now().UTC().Truncate(time.Microsecond), demo.Password)
	if err != nil {
		return api.Plainly(err)
	}
	if f.Lead.PasswordHash, err = argon2id.CreateHash(a.Founder.Password, api.HashParams); err != nil {
		return err
	}
	if err := s.Found(ctx, f); errors.Is(err, store.ErrFounded) {
		return errors.New("this database holds a shop already: name an empty one in DATABASE_URL")
	} else if err != nil {
		return err
	}
	fmt.Fprintf(
		out,
		"%s is set up. Start it with: uskel serve. Then sign in as %s.\n",
		f.Settings.ShopName,
		f.Lead.SignIn,
	)
	return nil
}

// offerSetUp prints the code that opens the set-up page of an empty database; the code of the newest start counts.
func offerSetUp(ctx context.Context, s *store.Store, address string, out io.Writer) error {
	empty, err := s.Empty(ctx)
	if err != nil || !empty {
		return err
	}
	if err := s.Migrate(ctx); err != nil { // nothing is there that could be changed by it
		return err
	}
	code := api.NewCode()
	hash, err := argon2id.CreateHash(code, api.HashParams)
	if err != nil {
		return err
	}
	if err := s.SetSetupCode(ctx, hash); err != nil {
		return err
	}
	fmt.Fprintf(
		out,
		"\nNo shop is set up here yet. Open %s and type this code, which works once: %s\n\n",
		address,
		code,
	)
	return nil
}

// giveCode prints a one-time code for somebody, for when nobody who leads can sign in: whoever has the machine may.
func giveCode(ctx context.Context, s *store.Store, args []string, out io.Writer) error {
	p, err := named(ctx, s, "code", args)
	if err != nil {
		return err
	}
	code := api.NewCode()
	hash, err := argon2id.CreateHash(code, api.HashParams)
	if err != nil {
		return err
	}
	until := time.Now().Add(api.CodeHolds)
	if err := s.GiveCode(ctx, "", p.ID, hash, until); err != nil {
		return err
	}
	fmt.Fprintf(
		out,
		"%s signs in as %s by the code %s, once, until %s.\n",
		p.Name,
		p.SignIn,
		code,
		until.Format(time.DateTime),
	)
	return nil
}

// named finds who a command is about by the one name that follows it.
func named(ctx context.Context, s *store.Store, command string, args []string) (store.Person, error) {
	if len(args) != 1 {
		return store.Person{}, fmt.Errorf("%s: say the name that they sign in by", command)
	}
	signIn, err := shop.ParseSignIn(args[0])
	if err != nil {
		return store.Person{}, fmt.Errorf("%s: %w", command, err)
	}
	p, err := s.PersonBySignIn(ctx, signIn)
	if err != nil {
		return p, fmt.Errorf("%s: nobody signs in as %q: %w", command, args[0], err)
	}
	return p, nil
}

// turnAuthenticatorOff asks for somebody's authenticator no more, for when both it and its recovery codes are lost.
func turnAuthenticatorOff(ctx context.Context, s *store.Store, args []string, out io.Writer) error {
	p, err := named(ctx, s, "authenticator-off", args)
	if err != nil {
		return err
	}
	if err := s.TurnOff(ctx, p.ID); err != nil {
		return fmt.Errorf("authenticator-off: %s has none on: %w", p.Name, err)
	}
	fmt.Fprintf(out, "%s signs in by name and password alone now, and can switch an authenticator on again under Settings, You.\n", p.Name)
	return nil
}
