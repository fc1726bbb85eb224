package garden

import "zephyrfield/internal/cache"

// Cached returns what was found of the garden in the state that a reader sees, else finds it.
func Cached[T any](r Reader, k cache.Kind, key any, find func() (T, error)) (v T, err error) {
	c := r.Cache()
	if c == nil {
		return find()
	}
	version, err := r.Version()
	if err != nil {
		return v, err
	}
	return cache.Get(c, k, key, version, find)
}

// CachedOfBeds returns what was found of the beds and of what bears on them all, else finds it:
// what changes neither leaves it.
func CachedOfBeds[T any](r Reader, k cache.Kind, key any, find func() (T, error)) (v T, err error) {
	c := r.Cache()
	if c == nil {
		return find()
	}
	version, err := r.BedsVersion()
	if err != nil {
		return v, err
	}
	return cache.Get(c, k, key, version, find)
}

// Peeked returns what is kept of the garden in the state that a reader sees, and finds nothing out.
func Peeked[T any](r Reader, k cache.Kind, key any) (v T, ok bool, err error) {
	version, err := r.Version()
	if err != nil {
		return v, false, err
	}
	v, ok = cache.Peek[T](r.Cache(), k, key, version)
	return v, ok, nil
}
