package dosing

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Sharing is the sharing out of the stock over all beds.
type Sharing struct {
	allocate.Shared
	Garden garden.Garden
	// Stocks are the shared stocks, Of their materials, Priced whether their price is known.
	Stocks []garden.Stock
	Of     []material.Batch
	Priced []bool
	Beds   []SharedBed
	// Untested are the beds without a usable reading; Unweighed the bins of unknown amount.
	Untested, Unweighed []string
	// Free is the plan without amounts chosen by hand; nil if there are none.
	Free *allocate.Plan
}

// Ash returns how much ash is given, on how many beds, and how much is usable.
func (s *Sharing) Ash() (given, has quantity.Mass, beds int) {
	for i := range s.Beds {
		var on quantity.Mass
		for m, x := range s.Given[i] {
			if s.Of[m].Family == material.Ash {
				on += x.Over(s.Beds[i].Area)
			}
		}
		if given += on; on > 0 {
			beds++
		}
	}
	for _, of := range s.Of {
		if of.Family == material.Ash && of.OnHand != nil && !of.Barred() {
			has += *of.OnHand
		}
	}
	return given, has, beds
}

// Several reports whether more than one stock of a family may be given.
func (s *Sharing) Several(f material.Family) bool {
	n := 0
	for i := range s.Of {
		if s.Of[i].Family == f && !s.Of[i].Barred() {
			n++
		}
	}
	return n > 1
}

// SharedBed is one bed of a sharing.
type SharedBed struct {
	Dose
	allocate.Asked
	// After is its final pH and K its potassium with its share; nil if unknown, or if nothing moves it.
	After *quantity.PH
	K     *quantity.Concentration
	// Plan is its share as an option of its dose; nil where it gets nothing. Why says what is closed
	// to it that it would else be given.
	Plan *dose.Option
	Why  string
}

// unpriced is the assumed price per kilogram of a bag without one, so that ash goes first.
const unpriced = 1

// ShareChoice is the gardener's choices; the zero value is the garden's methods, each crop's aim,
// all beds, no fixed amount.
type ShareChoice struct {
	Methods dose.Methods
	// Foot aims at the lower end of each range.
	Foot bool
	// Out are excluded beds.
	Out  []int64
	Hand []ByHand
}

// ByHand is a fixed amount of one stock, by its key, for a bed.
type ByHand struct {
	Bed   int64
	Key   string
	Total quantity.Mass
}

// Field returns its name in a form.
func (h ByHand) Field() string { return fmt.Sprintf("fix.%d.%s", h.Bed, h.Key) }

// sharings caches results.
var sharings = cache.Kind{Name: "sharings", Room: 4}

// shareKey is everything that a sharing depends on besides the garden.
type shareKey struct {
	today  quantity.Day
	choice string
}

func (c ShareChoice) key(today quantity.Day) shareKey { return shareKey{today, fmt.Sprintf("%+v", c)} }

// quickBeds is the largest number of beds that are shared out within a page request.
const quickBeds = 120

// Quick reports whether a sharing is cached or fast enough for a page request, and its number of
// beds.
func (svc Service) Quick(ctx context.Context, c ShareChoice, today quantity.Day) (quick bool, beds int, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if _, ok, err := garden.Peeked[Sharing](r, sharings, c.key(today)); err != nil || ok {
			quick = true
			return err
		}
		all, err := garden.All[garden.Bed](r)
		beds = len(all)
		quick = beds <= quickBeds
		return err
	})
	return quick, beds, err
}

// share computes the plan of the participating beds.
func (s *Sharing) share(w *allocate.Work, stocks []allocate.Stock, c ShareChoice) (err error) {
	asked := make([]allocate.Asked, len(s.Beds))
	for i := range s.Beds {
		asked[i] = s.Beds[i].Asked
	}
	fixed, err := s.fixed(c.Hand)
	if err != nil {
		return err
	}
	if s.Shared, err = allocate.ShareFixed(w, stocks, asked, fixed); err != nil {
		return s.atItsField(err, c.Hand)
	}
	if len(fixed) > 0 {
		free, err := allocate.For(w, stocks, plain(asked))
		if err != nil {
			return err
		}
		s.Free = &free
	}
	for i := range s.Beds {
		if err := s.plan(i); err != nil {
			return err
		}
		s.Beds[i].settle(s.Given[i])
	}
	return nil
}

// plan sets a bed's share as an option of its dose, or why it cannot be planned: the one answer for
// the page, its button and the use case.
func (s *Sharing) plan(i int) error {
	b := &s.Beds[i]
	if !slices.ContainsFunc(s.Given[i], func(x quantity.Rate) bool { return x > 0 }) {
		return nil
	}
	w := s.asked(i)
	o, against, ok, err := dose.OptionOf(w.Request, s.Given[i])
	switch {
	case err != nil:
		return garden.FaultOf(err)
	case !ok:
		b.Why = s.says(against)
	case w.UnknownAsh(o):
		b.Why = askAshFirst
	default:
		b.Plan = &o
	}
	return nil
}

// says returns the first reason of refusals in words.
func (s *Sharing) says(against []dose.Refusal) string {
	for _, x := range against {
		if says := s.Garden.Units().Guards(x.Guards); len(says) > 0 {
			return says[0].Says
		}
	}
	return "too little of it to put on"
}

func plain(asked []allocate.Asked) []allocate.Demand {
	out := make([]allocate.Demand, len(asked))
	for i := range asked {
		out[i] = asked[i].Demand
	}
	return out
}

// StockKey returns a stock's key.
func (s *Sharing) StockKey(m int) string {
	if s.Stocks[m].ID == 0 {
		return string(s.Of[m].Kind)
	}
	return BatchKey(s.Stocks[m].ID)
}

// fixed converts fixed amounts for package allocate.
func (s *Sharing) fixed(hand []ByHand) (out []allocate.Fixed, err error) {
	for _, h := range hand {
		f := allocate.Fixed{Bed: -1, Stock: -1}
		for i := range s.Beds {
			if s.Beds[i].Dose.Record.Bed.ID == h.Bed {
				f.Bed, f.Rate = i, h.Total.Per(s.Beds[i].Area)
			}
		}
		for m := range s.Stocks {
			if s.StockKey(m) == h.Key {
				f.Stock = m
			}
		}
		if f.Bed < 0 || f.Stock < 0 {
			return nil, garden.Faults{h.Field(): "that bed or that material takes no part"}
		}
		out = append(out, f)
	}
	return out, nil
}

// atItsField converts an allocate.InputError of a fixed amount to a fault at its field.
func (s *Sharing) atItsField(err error, hand []ByHand) error {
	var wrong *allocate.InputError
	if !errors.As(err, &wrong) {
		return err
	}
	for i, h := range hand {
		if wrong.Field == fmt.Sprintf("fixed[%d]", i) {
			return garden.Faults{h.Field(): s.why(wrong, h)}
		}
	}
	return err
}

// why returns the fault of a fixed amount, with its bounds on that bed.
func (s *Sharing) why(wrong *allocate.InputError, h ByHand) string {
	says := wrong.Why
	var scoop *text.Scoop
	for m := range s.Stocks {
		if s.StockKey(m) == h.Key {
			scoop = s.Stocks[m].Measure()
		}
	}
	for i := range s.Beds {
		if area := s.Beds[i].Area; s.Beds[i].Dose.Record.Bed.ID == h.Bed {
			switch u := s.Garden.Units(); {
			case wrong.AtMost > 0:
				says += ", at most " + u.Amount(wrong.AtMost.Over(area), scoop)
			case wrong.AtLeast > 0:
				says += ", at least " + u.Amount(wrong.AtLeast.Over(area), scoop)
			}
		}
	}
	return says
}

// shelf returns the stocks to share: weighed bins, bags of what moves pH or supplies potassium, and
// ground limestone if no lime is in stock.
func (s *Sharing) shelf(all []garden.Stock) (out []allocate.Shelf) {
	lime := false
	for _, x := range all {
		m, ok := material.Find(x.Kind)
		if !ok || x.Gone != 0 || !material.Dosed(m.Family) || !m.MovesPH() && m.K2O.Typical == 0 || m.GivesAmmonia() ||
			len(out) == allocate.MostStocks-1 {
			continue
		}
		b := x.Material(m)
		b.Held = x.Left
		if b.Held == nil {
			b.Held = enough()
		}
		if m.Family == material.Ash {
			if x.Left == nil {
				s.Unweighed = append(s.Unweighed, x.Name)
				continue
			}
			b.OnHand = x.Left
		}
		lime = lime || m.Family == material.Lime
		s.Stocks, s.Of, s.Priced = append(s.Stocks, x), append(s.Of, b), append(s.Priced, x.Price != nil || m.Family == material.Ash)
		out = append(out, allocate.Shelf{ID: strconv.FormatInt(x.ID, 10), Of: b})
	}
	if !lime {
		m, _ := material.Find(material.CalciticLime)
		b := material.Batch{Material: m}
		s.Stocks, s.Of, s.Priced = append(s.Stocks, garden.Stock{}), append(s.Of, b), append(s.Priced, false)
		out = append(out, allocate.Shelf{ID: "0", Of: b})
	}
	return out
}

// add adds a bed that has a reading.
func (s *Sharing) add(rec bedstate.Record, c ShareChoice, all []garden.Stock, shelf []allocate.Shelf, today quantity.Day) error {
	if rec.Bed.Kind == garden.KindHeap || slices.Contains(c.Out, rec.Bed.ID) {
		return nil
	}
	w := Dose{Record: rec, Garden: s.Garden}
	err := w.ask(c.of(rec), all, today)
	if errors.Is(err, ErrNoReading) || err == nil && w.Used.PH == nil {
		s.Untested = append(s.Untested, rec.Bed.Name)
		return nil
	}
	if err != nil {
		return err
	}
	b := SharedBed{Dose: w}
	if lacks, err := b.answer(); err != nil || lacks != "" {
		s.Untested = append(s.Untested, lacks)
		return err
	}
	if b.Asked, err = allocate.DemandOf(strconv.FormatInt(rec.Bed.ID, 10), w.Request, shelf); err != nil {
		return garden.FaultOf(err)
	}
	b.await(shelf)
	s.Beds = append(s.Beds, b)
	return nil
}

// await closes to a bed what waits for a test there, so that it keeps nothing from the others.
func (b *SharedBed) await(shelf []allocate.Shelf) {
	if b.Need == 0 && b.K2ONeed == 0 {
		return
	}
	for m := range b.Most {
		of := &shelf[m].Of.Material
		if why := b.waitsFor(of.Raises(), of.Lowers()); b.Most[m] > 0 && why != "" {
			b.Most[m], b.Why = 0, why
		}
	}
}

// answer computes one bed's request; lacks is its name with what its method lacks, if that prevents
// it: one bed does not stop the others.
func (w *Dose) answer() (lacks string, err error) {
	var wrong *dose.InputError
	if w.Answer, err = dose.For(w.Request); errors.As(err, &wrong) {
		return w.Record.Bed.Name + " (" + wrong.Why + ")", nil
	}
	return "", err
}

// of returns the choices of one bed's dose.
func (c ShareChoice) of(rec bedstate.Record) Choice {
	ch := Choice{Buffering: c.Methods.Buffering, Ash: c.Methods.Ash, Act: c.Methods.Act,
		Pace: c.Methods.Pace}
	if foot := rec.State.Crop.Range.Low; c.Foot && rec.State.PH > 0 && rec.State.PH < foot {
		ch.Target = &foot
	}
	return ch
}

// settle sets a bed's final pH and potassium with its planned share.
func (b *SharedBed) settle(given []quantity.Rate) {
	potash := quantity.Rate(0)
	for m, x := range given {
		potash += quantity.Rate(float64(x) * b.Asked.Worth[m].K2O)
	}
	switch w := b.Dose.Record.State.AtWork; {
	case b.Plan != nil && b.Plan.PH.Median > 0:
		b.After = &b.Plan.PH.Median
	case w != nil:
		b.After = &w.Settles
	}
	if now := b.Answer.K.Now; now != nil {
		k := *now + soil.PotassiumRise(b.Request.Ground, potash)
		b.K = &k
	}
}

// PlanShare plans all shares, replacing each bed's earlier plans, as one change. encode writes each
// request for the record.
func (svc Service) PlanShare(ctx context.Context, a garden.Actor, c ShareChoice, encode func(*Dose) (garden.JSON, error)) (garden.Receipt,
	error) {
	// Searched for before anything is changed: writers wait for each other. It is kept for the state that it is of.
	if _, err := svc.Share(ctx, c, a.Today, nil, nil); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		s, err := garden.Cached(tx, sharings, c.key(a.Today), func() (Sharing, error) {
			q, err := gathered(tx, c, a.Today, nil)
			if err != nil {
				return Sharing{}, err
			}
			return q.solve(ctx)
		})
		if err != nil {
			return "", err
		}
		applications, beds := 0, 0
		for i := range s.Beds {
			o := s.Beds[i].Plan
			if o == nil {
				continue
			}
			w := s.asked(i)
			if _, err := w.PlanOption(tx, a.Today, *o, encode); err != nil {
				return "", err
			}
			applications, beds = applications+len(o.Applications), beds+1
		}
		if beds == 0 {
			return "", garden.Faults{"share": "no bed gets anything"}
		}
		return fmt.Sprintf("Planned %s for %s", text.Count(applications, "application", "applications"), text.Count(beds, "bed", "beds")), nil
	})
}

// asked returns a bed's dose with what is shared out as its materials.
func (s *Sharing) asked(i int) Dose {
	w := s.Beds[i].Dose
	w.Request.Materials = make([]material.Batch, len(s.Of))
	w.Shelf = make([]*garden.Stock, len(s.Of))
	for m := range s.Of {
		w.Request.Materials[m] = s.Of[m].Unbound() // the stock is already shared out
		if s.Stocks[m].ID != 0 {
			w.Shelf[m] = &s.Stocks[m]
		}
	}
	return w
}
