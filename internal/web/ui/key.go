package ui

import (
	"bytes"
	"crypto/rand"
	"encoding/base64"
	"io"
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

// Send writes a page with keys of its own.
func Send(w io.Writer, page []byte) error {
	b := desks.Get().(*bytes.Buffer)
	defer desks.Put(b)
	b.Reset()
	mark, own := []byte(keyMark), Secret()
	for {
		before, after, found := bytes.Cut(page, mark)
		b.Write(before)
		if !found {
			break
		}
		b.WriteString(own)
		page = after
	}
	_, err := w.Write(b.Bytes())
	return err
}
