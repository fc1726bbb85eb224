package text

import "zephyrfield/agronomy/dose"

// firsts are the sentences on why the first option ranks first.
var firsts = map[dose.Reason]string{
	dose.Gentle:         "hydrated lime burns and comes after all others",
	dose.Meets:          "it meets the whole need",
	dose.OnShelf:        "it is on your shelf",
	dose.ByMagnesium:    "it suits the magnesium that the lab found",
	dose.NoMagnesium:    "dolomitic lime is for soil in which little magnesium was read",
	dose.FewestCautions: "it has the fewest cautions",
	dose.FeedsPotassium: "it feeds the potassium that is short",
	dose.Cheapest:       "it costs least",
	dose.Soonest:        "it acts soonest",
	dose.Level:          "it is as good as the next",
	dose.Alone:          "nothing else is suitable here",
}

// ToBuy says that what is told is to be bought.
const ToBuy = "Nothing on your shelf will do: this has to be bought."

// AshKept returns the sentence on what becomes of ash that may not go on a bed.
func AshKept(name string, barred bool) string {
	if barred {
		return Capital(name) + " is not to be used on any bed: take it to the local waste collection."
	}
	return Capital(name) + " may not be used here: keep it dry and lidded for a bed that needs it."
}

// First returns the sentence on why an option stands before the others; "" where there is none.
func First(why dose.Reason) string { return firsts[why] }
