package store_test

import (
	"context"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/store"
	"uskel/store/storetest"
)

// Servers that start at once on an empty database bring it up to date one after the other, and none fails.
func TestMigrationsTakeTurns(t *testing.T) {
	url := storetest.Bare(t)
	var starting sync.WaitGroup
	for range 4 {
		starting.Go(func() {
			s, err := store.Open(ctx, url)
			if !assert.NoError(t, err) {
				return
			}
			defer s.Close()
			assert.NoError(t, s.Migrate(ctx))
		})
	}
	starting.Wait()
	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer s.Close()
	lacks, _, err := s.Schema(ctx)
	require.NoError(t, err)
	assert.Zero(t, lacks)
	empty, err := s.Empty(ctx)
	require.NoError(t, err)
	assert.True(t, empty)
}

// A database that is behind says by how much, and one without tables is no demo.
func TestABareDatabaseIsBehind(t *testing.T) {
	s, err := store.Open(ctx, storetest.Bare(t))
	require.NoError(t, err)
	defer s.Close()
	lacks, _, err := s.Schema(ctx)
	require.NoError(t, err)
	assert.Greater(t, lacks, 5)
	demo, err := s.IsDemo(ctx)
	require.NoError(t, err)
	assert.False(t, demo)
}

// When every connection is in use, somebody who asks is told so in time rather than kept waiting, and it is no fault
// of theirs.
func TestNobodyWaitsForEverForAConnection(t *testing.T) {
	s := filled(t)
	most := s.Connections().Most
	var holding sync.WaitGroup
	free, held := make(chan struct{}), make(chan struct{}, most)
	for range most {
		holding.Go(func() {
			conn, err := s.Pool.Acquire(ctx)
			if assert.NoError(t, err) {
				held <- struct{}{}
				<-free
				conn.Release()
			}
		})
	}
	for range most {
		<-held
	}
	began := time.Now()
	_, err := s.People(ctx)
	require.Error(t, err)
	assert.True(t, store.Away(err), "%v: it may be tried again", err)
	assert.Less(t, time.Since(began), 15*time.Second)
	close(free)
	holding.Wait()
	_, err = s.People(ctx)
	assert.NoError(t, err)
}

// A try at a sign-in is counted once for all who try at once, and comes back with a right password.
func TestTriesAreCountedTogether(t *testing.T) {
	s := filled(t)
	limit := store.Limit{Key: "name osk", Burst: 3, Every: time.Hour}
	var trying sync.WaitGroup
	results := make(chan bool, 20)
	for range 20 {
		trying.Go(func() {
			may, err := s.TakeTry(ctx, limit)
			assert.NoError(t, err)
			results <- may
		})
	}
	trying.Wait()
	close(results)
	may := 0
	for r := range results {
		if r {
			may++
		}
	}
	assert.Equal(t, 3, may)
	osk := somebody(t, s, "osk")
	require.NoError(t, s.SignedIn(ctx, osk, "192.0.2.1", limit))
	again, err := s.TakeTry(ctx, limit)
	require.NoError(t, err)
	assert.True(t, again)
	known, err := s.KnownAt(ctx, osk, "192.0.2.1")
	require.NoError(t, err)
	assert.True(t, known)
	require.NoError(t, s.Sweep(context.Background()))
	known, err = s.KnownAt(ctx, osk, "192.0.2.1")
	require.NoError(t, err)
	assert.True(t, known, "what is of use stays")
}
