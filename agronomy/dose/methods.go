package dose

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

// Methods are the chosen answers where published rules differ. An empty field takes the default.
type Methods struct {
	Buffering soil.LimeMethod
	Ash       material.AshApproach
	Act       crop.Trigger
	Retest    calendar.Rhythm
	Water     WaterApproach
	TomatoAsh TomatoApproach
	Fizz      FizzApproach
	Pace      Pace
}

// Pace is the id of a method for how much of a dose is applied before a test.
type Pace string

// The pace methods: the largest share unlikely to overshoot, then a test before the rest; or the
// whole dose.
const (
	Careful   Pace = "careful"
	AllAtOnce Pace = "all-at-once"
)

// FizzApproach is the id of a method for the use of jar tests.
type FizzApproach string

// The jar test methods: raising a question only, or allowing a light dusting.
const (
	FizzQuestion FizzApproach = "question"
	FizzDusting  FizzApproach = "dusting"
)

// TomatoApproach is the id of a method for ash near tomatoes.
type TomatoApproach string

// The methods for ash near tomatoes.
const (
	AshOnTomatoes TomatoApproach = "yes"
	NoTomatoAsh   TomatoApproach = "no"
)

// WaterApproach is the id of a method for counting hard water.
type WaterApproach string

// The watering methods.
const (
	WaterCounts  WaterApproach = "counts"
	WaterIgnored WaterApproach = "ignored"
)

// Question is a matter that growers disagree on, with its methods.
type Question struct {
	// Name is its field in requests and forms.
	Name string
	// IDs are its methods, the default first; Habits those that a garden can have as its default,
	// since they need only its own facts.
	IDs, Habits []string
	get         func(*Methods) string
	set         func(*Methods, string)
}

// Questions is the table of all questions.
var Questions = []Question{
	question("buffering", func(s *Methods) *soil.LimeMethod { return &s.Buffering }, soil.LimeMethods, soil.HabitMethods),
	question("ash", func(s *Methods) *material.AshApproach { return &s.Ash }, material.AshApproaches, material.AshApproaches),
	question("act", func(s *Methods) *crop.Trigger { return &s.Act }, crop.Triggers, crop.Triggers),
	two("pace", func(s *Methods) *Pace { return &s.Pace }, Careful, AllAtOnce),
	question("retest", func(s *Methods) *calendar.Rhythm { return &s.Retest }, calendar.Rhythms, calendar.Rhythms),
	two("water", func(s *Methods) *WaterApproach { return &s.Water }, WaterCounts, WaterIgnored),
	two("tomato_ash", func(s *Methods) *TomatoApproach { return &s.TomatoAsh }, AshOnTomatoes, NoTomatoAsh),
	two("fizz", func(s *Methods) *FizzApproach { return &s.Fizz }, FizzQuestion, FizzDusting),
}

func question[T ~string](name string, at func(*Methods) *T, all, habits []T) Question {
	texts := func(list []T) []string {
		out := make([]string, len(list))
		for i, x := range list {
			out[i] = string(x)
		}
		return out
	}
	return Question{name, texts(all), texts(habits), func(s *Methods) string { return string(*at(s)) },
		func(s *Methods, id string) { *at(s) = T(id) }}
}

func two[T ~string](name string, at func(*Methods) *T, usual, other T) Question {
	list := []T{usual, other}
	return question(name, at, list, list)
}

// Of returns the chosen method; "" for the default.
func (q *Question) Of(s *Methods) string { return q.get(s) }

// Choose sets a method by id, unchecked.
func (q *Question) Choose(s *Methods, id string) { q.set(s, id) }

// DefaultMethods are the defaults.
var DefaultMethods = Methods{}.Or(Methods{})

// Or fills empty fields from others, then from the defaults.
func (s Methods) Or(others Methods) Methods {
	for i := range Questions {
		q := &Questions[i]
		for _, id := range []string{q.get(&others), q.IDs[0]} {
			if q.get(&s) == "" {
				q.set(&s, id)
			}
		}
	}
	return s
}

// UsualKinds returns the materials offered as bought when none is named: those of all answers, each
// once.
func UsualKinds() (kinds []material.Kind) {
	for _, b := range slices.Concat(usualRaising, usualLowering, usualPotassium) {
		if !slices.Contains(kinds, b.Kind) {
			kinds = append(kinds, b.Kind)
		}
	}
	return kinds
}
