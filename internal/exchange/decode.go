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

// How texts may begin that are not UTF-8.
var (
	utf8Mark   = []byte("\ufeff")
	utf16Small = []byte{0xff, 0xfe}
	utf16Big   = []byte{0xfe, 0xff}
)

// errNotText is returned for bytes that are no text in any way that is read.
var errNotText = errors.New("this is neither a CSV text nor an XLSX workbook")

// plainText returns a text in UTF-8: one in UTF-16 is told by its mark, any other that is no UTF-8
// is taken for Latin-1, as older spreadsheets write it.
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
	// Windows's own Latin-1, which holds the other whole.
	out, err := charmap.Windows1252.NewDecoder().Bytes(data)
	if err != nil || bytes.ContainsRune(out, utf8.RuneError) || controls(out) {
		return nil, errNotText
	}
	return out, nil
}

// controls reports whether a text holds signs that no text has.
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

// csvWords say what is wrong with a line of CSV.
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
