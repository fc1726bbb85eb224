package garden

import (
	"time"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Keeper reads the place and its journal, and takes changes back. It holds no clock;
// the day and the moment come in.
type Keeper struct{ Store Store }

// Act is who posts a change, when, on which day of the garden's calendar, and
// under which key.
type Act struct {
	Who   string
	Key   string
	At    time.Time
	Today quantity.Day
	// Sure is what was asked about and is posted again all the same.
	Sure string
	// Digest stands for what was posted under the key.
	Digest string
}

// Change is the change that an act makes.
func (a Act) Change() Change { return Change{Key: a.Key, Digest: a.Digest, Who: a.Who, At: a.At} }

// Climate is the place's soil temperatures.
func (g Garden) ClimateNormals() soil.Climate {
	c, ok := soil.FindClimate(g.Climate, g.Hemisphere)
	if !ok {
		c = soil.Climates[0]
	}
	if len(g.SoilTemps) == len(c.Normal) {
		c.ID = "own"
		copy(c.Normal[:], g.SoilTemps)
	}
	return c
}
