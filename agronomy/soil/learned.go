package soil

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// ByLearned is the method that scales another one by what the bed's own retests have shown.
const ByLearned LimeMethod = "learned"

// Learned is the buffering that a bed's own retests have shown.
type Learned struct {
	// Beside is the method that it scales.
	Beside LimeMethod
	// Factor is the shown buffering relative to that method; LogSD is the standard deviation of its
	// logarithm, Tests the number of retests behind it.
	Factor, LogSD float64
	Tests         int
	// Joint are the weighted samples of level on Day and buffering together. Empty: the two are
	// taken as independent.
	Joint []Draw
	// Level is the pH on Day, that of the last reading, estimated from all readings; LevelSD is its
	// standard deviation. 0: the last reading stands.
	Level   quantity.PH
	LevelSD float64
	Day     quantity.Day
}

// Draw is one weighted sample: a level on the day, pH with its standard deviation, and the
// buffering factor that goes with it.
type Draw struct {
	Weight float64
	Start  quantity.PH
	SD     float64
	Factor float64
}

// byLearned scales another method's raising curve. The lowering curve stays: retests after lime say
// little about free lime and sulfur.
func byLearned(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	l := g.Learned
	if l == nil {
		return missing("school.buffering", "no retest has shown yet how much lime this bed needs")
	}
	beside, err := Buffer(l.Beside, g, r, target)
	if err != nil {
		return err
	}
	*b = beside
	b.Method, b.Beside = ByLearned, &beside
	if target >= r.Water() {
		b.LogSD = l.LogSD
	}
	b.Raise = beside.Raise.Scaled(l.Factor)
	return nil
}

// learnedWorking returns the working of the scaled method and of the factor.
func (b *Buffering) learnedWorking(from, to quantity.PH) []working.Step {
	l := b.Ground.Learned
	steps := b.Beside.Working(from, to)
	return append(steps, working.Step{ID: "learned", Source: "learned",
		Result: working.Num("need", working.Rate, b.Raise.Need(from, to)),
		From: working.Values{steps[len(steps)-1].Result, working.Num("factor", working.None, l.Factor),
			working.Int("tests", working.None, l.Tests)}})
}
