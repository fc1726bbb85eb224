package garden

import (
	"encoding/json"
	"fmt"
	"maps"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"time"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// mostID is the largest number of a record: every program that reads an archive
// can hold it.
const mostID = 1 << 53

// mostChanges is how many records one line of the journal may hold.
const mostChanges = 500_000

// CheckRecord says what is wrong with a record that comes in as it is, from an
// archive or out of the journal: what the forms ask of it, and that every figure,
// day, text and number in it can be. Nil when nothing is.
func CheckRecord(rec Record) error {
	f := Faults{}
	sweep(f, reflect.ValueOf(rec).Elem())
	if len(f) > 0 {
		return f // the checks of the forms want figures that are figures
	}
	switch x := rec.(type) {
	case *Garden:
		if x.ID != 1 {
			f["id"] = "the garden's own number is 1"
		}
		return merged(f, CheckPlace(*x))
	case *Bed:
		return merged(f, checkGround(*x).orNil())
	case *Planting:
		checkPlanting(f, *x)
		order(f, "cleared", x.Sown, x.Cleared)
	case *OwnCrop:
		if why := TextFault(x.Code, longestWhat, false); why != "" {
			f["code"] = why
		}
		return merged(f, checkCrop(*x).orNil())
	case *Mark:
		return merged(f, checkMark(*x).orNil())
	case *Batch:
		x.check(f)
	case *Round:
		LimitCorer.hold(f, "corer", float64(x.Corer))
		LimitWanted.hold(f, "wanted", float64(x.Wanted))
		LimitWalk.hold(f, "walk", x.Walk)
		wanted(f, "made", x.Made)
	case *Sample:
		x.check(f)
	case *SampleBed:
		Limit{1, mostBedCores, false, "cores"}.hold(f, "cores", float64(x.Cores))
		Limit{0, mostBeds * 4, false, ""}.hold(f, "place", float64(x.Place))
	case *Core:
		Limit{1, mostBedCores, false, ""}.hold(f, "n", float64(x.N))
		moment(f, "at", x.At)
	case *Reading:
		return merged(f, x.checkKept())
	case *Plan:
		Limit{float64(dose.MinPH), float64(dose.MaxPH), false, "pH"}.hold(f, "target_ph", float64(x.Target))
		wanted(f, "made", x.Made)
	case *Task:
		x.check(f)
	case *Application:
		x.check(f)
	case *Entry:
		x.check(f)
	}
	return f.orNil()
}

// merged joins the faults of a form's own check to those found before.
func merged(f Faults, err error) error {
	if more, ok := err.(Faults); ok {
		maps.Copy(f, more)
		return f.orNil()
	}
	if err != nil {
		return err
	}
	return f.orNil()
}

// sweep goes through every field of a record: figures are figures, days are of
// years that a record can be of, numbers of records can be, and texts can be
// shown.
func sweep(f Faults, v reflect.Value) {
	for i := range v.NumField() {
		field, name := v.Field(i), v.Type().Field(i).Tag.Get("db")
		if v.Type().Field(i).Anonymous {
			sweep(f, field)
			continue
		}
		if field.Kind() == reflect.Pointer {
			if field.IsNil() {
				continue
			}
			field = field.Elem()
		}
		if why := fieldFault(name, field); why != "" {
			f[name] = why
		}
	}
}

func fieldFault(name string, v reflect.Value) string {
	switch x := v.Interface().(type) {
	case quantity.Day:
		if x == 0 {
			return ""
		}
		return dayFault(x)
	case JSON:
		return ""
	}
	switch v.Kind() {
	case reflect.Float64:
		if !finite(v.Float()) {
			return "a figure is needed"
		}
	case reflect.Int, reflect.Int64:
		if isNumber := name == "id" || name == "version" || strings.HasSuffix(name, "_id"); isNumber && (v.Int() < 1 || v.Int() > mostID) {
			return "a number of a record lies from 1 to 2 to the 53rd"
		}
	case reflect.String:
		most := longestEntry
		if name == "code" || name == "state" || name == "kind" {
			most = longestWhat
		}
		return TextFault(v.String(), most, true)
	}
	return ""
}

// wanted asks for a day that must be there.
func wanted(f Faults, field string, d quantity.Day) {
	if d == 0 && f[field] == "" {
		f[field] = "a day is needed"
	}
}

// order asks that a day, where there is one, does not come before another.
func order(f Faults, field string, first, then quantity.Day) {
	if then != 0 && then < first && f[field] == "" {
		f[field] = "that is before " + first.String()
	}
}

// known asks that a word is one of a list.
func known[T ~string](f Faults, field string, list []T, x T) {
	if !slices.Contains(list, x) {
		f[field] = fmt.Sprintf("“%.40s” is not known here", string(x))
	}
}

func knownMaterial(f Faults, field string, k material.Kind) {
	if _, ok := material.Find(k); !ok {
		f[field] = fmt.Sprintf("“%.40s” is not a material that is known here", string(k))
	}
}

// moment asks for a moment as the journal writes it.
func moment(f Faults, field, at string) {
	if t, err := time.Parse(time.RFC3339, at); err != nil || t.Year() < earliest || t.Year() > latest {
		f[field] = "a moment is needed, written as 2026-11-24T07:30:00Z"
	}
}

func (b Batch) check(f Faults) {
	if why := nameFault(b.Name, "a name is needed"); why != "" {
		f["name"] = why
	}
	knownMaterial(f, "kind", b.Kind)
	holdOpt(LimitStrength, f, "cce_pct", b.CCE)
	holdOpt(LimitStrength, f, "effective_pct", b.Effective)
	holdOpt(LimitPotash, f, "k2o_pct", b.K2O)
	known(f, "condition", append(material.Conditions, ""), b.Condition)
	known(f, "source", append(material.Sources, ""), b.Source)
	holdOpt(LimitOnHand, f, "on_hand_g", b.OnHand)
	holdOpt(LimitScoop, f, "scoop_g", b.Scoop)
	holdOpt(LimitPrice, f, "price_kg", b.Price)
}

// codeForm is how a sample's code is written.
var codeForm = regexp.MustCompile(`^[0-9]{1,16}[A-Z]{1,4}$`)

func (s Sample) check(f Faults) {
	if !codeForm.MatchString(s.Code) {
		f["code"] = "a code is a number and a letter, such as 12A"
	}
	if !LimitDepth.Holds(float64(s.Depth)) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	states := []string{SamplePlanned, SampleTaken, SampleAtLab, SampleRead}
	known(f, "state", states, s.State)
	for i, d := range []quantity.Day{s.Taken, s.Sent, s.Read} {
		if s.State == states[i+1] {
			wanted(f, states[i+1], d)
		}
	}
}

// checkKept is the form's check of a reading that is in the record: on which day
// it was put in no longer matters.
func (r Reading) checkKept() error {
	f := Faults{}
	if r.Method != soil.Fizz && r.PH == nil {
		f["ph"] = "a pH is needed, from 3 to 10"
		return f
	}
	if err := r.checkSoil(); err != nil {
		return err
	}
	r.checkFigures(f)
	return f.orNil()
}

func (t Task) check(f Faults) {
	known(f, "kind", []string{TaskGo, TaskRetest}, t.Kind)
	known(f, "state", []string{Open, Done, Skipped}, t.State)
	wanted(f, "due", t.Due)
	if t.State != Open {
		wanted(f, "settled", t.Settled)
	} else if t.Settled != 0 {
		f["settled"] = "what is still to do was not done on a day"
	}
	if t.Kind == TaskGo {
		knownMaterial(f, "material", t.What)
		LimitAmount.hold(f, "total_g", float64(t.Total))
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

func (a Application) check(f Faults) {
	knownMaterial(f, "material", a.What)
	wanted(f, "date", a.Date)
	LimitRate.hold(f, "rate_g_m2", float64(a.Rate))
	LimitAmount.hold(f, "total_g", float64(a.Total))
	holdOpt(LimitStrength, f, "cce_pct", a.CCE)
	holdOpt(LimitPotash, f, "k2o_pct", a.K2O)
	known(f, "condition", append(material.Conditions, ""), a.Condition)
}

// check goes through what a line of the journal would put back.
func (e Entry) check(f Faults) {
	moment(f, "at", e.At)
	changes, err := e.Records()
	if err != nil {
		f["changes"] = "what it changed cannot be read"
		return
	}
	if len(changes) > mostChanges {
		f["changes"] = "it changes more than a garden holds"
	}
	for i, c := range changes {
		if _, err := c.Decode(c.Before); err == nil {
			_, err = c.Decode(c.After)
			if err == nil {
				continue
			}
		}
		f["changes"] = fmt.Sprintf("its change %d cannot be read", i+1)
		return
	}
}

// Records are the changes that a line of the journal holds.
func (e Entry) Records() (out []RecordChange, err error) {
	if len(e.Changes) == 0 {
		return nil, nil
	}
	return out, json.Unmarshal(e.Changes, &out)
}

// BroughtIn is the list that stands for a whole archive in a line of the journal;
// its ID is how many lines of the journal came with it.
const BroughtIn = "archive"

// WholeCopy is the list that stands for a copy that was put back whole.
const WholeCopy = "copy"

// CanUndo tells whether a line of the journal can be taken back at all.
func (e Entry) CanUndo() bool {
	if e.UndoneBy != nil {
		return false
	}
	changes, err := e.Records()
	return err == nil && len(changes) > 0 && changes[0].Table != WholeCopy && (e.Undoes == nil || changes[0].Table != BroughtIn)
}

// Decode reads one side of a change; nil where there was no record.
func (c RecordChange) Decode(raw JSON) (Record, error) {
	if c.Table == BroughtIn || c.Table == WholeCopy || len(raw) == 0 || string(raw) == "null" {
		return nil, nil
	}
	t, ok := FindTable(c.Table)
	if !ok {
		return nil, fmt.Errorf("no list %.40q", c.Table)
	}
	rec := t.New()
	if err := json.Unmarshal(raw, rec); err != nil {
		return nil, err
	}
	return rec, nil
}
