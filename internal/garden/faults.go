package garden

import (
	"errors"
	"regexp"
	"sort"
	"strings"

	"zephyrfield/agronomy/dose"
)

// Faults are error messages for the user, by field.
type Faults map[string]string

func (f Faults) Error() string {
	var all []string
	for k, v := range f {
		all = append(all, k+": "+v)
	}
	sort.Strings(all)
	return strings.Join(all, "; ")
}

// UndoField is the field of messages on undoing.
const UndoField = "undo"

// OrNil returns f as an error, or nil if it is empty.
func (f Faults) OrNil() error {
	if len(f) == 0 {
		return nil
	}
	return f
}

// places are the list indexes in a path.
var places = regexp.MustCompile(`\[\d+\]`)

// FaultOf converts the core's error to a fault at its path without the enclosing object and list
// indexes: buffer.ph of reading.buffer.ph, layers of reading.layers[1].
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

// Fields maps the core's paths to a form's fields: a path not in the map is looked up by its first
// part, else used as it is.
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
