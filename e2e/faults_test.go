package e2e

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/wash"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/store"
	"uskel/store/storetest"
)

// process is the real server as a process of its own.
type process struct {
	t        testing.TB
	database string
	address  string
	command  *exec.Cmd
}

// startProcess starts the real server on a port that is free.
func startProcess(t testing.TB, database string) *process {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	p := &process{t: t, database: database, address: listener.Addr().String()}
	require.NoError(t, listener.Close())
	p.start()
	t.Cleanup(func() { _ = p.command.Process.Kill() })
	return p
}

func (p *process) start() {
	p.t.Helper()
	p.command = exec.Command("../bin/uskel", "serve")
	p.command.Env = append(os.Environ(), "DATABASE_URL="+p.database, "ADDRESS="+p.address)
	require.NoError(p.t, p.command.Start(), "bin/uskel is not built: run the tests with ./run test")
	require.Eventually(p.t, func() bool {
		got, err := http.Get("http://" + p.address + "/api/health")
		if err == nil {
			_ = got.Body.Close()
		}
		return err == nil
	}, 20*time.Second, 50*time.Millisecond, "the server answers")
}

// kill is kill -9: no goodbye, nothing flushed.
func (p *process) kill() {
	require.NoError(p.t, p.command.Process.Kill())
	_, _ = p.command.Process.Wait()
}

// resident is the process's resident memory in MB.
func (p *process) resident() float64 {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.command.Process.Pid))
	require.NoError(p.t, err)
	for line := range strings.Lines(string(status)) {
		if rest, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			kb, err := strconv.ParseFloat(strings.Fields(rest)[0], 64)
			require.NoError(p.t, err)
			return kb / 1024
		}
	}
	p.t.Fatal("no VmRSS")
	return 0
}

// living is a shop of now, served by a process.
func living(t *testing.T) (*shop, *process) {
	t.Helper()
	database := storetest.URL(
		t,
		"demo of now",
		func(s *store.Store) error { return demo.Load(context.Background(), s, time.Now(), demo.Fortnight) },
	)
	db, err := store.Open(context.Background(), database)
	require.NoError(t, err)
	t.Cleanup(db.Close)
	p := startProcess(t, database)
	return &shop{t: t, url: "http://" + p.address, store: db}, p
}

// The server is killed in the middle of a wash and taps go on: none is lost, each counts at the moment it was made,
// and the clock is right when the server is back.
func TestKilledServerLosesNoTap(t *testing.T) {
	s, p := living(t)
	b, id := s.inTheBay("osk")
	running := b.heading()
	before, err := s.store.Events(context.Background(), id)
	require.NoError(t, err)

	p.kill()
	tapped := time.Now()
	b.click("button", "^Done$")
	b.gone("h1", running)
	b.see("span", "unsent tap")
	b.see("p[role=status]", "does not answer.*kept on this device")
	between, err := s.store.Events(context.Background(), id)
	require.NoError(t, err)
	assert.Equal(t, before, between)
	time.Sleep(3 * time.Second)

	p.start()
	b.goneNow("span", "unsent tap")
	after, err := s.store.Events(context.Background(), id)
	require.NoError(t, err)
	require.Greater(t, len(after), len(before))
	done := after[len(before)]
	assert.Equal(t, wash.Done, done.Kind)
	assert.WithinDuration(t, tapped, done.At, 2*time.Second, "the tap counts when it was made, not when it arrived")

	// A device that knows nothing of it all sees the same wash and the same clock.
	other := s.as("osk", desk)
	other.visit("/bay/" + id)
	assert.Equal(t, b.heading(), other.heading())
	w, err := s.store.Wash(context.Background(), id)
	require.NoError(t, err)
	state := wash.Fold(w.Steps(), after)
	for i, step := range state.Steps {
		if step.Status == wash.Ended {
			assert.NotZero(t, step.Ended, w.Steps()[i].Title)
		}
	}

	// Budget: under 120 MB with the demo loaded and screens open.
	assert.Less(t, p.resident(), 120.0, "resident memory, MB")
	t.Logf("resident memory %.0f MB", p.resident())
}

// The database goes away: the screen says so, keeps the taps, and sends them by itself once it is back.
func TestDatabaseAwayOnTheScreen(t *testing.T) {
	wire, address := storetest.NewWire(t, demotest.URL(t))
	s := openAt(t, address)
	b, _ := s.inTheBay("osk")
	running := b.heading()
	wire.Cut()
	b.see("p[role=status]", "The database is away.*kept on this device")
	b.click("button", "^Done$")
	b.gone("h1", running)
	b.see("span", "unsent tap")
	lead := s.tab(desk)
	lead.visit("/")
	lead.see("p[role=status]", "The database is away")
	wire.Mend()
	b.goneNow("span", "unsent tap")
	b.goneNow("p[role=status]", "database is away")
	lead.goneNow("p[role=status]", "database is away")
	lead.see("button", "Sign in")
}

// Two people change one look-over: the second is told what changed and keeps their own.
func TestTwoLookOversAtOnce(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren", desk), s.as("ines", desk)
	for _, b := range []*tab{lead, washer} {
		b.row("Island taxi, estate", "Plan")
		b.click("a", "Look again")
		b.see("h1", "Look-over:")
	}
	require.NoError(t, washer.focus(`[data-zone="roof"]`).Type('4'))
	washer.grade("roof", "4")
	washer.click("button", "Save and plan")
	washer.see("h1", "Plan:")

	require.NoError(t, lead.focus(`[data-zone="roof"]`).Type('0'))
	lead.grade("roof", "0")
	lead.click("button", "Save and plan")
	lead.see("[role=alert]", "Ines Varga saved this.*Roof, grade: theirs is 4, yours is 0")
	lead.click("button", "Show theirs; mine is kept")
	lead.grade("roof", "4")
	lead.click("button", "Use mine")
	lead.grade("roof", "0")
	lead.click("button", "Save and plan")
	lead.see("h1", "Plan:")
}
