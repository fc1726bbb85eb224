// Package garden defines the records of a garden, their limits, and the Store interface. The
// use cases over them are packages of their own.
package garden

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
)

// Meta is common to all records: number, and a version that grows with each change, so that a stale
// form is noticed.
type Meta struct {
	ID      int64 `db:"id" json:"id"`
	Version int64 `db:"version" json:"version"`
}

// Head returns the record's Meta.
func (m *Meta) Head() *Meta { return m }

// JSON is a document stored inside a record.
type JSON []byte

// Scan reads a document stored as text.
func (j *JSON) Scan(src any) error {
	switch v := src.(type) {
	case string:
		*j = JSON(v)
	case []byte:
		*j = bytes.Clone(v)
	default:
		return fmt.Errorf("cannot scan %T into a JSON document", src)
	}
	return nil
}

// MarshalJSON returns the document unchanged; an empty one is null.
func (j JSON) MarshalJSON() ([]byte, error) {
	if len(j) == 0 {
		return []byte("null"), nil
	}
	return j, nil
}

// UnmarshalJSON keeps a copy of the document.
func (j *JSON) UnmarshalJSON(b []byte) error {
	*j = bytes.Clone(b)
	return nil
}

// Normals are monthly soil temperatures, stored as a JSON list; none is "".
type Normals []quantity.Temperature

// Scan reads the output of Text.
func (n *Normals) Scan(src any) error { return scanList(src, (*[]quantity.Temperature)(n)) }

// Text returns the stored form.
func (n Normals) Text() string { return listText(n) }

// Figures is a list of numbers, stored as JSON; none is "".
type Figures []float64

// Scan reads what Text wrote.
func (f *Figures) Scan(src any) error { return scanList(src, (*[]float64)(f)) }

// Text returns how they are kept.
func (f Figures) Text() string { return listText(f) }

// Rows is a short table of numbers, stored as JSON; none is "".
type Rows [][]float64

// Scan reads what Text wrote.
func (r *Rows) Scan(src any) error { return scanList(src, (*[][]float64)(r)) }

// Text returns how they are kept.
func (r Rows) Text() string {
	if len(r) == 0 {
		return ""
	}
	b, _ := json.Marshal([][]float64(r)) // finite figures always marshal
	return string(b)
}

// Stretches are ranges of days, stored as JSON; none is "".
type Stretches []calendar.Stretch

// Scan reads what Text wrote.
func (x *Stretches) Scan(src any) error { return scanList(src, (*[]calendar.Stretch)(x)) }

// Text returns how they are kept.
func (x Stretches) Text() string {
	if len(x) == 0 {
		return ""
	}
	b, _ := json.Marshal([]calendar.Stretch(x)) // days always marshal
	return string(b)
}

func scanList[T any](src any, into *[]T) error {
	s, ok := src.(string)
	if !ok {
		return fmt.Errorf("cannot scan %T into a list", src)
	}
	*into = nil
	if s == "" {
		return nil
	}
	return json.Unmarshal([]byte(s), into)
}

func listText[T ~float64](list []T) string {
	if len(list) == 0 {
		return ""
	}
	parts := make([]string, len(list))
	for i, x := range list {
		parts[i] = strconv.FormatFloat(float64(x), 'g', -1, 64)
	}
	return "[" + strings.Join(parts, ",") + "]"
}

// Record is a row of one of the garden's tables.
type Record interface {
	Head() *Meta
	// check adds faults of invalid fields.
	check(Faults)
}

// OfBed is a record that belongs to a bed: its change is a change of the bed.
type OfBed interface{ OfBed() int64 }
