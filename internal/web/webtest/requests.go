package webtest

import (
	"bytes"
	"context"
	"fmt"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/material"
	"zephyrfield/internal/dosing"
)

// Do sends a request and returns its answer with normalised white space.
func (c *Client) Do(r *http.Request) *httptest.ResponseRecorder {
	for _, cookie := range c.Jar {
		r.AddCookie(cookie)
	}
	w := httptest.NewRecorder()
	c.Handler.ServeHTTP(w, r)
	return compacted(w)
}

// Get asks for a path.
func (c *Client) Get(path string) *httptest.ResponseRecorder {
	return c.Do(httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil))
}

// Post posts a form.
func (c *Client) Post(path string, form url.Values) *httptest.ResponseRecorder {
	r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return c.Do(r)
}

// NewPost returns a request that posts a form.
func NewPost(path string, form url.Values) *http.Request {
	r, err := http.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form.Encode()))
	if err != nil {
		panic(err)
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	return r
}

// Queued posts a form as the offline queue does.
func (c *Client) Queued(path string, form url.Values) *httptest.ResponseRecorder {
	c.T.Helper()
	r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("X-Queued", "1")
	return c.Do(r)
}

// Upload posts a file.
func (c *Client) Upload(path, field, name string, data []byte) *httptest.ResponseRecorder {
	c.T.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	part, err := w.CreateFormFile(field, name)
	require.NoError(c.T, err)
	_, err = part.Write(data)
	require.NoError(c.T, err)
	require.NoError(c.T, w.Close())
	r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, &body)
	r.Header.Set("Content-Type", w.FormDataContentType())
	return c.Do(r)
}

// SignIn returns a new signed-in client with a user agent.
func (c *Client) SignIn(agent string) *Client {
	c.T.Helper()
	r := httptest.NewRequest(http.MethodPost, "http://localhost/sign-in",
		strings.NewReader(url.Values{"passphrase": {Passphrase}}.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("User-Agent", agent)
	w := httptest.NewRecorder()
	c.Handler.ServeHTTP(w, r)
	require.Equal(c.T, http.StatusSeeOther, w.Code)
	in := *c
	in.Jar = w.Result().Cookies()
	return &in
}

// Page gets a page, which must succeed, and parses it.
func (c *Client) Page(path string) *html.Node {
	c.T.Helper()
	w := c.Get(path)
	require.Equal(c.T, http.StatusOK, w.Code)
	n, err := html.Parse(w.Body)
	require.NoError(c.T, err)
	return n
}

// Saved requires that a post was answered with a redirect.
func (c *Client) Saved(w interface{ Result() *http.Response }) {
	c.T.Helper()
	require.Equal(c.T, http.StatusSeeOther, w.Result().StatusCode)
}

// Settled waits for the end of a lab file's import, and returns the last answer of its progress
// page.
func (c *Client) Settled(path string) *httptest.ResponseRecorder {
	c.T.Helper()
	for range 2000 {
		w := c.Get(path + "/progress")
		if w.Code == http.StatusSeeOther || strings.Contains(w.Body.String(), "Nothing was imported") {
			return w
		}
		time.Sleep(5 * time.Millisecond)
	}
	require.Fail(c.T, "it did not end")
	return nil
}

// PlaceForm returns the current form of the place with changes as pairs of name and value.
func (c *Client) PlaceForm(change ...string) url.Values {
	g, err := c.App.Place(context.Background())
	require.NoError(c.T, err)
	f := url.Values{"name": {g.Name}, "climate": {g.Climate}, "hemisphere": {g.Hemisphere}, "table": {string(g.SoilTable)},
		"buffering": {g.Buffering},
		"ash":       {g.AshApproach}, "act": {g.Trigger}, "version": {strconv.FormatInt(g.Version, 10)}}
	for i := 0; i+1 < len(change); i += 2 {
		f.Set(change[i], change[i+1])
	}
	return f
}

// PlanForm returns the form that plans the first option of a bed's dose, with changes as pairs of
// name and value.
func (c *Client) PlanForm(bed int64, change ...string) url.Values {
	w, err := c.App.Dosing.Dose(context.Background(), bed, dosing.Choice{}, c.Today)
	require.NoError(c.T, err)
	f := url.Values{"key": {"key-" + strconv.FormatInt(bed, 10)}, "target": {"6.4"}, "use": {w.Key(w.Answer.Options[0])}}
	for i := 0; i+1 < len(change); i += 2 {
		f.Set(change[i], change[i+1])
	}
	return f
}

// AshForm returns the form of a bin of ash, with changes as pairs of name and value.
func AshForm(name, source string, more ...string) url.Values {
	f := url.Values{"name": {name}, "kind": {string(material.UnknownAsh)}, "fire": {"stove"}, "source": {source}, "on_hand": {"8"},
		"scoop": {"90"}, "scoop_name": {"cup"}, "key": {"ash " + name}}
	for i := 0; i < len(more); i += 2 {
		f.Set(more[i], more[i+1])
	}
	return f
}

// LabFile returns a lab's CSV of n lines, of three beds of the demo.
func LabFile(n int) []byte {
	var b bytes.Buffer
	b.WriteString("Bed,Date,pH,K ppm\n")
	for i := range n {
		fmt.Fprintf(&b, "%s ledge,20%02d-%02d-%02d,%.2f,%d\n", []string{"Upper", "Middle", "Lower"}[i%3], 10+i%16, 1+i%12, 1+i%28,
			5.5+float64(i%20)/20, 90+i%80)
	}
	return b.Bytes()
}
