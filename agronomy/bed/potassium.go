package bed

import "zephyrfield/agronomy/soil"

// potassium reckons the potassium on the day from the reading that tells of it,
// what was put on and what crops carried off since: the one place where it is
// judged.
func (s *State) potassium(r *Record) soil.PotassiumNow {
	var moved soil.KMoved
	if s.Reading.Potassium != nil {
		since := s.Reading.KDate()
		moved.Given = r.History.K2OAfter(since)
		for i := range r.Grown {
			moved.Carried += r.Grown[i].Carried(since, r.Date, r.Date)
		}
	}
	return soil.CarryPotassium(s.Ground, s.Reading, moved, r.Date)
}
