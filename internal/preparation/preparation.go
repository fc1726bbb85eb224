// Package preparation plans the steps of preparing a bed back from a planting and records
// them as they are done.
package preparation

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service plans and records preparations.
type Service struct {
	Store garden.Store
}

// Tx is the set of queries and changes that this package needs of a store.
type Tx interface {
	bedstate.Reader
	garden.Writer
}

// Gives is a step's material; Kind "" is none.
type Gives struct {
	Kind material.Kind
	Rate quantity.Rate
}

// Choice is the gardener's choices for a preparation.
type Choice struct {
	// Template is a template's id, or "way-" with the number of an own one; "" is the default.
	Template string
	// Planting is the planting that it leads to; 0: the bed's next.
	Planting int64
	// Organic and Meals are the materials applied; nil: as in the template.
	Organic, Meals *Gives
	// Without are steps left out.
	Without []bedprep.StepID
}

// wayPrefix is the prefix of keys of own templates.
const wayPrefix = "way-"

// WayKey returns the key of an own template.
func WayKey(id int64) string { return fmt.Sprintf("%s%d", wayPrefix, id) }

// Draft is a preparation before it is saved.
type Draft struct {
	Garden garden.Garden
	Rec    bedstate.Record
	// Ways are the own templates, Comes the coming plantings to choose from.
	Ways  []garden.OwnTemplate
	Comes []garden.Planting
	// Template is the one used, For the planting; the zero Planting for none.
	Template string
	For      garden.Planting
	// Steps are the template's with what was chosen, Out those left out.
	Steps []bedprep.Step
	Out   []bedprep.StepID
	// Placed are the steps not left out with their days; Plants is the resulting day of the
	// planting.
	Placed []Placed
	Plants quantity.Day
}

// Placed is a step with its day.
type Placed struct {
	bedprep.Step
	calendar.Placed
	Total quantity.Mass
}

// Delays reports whether the planting must be delayed.
func (d *Draft) Delays() bool { return d.Plants > d.For.Sown }

// May reports whether a bed can be prepared.
func May(b garden.Bed) bool { return b.Kind == garden.KindBed && b.Retired == 0 }

// Draft computes a preparation without saving it.
func (svc Service) Draft(ctx context.Context, bed int64, c Choice, today quantity.Day) (d Draft, err error) {
	err = garden.Ask(ctx, svc.Store, func(r bedstate.Reader) error {
		d, err = draft(r, bed, c, today)
		return err
	})
	return d, err
}

func draft(r bedstate.Reader, bed int64, c Choice, today quantity.Day) (d Draft, err error) {
	if d.Garden, err = r.Garden(); err != nil {
		return d, err
	}
	if d.Rec, err = bedstate.ReadBed(r, bed, today, today); err != nil {
		return d, err
	}
	if d.Ways, err = garden.All[garden.OwnTemplate](r); err != nil {
		return d, err
	}
	for _, p := range d.Rec.Plantings {
		if p.Sown > today {
			d.Comes = append(d.Comes, p)
		}
	}
	if len(d.Comes) > 0 {
		d.For = d.Comes[0]
	}
	for _, p := range d.Comes {
		if p.ID == c.Planting {
			d.For = p
		}
	}
	if err := d.take(c); err != nil {
		return d, err
	}
	if d.For.ID != 0 {
		d.place(today)
	}
	return d, nil
}

// take sets the template's steps, with what was chosen.
func (d *Draft) take(c Choice) error {
	d.Template = c.Template
	if d.Template == "" {
		d.Template = usual(d.Rec)
	}
	if t, ok := bedprep.Find(bedprep.TemplateID(d.Template)); ok {
		d.Steps = slices.Clone(t.Steps)
	}
	for _, w := range d.Ways {
		if d.Template == WayKey(w.ID) {
			steps, err := w.Plan()
			if err != nil {
				return err
			}
			d.Steps = steps
		}
	}
	if d.Steps == nil {
		return garden.Faults{"template": "choose what the bed is now"}
	}
	if c.Meals == nil && !gives(d.Steps, bedprep.Meals) {
		c.Meals = &Gives{} // a meal is applied only if chosen
	}
	for id, gives := range map[bedprep.StepID]*Gives{bedprep.Organic: c.Organic, bedprep.Meals: c.Meals} {
		if gives == nil {
			continue
		}
		m, ok := material.Find(gives.Kind)
		if !ok {
			c.Without = append(c.Without, id)
			continue
		}
		if !garden.LimitRate.Holds(float64(gives.Rate)) {
			return garden.Faults{string(id) + "_rate": "how much? " + garden.LimitRate.Says()}
		}
		next, _ := d.Rec.Library.Find(d.For.Crop)
		if f := d.mayGive(id, m, gives.Rate, next); f != nil {
			return f
		}
		bedprep.Gives(d.Steps, id, m, gives.Rate, next)
	}
	for i := range d.Steps {
		if s := &d.Steps[i]; s.ID != bedprep.Plant && slices.Contains(c.Without, s.ID) {
			d.Out = append(d.Out, s.ID)
		}
	}
	return nil
}

// mayGive returns why a step may not apply a material: a stop of the bed for the next crop, or more
// than one application's cap.
func (d *Draft) mayGive(id bedprep.StepID, m material.Material, rate quantity.Rate, next crop.Crop) error {
	u, state := d.Garden.Units(), d.Rec.State.Judgement
	state.Crop = next
	if stops := guard.Against(&state, &material.Batch{Material: m}); len(stops) > 0 {
		return garden.Faults{string(id): text.Lower(u.Guard(stops[0]).Says)}
	}
	if caps, ok := m.CapsOn(d.Rec.State.Ground); ok && rate > caps.Once*(1+1e-6) {
		return garden.Faults{string(id) + "_rate": text.FeedTooMuch(u, text.Material(m.Kind), rate, caps.Once)}
	}
	return nil
}

// gives reports whether a kind of step applies something.
func gives(steps []bedprep.Step, id bedprep.StepID) bool {
	return slices.ContainsFunc(steps, func(s bedprep.Step) bool { return s.ID == id && s.Material != "" })
}

// usual returns the default template of a bed.
func usual(rec bedstate.Record) string {
	switch {
	case rec.State.Ground.Worked != soil.Dug:
		return string(bedprep.NoDig)
	case rec.State.Season.History.Within(rec.State.Date, calendar.ManureGap,
		func(m *material.Material) bool { return m.Family == material.FreshManure }):
		return string(bedprep.AfterManure)
	case len(rec.Plantings) > 0 && rec.Plantings[0].Sown > rec.State.Date:
		return string(bedprep.Sod) // no crop on record
	}
	return string(bedprep.Vegetable)
}

// draftIDs keeps the ids of unsaved steps apart from those of tasks.
const draftIDs = 1 << 60

// place dates the steps among the bed's other tasks.
func (d *Draft) place(today quantity.Day) {
	var steps []bedprep.Step
	for _, s := range d.Steps {
		if !slices.Contains(d.Out, s.ID) {
			steps = append(steps, s)
		}
	}
	d.beforeWinter(steps, today)
	days := bedprep.Dates(steps, d.For.Sown, today)
	tasks := slices.Clone(d.Rec.Tasks)
	for i := range tasks {
		if x, ok := d.Rec.Moved[tasks[i].ID]; ok {
			tasks[i].Due = x.From
		}
	}
	first := len(tasks)
	draft := int64(draftIDs)
	x := bedstate.Preparation{Planting: d.For}
	x.Next, _ = d.Rec.Library.Find(d.For.Crop)
	x.ID = draft
	for i, s := range steps {
		t := garden.StepTask(s)
		t.ID, t.Due, t.PreparationID, t.Place = draftIDs+int64(i)+1, days[i], &draft, int64(i)
		tasks, x.Steps = append(tasks, t), append(x.Steps, t)
	}
	p := d.Rec.State
	p.Preparations = append(slices.Clone(p.Preparations), x)
	items, at := p.Items(tasks, d.Rec.Held)
	placed := p.Season.Schedule(items, today)
	for n := range items {
		if at[n] < first {
			continue
		}
		s := steps[at[n]-first]
		d.Placed = append(d.Placed, Placed{s, placed[n], s.Rate.Over(d.Rec.Bed.Area())})
		if s.ID == bedprep.Plant {
			d.Plants = placed[n].Lands
		}
	}
}

// beforeWinter sets the lead of manure that would leach so that it is applied before that, if there
// is time.
func (d *Draft) beforeWinter(steps []bedprep.Step, today quantity.Day) {
	season := d.Rec.State.Season.LeadingTo(d.For.Sown)
	for i := range steps {
		s := &steps[i]
		m, ok := material.Find(s.Material)
		if s.ID != bedprep.Organic || !ok {
			continue
		}
		for day := d.For.Sown - s.Before; day >= today; day-- {
			if season.Blocked(m.Family, day) != calendar.WinterWash {
				s.Lead = max(s.Lead, d.For.Sown-day)
				break
			}
		}
	}
}

// Plan saves a bed's preparation. If the planting cannot keep its day, it is moved to the first
// allowed one.
func (svc Service) Plan(ctx context.Context, a garden.Actor, bed int64, c Choice) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		d, err := draft(tx, bed, c, a.Today)
		if err != nil {
			return "", err
		}
		switch {
		case !May(d.Rec.Bed):
			return "", garden.Faults{"template": "only a bed is prepared"}
		case d.For.ID == 0:
			return "", garden.Faults{"planting": "say first what is sown or planted there next, and when"}
		case len(d.Rec.State.Preparations) > 0:
			return "", garden.Faults{"template": "it is being prepared already; delete that first"}
		}
		says := fmt.Sprintf("Preparing %s for %s, %s", d.Rec.Bed.Name, text.Lower(d.Rec.Library.Name(d.For.Crop)), text.DayYear(d.Plants))
		if d.Delays() {
			p, err := garden.Get[garden.Planting](tx, d.For.ID)
			if err != nil {
				return "", err
			}
			says += ", put off from " + text.DayYear(p.Sown)
			p.Sown = d.Plants
			if err := tx.Update(&p); err != nil {
				return "", err
			}
		}
		return says, d.keep(tx, a)
	})
}

// keep saves the preparation and its steps.
func (d *Draft) keep(tx Tx, a garden.Actor) error {
	x := garden.Preparation{BedID: d.Rec.Bed.ID, PlantingID: d.For.ID, Template: d.Template, Made: a.Today}
	for _, w := range d.Ways {
		if d.Template == WayKey(w.ID) {
			x.Template = w.Name
		}
	}
	if err := tx.Insert(&x); err != nil {
		return err
	}
	for i, p := range d.Placed {
		t := garden.StepTask(p.Step)
		t.BedID, t.PreparationID, t.Place, t.Due, t.Total = x.BedID, &x.ID, int64(i+1)*placeStep, p.Day, p.Total
		if t.Kind == garden.TaskRetest {
			t.Method, t.Depth = tested(d.Rec)
		}
		if err := tx.Insert(&t); err != nil {
			return err
		}
	}
	return nil
}

// placeStep is the gap in numbering for steps added later.
const placeStep = 100

// tested returns how a bed is tested: as before, or by a lab if it never was; undug beds in their
// top layer.
func tested(rec bedstate.Record) (soil.Method, quantity.Depth) {
	m := soil.Lab
	if rec.State.Reading != nil && rec.State.Reading.Method != soil.Fizz {
		m = rec.State.Reading.Method
	}
	if rec.State.Ground.Worked != soil.Dug {
		return m, soil.TopLayer
	}
	return m, rec.Bed.Depth
}

// Drop ends a preparation; open steps are deleted, done ones stay, and the planting keeps its day.
func (svc Service) Drop(ctx context.Context, a garden.Actor, id, version int64) (bed int64, r garden.Receipt, err error) {
	r, err = garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x, b, err := preparationOf(tx, id)
		if err != nil {
			return "", err
		}
		bed = b.ID
		if x.Version != version || !x.Open() {
			return "", garden.ErrStale
		}
		x.Closed = a.Today
		if err := tx.Update(&x.Preparation); err != nil {
			return "", err
		}
		for i := range x.Steps {
			if x.Steps[i].State == garden.Open {
				if err := tx.Delete(&x.Steps[i]); err != nil {
					return "", err
				}
			}
		}
		return "Deleted the preparation of " + b.Name, nil
	})
	return bed, r, err
}

// preparationOf reads a preparation with its steps.
func preparationOf(tx Tx, id int64) (x bedstate.Preparation, b garden.Bed, err error) {
	if x.Preparation, err = garden.Get[garden.Preparation](tx, id); err != nil {
		return x, b, err
	}
	if x.Steps, err = garden.Where[garden.Task](tx, "turning_id", id); err != nil {
		return x, b, err
	}
	slices.SortStableFunc(x.Steps, func(p, q garden.Task) int { return int(p.Place - q.Place) })
	b, err = garden.Get[garden.Bed](tx, x.BedID)
	return x, b, err
}

// KeepAs keeps the steps of a turning as a way of the gardener's own.
func (svc Service) KeepAs(ctx context.Context, a garden.Actor, id int64, name string) (bed int64, r garden.Receipt, err error) {
	r, err = garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x, b, err := preparationOf(tx, id)
		if err != nil {
			return "", err
		}
		bed = b.ID
		var steps []bedprep.Step
		for i := range x.Steps {
			if x.Steps[i].State != garden.Skipped {
				steps = append(steps, leads(x.Steps[i].Stage().Step))
			}
		}
		w := garden.OwnTemplate{Name: strings.TrimSpace(name)}
		if w.Steps, err = json.Marshal(steps); err != nil {
			return "", err
		}
		if err := garden.CheckOwnTemplate(&w); err != nil {
			return "", err
		}
		return "Kept “" + w.Name + "” as a way to turn a bed over", tx.Insert(&w)
	})
	return bed, r, err
}

// leads returns a step the lead that its kind has in the core's templates.
func leads(s bedprep.Step) bedprep.Step {
	s.Lead = bedprep.LeadOf(s.ID)
	return s
}
