package bedprep

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
)

// Sign is an observation at the check whether the soil is ready.
type Sign string

// The signs: what a handful does, how it smells, how wet it is.
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

// Look is a question of the check with its possible signs.
type Look struct {
	ID    string
	Signs []Sign
}

// Looks lists the questions.
var Looks = []Look{
	{"handful", []Sign{Crumbles, Breaks, Smears}},
	{"smell", []Sign{Earthy, NoSmell, Rotten, Ammonia}},
	{"wetness", []Sign{Moist, Dusty, Soaked}},
}

// waits is how many days soil with a sign is left before the next check: rotting or ammonia as long
// as rotted manure, wet as long as shut ground.
var waits = map[Sign]quantity.Day{
	Smears: calendar.LookAgain, Soaked: calendar.LookAgain, Rotten: rotted, Ammonia: rotted, Dusty: 1,
}

// Ready returns 0 for soil that is ready to plant, else the days to wait and the signs that ask for
// it.
func Ready(signs []Sign) (wait quantity.Day, against []Sign) {
	for _, s := range signs {
		if n := waits[s]; n > 0 {
			against, wait = append(against, s), max(wait, n)
		}
	}
	return wait, against
}

// Complete reports whether each question has an answer.
func Complete(signs []Sign) bool {
	return len(signs) == len(Looks) && !slices.ContainsFunc(Looks, func(l Look) bool {
		return !slices.ContainsFunc(signs, func(s Sign) bool { return slices.Contains(l.Signs, s) })
	})
}
