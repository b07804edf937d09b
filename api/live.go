package api

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"uskel/core/shop"
	"uskel/core/wash"
	"uskel/store"
)

// Told is a change as screens are told of it: they fetch anew what it touches. A change of a wash that runs brings
// its pulse, so that yards need not ask.
type Told struct {
	Topic string      `json:"topic" doc:"wash, booking, look-over, audit, notice or absence; all when anything may have changed"`
	Ref   string      `json:"ref,omitempty" doc:"id of what changed"`
	Pulse *wash.Pulse `json:"pulse,omitempty" doc:"of a wash: how it stands"`
}

const (
	// remembered is how many changes a screen may have missed and still be told one by one.
	remembered = 2000
	// behind is how many batches a screen may be behind before it is let go, to begin anew.
	behind = 500
	// together is how long changes are gathered after some were told: a storm of taps becomes a few writes a screen,
	// each wash told once. (Longer for more screens was tried: it was no better.)
	together = 40 * time.Millisecond
	// heartbeat keeps what lies between from closing a silent connection.
	heartbeat = 15 * time.Second
	// askAgain is after how many heartbeats a stream looks whether its session is still there.
	askAgain = 4
)

// message is a change as it is sent.
type message struct {
	no   int64
	text string
}

// live hands what the database tells on to the screens that listen. Every server process has one; the database tells
// all in the same order.
type live struct {
	mu       sync.Mutex
	recent   []message
	watchers map[chan string]string // with the key of the session that each follows by
	beginOne sync.Once
	// listening is closed once the database tells this process of changes.
	listening chan struct{}
	// pulses reads how washes stand.
	pulses func(context.Context, []string) (map[string]wash.Pulse, error)
}

// all stands for any change.
var all = said(0, Told{Topic: "all"})

// begin starts to listen, once, until the server ends.
func (l *live) begin(ctx context.Context, s *store.Store) {
	l.beginOne.Do(func() {
		changes := make(chan store.Change, remembered)
		hear := func(c store.Change) {
			select {
			case changes <- c:
			case <-ctx.Done():
			}
		}
		go l.gather(ctx, changes)
		first := sync.OnceFunc(func() { close(l.listening) })
		go s.Listen(ctx, func() { hear(store.Change{}); first() }, hear)
	})
}

// gather takes changes as they come and tells them in batches.
func (l *live) gather(ctx context.Context, changes <-chan store.Change) {
	for {
		var batch []store.Change
		select {
		case <-ctx.Done():
			return
		case c := <-changes:
			batch = append(batch, c)
		}
		for more := true; more; {
			select {
			case c := <-changes:
				batch = append(batch, c)
			default:
				more = false
			}
		}
		l.tell(l.messages(ctx, batch))
		select {
		case <-ctx.Done():
			return
		case <-time.After(together):
		}
	}
}

// messages puts a batch into words: the last change of each thing, with the pulses of washes.
func (l *live) messages(ctx context.Context, batch []store.Change) []message {
	last, ids := map[store.Change]int{}, []string{}
	batch = slices.DeleteFunc(batch, func(c store.Change) bool {
		if c.Topic != sessionTopic {
			return false
		}
		l.signedOut(c.Ref)
		return true
	})
	same := func(c store.Change) store.Change { return store.Change{Topic: c.Topic, Ref: c.Ref} }
	for i, c := range batch {
		if _, seen := last[same(c)]; !seen && c.Topic == "wash" {
			ids = append(ids, c.Ref)
		}
		last[same(c)] = i
	}
	pulses, err := l.pulses(ctx, ids)
	if err != nil {
		pulses = nil // screens ask themselves
	}
	var messages []message
	for i, c := range batch {
		switch {
		case c.No == 0: // joined anew: what came before is not certain any more
			messages = append(messages, message{text: all})
		case last[same(c)] == i:
			told := Told{Topic: c.Topic, Ref: c.Ref}
			if p, known := pulses[c.Ref]; known {
				told.Pulse = &p
			}
			messages = append(messages, message{c.No, said(c.No, told)})
		}
	}
	return messages
}

// sessionTopic tells of a session that has ended; screens are not told of it, those that follow by it end.
const sessionTopic = "session"

// signedOut ends the streams that follow by a session.
func (l *live) signedOut(key string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for w, by := range l.watchers {
		if by == key {
			close(w)
			delete(l.watchers, w)
		}
	}
}

func (l *live) tell(messages []message) {
	l.mu.Lock()
	defer l.mu.Unlock()
	var text strings.Builder
	for _, m := range messages {
		text.WriteString(m.text)
		if m.no == 0 {
			l.recent = nil
		} else {
			l.recent = append(l.recent, m)
		}
	}
	if len(l.recent) > 2*remembered {
		l.recent = append([]message{}, l.recent[len(l.recent)-remembered:]...)
	}
	for w := range l.watchers {
		select {
		case w <- text.String():
		default: // too far behind: it begins anew
			close(w)
			delete(l.watchers, w)
		}
	}
}

// watch joins a screen. It is told first what it missed since the last change it saw, or that anything may have
// changed.
func (l *live) watch(last int64, session string) (<-chan string, func()) {
	w := make(chan string, behind)
	l.mu.Lock()
	defer l.mu.Unlock()
	missed := all
	for i := len(l.recent) - 1; i >= 0 && last != 0; i-- {
		if l.recent[i].no == last {
			missed = ""
			for _, m := range l.recent[i+1:] {
				missed += m.text
			}
			break
		}
	}
	if missed != "" {
		w <- missed
	}
	l.watchers[w] = session
	return w, func() {
		l.mu.Lock()
		defer l.mu.Unlock()
		delete(l.watchers, w)
	}
}

func (s *server) registerLive(api huma.API) {
	operation(
		s,
		api,
		streams[Told](api, get("/live", "live", "What is saved, as events, as it happens")),
		shop.See,
		s.follow,
	)
}

// streams describes an operation that answers with server-sent events, each of which carries a T.
func streams[T any](api huma.API, op huma.Operation) huma.Operation {
	schema := api.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[T](), true, "")
	op.Responses = map[string]*huma.Response{
		"200": {Description: "Events", Content: map[string]*huma.MediaType{"text/event-stream": {Schema: schema}}},
	}
	return op
}

// follow tells one screen of every change until it hangs up. It joins once the database is listened to: before, a
// change would pass it by.
func (s *server) follow(ctx context.Context, in *struct {
	Last string `header:"Last-Event-ID" maxLength:"40"`
}) (*huma.StreamResponse, error) {
	leaving, err := s.streams.one(ctx, mostStreams)
	if err != nil {
		return nil, err
	}
	s.live.begin(s.Ends, s.Store)
	token := s.sessions.Token(ctx)
	session, err := s.Store.Sessions().Key(ctx, token)
	if err != nil {
		leaving()
		return nil, err
	}
	last, _ := strconv.ParseInt(in.Last, 10, 64)
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		defer leaving()
		hc.SetHeader("Content-Type", "text/event-stream")
		hc.SetHeader("X-Accel-Buffering", "no")
		_ = http.NewResponseController(humagin.Unwrap(hc).Writer).SetWriteDeadline(time.Time{})
		select {
		case <-hc.Context().Done():
			return
		case <-s.Ends.Done():
			return
		case <-s.live.listening:
		}
		changes, leave := s.live.watch(last, session)
		defer leave()
		s.meters.stream(1)
		defer s.meters.stream(-1)
		beats := 0
		beat := time.NewTicker(heartbeat)
		defer beat.Stop()
		for {
			select {
			case <-hc.Context().Done():
				return
			case <-s.Ends.Done():
				return
			case <-beat.C:
				if beats++; beats%askAgain == 0 { // a sign-out may have passed while this process did not hear
					if _, signedIn, err := s.Store.Sessions().FindCtx(hc.Context(), token); err == nil && !signedIn {
						return
					}
				}
				if !send(hc.BodyWriter(), ": still there\n\n") {
					return
				}
			case text, there := <-changes:
				if !there || !send(hc.BodyWriter(), text) {
					return
				}
			}
		}
	}}, nil
}

// said is a change as an event.
func said(no int64, told Told) string {
	data, _ := json.Marshal(told) // texts, times and numbers cannot fail
	if no == 0 {
		return fmt.Sprintf("data: %s\n\n", data)
	}
	return fmt.Sprintf("id: %d\ndata: %s\n\n", no, data)
}

// pulses reads how washes stand, in two queries for however many.
func (s *server) pulses(ctx context.Context, ids []string) (map[string]wash.Pulse, error) {
	pulses := map[string]wash.Pulse{}
	if len(ids) == 0 {
		return pulses, nil
	}
	washes, err := s.Store.WashSteps(ctx, ids)
	if err != nil {
		return nil, err
	}
	states, err := s.logs.states(ctx, washes)
	if err != nil {
		return nil, err
	}
	for id, steps := range washes {
		pulses[id] = states[id].Pulse(steps, s.Now())
	}
	return pulses, nil
}

// send writes at once.
func send(w io.Writer, text string) bool {
	if _, err := io.WriteString(w, text); err != nil {
		return false
	}
	if f, ok := w.(http.Flusher); ok {
		f.Flush()
	}
	return true
}
