package view

// Field is a field of a form, resolved: what it is called, what stands in it, and what is wrong with it.
type Field struct {
	ID, Name, Label string
	// Aside stands beside the label in grey, AsideWay is the way of reading that it is shown with.
	Aside, AsideWay string
	// Form is the form it belongs to where it stands outside of it.
	Form string
	// Called is what it is called where its label is not seen.
	Called string
	Value  string
	Fault  string
	// FaultID is where the sentence of its fault stands; several fields may share one, "" where none
	// stands. Bad is set where it is wrong itself.
	FaultID string
	Bad     bool
	// Type is an input's, "" for text; Mode the keyboard that a phone shows.
	Type, Mode string
	// Tick is set where it is ticked or not, Ticked where it is; it says "yes" then.
	Tick, Ticked bool
	// Options are what it is chosen from; nil where it is typed.
	Options []Option
	// Suggests are offered where it is typed; nil where nothing is.
	Suggests []string
	// Figure is set where it has the large letters of a figure that is read off.
	Figure      bool
	Placeholder string
	MaxLength   int
	// Lines is how many lines of text there is room for; 0 in an input.
	Lines int
	// Accept is what files are offered, by their endings and types; "" in what is typed.
	Accept string
	// Camera lets a phone take a picture in the place of a file.
	Camera bool
	// Min and Max bound a day.
	Min, Max string
	// Box is the class of what the field stands in. For, By and Way tell a script with which shape
	// of a bed, way of knowing its texture or way of reading it is shown; Hook is what the field
	// itself is to a script: HookShape, HookTexture or HookGo.
	Box, For, By, Way, Hook string
	// Together are fields that stand in one box, in the place of a field.
	Together []Field
}

// Chosen reports whether it is chosen from a list, be it an empty one.
func (f Field) Chosen() bool { return f.Options != nil }

// What a field is to a script: what is chosen in it decides which others are shown, or goes to the
// page of what was chosen.
const (
	HookShape   = "shape"
	HookTexture = "texture"
	HookOpen    = "go"
)

// Option is a row of a list to choose from.
type Option struct {
	Value, Text string
	// On is set where it is chosen.
	On bool
}

// Choose marks the option that is chosen; the list itself is left alone.
func Choose(list []Option, value string) []Option {
	out := make([]Option, len(list))
	for i, o := range list {
		o.On = o.Value == value
		out[i] = o
	}
	return out
}

// Choice is one of a few to choose from, each of which shows on the page.
type Choice struct {
	ID, Name, Value, Text string
	// Why says more of it in a list, Aside in small letters on a tile.
	Why, Aside string
	On         bool
	// Many is set where others may be taken beside it.
	Many bool
	// Off says why it cannot be chosen, "" when it can.
	Off string
	// Drawn is what a tile shows above its words, "" for nothing: DrawnClimate, DrawnHandful or
	// DrawnJar, of Picture.
	Drawn   string
	Picture any
}

// What a tile shows above its words: an svg.ClimatePicture, what a feel is called, an svg.FizzJar.
const (
	DrawnClimate = "climate"
	DrawnHandful = "handful"
	DrawnJar     = "jar"
)

// Hidden is a field that is carried along and not shown.
type Hidden struct{ Name, Value string }
