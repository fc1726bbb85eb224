package site

import (
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"
)

// OwnPath returns the page's address without the message in it.
func OwnPath(c *gin.Context) string {
	u := *c.Request.URL
	q := u.Query()
	q.Del("said")
	u.RawQuery = q.Encode()
	return u.RequestURI()
}

// Within returns the address that a post redirects to if it is one of this site's pages, else the ground plan's.
func Within(to string) string {
	u, err := url.Parse(to)
	switch {
	case err != nil, u.Scheme != "", u.Host != "", u.Opaque != "":
		return "/"
	case !strings.HasPrefix(to, "/"), strings.HasPrefix(to, "//"), strings.ContainsRune(to, '\\'):
		return "/"
	case strings.ContainsFunc(to, func(r rune) bool { return r <= ' ' || r == 0x7f }):
		return "/"
	}
	return to
}

// HeadAsGet answers HEAD requests as GET; net/http leaves the body out.
func HeadAsGet(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			asked := r.Clone(r.Context())
			asked.Method = http.MethodGet
			r = asked
		}
		next.ServeHTTP(w, r)
	})
}
