package form

import "strings"

// fieldNames are field names that their ids do not give.
var fieldNames = map[string]string{"w": "length", "h": "width", "x": "from the west", "y": "from the north", "om": "organic matter",
	"cec": "cation exchange capacity", "texture_by": "how the texture was found", "free_lime": "vinegar drop", "cce": "strength",
	"k2o": "potash", "table": "lime table", "fizz": "what jars may decide", "act": "when to treat", "ash": "how ash is measured",
	"buffering": "how the lime need is worked out", "water_ph": "pH of the water", "kit_chips": "chips of the kit", "ph": "pH",
	"k": "potassium", "mg": "magnesium",
	"ca": "calcium", "p": "phosphorus", "k_extractant": "the lab’s extraction method", "k_from": "enough from", "k_to": "enough to",
	"buffer_kind": "buffer", "buffer_ph": "buffer pH", "lab_cce": "strength of the lab’s lime", "lab_target": "target of the lab’s rate"}

// nameOf returns a field's name for a table.
func nameOf(id string) string {
	if n, ok := fieldNames[id]; ok {
		return n
	}
	return strings.ReplaceAll(id, "_", " ")
}
