package instrument_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/instrument"
)

// FuzzProbeLines holds: no panic, and what is shown is a pH and a temperature that
// can be.
func FuzzProbeLines(f *testing.F) {
	for _, l := range []string{"6.12", "ph=6.12 t=11.5", "pH=NaN t=Inf", "ph=1e308;t=-9", "6,12", "\x00\xff", "ph==6", "T=0x1p4 PH=7",
		"ph=14.0000000001", strings.Repeat("6.1 ", 400)} {
		f.Add(l)
	}
	f.Fuzz(func(t *testing.T, line string) {
		s, ok := instrument.ParseLine(line)
		if ok && !(s.PH >= 0 && s.PH <= 14) {
			t.Fatalf("pH %v", s.PH)
		}
		if s.HasTemperature && !(s.Temperature > -10 && s.Temperature < 60) {
			t.Fatalf("%v °C", s.Temperature)
		}
	})
}

// TestEndlessLineIsSkipped: a device that babbles does not silence the probe.
func TestEndlessLineIsSkipped(t *testing.T) {
	p := instrument.NewLineProbe("Probe", strings.NewReader(strings.Repeat("x", 200_000)+"\nph=6.31\n"), time.Now)
	got, err := p.Read(context.Background(), instrument.In{})
	require.NoError(t, err)
	assert.InDelta(t, 6.31, float64(got.PH), 1e-9)
}
