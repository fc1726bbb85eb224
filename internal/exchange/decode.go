package exchange

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"errors"
	"unicode/utf16"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
)

// Byte order marks of encodings other than UTF-8.
var (
	utf8Mark   = []byte("\ufeff")
	utf16Small = []byte{0xff, 0xfe}
	utf16Big   = []byte{0xfe, 0xff}
)

// errNotText is returned for bytes that are not text in a supported encoding.
var errNotText = errors.New("this is neither a CSV text nor an XLSX workbook")

// plainText decodes a text to UTF-8: UTF-16 by its byte order mark; anything else that is not UTF-8
// as Latin-1, as older spreadsheets write it.
func plainText(data []byte) ([]byte, error) {
	switch {
	case bytes.HasPrefix(data, utf16Small):
		return fromUTF16(data[2:], binary.LittleEndian)
	case bytes.HasPrefix(data, utf16Big):
		return fromUTF16(data[2:], binary.BigEndian)
	}
	data = bytes.TrimPrefix(data, utf8Mark)
	if bytes.IndexByte(data, 0) >= 0 {
		return nil, errNotText
	}
	if utf8.Valid(data) {
		return data, nil
	}
	// Windows-1252 is a superset of Latin-1.
	out, err := charmap.Windows1252.NewDecoder().Bytes(data)
	if err != nil || bytes.ContainsRune(out, utf8.RuneError) || controls(out) {
		return nil, errNotText
	}
	return out, nil
}

// controls reports whether a text has control characters.
func controls(text []byte) bool {
	return bytes.ContainsFunc(text, func(r rune) bool { return r < ' ' && r != '\n' && r != '\r' && r != '\t' })
}

func fromUTF16(data []byte, order binary.ByteOrder) ([]byte, error) {
	if len(data)%2 != 0 {
		return nil, errNotText
	}
	units := make([]uint16, len(data)/2)
	for i := range units {
		units[i] = order.Uint16(data[2*i:])
	}
	out := []byte(string(utf16.Decode(units)))
	if bytes.IndexByte(out, 0) >= 0 || bytes.ContainsRune(out, utf8.RuneError) {
		return nil, errNotText
	}
	return out, nil
}

// csvWords returns the line and the message of a CSV error.
func csvWords(err error) (line int, says string) {
	var at *csv.ParseError
	if !errors.As(err, &at) {
		return 0, "the file cannot be read"
	}
	switch {
	case errors.Is(at.Err, csv.ErrQuote):
		return at.Line, "a quotation mark that is opened is not closed, or stands where none may"
	case errors.Is(at.Err, csv.ErrBareQuote):
		return at.Line, "a quotation mark stands inside a cell that is not in quotation marks"
	}
	return at.Line, "this line cannot be read"
}
