package dose_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/text"
)

// A caution that is read in a garden has twenty words at most, and stops as well.
func TestCautionsAreFew(t *testing.T) {
	const most = 20
	for name, c := range guardCases {
		a := answer(t, request(c.fires))
		all := a.Guards
		for _, o := range append(a.Options, a.Potassium.Options...) {
			all = append(all, o.Guards...)
		}
		for _, r := range a.Refused {
			all = append(all, r.Guards...)
		}
		for _, f := range all {
			says := text.Guard(f).Says
			if n := len(strings.Fields(says)); f.Level != guard.Note {
				assert.LessOrEqual(t, n, most, "%s (%s): %s", f.ID, name, says)
			}
		}
	}
}
