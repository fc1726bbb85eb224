package form_test

import (
	"bytes"
	"errors"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

func typed(values ...string) form.Form {
	f := form.NoForm()
	for i := 0; i < len(values); i += 2 {
		f.Values[values[i]] = values[i+1]
	}
	return f
}

func TestNumberParsing(t *testing.T) {
	for text, want := range map[string]float64{"6.4": 6.4, "6,4": 6.4, "-2": -2, "1e3": 1000} {
		x, ok := typed("x", text).Number("x")
		assert.True(t, ok, text)
		assert.InDelta(t, want, x, 1e-12, text)
	}
	for _, text := range []string{"NaN", "six", "1e10", "-1e10", "6.4.1"} {
		f := typed("x", text)
		_, ok := f.Number("x")
		assert.False(t, ok, text)
		assert.Contains(t, f.Fault("x"), text)
	}
	f := typed("x", "")
	_, ok := f.Number("x")
	assert.False(t, ok)
	assert.Empty(t, f.Faults, "nothing typed is no fault")
	assert.Zero(t, f.Needed("x", "a figure is needed"))
	assert.Equal(t, "a figure is needed", f.Fault("x"))
}

func TestNewKeyIsUnique(t *testing.T) {
	seen := map[string]bool{}
	for range 100 {
		k := form.NewKey()
		assert.GreaterOrEqual(t, len(k), 22)
		assert.False(t, seen[k])
		seen[k] = true
	}
}

func TestAddAtMapsFaults(t *testing.T) {
	f := typed()
	f.Faults["ph"] = "is said here first"
	assert.True(t, f.Add(errors.Join(errors.New("x"), garden.Faults{"ph": "is said there", "depth": "too deep", garden.SureField: "a day"})))
	f.Sentences()
	assert.Equal(t, "Is said here first.", f.Fault("ph"))
	assert.Equal(t, "Too deep.", f.Fault("depth"))
	assert.Equal(t, "a day", f.Fault(garden.SureField), "a question is no sentence yet")
	assert.False(t, f.Add(errors.New("another thing")))
}

// asked returns a request of a form, as a browser sends it.
func asked(t *testing.T, r *http.Request) *gin.Context {
	t.Helper()
	c, _ := gin.CreateTestContext(httptest.NewRecorder())
	c.Request = r
	return c
}

func TestPosted(t *testing.T) {
	body := url.Values{"ph": {"  6,5 "}, "chips": {"5", "6"}, "note": {""}}
	plain := httptest.NewRequest(http.MethodPost, "/x?ph=4", strings.NewReader(body.Encode()))
	plain.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	var inParts bytes.Buffer
	w := multipart.NewWriter(&inParts)
	for name, all := range body {
		for _, v := range all {
			require.NoError(t, w.WriteField(name, v))
		}
	}
	require.NoError(t, w.Close())
	parts := httptest.NewRequest(http.MethodPost, "/x?ph=4", &inParts)
	parts.Header.Set("Content-Type", w.FormDataContentType())
	for _, f := range []form.Form{form.Posted(asked(t, plain)), form.Posted(asked(t, parts)),
		form.Asked(asked(t, httptest.NewRequest(http.MethodGet, "/x?"+body.Encode(), nil)))} {
		assert.Equal(t, map[string]string{"ph": "6,5", "chips": "5", "note": ""}, f.Values, "the first of each, without what lies round it")
		f.Usual("note", "as ever")
		f.Usual("depth", "15")
		assert.Equal(t, "", f.Value("note"), "what was left empty stays empty")
		assert.Equal(t, "15", f.Value("depth"), "what was not posted is as usual")
	}
}

func TestCompare(t *testing.T) {
	now, f := form.NoForm(), form.NoForm()
	now.Values = map[string]string{"depth": "12", "name": "East", "note": "wet", "version": "3"}
	f.Values = map[string]string{"depth": "8", "name": "East", "version": "2", "key": "k"}
	f.Compare(now)
	assert.Equal(t, []view.Conflict{{Name: "depth", Yours: "8", Now: "12"}}, f.Conflicts)
	assert.Equal(t, "3", f.Value("version"), "saved again, it goes in the place of what stands now")
	assert.Equal(t, "8", f.Value("depth"))
}
