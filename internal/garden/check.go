package garden

import (
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"time"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// mostID is the largest record number, one that every program reading an archive can represent.
const mostID = 1 << 53

// mostChanges is the largest number of records in one journal entry.
const mostChanges = 500_000

// CheckRecord validates a record from an archive or the journal: by the forms' checks, and by
// general bounds of figures, days, texts and numbers. Nil if valid.
func CheckRecord(rec Record) error {
	f := Faults{}
	sweep(f, reflect.ValueOf(rec).Elem())
	if len(f) > 0 {
		return f // the forms' checks expect finite figures
	}
	rec.check(f)
	return f.OrNil()
}

// join adds the faults of another check; any other error is filed under the record itself.
func (f Faults) join(err error) {
	var more Faults
	switch {
	case errors.As(err, &more):
		maps.Copy(f, more)
	case err != nil:
		f["record"] = err.Error()
	}
}

// sweep checks every field of a record: figures are finite, days and record numbers in range, texts
// printable.
func sweep(f Faults, v reflect.Value) {
	for i := range v.NumField() {
		field, name := v.Field(i), v.Type().Field(i).Tag.Get("db")
		if v.Type().Field(i).Anonymous {
			sweep(f, field)
			continue
		}
		if field.Kind() == reflect.Pointer {
			if field.IsNil() {
				continue
			}
			field = field.Elem()
		}
		if why := fieldFault(name, field); why != "" {
			f[name] = why
		}
	}
}

func fieldFault(name string, v reflect.Value) string {
	switch x := v.Interface().(type) {
	case quantity.Day:
		if x == 0 {
			return ""
		}
		return DayFault(x)
	case JSON, Encoded: // checked by their records
		return ""
	}
	switch v.Kind() {
	case reflect.Float64:
		if !finite(v.Float()) {
			return "a figure is needed"
		}
	case reflect.Int, reflect.Int64:
		if isNumber := name == "id" || name == "version" || strings.HasSuffix(name, "_id"); isNumber && (v.Int() < 1 || v.Int() > mostID) {
			return "a number of a record lies from 1 to 2 to the 53rd"
		}
	case reflect.String:
		most := longestEntry
		if name == "code" || name == "state" || name == "kind" {
			most = longestWhat
		}
		return TextFault(v.String(), most, true)
	}
	return ""
}

// wanted requires a day.
func wanted(f Faults, field string, d quantity.Day) {
	if d == 0 && f[field] == "" {
		f[field] = "a day is needed"
	}
}

// order requires that a day, if set, is not before another.
func order(f Faults, field string, first, then quantity.Day) {
	if then != 0 && then < first && f[field] == "" {
		f[field] = "that is before " + first.String()
	}
}

// known requires that a value is in a list.
func known[T ~string](f Faults, field string, list []T, x T) {
	if !slices.Contains(list, x) {
		f[field] = fmt.Sprintf("“%.40s” is not known here", string(x))
	}
}

func knownMaterial(f Faults, field string, k material.Kind) {
	if _, ok := material.Find(k); !ok {
		f[field] = fmt.Sprintf("“%.40s” is not a material that is known here", string(k))
	}
}

// moment requires an RFC 3339 timestamp.
func moment(f Faults, field, at string) {
	if t, err := time.Parse(time.RFC3339, at); err != nil || t.Year() < earliest || t.Year() > latest {
		f[field] = "a moment is needed, written as 2026-11-24T07:30:00Z"
	}
}
