// Package bounded reads input from outside with a limit on each of its parts, so that a small file cannot take
// much memory: parsers hold a whole record or a whole token, however long it is.
package bounded

import (
	"encoding/csv"
	"encoding/xml"
	"errors"
	"io"

	"golang.org/x/net/html/charset"
)

// ErrTooLong is returned when a part is longer than its limit.
var ErrTooLong = errors.New("it is longer than a record can be")

// Reader reads Left bytes at the most and then fails with ErrTooLong. Left is set anew before each part; parsers
// read ahead by the few kB of their buffer.
type Reader struct {
	R    io.Reader
	Left int64
}

// Read implements io.Reader.
func (b *Reader) Read(p []byte) (int, error) {
	if b.Left <= 0 {
		return 0, ErrTooLong
	}
	if int64(len(p)) > b.Left {
		p = p[:b.Left]
	}
	n, err := b.R.Read(p)
	b.Left -= int64(n)
	return n, err
}

// ahead is what csv and xml read ahead.
const ahead = 4096

// CSV is a csv.Reader whose records are limited.
type CSV struct {
	*csv.Reader
	in   *Reader
	most int64
}

// NewCSV returns a reader of records of at most so many bytes.
func NewCSV(r io.Reader, most int64) *CSV {
	in := &Reader{R: r}
	return &CSV{csv.NewReader(in), in, most + ahead}
}

// Read is csv.Reader.Read; a longer record is ErrTooLong.
func (c *CSV) Read() ([]string, error) {
	c.in.Left = c.most
	return c.Reader.Read()
}

// XML is an xml.Decoder whose tokens are limited.
type XML struct {
	d    *xml.Decoder
	in   *Reader
	most int64
}

// NewXML returns a decoder of tokens of at most so many bytes, in any encoding that the text declares.
func NewXML(r io.Reader, most int64) *XML {
	in := &Reader{R: r}
	d := xml.NewDecoder(in)
	d.CharsetReader = charset.NewReaderLabel
	return &XML{d, in, most + ahead}
}

// RawToken is xml.Decoder.RawToken; a longer token is ErrTooLong.
func (x *XML) RawToken() (xml.Token, error) {
	x.in.Left = x.most
	return x.d.RawToken()
}
