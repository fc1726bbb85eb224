package dose

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

// Schools are the choices between published rules that differ. A field may be ""
// for the usual.
type Schools struct {
	Buffering soil.School
	Ash       material.AshSchool
	Act       crop.ActSchool
	Retest    calendar.Rhythm
	Water     WaterSchool
	TomatoAsh TomatoSchool
	Fizz      FizzSchool
	Pace      PaceSchool
}

// PaceSchool is the id of a school on how much of a dose goes on before a test.
type PaceSchool string

// Schools of pace: the largest share that is unlikely to overshoot, then a test before the rest; or the whole dose.
const (
	Careful   PaceSchool = "careful"
	AllAtOnce PaceSchool = "all-at-once"
)

// FizzSchool is the id of a school on what two jars are good for.
type FizzSchool string

// Schools of jar fizz: it raises a question only, or it carries a light dusting.
const (
	FizzQuestion FizzSchool = "question"
	FizzDusting  FizzSchool = "dusting"
)

// TomatoSchool is the id of a school on ash near tomatoes.
type TomatoSchool string

// Schools of ash near tomatoes.
const (
	AshOnTomatoes TomatoSchool = "yes"
	NoTomatoAsh   TomatoSchool = "no"
)

// WaterSchool is the id of a school on what hard water counts for.
type WaterSchool string

// Schools of watering.
const (
	WaterCounts  WaterSchool = "counts"
	WaterIgnored WaterSchool = "ignored"
)

// Question is a matter that growers differ on, with the schools to choose from.
type Question struct {
	// Name is its field in requests and forms.
	Name string
	// IDs are its schools, the usual first; Habits those that a garden may have as
	// its habit: that its own facts can feed.
	IDs, Habits []string
	get         func(*Schools) string
	set         func(*Schools, string)
}

// Questions are all of them: the one table of the schools on offer.
var Questions = []Question{
	question("buffering", func(s *Schools) *soil.School { return &s.Buffering }, soil.Schools, soil.HabitSchools),
	question("ash", func(s *Schools) *material.AshSchool { return &s.Ash }, material.AshSchools, material.AshSchools),
	question("act", func(s *Schools) *crop.ActSchool { return &s.Act }, crop.ActSchools, crop.ActSchools),
	two("pace", func(s *Schools) *PaceSchool { return &s.Pace }, Careful, AllAtOnce),
	question("retest", func(s *Schools) *calendar.Rhythm { return &s.Retest }, calendar.Rhythms, calendar.Rhythms),
	two("water", func(s *Schools) *WaterSchool { return &s.Water }, WaterCounts, WaterIgnored),
	two("tomato_ash", func(s *Schools) *TomatoSchool { return &s.TomatoAsh }, AshOnTomatoes, NoTomatoAsh),
	two("fizz", func(s *Schools) *FizzSchool { return &s.Fizz }, FizzQuestion, FizzDusting),
}

func question[T ~string](name string, at func(*Schools) *T, all, habits []T) Question {
	texts := func(list []T) []string {
		out := make([]string, len(list))
		for i, x := range list {
			out[i] = string(x)
		}
		return out
	}
	return Question{name, texts(all), texts(habits), func(s *Schools) string { return string(*at(s)) },
		func(s *Schools, id string) { *at(s) = T(id) }}
}

func two[T ~string](name string, at func(*Schools) *T, usual, other T) Question {
	list := []T{usual, other}
	return question(name, at, list, list)
}

// Of is the school that was chosen; "" for the usual.
func (q *Question) Of(s *Schools) string { return q.get(s) }

// Choose sets the school. One that is not on offer is not told: see Holds.
func (q *Question) Choose(s *Schools, id string) { q.set(s, id) }

// Holds tells whether an id is one of its schools.
func (q *Question) Holds(id string) bool { return slices.Contains(q.IDs, id) }

// DefaultSchools are those used when none is named.
var DefaultSchools = Schools{}.Or(Schools{})

// Or takes what was not chosen from others, and from the usual.
func (s Schools) Or(others Schools) Schools {
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

// UsualKinds are offered as bought where none is named: those of all answers, each
// once.
func UsualKinds() (kinds []material.Kind) {
	for _, b := range slices.Concat(usualRaising, usualLowering, usualPotassium) {
		if !slices.Contains(kinds, b.Kind) {
			kinds = append(kinds, b.Kind)
		}
	}
	return kinds
}
