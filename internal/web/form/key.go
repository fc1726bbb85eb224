package form

import (
	"crypto/rand"
	"encoding/base64"
)

// NewKey makes a key that no other post has: the post that bears it lands once.
func NewKey() string { return Secret() }

// Secret returns a name that nothing else has.
func Secret() string {
	var b [16]byte
	_, _ = rand.Read(b[:]) // never fails
	return base64.RawURLEncoding.EncodeToString(b[:])
}
