package store_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

// kept asks for a thing under the key "x" and tells whether it had to be found.
func kept(t *testing.T, s *store.Store, k *garden.Kept, find func() int) (v int, found bool) {
	t.Helper()
	v, err := garden.Recall(context.Background(), s, k, "x", func() (int, error) { found = true; return find(), nil })
	require.NoError(t, err)
	return v, found
}

func always(v int) func() int { return func() int { return v } }

func TestWhatIsKeptGoesWithTheNextChange(t *testing.T) {
	s, k := fresh(t), &garden.Kept{Most: 2}
	v, found := kept(t, s, k, always(1))
	assert.Equal(t, 1, v)
	assert.True(t, found)
	v, found = kept(t, s, k, always(2))
	assert.Equal(t, 1, v, "it is kept")
	assert.False(t, found)
	add(t, s, "", "A bed")
	v, found = kept(t, s, k, always(3))
	assert.Equal(t, 3, v, "a change lets it go")
	assert.True(t, found)
	v, _ = kept(t, s, &garden.Kept{}, always(4))
	assert.Equal(t, 4, v, "nothing is kept where nothing may be")
}

// What was found of an older state, while the garden changed and another found the
// newer one, is not kept under the newer.
func TestWhatWasFoundOfAnOlderStateIsNotKept(t *testing.T) {
	s, k := fresh(t), &garden.Kept{Most: 2}
	v, _ := kept(t, s, k, func() int {
		add(t, s, "", "A bed")
		newer, found := kept(t, s, k, always(2))
		assert.True(t, found)
		assert.Equal(t, 2, newer)
		return 1
	})
	assert.Equal(t, 1, v, "who asked before the change is told what was")
	v, found := kept(t, s, k, always(3))
	assert.Equal(t, 2, v)
	assert.False(t, found)
}
