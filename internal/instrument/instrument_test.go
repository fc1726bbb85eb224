package instrument_test

import (
	"context"
	"io"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/instrument"
)

var ctx = context.Background()

func shown(t *testing.T, p instrument.Probe, in instrument.In) instrument.Shown {
	t.Helper()
	s, err := p.Read(ctx, in)
	require.NoError(t, err)
	return s
}

func TestFakeProbeSettlesAndCalibrates(t *testing.T) {
	p := instrument.NewFakeProbe(7)
	assert.True(t, p.Simulated())
	assert.Contains(t, p.Name(), "Simulated")
	for _, truth := range []quantity.PH{5.2, 6.1, 7.4} {
		var tries []quantity.PH
		in := instrument.In{Bed: 3, Truth: truth}
		for in.N = range 12 {
			tries = append(tries, shown(t, p, in).PH)
		}
		assert.Equal(t, tries[3], shown(t, p, instrument.In{Bed: 3, Truth: truth, N: 3}).PH, "the same seed, the same figure")
		_, early := soil.Agreed(tries[:3])
		assert.False(t, early, "not settled at once")
		ph, ok := soil.Agreed(tries)
		require.True(t, ok)
		cal := soil.Calibration{}
		for _, b := range []quantity.PH{4, 7, 10} {
			cal.Points = append(cal.Points, soil.BufferPoint{Bottle: b, Shown: shown(t, p, instrument.In{Bottle: b, N: 8}).PH})
		}
		assert.True(t, cal.Good(), "slope %v", cal.Slope())
		assert.InDelta(t, float64(truth), float64(cal.Correct(ph)), 0.45, "near to what is known of the bed")
	}
	worn := &instrument.FakeProbe{Seed: 7, Slope: 0.8}
	cal := soil.Calibration{Points: []soil.BufferPoint{{Bottle: 4, Shown: shown(t, worn, instrument.In{Bottle: 4, N: 9}).PH},
		{Bottle: 7, Shown: shown(t, worn, instrument.In{Bottle: 7, N: 9}).PH}}}
	assert.False(t, cal.Good(), "a worn one is found out")
}

func TestFakeLabReport(t *testing.T) {
	lab := instrument.FakeLab{Seed: 11}
	on := quantity.Date(2026, 11, 24)
	sent := []instrument.Sent{{Code: "2A", On: on, PH: 5.8, Potassium: 100}, {Code: "2B", On: on, PH: 6.6, Potassium: 140}}
	_, ok, err := lab.Report(ctx, sent, on+4)
	require.NoError(t, err)
	assert.False(t, ok, "not so soon")
	r, ok, err := lab.Report(ctx, sent, on+9)
	require.NoError(t, err)
	require.True(t, ok)
	assert.Equal(t, []string{"2A", "2B"}, r.Codes)
	assert.Contains(t, r.Name, "simulated")
	again, _, _ := lab.Report(ctx, sent, on+9)
	assert.Equal(t, string(r.Data), string(again.Data))
	cells, err := exchange.ReadCells(r.Name, r.Data)
	require.NoError(t, err)
	lines, bad := exchange.LabReadings(cells, exchange.GuessLayout(cells),
		exchange.LabKnown{Codes: map[string][]sampling.Stretch{"2A": nil, "2B": nil}}, on+9)
	require.Empty(t, bad)
	require.Len(t, lines, 2)
	assert.InDelta(t, 5.8, float64(*lines[0].Reading.PH), 0.5)
	assert.Equal(t, "2B", lines[1].Code)
}

func TestParseLine(t *testing.T) {
	for line, want := range map[string]string{"6.12": "6.12", "ph=6.12 t=11.5": "6.12 11.5", "PH=7;T=20": "7 20", "7.01,ok": "7.01",
		"t=11": "-", "": "-", "ph=99": "-", "hello": "-", "mV=12 ph=5.5": "5.5"} {
		s, ok := instrument.ParseLine(line)
		got := "-"
		if ok {
			got = format(float64(s.PH))
			if s.HasTemperature {
				got += " " + format(float64(s.Temperature))
			}
		}
		assert.Equal(t, want, got, line)
	}
}

func format(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

func TestLineProbeReturnsFreshLines(t *testing.T) {
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	r, w := io.Pipe()
	p := instrument.NewLineProbe("Meter on ttyUSB0", r, func() time.Time { return now })
	p.Patience = time.Millisecond
	_, err := p.Read(ctx, instrument.In{})
	require.ErrorIs(t, err, instrument.ErrNoReading)
	p.Patience = time.Minute
	write := func(text string) {
		_, err := w.Write([]byte(text))
		require.NoError(t, err)
	}
	write("noise\nph=6.2 t=12\n")
	assert.InDelta(t, 6.2, float64(shown(t, p, instrument.In{}).PH), 1e-9)
	// The same line is not read twice: a row of readings is a row of lines.
	go write("ph=6.3\n")
	assert.InDelta(t, 6.3, float64(shown(t, p, instrument.In{N: 1}).PH), 1e-9)
	// What was shown long ago is not now. The second write returns once the
	// first was taken in.
	write("ph=5.1\n")
	write("noise\n")
	now = now.Add(time.Hour)
	p.Patience = time.Millisecond
	_, err = p.Read(ctx, instrument.In{N: 2})
	require.ErrorIs(t, err, instrument.ErrNoReading)
	assert.False(t, p.Simulated())
}
