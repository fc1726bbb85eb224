package garden

import "zephyrfield/internal/cache"

// Cached returns a cached value for the reader's state of the garden, or computes it.
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

// CachedOfBeds is Cached for values that depend only on beds and on what affects all of them; other
// changes keep the value.
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

// Peeked returns a cached value for the reader's state of the garden, without computing it.
func Peeked[T any](r Reader, k cache.Kind, key any) (v T, ok bool, err error) {
	version, err := r.Version()
	if err != nil {
		return v, false, err
	}
	v, ok = cache.Peek[T](r.Cache(), k, key, version)
	return v, ok, nil
}

// Later returns a function that caches a value for the reader's state of the garden, for work that goes on after the
// reader was let go.
func Later[T any](r Reader, k cache.Kind, key any) (keep func(T), err error) {
	version, err := r.Version()
	if err != nil {
		return nil, err
	}
	c := r.Cache()
	return func(v T) { cache.Put(c, k, key, version, v) }, nil
}
