package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"time"

	"uskel/api"
	"uskel/demo"
	"uskel/devices"
	"uskel/store"
	"uskel/ui"
)

// How long a server waits: for a request's head, for the next request on a line, and, when it is told to stop, for the requests under way.
const (
	headLimit  = 10 * time.Second
	idleLimit  = 2 * time.Minute
	drainLimit = 10 * time.Second
)

// serve answers until it is told to stop. Then it takes no more requests, lets those under way finish, and lets go of the database last.
func serve(ctx context.Context, s *store.Store, c config) error {
	log, err := logger(c.Log)
	if err != nil {
		return err
	}
	proxies, err := api.ParseProxies(c.TrustedProxies)
	if err != nil {
		return fmt.Errorf("TRUSTED_PROXIES: %w", err)
	}
	meters := api.NewMeters(s)
	refused, err := refusedPasswords(ctx, s)
	if err != nil {
		log.Warn("the database does not answer yet; published passwords are refused until it does", "error", err)
	}
	seed := int64(demo.Seed)
	if settings, _, err := s.Settings(ctx); err == nil {
		seed = settings.Seed
	}
	handler := api.New(api.Config{Store: s, Station: devices.Station{Seed: seed}, Meter: devices.Meter{Seed: seed},
		Outbox: devices.Tray{}, Now: now, Log: log,
		Dist: ui.Dist(), Ends: ctx, Proxies: proxies, Public: cmp.Or(c.PublicURL,
			"http://"+c.Address), Meters: meters, Refused: refused, Warm: true})
	if c.Metrics != "" {
		if err := serveMeters(ctx, c.Metrics, meters, log); err != nil {
			return err
		}
	}
	listener, err := net.Listen("tcp", c.Address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", c.Address, err)
	}
	log.Info("serving", "address", "http://"+c.Address)
	return untilDrained(ctx, &http.Server{Handler: handler, ReadHeaderTimeout: headLimit, IdleTimeout: idleLimit}, listener)
}

// untilDrained serves until the context ends and every request under way has been answered, or drainLimit has passed.
func untilDrained(ctx context.Context, server *http.Server, listener net.Listener) error {
	drained := make(chan error, 1)
	go func() {
		<-ctx.Done()
		patience, cancel := context.WithTimeout(context.WithoutCancel(ctx), drainLimit)
		defer cancel()
		drained <- server.Shutdown(patience)
	}()
	if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return <-drained
}

// refusedPasswords are those that open no real shop: the demo's is published.
func refusedPasswords(ctx context.Context, s *store.Store) ([]string, error) {
	ours, err := demo.Ours(ctx, s)
	if ours {
		return nil, nil
	}
	return []string{demo.Password}, err
}

// serveMeters serves the counts on loopback, where only the machine itself reads them.
func serveMeters(ctx context.Context, address string, meters *api.Meters, log *slog.Logger) error {
	at, err := netip.ParseAddrPort(address)
	if err != nil || !at.Addr().IsLoopback() {
		return fmt.Errorf("METRICS %q: a loopback address and a port, like 127.0.0.1:9460", address)
	}
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", address, err)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", meters.Handler())
	server := &http.Server{Handler: mux, ReadHeaderTimeout: headLimit}
	go func() {
		<-ctx.Done()
		_ = server.Close()
	}()
	go func() {
		if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			log.Warn("metrics", "error", err)
		}
	}()
	return nil
}

// logger writes to standard error, for people or for machines.
func logger(kind string) (*slog.Logger, error) {
	switch kind {
	case "text":
		return slog.New(slog.NewTextHandler(os.Stderr, nil)), nil
	case "json":
		return slog.New(slog.NewJSONHandler(os.Stderr, nil)), nil
	}
	return nil, fmt.Errorf("LOG %q: text or json", kind)
}

// now is the server's clock, to the microsecond that PostgreSQL keeps.
func now() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }
