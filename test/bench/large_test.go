package bench_test

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/app"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// large returns a made garden of beds with 20 seasons each.
func large(t testing.TB, beds int) *webtest.Client {
	t.Helper()
	const seasons = 20
	ctx := context.Background()
	st, err := store.Open(ctx, filepath.Join(t.TempDir(), "garden.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	rng := rand.New(rand.NewPCG(4, 20))
	_, err = st.Change(ctx, garden.Change{Who: "test"}, func(tx garden.Tx) (string, error) {
		for i := range beds {
			b := garden.Bed{Name: fmt.Sprintf("Bed %d", i+1), Kind: garden.KindBed, Shape: garden.ShapeRect, X: float64(i%20) * 6,
				Y: float64(i/20) * 3, W: 5, H: 2,
				Texture: soil.Textures[rng.IntN(7)].ID, Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeNone}
			if err := tx.Insert(&b); err != nil {
				return "", err
			}
			for y := range seasons {
				ph, k := quantity.PH(5.4+1.8*rng.Float64()), quantity.Concentration(60+120*rng.Float64())
				sown := quantity.Date(2007+y+1, 4, 1+rng.IntN(60))
				rows := []garden.Record{
					&garden.Planting{BedID: b.ID, Crop: crop.Library[rng.IntN(17)].ID, Sown: sown, Cleared: sown + 180},
					&garden.Reading{BedID: b.ID, Date: quantity.Date(2007+y, 10, 1+rng.IntN(28)), Method: soil.Lab, Basis: soil.Water,
						PH: &ph, Cores: 12, Depth: 0.15, Potassium: &k},
					&garden.Application{BedID: b.ID, Date: quantity.Date(2007+y, 11, 1+rng.IntN(28)), What: "calcitic-lime", Rate: 100,
						Total: 1000},
					&garden.Task{BedID: b.ID, Kind: garden.TaskApplication, Due: quantity.Date(2007+y, 11, 1+rng.IntN(28)),
						What: "calcitic-lime", Rate: 100, Total: 1000, State: garden.Done, Settled: quantity.Date(2007+y, 11,
							28), Depth: 0.15},
				}
				for _, r := range rows {
					if err := tx.Insert(r); err != nil {
						return "", err
					}
				}
			}
		}
		return "A large garden", nil
	})
	require.NoError(t, err)
	clock := site.NewDemoClock(quantity.Date(2026, 11, 24))
	h, err := server.New(site.Config{Store: st, Gate: st, Labs: st, Jobs: webtest.Runner(t, st), Clock: clock, Demo: clock,
		Hosts: []string{"localhost"}, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	require.NoError(t, err)
	return &webtest.Client{T: t, Handler: h, Store: st, App: app.Of(st), Today: clock.Today()}
}

func BenchmarkLargeGarden(b *testing.B) {
	s := large(b, 400)
	for name, path := range map[string]string{"icon": "/favicon.ico", "ground": "/", "past": "/?on=2024-05-01",
		"ahead": "/?on=2027-05-01", "dose": "/beds/200/dose", "sheet": "/sheet", "walk": "/walk", "bench": "/bench?bed=200",
		"means": "/bench/means?bed=200&date=2026-11-24&method=lab&basis=water&cores=10&depth=15&ph=5.8"} {
		b.Run(name, func(b *testing.B) {
			asked(b, s.Handler, path) // what is computed of the garden is cached; the page's own time is asked for
			for b.Loop() {
				asked(b, s.Handler, path)
			}
		})
	}
}

// BenchmarkLargeAfterAChange is the first page after a change of a large garden: of a note, which teaches nothing, of a reading,
// and of something that was put on.
func BenchmarkLargeAfterAChange(b *testing.B) {
	s := large(b, 400)
	ctx := context.Background()
	for name, change := range map[string]func(tx garden.Tx, n int) error{
		"note": func(tx garden.Tx, n int) error {
			return tx.Insert(&garden.Mark{Kind: garden.MarkPath, Width: 0.5, Points: []garden.Point{{X: 0, Y: float64(n)}, {X: 5, Y: 1}}})
		},
		"bed": func(tx garden.Tx, n int) error {
			bed, err := garden.Get[garden.Bed](tx, 200)
			if err != nil {
				return err
			}
			bed.Note = "Seen " + strconv.Itoa(n) + " times."
			return tx.Update(&bed)
		},
		"reading": func(tx garden.Tx, n int) error {
			ph := quantity.PH(5.5 + 0.01*float64(n%100))
			return tx.Insert(&garden.Reading{BedID: 200, Date: s.Today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15})
		},
		"application": func(tx garden.Tx, n int) error {
			return tx.Insert(&garden.Application{BedID: 200, Date: s.Today, What: "calcitic-lime", Rate: 100, Total: 1000})
		},
	} {
		for _, page := range []string{"/", "/beds/200/dose", "/sheet", "/walk"} {
			b.Run(name+strings.ReplaceAll(page, "/", "-"), func(b *testing.B) {
				took := time.Duration(0)
				for n := 0; b.Loop(); n++ {
					_, err := s.Store.Change(ctx, garden.Change{Who: "test"}, func(tx garden.Tx) (string, error) { return "changed", change(tx, n) })
					require.NoError(b, err)
					took += asked(b, s.Handler, page)
				}
				b.ReportMetric(float64(took.Milliseconds())/float64(b.N), "page-ms")
			})
		}
	}
}

// BenchmarkLargeLessons is what beds have shown in a large garden: all of it from nothing, what is left to compute after a
// reading of one bed, and the lines of all beds.
func BenchmarkLargeLessons(b *testing.B) {
	s := large(b, 400)
	ctx := context.Background()
	all := func() {
		require.NoError(b, s.Store.Read(ctx, func(r garden.Reader) error {
			l, err := bedstate.LessonsOf(r.(bedstate.Reader), s.Today, s.Today)
			if err != nil {
				return err
			}
			l.Learn()
			return nil
		}))
	}
	b.Run("from-nothing", func(b *testing.B) {
		for b.Loop() {
			s.Store.Rest()
			all()
		}
	})
	b.Run("after-a-reading", func(b *testing.B) {
		for n := 0; b.Loop(); n++ {
			ph := quantity.PH(5.5 + 0.01*float64(n%100))
			_, err := s.Store.Change(ctx, garden.Change{Who: "test"}, func(tx garden.Tx) (string, error) {
				return "read", tx.Insert(&garden.Reading{BedID: 200, Date: s.Today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12,
					Depth: 0.15})
			})
			require.NoError(b, err)
			all()
		}
	})
	b.Run("outlines", func(b *testing.B) {
		for b.Loop() {
			s.Store.Rest()
			_, err := s.App.Outlook.Outlines(ctx, s.Today)
			require.NoError(b, err)
		}
	})
}

// The lines of many beds are worked out beside the page, which says how far they have come, and stand there once they are done.
func TestOutlinesAreComputedInBackground(t *testing.T) {
	s := large(t, 120)
	first := s.Get("/seasons?bed=60").Body.String()
	assert.Contains(t, first, "are being worked out")
	assert.Contains(t, first, "of 120")
	assert.Contains(t, first, "Bed 60")
	require.Eventually(t, func() bool { return !strings.Contains(s.Get("/seasons?bed=60").Body.String(), "being worked out") }, time.Minute,
		100*time.Millisecond)
	done := s.Get("/seasons?bed=60").Body.String()
	assert.Contains(t, done, `aria-current="true"`)
	assert.Contains(t, done, "more: find them by name")
}
