package api_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/store"
)

// patience is how long something may take to be told on a machine that does much else. Nothing is timed by it.
const patience = 20 * time.Second

// listener reads a live stream.
type listener struct {
	t     *testing.T
	told  chan api.Told
	ids   chan string
	gone  chan struct{} // closed when the stream has ended
	leave func()
}

// listen joins the live stream after the last change seen; "" for a new screen.
func (c *caller) listen(t *testing.T, last string) *listener {
	t.Helper()
	ctx, leave := context.WithCancel(context.Background())
	req, err := http.NewRequestWithContext(ctx, "GET", c.url+"/api/live", nil)
	require.NoError(t, err)
	if last != "" {
		req.Header.Set("Last-Event-ID", last)
	}
	resp, err := c.client.Do(req)
	require.NoError(t, err)
	require.Equal(t, "text/event-stream", resp.Header.Get("Content-Type"))
	l := &listener{t, make(chan api.Told, 4000), make(chan string, 4000), make(chan struct{}), leave}
	t.Cleanup(leave)
	go func() {
		defer close(l.gone)
		defer resp.Body.Close()
		id := ""
		for lines := bufio.NewScanner(resp.Body); lines.Scan(); {
			if text, ok := strings.CutPrefix(lines.Text(), "id: "); ok {
				id = text
			}
			if text, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
				var told api.Told
				if json.Unmarshal([]byte(text), &told) == nil {
					l.told <- told
					l.ids <- id
					id = ""
				}
			}
		}
	}()
	return l
}

// until waits for a change and gives its id.
func (l *listener) until(topic, ref string) string {
	l.t.Helper()
	after := time.After(patience)
	for {
		select {
		case told := <-l.told:
			id := <-l.ids
			if told.Topic == topic && (ref == "" || told.Ref == ref) {
				return id
			}
		case <-after:
			require.FailNow(l.t, fmt.Sprintf("nothing was told of %s %s", topic, ref))
		}
	}
}

// ended waits for the end of the stream.
func (l *listener) ended() {
	l.t.Helper()
	select {
	case <-l.gone:
	case <-time.After(patience):
		require.FailNow(l.t, "the stream goes on")
	}
}

// A save in one place is told to all who listen; who was away is told what they missed, in order, and nothing twice.
func TestSavesAreToldAsTheyHappen(t *testing.T) {
	s := open(t)
	lead, washer := s.as("maren"), s.as("osk")
	b := lead.booking("PLT 7")
	one, two := lead.listen(t, ""), washer.listen(t, "")
	one.until("all", "")
	two.until("all", "")
	give := func(minutes int) {
		card := lead.booking("PLT 7")
		told[api.BookingCard](lead, "PUT", "/bookings/"+b.ID+"/slot",
			map[string]any{"startsAt": b.ArrivesAt.Add(time.Duration(minutes) * time.Minute), "place": "open-bay",
				"version": card.Version})
	}
	give(5)
	seen := one.until("booking", b.ID)
	assert.NotEmpty(t, seen)
	assert.Equal(t, seen, two.until("booking", b.ID), "the same number for all")

	two.leave()
	give(10)
	give(15)
	told[api.NoticeView](lead, "POST", "/bookings/"+b.ID+"/notice", map[string]string{"text": "soon"})
	again := washer.listen(t, seen)
	assert.NotEqual(t, seen, again.until("booking", b.ID), "changes that came together are told as one, the last")
	again.until("notice", b.ID)
	assert.Empty(t, again.told, "nothing twice")

	unknown := washer.listen(t, "999999999")
	unknown.until("all", "")
}

// A tap is told with its wash, by the database itself: a second process on the same database tells it too.
func TestTwoServersTellTheSame(t *testing.T) {
	s := open(t)
	second := serve(t, s.store)
	washer := s.as("osk")
	b := washer.booking("VLT 30")
	here, there := washer.listen(t, ""), second.as("maren").listen(t, "")
	here.until("all", "")
	there.until("all", "")
	event := map[string]any{
		"id":   store.NewID(),
		"kind": "note",
		"text": "A chip by the filler.",
		"at":   morning,
		"seq":  1,
	}
	washer.do("POST", "/api/washes/"+b.WashID+"/events", map[string]any{"events": []any{event}}).is(200)
	assert.Equal(t, here.until("wash", b.WashID), there.until("wash", b.WashID))
}

// When the connection to the database is lost, screens are told that anything may have changed once it is back, and
// go on being told.
func TestALostConnectionIsMadeGood(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	b := lead.booking("PLT 7")
	screen := lead.listen(t, "")
	screen.until("all", "")
	pid := s.listening(0)
	_, err := s.store.Pool.Exec(context.Background(), "SELECT pg_terminate_backend($1)", pid)
	require.NoError(t, err)
	s.listening(pid)
	screen.until("all", "")
	told[api.NoticeView](lead, "POST", "/bookings/"+b.ID+"/notice", map[string]string{"text": "soon"})
	screen.until("notice", b.ID)
}

// listening waits for the connection that listens, another than one, and gives its process.
func (s *place) listening(but int) int {
	s.t.Helper()
	pid := 0
	require.Eventually(s.t, func() bool {
		err := s.store.Pool.QueryRow(context.Background(), "SELECT pid FROM pg_stat_activity WHERE datname = "+
			"current_database() AND query LIKE 'LISTEN%' AND pid <> $1", but).
			Scan(&pid)
		return err == nil
	}, patience, 20*time.Millisecond)
	return pid
}

// One person follows the shop on so many screens and no more; who closes one may open another.
func TestOnePersonHasSoManyScreens(t *testing.T) {
	s := open(t)
	lead := s.as("maren")
	var held []*http.Response
	defer func() {
		for _, r := range held {
			_ = r.Body.Close()
		}
	}()
	follow := func(c *caller) *http.Response {
		resp, err := c.client.Get(s.url + "/api/live")
		require.NoError(t, err)
		return resp
	}
	for range 120 {
		r := follow(lead)
		require.Equal(t, 200, r.StatusCode)
		held = append(held, r)
	}
	over := follow(lead)
	assert.Equal(t, http.StatusTooManyRequests, over.StatusCode)
	_ = over.Body.Close()
	other := follow(s.as("osk"))
	assert.Equal(t, 200, other.StatusCode, "others are not kept out")
	_ = other.Body.Close()
	_ = held[0].Body.Close()
	require.Eventually(t, func() bool {
		r := follow(lead)
		defer r.Body.Close()
		return r.StatusCode == 200
	}, 10*time.Second, 20*time.Millisecond)
}
