package garden

import (
	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Kinds of task.
const (
	TaskApplication = "go"
	TaskRetest      = "retest"
	// TaskStep is a preparation step that applies nothing.
	TaskStep = "step"
)

// States of a task.
const (
	Open    = "open"
	Done    = "done"
	Skipped = "skipped"
)

// Task is work on a day.
type Task struct {
	Meta
	BedID   int64          `db:"bed_id" json:"bed_id"`
	PlanID  *int64         `db:"plan_id" json:"plan_id"`
	Kind    string         `db:"kind" json:"kind"`
	Due     quantity.Day   `db:"due" json:"due"`
	What    material.Kind  `db:"material" json:"material"`
	BatchID *int64         `db:"batch_id" json:"batch_id"`
	Rate    quantity.Rate  `db:"rate_g_m2" json:"rate_g_m2"`
	Total   quantity.Mass  `db:"total_g" json:"total_g"`
	PHAfter *quantity.PH   `db:"ph_after" json:"ph_after"`
	State   string         `db:"state" json:"state"`
	Settled quantity.Day   `db:"settled" json:"settled"`
	Why     string         `db:"why" json:"why"`
	Method  soil.Method    `db:"method" json:"method"`
	Depth   quantity.Depth `db:"depth_m" json:"depth_m"`
	// Chosen is set when the gardener moved it to its day.
	Chosen bool `db:"chosen" json:"chosen"`
	// PreparationID is its preparation, Place its position in it. Wait is the interval to the next
	// step in days, Before the interval to the planting; Says is the text of an own step.
	PreparationID *int64         `db:"turning_id" json:"turning_id"`
	Step          bedprep.StepID `db:"step" json:"step"`
	Place         int64          `db:"place" json:"place"`
	Wait          int64          `db:"wait_days" json:"wait_days"`
	Before        int64          `db:"before_days" json:"before_days"`
	Says          string         `db:"says" json:"says"`
}

func (t *Task) check(f Faults) {
	known(f, "kind", TaskKinds, t.Kind)
	known(f, "state", taskStates, t.State)
	wanted(f, "due", t.Due)
	if t.State != Open {
		wanted(f, "settled", t.Settled)
	} else if t.Settled != 0 {
		f["settled"] = "what is still to do was not done on a day"
	}
	if t.Kind == TaskApplication {
		knownMaterial(f, "material", t.What)
		LimitAmount.hold(f, "total_g", float64(t.Total))
	}
	if t.PreparationID != nil {
		t.checkStep(f)
	} else if t.Kind == TaskStep {
		f["turning_id"] = "a step belongs to the preparation of a bed"
	}
	LimitRate.hold(f, "rate_g_m2", float64(t.Rate))
	holdOpt(LimitPH, f, "ph_after", t.PHAfter)
	if t.Method != "" {
		if _, ok := soil.FindMethod(t.Method); !ok {
			f["method"] = "that is not a way of reading"
		}
	}
	if t.Depth != 0 && !LimitDepth.Holds(float64(t.Depth)) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
}

// TaskKinds lists the kinds of task.
var TaskKinds = []string{TaskApplication, TaskRetest, TaskStep}

var taskStates = []string{Open, Done, Skipped}

var taskTable = Table{Name: "tasks", Order: "due, id", One: "task", New: func() Record { return &Task{} }, Most: 500_000,
	Agrees: []Agree{{"plan_id", "plans", "bed_id", "belongs to a plan of another bed"},
		{"turning_id", "turnings", "bed_id", "belongs to the preparation of another bed"}}}

// AsPut returns a done application with what went on in place of what was planned; other tasks are
// returned as they are.
func (t Task) AsPut(put []Application) Task {
	if t.State != Done || t.Kind != TaskApplication {
		return t
	}
	for i := range put {
		if a := &put[i]; a.TaskID != nil && *a.TaskID == t.ID {
			t.What, t.BatchID, t.Total, t.Rate = a.What, a.BatchID, a.Total, a.Rate
		}
	}
	return t
}

// On returns the day that it stands on: the day it was done, else the day it is to be done.
func (t *Task) On() quantity.Day {
	if t.State == Done {
		return t.Settled
	}
	return t.Due
}

// OfBed returns its bed.
func (t *Task) OfBed() int64 { return t.BedID }

// CheckTask validates a task, by field.
func CheckTask(t *Task) error {
	f := Faults{}
	t.check(f)
	return f.OrNil()
}
