package server_test

import (
	"bytes"
	"context"
	"fmt"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/job"
)

func (s *harness) upload(path, field, name string, data []byte) *httptest.ResponseRecorder {
	s.t.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	part, err := w.CreateFormFile(field, name)
	require.NoError(s.t, err)
	_, err = part.Write(data)
	require.NoError(s.t, err)
	require.NoError(s.t, w.Close())
	r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, &body)
	r.Header.Set("Content-Type", w.FormDataContentType())
	return s.do(r)
}

// settled waits until a file is in, and gives where its page leads.
func (s *harness) settled(path string) *httptest.ResponseRecorder {
	s.t.Helper()
	for range 2000 {
		w := s.get(path + "/progress")
		if w.Code == http.StatusSeeOther || strings.Contains(w.Body.String(), "Nothing was taken in") {
			return w
		}
		time.Sleep(5 * time.Millisecond)
	}
	require.Fail(s.t, "it did not end")
	return nil
}

func (s *harness) readings() int {
	n := 0
	for _, line := range strings.Split(s.get("/export/readings.csv").Body.String(), "\n") {
		if line != "" {
			n++
		}
	}
	return n - 1
}

func TestTheDemosReportIsTheSameAsXLSX(t *testing.T) {
	s := newSite(t, true)
	report, err := os.ReadFile("../static/lab-report.csv")
	require.NoError(t, err)
	book := s.get("/demo/lab-report.xlsx").Body.Bytes()
	rows := func(name string, data []byte) string {
		w := s.upload("/bench/lab", "file", name, data)
		require.Equal(t, http.StatusSeeOther, w.Code)
		page := s.get(w.Header().Get("Location")).Body.String()
		assert.Contains(t, page, "Take all 4 in")
		return page[strings.Index(page, `<tbody id="lab-rows">`):strings.Index(page, "</tbody>")]
	}
	assert.Equal(t, strings.ReplaceAll(rows("report.csv", report), ".0</td>", "</td>"), rows("report.xlsx", book),
		"a workbook keeps figures, not their zeros")
}

func TestALabsFileComesInWholeOrNotAtAll(t *testing.T) {
	s := newSite(t, true)
	report, err := os.ReadFile("../static/lab-report.csv")
	require.NoError(t, err)
	before := s.readings()
	w := s.upload("/bench/lab", "file", "report.csv", report)
	require.Equal(t, http.StatusSeeOther, w.Code)
	path := w.Header().Get("Location")
	page := s.get(path).Body.String()
	assert.Contains(t, page, "4 readings in report.csv")
	assert.Contains(t, page, "Take all 4 in")
	assert.Equal(t, before, s.readings(), "nothing is kept by looking")
	form := filled(page[strings.Index(page, `id="lab-form"`):])
	assert.Equal(t, "buffer_ph", form.Get("c3"))
	require.Equal(t, http.StatusSeeOther, s.post(path, form).Code)
	s.post(path, form) // a double post
	end := s.settled(path)
	assert.Equal(t, before+4, s.readings())
	assert.Contains(t, s.get("/beds/9/dose?buffering=smp").Body.String(), "SMP buffer 6.30")
	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(end.Header().Get("Location"))
	require.NotNil(t, said)
	assert.Contains(t, s.get("/bench?said="+said[1]).Body.String(), "Took in report.csv: 4 readings.")
	s.saved(s.post("/undo/"+said[1], url.Values{"back": {"/bench"}}))
	assert.Equal(t, before, s.readings(), "taken back in one step")

	// The next file of this lab is read as the last one was.
	form.Set("u4", "lb-acre")
	form.Set("key", "second")
	again := s.upload("/bench/lab", "file", "next.csv", report).Header().Get("Location")
	require.Equal(t, http.StatusSeeOther, s.post(again, form).Code)
	s.settled(again)
	third := s.upload("/bench/lab", "file", "third.csv", report).Header().Get("Location")
	page = s.get(third).Body.String()
	assert.Contains(t, page, "4 readings are in the garden already")
	assert.Contains(t, page, "matched as they were last time")
	assert.Contains(t, page, `<option value="lb-acre" selected>`)

	// One bad line: nothing is taken in, and its cell is shown.
	bad := s.upload("/bench/lab", "file", "bad.csv", bytes.Replace(report, []byte("5.4"), []byte("54"), 1)).Header().Get("Location")
	page = s.get(bad).Body.String()
	assert.Contains(t, page, "1 thing to put right in bad.csv")
	assert.Contains(t, page, "Line 4, pH (water): a pH from 3 to 10 is needed.")
	assert.NotContains(t, page, "Take all")
	count := s.readings()
	w = s.post(bad, form)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "a forged post")
	assert.Equal(t, count, s.readings())

	refused := s.upload("/bench/lab", "file", "huge.csv", make([]byte, 50<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, refused.Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.upload("/bench/lab", "file", "x.csv", []byte("Bed,pH")).Code)
	assert.Equal(t, http.StatusNotFound, s.get("/bench/lab/999").Code)
	assert.Equal(t, "PK", s.get("/export/readings.xlsx").Body.String()[:2])
}

func manyRows(n int) []byte {
	var b bytes.Buffer
	b.WriteString("Bed,Date,pH,K ppm\n")
	for i := range n {
		fmt.Fprintf(&b, "%s ledge,20%02d-%02d-%02d,%.2f,%d\n", []string{"Upper", "Middle", "Lower"}[i%3], 10+i%16, 1+i%12, 1+i%28,
			5.5+float64(i%20)/20, 90+i%80)
	}
	return b.Bytes()
}

func TestALongFileTellsHowFarItIs(t *testing.T) {
	s := newSite(t, true)
	before := s.readings()
	path := s.upload("/bench/lab", "file", "long.csv", manyRows(800)).Header().Get("Location")
	page := s.get(path).Body.String()
	assert.Contains(t, page, "Take all 800 in")
	assert.Contains(t, page, "and 788 more")
	require.Equal(t, http.StatusSeeOther, s.post(path, filled(page[strings.Index(page, `id="lab-form"`):])).Code)
	first := s.get(path + "/progress")
	if first.Code == http.StatusOK {
		assert.Regexp(t, `\d+ of 800 lines`, first.Body.String())
	}
	s.settled(path)
	assert.Equal(t, before+800, s.readings())
}

// BenchmarkLabFile takes 5,000 lines in: looked into, matched, and kept.
func BenchmarkLabFile(b *testing.B) {
	rows := manyRows(5000)
	for b.Loop() {
		b.StopTimer()
		s := newSite(b, true)
		b.StartTimer()
		path := s.upload("/bench/lab", "file", "long.csv", rows).Header().Get("Location")
		page := s.get(path).Body.String()
		s.post(path, filled(page[strings.Index(page, `id="lab-form"`):]))
		s.settled(path)
	}
}

func TestAFileThatAStopCutOffIsToldAfterIt(t *testing.T) {
	s := newSite(t, true)
	path := s.upload("/bench/lab", "file", "long.csv", manyRows(20)).Header().Get("Location")
	name := "lab " + path[strings.LastIndex(path, "/")+1:]
	require.NoError(t, s.store.KeepJob(context.Background(),
		job.Status{Name: name, State: job.Running, Of: 20, Step: 7, At: "2026-11-24T07:30:00Z"}))
	assert.Contains(t, s.get(path).Body.String(), "7 of 20 lines")
	_ = runner(t, s.store) // the program starts again
	page := s.get(path).Body.String()
	assert.Contains(t, page, "the program was stopped meanwhile")
	assert.Contains(t, page, "Take all 20 in", "and can be taken in all the same")
	assert.Contains(t, s.get(path+"/progress").Body.String(), "the program was stopped meanwhile")
	before := s.readings()
	require.Equal(t, http.StatusSeeOther, s.post(path, filled(page[strings.Index(page, `id="lab-form"`):])).Code)
	assert.Equal(t, http.StatusSeeOther, s.settled(path).Code)
	assert.Equal(t, before+20, s.readings())
}

// A tour takes the figures of many beds in at once, or none of them; several figures of a bed are one reading.
func TestATourIsTakenInAtOnce(t *testing.T) {
	s := newSite(t, true)
	a, b := s.bed("New ground").Bed.ID, s.bed("Seedling bench").Bed.ID
	before := s.readings()
	form := url.Values{"method": {"meter-stale"}, "date": {s.today.String()}, fmt.Sprint("bed-", a): {"5.6 5,8"},
		fmt.Sprint("bed-", b): {"62"}, "key": {"tour"}}
	w := s.post("/bench/tour", form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), `value="5.6 5,8"`, "nothing typed is lost")
	assert.Equal(t, before, s.readings())
	form.Set(fmt.Sprint("bed-", b), "6.2")
	require.Equal(t, http.StatusSeeOther, s.post("/bench/tour", form).Code)
	assert.Equal(t, before+2, s.readings())
	r := s.record(a).Readings[0]
	assert.InDelta(t, 5.7, float64(*r.PH), 1e-9)
	assert.Equal(t, 2, r.Cores)
	assert.Equal(t, soil.MeterStale, r.Method)
	assert.Contains(t, r.Note, "5.6 5.8")
	form = url.Values{"method": {"lab"}, "date": {s.today.String()}, "key": {"none"}}
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/bench/tour", form).Code)
}
