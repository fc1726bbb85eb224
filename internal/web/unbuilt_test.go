package web_test

import (
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
)

// What the web library can do and the program leaves out says so, and does nothing by halves.
func TestWhatIsLeftOutSaysSo(t *testing.T) {
	w := httptest.NewRecorder()
	c, engine := gin.CreateTestContext(w)
	for name, ask := range map[string]func() error{
		"HTTP/3": func() error { return engine.RunQUIC("127.0.0.1:0", "", "") },
		"BSON":   func() error { c.BSON(200, gin.H{"a": 1}); return c.Errors.Last() },
		"YAML":   func() error { c.YAML(200, gin.H{"a": 1}); return c.Errors.Last() },
		"TOML":   func() error { c.TOML(200, gin.H{"a": 1}); return c.Errors.Last() },
		"YAML is": func() error {
			c.Request = httptest.NewRequest("POST", "/", strings.NewReader("a: 1"))
			return c.ShouldBindYAML(&gin.H{})
		},
		"TOML is": func() error {
			c.Request = httptest.NewRequest("POST", "/", strings.NewReader("a=1"))
			return c.ShouldBindTOML(&gin.H{})
		},
	} {
		err := ask()
		assert.ErrorContains(t, err, "not built in", name)
		assert.ErrorContains(t, err, name)
	}
	assert.Empty(t, w.Body.String())
}
