package form

import (
	"crypto/rand"
	"encoding/base64"
)

// NewKey returns a unique idempotency key for a form.
func NewKey() string { return Secret() }

// Secret returns a random secret.
func Secret() string {
	var b [16]byte
	_, _ = rand.Read(b[:]) // never fails
	return base64.RawURLEncoding.EncodeToString(b[:])
}
