package garden

import (
	"zephyrfield/agronomy/material"
)

// Material is the batch as agronomy has it, whatever is left of it; m is its kind's
// row.
func (b Batch) Material(m material.Material) material.Batch {
	return material.Batch{Material: m, Measured: b.CCE, Effective: b.Effective, Potash: b.K2O, Condition: b.Condition, Source: b.Source, Price: b.Price}
}
