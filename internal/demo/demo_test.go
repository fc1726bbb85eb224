package demo_test

import (
	"bytes"
	"context"
	"errors"
	"flag"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/demo"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/store"
)

// records are those of a garden that the tests look at.
type records struct {
	Beds         []garden.Bed
	Readings     []garden.Reading
	Applications []garden.Application
	Tasks        []garden.Task
	Plantings    []garden.Planting
	Crops        []garden.OwnCrop
}

func build(t *testing.T) (*store.Store, records) {
	t.Helper()
	ctx := context.Background()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "garden.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	require.NoError(t, demo.Build(ctx, s))
	var a records
	require.NoError(t, s.Read(ctx, func(r garden.Reader) error {
		return errors.Join(gather(r, "beds", &a.Beds), gather(r, "readings", &a.Readings), gather(r, "applications", &a.Applications),
			gather(r, "tasks", &a.Tasks), gather(r, "plantings", &a.Plantings), gather(r, "crops", &a.Crops))
	}))
	return s, a
}

func TestDemoIsComplete(t *testing.T) {
	_, a := build(t)
	places := 0
	for _, b := range a.Beds {
		if b.Kind != garden.KindHeap {
			places++
		}
	}
	assert.Equal(t, 12, places)
	methods, seasons := map[string]int{}, map[int]bool{}
	for _, r := range a.Readings {
		methods[string(r.Method)]++
		seasons[r.Date.Year()] = true
		assert.LessOrEqual(t, r.Date.String(), demo.Today)
	}
	assert.GreaterOrEqual(t, len(a.Readings), 80)
	assert.GreaterOrEqual(t, len(methods), 5)
	assert.Len(t, seasons, 4)
	assert.GreaterOrEqual(t, len(a.Applications), 40)
	skipped := 0
	for _, task := range a.Tasks {
		if task.State == garden.Skipped {
			skipped++
			assert.NotEmpty(t, task.Why)
		}
	}
	assert.Equal(t, 6, skipped)
	for _, p := range a.Plantings {
		_, ok := garden.NewLibrary(a.Crops).Find(p.Crop)
		assert.True(t, ok, p.Crop)
	}
}

func TestDemoHasDueWork(t *testing.T) {
	s, _ := build(t)
	k := bedstate.Service{Store: s}
	today, err := quantity.ParseDay(demo.Today)
	require.NoError(t, err)
	v, err := k.View(context.Background(), today)
	require.NoError(t, err)
	assert.Equal(t, 3, v.Count(bed.Sour))
	assert.Equal(t, 2, v.Count(bed.TooSweet))
	assert.Equal(t, 2, v.Count(bed.Untested))
	sheet, err := schedule.Service{Store: s, BedState: k}.Sheet(context.Background(), today, today)
	require.NoError(t, err)
	assert.Len(t, sheet.Due, 2)
}

var update = flag.Bool("update", false, "write hollin.json as the garden that it makes is archived")

// The file is what an archive of the demo holds, without its journal.
func TestDemoMatchesItsArchive(t *testing.T) {
	const file = "hollin.json"
	s, _ := build(t)
	var b bytes.Buffer
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) error { return exchange.WriteArchive(&b, r) }))
	records, _, found := strings.Cut(b.String(), ",\n\"journal\": [")
	require.True(t, found)
	records += "\n}\n"
	if *update {
		require.NoError(t, os.WriteFile(file, []byte(records), 0o644))
	}
	has, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.True(t, string(has) == records, "go test ./internal/demo -update writes it")
}

// gather reads a whole list.
func gather[T any](r garden.Reader, table string, into *[]T) error {
	return r.Each(table, func(rec garden.Record) error { *into = append(*into, *any(rec).(*T)); return nil })
}

func TestTasksAsICalendar(t *testing.T) {
	s, _ := build(t)
	k := bedstate.Service{Store: s}
	d, err := schedule.Service{Store: s, BedState: k}.Diary(context.Background(), quantity.Date(2026, 11, 24))
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, exchange.WriteDiary(&b, "garden-7", d, time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)))
	got := b.String()
	assert.Equal(t, len(d.Tasks), strings.Count(got, "BEGIN:VEVENT"))
	assert.Contains(t, got, "DTSTART;VALUE=DATE:20261121\r\n")
	assert.Regexp(t, `UID:task-\d+@garden-7\.zephyrfield`, got)
	assert.NotContains(t, strings.ReplaceAll(got, "\r\n", ""), "\n", "lines end as the standard has it")
	whole := strings.ReplaceAll(got, "\r\n ", "")
	ash := strings.ReplaceAll(text.Safety(material.HardwoodAsh)[0], ",", "\\,")
	assert.Contains(t, whole, ash, "the one table of what to mind")
	assert.Contains(t, whole, " g/m² on the bed")
	g := &d.Garden
	g.WeightUnit, g.DepthUnit, g.RateUnit = "lb", "in", text.RateUnits()[1].ID
	b.Reset()
	require.NoError(t, exchange.WriteDiary(&b, "garden-7", d, time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)))
	got = strings.ReplaceAll(b.String(), "\r\n ", "")
	assert.NotContains(t, got, " kg of")
	assert.NotContains(t, got, "g/m²")
	assert.Contains(t, got, " lb of")
	assert.Contains(t, got, " in) and same way")
}
