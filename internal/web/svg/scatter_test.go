package svg

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// As many heaps as handfuls, the last half one smaller; on the square as many specks as grams, four each.
func TestScatterIsToScale(t *testing.T) {
	s := ScatterOf(4.5, 100)
	assert.Len(t, s.Heaps, 5)
	assert.Len(t, s.Dots, 36, "100 g/m² on 0.09 m² are 9 g")
	for _, d := range s.Dots {
		assert.True(t, d.X > s.X0 && d.X < s.X0+s.Side && d.Y > 2 && d.Y < s.Side+2, "%v lies on the square", d)
	}
	assert.Len(t, ScatterOf(30, 5000).Heaps, mostHeaps)
	assert.Len(t, ScatterOf(30, 5000).Dots, mostSpecks)
	assert.Empty(t, ScatterOf(1, 0).Dots)
	assert.Greater(t, s.W, s.X0+s.Side)
}
