package lab_test

import (
	"bytes"
	"context"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/job"
	"zephyrfield/internal/web/webtest"
)

func TestDemoReportAsXLSX(t *testing.T) {
	s := webtest.New(t, true)
	report, err := os.ReadFile("../../static/lab-report.csv")
	require.NoError(t, err)
	book := s.Get("/demo/lab-report.xlsx").Body.Bytes()
	rows := func(name string, data []byte) []string {
		w := s.Upload("/bench/lab", "file", name, data)
		require.Equal(t, http.StatusSeeOther, w.Code)
		page := s.Page(w.Header().Get("Location"))
		assert.Contains(t, webtest.Wording(page), "Import all 4")
		return webtest.Rows(webtest.ByID(t, page, "lab-rows"))
	}
	trailing := regexp.MustCompile(`\.0\b`)
	want := rows("report.csv", report)
	for i := range want {
		want[i] = trailing.ReplaceAllString(want[i], "")
	}
	assert.Equal(t, want, rows("report.xlsx", book), "a workbook keeps figures, not their zeros")
}

func TestImportIsAtomic(t *testing.T) {
	s := webtest.New(t, true)
	report, err := os.ReadFile("../../static/lab-report.csv")
	require.NoError(t, err)
	before := s.Readings()
	w := s.Upload("/bench/lab", "file", "report.csv", report)
	require.Equal(t, http.StatusSeeOther, w.Code)
	path := w.Header().Get("Location")
	page := s.Get(path).Body.String()
	assert.Contains(t, page, "4 readings in report.csv")
	assert.Contains(t, page, "Import all 4")
	assert.Equal(t, before, s.Readings(), "nothing is kept by looking")
	form := webtest.Filled(page[strings.Index(page, `id="lab-form"`):])
	assert.Equal(t, "buffer_ph", form.Get("c3"))
	require.Equal(t, http.StatusSeeOther, s.Post(path, form).Code)
	s.Post(path, form) // a double post
	end := s.Settled(path)
	assert.Equal(t, before+4, s.Readings())
	assert.Contains(t, s.Get("/beds/9/dose?buffering=smp").Body.String(), "SMP buffer 6.30")
	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(end.Header().Get("Location"))
	require.NotNil(t, said)
	assert.Contains(t, s.Get("/bench?said="+said[1]).Body.String(), "Imported report.csv: 4 readings.")
	s.Saved(s.Post("/undo/"+said[1], url.Values{"back": {"/bench"}}))
	assert.Equal(t, before, s.Readings(), "taken back in one step")

	// The next file of this lab is read as the last one was.
	form.Set("u4", "lb-acre")
	form.Set("key", "second")
	again := s.Upload("/bench/lab", "file", "next.csv", report).Header().Get("Location")
	require.Equal(t, http.StatusSeeOther, s.Post(again, form).Code)
	s.Settled(again)
	third := s.Upload("/bench/lab", "file", "third.csv", report).Header().Get("Location")
	page = s.Get(third).Body.String()
	assert.Contains(t, page, "4 readings are in the garden already")
	assert.Contains(t, page, "matched as last time")
	assert.Equal(t, "lb-acre", webtest.Filled(page).Get("u4"))

	// One bad line: nothing is taken in, and its cell is shown.
	bad := s.Upload("/bench/lab", "file", "bad.csv", bytes.Replace(report, []byte("5.4"), []byte("54"), 1)).Header().Get("Location")
	page = s.Get(bad).Body.String()
	assert.Contains(t, page, "1 thing to correct in bad.csv")
	assert.Contains(t, page, "Line 4, pH (water): a pH from 3 to 10 is needed.")
	assert.NotContains(t, page, "Take all")
	count := s.Readings()
	w = s.Post(bad, form)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "a forged post")
	assert.Equal(t, count, s.Readings())

	refused := s.Upload("/bench/lab", "file", "huge.csv", make([]byte, 50<<20))
	assert.Equal(t, http.StatusRequestEntityTooLarge, refused.Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Upload("/bench/lab", "file", "x.csv", []byte("Bed,pH")).Code)
	assert.Equal(t, http.StatusNotFound, s.Get("/bench/lab/999").Code)
	assert.Equal(t, "PK", s.Get("/export/readings.xlsx").Body.String()[:2])
}

func TestImportShowsProgress(t *testing.T) {
	s := webtest.New(t, true)
	before := s.Readings()
	path := s.Upload("/bench/lab", "file", "long.csv", webtest.LabFile(800)).Header().Get("Location")
	page := s.Get(path).Body.String()
	assert.Contains(t, page, "Import all 800")
	assert.Contains(t, page, "and 788 more")
	require.Equal(t, http.StatusSeeOther, s.Post(path, webtest.Filled(page[strings.Index(page, `id="lab-form"`):])).Code)
	first := s.Get(path + "/progress")
	if first.Code == http.StatusOK {
		assert.Regexp(t, `\d+ of 800 lines`, first.Body.String())
	}
	s.Settled(path)
	assert.Equal(t, before+800, s.Readings())
}

func TestInterruptedImportIsReported(t *testing.T) {
	s := webtest.New(t, true)
	path := s.Upload("/bench/lab", "file", "long.csv", webtest.LabFile(20)).Header().Get("Location")
	name := "lab " + path[strings.LastIndex(path, "/")+1:]
	require.NoError(t, s.Store.KeepJob(context.Background(),
		job.Status{Name: name, State: job.Running, Of: 20, Step: 7, At: "2026-11-24T07:30:00Z"}))
	assert.Contains(t, s.Get(path).Body.String(), "7 of 20 lines")
	_ = webtest.Runner(t, s.Store) // the program starts again
	page := s.Get(path).Body.String()
	assert.Contains(t, page, "the program was stopped")
	assert.Contains(t, page, "Import all 20", "and can be taken in all the same")
	assert.Contains(t, s.Get(path+"/progress").Body.String(), "the program was stopped")
	before := s.Readings()
	require.Equal(t, http.StatusSeeOther, s.Post(path, webtest.Filled(page[strings.Index(page, `id="lab-form"`):])).Code)
	assert.Equal(t, http.StatusSeeOther, s.Settled(path).Code)
	assert.Equal(t, before+20, s.Readings())
}

// The column of the beds is found by what it holds. All that is wrong is told at once, each at its cell, and corrected
// there: a bed is chosen, a figure typed, a cell cleared; what was corrected stays so while the page is read again.
func TestLabFileIsCorrectedOnThePage(t *testing.T) {
	s := webtest.New(t, true)
	before := s.Readings()
	file := "Code,Taken,pH,K\nUpper ledge,2026-11-20,6.4,<5.0\nMidle ledge,2026-13-40,64,n/d\n"
	path := s.Upload("/bench/lab", "file", "report.csv", []byte(file)).Header().Get("Location")
	form := webtest.Filled(s.Get(path + "?asked=1&c0=bed&c1=date&c2=ph&c3=k&u3=ppm&basis=water").Body.String())
	assert.Equal(t, "bed", webtest.Filled(s.Get(path).Body.String()).Get("c0"), "by its cells")
	form.Set("c1", "date")
	form.Set("extractant", "mehlich-3")
	look := func() string { return s.Get(path + "?" + form.Encode()).Body.String() }
	page := look()
	for _, says := range []string{"Line 2, K: “&lt;5.0” is not a number", "Line 3, Code: no bed is called “Midle ledge”: choose it",
		"Line 3, K: “n/d” is not a number", "Line 3, Taken: "} {
		assert.Contains(t, page, says)
	}
	form = webtest.Filled(page)
	form.Set("e2-4", "")
	form.Set("e3-1", "Middle ledge")
	form.Set("e3-2", "2026-11-20")
	form.Set("e3-4", "90")
	page = look()
	assert.Contains(t, page, "1 thing to correct")
	assert.Contains(t, page, "a pH from 3 to 10 is needed")
	form = webtest.Filled(page)
	assert.Equal(t, "Middle ledge", form.Get("e3-1"), "what was corrected is still a field")
	form.Set("e3-3", "5.8")
	require.Equal(t, http.StatusSeeOther, s.Post(path, form).Code)
	s.Settled(path)
	assert.Equal(t, before+2, s.Readings())
	last := s.Bed("Middle ledge").Reading
	assert.InDelta(t, 5.8, float64(*last.PH), 1e-9)
	assert.InDelta(t, 90, float64(*last.Potassium), 1e-9)
	assert.Nil(t, s.Bed("Upper ledge").Reading.Potassium, "the cleared cell is left out")
}

// A line far down stays in the form once it is corrected, so that its correction is still there when all is right.
func TestCorrectionsFarDownAreKept(t *testing.T) {
	s := webtest.New(t, true)
	lines := []string{"Bed,Sampled,pH"}
	for i := range 30 {
		ph := "6.1"
		if i == 17 || i == 25 {
			ph = "sour"
		}
		lines = append(lines, "Lower ledge,2026-11-02,"+ph)
	}
	at := s.Upload("/bench/lab", "file", "long.csv", []byte(strings.Join(lines, "\n")+"\n")).Header().Get("Location")
	form := webtest.Filled(s.Get(at).Body.String())
	require.Contains(t, form, "e19-3")
	form.Set("e19-3", "6.2")
	form = webtest.Filled(s.Post(at, form).Body.String())
	assert.Equal(t, "6.2", form.Get("e19-3"), "the first is corrected, the second is still wrong")
	form.Set("e27-3", "6.3")
	assert.Equal(t, at+"/progress", s.Post(at, form).Header().Get("Location"))
}
