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

// FuzzWeather holds: no panic, and every day that is read is finite and in order.
func FuzzWeather(f *testing.F) {
	for _, s := range []string{"date,air_c,rain_mm\n2026-11-24,7,1.5\n", "\ufeffDate, soil_f ,wind_mph\n2026-11-24,\"50,5\",3\n2026-11-23,,\n",
		"date\n9999-12-31\n", "date,air_c\n2026-11-24,1e308\n", "date,date\n2026-11-24,2026-11-25\n",
		"date,snow_in\n2026-11-24,0x1p3\n", ",,,\n"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		skies, err := instrument.ReadSkies(strings.NewReader(text))
		if err != nil {
			return
		}
		for i, s := range skies {
			if i > 0 && skies[i-1].Day >= s.Day {
				t.Fatalf("%v before %v", skies[i-1].Day, s.Day)
			}
			if s.Air != nil && !(*s.Air >= -60 && *s.Air <= 60) || s.Wind != nil && !(*s.Wind >= 0 && *s.Wind <= 90) {
				t.Fatalf("%+v", s)
			}
		}
	})
}
