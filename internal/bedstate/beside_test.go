package bedstate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// stands returns a bed with a pH; 0 is none.
func stands(id int64, ph quantity.PH, s bed.Standing, off quantity.PH) bedstate.State {
	p := bedstate.State{}
	p.Bed.ID = id
	p.PH, p.Standing, p.Off = ph, s, off
	if ph > 0 {
		p.Reading = &garden.Reading{}
	}
	return p
}

func TestDrifted(t *testing.T) {
	before := bedstate.View{Beds: []bedstate.State{stands(1, 6.0, "", 0), stands(2, 6.0, "", 0), stands(3, 6.0, "", 0), stands(4, 0, "", 0)}}
	after := bedstate.View{Beds: []bedstate.State{stands(1, 6.1, "", 0), stands(2, 5.5, "", 0), stands(3, 6.09, "", 0), stands(4, 5.0, "", 0)}}
	sourer, sweeter := after.Drifted(&before)
	assert.Equal(t, []int{1, 1}, []int{sourer, sweeter})
	sourer, sweeter = before.Drifted(&after)
	assert.Equal(t, []int{1, 1}, []int{sourer, sweeter}, "the other way round")
}

func TestWantsMost(t *testing.T) {
	v := bedstate.View{Beds: []bedstate.State{stands(1, 6.5, bed.InRange, 0), stands(2, 6.0, bed.Sour, 0.2), stands(3, 5.0, bed.Sour, 1.2),
		stands(4, 5.6, bed.Sour, 0.6), stands(5, 8, bed.TooSweet, 2)}, Tasks: []garden.Task{{BedID: 3}}}
	assert.Equal(t, int64(4), v.WantsMost().Bed.ID)
	v.Tasks = nil
	assert.Equal(t, int64(3), v.WantsMost().Bed.ID)
	v.Beds = v.Beds[:1]
	assert.Equal(t, int64(1), v.WantsMost().Bed.ID)
}
