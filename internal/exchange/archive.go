// Package exchange reads and writes gardens in open formats: the JSON archive, iCalendar,
// GeoJSON, CSV and XLSX.
package exchange

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"zephyrfield/internal/bounded"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
)

// The format's name and version.
const (
	archiveFormat  = "zephyrfield-archive"
	archiveEdition = 10
)

// The largest record of an archive in bytes; a journal entry holds everything that one change
// touched.
const (
	mostRecord  = 1 << 20
	mostJournal = 32 << 20
)

// WriteArchive writes a whole garden as JSON, one record per line, so that archives can be compared
// line by line. It holds one record at a time.
func WriteArchive(w io.Writer, r garden.Reader) error {
	b := bufio.NewWriter(w)
	_, _ = fmt.Fprintf(b, "{\n\"format\": %q,\n\"edition\": %d", archiveFormat, archiveEdition)
	for _, t := range garden.Tables {
		_, _ = fmt.Fprintf(b, ",\n%q: [", t.Name)
		sep := ""
		err := r.Each(t.Name, func(rec garden.Record) error {
			line, err := json.Marshal(rec)
			if err != nil {
				return fmt.Errorf("%s %d: %w", t.One, rec.Head().ID, err)
			}
			_, _ = b.WriteString(sep + "\n  ")
			sep = ","
			_, err = b.Write(line)
			return err
		})
		if err != nil {
			return err
		}
		_, _ = b.WriteString("\n]")
	}
	_, _ = b.WriteString("\n}\n")
	return b.Flush() // returns the first error
}

// ReadArchive reads an archive and passes each of its records to put, in the order of the file. It
// holds one record at a time. Errors are garden.Faults at "archive", naming the record and the
// field.
func ReadArchive(r io.Reader, put func(garden.Record) error) error {
	a := archiveReader{in: &bounded.Reader{R: r, Left: mostRecord}, put: put, seen: map[string]bool{}}
	a.d = json.NewDecoder(a.in)
	a.d.DisallowUnknownFields()
	return a.read()
}

type archiveReader struct {
	in     *bounded.Reader
	d      *json.Decoder
	put    func(garden.Record) error
	format string
	seen   map[string]bool
}

func (a *archiveReader) read() error {
	if t, err := a.d.Token(); err != nil || t != json.Delim('{') {
		return notArchive(err)
	}
	for a.d.More() {
		key, err := a.d.Token()
		if err != nil {
			return notArchive(err)
		}
		if err := a.part(fmt.Sprint(key)); err != nil {
			return err
		}
	}
	if _, err := a.d.Token(); err != nil {
		return cutOff(err)
	}
	a.in.Left = mostRecord
	if _, err := a.d.Token(); err != io.EOF {
		return wrong("there is more in the file after the archive")
	}
	if a.format == "" {
		return wrong("this is not an archive of Zephyr Field: it does not say its format")
	}
	if !a.seen["garden"] {
		return wrong("an archive holds one garden, this one holds none")
	}
	return nil
}

// part reads one of the archive's fields. The format's name comes first, so that no other file is
// imported.
func (a *archiveReader) part(key string) error {
	if a.seen[key] {
		return wrong("“%.40s” stands in it twice", key)
	}
	a.seen[key] = true
	switch key {
	case "format":
		if err := a.d.Decode(&a.format); err != nil || a.format != archiveFormat {
			return wrong("this is not an archive of Zephyr Field: its format is “%.40s”", a.format)
		}
		return nil
	case "edition":
		var edition int
		if err := a.d.Decode(&edition); err != nil || edition < 1 {
			return wrong("its edition is not known")
		}
		if edition > archiveEdition {
			return wrong("this archive was made by a newer version (edition %d, this version reads %d)", edition, archiveEdition)
		}
		return nil
	}
	t, ok := garden.FindTable(key)
	if !ok || a.format == "" || !a.seen["edition"] {
		return wrong("this is not an archive of Zephyr Field: “%.40s” is not expected there", key)
	}
	return a.list(t)
}

func (a *archiveReader) list(t garden.Table) error {
	start, err := a.d.Token()
	if err != nil {
		return cutOff(err)
	}
	if start == nil {
		return nil
	}
	if start != json.Delim('[') {
		return wrong("%s: a list is needed", t.Name)
	}
	n := 0
	for a.d.More() {
		if n++; n > t.Most {
			return wrong("%s: more than %d in one archive", t.Name, t.Most)
		}
		if err := a.record(t, n); err != nil {
			return err
		}
	}
	if _, err := a.d.Token(); err != nil {
		return cutOff(err)
	}
	if t.Name == "garden" && n != 1 {
		return wrong("an archive holds one garden, this one holds %d", n)
	}
	return nil
}

// record reads the nth record of a list.
func (a *archiveReader) record(t garden.Table, n int) error {
	a.in.Left = mostRecord
	if t.Name == garden.JournalTable {
		a.in.Left = mostJournal
	}
	rec := t.New()
	why := ""
	if err := a.d.Decode(rec); err != nil {
		why = inWords(err)
	} else if err := checkArchived(rec); err != nil {
		why = err.Error()
	} else if err := a.put(rec); err != nil {
		var faults garden.Faults
		if !errors.As(err, &faults) {
			return err // the store's error, not the archive's
		}
		why = strings.TrimPrefix(faults.Error(), "record: ")
	}
	if why == "" {
		return nil
	}
	return wrong("%s %d of the list (number %d)%s: %s", t.One, n, rec.Head().ID, calledIn(rec), why)
}

// calledIn returns a record's name for messages.
func calledIn(rec garden.Record) string {
	if x, ok := rec.(interface{ Called() string }); ok {
		return fmt.Sprintf(", “%.60s”", x.Called())
	}
	return ""
}

// checkArchived applies the garden's checks to an imported record, and checks that a plan's request
// can be read.
func checkArchived(rec garden.Record) error {
	if err := garden.CheckRecord(rec); err != nil {
		return err
	}
	if p, ok := rec.(*garden.Plan); ok {
		if !p.RestsApart {
			p.Request = garden.OlderRequest(p.Request)
		}
		if _, err := dosejson.Decode(p.Request); err != nil {
			return garden.Faults{"request": "the dose that it was made from cannot be read"}
		}
	}
	return nil
}

// inWords returns the reason why a record cannot be read.
func inWords(err error) string {
	var kind *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch text := err.Error(); {
	case errors.As(err, &kind):
		return fmt.Sprintf("“%s” cannot be a %s", kind.Field[strings.LastIndexByte(kind.Field, '.')+1:], kind.Value)
	case errors.As(err, &syntax), errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
		return "the file is cut off or damaged here"
	case strings.HasPrefix(text, "json: unknown field "):
		return "a field " + strings.TrimPrefix(text, "json: unknown field ") + " is not known"
	case strings.HasPrefix(text, "json: "):
		return "a value in it cannot be read"
	default:
		return text // an error of a day, or a limit of this reader
	}
}

func notArchive(err error) error {
	if errors.Is(err, bounded.ErrTooLong) {
		return wrong("this is not an archive of Zephyr Field: a word in it is too long")
	}
	return wrong("this is not an archive of Zephyr Field")
}

func cutOff(err error) error { return wrong("%s", inWords(err)) }

func wrong(format string, args ...any) error {
	return garden.Faults{"archive": fmt.Sprintf(format, args...)}
}
