package server_test

import (
	"context"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

// smallBuffers serves with so little room in its connections that an answer waits for its reader.
func smallBuffers(t *testing.T, s *webtest.Client) *httptest.Server {
	t.Helper()
	srv := httptest.NewUnstartedServer(s.Handler)
	srv.Config.ConnContext = func(ctx context.Context, c net.Conn) context.Context {
		_ = c.(*net.TCPConn).SetWriteBuffer(4 << 10)
		return ctx
	}
	srv.Start()
	t.Cleanup(srv.Close)
	return srv
}

// slowly asks for an address and reads only so many bytes of the answer.
func slowly(t *testing.T, addr, path string, bytes int) net.Conn {
	t.Helper()
	var d net.Dialer
	c, err := d.Dial("tcp", addr)
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Close() })
	require.NoError(t, c.(*net.TCPConn).SetReadBuffer(4<<10))
	_, err = fmt.Fprintf(c, "GET %s HTTP/1.1\r\nHost: localhost\r\n\r\n", path)
	require.NoError(t, err)
	_, err = io.ReadFull(c, make([]byte, bytes))
	require.NoError(t, err)
	return c
}

// Readers that do not read their files and pictures hold no view of the garden: pages and posts go on.
func TestSlowReadersHoldNothing(t *testing.T) {
	s := webtest.New(t, true)
	srv := smallBuffers(t, s)
	addr := srv.Listener.Addr().String()
	for range 6 {
		for _, path := range []string{"/export/garden.json", "/export/readings.csv", "/export/season.xlsx", "/", "/log"} {
			slowly(t, addr, path, 100)
		}
	}
	client := &http.Client{Timeout: 10 * time.Second}
	for _, path := range []string{"/", "/keep", "/export/garden.json", "/shed/share"} {
		r, err := http.NewRequest(http.MethodGet, srv.URL+path, nil)
		require.NoError(t, err)
		r.Host = "localhost"
		w, err := client.Do(r)
		require.NoError(t, err, path)
		_, err = io.Copy(io.Discard, w.Body)
		require.NoError(t, err, path)
		require.NoError(t, w.Body.Close())
		assert.Equal(t, http.StatusOK, w.StatusCode, path)
	}
	require.Equal(t, http.StatusSeeOther, s.Post("/diary/address", nil).Code, "writers go on")
}

// A request whose client has left stops, and is logged as no fault.
func TestLeftRequestsAreNoFault(t *testing.T) {
	s := webtest.New(t, true)
	gone, leave := context.WithCancel(t.Context())
	leave()
	r := httptest.NewRequest(http.MethodGet, "http://localhost/shed/share", nil).WithContext(gone)
	w := s.Do(r)
	assert.NotEqual(t, http.StatusOK, w.Code)
	assert.Less(t, w.Code, 500, "nobody reads it; it is no fault")
	assert.Equal(t, http.StatusOK, s.Get("/shed/share").Code)
}
