package api

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is kept is found by its inputs alone, and the oldest goes first.
func TestKeptIsFoundByItsInputs(t *testing.T) {
	k := newKept[int](2)
	key := func(in ...any) string {
		made, err := keyOf(in...)
		require.NoError(t, err)
		return made
	}
	assert.NotEqual(t, key("a", "b"), key("ab"), "inputs do not run together")
	assert.Equal(t, key(map[string]int{"x": 1, "y": 2}), key(map[string]int{"y": 2, "x": 1}))
	k.keep(key(1), 10)
	k.keep(key(2), 20)
	k.keep(key(1), 11)
	k.keep(key(3), 30)
	_, there := k.find(key(1))
	assert.False(t, there, "the oldest")
	v, there := k.find(key(3))
	assert.True(t, there)
	assert.Equal(t, 30, v)
}
