package outlook

import (
	"context"
	"slices"
	"strings"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Report is a complete account of a garden's season: readings, applications with their batches,
// promises and their outcomes, and what is next.
type Report struct {
	Garden garden.Garden
	Today  quantity.Day
	Season string
	// Seasons are those with any content, newest first.
	Seasons []string
	Beds    []BedReport
	// Batches are all known batches, by number.
	Batches map[int64]garden.Batch
}

// BedReport is a bed in a report, each list in order of day.
type BedReport struct {
	Record   bedstate.Record
	Readings []garden.Reading
	Put      []ReportedApplication
	// Sum is the total supplied, g/m².
	Sum    ledger.Brought
	Checks []forecast.Check
	Crops  []garden.Planting
	// Next are the open tasks.
	Next []garden.Task
}

// ReportedApplication is an application with its batch and what it supplied.
type ReportedApplication struct {
	garden.Application
	Batch   *garden.Batch
	Brought ledger.Brought
}

// Empty reports whether the season has nothing of the bed.
func (b *BedReport) Empty() bool { return len(b.Readings)+len(b.Put)+len(b.Crops)+len(b.Next) == 0 }

// Report returns the report of a season, "" for today's, of one bed or of all (0).
func (svc Service) Report(ctx context.Context, season string, bed int64, today quantity.Day) (p Report, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		records, g, err := bedstate.ReadBeds(r, today)
		if err != nil {
			return err
		}
		batches, err := bedstate.BatchesByID(r)
		if err != nil {
			return err
		}
		p = Report{Garden: g, Today: today, Season: season, Batches: batches}
		if p.Season == "" {
			p.Season = g.SeasonOf(today)
		}
		for _, rec := range records {
			p.seasonsOf(&rec)
			if bed != 0 && rec.Bed.ID != bed || rec.Bed.Kind == garden.KindHeap {
				continue
			}
			p.Beds = append(p.Beds, p.bed(rec, batches))
		}
		p.add(p.Season)
		slices.SortFunc(p.Seasons, func(a, b string) int { return strings.Compare(b, a) })
		return nil
	})
	return p, err
}

func (p *Report) add(season string) {
	if !slices.Contains(p.Seasons, season) {
		p.Seasons = append(p.Seasons, season)
	}
}

// seasonsOf adds the seasons with anything of a bed.
func (p *Report) seasonsOf(rec *bedstate.Record) {
	for i := range rec.Readings {
		p.add(p.Garden.SeasonOf(rec.Readings[i].Date))
	}
	for i := range rec.Applications {
		p.add(p.Garden.SeasonOf(rec.Applications[i].Date))
	}
}

// in reports whether a day lies in the season, and not in the future.
func (p *Report) in(d quantity.Day) bool {
	return d <= p.Today && p.Garden.SeasonOf(d) == p.Season
}

func (p *Report) bed(rec bedstate.Record, batches map[int64]garden.Batch) BedReport {
	b := BedReport{Record: rec}
	for _, x := range rec.Readings {
		if p.in(x.Date) {
			b.Readings = append(b.Readings, x)
		}
	}
	for _, x := range rec.Applications {
		if !p.in(x.Date) {
			continue
		}
		put := ReportedApplication{Application: x, Brought: applications.BroughtBy(&x, p.Garden)}
		if x.BatchID != nil {
			if of, ok := batches[*x.BatchID]; ok {
				put.Batch = &of
			}
		}
		b.Put = append(b.Put, put)
		b.Sum.Add(put.Brought)
	}
	for _, k := range rec.Lesson.Checks() {
		if p.in(k.Date) {
			b.Checks = append(b.Checks, k)
		}
	}
	for _, x := range rec.Plantings {
		from, to := p.Garden.SeasonOf(x.Sown), p.Garden.SeasonOf(p.Today)
		if x.Cleared != 0 {
			to = p.Garden.SeasonOf(x.Cleared)
		}
		if from <= p.Season && p.Season <= to {
			b.Crops = append(b.Crops, x)
		}
	}
	for _, t := range rec.Tasks {
		if _, held := rec.Held[t.ID]; t.State == garden.Open && !held {
			b.Next = append(b.Next, t)
		}
	}
	return b
}
