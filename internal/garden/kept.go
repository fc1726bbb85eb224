package garden

import (
	"context"
	"sync"
)

// Kept keeps what was found out of the records until they change: pages show the same
// beds, the same year and the same dose many times between two changes. The zero
// Kept keeps nothing; it is safe for use by many.
type Kept struct {
	// Most is how many things are kept, Lasting how many of those that records do not change.
	Most, Lasting int

	mu    sync.Mutex
	stamp string
	by    map[any]any
	last  map[string]any
}

// Lasting gives what was kept under all that it rests on, else finds it: no change of the records makes it
// another. k may be nil.
func Lasting[T any](k *Kept, key string, find func() T) T {
	if k == nil || k.Lasting == 0 {
		return find()
	}
	k.mu.Lock()
	had, ok := k.last[key].(T)
	k.mu.Unlock()
	if ok {
		return had
	}
	v := find()
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.last == nil || len(k.last) >= k.Lasting {
		k.last = make(map[string]any)
	}
	k.last[key] = v
	return v
}

// Lasted is what was put by last under a name, Last puts something by; k may be nil.
func Lasted[T any](k *Kept, name string) (v T, ok bool) {
	if k == nil || k.Lasting == 0 {
		return v, false
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	v, ok = k.last[name].(T)
	return v, ok
}

// Last puts something by under a name, in place of what was there.
func Last[T any](k *Kept, name string, v T) {
	if k == nil || k.Lasting == 0 {
		return
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.last == nil {
		k.last = make(map[string]any)
	}
	k.last[name] = v
}

// Drop lets go of all that is kept: it is found again when it is asked for.
func (k *Kept) Drop() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.stamp, k.by, k.last = "", nil, nil
}

// Keep gives what was kept under a key, else finds it; k may be nil. What is given is
// shared by all who ask: nobody may change what it points to.
func Keep[T any](k *Kept, r Reader, key any, find func() (T, error)) (v T, err error) {
	if k == nil || k.Most == 0 {
		return find()
	}
	stamp, err := r.Stamp()
	if err != nil {
		return v, err
	}
	k.mu.Lock()
	if k.stamp != stamp || len(k.by) >= k.Most {
		k.stamp, k.by = stamp, make(map[any]any, k.Most)
	}
	had, ok := k.by[key].(T)
	k.mu.Unlock()
	if ok {
		return had, nil
	}
	if v, err = find(); err != nil {
		return v, err
	}
	k.mu.Lock()
	if k.stamp == stamp {
		k.by[key] = v
	}
	k.mu.Unlock()
	return v, nil
}

// Recall is Keep for those who do not hold a view of the store.
func Recall[T any](ctx context.Context, s Store, k *Kept, key any, find func() (T, error)) (v T, err error) {
	err = s.Read(ctx, func(r Reader) error {
		v, err = Keep(k, r, key, find)
		return err
	})
	return v, err
}

// Peek gives what is kept under a key, and finds nothing out.
func Peek[T any](k *Kept, r Reader, key any) (v T, ok bool, err error) {
	if k == nil || k.Most == 0 {
		return v, false, nil
	}
	stamp, err := r.Stamp()
	if err != nil {
		return v, false, err
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.stamp == stamp {
		v, ok = k.by[key].(T)
	}
	return v, ok, nil
}
