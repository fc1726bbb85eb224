// Package http3 stands in the place of a library that is left out.
package http3

import (
	"errors"
	"net/http"
)

// ErrUnbuilt is told to who asks for it all the same.
var ErrUnbuilt = errors.New("HTTP/3 is not built in")

// ListenAndServeQUIC serves nothing.
func ListenAndServeQUIC(string, string, string, http.Handler) error { return ErrUnbuilt }
