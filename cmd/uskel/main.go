// Command uskel serves the shop. Subcommands: serve, migrate, demo [--fresh], sign-ins, openapi, schema, schedule.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"slices"
	"syscall"
	"time"

	"github.com/caarlos0/env/v11"

	"uskel/api"
	"uskel/core/schedule"
	"uskel/demo"
	"uskel/devices"
	"uskel/store"
	"uskel/ui"
)

type config struct {
	DatabaseURL string `env:"DATABASE_URL"`
	Address     string `env:"ADDRESS" envDefault:"127.0.0.1:8460"`
}

func main() {
	if err := run(os.Args[1:]); err != nil {
		fmt.Fprintln(os.Stderr, "uskel:", err)
		os.Exit(1)
	}
}

func run(args []string) error {
	command := ""
	if len(args) > 0 {
		command = args[0]
	}
	c, err := env.ParseAs[config]()
	if err != nil {
		return err
	}
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	switch command {
	case "openapi":
		return printDescription()
	case "schema":
		return printSchema()
	case "sign-ins":
		printSignIns()
		return nil
	case "schedule":
		return solveProblem(os.Stdin, os.Stdout)
	case "serve", "migrate", "demo":
	default:
		return errors.New("use serve, migrate, demo [--fresh], sign-ins, openapi, schema or schedule")
	}
	if c.DatabaseURL == "" {
		return errors.New("DATABASE_URL is not set: start with ./run demo, or name your PostgreSQL server")
	}
	s, err := store.Open(ctx, c.DatabaseURL)
	if err != nil {
		return err
	}
	defer s.Close()
	switch command {
	case "migrate":
		return s.Migrate(ctx)
	case "demo":
		return loadDemo(ctx, s, slices.Contains(args, "--fresh"))
	}
	return serve(ctx, s, c.Address)
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
	writer := json.NewEncoder(out)
	writer.SetIndent("", "  ")
	return writer.Encode(line)
}

func printDescription() error {
	description, err := api.Description()
	if err == nil {
		_, err = fmt.Println(string(description))
	}
	return err
}

func printSchema() error {
	text, err := json.MarshalIndent(api.ProcedureSchema(), "", "  ")
	if err == nil {
		_, err = fmt.Println(string(text))
	}
	return err
}

func printSignIns() {
	fmt.Println("Sign in as (password for all: " + demo.Password + "):")
	for _, h := range demo.Hands {
		fmt.Printf("  %-8s %s, %s\n", h.SignIn, h.Name, h.Role)
	}
}

func loadDemo(ctx context.Context, s *store.Store, fresh bool) error {
	if fresh {
		if err := s.Clear(ctx); err != nil {
			return err
		}
	}
	if err := s.Migrate(ctx); err != nil {
		return err
	}
	loaded, err := demo.Loaded(ctx, s)
	if err != nil {
		return err
	}
	if loaded {
		return demo.EnsureToday(ctx, s, time.Now())
	}
	return demo.Load(ctx, s, time.Now(), demo.HalfYear)
}

func serve(ctx context.Context, s *store.Store, address string) error {
	log := slog.New(slog.NewTextHandler(os.Stderr, nil))
	seed := int64(demo.Seed)
	if settings, _, err := s.Settings(ctx); err == nil {
		seed = settings.Seed
	}
	handler := api.New(api.Config{Store: s, Station: devices.Station{Seed: seed}, Meter: devices.Meter{Seed: seed}, Outbox: devices.Tray{}, Now: now, Log: log, Dist: ui.Dist(), Ends: ctx})
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 30 * time.Second, IdleTimeout: 2 * time.Minute}
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", address, err)
	}
	log.Info("serving", "address", "http://"+address)
	go func() {
		<-ctx.Done()
		quiet, cancel := context.WithTimeout(context.Background(), 5*time.Second)
		defer cancel()
		_ = server.Shutdown(quiet)
	}()
	if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// now is the server's clock, to the microsecond that PostgreSQL keeps.
func now() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }
