package server_test

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/webtest"
)

// routesOf returns the interface's addresses of a method, without those that change the clock or
// hold a stream.
func routesOf(method string) (out []string) {
	for _, r := range server.Routes() {
		if path, ok := strings.CutPrefix(r, method+" "); ok && !strings.Contains(path, "static") && path != "/demo/day" {
			out = append(out, path)
		}
	}
	return out
}

// at fills an address's :id in.
func at(route string, id uint16) string {
	return strings.NewReplacer(":id", webtest.ID(int64(id%40)), ":hash", "x", "*file", "x").Replace(route)
}

// FuzzQuery asks every page with any query: none may fail, whatever is asked.
func FuzzQuery(f *testing.F) {
	routes := routesOf(http.MethodGet)
	for i := range routes {
		for _, q := range []string{"", "on=2027-03-01&bed=3&look=k&sort=ph", "corners=1e308+1%0A2+2&shape=outline&rings=2e9&w=4&h=1",
			"asked=1&bed=1&corer=0.01&wanted=5000&letter-1=ZZ",
			"target=NaN&depth=1e308&use=b1&half=yes&reading=99", "method=jars&jar1_lime=0&jar1_ph=1e9&places=1+2+3&tries=6+6+6",
			"said=9223372036854775807&before=-1&q=%00%ff", "bottle=NaN&n=-5&shown=1e308",
			"fix.2.b1=1e308&fix.3.b4=0.2&out=5&goal=foot&buffering=organic-matter&what=b1&with=b1&chosen=1&bed=2&ash_of=b1&ash_on=1e308"} {
			f.Add(uint16(i), uint16(3), q)
		}
	}
	s := webtest.New(f, true)
	f.Fuzz(func(t *testing.T, route, id uint16, query string) {
		path := at(routes[int(route)%len(routes)], id)
		r := httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil)
		r.URL.RawQuery = query
		w := httptest.NewRecorder()
		s.Handler.ServeHTTP(w, r)
		if w.Code >= 500 && path != "/bench/probe" {
			t.Fatalf("%d from %s?%s", w.Code, path, query)
		}
		if w.Body.Len() > 8<<20 {
			t.Fatalf("%d bytes from %s?%s", w.Body.Len(), path, query)
		}
	})
}

// FuzzForm posts any form to every route that changes something, then opens the
// pages: what was taken in may break none.
func FuzzForm(f *testing.F) {
	routes := routesOf(http.MethodPost)
	forms := webtest.New(f, true)
	for i, route := range routes {
		if make := changes["POST "+route]; make != nil {
			_, form := make(forms)
			f.Add(uint16(i), uint16(2), form.Encode())
			form.Set("note", strings.Repeat("x", 5000))
			form.Set("w", "1e308")
			form.Set("version", "-1")
			f.Add(uint16(i), uint16(5), form.Encode())
		}
		f.Add(uint16(i), uint16(1), "version=1&name=%00&key=&back=%5C%5Cevil&amount=1e308&on=0001-01-01&day=9999-12-31")
		f.Add(uint16(i), uint16(0xffff), "%zz=%&;;&=&&ph=Inf")
	}
	pages := []string{"/", "/sheet", "/walk", "/bench", "/keep", "/export/garden.json"}
	s, n := webtest.New(f, true), 0
	f.Fuzz(func(t *testing.T, route, id uint16, form string) {
		path := at(routes[int(route)%len(routes)], id)
		r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		w := httptest.NewRecorder()
		s.Handler.ServeHTTP(w, r)
		if w.Code >= 500 {
			t.Fatalf("%d from %s with %s: %s", w.Code, path, form, w.Body.String())
		}
		if to := w.Header().Get("Location"); to != "" && !strings.HasPrefix(to, "/") {
			t.Fatalf("%s leads to %s", path, to)
		}
		if n++; w.Code == http.StatusSeeOther || n%50 == 0 {
			page := pages[n%len(pages)]
			if got := s.Get(page); got.Code != http.StatusOK {
				t.Fatalf("%d from %s after %s with %s", got.Code, page, path, form)
			}
		}
	})
}
