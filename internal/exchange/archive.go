// Package exchange carries gardens out and in by open formats: the JSON
// archive and iCalendar.
package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"zephyrfield/internal/garden"
)

// WriteArchive writes a whole garden as JSON, one record a line, so that two
// archives can be compared line by line.
func WriteArchive(w io.Writer, a garden.Archive) error {
	var b bytes.Buffer
	fmt.Fprintf(&b, "{\n\"format\": %q,\n\"edition\": %d", a.Format, a.Edition)
	err := errors.Join(
		section(&b, "garden", a.Garden), section(&b, "beds", a.Beds), section(&b, "plantings", a.Plantings),
		section(&b, "crops", a.Crops), section(&b, "marks", a.Marks),
		section(&b, "batches", a.Batches), section(&b, "rounds", a.Rounds), section(&b, "samples", a.Samples),
		section(&b, "sample_beds", a.SampleBeds), section(&b, "cores", a.Cores), section(&b, "readings", a.Readings), section(&b, "plans", a.Plans),
		section(&b, "tasks", a.Tasks), section(&b, "applications", a.Applications), section(&b, "journal", a.Journal))
	if err != nil {
		return err
	}
	b.WriteString("\n}\n")
	_, err = w.Write(b.Bytes())
	return err
}

func section[T any](b *bytes.Buffer, name string, rows []T) error {
	fmt.Fprintf(b, ",\n%q: [", name)
	for i, r := range rows {
		if i > 0 {
			b.WriteByte(',')
		}
		b.WriteString("\n  ")
		line, err := json.Marshal(r)
		if err != nil {
			return fmt.Errorf("%s, row %d: %w", name, i+1, err)
		}
		b.Write(line)
	}
	b.WriteString("\n]")
	return nil
}

// ReadArchive reads an archive. Errors are garden.Faults at "archive".
func ReadArchive(r io.Reader) (garden.Archive, error) {
	var a garden.Archive
	d := json.NewDecoder(r)
	d.DisallowUnknownFields()
	if err := d.Decode(&a); err != nil {
		return a, wrong("this is not an archive of Zephyr Field: %v", err)
	}
	if _, err := d.Token(); err != io.EOF {
		return a, wrong("there is more in the file after the archive")
	}
	switch {
	case a.Format != garden.ArchiveFormat:
		return a, wrong("this is not an archive of Zephyr Field: its format is %q", a.Format)
	case a.Edition > garden.ArchiveEdition:
		return a, wrong("this archive was made by a newer version (edition %d, this version reads %d)", a.Edition, garden.ArchiveEdition)
	case a.Edition < 1:
		return a, wrong("edition %d is not known", a.Edition)
	case len(a.Garden) != 1:
		return a, wrong("an archive holds one garden, this one holds %d", len(a.Garden))
	}
	return a, nil
}

func wrong(format string, args ...any) error {
	return garden.Faults{"archive": fmt.Sprintf(format, args...)}
}
