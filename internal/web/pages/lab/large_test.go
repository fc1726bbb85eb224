package lab_test

import (
	"bytes"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bounded/peak"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/web/webtest"
)

// largest is the largest table that is taken in: every cell a fault, or every line a reading.
func largest(line string) []byte {
	var b bytes.Buffer
	b.WriteString("Bed,Date,pH,K ppm" + strings.Repeat(",Other", 56) + "\n")
	for i := range 19_990 {
		fmt.Fprintf(&b, line, i%7)
		b.WriteString(strings.Repeat(",9", 56) + "\n")
	}
	return b.Bytes()
}

func TestLargestLabFileIsBounded(t *testing.T) {
	for name, line := range map[string]string{"every line a fault": "nowhere %d,yesterday,seven,many",
		"every line a reading": "Lower ledge,2026-11-0%[1]d,6.1,120"} {
		t.Run(name, func(t *testing.T) {
			s := webtest.New(t, true)
			data := largest(line)
			require.Less(t, len(data), exchange.MaxLabFile)
			var w *httptest.ResponseRecorder
			most := peak.Of(t, func() { w = s.Upload("/bench/lab", "file", "large.csv", data) })
			require.Equal(t, http.StatusSeeOther, w.Code)
			assert.Less(t, most, int64(200*peak.MB))
			most = peak.Of(t, func() { w = s.Get(w.Header().Get("Location")) })
			assert.Equal(t, http.StatusOK, w.Code)
			assert.Less(t, most, int64(200*peak.MB))
			t.Logf("%d kB of page", w.Body.Len()>>10)
		})
	}
}

func TestManyFaultsAreToldShortly(t *testing.T) {
	s := webtest.New(t, true)
	lines := func(n int) []byte {
		return []byte("Bed,Sampled,pH\n" + strings.Repeat("Lower ledge,2026-11-02,sour\n", n))
	}
	page := func(n int) string {
		return s.Get(s.Upload("/bench/lab", "file", "bad.csv", lines(n)).Header().Get("Location")).Body.String()
	}
	all := page(12)
	assert.Contains(t, all, "12 things to correct")
	assert.NotContains(t, all, "more: each is told")
	some := page(100)
	assert.Contains(t, some, "And 88 more: each is told at its cell.")
	assert.Contains(t, webtest.Filled(some), "e101-3", "the hundredth line can be corrected")
	assert.NotContains(t, some, "Only the first lines are shown")
	many := page(101)
	assert.Contains(t, many, "101 things to correct")
	assert.NotContains(t, webtest.Filled(many), "e102-3")
	assert.Contains(t, many, "Only the first lines are shown: correct the rest in the file")
}
