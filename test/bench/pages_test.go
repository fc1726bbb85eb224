// Package bench measures pages, of the demo beside a bare page and of a large garden.
package bench_test

import (
	"bytes"
	"context"
	"fmt"
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
	"zephyrfield/internal/web/webtest"
)

// barePage returns the least that a page can be: Gin, one query and one template of 13 rows.
func barePage(b *testing.B, s *webtest.Client) http.Handler {
	db, err := sqlx.Open("sqlite", "file:"+s.Store.Path()+"?_pragma=query_only(1)")
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

// besidePages are the pages that are measured.
var besidePages = []string{"/", "/beds/2/dose", "/sheet", "/walk", "/walk/1", "/bench?bed=2", "/beds/2", "/place", "/crops", "/keep",
	"/marks", "/beds/2/edit"}

// asked returns how long an answer takes, asked as a browser on this machine does.
func asked(b *testing.B, h http.Handler, path string) time.Duration {
	r := httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil)
	r.Header.Set("Accept-Encoding", "gzip")
	r.RemoteAddr = "127.0.0.1:4000"
	w := httptest.NewRecorder()
	start := time.Now()
	h.ServeHTTP(w, r)
	took := time.Since(start)
	if w.Code != http.StatusOK {
		b.Fatal(path, w.Code)
	}
	return took
}

// beside measures each page beside a bare one, in turn and in one run; figures are the sums of
// the times that a turn adds to, by their names.
func beside(b *testing.B, turn func(s *webtest.Client, page string, n int, add func(name string, took time.Duration))) {
	s := webtest.New(b, true)
	h := barePage(b, s)
	n := 0
	for _, p := range besidePages {
		b.Run(strings.ReplaceAll(strings.Trim(p, "/"), "/", "-"), func(b *testing.B) {
			figures := map[string]time.Duration{}
			for b.Loop() {
				n++
				figures["bare"] += asked(b, h, "/")
				turn(s, p, n, func(name string, took time.Duration) { figures[name] += took })
			}
			for name, took := range figures {
				b.ReportMetric(float64(took.Microseconds())/float64(b.N), name+"-µs")
				if name != "bare" {
					b.ReportMetric(float64(took)/float64(figures["bare"]), name+"-ratio")
				}
			}
			b.ReportMetric(0, "ns/op")
		})
	}
}

// BenchmarkBeside reports how many bare pages one of the program's takes.
func BenchmarkBeside(b *testing.B) {
	beside(b, func(s *webtest.Client, p string, _ int, add func(string, time.Duration)) {
		add("page", asked(b, s.Handler, p))
	})
}

// BenchmarkAfterAChange reports the same of the first page after a change of the garden, for
// which what is computed of it is computed again too. The bare page reads what was changed first.
func BenchmarkAfterAChange(b *testing.B) {
	beside(b, func(s *webtest.Client, p string, n int, add func(string, time.Duration)) {
		ctx := context.Background()
		bed, err := s.App.BedState.Named(ctx, 13)
		require.NoError(b, err)
		bed.Note = "Seen " + strconv.Itoa(n) + " times."
		_, err = s.App.Layout.EditBed(ctx, garden.Actor{Who: "gardener", Key: "key-" + strconv.Itoa(n), At: time.Now(), Today: s.Today}, bed)
		require.NoError(b, err)
		add("changed", asked(b, s.Handler, p))
	})
}

func BenchmarkPages(b *testing.B) {
	s := webtest.New(b, true)
	for _, p := range []string{"/favicon.ico", "/", "/beds/2/dose", "/sheet", "/walk", "/walk/1", "/bench?bed=2"} {
		b.Run(strings.ReplaceAll(strings.Trim(p, "/"), "/", "-"), func(b *testing.B) {
			for b.Loop() {
				if w := s.Get(p); w.Code != http.StatusOK {
					b.Fatal(w.Code)
				}
			}
		})
	}
	// None of these is kept: each asks for another target, as when one is typed.
	b.Run("dose-typed", func(b *testing.B) {
		for n := 0; b.Loop(); n++ {
			if w := s.Get(fmt.Sprintf("/beds/2/dose?target=6.%06d", n%500_000)); w.Code != http.StatusOK {
				b.Fatal(w.Code)
			}
		}
	})
}

// BenchmarkLabFile takes 5,000 lines in: looked into, matched, and kept.
func BenchmarkLabFile(b *testing.B) {
	rows := webtest.LabFile(5000)
	for b.Loop() {
		b.StopTimer()
		s := webtest.New(b, true)
		b.StartTimer()
		path := s.Upload("/bench/lab", "file", "long.csv", rows).Header().Get("Location")
		page := s.Get(path).Body.String()
		s.Post(path, webtest.Filled(page[strings.Index(page, `id="lab-form"`):]))
		s.Settled(path)
	}
}
