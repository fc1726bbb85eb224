package garden

import (
	"encoding/json"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// States of a rest.
const (
	RestWaiting  = "waiting"
	RestAnswered = "answered"
	RestDropped  = "dropped"
)

var restStates = []string{RestWaiting, RestAnswered, RestDropped}

// Rest is what of a planned dose waits for the plan's test. It is no task and has no day: nothing can put it on before the test is
// read. Then it is answered, and the dose of the new reading takes its place.
type Rest struct {
	Meta
	BedID   int64         `db:"bed_id" json:"bed_id"`
	PlanID  int64         `db:"plan_id" json:"plan_id"`
	What    material.Kind `db:"material" json:"material"`
	BatchID *int64        `db:"batch_id" json:"batch_id"`
	Rate    quantity.Rate `db:"rate_g_m2" json:"rate_g_m2"`
	Total   quantity.Mass `db:"total_g" json:"total_g"`
	State   string        `db:"state" json:"state"`
	// Settled is the day on which it was answered or dropped, ReadingID the reading that answered it, Why why it was dropped.
	Settled   quantity.Day `db:"settled" json:"settled"`
	ReadingID *int64       `db:"reading_id" json:"reading_id"`
	Why       string       `db:"why" json:"why"`
}

var restTable = Table{Name: "rests", One: "rest of a dose", New: func() Record { return &Rest{} }, Most: 200_000,
	Agrees: []Agree{{"plan_id", "plans", "bed_id", "belongs to a plan of another bed"},
		{"reading_id", "readings", "bed_id", "was answered by a reading of another bed"}}}

func (x *Rest) check(f Faults) {
	known(f, "state", restStates, x.State)
	knownMaterial(f, "material", x.What)
	LimitAmount.hold(f, "total_g", float64(x.Total))
	LimitRate.hold(f, "rate_g_m2", float64(x.Rate))
	if x.State != RestWaiting {
		wanted(f, "settled", x.Settled)
	} else if x.Settled != 0 || x.ReadingID != nil {
		f["settled"] = "what waits has not been answered"
	}
	if why := TextFault(x.Why, LongestNote, true); why != "" {
		f["why"] = why
	}
}

// OfBed returns the bed that it is for.
func (x *Rest) OfBed() int64 { return x.BedID }

// Settle ends the waiting on a day: answered by a reading, or dropped for a reason.
func (x *Rest) Settle(day quantity.Day, reading *int64, why string) {
	x.State, x.Settled, x.ReadingID, x.Why = RestDropped, day, reading, why
	if reading != nil {
		x.State = RestAnswered
	}
}

// WaitingOf returns the rests of a plan that wait.
func WaitingOf(r Reader, plan int64) ([]Rest, error) {
	all, err := Where[Rest](r, "plan_id", plan)
	return slices.DeleteFunc(all, func(x Rest) bool { return x.State != RestWaiting }), err
}

// OlderRequest returns the request of a plan that was made before rests waited, as it is read now:
// the whole dose was planned at once.
func OlderRequest(request JSON) JSON {
	var q map[string]json.RawMessage
	if json.Unmarshal(request, &q) != nil {
		return request
	}
	_, half := q["half_first"]
	delete(q, "half_first")
	school := map[string]json.RawMessage{}
	if raw, ok := q["school"]; ok && json.Unmarshal(raw, &school) != nil {
		return request
	}
	if _, ok := school["pace"]; ok && !half {
		return request
	} else if !ok {
		school["pace"] = json.RawMessage(`"all-at-once"`)
	}
	var err error
	if q["school"], err = json.Marshal(school); err != nil {
		return request
	}
	out, err := json.Marshal(q)
	if err != nil {
		return request
	}
	return out
}

// WaitingRest is a rest that waits, with the day on which something of its plan went on last (no day: nothing did) and that on which
// the plan was made.
type WaitingRest struct {
	Rest
	Put  quantity.Day `db:"put"`
	Made quantity.Day `db:"made"`
}

// Lapses returns the day from which the rest waits no more.
func (x *WaitingRest) Lapses() quantity.Day {
	return max(x.Put, x.Made).AddMonths(calendar.LapseMonths)
}

// PlanAim is what a plan was to bring its bed to, and for which crop.
type PlanAim struct {
	ID     int64       `db:"id"`
	BedID  int64       `db:"bed_id"`
	Target quantity.PH `db:"target_ph"`
	Crop   string      `db:"crop"`
}
