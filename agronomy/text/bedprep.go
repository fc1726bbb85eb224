package text

import (
	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// turnSteps are the name and instruction of each preparation step.
var turnSteps = map[bedprep.StepID]struct{ name, how string }{
	bedprep.Clear: {"Clear the old crop", "Take away what is spent, sick roots and all. Self-sown plants that you want stay, or " +
		"move: mark them first. Healthy leaves may be chopped in or added to the heap."},
	bedprep.CutDown: {"Cut the old crop down", "Cut at the ground and leave the roots in: worms and water follow them. Self-sown " +
		"plants that you want stay."},
	bedprep.Strip: {"Strip the sod and chop it in", "Cut it in thin sods, grass side down, and chop them in a spade deep. Take the roots of " +
		"couch and dock out by hand. It rots for {manure gap} before anything is planted."},
	bedprep.Cut: {"Cut the green manure", "Cut it before one plant in ten is in flower: later it turns woody and seeds itself. " +
		"Leave it on the bed to wilt."},
	bedprep.ChopIn: {"Chop the green manure in", "Into the top spade’s depth, no deeper: it gives back the potassium that it took. It rots " +
		"for {manure gap} before anything is planted."},
	bedprep.Loosen: {"Loosen the soil", "With a fork, lift and let fall. Do not turn heavy soil, and never when it sticks to the boot. " +
		"From now on nobody treads on it: work from the path or a board."},
	bedprep.Test: {"Take a sample and test it", "Before anything is put on, so that the test shows the bed as it is. " +
		"Ask for potassium and magnesium too."},
	bedprep.Correct: {"Correct pH: lime, ash, or nothing", "Open the dose with the new reading and plan its applications. Tick this when " +
		"they are planned, or when nothing is wanted."},
	bedprep.Organic: {"Work organic matter in",
		"Over the whole bed, into the top spade’s depth; left on top where nothing is dug. More than this makes " +
			"a bed heavy and rich in potassium."},
	bedprep.Meals: {"Bone meal and the like", "Bone, horn or rock meal by its bag’s label, and only what a test asks for."},
	bedprep.Mulch: {"Mulch", "A hand deep, off the stems. Fresh wood chips may borrow nitrogen for a season: keep them on top, " +
		"never dug in."},
	bedprep.Water: {"Water it well", "So that it settles and what was dug in begins to rot. Not needed after good rain."},
	bedprep.Check: {"See whether it is ready", "Take a handful from a hand deep: press it, smell it, look how wet it is."},
	bedprep.Plant: {"Sow or plant", "From a board or the path. Feeding now does not make up for a step left out."},
	bedprep.Own:   {"A step of your own", ""},
}

// StepName returns the name of a step, or the gardener's own words.
func StepName(id bedprep.StepID, says string) string {
	if id == bedprep.Own && says != "" {
		return says
	}
	return turnSteps[id].name
}

// StepHow returns the sentence on how a step is done.
func (u Units) StepHow(id bedprep.StepID) string { return u.say(turnSteps[id].how) }

// templates are the name of each template and what to know of it.
var templates = map[bedprep.TemplateID]struct{ name, says string }{
	bedprep.Vegetable: {"A bed after a crop", "Cleared, loosened, tested, pH corrected, fed."},
	bedprep.Sod:       {"Old sod or new ground", "The sod is chopped in and rots for {manure gap}."},
	bedprep.GreenManure: {"A green manure grows on it", "Cut before one plant in ten is in flower, chopped in, {manure gap} to rot. It " +
		"brings its own organic matter."},
	bedprep.NoDig: {"A bed that is not dug", "Roots stay in, the top is tested, everything is put on top."},
	bedprep.AfterManure: {"A bed that had manure", "No more is added. Fresh manure keeps lime and ash off for {nitrogen days} and planting " +
		"for {manure gap}."},
	bedprep.Tired: {"A tired bed", "Where things grow poorly: air and water first, a full test, then more compost."},
}

// Template returns the name of a template.
func Template(id bedprep.TemplateID) string { return templates[id].name }

// TemplateSays returns what to know of a template.
func (u Units) TemplateSays(id bedprep.TemplateID) string { return u.say(templates[id].says) }

// looks are the questions of the check whether soil is ready, signs their answers, and what the
// unfavourable ones ask for.
var (
	looks = map[string]string{"handful": "A handful, pressed and poked", "smell": "It smells", "wetness": "It is"}
	signs = map[bedprep.Sign]struct{ name, against string }{
		bedprep.Crumbles: {"crumbles", ""}, bedprep.Breaks: {"holds together, and breaks when poked", ""},
		bedprep.Smears: {"smears and shines", "it smears, so working it now would seal it"},
		bedprep.Earthy: {"of earth", ""}, bedprep.NoSmell: {"of nothing", ""},
		bedprep.Rotten:  {"sour or rotten", "it smells rotten: it wants air before it is planted"},
		bedprep.Ammonia: {"sharp, of ammonia", "it smells of ammonia, which burns roots: what was dug in is not rotted yet"},
		bedprep.Moist:   {"moist", ""}, bedprep.Dusty: {"dust dry", "it is dust dry: water it well"},
		bedprep.Soaked: {"wet through", "it is wet through: let it drain"},
	}
)

// Look returns a question of the check.
func Look(id string) string { return looks[id] }

// Sign returns the wording of an answer.
func Sign(s bedprep.Sign) string { return signs[s].name }

// NotReady returns the sentence on why ground is not ready, and when to look again.
func NotReady(against []bedprep.Sign, again quantity.Day) string {
	var why []string
	for _, s := range against {
		why = append(why, signs[s].against)
	}
	return "Not ready: " + List(why) + ". Look again on " + Weekday(again)
}

// Found returns the sentence on what a look found.
func Found(found []bedprep.Sign) string {
	var all []string
	for _, s := range found {
		all = append(all, signs[s].name)
	}
	return List(all)
}

// TookItBack is the note on a green manure that was worked in.
const TookItBack = "it gave back the potash that it took"

// StepWaits returns the sentence that a step waits for one before it.
func StepWaits(before bedprep.StepID, says string) string {
	return "“" + Lower(StepName(before, says)) + "” comes before it: tick it, or skip it, first"
}

// StepTooSoon returns the sentence that what went before a step must rest first.
func StepTooSoon(first quantity.Day) string {
	return "the step before it needs its time until " + DayYear(first)
}

// PreparationRests words a distance between a step and the planting or the next.
func PreparationRests(n quantity.Day) string { return Count(int(n), "day", "days") }

// Brings returns the material and rate of a step.
func (u Units) Brings(k material.Kind, rate quantity.Rate, total quantity.Mass) string {
	return u.Mass(total) + " of " + Material(k) + ", " + u.Rate(rate)
}

// Hint returns the sentence of a liming hint; reads is the bed's pH, 0 when untested.
func Hint(h bedprep.Hint, reads quantity.PH) string {
	name := Capital(h.Crop.Name)
	switch h.ID {
	case bedprep.SourYear:
		return name + ": no lime and no ash from " + DayYear(h.From) + " until they are off, " + DayYear(h.To)
	case bedprep.LimeTight:
		return name + " needs a higher pH, but the crop before leaves no time for lime: plan another year or another bed"
	}
	says := name + " needs " + PH(h.Crop.Range.Low) + " or more"
	if reads > 0 {
		says += ", it reads " + PH(reads)
	} else {
		says += ": test it"
	}
	return says + "; lime from " + DayYear(h.From) + " to " + DayYear(h.To) + ", so that it has acted by then"
}
