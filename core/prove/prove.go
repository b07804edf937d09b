// Package prove says how much a test tries: a share each day, all of it in ./run prove. The daily run is go test -short.
package prove

import "testing"

// least is how many seeds are tried however few there are.
const least = 2

// Seeds is how many of n seeds a test tries: a tenth each day. What it asserts of them is a share, so that it holds for either.
func Seeds(t testing.TB, n int) int {
	t.Helper()
	if testing.Short() {
		return min(n, max(least, n/10))
	}
	return n
}

// Long is for a test that is not tried each day.
func Long(t testing.TB) {
	t.Helper()
	if testing.Short() {
		t.Skip("./run prove does this")
	}
}

// Few are the settings that a test tries of all that there are: each day the middle one. Each is tried in full, with the same bar.
func Few[T any](t testing.TB, all ...T) []T {
	t.Helper()
	if testing.Short() {
		return all[len(all)/2 : len(all)/2+1]
	}
	return all
}

// Thin are the cases that a test tries of a list: each day every fifth.
func Thin[T any](t testing.TB, all []T) []T {
	t.Helper()
	if !testing.Short() {
		return all
	}
	var thin []T
	for i := 0; i < len(all); i += 5 {
		thin = append(thin, all[i])
	}
	return thin
}
