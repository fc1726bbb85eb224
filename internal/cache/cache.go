// Package cache keeps computed values until the records that they rest on change.
//
// A value is stored with the version at which it was computed: that of the garden, which every change
// moves, or that of a bed, which changes of its own records and of what bears on all beds move. It is
// returned only for the same version, so that no stale figure is shown.
package cache

import "sync"

// Kind is a kind of cached value with its capacity: when it is full, values of other versions are evicted, and all
// where that frees nothing.
type Kind struct {
	Name string
	Room int
}

// Cache holds values by kind and key. It is safe for concurrent use; a nil Cache holds nothing.
type Cache struct {
	mu    sync.Mutex
	kinds map[string]map[any]entry
}

type entry struct {
	version string
	value   any
}

// Get returns the value cached under a key at a version, else computes and caches it. The value is shared by all
// callers: nobody may change what it points to. Errors are not cached.
func Get[T any](c *Cache, k Kind, key any, version string, find func() (T, error)) (T, error) {
	if v, ok := Peek[T](c, k, key, version); ok {
		return v, nil
	}
	v, err := find()
	if err == nil {
		Put(c, k, key, version, v)
	}
	return v, err
}

// Peek returns the value cached under a key at a version; ok is false when there is none.
func Peek[T any](c *Cache, k Kind, key any, version string) (v T, ok bool) {
	v, at, ok := Last[T](c, k, key)
	if !ok || at != version {
		var none T
		return none, false
	}
	return v, true
}

// Last returns the value cached under a key with its version, which may be outdated: for callers that compare it
// with what they computed again.
func Last[T any](c *Cache, k Kind, key any) (v T, version string, ok bool) {
	if c == nil {
		return v, "", false
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	e, ok := c.kinds[k.Name][key]
	if !ok {
		return v, "", false
	}
	v, ok = e.value.(T)
	return v, e.version, ok
}

// Put keeps a value under a key at a version, in place of what was there.
func Put[T any](c *Cache, k Kind, key any, version string, v T) {
	if c == nil {
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	of := c.kinds[k.Name]
	if of == nil {
		if c.kinds == nil {
			c.kinds = map[string]map[any]entry{}
		}
		of = map[any]entry{}
		c.kinds[k.Name] = of
	}
	if _, had := of[key]; !had && len(of) >= k.Room {
		for x, e := range of {
			if e.version != version {
				delete(of, x)
			}
		}
		if len(of) >= k.Room {
			clear(of)
		}
	}
	of[key] = entry{version, v}
}

// Clear empties the cache.
func (c *Cache) Clear() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.kinds = nil
}
