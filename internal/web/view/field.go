package view

// Field is a resolved form field: label, value, and fault.
type Field struct {
	ID, Name, Label string
	// Aside is shown beside the label in grey; AsideWay is the way of reading that it is shown
	// with.
	Aside, AsideWay string
	// Form is the id of its form if it is outside of it.
	Form string
	// Called is its name where no label is visible.
	Called string
	Value  string
	Fault  string
	// FaultID is the id of its message, shared by several fields; "" for none. Bad is set when the
	// field itself is wrong.
	FaultID string
	Bad     bool
	// Type is the input's type, "" for text; Mode the keyboard of a phone.
	Type, Mode string
	// Tick is set for a checkbox, Ticked when it is checked; its value is "yes".
	Tick, Ticked bool
	// Options are the choices of a select; nil for a text field.
	Options []Option
	// Suggests are suggestions for a text field; nil for none.
	Suggests []string
	// Figure is set for a field with large digits.
	Figure      bool
	Placeholder string
	MaxLength   int
	// Lines is the height of a text area; 0 for an input.
	Lines int
	// Accept is the accepted files, by extension and type; "" otherwise.
	Accept string
	// Camera lets a phone take a picture instead of a file.
	Camera bool
	// Min and Max bound a date.
	Min, Max string
	// Box is the class of the enclosing element. For, By and Way tell a script with which shape of
	// a bed, source of its texture or way of reading the field is shown; Hook is the field's role
	// for a script: HookShape, HookTexture or HookGo.
	Box, For, By, Way, Hook string
	// Together are fields in one box, instead of a single field.
	Together []Field
}

// Chosen reports whether it is a select, even an empty one.
func (f Field) Chosen() bool { return f.Options != nil }

// The roles of a field for a script: its value shows and hides other fields, or navigates.
const (
	HookShape   = "shape"
	HookTexture = "texture"
	HookOpen    = "go"
)

// Option is an option of a select.
type Option struct {
	Value, Text string
	// On is set when it is chosen.
	On bool
}

// Choose returns a copy of a list with the chosen option marked.
func Choose(list []Option, value string) []Option {
	out := make([]Option, len(list))
	for i, o := range list {
		o.On = o.Value == value
		out[i] = o
	}
	return out
}

// Choice is one of a few visible choices.
type Choice struct {
	ID, Name, Value, Text string
	// Why is its explanation in a list, Aside small print on a tile.
	Why, Aside string
	On         bool
	// Many is set when several may be chosen.
	Many bool
	// Off is why it cannot be chosen, "" if it can.
	Off string
	// Drawn is the drawing above its text, "" for none: DrawnClimate, DrawnHandful, DrawnJar or DrawnChip, of
	// Picture.
	Drawn   string
	Picture any
}

// The drawings of a tile: an svg.ClimatePicture, a feel's name, an svg.FizzJar, a chip's colour.
const (
	DrawnClimate = "climate"
	DrawnHandful = "handful"
	DrawnJar     = "jar"
	DrawnChip    = "chip"
)

// Hidden is a hidden field.
type Hidden struct{ Name, Value string }
