package server_test

import (
	"context"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/web/webtest"
)

// usualRequests is how many requests the crowd makes with the unit tests; REQUESTS says another number.
const usualRequests = 150

// TestCrowd has three people at two phones and a desk work in one garden at random, on all routes: they follow links,
// open any address with any query, send the forms of pages as they are and with nonsense in them, upload files, take back
// and restore. Nothing may fail.
func TestCrowd(t *testing.T) {
	requests := usualRequests
	if n, err := strconv.Atoi(os.Getenv("REQUESTS")); err == nil {
		requests = n
	}
	s := webtest.Gated(t)
	_, err := s.Store.DailyCopy(context.Background(), quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	var wait sync.WaitGroup
	people := []*person{}
	for i, agent := range []string{"A phone (Mobile)", "Another phone (Mobile)", "A desk"} {
		p := &person{t: t, c: s.SignIn(agent), rng: rand.New(rand.NewPCG(36, uint64(i))), codes: map[int]int{}, seen: map[string]bool{}}
		people = append(people, p)
		wait.Go(func() {
			for range requests / 3 {
				if t.Failed() {
					return
				}
				p.step()
			}
		})
	}
	wait.Wait()
	codes, seen := map[int]int{}, map[string]bool{}
	for _, p := range people {
		for c, n := range p.codes {
			codes[c] += n
		}
		for r := range p.seen {
			seen[r] = true
		}
	}
	t.Logf("%d requests over %d addresses: %v", requests, len(seen), codes)
	assert.Equal(t, http.StatusOK, people[2].c.Get("/").Code)
	if requests >= 10_000 {
		for _, method := range []string{http.MethodGet, http.MethodPost} {
			for _, route := range crowdRoutes(method) {
				assert.True(t, seen[method+" "+route], "%s %s was asked", method, route)
			}
		}
	}
}

// crowdRoutes are the routes that do not end the sessions of the crowd.
func crowdRoutes(method string) []string {
	return slices.DeleteFunc(routesOf(method), func(r string) bool {
		return strings.HasPrefix(r, "/sign") || strings.HasPrefix(r, "/sessions") || r == "/passphrase"
	})
}

// person is one of the crowd, with the page that is open.
type person struct {
	t     *testing.T
	c     *webtest.Client
	rng   *rand.Rand
	page  *html.Node
	codes map[int]int
	seen  map[string]bool
}

// nonsense is what is typed where it does not belong.
var nonsense = []string{"", "0", "-1", "1e308", "NaN", "6,2", "2026-11-24", "0001-01-01", "9999-12-31", "yes", "b1", "=1+1", "\x00",
	"\u202e", "x’x", "1 2\n3 4", strings.Repeat("9", 400)}

func (p *person) step() {
	switch p.rng.IntN(6) {
	case 0:
		p.anywhere(http.MethodGet)
	case 1:
		p.anywhere(http.MethodPost)
	case 2, 3:
		p.send()
	case 4:
		p.upload()
	default:
		p.follow()
	}
}

// anywhere asks any route with any fields.
func (p *person) anywhere(method string) {
	routes := crowdRoutes(method)
	route := routes[p.rng.IntN(len(routes))]
	q := url.Values{}
	for range p.rng.IntN(6) {
		q.Set(fieldNames[p.rng.IntN(len(fieldNames))], nonsense[p.rng.IntN(len(nonsense))])
	}
	p.ask(method, route, at(route, uint16(p.rng.IntN(40))), q)
}

var fieldNames = strings.Fields("on bed day days months what with ph name note amount w h x y kind version key back said before q shown " +
	"crop date method season goal out copy field target use half kg moved date-2 corners shape rings feel reading tick stop core")

// follow opens a link of the page.
func (p *person) follow() {
	var links []string
	if p.page != nil {
		for _, a := range webtest.Elements(p.page, "a") {
			if to, ok := webtest.Attr(a.Node, "href"); ok && strings.HasPrefix(to, "/") && !strings.HasPrefix(to, "/static") {
				links = append(links, to)
			}
		}
	}
	if len(links) == 0 {
		links = []string{"/"}
	}
	to, err := url.Parse(links[p.rng.IntN(len(links))])
	require.NoError(p.t, err)
	p.ask(http.MethodGet, "", to.Path, to.Query())
}

// send sends a form of the page, sometimes with nonsense in a field.
func (p *person) send() {
	if p.page == nil {
		p.follow()
		return
	}
	forms := webtest.Elements(p.page, "form")
	if len(forms) == 0 {
		p.page = nil
		return
	}
	f := forms[p.rng.IntN(len(forms))].Node
	to, _ := webtest.Attr(f, "action")
	if strings.HasPrefix(to, "/sign") || strings.HasPrefix(to, "/sessions") || to == "/passphrase" || to == "/demo/day" {
		return
	}
	fields := webtest.Fields(f)
	for name := range fields {
		if p.rng.IntN(12) == 0 {
			fields.Set(name, nonsense[p.rng.IntN(len(nonsense))])
		}
	}
	method := http.MethodGet
	if m, _ := webtest.Attr(f, "method"); m == "post" {
		method = http.MethodPost
	}
	u, err := url.Parse(to)
	require.NoError(p.t, err)
	if u.Path == "" {
		u.Path = "/"
	}
	p.ask(method, "", u.Path, fields)
}

// upload sends a file to one of the routes that take one.
func (p *person) upload() {
	to := [][2]string{{"/bench/lab", "file"}, {"/log/csv", "file"}, {"/shed/csv", "file"}, {"/beds/table", "file"},
		{"/warmth/take", "file"}, {"/import", "archive"}, {"/import/plan", "plan"}, {"/beds/2/seen", "photo"}}[p.rng.IntN(8)]
	data := [][]byte{webtest.LabFile(3), []byte("name,length_m,width_m\nStrip,4,1\n"), []byte("date,soil_c\n2026-11-20,7\n"),
		[]byte("{}"), nil, []byte("\xff\xd8\xff"), []byte("PK\x03\x04")}[p.rng.IntN(7)]
	w := p.c.Upload(to[0], to[1], "file.csv", data)
	p.codes[w.Code]++
	assert.Less(p.t, w.Code, 500, "%s with %.40q: %.200s", to[0], data, w.Body)
}

// ask makes a request as a browser does and keeps the page.
func (p *person) ask(method, route, path string, q url.Values) {
	r := httptest.NewRequest(method, "http://localhost/", nil)
	if method == http.MethodPost {
		r = webtest.NewPost("/", q)
	} else {
		r.URL.RawQuery = q.Encode()
	}
	r.URL.Path = path
	for _, c := range p.c.Jar {
		r.AddCookie(c)
	}
	w := httptest.NewRecorder()
	p.c.Handler.ServeHTTP(w, r)
	p.codes[w.Code]++
	if route != "" {
		p.seen[method+" "+route] = true
	}
	if w.Code >= 500 && path != "/bench/probe" {
		assert.Failf(p.t, "it failed", "%d from %s %s?%s: %.300s", w.Code, method, path, q.Encode(), w.Body)
	}
	if w.Code == http.StatusOK && strings.HasPrefix(w.Header().Get("Content-Type"), "text/html") {
		p.page = webtest.Parsed(w.Body.String())
	}
}
