package api

import (
	"context"
	"slices"
	"sync"

	"uskel/core/wash"
	"uskel/store"
)

// logs remembers the logs of washes that are under way, as far as they were read: a tap costs what a tap costs, however many went
// before.
type logs struct {
	mu   sync.Mutex
	by   *kept[*readLog]
	read func(context.Context, []store.Since) (map[string][]store.Came, error)
}

// readLog is one of them. Its steps change only when rework is added: then it is read anew.
type readLog struct {
	steps []string
	log   *wash.Log
	no    int64
}

// mostLogs is how many logs are remembered.
const mostLogs = 600

// states are the states of washes by their steps, of what has come to their logs until now. Nobody waits for another's read: what two
// read at once is taken once.
func (l *logs) states(ctx context.Context, steps map[string][]wash.PlannedStep) (map[string]wash.State, error) {
	l.mu.Lock()
	known, since := map[string]*readLog{}, []store.Since{}
	for id, planned := range steps {
		known[id] = l.of(id, planned)
		since = append(since, store.Since{WashID: id, No: known[id].no})
	}
	l.mu.Unlock()
	came, err := l.read(ctx, since)
	if err != nil {
		return nil, err
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	states := map[string]wash.State{}
	for id, r := range known {
		r.take(came[id])
		states[id] = r.log.State()
	}
	return states, nil
}

// take takes what is new of what came.
func (r *readLog) take(came []store.Came) {
	var fresh []wash.Event
	for _, c := range came {
		if c.No > r.no {
			fresh, r.no = append(fresh, c.Event), c.No
		}
	}
	r.log.Add(fresh...)
}

// of is what is remembered of a wash, or nothing yet.
func (l *logs) of(id string, planned []wash.PlannedStep) *readLog {
	ids := make([]string, len(planned))
	for i, s := range planned {
		ids[i] = s.ID
	}
	if r, there := l.by.find(id); there && slices.Equal(r.steps, ids) {
		return r
	}
	r := &readLog{ids, wash.NewLog(planned), 0}
	l.by.keep(id, r)
	return r
}
