package ui

import (
	"bytes"
	"crypto/rand"
	"encoding/base64"
	"strconv"
	"sync/atomic"
)

// Secret is a name that nothing else has.
func Secret() string {
	var b [16]byte
	_, _ = rand.Read(b[:]) // never fails
	return base64.RawURLEncoding.EncodeToString(b[:])
}

// keyMark stands in a page where its forms have their keys, until it is sent: what is
// laid out once can then be sent many times, each time with keys of its own. It begins with
// a letter that pages hardly have, so that it is soon found in one.
var (
	keyMark  = "~" + Secret()
	keysMade atomic.Uint64
)

// NewKey makes a key that no other post has, once its page is sent.
func NewKey() string { return keyMark + strconv.FormatUint(keysMade.Add(1), 36) }

// Keyed gives a page that is sent its keys.
func Keyed(page []byte) []byte {
	return bytes.ReplaceAll(page, []byte(keyMark), []byte(Secret()))
}
