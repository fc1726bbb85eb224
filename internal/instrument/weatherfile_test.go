//go:build unix

package instrument_test

import (
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bounded/peak"
	"zephyrfield/internal/instrument"
)

func TestWeatherFilesAreBounded(t *testing.T) {
	dir := t.TempDir()
	write := func(name, text string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600))
	}
	at, day := spot("maritime"), quantity.Date(2026, 11, 24)
	write("a.csv", "date,air_c\n2026-11-24,7\n")
	require.NoError(t, syscall.Mkfifo(filepath.Join(dir, "b.csv"), 0o600))
	w := &instrument.FileWeather{Path: dir}
	read := func(w *instrument.FileWeather) (days calendar.Skies, err error) {
		done := make(chan bool)
		go func() {
			defer close(done)
			days, err = w.Days(t.Context(), at, day, day, day)
		}()
		select {
		case <-done:
		case <-time.After(20 * time.Second):
			require.Fail(t, "a pipe is waited for")
		}
		return days, err
	}
	days, err := read(w)
	require.NoError(t, err)
	assert.Len(t, days, 1, "what lies beside a pipe is read")
	_, err = read(&instrument.FileWeather{Path: filepath.Join(dir, "b.csv")})
	require.ErrorContains(t, err, "b.csv is no file")
	long := strings.Repeat("2026-11-24,7\n", 1<<20/13)
	for name, x := range map[string]struct{ text, says string }{
		"one large file": {"date,air_c\n" + strings.Repeat(long, 5), "more weather than 4 MB a file"},
		"one long line":  {"date,air_c\n" + strings.Repeat(",", 2<<20), "longer than a record"},
		"many days":      {"date,air_c\n" + manyDays(41_000), "more than 40000 days"},
	} {
		write("c.csv", x.text)
		var err error
		most := peak.Of(t, func() { _, err = read(w) })
		require.ErrorContains(t, err, x.says, name)
		assert.Less(t, most, int64(20*peak.MB), name)
	}
	write("c.csv", "date,air_c\n"+long+long+long)
	_, err = read(w)
	require.NoError(t, err)
	write("d.csv", "date,air_c\n"+long+long+long)
	write("e.csv", "date,air_c\n"+long+long+long)
	_, err = read(w)
	require.ErrorContains(t, err, "e.csv: there is more weather than 4 MB a file, 8 MB")
}

func manyDays(n quantity.Day) string {
	var b strings.Builder
	for d := range n {
		b.WriteString((quantity.Date(1901, 1, 1) + d).String() + ",7\n")
	}
	return b.String()
}
