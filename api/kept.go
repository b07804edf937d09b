package api

import (
	"crypto/sha256"
	"encoding/json"
	"slices"
	"sync"

	"uskel/core/plan"
	"uskel/core/plan/judge"
	"uskel/core/procedure"
)

// kept remembers the newest results of what is worked out often from the same inputs. The key is a hash of all
// inputs, so that nothing has to be forgotten when something changes.
type kept[T any] struct {
	mu    sync.Mutex
	most  int
	order []string
	by    map[string]T
}

func newKept[T any](most int) *kept[T] { return &kept[T]{most: most, by: map[string]T{}} }

// keyOf hashes inputs by their JSON.
func keyOf(inputs ...any) (string, error) {
	h := sha256.New()
	enc := json.NewEncoder(h)
	for _, in := range inputs {
		if err := enc.Encode(in); err != nil {
			return "", err
		}
	}
	return string(h.Sum(nil)), nil
}

func (k *kept[T]) find(key string) (T, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	v, ok := k.by[key]
	return v, ok
}

func (k *kept[T]) keep(key string, v T) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if _, there := k.by[key]; !there {
		k.order = append(k.order, key)
	}
	k.by[key] = v
	if len(k.order) > k.most {
		delete(k.by, k.order[0])
		k.order = slices.Delete(k.order, 0, 1)
	}
}

// choose judges the procedures for a job, or gives what it found before for the same job, shelf, weather and
// versions. The list is the caller's own; the plans in it are shared and must not be changed.
func (s *server) choose(procedures []procedure.Procedure, job plan.Job) ([]plan.Choice, error) {
	versions := make([]any, 0, 2*len(procedures))
	for _, p := range procedures {
		versions = append(versions, p.ID, p.Version)
	}
	key, err := keyOf(job, versions)
	if err != nil {
		return nil, err
	}
	choices, known := s.choices.find(key)
	if !known {
		choices = judge.Choose(procedures, job)
		s.choices.keep(key, choices)
	}
	return slices.Clone(choices), nil
}
