package garden

import (
	"errors"
	"regexp"
	"sort"
	"strings"

	"zephyrfield/agronomy/dose"
)

// Faults are sentences about what was typed, by field.
type Faults map[string]string

func (f Faults) Error() string {
	var all []string
	for k, v := range f {
		all = append(all, k+": "+v)
	}
	sort.Strings(all)
	return strings.Join(all, "; ")
}

// UndoField is where it is said what stands against taking a change back.
const UndoField = "undo"

// OrNil returns an error only when there is a fault.
func (f Faults) OrNil() error {
	if len(f) == 0 {
		return nil
	}
	return f
}

// places are the parts of a path that say which of a list is meant.
var places = regexp.MustCompile(`\[\d+\]`)

// FaultOf turns the core's error into a fault at its path, without the object that
// is at hand and without places in lists: buffer.ph of reading.buffer.ph, layers of
// reading.layers[1].
func FaultOf(err error) error {
	var in *dose.InputError
	if !errors.As(err, &in) {
		return err
	}
	path := places.ReplaceAllString(in.Field, "")
	for _, object := range []string{"reading.", "readings.", "bed."} {
		path = strings.TrimPrefix(path, object)
	}
	return Faults{path: in.Why}
}

// Fields gives the fields of a form for the core's paths: a path that is not in the
// table is called by its first part, else it is a field itself.
type Fields map[string]string

// Of returns the field of a path.
func (f Fields) Of(path string) string {
	if field, ok := f[path]; ok {
		return field
	}
	head, _, _ := strings.Cut(path, ".")
	if field, ok := f[head]; ok {
		return field
	}
	return head
}
