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
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/spreading"
	"zephyrfield/internal/web/present"
)

// plotted is a bed of a garden in which harm is looked for, with what stands or comes there.
type plotted struct {
	garden.Bed
	crop     crop.Crop
	planting garden.Planting
}

// harm is a garden with every kind of ground, worked at random through every use case. Its rules
// are implemented independently, from the records alone.
type harm struct {
	*gardentest.Garden
	rng  *rand.Rand
	day  quantity.Day
	beds []plotted
	// seen is the last entry of the log that was looked at; facts are those that came in by a file: they are what happened.
	seen  int64
	facts map[int64]bool
	fed   []material.Kind
}

// No use case exceeds a cap, interval, harvest, range or stop: doses of one and several beds,
// shares, buckets, the log, plants, preparations, ticks with other amounts and days, moves, and
// imports.
func TestNoUseCaseDoesHarm(t *testing.T) {
	gardens := 4
	if n, err := strconv.Atoi(os.Getenv("YEARS")); err == nil {
		gardens = n / 4
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
	h := &harm{Garden: gardentest.New(t), rng: rand.New(rand.NewPCG(seed, 31)), day: gardentest.Day("2027-03-01"), facts: map[int64]bool{},
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
			h.Store.Change(gardentest.Ctx, garden.Change{}, func(tx garden.Tx) (string, error) { return "", tx.Update(&b) })
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
			p.planting.Sown = gardentest.Day("2023-04-01")
		}
		h.Add(&p.planting)
		h.beds = append(h.beds, p)
		h.reads(&p, h.day-20)
	}
	h.Add(&garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
		OnHand: gardentest.Ptr(quantity.Mass(40000))},
		&garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: gardentest.Ptr(quantity.Mass(50000)), Price: gardentest.Ptr(0.5)},
		&garden.Batch{Name: "Sulfur", Kind: material.SulfurPowder, OnHand: gardentest.Ptr(quantity.Mass(5000))})
	return h
}

func (h *harm) reads(p *plotted, day quantity.Day) {
	r := h.Reading(day.String(), []soil.Method{soil.Lab, soil.Kit, soil.Meter}[h.rng.IntN(3)],
		max(4.2, p.crop.Range.Low-0.9+quantity.PH(2.4*h.rng.Float64())))
	r.BedID = p.ID
	if h.rng.IntN(2) == 0 {
		r.Potassium, r.Extractant = gardentest.Ptr(quantity.Concentration(40+160*h.rng.Float64())), soil.AmmoniumAcetate
	}
	h.may(h.App.Readings.AddReading(gardentest.Ctx, h.On(day), *r))
}

// may accepts a refusal in words like a change.
func (h *harm) may(_ garden.Receipt, err error) {
	var f garden.Faults
	if err == nil || errors.As(err, &f) || errors.Is(err, garden.ErrStale) || errors.Is(err, dosing.ErrNoOption) ||
		errors.Is(err, dosing.ErrNoReading) || errors.Is(err, garden.ErrMissing) {
		return
	}
	require.NoError(h.T, err)
}

// step performs one random action on any bed.
func (h *harm) step() {
	h.day += quantity.Day(h.rng.IntN(25))
	p := &h.beds[h.rng.IntN(len(h.beds))]
	a := h.On(h.day)
	kind := h.fed[h.rng.IntN(len(h.fed))]
	row, _ := material.Find(kind)
	total := quantity.Rate(20 + 300*h.rng.Float64()).Over(p.Area())
	if caps, ok := row.CapsOn(soil.Ground{Worked: soil.Dug}); ok {
		total = (caps.Once * quantity.Rate(1.2*h.rng.Float64())).Over(p.Area())
	}
	x := garden.Application{BedID: p.ID, What: kind, Total: max(total, 1), Date: h.day - quantity.Day(h.rng.IntN(20))}
	switch h.rng.IntN(13) {
	case 0, 1:
		h.dose(p, a)
	case 2:
		h.may(h.App.Dosing.PlanMany(gardentest.Ctx, a, []int64{p.ID}, "", present.EncodePlan))
	case 3:
		h.may(h.App.Dosing.PlanShare(gardentest.Ctx, a, dosing.ShareChoice{}, present.EncodePlan))
	case 4, 5:
		what := string(kind)
		if kind == material.HardwoodAsh {
			what = "b1"
		}
		h.may(h.App.Spreading.PutOn(gardentest.Ctx, a, spreading.Amount{What: what, Bed: p.ID, Amount: &x.Total}, present.EncodePlan))
	case 6:
		h.may(h.App.Applications.Note(gardentest.Ctx, a, x))
	case 7:
		x.Date = h.day + quantity.Day(h.rng.IntN(200))
		h.may(h.App.Schedule.PlanFeed(gardentest.Ctx, a, x))
	case 8:
		h.may(h.App.Dosing.ApplySideDressing(gardentest.Ctx, a, p.ID, dosing.SideDressingChoice{Ring: dose.Ring{Plants: 1 + h.rng.IntN(8),
			Across: 0.6}}))
	case 9:
		c := preparation.Choice{Template: string(bedprep.Vegetable),
			Organic: &preparation.Gives{Kind: bedprep.Matter[h.rng.IntN(len(bedprep.Matter))],
				Rate: quantity.Rate(300 + 4000*h.rng.Float64())}}
		h.may(h.App.Preparation.Plan(gardentest.Ctx, a, p.ID, c))
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
	w, err := h.App.Dosing.Dose(gardentest.Ctx, p.ID, dosing.Choice{Pace: pace}, h.day)
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
	h.may(h.App.Dosing.Plan(gardentest.Ctx, a, p.ID, dosing.Choice{Pace: pace}, key, present.EncodePlan))
}

// tick ticks planned work, early or late, with another amount; or moves it.
func (h *harm) tick(a garden.Actor) {
	v, err := h.App.BedState.View(gardentest.Ctx, h.day)
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
		h.may(h.App.Schedule.Move(gardentest.Ctx, a, g.ID, g.Version, h.day+quantity.Day(h.rng.IntN(120))))
		return
	}
	other := g.Total * quantity.Mass(0.7+0.6*h.rng.Float64())
	h.may(h.App.Applications.PutOn(gardentest.Ctx, a, applications.Tick{Task: g.ID, Version: g.Version, Total: &other,
		On: h.day - quantity.Day(h.rng.IntN(4))}))
}

// file imports what happened, whatever rule it broke.
func (h *harm) file(p *plotted, x garden.Application, a garden.Actor) {
	before := h.entries()
	x.Date = h.day
	h.may(h.App.Applications.ImportLog(gardentest.Ctx, a, []applications.Incoming{{Line: 2, Bed: p.Name, Is: x}}))
	for _, e := range h.entries()[len(before):] {
		h.facts[e.ID] = true
	}
}

// entries returns all that was applied, in the order in which it was reported.
func (h *harm) entries() (out []garden.Application) {
	require.NoError(h.T, garden.Ask(gardentest.Ctx, h.Store, func(r bedstate.Reader) (err error) {
		out, err = garden.All[garden.Application](r)
		return err
	}))
	slices.SortFunc(out, func(a, b garden.Application) int { return int(a.ID - b.ID) })
	return out
}

// Harmful work cannot be planned as a feed, nor in a preparation.
func TestHarmfulWorkIsNotPlanned(t *testing.T) {
	y := gardentest.New(t)
	y.Bed.Kind = garden.KindPots
	_, err := y.App.Layout.EditBed(gardentest.Ctx, y.Actor, y.Bed)
	require.NoError(t, err)
	y.Add(y.Planting("carrot", "2027-06-15", ""))
	_, err = y.App.Schedule.PlanFeed(gardentest.Ctx, y.Actor, garden.Application{BedID: y.Bed.ID, What: "rotted-manure", Total: 500,
		Date: gardentest.Day("2027-04-20")})
	gardentest.FaultAt(t, err, "what", "too strong for pots")

	y = gardentest.New(t)
	y.Add(y.Planting("carrot", "2027-06-15", ""))
	give := func(k material.Kind, rate quantity.Rate) error {
		_, err := y.App.Preparation.Draft(gardentest.Ctx, y.Bed.ID, preparation.Choice{Template: string(bedprep.Vegetable),
			Organic: &preparation.Gives{Kind: k, Rate: rate}}, gardentest.Today)
		return err
	}
	gardentest.FaultAt(t, give("poultry-manure", 1000), "organic", "harmed by fresh or poultry manure")
	gardentest.FaultAt(t, give("rotted-manure", 3500), "organic_rate", "at one time")
	require.NoError(t, give("rotted-manure", 3400))
}

// Where there is time, manure goes on before the winter that would wash it out; where there is none, it waits for the spring and the
// planting for it.
func TestPreparationManureIsAppliedBeforeWinter(t *testing.T) {
	for day, want := range map[string]string{"2026-08-01": "2026-10-31", "2026-12-01": "2027-04-01"} {
		y := gardentest.New(t)
		y.Add(y.Planting("dahlia", "2027-04-20", ""), y.Planting("bean", "2026-04-20", "2026-07-20"))
		without := []bedprep.StepID{bedprep.Clear, bedprep.Loosen, bedprep.Test, bedprep.Correct}
		d, err := y.App.Preparation.Draft(gardentest.Ctx, y.Bed.ID, preparation.Choice{Template: string(bedprep.Vegetable),
			Organic: &preparation.Gives{Kind: material.Manure, Rate: 2000}, Without: without}, gardentest.Day(day))
		require.NoError(t, err)
		for _, p := range d.Placed {
			if p.ID == bedprep.Organic {
				require.Equal(t, want, p.Day.String(), day)
			}
		}
		require.Equal(t, day == "2026-12-01", d.Delays(), day)
	}
}

// look compares entries since the last look with all earlier ones.
func (h *harm) look() {
	h.T.Helper()
	v, err := h.App.BedState.View(gardentest.Ctx, h.day)
	require.NoError(h.T, err)
	all := h.entries()
	for i := range all {
		a := &all[i]
		if a.ID <= h.seen || h.facts[a.ID] {
			continue
		}
		p, _ := v.Bed(a.BedID)
		why := h.breaks(a, all[:i], p.Ground, len(p.Preparations) > 0)
		require.Empty(h.T, why, "%s, %v g/m² on %s on %s (told on %s)", a.What, float64(a.Rate), p.Bed.Name, a.Date, h.day)
	}
	if n := len(all); n > 0 {
		h.seen = all[n-1].ID
	}
	for _, t := range v.Tasks {
		m, ok := material.Find(t.What)
		if _, held := v.Held[t.ID]; held || !ok || t.Kind != garden.TaskApplication || v.Moved[t.ID].Shortfall {
			continue
		}
		p, _ := v.Bed(t.BedID)
		if p.Bed.Kind == garden.KindHeap {
			require.False(h.T, material.ByDoseOnly(m.Family), "a dose of %s is planned on a heap", t.What)
		}
		x := garden.Application{BedID: t.BedID, What: t.What, Rate: t.Rate, Total: t.Total, Date: max(t.Due, h.day)}
		if why := h.kept(&x, &m, all); why != "" && t.Due > h.day {
			require.Empty(h.T, why, "%s is planned on %s for %s", t.What, p.Bed.Name, t.Due)
		}
	}
}

// breaks returns the rule that an entry broke when it was reported, by all that was reported before
// it.
func (h *harm) breaks(a *garden.Application, before []garden.Application, g soil.Ground, turned bool) string {
	m, _ := material.Find(a.What)
	bed := h.bedOf(a.BedID)
	if why := h.stop(&m, bed, g); why != "" {
		return why
	}
	if caps, ok := m.CapsOn(g); ok && g.Use != soil.UseHeap {
		if a.Rate > caps.Once*(1+1e-6) {
			return "over the cap on one application"
		}
		for end := a.Date; end < a.Date+365; end++ {
			year := a.Rate
			for i := range before {
				if x := &before[i]; x.BedID == a.BedID && x.Date <= end && x.Date > end-365 {
					o, _ := material.Find(x.What)
					year += x.Rate * quantity.Rate(caps.Counts(m.Family, &o))
				}
			}
			if year > caps.Year*(1+1e-6) {
				return "over the year's cap"
			}
		}
	}
	if why := h.kept(a, &m, before); why != "" {
		return why
	}
	if turned || bed.Kind == garden.KindHeap {
		return "" // its planting waits for what was applied
	}
	return h.beforeCrop(a, &m, bed)
}

func (h *harm) bedOf(id int64) *plotted {
	for i := range h.beds {
		if h.beds[i].ID == id {
			return &h.beds[i]
		}
	}
	return nil
}

// stop returns what the bed and its crop forbid at any time.
func (h *harm) stop(m *material.Material, bed *plotted, g soil.Ground) string {
	switch acid := bed.crop.Is(crop.AcidLover); {
	case bed.Kind == garden.KindHeap:
	case m.Family == material.Ash && (acid || bed.crop.Is(crop.NoAsh)):
		return "ash for a crop that it does not suit"
	case m.Chalky && acid:
		return "chalk for an acid lover"
	case m.Manure() && g.Use == soil.UsePot:
		return "manure in pots"
	case m.Manure() && g.Use == soil.UseLawn:
		return "manure on a lawn"
	}
	return ""
}

// kept returns the distance that something does not keep from what is on its bed.
func (h *harm) kept(a *garden.Application, m *material.Material, others []garden.Application) string {
	for i := range others {
		x := &others[i]
		o, ok := material.Find(x.What)
		if x.BedID != a.BedID || !ok {
			continue
		}
		apart := max(a.Date-x.Date, x.Date-a.Date)
		switch {
		case apart < 21 && (m.Raises() && o.GivesAmmonia() || o.Raises() && m.GivesAmmonia()):
			return "lime or ash with what gives off ammonia: " + x.Date.String()
		case h.bedOf(a.BedID).Kind == garden.KindHeap: // only ammonia is kept from one
		case apart < 182 && (m.Raises() && o.Family == material.Sulfur || o.Raises() && m.Family == material.Sulfur):
			return "lime or ash and sulfur in one season: " + x.Date.String()
		case apart < 84 && m.Manure() && o.Manure():
			return "manure on manure: " + x.Date.String()
		}
	}
	if h.bedOf(a.BedID).Kind == garden.KindHeap {
		return ""
	}
	if day := int(a.Date.Month())*100 + a.Date.Time().Day(); m.Manure() && (day > 1105 || day < 325) {
		return "manure in winter"
	}
	return ""
}

// beforeCrop returns the distance that something does not keep from the planting or the harvest
// that comes.
func (h *harm) beforeCrop(a *garden.Application, m *material.Material, bed *plotted) string {
	p := bed.planting
	ahead := p.Sown - a.Date
	if bed.crop.Is(crop.Perennial) {
		return ""
	}
	harvest, eaten := bed.crop.Harvest()
	switch {
	case m.Family == material.Ash && ahead >= 0 && ahead < bed.crop.SowingGap():
		return "ash too near the sowing"
	case m.Family == material.Ash && ahead <= 0 && -ahead < 21:
		return "ash on seedlings"
	case m.Family == material.FreshManure && ahead >= 0 && ahead < 60:
		return "fresh manure too near the planting"
	case m.Family == material.RottedManure && ahead >= 0 && ahead < 14:
		return "rotted manure too near the planting"
	case m.Family == material.FreshManure && eaten && harvest.After > 0:
		if to := p.Sown + harvest.After - a.Date; to >= 0 && to < harvest.Gap() {
			return "fresh manure too near the harvest"
		}
	}
	return ""
}
