package guard_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

func TestTableIsConsistent(t *testing.T) {
	seen := map[string]bool{}
	for _, r := range guard.Rules {
		assert.False(t, seen[r.ID], r.ID)
		seen[r.ID] = true
		assert.NotEmpty(t, r.Source, r.ID)
		assert.Contains(t, []guard.Level{guard.Stop, guard.Caution, guard.Note}, r.Level, r.ID)
		if r.Level == guard.Stop {
			assert.NotEqual(t, guard.OfOption, r.Scope, "%s: a stop comes before there is an option", r.ID)
		}
	}
}

func ExampleCheck() {
	ash, _ := material.Find(material.HardwoodAsh)
	f := guard.Facts{Judgement: &bed.Judgement{PH: 6.7, Lands: 6.7, Reading: soil.Reading{Method: soil.Lab}}, Raising: true,
		Material: &material.Batch{Material: ash, Source: material.Clean}}
	f.Crop.Range.High = 7
	for _, x := range guard.Check(guard.OfMaterial, &f) {
		fmt.Println(x.Level, x.ID)
	}
	// Output: stop ash-at-6.5
}
