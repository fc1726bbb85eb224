package demo

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
)

// Build fills an empty garden with Hollin Terrace. encode writes a plan's
// request, as the program does when a gardener makes one.
func Build(ctx context.Context, s garden.Store, encode func(*dosing.Dose) (garden.JSON, error)) error {
	b := builder{samples: map[string]int64{}, beds: map[string]garden.Bed{}, batches: map[string]int64{}}
	at := time.Date(2026, 11, 24, 7, 30, 0, 0, time.UTC)
	_, err := s.Change(ctx, garden.Change{Who: "demo", At: at}, func(tx garden.Tx) (string, error) {
		b.tx = tx
		for _, step := range []func() error{b.place, b.shelf, b.ground, b.walk, b.read, b.put, b.skip, b.see} {
			if err := step(); err != nil {
				return "", err
			}
		}
		return "Hollin Terrace, with four seasons of records (made up)", nil
	})
	if err != nil {
		return err
	}
	return b.plan(ctx, dosing.Service{Store: s}, encode)
}

type builder struct {
	// samples are those of the last round, by their bed.
	samples map[string]int64
	tx      garden.Tx
	beds    map[string]garden.Bed
	batches map[string]int64
}

func (b *builder) place() error {
	g, err := b.tx.Garden()
	if err != nil {
		return err
	}
	g.Name, g.Started, g.Currency = "Hollin Terrace", quantity.Date(2023, 1, 1), "€"
	g.WaterPH, g.WaterHardness = known[quantity.PH](7.6), known[float64](260)
	return b.tx.Update(&g)
}

// known gives nil for 0, which stands for "not known" in the tables.
func known[T ~float64](x float64) *T {
	if x == 0 {
		return nil
	}
	v := T(x)
	return &v
}

func (b *builder) shelf() error {
	for _, r := range batches {
		x := garden.Batch{Name: r.name, Kind: material.Kind(r.kind), CCE: known[quantity.Percent](r.cce),
			Effective: known[quantity.Percent](r.effective), K2O: known[quantity.Percent](r.k2o),
			Condition: material.Condition(r.condition), Source: material.Source(r.source),
			OnHand: known[quantity.Mass](r.kg * 1000), Price: known[float64](r.price), Bag: known[quantity.Mass](r.bag * 1000),
			Scoop: known[quantity.Mass](r.scoopGrams), Note: r.note, Fire: r.fire, Woods: r.woods, Keeping: r.keeping,
			Vinegar: r.vinegar}
		if r.burnt != "" {
			x.Burnt = day(r.burnt)
		}
		if err := b.tx.Insert(&x); err != nil {
			return err
		}
		b.batches[x.Name] = x.ID
	}
	for _, f := range fires {
		m := garden.Movement{BatchID: b.batches[f.batch], Date: day(f.day), Kind: garden.MovedIn,
			Amount: quantity.Mass(f.kg) * quantity.Kilogram, Note: "A week or two of the stove."}
		if err := b.tx.Insert(&m); err != nil {
			return err
		}
	}
	for _, w := range weighings {
		m := garden.Movement{BatchID: b.batches[w.batch], Date: day(w.day), Kind: garden.MovedWeighed,
			Amount: quantity.Mass(w.kg) * quantity.Kilogram, Note: w.note}
		if err := b.tx.Insert(&m); err != nil {
			return err
		}
	}
	return nil
}

func day(s string) quantity.Day {
	if s == "-" {
		return 0
	}
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err) // a slip in this package's own tables
	}
	return d
}

func number(s string) float64 {
	x, err := strconv.ParseFloat(s, 64)
	if err != nil {
		panic(err)
	}
	return x
}

func (b *builder) ground() error {
	for _, c := range ownCrops {
		if err := b.tx.Insert(&c); err != nil {
			return err
		}
	}
	for _, m := range marks {
		if err := b.tx.Insert(&m); err != nil {
			return err
		}
	}
	for _, r := range beds {
		bed := r.Bed
		bed.OrganicMatter, bed.CEC = known[quantity.Percent](r.om), known[quantity.CationExchangeCapacity](r.cec)
		if err := b.tx.Insert(&bed); err != nil {
			return err
		}
		b.beds[bed.Name] = bed
		for _, c := range r.crops {
			f := strings.Fields(c)
			if err := b.tx.Insert(&garden.Planting{BedID: bed.ID, Crop: f[0], Sown: day(f[1]), Cleared: day(f[2])}); err != nil {
				return err
			}
		}
	}
	return nil
}

// reading takes a line of the table apart.
func reading(bed garden.Bed, line string) garden.Reading {
	f := strings.Fields(line)
	r := garden.Reading{BedID: bed.ID, Date: day(f[0]), Method: soil.Method(f[1]), Basis: soil.Water, Depth: bed.Depth}
	if r.Method == soil.Fizz {
		v, s, _ := strings.Cut(f[2], "/")
		r.Vinegar, r.Soda = soil.FreeLime(v), soil.FreeLime(s)
	} else {
		r.PH = known[quantity.PH](number(f[2]))
	}
	for _, x := range f[3:] {
		name, v, _ := strings.Cut(x, "=")
		switch name {
		case "n":
			r.Cores = int(number(v))
		case "k":
			// The holding's lab draws it out with ammonium acetate.
			r.Potassium, r.Extractant = known[quantity.Concentration](number(v)), soil.AmmoniumAcetate
		case "mg":
			r.Magnesium = known[quantity.Concentration](number(v))
		case "cacl2":
			r.Basis, r.PH = soil.CaCl2, known[quantity.PH](number(v))
		}
	}
	return r
}

// walk is the last round: three beds, each with a sample of its own, taken and
// read.
func (b *builder) walk() error {
	d := day(round.day)
	r := garden.Round{Made: d, Corer: 0.019, Wanted: 500, Walk: 12, Ended: day(round.read)}
	if err := b.tx.Insert(&r); err != nil {
		return err
	}
	at := d.Time().Add(9 * time.Hour)
	for i, name := range round.beds {
		bed := b.beds[name]
		s := garden.Sample{RoundID: r.ID, Code: strconv.FormatInt(r.ID, 10) + garden.Letter(i), Depth: bed.Depth,
			State: garden.SampleRead, Taken: d, Sent: d + 1, Read: r.Ended}
		if err := b.tx.Insert(&s); err != nil {
			return err
		}
		b.samples[name] = s.ID
		x := garden.SampleBed{SampleID: s.ID, BedID: bed.ID, Cores: round.cores, Place: i + 1}
		if err := b.tx.Insert(&x); err != nil {
			return err
		}
		for n := range x.Cores {
			at = at.Add(50 * time.Second)
			if err := b.tx.Insert(&garden.Core{SampleBedID: x.ID, N: n + 1, At: at.Format(time.RFC3339)}); err != nil {
				return err
			}
		}
	}
	return nil
}

func (b *builder) read() error {
	for _, row := range beds {
		bed := b.beds[row.Name]
		for _, line := range readings[row.Name] {
			r := reading(bed, line)
			if id, ok := b.samples[row.Name]; ok && r.Date == day(round.day) {
				r.SampleID = &id
			}
			if err := b.tx.Insert(&r); err != nil {
				return err
			}
		}
	}
	return nil
}

// put logs what was applied, each with the task that it ticked.
func (b *builder) put() error {
	for _, row := range beds {
		bed := b.beds[row.Name]
		for _, line := range puts[row.Name] {
			f := strings.SplitN(line, " ", 5)
			rate := quantity.Rate(number(f[2]))
			total := rate.Over(bed.Area())
			a := garden.Application{BedID: bed.ID, Date: day(f[0]), What: material.Kind(f[1]), Rate: rate, Total: total}
			if len(f) == 5 {
				a.Note = f[4]
			}
			if m, _ := material.Find(a.What); material.Dosed(m.Family) {
				t := garden.Task{BedID: bed.ID, Kind: garden.TaskApplication, Due: a.Date, What: a.What, Rate: rate, Total: total,
					State: garden.Done, Settled: a.Date, Depth: bed.Depth}
				if err := b.tx.Insert(&t); err != nil {
					return err
				}
				a.TaskID = &t.ID
			}
			if err := b.tx.Insert(&a); err != nil {
				return err
			}
		}
	}
	return nil
}

func (b *builder) skip() error {
	for _, line := range skips {
		f := strings.Split(line, "|")
		bed := b.beds[f[0]]
		rate := quantity.Rate(number(f[3]))
		t := garden.Task{BedID: bed.ID, Kind: garden.TaskApplication, Due: day(f[1]), What: material.Kind(f[2]), Rate: rate,
			Total: rate.Over(bed.Area()), State: garden.Skipped, Settled: day(f[4]), Why: f[5], Depth: bed.Depth}
		if err := b.tx.Insert(&t); err != nil {
			return err
		}
	}
	return nil
}

// plan puts doses in the year in the way a gardener does.
func (b *builder) plan(ctx context.Context, k dosing.Service, encode func(*dosing.Dose) (garden.JSON, error)) error {
	for _, p := range plans {
		d := day(p.day)
		w, err := k.Dose(ctx, b.beds[p.bed].ID, dosing.Choice{}, d)
		if err != nil {
			return fmt.Errorf("%s: %w", p.bed, err)
		}
		use := ""
		for _, o := range w.Answer.Options {
			if s := w.Shelf[o.Parts[0].Batch]; len(o.Parts) == 1 && s != nil && s.Name == p.batch {
				use = w.Key(o)
			}
		}
		act := garden.Actor{Who: "demo", Today: d, At: d.Time().Add(18 * time.Hour)}
		if _, err := k.Plan(ctx, act, b.beds[p.bed].ID, dosing.Choice{}, use, encode); err != nil {
			return fmt.Errorf("%s, %s: %w", p.bed, p.batch, err)
		}
	}
	return nil
}
