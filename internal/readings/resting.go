package readings

import (
	"maps"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// answerRests ends the wait of the rests whose test a reading is: that of their plan, or, if none
// of the plan is open, one taken long enough after the last application.
func answerRests(tx Tx, a garden.Actor, r garden.Reading, tasks []garden.Task) error {
	if r.PH == nil {
		return nil
	}
	waiting, err := tx.RestsWaiting(r.BedID)
	if err != nil {
		return err
	}
	for i := range waiting {
		x := &waiting[i]
		open := slices.ContainsFunc(tasks, func(t garden.Task) bool {
			return t.Kind == garden.TaskRetest && t.State == garden.Open && t.PlanID != nil && *t.PlanID == x.PlanID
		})
		m, _ := material.Find(x.What)
		if open || x.Put == 0 || r.Date < x.Put+calendar.ActsBefore(m.Family) {
			continue
		}
		x.Settle(a.Today, &r.ID, "")
		if err := tx.Update(&x.Rest); err != nil {
			return err
		}
	}
	return nil
}

// reopenRests makes rests wait again if the reading that answered them is no longer valid, and
// reopens their test.
func reopenRests(tx Tx, reading garden.Reading) error {
	rests, err := garden.Where[garden.Rest](tx, "reading_id", reading.ID)
	if err != nil {
		return err
	}
	for i := range rests {
		x := &rests[i]
		x.State, x.Settled, x.ReadingID, x.Why = garden.RestWaiting, 0, nil, ""
		if err := tx.Update(x); err != nil {
			return err
		}
		tasks, err := garden.Where[garden.Task](tx, "plan_id", x.PlanID)
		if err != nil {
			return err
		}
		for n := range tasks {
			if t := &tasks[n]; t.Kind == garden.TaskRetest && t.State == garden.Done {
				t.State, t.Settled = garden.Open, 0
				if err := tx.Update(t); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// confirms reports whether a test confirms a surprising one: it belongs to no plan.
func confirms(t *garden.Task) bool {
	return t.Kind == garden.TaskRetest && t.PlanID == nil && t.PreparationID == nil
}

// confirmAll checks for surprises once per bed, since that goes through all of a bed's readings.
func confirmAll(tx Tx, a garden.Actor, read map[int64]garden.Reading) error {
	for _, bed := range slices.Sorted(maps.Keys(read)) {
		if err := confirm(tx, a, read[bed]); err != nil {
			return err
		}
	}
	return nil
}

// confirm plans the confirming test of a surprising one, and settles it once a test has decided.
func confirm(tx Tx, a garden.Actor, r garden.Reading) error {
	if r.PH == nil {
		return nil
	}
	surprise, err := bedstate.SurpriseOf(tx, r.BedID, a.Today)
	if err != nil {
		return err
	}
	tasks, err := garden.Where[garden.Task](tx, "bed_id", r.BedID)
	if err != nil {
		return err
	}
	tasks = slices.DeleteFunc(tasks, func(t garden.Task) bool { return t.State != garden.Open || !confirms(&t) })
	for i := range tasks {
		t := &tasks[i]
		switch {
		case surprise == nil && r.Struck != 0:
			err = tx.Delete(t) // nothing to confirm any more
		case surprise == nil:
			t.State, t.Settled = garden.Done, a.Today
			err = tx.Update(t)
		case t.Due < surprise.Test:
			t.Due = surprise.Test
			err = tx.Update(t)
		}
		if err != nil {
			return err
		}
	}
	if surprise == nil || len(tasks) > 0 {
		return nil
	}
	t := garden.Task{BedID: r.BedID, Kind: garden.TaskRetest, Due: surprise.Test, State: garden.Open, Method: surprise.Read.Method,
		Depth: r.Depth}
	ph := surprise.Expected
	t.PHAfter = &ph
	return tx.Insert(&t)
}
