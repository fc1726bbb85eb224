package web_test

import (
	"bytes"
	"context"
	"html/template"
	"net/http"
	"net/http/httptest"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite" // the driver that a bare page would use

	"zephyrfield/internal/garden"
)

// barePage is the least that a page can be: Gin, one query and one template of 13 rows.
func barePage(b *testing.B, s *site) http.Handler {
	db, err := sqlx.Open("sqlite", "file:"+s.store.Path()+"?_pragma=query_only(1)")
	require.NoError(b, err)
	b.Cleanup(func() { _ = db.Close() })
	t := template.Must(template.New("rows").Parse(`<!doctype html><title>Beds</title><table>
{{range .}}<tr><td>{{.ID}}</td><td>{{.Name}}</td><td>{{.Texture}}</td></tr>{{end}}</table>`))
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.GET("/", func(c *gin.Context) {
		var rows []struct {
			ID            int64
			Name, Texture string
		}
		if err := db.SelectContext(c.Request.Context(), &rows, "SELECT id, name, texture FROM beds ORDER BY id LIMIT 13"); err != nil {
			c.AbortWithStatus(http.StatusInternalServerError)
			return
		}
		var out bytes.Buffer
		if err := t.Execute(&out, rows); err != nil {
			c.AbortWithStatus(http.StatusInternalServerError)
			return
		}
		c.Data(http.StatusOK, "text/html; charset=utf-8", out.Bytes())
	})
	return r
}

// changed makes a small change of the garden, another each time.
func (s *site) changed(b *testing.B, turn int) {
	b.Helper()
	ctx := context.Background()
	bed, err := s.keep.Plots.Named(ctx, 13)
	require.NoError(b, err)
	bed.Note = "Seen " + strconv.Itoa(turn) + " times."
	_, err = s.keep.Ground.EditBed(ctx, garden.Act{Who: "gardener", Key: "key-" + strconv.Itoa(turn), At: time.Now(), Today: s.today}, bed)
	require.NoError(b, err)
}

// BenchmarkBeside asks a bare page and each of the program's in turn, in one run, and
// reports how many bare pages one takes: as it was laid out before, laid out anew
// (ratio-anew), and the first after a change of the garden (ratio-changed), for which what is
// reckoned of it is reckoned anew too. Pages are asked as a browser on this machine does.
func BenchmarkBeside(b *testing.B) {
	s := newSite(b, true)
	h := barePage(b, s)
	ask := func(h http.Handler, path string) time.Duration {
		r := httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil)
		r.Header.Set("Accept-Encoding", "gzip")
		r.RemoteAddr = "127.0.0.1:4000"
		w := httptest.NewRecorder()
		start := time.Now()
		h.ServeHTTP(w, r)
		if w.Code != http.StatusOK {
			b.Fatal(path, w.Code)
		}
		return time.Since(start)
	}
	pages := []string{"/", "/beds/2/dose", "/sheet", "/walk", "/walk/1", "/bench?bed=2", "/beds/2", "/place", "/crops", "/keep",
		"/marks", "/beds/2/edit"}
	turn := 0
	for _, p := range pages {
		b.Run(strings.ReplaceAll(strings.Trim(p, "/"), "/", "-"), func(b *testing.B) {
			var bare, own, anew, after time.Duration
			mark := "?"
			if strings.Contains(p, "?") {
				mark = "&"
			}
			for b.Loop() {
				bare += ask(h, "/")
				own += ask(s.h, p)
				turn++ // an address that was not asked for before
				anew += ask(s.h, p+mark+"seen="+strconv.Itoa(turn))
				s.changed(b, turn)
				after += ask(s.h, p)
			}
			b.ReportMetric(float64(bare.Microseconds())/float64(b.N), "bare-µs")
			b.ReportMetric(float64(own.Microseconds())/float64(b.N), "page-µs")
			b.ReportMetric(float64(own)/float64(bare), "ratio")
			b.ReportMetric(float64(anew)/float64(bare), "ratio-anew")
			b.ReportMetric(float64(after)/float64(bare), "ratio-changed")
			b.ReportMetric(0, "ns/op")
		})
	}
}
