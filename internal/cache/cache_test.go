package cache_test

import (
	"errors"
	"strconv"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/cache"
)

var figures = cache.Kind{Name: "figures", Room: 3}

// find returns a value and counts how often it was found.
func find(v int, times *int) func() (int, error) {
	return func() (int, error) { *times++; return v, nil }
}

func TestGetReturnsOnlySameVersion(t *testing.T) {
	var c cache.Cache
	times := 0
	for range 2 {
		v, err := cache.Get(&c, figures, "a", "1", find(10, &times))
		require.NoError(t, err)
		assert.Equal(t, 10, v)
	}
	assert.Equal(t, 1, times)
	v, _ := cache.Get(&c, figures, "a", "2", find(20, &times))
	assert.Equal(t, 20, v, "another version is found anew")
	_, ok := cache.Peek[int](&c, figures, "a", "1")
	assert.False(t, ok, "an older one is not kept beside it")
	_, ok = cache.Peek[string](&c, figures, "a", "2")
	assert.False(t, ok, "nor given as something else")
	last, at, ok := cache.Last[int](&c, figures, "a")
	assert.True(t, ok, "who compares is given it with its version")
	assert.Equal(t, 20, last)
	assert.Equal(t, "2", at)
	c.Clear()
	_, ok = cache.Peek[int](&c, figures, "a", "2")
	assert.False(t, ok)
	_, _, ok = cache.Last[int](nil, figures, "a")
	assert.False(t, ok)
}

func TestErrorsAreNotCached(t *testing.T) {
	var c cache.Cache
	wrong := errors.New("wrong")
	_, err := cache.Get(&c, figures, "a", "1", func() (int, error) { return 1, wrong })
	require.ErrorIs(t, err, wrong)
	_, ok := cache.Peek[int](&c, figures, "a", "1")
	assert.False(t, ok)
	v, err := cache.Get[int](nil, figures, "a", "1", func() (int, error) { return 2, nil })
	require.NoError(t, err)
	assert.Equal(t, 2, v, "a cache that is none finds each time")
}

func TestOldVersionsAreEvictedFirst(t *testing.T) {
	var c cache.Cache
	cache.Put(&c, figures, "old", "1", 0)
	cache.Put(&c, figures, "a", "2", 1)
	cache.Put(&c, figures, "b", "2", 2)
	cache.Put(&c, figures, "c", "2", 3)
	for key, want := range map[string]bool{"old": false, "a": true, "b": true, "c": true} {
		version := "2"
		if key == "old" {
			version = "1"
		}
		_, ok := cache.Peek[int](&c, figures, key, version)
		assert.Equal(t, want, ok, key)
	}
	cache.Put(&c, figures, "d", "2", 4)
	_, ok := cache.Peek[int](&c, figures, "a", "2")
	assert.False(t, ok, "all of one version go where there is no more room")
	_, ok = cache.Peek[int](&c, figures, "d", "2")
	assert.True(t, ok)
}

func TestConcurrentGet(t *testing.T) {
	var c cache.Cache
	var wait sync.WaitGroup
	for i := range 8 {
		wait.Go(func() {
			for n := range 200 {
				version := strconv.Itoa(n % 5)
				v, err := cache.Get(&c, figures, n%4, version, func() (string, error) { return version, nil })
				assert.NoError(t, err)
				assert.Equal(t, version, v, "reader %d", i)
			}
		})
	}
	wait.Wait()
}
