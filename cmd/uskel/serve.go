package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
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

// How long a server waits: for a request's head, for the next request on a line, and, when it is told to stop, for
// the requests under way.
const (
	headLimit  = 10 * time.Second
	idleLimit  = 2 * time.Minute
	drainLimit = 10 * time.Second
)

// serve answers until it is told to stop. Then it takes no more requests, lets those under way finish, and lets go of
// the database last.
func serve(ctx context.Context, s *store.Store, c config, out io.Writer) error {
	log, err := logger(c.Log)
	if err != nil {
		return err
	}
	proxies, err := api.ParseProxies(c.TrustedProxies)
	if err != nil {
		return fmt.Errorf("TRUSTED_PROXIES: %w", err)
	}
	if _, beyond, err := s.Schema(ctx); err == nil && beyond > 0 {
		return store.ErrNewer
	}
	meters := api.NewMeters(s)
	public := cmp.Or(c.PublicURL, "http://"+c.Address)
	if err := offerSetUp(ctx, s, public, out); err != nil {
		log.Warn(
			"the database does not answer yet: if it holds no shop, start again when it does, for the code to set one up",
			"error",
			err,
		)
	}
	settings := api.Config{
		Store:   s,
		Now:     now,
		Log:     log,
		Dist:    ui.Dist(),
		Ends:    ctx,
		Proxies: proxies,
		Public:  public,
		Meters:  meters,
		Warm:    true,
	}
	if err := instruments(ctx, s, &settings); err != nil {
		log.Warn(
			"the database does not answer yet; until this is started again with it there, it is taken for a real shop's",
			"error",
			err,
		)
	}
	if c.Readings != "" {
		go watchDrop(ctx, s, c.Readings, settings.Told, log)
	}
	handler := api.New(settings)
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
	return untilDrained(
		ctx,
		&http.Server{Handler: handler, ReadHeaderTimeout: headLimit, IdleTimeout: idleLimit},
		listener,
	)
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

// instruments gives a demo its simulated ones, and a real shop what it tells itself. A demo's password opens no real
// shop.
func instruments(ctx context.Context, s *store.Store, c *api.Config) error {
	told := &devices.Recorded{Log: s, Now: c.Now, Where: s.Where}
	c.Station, c.Meter, c.Outbox, c.Told = told.Station(), told.Meter(), devices.ByHand{}, told.Forget
	c.Refused = []string{demo.Password}
	ours, err := demo.Ours(ctx, s)
	if err != nil || !ours {
		return err
	}
	seed := int64(demo.Seed)
	if settings, _, err := s.Settings(ctx); err == nil {
		seed = settings.Seed
	}
	ahead, err := s.Ahead(ctx)
	if err != nil {
		return err
	}
	c.Now = func() time.Time { return now().Add(ahead) }
	c.Demo, c.Refused, c.Told = true, nil, func() {}
	c.Station, c.Meter, c.Outbox = devices.Station{Seed: seed}, devices.Meter{Seed: seed}, devices.Tray{}
	return nil
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
