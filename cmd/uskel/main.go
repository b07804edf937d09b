// Command uskel serves the shop. Its subcommands are in the table of commands below; docs/running.md tells of them.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/signal"
	"slices"
	"strings"
	"syscall"

	"github.com/caarlos0/env/v11"

	"uskel/api"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/demo"
	"uskel/store"
)

type config struct {
	DatabaseURL string `env:"DATABASE_URL"`
	Address     string `env:"ADDRESS" envDefault:"127.0.0.1:8460"`
	// PublicURL is the address that people reach the shop by, for printed codes; the address listened on when empty.
	PublicURL string `env:"PUBLIC_URL"`
	// TrustedProxies are networks of reverse proxies whose X-Forwarded-For and X-Forwarded-Proto are believed.
	TrustedProxies string `env:"TRUSTED_PROXIES"`
	// Readings is a directory that files of weather and water are taken from; none when empty.
	Readings string `env:"READINGS"`
	// Metrics is a loopback address that serves counts in the Prometheus format; none when empty.
	Metrics string `env:"METRICS"`
	// Log is text or json.
	Log string `env:"LOG" envDefault:"text"`
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	err := run(ctx, os.Args[1:], os.Stdin, os.Stdout)
	if errors.Is(err, flag.ErrHelp) {
		return // it was printed
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "uskel:", err)
		os.Exit(1)
	}
}

// commands are the subcommands with the words that may follow them; any may follow those that are nil.
var commands = map[string][]string{
	"serve": {}, "setup": nil, "code": nil, "authenticator-off": nil, "migrate": {}, "backup": nil, "restore": nil, "doctor": {}, "rights": {},
	"demo": {"--fresh"}, "grow": nil, "sign-ins": {}, "openapi": {}, "schema": {"checklist"}, "schedule": {},
}

const usage = "use serve, setup, code SIGN-IN, authenticator-off SIGN-IN, migrate, backup, restore, doctor, rights, " +
	"demo [--fresh], grow N, sign-ins, openapi, schema [checklist] or schedule"

func run(ctx context.Context, args []string, in io.Reader, out io.Writer) error {
	if len(args) == 0 {
		return errors.New(usage)
	}
	command, rest := args[0], args[1:]
	words, known := commands[command]
	if !known {
		return fmt.Errorf("there is no command %q: %s", command, usage)
	}
	for _, word := range rest {
		if words != nil && !slices.Contains(words, word) {
			return fmt.Errorf("%s does not take %q: %s", command, word, usage)
		}
	}
	switch command {
	case "openapi":
		return printDescription(out)
	case "schema":
		if slices.Contains(rest, "checklist") {
			return printJSON(out, api.ChecklistSchema())
		}
		return printJSON(out, api.ProcedureSchema())
	case "sign-ins":
		return printSignIns(out)
	case "rights":
		_, err := io.WriteString(out, shop.RightsTable())
		return err
	case "schedule":
		return solveProblem(in, out)
	}
	return onDatabase(ctx, command, rest, in, out)
}

// onDatabase runs a command that needs the shop's database.
func onDatabase(ctx context.Context, command string, rest []string, in io.Reader, out io.Writer) error {
	c, err := env.ParseAs[config]()
	if err != nil {
		return err
	}
	if command == "restore" && c.DatabaseURL == "" && !slices.Contains(rest, "--rehearse") {
		return restore(ctx, "", rest, out)
	}
	if c.DatabaseURL == "" {
		return errors.New("DATABASE_URL is not set: start with ./run demo, or name your PostgreSQL server")
	}
	switch command {
	case "backup":
		return backup(ctx, c.DatabaseURL, rest, out)
	case "restore":
		return restore(ctx, c.DatabaseURL, rest, out)
	}
	s, err := store.Open(ctx, c.DatabaseURL)
	if err != nil {
		return err
	}
	defer s.Close()
	switch command {
	case "setup":
		return setUp(ctx, s, rest, in, out)
	case "code":
		return giveCode(ctx, s, rest, out)
	case "authenticator-off":
		return turnAuthenticatorOff(ctx, s, rest, out)
	case "migrate":
		return s.Migrate(ctx)
	case "doctor":
		return doctor(ctx, s, out)
	case "demo":
		return loadDemo(ctx, s, slices.Contains(rest, "--fresh"))
	case "grow":
		return grow(ctx, s, rest, out)
	}
	return serve(ctx, s, c, out)
}

// solveProblem reads a scheduling problem as JSON and writes its timeline (docs/scheduling.md).
func solveProblem(in io.Reader, out io.Writer) error {
	var p schedule.Problem
	reader := json.NewDecoder(in)
	reader.DisallowUnknownFields()
	if err := reader.Decode(&p); err != nil {
		return fmt.Errorf("problem: %w", err)
	}
	line, err := schedule.Solve(p, schedule.Options{Seed: 1})
	if err != nil {
		return err
	}
	return printJSON(out, line)
}

func printJSON(out io.Writer, doc any) error {
	writer := json.NewEncoder(out)
	writer.SetIndent("", "  ")
	writer.SetEscapeHTML(false)
	return writer.Encode(doc)
}

func printDescription(out io.Writer) error {
	description, err := api.Description()
	if err != nil {
		return err
	}
	_, err = fmt.Fprintln(out, string(description))
	return err
}

func printSignIns(out io.Writer) error {
	var b strings.Builder
	b.WriteString("Sign in as (password for all: " + demo.Password + "):\n")
	for _, h := range demo.Hands {
		fmt.Fprintf(&b, "  %-8s %s, %s\n", h.SignIn, h.Name, h.Role)
	}
	_, err := io.WriteString(out, b.String())
	return err
}
