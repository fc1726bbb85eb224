package webtest

import (
	"net/http/httptest"
	"regexp"
	"strings"

	"golang.org/x/net/html"
)

// bare matches attributes without a value.
var bare = regexp.MustCompile(` (checked|selected|disabled|hidden|open|novalidate|download)=""`)

// edges matches spaces at the edge of an element on its own line.
var edges = regexp.MustCompile(` *(</?(?:p|div|section|h\d|li|ul|ol|td|th|tr|form|label|legend|summary|` +
	`button|select|option|title|dt|dd|main)\b[^>]*>) *`)

// compact removes white space between tags and collapses it between words: templates are indented
// for readers, and browsers ignore it.
func compact(page string) string {
	var out strings.Builder
	z := html.NewTokenizer(strings.NewReader(page))
	for typed := false; z.Next() != html.ErrorToken; {
		x := z.Token()
		switch {
		case x.Type == html.TextToken && typed:
			out.WriteString(html.EscapeString(x.Data))
		case x.Type == html.TextToken:
			if words := strings.Join(strings.Fields(x.Data), " "); words != "" {
				before, after := "", ""
				if trimmed := strings.TrimLeft(x.Data, " \n"); trimmed != x.Data {
					before = " "
				}
				if trimmed := strings.TrimRight(x.Data, " \n"); trimmed != x.Data {
					after = " "
				}
				out.WriteString(before + html.EscapeString(words) + after)
			}
		default:
			out.WriteString(bare.ReplaceAllString(x.String(), " $1"))
			typed = x.Data == "textarea" && x.Type == html.StartTagToken
		}
	}
	return edges.ReplaceAllString(out.String(), "$1")
}

// compacted normalises an answer's white space.
func compacted(w *httptest.ResponseRecorder) *httptest.ResponseRecorder {
	if strings.HasPrefix(w.Header().Get("Content-Type"), "text/html") {
		page := compact(w.Body.String())
		w.Body.Reset()
		w.Body.WriteString(page)
	}
	return w
}
