package main

import (
	"net/http"
	"net/http/httptest"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Memory is given back once after a while without requests, never under one.
func TestIdleServerReturnsMemory(t *testing.T) {
	var given atomic.Int64
	hold := make(chan struct{})
	slow := http.HandlerFunc(func(http.ResponseWriter, *http.Request) { <-hold })
	h := resting(t.Context(), slow, time.Millisecond, func() { given.Add(1) })
	require.Eventually(t, func() bool { return given.Load() == 1 }, time.Minute, time.Millisecond, "after the start")
	done := make(chan struct{})
	go func() {
		h.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest(http.MethodGet, "/", nil))
		close(done)
	}()
	time.Sleep(50 * time.Millisecond)
	assert.EqualValues(t, 1, given.Load(), "a request is under way")
	close(hold)
	<-done
	require.Eventually(t, func() bool { return given.Load() == 2 }, time.Minute, time.Millisecond)
	time.Sleep(50 * time.Millisecond)
	assert.EqualValues(t, 2, given.Load(), "once is enough")
}
