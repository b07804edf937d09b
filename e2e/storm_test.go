package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"math/rand"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/visit"
	"uskel/core/wash"
	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

// worn is a shop on a PostgreSQL and a server of its own, both to be killed.
type worn struct {
	t       *testing.T
	cluster *storetest.Cluster
	server  *process
	address string // of the database
	client  *http.Client
	lead    string
}

func wear(t *testing.T, dir string) *worn {
	w := &worn{t: t, cluster: storetest.NewCluster(t, dir)}
	w.address = w.cluster.Make("uskel")
	s, err := store.Open(context.Background(), w.address)
	require.NoError(t, err)
	require.NoError(t, s.Migrate(context.Background()))
	require.NoError(t, demo.Load(context.Background(), s, time.Now(), 2))
	s.Close()
	w.server = startProcess(t, w.address)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	w.client = &http.Client{Jar: jar, Timeout: 5 * time.Second}
	status, body := w.call("POST", "/session", map[string]string{"name": "maren", "password": demo.Password})
	require.Equal(t, http.StatusOK, status)
	var me api.Me
	require.NoError(t, json.Unmarshal(body, &me))
	w.lead = me.ID
	return w
}

// call asks the server; 0 is no answer.
func (w *worn) call(method, path string, body any) (int, []byte) {
	text, err := json.Marshal(body)
	require.NoError(w.t, err)
	req, err := http.NewRequest(method, "http://"+w.server.address+"/api"+path, bytes.NewReader(text))
	require.NoError(w.t, err)
	req.Header.Set("Content-Type", "application/json")
	got, err := w.client.Do(req)
	if err != nil {
		return 0, nil
	}
	defer got.Body.Close()
	var answer bytes.Buffer
	if _, err := answer.ReadFrom(got.Body); err != nil {
		return 0, nil
	}
	return got.StatusCode, answer.Bytes()
}

// running finds the wash in the bay.
func (w *worn) running() api.WashView {
	status, body := w.call("GET", "/yard", nil)
	require.Equal(w.t, http.StatusOK, status)
	var yard api.Yard
	require.NoError(w.t, json.Unmarshal(body, &yard))
	for _, b := range yard.Bookings {
		if b.Stage == visit.InBay {
			return w.view(b.WashID)
		}
	}
	w.t.Fatal("no wash is running")
	return api.WashView{}
}

func (w *worn) view(id string) api.WashView {
	status, body := w.call("GET", "/washes/"+id, nil)
	require.Equal(w.t, http.StatusOK, status, string(body))
	var view api.WashView
	require.NoError(w.t, json.Unmarshal(body, &view))
	return view
}

// phone is a device as the front end's queue behaves: what it tapped stays with it until the server says that it has
// it.
type phoneQueue struct {
	w       *worn
	dice    *rand.Rand
	wash    api.WashView
	waiting []wash.Event
	all     []wash.Event // everything it ever tapped
	acked   map[string]bool
	seq     int
}

func (w *worn) phone(seed int64, view api.WashView) *phoneQueue {
	return &phoneQueue{w: w, dice: rand.New(rand.NewSource(seed)), wash: view, acked: map[string]bool{}}
}

// tap makes a tap at a moment, whatever comes to mind.
func (p *phoneQueue) tap(at time.Time) {
	kinds := []wash.Kind{
		wash.Start,
		wash.Done,
		wash.Pause,
		wash.Resume,
		wash.Note,
		wash.Rinsed,
		wash.Dropped,
		wash.Help,
		wash.Helped,
		wash.Undo,
	}
	e := wash.Event{
		ID:   uuid.NewString(),
		Kind: kinds[p.dice.Intn(len(kinds))],
		Step: p.wash.Steps[p.dice.Intn(len(p.wash.Steps))].ID,
		At:   at.UTC().Truncate(time.Microsecond),
		Seq:  p.seq,
		Text: "a chip",
	}
	p.seq++
	if e.Kind == wash.Undo {
		if len(p.all) == 0 {
			e.Kind = wash.Note
		} else {
			e.Undoes = p.all[p.dice.Intn(len(p.all))].ID
		}
	}
	p.waiting, p.all = append(p.waiting, e), append(p.all, e)
}

// send sends some of what waits, out of order and with some that was sent before, as a bad network would make of it;
// what is acknowledged waits no more.
func (p *phoneQueue) send() bool {
	if len(p.waiting) == 0 {
		return true
	}
	n := min(len(p.waiting), 1+p.dice.Intn(20))
	batch := append([]wash.Event{}, p.waiting[:n]...)
	for range p.dice.Intn(4) {
		batch = append(batch, p.all[p.dice.Intn(len(p.all))])
	}
	p.dice.Shuffle(len(batch), func(i, j int) { batch[i], batch[j] = batch[j], batch[i] })
	status, _ := p.w.call("POST", "/washes/"+p.wash.ID+"/events", map[string]any{"events": batch})
	if status != http.StatusOK {
		assert.Contains(p.w.t, []int{0, 503, 500}, status, "a tap is refused only when nothing is there to take it")
		return false
	}
	for _, e := range batch {
		p.acked[e.ID] = true
	}
	p.waiting = p.waiting[n:]
	return true
}

// settled holds when every phone's taps are kept once, and the shop's state is what the taps of all phones say
// together, on whatever device one looks.
func (w *worn) settled(before api.WashView, phones []*phoneQueue) {
	w.t.Helper()
	s, err := store.Open(context.Background(), w.address)
	require.NoError(w.t, err)
	defer s.Close()
	log, err := s.Events(context.Background(), before.ID)
	require.NoError(w.t, err)
	kept := map[string]int{}
	for _, e := range log {
		kept[e.ID]++
	}
	union := before.Events
	for _, p := range phones {
		assert.Empty(w.t, p.waiting)
		for _, e := range p.all {
			assert.True(w.t, p.acked[e.ID])
			assert.Equal(w.t, 1, kept[e.ID], "an acknowledged tap is kept, once")
			e.By = w.lead
			union = append(union, e)
		}
	}
	assert.Len(w.t, log, len(union))
	want, err := json.Marshal(wash.Fold(before.Steps, union))
	require.NoError(w.t, err)
	got, err := json.Marshal(w.view(before.ID).State)
	require.NoError(w.t, err)
	assert.JSONEq(w.t, string(want), string(got), "the state is what the taps of all devices say together")
}

// A storm of taps from several devices on one wash, in which the server and then PostgreSQL are killed with -9 and
// started again, twice each; batches come doubled, late and out of order.
func TestAStormOfTapsSurvivesKills(t *testing.T) {
	w := wear(t, storetest.Folder(t))
	before := w.running()
	var phones []*phoneQueue
	stop := make(chan struct{})
	var tapping sync.WaitGroup
	for i := range 6 {
		p := w.phone(int64(i), before)
		phones = append(phones, p)
		tapping.Go(func() {
			for {
				select {
				case <-stop:
					return
				default:
				}
				p.tap(time.Now().Add(time.Duration(p.dice.Intn(4000)-2000) * time.Millisecond)) // clocks differ
				if !p.send() {
					time.Sleep(50 * time.Millisecond)
				}
			}
		})
	}
	for range 2 {
		time.Sleep(700 * time.Millisecond)
		w.server.kill()
		time.Sleep(200 * time.Millisecond)
		w.server.start()
		time.Sleep(700 * time.Millisecond)
		w.cluster.Kill()
		time.Sleep(200 * time.Millisecond)
		w.cluster.Start()
	}
	time.Sleep(500 * time.Millisecond)
	close(stop)
	tapping.Wait()
	taps := 0
	for _, p := range phones {
		require.Eventually(
			t,
			func() bool { return p.send() && len(p.waiting) == 0 },
			30*time.Second,
			10*time.Millisecond,
		)
		taps += len(p.all)
	}
	assert.Greater(t, taps, 100, "it was a storm")
	w.settled(before, phones)
	t.Logf("%d taps", taps)
}

// Two devices on a wash that began eight days ago, one of which had no network for a week: when it is back both see
// the same, and nothing is lost or doubled.
func TestAWeekWithoutANetwork(t *testing.T) {
	w := wear(t, storetest.Folder(t))
	before := w.running()
	s, err := store.Open(context.Background(), w.address)
	require.NoError(t, err)
	_, err = s.Pool.Exec(
		context.Background(),
		"UPDATE washes SET created_at = created_at - interval '8 days' WHERE id = $1",
		before.ID,
	)
	require.NoError(t, err)
	s.Close()
	here, away := w.phone(1, before), w.phone(2, before)
	const apart = 7 * 24 * time.Hour / 400
	now := time.Now()
	for i := range 400 {
		away.tap(now.Add(-time.Duration(400-i) * apart)) // its times have been set right by its queue
		if i%4 == 0 {
			here.tap(now.Add(-time.Duration(400-i) * apart))
			require.Eventually(t, here.send, patience, 5*time.Millisecond)
		}
	}
	for _, p := range []*phoneQueue{here, away} {
		require.Eventually(
			t,
			func() bool { return p.send() && len(p.waiting) == 0 },
			30*time.Second,
			time.Millisecond,
		)
	}
	w.settled(before, []*phoneQueue{here, away})
}

// The server's disk is full: taps are refused, never acknowledged and lost; when there is room again the devices'
// queues bring all of them.
func TestAFullDiskLosesNoAcknowledgedTap(t *testing.T) {
	disk := storetest.SmallDisk(t, 160)
	w := wear(t, disk)
	before := w.running()
	p := w.phone(7, before)
	for range 40 {
		p.tap(time.Now())
	}
	require.True(t, p.send())

	ballast := filepath.Join(disk, "ballast")
	f, err := os.Create(ballast)
	require.NoError(t, err)
	block := make([]byte, 1<<16)
	for err == nil {
		_, err = f.Write(block)
	}
	require.NoError(t, f.Close())
	refused := 0
	for range 4000 {
		for range 30 {
			p.tap(time.Now())
		}
		if !p.send() {
			refused++
		}
		if refused == 3 {
			break
		}
	}
	require.Equal(t, 3, refused, "the disk is full")

	require.NoError(t, os.Remove(ballast))
	require.Eventually(t, func() bool {
		if p.send() {
			return true
		}
		_ = w.cluster.TryStart() // it may have stopped for want of room
		return false
	}, 40*time.Second, 500*time.Millisecond, "there is room again")
	require.Eventually(t, func() bool { return p.send() && len(p.waiting) == 0 }, 120*time.Second, time.Millisecond)
	w.settled(before, []*phoneQueue{p})
	t.Logf("%d taps", len(p.all))
}
