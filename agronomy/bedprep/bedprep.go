// Package bedprep holds the steps that prepare a bed for its next crop, with the intervals between
// them and before the planting.
package bedprep

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// StepID is the kind of a step.
type StepID string

// Steps.
const (
	Clear   StepID = "clear"
	CutDown StepID = "cut-down"
	Strip   StepID = "strip"
	Cut     StepID = "cut"
	ChopIn  StepID = "chop-in"
	Loosen  StepID = "loosen"
	Test    StepID = "test"
	Correct StepID = "correct"
	Organic StepID = "organic"
	Meals   StepID = "meals"
	Mulch   StepID = "mulch"
	Water   StepID = "water"
	Check   StepID = "check"
	Plant   StepID = "plant"
	// Own is a step described by the gardener.
	Own StepID = "own"
)

// Steps lists them.
var Steps = []StepID{Clear, CutDown, Strip, Cut, ChopIn, Loosen, Test, Correct, Organic, Meals, Mulch, Water, Check, Plant, Own}

// Step is one step of a preparation.
type Step struct {
	ID StepID `json:"id"`
	// Wait is the least number of days before the next step, Before the least before the planting;
	// Lead is the preferred number before the planting, when there is time.
	Wait   quantity.Day `json:"wait_days,omitempty"`
	Before quantity.Day `json:"before_days,omitempty"`
	Lead   quantity.Day `json:"lead_days,omitempty"`
	// Material is applied with it; "": nothing.
	Material material.Kind `json:"material,omitempty"`
	Rate     quantity.Rate `json:"rate_g_m2,omitempty"`
	// Says describes an own step.
	Says string `json:"says,omitempty"`
}

// Opens reports whether a step works the soil, which must be open.
func (s StepID) Opens() bool {
	return slices.Contains([]StepID{Strip, ChopIn, Loosen, Check, Plant}, s)
}

// Clears reports whether a step removes what grew there.
func (s StepID) Clears() bool { return slices.Contains([]StepID{Clear, CutDown, Strip, Cut}, s) }

// Intervals in days.
const (
	// answer is how long a laboratory takes.
	answer quantity.Day = 14
	// wilts is how long cut plants lie before they are worked in.
	wilts quantity.Day = 3
	// fresh is the rest after fresh or wet material was worked in, rotten after rotted.
	fresh  = calendar.ManureGap
	rotted = calendar.RottedGap
	// looked is how long before planting the soil is checked, so that faults can still be
	// corrected.
	looked quantity.Day = 2
)

// TemplateID is the id of a template.
type TemplateID string

// Templates.
const (
	Vegetable   TemplateID = "vegetable"
	Sod         TemplateID = "sod"
	GreenManure TemplateID = "green-manure"
	NoDig       TemplateID = "no-dig"
	AfterManure TemplateID = "after-manure"
	Tired       TemplateID = "tired"
)

// Template is an ordered list of steps from one crop to the next.
type Template struct {
	ID    TemplateID
	Steps []Step
}

var (
	test    = Step{ID: Test, Wait: answer}
	correct = Step{ID: Correct, Lead: dose.LimeTime}
	check   = Step{ID: Check, Before: looked}
	compost = Step{ID: Organic, Material: material.Compost, Rate: 3000, Before: rotted}
	ends    = []Step{{ID: Mulch}, {ID: Water}, check, {ID: Plant}}
)

// with returns steps followed by those that end every template.
func with(steps ...Step) []Step { return append(steps, ends...) }

// Templates lists the templates in the order in which they are offered.
var Templates = []Template{
	{Vegetable, with(Step{ID: Clear}, Step{ID: Loosen}, test, correct, compost, Step{ID: Meals})},
	{Sod, with(Step{ID: Strip, Before: fresh}, Step{ID: Loosen}, test, correct, compost, Step{ID: Meals})},
	{GreenManure, with(Step{ID: Cut, Wait: wilts}, Step{ID: ChopIn, Before: fresh}, test, correct, Step{ID: Meals})},
	{NoDig, with(Step{ID: CutDown}, test, correct, compost)},
	{AfterManure, with(Step{ID: Clear}, Step{ID: Loosen}, test, correct)},
	{Tired, with(Step{ID: Clear}, Step{ID: Loosen}, test, correct,
		Step{ID: Organic, Material: material.Compost, Rate: 5000, Before: rotted}, Step{ID: Meals})},
}

// Find returns a template by its name.
func Find(id TemplateID) (Template, bool) {
	for _, t := range Templates {
		if t.ID == id {
			return t, true
		}
	}
	return Template{}, false
}

// Matter lists the materials offered as organic matter, MealKinds those offered as meal.
var (
	Matter = []material.Kind{material.Compost, "rotted-manure", material.Manure, "horse-manure", "sheep-manure", "poultry-manure",
		"poultry-pellets", "mushroom-compost", "leaf-mould"}
	MealKinds = []material.Kind{"bone-meal", "hoof-and-horn", "blood-meal", "fish-meal", "rock-phosphate", "rock-dust"}
)

// Gives sets the material of a step and the intervals that it needs: fresh or wet material rests
// longer before the planting, and what gives off ammonia is kept from lime or ash before it. Fresh
// manure also keeps its distance from the first harvest of the next crop.
func Gives(steps []Step, id StepID, m material.Material, rate quantity.Rate, next crop.Crop) {
	for i := range steps {
		if steps[i].ID != id {
			continue
		}
		steps[i].Material, steps[i].Rate = m.Kind, rate
		if id == Organic {
			steps[i].Before = calendar.ManureBefore(&m, next)
		}
		if before := i - 1; before >= 0 && steps[before].ID == Correct {
			steps[before].Wait = 0
			if m.GivesAmmonia() {
				steps[before].Wait = calendar.NitrogenDays
			}
		}
	}
}

// Dates schedules steps backwards from a planting, none before today; where time is short, each on
// the first day that the steps before it allow.
func Dates(steps []Step, planting, today quantity.Day) []quantity.Day {
	out := make([]quantity.Day, len(steps))
	next := planting
	for i := len(steps) - 1; i >= 0; i-- {
		s := &steps[i]
		day := min(next-s.Wait, planting-max(s.Before, s.Lead))
		if s.ID == Plant {
			day = planting
		}
		out[i], next = day, day
	}
	first := today
	for i := range steps {
		if steps[i].ID == Plant {
			for j := range i {
				first = max(first, out[j]+steps[j].Before)
			}
		}
		out[i] = max(out[i], first)
		first = out[i] + steps[i].Wait
	}
	return out
}

// Stage is a step with its state.
type Stage struct {
	Step
	// Item is its number in the plan.
	Item int64
	// Settled is the day on which it was done or skipped, 0 while open.
	Settled quantity.Day
	Skipped bool
}

// Link is what a stage depends on.
type Link struct {
	After     []calendar.After
	NotBefore quantity.Day
}

// Chain returns what each stage depends on: the last stage before it that was not skipped, with its
// wait, and for a planting all that must precede it. Manure in the ledger counts like one of the
// steps.
func Chain(stages []Stage, l ledger.Ledger, next crop.Crop) []Link {
	out := make([]Link, len(stages))
	for i := range stages {
		out[i].follow(stages[:i])
		switch stages[i].ID {
		case Plant:
			out[i].last(stages[:i])
			for n := range l {
				if rest := calendar.ManureBefore(&l[n].Material, next); rest > 0 {
					out[i].NotBefore = max(out[i].NotBefore, l[n].Date+rest)
				}
			}
		case Correct:
			for n := range l {
				if l[n].Material.GivesAmmonia() {
					out[i].NotBefore = max(out[i].NotBefore, l[n].Date+calendar.NitrogenDays)
				}
			}
		}
	}
	return out
}

// follow links a stage to the last one before it that was not skipped.
func (x *Link) follow(before []Stage) {
	for j := len(before) - 1; j >= 0; j-- {
		p := &before[j]
		switch {
		case p.Skipped:
			continue
		case p.Settled == 0:
			x.After = append(x.After, calendar.After{Item: p.Item, Days: p.Wait})
		case p.ID == Test:
			x.NotBefore = p.Settled // the lab has answered
		default:
			x.NotBefore = p.Settled + p.Wait
		}
		return
	}
}

// last links a planting to all that must precede it.
func (x *Link) last(before []Stage) {
	for j := range before {
		p := &before[j]
		switch {
		case p.Skipped || p.Before == 0:
		case p.Settled == 0:
			x.After = append(x.After, calendar.After{Item: p.Item, Days: p.Before})
		default:
			x.NotBefore = max(x.NotBefore, p.Settled+p.Before)
		}
	}
}

// LeadOf returns the preferred number of days between a step and a planting.
func LeadOf(id StepID) quantity.Day {
	if id == Correct {
		return correct.Lead
	}
	return 0
}

// UsualRate returns the default rate of a step's material.
func UsualRate(id StepID) quantity.Rate {
	if id == Organic {
		return compost.Rate
	}
	return usualMeal
}

// usualMeal is the default rate of a meal; its bag says more.
const usualMeal quantity.Rate = 100
