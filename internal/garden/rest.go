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

// Rest is the part of a planned dose that waits for the plan's test. It is not a task and has no
// day, so it cannot be applied before the test is read. Then it is answered, and the new reading's
// dose replaces it.
type Rest struct {
	Meta
	BedID   int64         `db:"bed_id" json:"bed_id"`
	PlanID  int64         `db:"plan_id" json:"plan_id"`
	What    material.Kind `db:"material" json:"material"`
	BatchID *int64        `db:"batch_id" json:"batch_id"`
	Rate    quantity.Rate `db:"rate_g_m2" json:"rate_g_m2"`
	Total   quantity.Mass `db:"total_g" json:"total_g"`
	State   string        `db:"state" json:"state"`
	// Settled is the day on which it was answered or dropped, ReadingID the reading that answered
	// it, Why the reason for dropping it.
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

// OfBed returns its bed.
func (x *Rest) OfBed() int64 { return x.BedID }

// Settle ends the wait on a day: answered by a reading, or dropped for a reason.
func (x *Rest) Settle(day quantity.Day, reading *int64, why string) {
	x.State, x.Settled, x.ReadingID, x.Why = RestDropped, day, reading, why
	if reading != nil {
		x.State = RestAnswered
	}
}

// WaitingOf returns the waiting rests of a plan.
func WaitingOf(r Reader, plan int64) ([]Rest, error) {
	all, err := Where[Rest](r, "plan_id", plan)
	return slices.DeleteFunc(all, func(x Rest) bool { return x.State != RestWaiting }), err
}

// OlderRequest adapts the request of a plan made before rests were stored: the whole dose was
// planned at once.
func OlderRequest(request JSON) JSON {
	var q map[string]json.RawMessage
	if json.Unmarshal(request, &q) != nil {
		return request
	}
	_, half := q["half_first"]
	delete(q, "half_first")
	method := map[string]json.RawMessage{}
	if raw, ok := q["school"]; ok && json.Unmarshal(raw, &method) != nil {
		return request
	}
	if _, ok := method["pace"]; ok && !half {
		return request
	} else if !ok {
		method["pace"] = json.RawMessage(`"all-at-once"`)
	}
	var err error
	if q["school"], err = json.Marshal(method); err != nil {
		return request
	}
	out, err := json.Marshal(q)
	if err != nil {
		return request
	}
	return out
}

// WaitingRest is a waiting rest with the day of its plan's last application (0: none) and the day
// of the plan.
type WaitingRest struct {
	Rest
	Put  quantity.Day `db:"put"`
	Made quantity.Day `db:"made"`
}

// Lapses returns the day from which the rest is out of date.
func (x *WaitingRest) Lapses() quantity.Day {
	return max(x.Put, x.Made).AddMonths(calendar.LapseMonths)
}

// PlanAim is a plan's aim and crop.
type PlanAim struct {
	ID     int64       `db:"id"`
	BedID  int64       `db:"bed_id"`
	Target quantity.PH `db:"target_ph"`
	Crop   string      `db:"crop"`
}
