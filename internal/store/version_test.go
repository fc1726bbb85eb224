package store_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

// versions returns those of the garden and of beds.
func versions(t *testing.T, s *store.Store, beds ...int64) (out []string) {
	t.Helper()
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) error {
		v, err := r.Version()
		out = append(out, v)
		for _, id := range beds {
			if err != nil {
				return err
			}
			v, err = r.BedVersion(id)
			out = append(out, v)
		}
		return err
	}))
	return out
}

func do(t *testing.T, s *store.Store, f func(tx garden.Tx) error) garden.Receipt {
	t.Helper()
	r, err := s.Change(context.Background(), change(""), func(tx garden.Tx) (string, error) { return "changed", f(tx) })
	require.NoError(t, err)
	return r
}

// A bed's version changes with its own records and with what affects all beds, not with other beds'
// records.
func TestVersionsChangeWithDependencies(t *testing.T) {
	s := fresh(t)
	a, _ := add(t, s, "", "A")
	b, _ := add(t, s, "", "B")
	ph := quantity.PH(6)
	read := func(bed int64) func(garden.Tx) error {
		return func(tx garden.Tx) error {
			return tx.Insert(&garden.Reading{BedID: bed, Date: quantity.Date(2026, 5, 1), Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12,
				Depth: 0.15})
		}
	}
	var undo garden.Receipt
	for _, x := range []struct {
		what               string
		do                 func()
		garden, bedA, bedB bool
	}{
		{"nothing", func() {}, false, false, false},
		{"a reading of A", func() { undo = do(t, s, read(a.ID)) }, true, true, false},
		{"its undo", func() {
			_, err := s.Undo(context.Background(), change(""), undo.Journal)
			require.NoError(t, err)
		}, true, true, false},
		{"a reading of B", func() { do(t, s, read(b.ID)) }, true, false, true},
		{"a path", func() {
			do(t, s, func(tx garden.Tx) error {
				return tx.Insert(&garden.Mark{Kind: garden.MarkPath, Width: 1, Points: []garden.Point{{X: 0, Y: 0}, {X: 1, Y: 1}}})
			})
		}, true, false, false},
		{"measured soil", func() {
			do(t, s, func(tx garden.Tx) error {
				return tx.Insert(&garden.SoilDay{Day: quantity.Date(2026, 5, 2), Soil: 12, Source: "typed"})
			})
		}, true, true, true},
		{"the place", func() {
			do(t, s, func(tx garden.Tx) error {
				g, err := tx.Garden()
				if err != nil {
					return err
				}
				g.Name = "Elsewhere"
				return tx.Update(&g)
			})
		}, true, true, true},
	} {
		before := versions(t, s, a.ID, b.ID)
		x.do()
		after := versions(t, s, a.ID, b.ID)
		for i, moves := range []bool{x.garden, x.bedA, x.bedB} {
			assert.Equal(t, moves, before[i] != after[i], "%s: %d", x.what, i)
		}
	}
}

// Values computed within a change are never cached: it may be rolled back.
func TestNoCacheWithinChange(t *testing.T) {
	s := fresh(t)
	do(t, s, func(tx garden.Tx) error {
		assert.NotNil(t, tx.Cache())
		require.NoError(t, tx.Insert(bed("A")))
		assert.Nil(t, tx.Cache())
		return nil
	})
}

var things = cache.Kind{Name: "things", Room: 4}

// A value computed from an older snapshot is not returned for a newer one.
func TestCacheRespectsSnapshot(t *testing.T) {
	s := fresh(t)
	asked := func(find func() int) (v int) {
		require.NoError(t, s.Read(context.Background(), func(r garden.Reader) (err error) {
			v, err = garden.Cached(r, things, "x", func() (int, error) { return find(), nil })
			return err
		}))
		return v
	}
	assert.Equal(t, 1, asked(func() int {
		add(t, s, "", "A bed")
		assert.Equal(t, 2, asked(func() int { return 2 }))
		return 1
	}), "who asked before the change is told what was")
	assert.NotEqual(t, 1, asked(func() int { return 3 }), "who asks after it is not")
}
