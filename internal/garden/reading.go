package garden

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// AddReading adds a reading to a bed. A retest that it answers is done.
func (k Keeper) AddReading(ctx context.Context, a Act, r Reading) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		if err := askReading(tx, a, r); err != nil {
			return "", err
		}
		b, err := addReading(tx, a, r)
		if err != nil {
			return "", err
		}
		return "Added a reading of " + b.Name + ": " + readingSays(r), nil
	})
}

func readingSays(r Reading) string {
	if r.PH == nil {
		return "jar fizz"
	}
	return "pH " + words.PH(*r.PH) + " by " + words.Short(r.Method)
}

func addReading(tx Tx, a Act, r Reading) (b Bed, err error) {
	if b, err = Get[Bed](tx, r.BedID); err != nil {
		return b, err
	}
	if err := checkReading(r, a.Today); err != nil {
		return b, err
	}
	if err := tx.Insert(&r); err != nil {
		return b, err
	}
	tasks, err := Where[Task](tx, "bed_id", r.BedID)
	if err != nil {
		return b, err
	}
	for i := range tasks {
		if t := &tasks[i]; t.Kind == TaskRetest && t.State == Open && r.PH != nil && answers(r, *t) {
			t.State, t.Settled = Done, a.Today
			if err := tx.Update(t); err != nil {
				return b, err
			}
		}
	}
	return b, nil
}

// AddSampleReading adds a reading of a mixed sample: it lands on every bed that
// the sample stands for. The round ends when its last sample is read.
func (k Keeper) AddSampleReading(ctx context.Context, a Act, code string, r Reading) (Receipt, error) {
	code, _ = splitCode(code)
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		rounds := map[int64]bool{}
		if err := askSample(tx, a, code, r); err != nil {
			return "", err
		}
		if err := takeLine(tx, a, LabLine{Code: code, Reading: r}, rounds); err != nil {
			return "", err
		}
		for id := range rounds {
			if err := endRound(tx, id, a.Today); err != nil {
				return "", err
			}
		}
		s, err := One[Sample](tx, "code", code)
		if err != nil {
			return "", err
		}
		in, err := Where[SampleBed](tx, "sample_id", s.ID)
		if err != nil {
			return "", err
		}
		var names []string
		for _, x := range in {
			b, err := Get[Bed](tx, x.BedID)
			if err != nil {
				return "", err
			}
			names = append(names, b.Name)
		}
		return fmt.Sprintf("Added a reading of sample %s, for %s: %s", s.Code, words.List(names), readingSays(r)), nil
	})
}

func endRound(tx Tx, id int64, today quantity.Day) error {
	all, err := Where[Sample](tx, "round_id", id)
	if err != nil {
		return err
	}
	for _, s := range all {
		if s.State != SampleRead {
			return nil
		}
	}
	x, err := Get[Round](tx, id)
	if err != nil {
		return err
	}
	x.Ended = today
	return tx.Update(&x)
}

// Strike strikes a reading out: it stays in the history, and nothing rests on
// it any more. One of a shared sample is struck out for every bed that it
// stands for.
func (k Keeper) Strike(ctx context.Context, a Act, id, version int64, why string) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		all, names, err := together(tx, id, version)
		if err != nil {
			return "", err
		}
		if err := strike(tx, a, all, why); err != nil {
			return "", err
		}
		held, err := heldBack(tx, all)
		return fmt.Sprintf("Struck out the reading of %s of %s: %s", words.List(names), words.DayYear(all[0].Date), readingSays(all[0])) + held, err
	})
}

// Held is an open go that must not go on: its plan rests on a reading that was
// struck out on a day.
type Held struct {
	Task   int64        `db:"id"`
	BedID  int64        `db:"bed_id"`
	Struck quantity.Day `db:"struck"`
}

// heldBack says how many goes of the readings' beds are held back.
func heldBack(r Reader, readings []Reading) (string, error) {
	held, err := r.Held()
	n := 0
	for _, h := range held {
		if slices.ContainsFunc(readings, func(x Reading) bool { return x.BedID == h.BedID }) {
			n++
		}
	}
	if n == 0 || err != nil {
		return "", err
	}
	return ". " + words.Count(n, "go that rests on it is", "goes that rest on it are") + " held back: plan the dose anew", nil
}

// together reads a reading that stands, and those of its mixed sample on other
// beds that say the same, with the names of their beds; ErrStale when it does
// not stand, or was changed meanwhile.
func together(r Reader, id, version int64) (all []Reading, names []string, err error) {
	one, err := Get[Reading](r, id)
	if err != nil {
		return nil, nil, err
	}
	if one.Version != version || !one.Stands() {
		return nil, nil, ErrStale
	}
	all = []Reading{one}
	if one.SampleID != nil {
		same, err := Where[Reading](r, "sample_id", *one.SampleID)
		if err != nil {
			return nil, nil, err
		}
		for _, x := range same {
			if x.Stands() && x.twin(one) && !slices.ContainsFunc(all, func(y Reading) bool { return y.BedID == x.BedID }) {
				all = append(all, x)
			}
		}
	}
	for _, x := range all {
		b, err := Get[Bed](r, x.BedID)
		if err != nil {
			return nil, nil, err
		}
		names = append(names, b.Name)
	}
	return all, names, nil
}

// twin tells whether two readings say the same of their sample.
func (r Reading) twin(o Reading) bool {
	ph := func(x Reading) quantity.PH {
		if x.PH == nil {
			return 0
		}
		return *x.PH
	}
	return r.Date == o.Date && r.Method == o.Method && r.Basis == o.Basis && ph(r) == ph(o)
}

// SharedWith names the other beds that a reading of a mixed sample stands for.
func (k Keeper) SharedWith(ctx context.Context, r Reading) (names []string, err error) {
	err = k.Store.Read(ctx, func(tx Reader) error {
		_, names, err = together(tx, r.ID, r.Version)
		return err
	})
	if err != nil {
		return nil, err
	}
	return names[1:], nil
}

func strike(tx Tx, a Act, all []Reading, why string) error {
	for i := range all {
		all[i].Struck, all[i].StruckWhy = a.Today, strings.TrimSpace(why)
		if err := tx.Update(&all[i]); err != nil {
			return err
		}
	}
	return nil
}

// ReplaceReading puts a reading in the place of another, which stays in the
// history struck out; of a shared sample, on every bed that it stands for.
func (k Keeper) ReplaceReading(ctx context.Context, a Act, id, version int64, r Reading) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		all, names, err := together(tx, id, version)
		if err != nil {
			return "", err
		}
		if err := strike(tx, a, all, "Put right on "+words.DayYear(a.Today)+"."); err != nil {
			return "", err
		}
		for _, was := range all {
			x := r
			x.BedID, x.SampleID = was.BedID, was.SampleID
			if _, err := addReading(tx, a, x); err != nil {
				return "", err
			}
		}
		held, err := heldBack(tx, all)
		return "Put right a reading of " + words.List(names) + ": " + readingSays(r) + " instead of " + readingSays(all[0]) + held, err
	})
}

// early is how long before its day a reading may stand for a retest.
const early quantity.Day = 28

func answers(r Reading, t Task) bool { return r.Date >= t.Due-early }

// checkSoil is the calculation's own check of a reading.
func (r Reading) checkSoil() error {
	for i, l := range r.Layers {
		if len(l) != 3 {
			return Faults{"layers": fmt.Sprintf("layer %d is not two depths and a pH", i+1)}
		}
	}
	for i, j := range r.Jars {
		if len(j) != 2 || !LimitJarLime.Holds(j[0]) || !LimitPH.Holds(j[1]) {
			return Faults{"jars": fmt.Sprintf("jar %d is not an amount of lime and a pH", i+1)}
		}
	}
	if err := dose.CheckReading(r.Soil()); err != nil {
		return faultOf(err)
	}
	return nil
}

// CheckReading says what is wrong with a reading, by field.
func CheckReading(r Reading, today quantity.Day) error { return checkReading(r, today) }

func checkReading(r Reading, today quantity.Day) error {
	if r.Method != soil.Fizz && r.PH == nil {
		return Faults{"ph": "a pH is needed, from 3 to 10"}
	}
	if err := r.checkSoil(); err != nil {
		return err
	}
	f := Faults{}
	switch {
	case r.Date > today:
		f["date"] = "that day is still to come; a reading is dated when the sample was taken"
	case dayFault(r.Date) != "":
		f["date"] = dayFault(r.Date)
	}
	r.checkFigures(f)
	return f.orNil()
}

// checkFigures says what is wrong with what stands in a reading besides its pH
// and its day.
func (r Reading) checkFigures(f Faults) {
	if !LimitDepth.Holds(float64(r.Depth)) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	if why := TextFault(r.Note, longestNote, true); why != "" {
		f["note"] = why
	}
	holdOpt(LimitDoubt, f, "doubt", r.Doubt)
	if len(r.Layers) > mostLayers {
		f["layers"] = fmt.Sprintf("at most %d layers", mostLayers)
	}
	r.checkReport(f)
}

// MostJars is how long a jar series may be.
const MostJars = 8

// checkReport says what is wrong with the rest of a lab's report: figures that
// cannot be, and halves of what belongs together.
func (r Reading) checkReport(f Faults) {
	holdOpt(LimitPPM, f, "ca", r.Calcium)
	holdOpt(LimitPPM, f, "p", r.Phosphorus)
	holdOpt(LimitPercent, f, "om", r.OrganicMatter)
	holdOpt(LimitCEC, f, "cec", r.CEC)
	if (r.BufferKind == "") != (r.BufferPH == nil) {
		f["buffer_ph"] = "a buffer pH and its kind belong together"
	}
	if (r.KFrom == nil) != (r.KTo == nil) {
		f["k_to"] = "the lab's range of potassium has a beginning and an end"
	}
	if (r.KFrom != nil || r.Extractant != "") && r.Potassium == nil {
		f["k"] = "a figure is needed to go with its extractant or range"
	}
	if n := given(r.LabRate != nil, r.LabDepth != nil, r.LabCCE != nil, r.LabTarget != nil); n != 0 && n != 4 {
		f["lab_rate"] = "the lab's rate goes with its depth, its CCE and its target"
	}
	if n := len(r.Jars); n > 0 {
		if n < 4 || n > MostJars {
			f["jars"] = fmt.Sprintf("a series has four jars or more, and %d at most", MostJars)
		}
		for i := 1; i < n; i++ {
			if r.Jars[i][0] <= r.Jars[i-1][0] {
				f["jars"] = fmt.Sprintf("jar %d has no more lime than the one before it", i+1)
			}
		}
		if r.BufferCapacity != nil {
			f["jars"] = "give the jars or the lab's buffer capacity, not both"
		}
	}
}

func given(bits ...bool) (n int) {
	for _, b := range bits {
		if b {
			n++
		}
	}
	return n
}
