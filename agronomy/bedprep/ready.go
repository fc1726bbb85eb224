package bedprep

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
)

// Sign is what is found at a look whether the ground is ready.
type Sign string

// Signs: what a handful does, how it smells, how wet it is.
const (
	Crumbles Sign = "crumbles"
	Breaks   Sign = "breaks"
	Smears   Sign = "smears"
	Earthy   Sign = "earthy"
	NoSmell  Sign = "no-smell"
	Rotten   Sign = "rotten"
	Ammonia  Sign = "ammonia"
	Moist    Sign = "moist"
	Dusty    Sign = "dusty"
	Soaked   Sign = "soaked"
)

// Look is a question of the look, with its signs.
type Look struct {
	ID    string
	Signs []Sign
}

// Looks lists them.
var Looks = []Look{
	{"handful", []Sign{Crumbles, Breaks, Smears}},
	{"smell", []Sign{Earthy, NoSmell, Rotten, Ammonia}},
	{"wetness", []Sign{Moist, Dusty, Soaked}},
}

// waits is how long ground with a sign is left before it is looked at again: what rots or
// gives off ammonia rests as long as what is rotted, what is wet as long as ground that lies shut.
var waits = map[Sign]quantity.Day{
	Smears: calendar.LookAgain, Soaked: calendar.LookAgain, Rotten: rotted, Ammonia: rotted, Dusty: 1,
}

// Ready reports whether ground with these signs is ready to plant: wait is 0 then, else how
// long it is left, for those signs.
func Ready(signs []Sign) (wait quantity.Day, against []Sign) {
	for _, s := range signs {
		if n := waits[s]; n > 0 {
			against, wait = append(against, s), max(wait, n)
		}
	}
	return wait, against
}

// Complete reports whether each question of the look has one of its signs.
func Complete(signs []Sign) bool {
	return len(signs) == len(Looks) && !slices.ContainsFunc(Looks, func(l Look) bool {
		return !slices.ContainsFunc(signs, func(s Sign) bool { return slices.Contains(l.Signs, s) })
	})
}
