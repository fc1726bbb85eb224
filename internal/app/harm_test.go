package app_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/spreading"
	"zephyrfield/internal/web/present"
)

// plotted is a bed of a garden in which harm is looked for, with what stands or comes there.
type plotted struct {
	garden.Bed
	crop     crop.Crop
	planting garden.Planting
}

// harm is a garden of every kind of ground that is worked by every way there is, at random. Its rules are written anew here, from the
// records alone.
type harm struct {
	*Garden
	rng  *rand.Rand
	day  quantity.Day
	beds []plotted
	// seen is the last entry of the log that was looked at; facts are those that came in by a file: they are what happened.
	seen  int64
	facts map[int64]bool
	fed   []material.Kind
}

// Whatever way is taken, nothing passes a cap, a distance, a harvest, a range or a stop: doses of one bed and of several, shares, buckets,
// the log, plants, preparing a bed, ticks with other amounts and other days, moves, and files that tell of what happened between.
func TestNothingDoesHarmByAnyWay(t *testing.T) {
	gardens := 8
	if n, err := strconv.Atoi(os.Getenv("YEARS")); err == nil {
		gardens = n / 4
	}
	if testing.Short() {
		gardens = 4
	}
	for seed := range gardens {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			h := newHarm(t, uint64(seed))
			for range 60 {
				h.step()
				h.look()
			}
		})
	}
}

func newHarm(t *testing.T, seed uint64) *harm {
	h := &harm{Garden: New(t), rng: rand.New(rand.NewPCG(seed, 31)), day: Day("2027-03-01"), facts: map[int64]bool{},
		fed: []material.Kind{material.Manure, "rotted-manure", "horse-manure", "poultry-manure", "poultry-pellets", material.Compost,
			"mushroom-compost", material.AmmoniumSulfate, material.Urea, material.PotassiumSulfate, material.CalciticLime,
			material.HardwoodAsh, material.SulfurPowder}}
	crops := []string{"tomato", "lettuce", "carrot", "kale", "potato", "dahlia", "asparagus", "blueberry", "strawberry", "sweet-corn"}
	for i, kind := range []string{garden.KindBed, garden.KindBed, garden.KindBed, garden.KindLawn, garden.KindPots, garden.KindHeap} {
		b := h.Bed
		if i > 0 {
			b.Meta = garden.Meta{}
			b.Name, b.Kind, b.Y = fmt.Sprintf("Bed %d", i), kind, float64(5*i)
		}
		b.Texture = soil.Textures[h.rng.IntN(6)].ID
		b.Worked = soil.WaysWorked[h.rng.IntN(len(soil.WaysWorked))]
		if i == 0 {
			h.Store.Change(Ctx, garden.Change{}, func(tx garden.Tx) (string, error) { return "", tx.Update(&b) })
		} else {
			h.Add(&b)
		}
		p := plotted{Bed: b}
		id := crops[h.rng.IntN(len(crops))]
		switch kind {
		case garden.KindLawn:
			id = "lawn"
		case garden.KindPots:
			id = "tomato"
		}
		p.crop, _ = crop.Find(id)
		p.planting = garden.Planting{BedID: b.ID, Crop: id, Sown: h.day + quantity.Day(h.rng.IntN(500)-150), PlantedOut: h.rng.IntN(2) == 0}
		if p.crop.Is(crop.Perennial) {
			p.planting.Sown = Day("2023-04-01")
		}
		h.Add(&p.planting)
		h.beds = append(h.beds, p)
		h.reads(&p, h.day-20)
	}
	h.Add(&garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
		OnHand: Ptr(quantity.Mass(40000))},
		&garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: Ptr(quantity.Mass(50000)), Price: Ptr(0.5)},
		&garden.Batch{Name: "Sulfur", Kind: material.SulfurPowder, OnHand: Ptr(quantity.Mass(5000))})
	return h
}

func (h *harm) reads(p *plotted, day quantity.Day) {
	r := h.Reading(day.String(), []soil.Method{soil.Lab, soil.Kit, soil.Meter}[h.rng.IntN(3)],
		max(4.2, p.crop.Band.Low-0.9+quantity.PH(2.4*h.rng.Float64())))
	r.BedID = p.ID
	if h.rng.IntN(2) == 0 {
		r.Potassium, r.Extractant = Ptr(quantity.Concentration(40+160*h.rng.Float64())), soil.AmmoniumAcetate
	}
	h.may(h.App.Readings.AddReading(Ctx, h.On(day), *r))
}

// may lets a refusal in words be as good as a change.
func (h *harm) may(_ garden.Receipt, err error) {
	var f garden.Faults
	if err == nil || errors.As(err, &f) || errors.Is(err, garden.ErrStale) || errors.Is(err, dosing.ErrNoOption) ||
		errors.Is(err, dosing.ErrNoReading) || errors.Is(err, garden.ErrMissing) {
		return
	}
	require.NoError(h.T, err)
}

// step does one thing that a gardener does, on any bed.
func (h *harm) step() {
	h.day += quantity.Day(h.rng.IntN(25))
	p := &h.beds[h.rng.IntN(len(h.beds))]
	a := h.On(h.day)
	kind := h.fed[h.rng.IntN(len(h.fed))]
	row, _ := material.Find(kind)
	total := quantity.Rate(20 + 300*h.rng.Float64()).Over(p.Area())
	if caps, ok := row.CapsOn(soil.Ground{Worked: soil.Dug}); ok {
		total = (caps.Go * quantity.Rate(1.2*h.rng.Float64())).Over(p.Area())
	}
	x := garden.Application{BedID: p.ID, What: kind, Total: max(total, 1), Date: h.day - quantity.Day(h.rng.IntN(20))}
	switch h.rng.IntN(13) {
	case 0, 1:
		h.dose(p, a)
	case 2:
		h.may(h.App.Dosing.PlanMany(Ctx, a, []int64{p.ID}, "", present.EncodePlan))
	case 3:
		h.may(h.App.Dosing.PlanShare(Ctx, a, dosing.ShareChoice{}, present.EncodePlan))
	case 4, 5:
		what := string(kind)
		if kind == material.HardwoodAsh {
			what = "b1"
		}
		h.may(h.App.Spreading.PutOn(Ctx, a, spreading.Amount{What: what, Bed: p.ID, Amount: &x.Total}, present.EncodePlan))
	case 6:
		h.may(h.App.Schedule.Note(Ctx, a, x))
	case 7:
		x.Date = h.day + quantity.Day(h.rng.IntN(200))
		h.may(h.App.Schedule.PlanFeed(Ctx, a, x))
	case 8:
		h.may(h.App.Dosing.PlanSideDressing(Ctx, a, p.ID, dosing.SideDressingChoice{Ring: dose.Ring{Plants: 1 + h.rng.IntN(8), Across: 0.6}}))
	case 9:
		c := preparation.Choice{Template: string(bedprep.Vegetable),
			Organic: &preparation.Gives{Kind: bedprep.Matter[h.rng.IntN(len(bedprep.Matter))],
				Rate: quantity.Rate(300 + 4000*h.rng.Float64())}}
		h.may(h.App.Preparation.Plan(Ctx, a, p.ID, c))
	case 10, 11:
		h.tick(a)
	case 12:
		if h.rng.IntN(3) == 0 {
			h.file(p, x, a)
			return
		}
		h.reads(p, h.day)
	}
}

func (h *harm) dose(p *plotted, a garden.Actor) {
	pace := []dose.Pace{dose.Careful, dose.AllAtOnce}[h.rng.IntN(2)]
	w, err := h.App.Dosing.Dose(Ctx, p.ID, dosing.Choice{Pace: pace}, h.day)
	if err != nil {
		return
	}
	key := ""
	if all := append(w.Answer.Options, w.Answer.Potassium.Options...); len(all) > 0 {
		o := all[h.rng.IntN(len(all))]
		key = w.Key(o)
		if o.ForPotassium {
			key = dosing.PotassiumKey + key
		}
	}
	h.may(h.App.Dosing.Plan(Ctx, a, p.ID, dosing.Choice{Pace: pace}, key, present.EncodePlan))
}

// tick puts on what is planned, early or late, with another amount; or moves it.
func (h *harm) tick(a garden.Actor) {
	v, err := h.App.BedState.View(Ctx, h.day)
	require.NoError(h.T, err)
	var goes []garden.Task
	for _, g := range v.ToDo() {
		if g.Kind == garden.TaskApplication {
			goes = append(goes, g)
		}
	}
	if len(goes) == 0 {
		return
	}
	g := goes[h.rng.IntN(len(goes))]
	if h.rng.IntN(4) == 0 {
		h.may(h.App.Schedule.Move(Ctx, a, g.ID, g.Version, h.day+quantity.Day(h.rng.IntN(120))))
		return
	}
	other := g.Total * quantity.Mass(0.7+0.6*h.rng.Float64())
	h.may(h.App.Schedule.PutOn(Ctx, a, schedule.Tick{Task: g.ID, Version: g.Version, Total: &other, On: h.day - quantity.Day(h.rng.IntN(4))}))
}

// file takes in what happened, whatever rule it broke.
func (h *harm) file(p *plotted, x garden.Application, a garden.Actor) {
	before := h.entries()
	x.Date = h.day
	h.may(h.App.Schedule.Take(Ctx, a, []schedule.Incoming{{Line: 2, Bed: p.Name, Is: x}}))
	for _, e := range h.entries()[len(before):] {
		h.facts[e.ID] = true
	}
}

// entries are all that went on, in the order in which it was told.
func (h *harm) entries() (out []garden.Application) {
	require.NoError(h.T, garden.Ask(Ctx, h.Store, func(r bedstate.Reader) (err error) {
		out, err = garden.All[garden.Application](r)
		return err
	}))
	slices.SortFunc(out, func(a, b garden.Application) int { return int(a.ID - b.ID) })
	return out
}

// What harms a bed is not planned as a feed, nor put into its preparation.
func TestWhatHarmsIsNotPlannedEither(t *testing.T) {
	y := New(t)
	y.Bed.Kind = garden.KindPots
	_, err := y.App.Layout.EditBed(Ctx, y.Actor, y.Bed)
	require.NoError(t, err)
	y.Add(y.Planting("carrot", "2027-06-15", ""))
	_, err = y.App.Schedule.PlanFeed(Ctx, y.Actor, garden.Application{BedID: y.Bed.ID, What: "rotted-manure", Total: 500,
		Date: Day("2027-04-20")})
	faultAt(t, err, "what", "too strong for pots")

	y = New(t)
	y.Add(y.Planting("carrot", "2027-06-15", ""))
	give := func(k material.Kind, rate quantity.Rate) error {
		_, err := y.App.Preparation.Draft(Ctx, y.Bed.ID, preparation.Choice{Template: string(bedprep.Vegetable),
			Organic: &preparation.Gives{Kind: k, Rate: rate}}, Today)
		return err
	}
	faultAt(t, give("poultry-manure", 1000), "organic", "harmed by fresh or poultry manure")
	faultAt(t, give("rotted-manure", 3500), "organic_rate", "at one time")
	require.NoError(t, give("rotted-manure", 3400))
}

// Where there is time, manure goes on before the winter that would wash it out; where there is none, it waits for the spring and the
// planting for it.
func TestManureOfAPreparationGoesOnBeforeTheWinter(t *testing.T) {
	for day, want := range map[string]string{"2026-08-01": "2026-10-31", "2026-12-01": "2027-04-01"} {
		y := New(t)
		y.Add(y.Planting("dahlia", "2027-04-20", ""), y.Planting("bean", "2026-04-20", "2026-07-20"))
		without := []bedprep.StepID{bedprep.Clear, bedprep.Loosen, bedprep.Test, bedprep.Correct}
		d, err := y.App.Preparation.Draft(Ctx, y.Bed.ID, preparation.Choice{Template: string(bedprep.Vegetable),
			Organic: &preparation.Gives{Kind: material.Manure, Rate: 2000}, Without: without}, Day(day))
		require.NoError(t, err)
		for _, p := range d.Placed {
			if p.ID == bedprep.Organic {
				require.Equal(t, want, p.Day.String(), day)
			}
		}
		require.Equal(t, day == "2026-12-01", d.Puts(), day)
	}
}
