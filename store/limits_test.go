package store_test

import (
	"context"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/shop"
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
	require.NoError(t, s.SignedIn(ctx, osk, "a device", limit))
	again, err := s.TakeTry(ctx, limit)
	require.NoError(t, err)
	assert.True(t, again)
	known, err := s.KnownOn(ctx, osk, "a device")
	require.NoError(t, err)
	assert.True(t, known)
	require.NoError(t, s.Sweep(context.Background()))
	known, err = s.KnownOn(ctx, osk, "a device")
	require.NoError(t, err)
	assert.True(t, known, "what is of use stays")
}

// The database's clock went back an hour: nobody is kept waiting until it has caught up.
func TestAClockThatGoesBackLocksNobodyOut(t *testing.T) {
	s := filled(t)
	limit := store.Limit{Key: "name osk", Burst: 2, Every: 10 * time.Second}
	may, err := s.TakeTry(ctx, limit)
	require.NoError(t, err)
	require.True(t, may)
	_, err = s.Pool.Exec(ctx, "UPDATE sign_in_limits SET at = at + interval '1 hour'")
	require.NoError(t, err)
	may, err = s.TakeTry(ctx, limit)
	require.NoError(t, err)
	assert.True(t, may, "a second of two is left")
	may, err = s.TakeTry(ctx, limit)
	require.NoError(t, err)
	assert.False(t, may, "a clock gives no tries away, either")
	_, err = s.Pool.Exec(ctx, "UPDATE sign_in_limits SET at = at + interval '1 hour'")
	require.NoError(t, err)
	_, err = s.TakeTry(ctx, limit)
	require.NoError(t, err)
	var wait float64
	require.NoError(t, s.Pool.QueryRow(ctx, "SELECT extract(epoch FROM at - clock_timestamp()) FROM sign_in_limits").Scan(&wait))
	assert.LessOrEqual(t, wait, 0.0, "from now on it fills up again")
}

// A tablet takes a hundred wrong digits a night over all people, and twelve of one person, however quickly and from wherever they
// are tried; a lead clears them.
func TestANightOfWrongDigits(t *testing.T) {
	s := filled(t)
	d := store.Device{ID: store.NewID(), Kind: shop.Tablet, Name: "Bay", TokenHash: "x", ByID: somebody(t, s, "osk"), At: time.Now()}
	require.NoError(t, s.AddDevice(ctx, d))
	took := func(person string, times int) int {
		var may atomic.Int64
		var all sync.WaitGroup
		for range 8 {
			all.Go(func() {
				for range times / 8 {
					_, ok, err := s.TakeDigits(ctx, d.ID, person)
					assert.NoError(t, err)
					if ok {
						may.Add(1)
					}
				}
			})
		}
		all.Wait()
		return int(may.Load())
	}
	sum := 0
	for n := range 12 {
		got := took(fmt.Sprintf("00000000-0000-4000-8000-%012d", n), 40)
		assert.LessOrEqual(t, got, 12)
		sum += got
	}
	assert.Equal(t, 100, sum)
	require.NoError(t, s.ClearDigits(ctx, d.ID))
	try, may, err := s.TakeDigits(ctx, d.ID, somebody(t, s, "osk"))
	require.NoError(t, err)
	assert.True(t, may)
	require.NoError(t, s.RightDigits(ctx, try))
	assert.Equal(t, 12, took(somebody(t, s, "osk"), 40), "what was right does not count")
}
