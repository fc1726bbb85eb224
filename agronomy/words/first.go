package words

import "zephyrfield/agronomy/dose"

// firsts say why the first of several ways stands first.
var firsts = map[dose.Reason]string{
	dose.Gentle:         "hydrated lime burns and comes after all others",
	dose.Meets:          "it meets the whole need",
	dose.ByMagnesium:    "it suits the magnesium that was read",
	dose.NoMagnesium:    "dolomitic lime is for soil in which little magnesium was read",
	dose.FewestCautions: "there is least to mind with it",
	dose.FeedsPotassium: "it feeds the potassium that is short",
	dose.Cheapest:       "it costs least",
	dose.Soonest:        "it acts soonest",
	dose.Level:          "it is as good as the next",
	dose.Alone:          "nothing else serves here",
}

// First says why an option stands before the others; "" where there is none.
func First(why dose.Reason) string { return firsts[why] }
