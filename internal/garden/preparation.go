package garden

import (
	"encoding/json"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/quantity"
)

// Preparation is the preparation of a bed for a planting; its steps are tasks.
type Preparation struct {
	Meta
	BedID      int64 `db:"bed_id" json:"bed_id"`
	PlantingID int64 `db:"planting_id" json:"planting_id"`
	// Template is the template's id, or the name of an own one.
	Template string       `db:"template" json:"template"`
	Made     quantity.Day `db:"made" json:"made"`
	// Closed is the day on which it was planted, or dropped; 0 while open.
	Closed quantity.Day `db:"closed" json:"closed"`
}

var preparationTable = Table{Name: "turnings", One: "preparation", New: func() Record { return &Preparation{} }, Most: 200_000,
	Agrees: []Agree{{"planting_id", "plantings", "bed_id", "is for a crop of another bed"}}}

func (t *Preparation) check(f Faults) {
	wanted(f, "made", t.Made)
	order(f, "closed", t.Made, t.Closed)
	if why := nameFault(t.Template, "it was made from a way of some name"); why != "" {
		f["template"] = why
	}
}

// OfBed returns its bed.
func (t *Preparation) OfBed() int64 { return t.BedID }

// Open reports whether it is still to be planted.
func (t *Preparation) Open() bool { return t.Closed == 0 }

// OwnTemplate is a template of the gardener's own.
type OwnTemplate struct {
	Meta
	Name string `db:"name" json:"name"`
	// NameKey is the name folded for comparison; the store maintains it.
	NameKey string `db:"name_key" json:"-"`
	Steps   JSON   `db:"steps" json:"steps"`
}

var wayTable = Table{Name: "ways", One: "way to turn a bed over", New: func() Record { return &OwnTemplate{} }, Most: mostWays,
	Alone: []Alone{{"name", "name", "there is a way of that name already", "choose another"}}}

// mostWays and mostSteps bound own templates.
const (
	mostWays  = 200
	mostSteps = 40
)

// SetKeys sets NameKey.
func (w *OwnTemplate) SetKeys() { w.NameKey = Fold(w.Name) }

// Called returns its name.
func (w *OwnTemplate) Called() string { return w.Name }

// Plan returns its steps.
func (w *OwnTemplate) Plan() (steps []bedprep.Step, err error) {
	err = json.Unmarshal(w.Steps, &steps)
	return steps, err
}

func (w *OwnTemplate) check(f Faults) {
	if why := nameFault(w.Name, "give it a name"); why != "" {
		f["name"] = why
	}
	steps, err := w.Plan()
	if err != nil || len(steps) == 0 || len(steps) > mostSteps {
		f["steps"] = "its steps cannot be read"
		return
	}
	for _, s := range steps {
		t := StepTask(s)
		t.checkStep(f)
	}
	if steps[len(steps)-1].ID != bedprep.Plant {
		f["steps"] = "the planting is its last step"
	}
}

// StepTask returns the task of a step, without its bed and day.
func StepTask(s bedprep.Step) Task {
	t := Task{Kind: TaskStep, State: Open, Step: s.ID, Wait: int64(s.Wait), Before: int64(s.Before), What: s.Material, Rate: s.Rate,
		Says: s.Says}
	switch {
	case s.ID == bedprep.Test:
		t.Kind = TaskRetest
	case s.Material != "":
		t.Kind = TaskApplication
	}
	return t
}

// Stage converts a task for package bedprep.
func (t *Task) Stage() bedprep.Stage {
	return bedprep.Stage{Item: t.ID, Settled: t.Settled, Skipped: t.State == Skipped, Step: bedprep.Step{ID: t.Step, Says: t.Says,
		Wait: quantity.Day(t.Wait), Before: quantity.Day(t.Before), Material: t.What, Rate: t.Rate}}
}

// mostRest is the longest wait of a step, days.
const mostRest = 365

func (t *Task) checkStep(f Faults) {
	known(f, "step", bedprep.Steps, t.Step)
	if t.Wait < 0 || t.Wait > mostRest || t.Before < 0 || t.Before > mostRest {
		f["wait_days"] = "up to a year is waited"
	}
	if why := TextFault(t.Says, LongestNote, false); why != "" {
		f["says"] = why
	}
	if t.Step == bedprep.Own && t.Says == "" {
		f["says"] = "say what is to be done"
	}
}

// CheckOwnTemplate validates an own template, by field.
func CheckOwnTemplate(w *OwnTemplate) error {
	f := Faults{}
	w.check(f)
	return f.OrNil()
}
