package garden

import (
	"errors"
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

// orNil gives an error only when there is a fault.
func (f Faults) orNil() error {
	if len(f) == 0 {
		return nil
	}
	return f
}

// faultOf turns the core's error into a fault at a form's field: the last part
// of the field's name.
func faultOf(err error) error {
	var in *dose.InputError
	if !errors.As(err, &in) {
		return err
	}
	name := in.Field
	if i := strings.LastIndexByte(name, '.'); i >= 0 {
		name = name[i+1:]
	}
	return Faults{name: in.Why}
}
