package main

import (
	"context"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOwnGardenPath(t *testing.T) {
	for _, x := range []struct {
		system string
		env    map[string]string
		file   string
	}{
		{"linux", map[string]string{"HOME": "/home/g"}, "/home/g/.local/share/zephyrfield/garden.db"},
		{"linux", map[string]string{"HOME": "/home/g", "XDG_DATA_HOME": "/data"}, "/data/zephyrfield/garden.db"},
		{"linux", map[string]string{"HOME": "/home/g", "XDG_DATA_HOME": "not/absolute"}, "/home/g/.local/share/zephyrfield/garden.db"},
		{"darwin", map[string]string{"HOME": "/Users/g"}, "/Users/g/Library/Application Support/Zephyr Field/garden.db"},
		{"linux", nil, ""}, {"windows", nil, ""},
	} {
		file, err := ownGarden(x.system, func(name string) string { return x.env[name] })
		assert.Equal(t, x.file, file)
		assert.Equal(t, x.file == "", err != nil, "%s %v", x.system, x.env)
	}
}

func TestRunningServerIsShown(t *testing.T) {
	page := "<title>3 beds sour · Zephyr Field</title>"
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte(page)) }))
	defer srv.Close()
	assert.True(t, running(context.Background(), srv.URL))
	page = "<title>Something else</title>"
	assert.False(t, running(context.Background(), srv.URL))
	srv.Close()
	assert.False(t, running(context.Background(), srv.URL))
}

func TestDefaultCommandOpensOwnGarden(t *testing.T) {
	c := root()
	require.NotNil(t, c.RunE)
	require.NotEmpty(t, c.Version)
	c.SetArgs([]string{"--no-such"})
	assert.Error(t, c.Execute())
}
