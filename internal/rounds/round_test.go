package rounds_test

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/schedule"
)

func TestRoundFromStartToReading(t *testing.T) {
	y := gardentest.New(t)
	other := y.Twin("Second bed")
	w := y.SetOut(y.Choice(y.Bed.ID, other.ID))
	require.Len(t, w.Samples, 1, "both were never read and are alike: they share")
	require.Len(t, w.Beds, 2)
	s := w.Samples[0]
	assert.Equal(t, "1A", s.Code)
	assert.Equal(t, 12, w.Beds[0].Cores+w.Beds[1].Cores, "19.2 m² want 12 cores")

	// Each core is ticked once however often it is reported; the last one completes it.
	for _, b := range w.Beds {
		for n := 1; n <= b.Cores; n++ {
			for range 2 {
				_, err := y.App.Rounds.Tick(gardentest.Ctx, y.Actor, b.ID, n, y.Actor.At)
				require.NoError(t, err)
			}
		}
	}
	w, err := y.App.Rounds.Walk(gardentest.Ctx, w.Round.ID)
	require.NoError(t, err)
	assert.Zero(t, w.Left(0))
	assert.Equal(t, garden.SampleTaken, w.Samples[0].State)
	assert.Equal(t, gardentest.Today, w.Samples[0].Taken)
	var f garden.Faults
	_, err = y.App.Rounds.Tick(gardentest.Ctx, y.Actor, w.Beds[0].ID, 99, y.Actor.At)
	require.ErrorAs(t, err, &f)

	_, err = y.App.Rounds.MoveSample(gardentest.Ctx, y.Actor, s.ID, w.Samples[0].Version, garden.SampleAtLab)
	require.NoError(t, err)
	_, err = y.App.Rounds.MoveSample(gardentest.Ctx, y.Actor, s.ID, w.Samples[0].Version, garden.SampleAtLab)
	require.ErrorIs(t, err, garden.ErrStale)

	// Its reading lands on both beds, marked so, and ends the round.
	r := *y.Reading("2026-11-20", soil.Lab, 5.9)
	_, err = y.App.Readings.AddSampleReading(gardentest.Ctx, y.Actor, " 1a ", r)
	require.NoError(t, err)
	for _, id := range []int64{y.Bed.ID, other.ID} {
		rec, err := y.App.BedState.Bed(gardentest.Ctx, id, gardentest.Today)
		require.NoError(t, err)
		require.Len(t, rec.Readings, 1)
		require.NotNil(t, rec.Readings[0].SampleID)
		assert.Equal(t, "1A", rec.Codes[*rec.Readings[0].SampleID])
	}
	w, _ = y.App.Rounds.Walk(gardentest.Ctx, w.Round.ID)
	assert.Equal(t, garden.SampleRead, w.Samples[0].State)
	assert.Equal(t, gardentest.Today, w.Round.Ended)
	_, err = y.App.Readings.AddSampleReading(gardentest.Ctx, y.Actor, "9Z", r)
	require.ErrorIs(t, err, garden.ErrMissing)
}

func TestSharedReadingIsCorrectedOnAllBeds(t *testing.T) {
	y := gardentest.New(t)
	other := y.Twin("Second bed")
	w := y.SetOut(y.Choice(y.Bed.ID, other.ID))
	r := *y.Reading("2026-11-20", soil.Lab, 5.9)
	for _, b := range w.Beds {
		for n := 1; n <= b.Cores; n++ {
			_, err := y.App.Rounds.Tick(gardentest.Ctx, y.Actor, b.ID, n, y.Actor.At)
			require.NoError(t, err)
		}
	}
	_, err := y.App.Readings.AddSampleReading(gardentest.Ctx, y.Actor, w.Samples[0].Code, r)
	require.NoError(t, err)
	read := func(bed int64) bedstate.Record {
		rec, err := y.App.BedState.Bed(gardentest.Ctx, bed, gardentest.Today)
		require.NoError(t, err)
		return rec
	}
	own := read(y.Bed.ID).Readings[0]
	names, err := y.App.Readings.SharedWith(gardentest.Ctx, own)
	require.NoError(t, err)
	assert.Equal(t, []string{other.Name}, names)
	r.PH = gardentest.Ptr(quantity.PH(6.3))
	_, err = y.App.Readings.ReplaceReading(gardentest.Ctx, y.Actor, own.ID, own.Version, r)
	require.NoError(t, err)
	for _, id := range []int64{y.Bed.ID, other.ID} {
		rec := read(id)
		require.Len(t, rec.Readings, 1)
		assert.InDelta(t, 6.3, float64(*rec.Readings[0].PH), 1e-9)
		assert.NotNil(t, rec.Readings[0].SampleID, "still marked so")
		assert.Len(t, rec.Struck, 1)
	}
	its := read(other.ID).Readings[0]
	_, err = y.App.Readings.Strike(gardentest.Ctx, y.Actor, its.ID, its.Version, "Mixed up.")
	require.NoError(t, err)
	assert.Empty(t, read(y.Bed.ID).Readings)
	assert.Empty(t, read(other.ID).Readings)
}

func TestOverruledSampleReportsLoss(t *testing.T) {
	y := gardentest.New(t)
	other := y.Twin("Limed bed")
	y.Add(&garden.Application{BedID: other.ID, Date: gardentest.Day("2026-03-01"), What: "calcitic-lime", Rate: 300, Total: 2880})
	c := y.Choice(y.Bed.ID, other.ID)
	require.Len(t, y.SetOut(c).Samples, 2, "one was limed")
	c.Letters[y.Bed.ID], c.Letters[other.ID] = "a", "A"
	w := y.SetOut(c)
	require.Len(t, w.Samples, 1)
	assert.Contains(t, w.Samples[0].Overruled, "Ledge and Limed bed: treated differently in the last 24 months: lime, 0 g/m² and 300 g/m²")
}

// What is kept until a record changes is that of the round and of the day that is asked for.
func TestRoundsAndDaysAreDistinct(t *testing.T) {
	y := gardentest.New(t)
	first := y.SetOut(y.Choice(y.Bed.ID))
	second := y.SetOut(y.Choice(y.Twin("Second bed").ID))
	for _, want := range []rounds.Walk{first, second, first} {
		w, err := y.App.Rounds.Walk(gardentest.Ctx, want.Round.ID)
		require.NoError(t, err)
		assert.Equal(t, want.Beds[0].BedID, w.Beds[0].BedID)
	}
	for _, d := range []string{"2026-03-01", "2026-10-01"} {
		y.Add(y.Reading(d, soil.Lab, 6))
	}
	newest := func(upTo string, n int) (days []string) {
		last, _, err := y.App.Readings.Newest(gardentest.Ctx, gardentest.Day(upTo), n)
		require.NoError(t, err)
		for _, r := range last {
			days = append(days, r.Date.String())
		}
		return days
	}
	late, early := newest("2026-11-01", 1), newest("2026-04-01", 1)
	assert.Equal(t, []string{"2026-10-01"}, late)
	assert.Equal(t, []string{"2026-03-01"}, early)
	assert.Len(t, newest("2026-11-01", 2), 2)
	y.Add(y.Reading("2026-10-20", soil.Lab, 6))
	assert.Equal(t, []string{"2026-10-20"}, newest("2026-11-01", 1), "a new one is not missed")
}

func TestWrongPhoneClockIsCorrected(t *testing.T) {
	y := gardentest.New(t)
	w := y.SetOut(y.Choice(y.Bed.ID))
	_, err := y.App.Rounds.Tick(gardentest.Ctx, y.Actor, w.Beds[0].ID, 1, y.Actor.At.Add(48*time.Hour))
	require.NoError(t, err)
	_, err = y.App.Rounds.Tick(gardentest.Ctx, y.Actor, w.Beds[0].ID, 2, y.Actor.At.Add(-20*time.Minute))
	require.NoError(t, err)
	w, _ = y.App.Rounds.Walk(gardentest.Ctx, w.Round.ID)
	assert.Equal(t, "2026-11-24T09:00:00Z", w.Taken[w.Beds[0].ID][1].At)
	assert.Equal(t, "2026-11-24T08:40:00Z", w.Taken[w.Beds[0].ID][2].At, "told later, with the moment it was taken")
}

func TestInvalidRounds(t *testing.T) {
	y := gardentest.New(t)
	for field, bad := range map[string]func(*rounds.RoundChoice){
		"beds":    func(c *rounds.RoundChoice) { c.Beds = nil },
		"corer":   func(c *rounds.RoundChoice) { c.Corer.Diameter = 2 },
		"wanted":  func(c *rounds.RoundChoice) { c.Corer.Wanted = 0 },
		"letters": func(c *rounds.RoundChoice) { c.Letters[1] = "ABC" },
	} {
		c := y.Choice(y.Bed.ID)
		bad(&c)
		_, _, err := y.App.Rounds.StartRound(gardentest.Ctx, y.Actor, c)
		var f garden.Faults
		require.ErrorAs(t, err, &f, field)
		assert.NotEmpty(t, f[field], field)
	}
	_, _, err := y.App.Rounds.StartRound(gardentest.Ctx, y.Actor, y.Choice(404))
	require.Error(t, err)
}

func TestCorePoints(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 400 {
		b := garden.Bed{Shape: garden.Shapes[rng.IntN(4)], X: 3, Y: 4, W: 1 + 8*rng.Float64(), H: 0.6 + 3*rng.Float64(),
			Turn: float64(rng.IntN(90)), Rings: 1 + rng.IntN(4)}
		switch b.Shape {
		case garden.ShapeCircle:
			b.H, b.Turn = b.W, 0
		case garden.ShapeRings:
			b.W = b.H * float64(b.Rings) * 1.3
		case garden.ShapeOutline:
			b.Turn = 0
			b.FitFrame([]garden.Point{{X: 1, Y: 1}, {X: 1 + b.W, Y: 1}, {X: 1 + b.W, Y: 1 + b.H}, {X: 1 + b.W/3, Y: 1 + b.H/2},
				{X: 1, Y: 1 + b.H}})
		}
		n := 2 + rng.IntN(30)
		ps := b.CorePoints(n)
		require.Len(t, ps, n)
		low, high := b.Bounds()
		seen := map[garden.Point]bool{}
		for _, p := range ps {
			require.True(t, p.X > low.X && p.X < high.X && p.Y > low.Y && p.Y < high.Y, "%+v of %+v", p, b)
			seen[p] = true
			in := false
			for _, c := range b.Circles() {
				in = in || math.Hypot(p.X-c.Middle.X, p.Y-c.Middle.Y) < 0.9*c.Radius
			}
			require.True(t, in || len(b.Circles()) == 0, "inside a ring")
		}
		require.Len(t, seen, n, "each at a place of its own")
	}
}

func TestStruckReadingIsKeptAndIgnored(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-06-01", soil.Lab, 6.4), y.Reading("2026-11-01", soil.Lab, 4.9), y.Planting("dahlia", "2027-05-15", ""))
	rec, _ := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	wrong := rec.Readings[1]
	assert.Equal(t, bed.Sour, rec.State.Standing)
	_, err := y.App.Readings.Strike(gardentest.Ctx, y.Actor, wrong.ID, wrong.Version, "Mixed up at the lab.")
	require.NoError(t, err)
	rec, _ = y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	assert.Equal(t, bed.InRange, rec.State.Standing, "judged by the one before")
	require.Len(t, rec.Struck, 1)
	assert.Equal(t, "Mixed up at the lab.", rec.Struck[0].StruckWhy)
	assert.Equal(t, bed.InRange, y.State(gardentest.Today).Standing, "on the plan too")
	_, err = y.App.Readings.Strike(gardentest.Ctx, y.Actor, wrong.ID, wrong.Version+1, "again")
	require.ErrorIs(t, err, garden.ErrStale)

	now := rec.Readings[0]
	right := *y.Reading("2026-06-01", soil.Lab, 5.2)
	_, err = y.App.Readings.ReplaceReading(gardentest.Ctx, y.Actor, now.ID, now.Version, right)
	require.NoError(t, err)
	rec, _ = y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	assert.Equal(t, bed.Sour, rec.State.Standing)
	assert.Len(t, rec.Struck, 2, "the old one is kept")
	right.PH = gardentest.Ptr(quantity.PH(12))
	_, err = y.App.Readings.ReplaceReading(gardentest.Ctx, y.Actor, rec.Readings[0].ID, rec.Readings[0].Version, right)
	require.Error(t, err)
	rec, _ = y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	assert.Len(t, rec.Readings, 1, "nothing is struck out for what cannot be")
}

func TestApplicationsOfStruckReadingAreHeld(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-06-01", soil.Lab, 5.4), y.Reading("2026-11-10", soil.Lab, 5.2), y.Planting("dahlia", "2027-05-15", ""))
	w := y.Dose(dosing.Choice{})
	require.NoError(t, y.Plan("first", w.Key(w.Answer.Options[0])))
	sheet := func() schedule.Sheet {
		s, err := y.App.Schedule.Sheet(gardentest.Ctx, gardentest.Today, gardentest.Today+200)
		require.NoError(t, err)
		return s
	}
	assert.Empty(t, sheet().Held)
	rec, _ := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	last := rec.Readings[len(rec.Readings)-1]
	r, err := y.App.Readings.Strike(gardentest.Ctx, y.Actor, last.ID, last.Version, "Mixed up at the lab.")
	require.NoError(t, err)
	e, err := y.App.Entry(gardentest.Ctx, r.Journal)
	require.NoError(t, err)
	assert.Regexp(t, "held back: plan the dose anew", e.What)
	goes := 0
	for _, g := range y.OpenTasks() {
		if g.Kind != garden.TaskApplication {
			continue
		}
		goes++
		assert.Equal(t, gardentest.Today, sheet().Held[g.ID])
		_, err := y.App.Applications.PutOn(gardentest.Ctx, y.Actor, applications.Tick{Task: g.ID, Version: g.Version})
		var f garden.Faults
		require.ErrorAs(t, err, &f, "a forged post puts nothing on")
		assert.Contains(t, f["amount"], "was deleted on 24 Nov 2026")
	}
	assert.Len(t, sheet().Held, goes)
	assert.Positive(t, goes)
	// Taken back, it carries them again.
	back, err := y.App.Undo(gardentest.Ctx, y.Actor, r.Journal)
	require.NoError(t, err)
	assert.Empty(t, sheet().Held)
	_, err = y.App.Undo(gardentest.Ctx, y.Actor, back.Journal)
	require.NoError(t, err)
	assert.Len(t, sheet().Held, goes)
	// A dose from what is read now takes their place.
	require.NoError(t, y.Plan("second", y.FirstKey()))
	assert.Empty(t, sheet().Held)
}

func TestDisagreeingMethodsAreNotDosed(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("tomato", "2027-05-15", ""), y.Reading("2026-11-10", soil.Kit, 5.4), y.Reading("2026-11-12", soil.Probe, 6.0))
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, dose.Refused, w.Answer.Direction)
	assert.Equal(t, "methods-disagree", w.Answer.Guards[0].ID)
	// However it is asked for.
	for _, r := range w.Record.Readings {
		w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{Reading: r.ID}, gardentest.Today)
		require.NoError(t, err)
		assert.Equal(t, dose.Refused, w.Answer.Direction)
	}
	_, err = y.App.Dosing.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, dosing.Choice{}, "0",
		func(*dosing.Dose) (garden.JSON, error) { return garden.JSON("{}"), nil })
	require.ErrorIs(t, err, dosing.ErrNoOption, "a forged post")
	// A lab outranks both.
	y.Add(y.Reading("2026-11-14", soil.Lab, 5.8))
	w, _ = y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	assert.Equal(t, dose.Raise, w.Answer.Direction)
	assert.InDelta(t, 5.8, float64(w.Answer.PH), 0.06, "the weaker ones count little")
}

func TestOtherTimesAndDepthsAreNotCombined(t *testing.T) {
	y := gardentest.New(t)
	deep := y.Reading("2026-11-11", soil.Lab, 7.0)
	deep.Depth = 0.30
	y.Add(y.Planting("tomato", "2027-05-15", ""), y.Reading("2026-09-01", soil.Lab, 6.9), deep, y.Reading("2026-11-12", soil.Lab, 5.6))
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	assert.InDelta(t, 5.6, float64(w.Answer.PH), 1e-9)
	// Nor those before something was put on.
	y.Add(y.Reading("2026-11-01", soil.Lab, 5.0), &garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-11-05"),
		What: "calcitic-lime",
		Rate: 100, Total: 960})
	w, _ = y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	assert.InDelta(t, 5.6, float64(w.Answer.PH), 1e-9)
}

func TestLabReportFeedsMethods(t *testing.T) {
	y := gardentest.New(t)
	r := y.Reading("2026-11-12", soil.Lab, 5.5)
	r.BufferKind, r.BufferPH = soil.SMP, gardentest.Ptr(quantity.PH(6.5))
	r.OrganicMatter, r.CEC = gardentest.Ptr(quantity.Percent(4)), gardentest.Ptr(quantity.CationExchangeCapacity(14))
	r.LabRate, r.LabDepth, r.LabCCE, r.LabTarget = gardentest.Ptr(quantity.Rate(400)), gardentest.Ptr(quantity.Depth(0.2)),
		gardentest.Ptr(quantity.Percent(90)),
		gardentest.Ptr(quantity.PH(6.5))
	r.Jars = garden.Rows{{0, 5.5}, {1, 5.9}, {2, 6.3}, {3, 6.7}}
	y.Add(y.Planting("tomato", "2027-05-15", ""), r)
	target := quantity.PH(6.5)
	for method, want := range map[soil.LimeMethod]float64{
		// (60.4 − 0.87 × 65) × 0.75 × 224.17 × 15/20.32
		soil.BySMP: 3.85 * 0.75 * 224.17 * 15 / 20.32,
		// (0.555 × 4 + 0.011 × 20) × 1290 × 0.15: 4 % of organic matter is lighter
		soil.ByOrganicMatter: 2.44 * 193.46,
		// 400 × 0.9 × 15/20
		soil.ByLabRate: 400 * 0.9 * 15 / 20,
		// 2.5 g/kg a pH unit
		soil.ByMeasured: 2.5 * 193.46,
	} {
		w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{Buffering: method, Target: &target}, gardentest.Today)
		require.NoError(t, err, method)
		assert.InEpsilon(t, want, float64(w.Answer.Need.CaCO3), 0.01, method)
	}
	assert.InDelta(t, 14, float64(y.LastDose().Request.Ground.CationExchangeCapacity()), 1e-9, "the lab’s own")

	bad := func(field string, change func(*garden.Reading)) {
		t.Helper()
		x := *r
		x.Meta = garden.Meta{}
		change(&x)
		_, err := y.App.Readings.AddReading(gardentest.Ctx, y.Actor, x)
		var f garden.Faults
		require.ErrorAs(t, err, &f)
		assert.NotEmpty(t, f[field], "%v", f)
	}
	bad("buffer_ph", func(r *garden.Reading) { r.BufferKind = "" })
	bad("lab_rate", func(r *garden.Reading) { r.LabCCE = nil })
	bad("jars", func(r *garden.Reading) { r.Jars = r.Jars[:3] })
	bad("jars", func(r *garden.Reading) { r.Jars = garden.Rows{{0, 5.5}, {1, 5.9}, {1, 6.3}, {3, 6.7}} })
	bad("jars", func(r *garden.Reading) { r.BufferCapacity = gardentest.Ptr(2000.0) })
	bad("k_to", func(r *garden.Reading) { r.KFrom = gardentest.Ptr(quantity.Concentration(90)) })
	bad("k", func(r *garden.Reading) { r.Extractant = soil.Olsen })
	bad("om", func(r *garden.Reading) { r.OrganicMatter = gardentest.Ptr(quantity.Percent(140)) })
	bad("ca_ppm", func(r *garden.Reading) { r.Calcium = gardentest.Ptr(quantity.Concentration(-1)) })
}

// A narrow corer takes several cores close together at each stop; a stop is ticked at once, and once.
func TestCoresOfAStop(t *testing.T) {
	y := gardentest.New(t)
	c := y.Choice(y.Bed.ID)
	c.Corers = map[string]quantity.Depth{"A": 0.009}
	w := y.SetOut(c)
	b := w.Beds[0]
	require.InDelta(t, 0.009, float64(w.Corer(w.Samples[0])), 1e-9)
	require.InDelta(t, 0.019, float64(w.Round.Corer), 1e-9)
	// 12.9 g a core: 39 for the lab's 500 g, six at each of seven stops.
	require.Equal(t, [2]int{42, 7}, [2]int{b.Cores, b.StopCount()})
	at := time.Date(2026, 11, 24, 9, 30, 0, 0, time.UTC)
	tick := func(stop int) (garden.Receipt, error) {
		return y.App.Rounds.Tick(gardentest.Ctx, y.Actor, b.ID, stop, at)
	}
	left := func() int {
		now, err := y.App.Rounds.Walk(gardentest.Ctx, w.Round.ID)
		require.NoError(t, err)
		return now.Left(0)
	}
	said := func(r garden.Receipt) string {
		lines, err := y.App.Journal(gardentest.Ctx, r.Journal+1, 1)
		require.NoError(t, err)
		return lines[0].What
	}
	r, err := tick(3)
	require.NoError(t, err)
	assert.Equal(t, "Cores 13 to 18 of Ledge, sample 1A", said(r))
	assert.Equal(t, 36, left())
	r, err = tick(3)
	require.NoError(t, err)
	assert.Contains(t, said(r), "told again")
	assert.Equal(t, 36, left())
	for _, stop := range []int{0, 8} {
		_, err = tick(stop)
		require.Error(t, err)
	}
	for _, stop := range []int{1, 2, 4, 5, 6} {
		_, err = tick(stop)
		require.NoError(t, err)
	}
	assert.Equal(t, 6, left())
	r, err = tick(7)
	require.NoError(t, err)
	assert.Contains(t, said(r), "the sample is complete")
	assert.Zero(t, left())
	y.TakeBack(r.Journal)
	assert.Equal(t, 6, left(), "a stop is taken back whole")
}
