package soil

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// ByLearned is what a bed's own retests have taught, beside another method.
const ByLearned LimeMethod = "learned"

// Learned is what a bed's own retests say of the buffering that it has shown.
type Learned struct {
	// Beside is the method that it is reported beside.
	Beside LimeMethod
	// Factor is the buffering that the bed has shown, of what that method has: 1 as the method has it. LogSD is its doubt, in the
	// logarithm, Tests how many retests taught it.
	Factor, LogSD float64
	Tests         int
	// Joint are the beliefs behind it together: where the bed stood on Day, and the buffering that it has shown if it stood there. None:
	// the two are
	// doubted apart.
	Joint []Draw
	// Level is what all its readings together say that it stood at on Day, that of the last of them, LevelSD how
	// sure they are, pH. No Level: the last reading stands.
	Level   quantity.PH
	LevelSD float64
	Day     quantity.Day
}

// Draw is one belief of a bed, with its weight: where it stands, pH with its sd, and the buffering that it has shown beside the method
// if it does.
type Draw struct {
	Weight float64
	Start  quantity.PH
	SD     float64
	Factor float64
}

// byLearned scales what another method gives for raising; lowering follows that method as it is, since what lime taught
// says little of free lime and of sulfur.
func byLearned(b *Buffering, g Ground, r Reading, target quantity.PH) error {
	l := g.Learned
	if l == nil {
		return missing("school.buffering", "no retest has taught how stubborn this bed is yet")
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

// learnedWorking is the working of the method that it stands beside, and what the bed made of it.
func (b *Buffering) learnedWorking(from, to quantity.PH) []working.Step {
	l := b.Ground.Learned
	steps := b.Beside.Working(from, to)
	return append(steps, working.Step{ID: "learned", Source: "learned",
		Result: working.Num("need", working.Rate, b.Raise.Need(from, to)),
		From: working.Values{steps[len(steps)-1].Result, working.Num("factor", working.None, l.Factor),
			working.Int("tests", working.None, l.Tests)}})
}
