package dosejson

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// RationRequest is a request to share stock out over beds (docs/ration.md).
type RationRequest struct {
	Date   string        `json:"date"`
	Place  *Place        `json:"place,omitempty"`
	Method *Methods      `json:"school,omitempty"`
	Stock  []RationStock `json:"stock"`
	// MinGM2 overrides the smallest amounts by stock.
	MinGM2 map[string]float64 `json:"min_g_m2,omitempty"`
	Beds   []RationBed        `json:"beds"`
}

// RationStock is a material with an id; without a weight its stock is unlimited.
type RationStock struct {
	ID string `json:"id"`
	Material
}

// RationBed is a dose request without date, place, method and materials, or bare figures, which are
// used as they are.
type RationBed struct {
	ID string `json:"id"`
	Request
	Area    *float64           `json:"area_m2,omitempty"`
	Need    *float64           `json:"need_caco3_g_m2,omitempty"`
	Max     map[string]float64 `json:"max_g_m2,omitempty"`
	K2ONeed *float64           `json:"k2o_need_g_m2,omitempty"`
	K2ORoom *float64           `json:"k2o_room_g_m2,omitempty"`
}

// RationAnswer is the plan. Rates are rounded to 0.1 g, weights to the gram, costs to 0.0001.
type RationAnswer struct {
	Cost float64 `json:"cost"`
	Gap  float64 `json:"gap"`
	// ShortfallGap and K2OGap are how much less than all that is unmet could be, as shares of it.
	ShortfallGap float64           `json:"unmet_caco3_gap,omitempty"`
	K2OGap       float64           `json:"unmet_k2o_gap,omitempty"`
	Beds         []RationGiven     `json:"beds"`
	Stock        []RationLeft      `json:"stock"`
	WithoutAsh   RationAlternative `json:"without_ash"`
}

// RationAlternative is the cost and shortfall need of another plan.
type RationAlternative struct {
	Cost      float64 `json:"cost"`
	Shortfall float64 `json:"unmet_caco3_g"`
}

// RationGiven is a bed's amounts and shortfall need.
type RationGiven struct {
	ID           string        `json:"id"`
	Given        []RationShare `json:"given"`
	Shortfall    float64       `json:"unmet_caco3_g_m2"`
	ShortfallK2O float64       `json:"unmet_k2o_g_m2"`
	// Rest is the part of the need that waits for a test; nothing is shared out for it.
	Rest   float64      `json:"rest_caco3_g_m2,omitempty"`
	HeldBy []RationHeld `json:"held_by"`
}

// RationShare is one stock on a bed.
type RationShare struct {
	Stock string  `json:"stock"`
	GM2   float64 `json:"g_m2"`
	KG    float64 `json:"kg"`
}

// RationHeld is what limits a stock on a bed.
type RationHeld struct {
	ID    string `json:"id"`
	Stock string `json:"stock"`
	Says  string `json:"says"`
}

// RationLeft is the used and remaining amount of a stock; NextKG the value of one more kilogram.
type RationLeft struct {
	ID     string      `json:"id"`
	UsedKG float64     `json:"used_kg"`
	LeftKG *float64    `json:"left_kg,omitempty"`
	NextKG *RationNext `json:"next_kg,omitempty"`
}

// RationNext is what one more kilogram would save, or meet, and on which bed.
type RationNext struct {
	Worth float64 `json:"worth"`
	Meets float64 `json:"meets_caco3_g,omitempty"`
	Bed   string  `json:"bed"`
}

// mostBeds is how many beds one request shares out to.
const mostBeds = 2000

// RationTo answers one request with at most so many steps of search; 0 is no limit. Errors name the field.
func RationTo(request []byte, steps int) (RationAnswer, error) {
	var r RationRequest
	d := json.NewDecoder(bytes.NewReader(request))
	d.DisallowUnknownFields()
	if err := d.Decode(&r); err != nil {
		return RationAnswer{}, named(err)
	}
	if _, err := d.Token(); err != io.EOF {
		return RationAnswer{}, bad("request", "there is more after the end of the request")
	}
	on, err := day("date", r.Date, true)
	if err != nil {
		return RationAnswer{}, err
	}
	if err := (Request{Place: r.Place, Method: r.Method}).place(&dose.Request{}); err != nil {
		return RationAnswer{}, err
	}
	shelf, err := r.shelf()
	if err != nil {
		return RationAnswer{}, err
	}
	if len(r.Beds) > mostBeds {
		return RationAnswer{}, bad("beds", "at most %d beds are shared out to at once", mostBeds)
	}
	beds, err := r.beds(shelf)
	if err != nil {
		return RationAnswer{}, err
	}
	stocks := make([]allocate.Stock, len(shelf))
	for i, s := range shelf {
		stocks[i] = allocate.StockOf(s, on)
	}
	var w *allocate.Work
	if steps > 0 {
		w = allocate.NewWork(context.Background(), steps)
	}
	shared, err := allocate.Share(w, stocks, beds)
	if err != nil {
		return RationAnswer{}, rationFault(err)
	}
	return r.answer(shelf, beds, shared), nil
}

// rationFault converts an allocate error to the contract's form.
func rationFault(err error) error {
	var in *allocate.InputError
	if errors.As(err, &in) {
		return bad(in.Field, "%s", in.Why)
	}
	return err
}

// shelf parses the stocks.
func (r RationRequest) shelf() (out []allocate.Shelf, err error) {
	if len(r.Stock) == 0 {
		return nil, bad("stock", "something to share out is needed")
	}
	named := map[string]bool{}
	for i, s := range r.Stock {
		at := fmt.Sprintf("stock[%d]", i)
		switch {
		case s.ID == "":
			return nil, bad(at+".id", "an id is needed")
		case named[s.ID]:
			return nil, bad(at+".id", "%q is there twice", s.ID)
		}
		named[s.ID] = true
		b, err := s.batch(i)
		if err == nil {
			err = dose.CheckBatch(b)
		}
		if err != nil {
			return nil, under(at, err)
		}
		x := allocate.Shelf{ID: s.ID, Of: b}
		if least, ok := r.MinGM2[s.ID]; ok {
			x.Least = opt[quantity.Rate](&least)
		}
		out = append(out, x)
	}
	for _, id := range slices.Sorted(maps.Keys(r.MinGM2)) {
		if !named[id] {
			return nil, bad("min_g_m2."+id, "there is no such stock")
		}
	}
	return out, nil
}

// under prefixes an error's field with the enclosing object.
func under(at string, err error) error {
	var in *dose.InputError
	if !errors.As(err, &in) {
		return err
	}
	field := in.Field
	if strings.HasPrefix(field, "materials[") { // the stock is the material
		_, field, _ = strings.Cut(field, "].")
	}
	if strings.HasPrefix(field, "school.") { // a field of the whole request
		return err
	}
	return bad(at+"."+field, "%s", in.Why)
}

// beds parses the beds.
func (r RationRequest) beds(shelf []allocate.Shelf) (out []allocate.Asked, err error) {
	if len(r.Beds) == 0 {
		return nil, bad("beds", "a bed is needed")
	}
	named := map[string]bool{}
	for i, b := range r.Beds {
		at := fmt.Sprintf("beds[%d]", i)
		switch {
		case b.ID == "":
			return nil, bad(at+".id", "an id is needed")
		case named[b.ID]:
			return nil, bad(at+".id", "%q is there twice", b.ID)
		}
		named[b.ID] = true
		asked, err := r.bed(b, shelf)
		if err != nil {
			return nil, under(at, err)
		}
		out = append(out, asked)
	}
	return out, nil
}

func (r RationRequest) bed(b RationBed, shelf []allocate.Shelf) (allocate.Asked, error) {
	for _, x := range []struct {
		field string
		set   bool
	}{{"date", b.Date != ""}, {"place", b.Place != nil}, {"school", b.Method != nil}, {"materials", b.Materials != nil}} {
		if x.set {
			return allocate.Asked{}, bad(x.field, "it is the same for all beds, and stands above them")
		}
	}
	if b.Request.Bed == nil && b.Reading == nil {
		return b.bare(shelf)
	}
	for _, x := range []struct {
		field string
		set   bool
	}{{"area_m2", b.Area != nil}, {"need_caco3_g_m2", b.Need != nil}, {"max_g_m2", b.Max != nil}, {"k2o_need_g_m2", b.K2ONeed != nil},
		{"k2o_room_g_m2", b.K2ORoom != nil}} {
		if x.set {
			return allocate.Asked{}, bad(x.field, "it means nothing beside a bed with its reading")
		}
	}
	ask := b.Request
	ask.Date, ask.Place, ask.Method = r.Date, r.Place, r.Method
	q, err := ask.Dose()
	if err != nil {
		return allocate.Asked{}, err
	}
	return allocate.DemandOf(b.ID, q, shelf)
}

// bare converts a bed's bare figures.
func (b RationBed) bare(shelf []allocate.Shelf) (out allocate.Asked, err error) {
	switch {
	case b.Area == nil:
		return out, bad("area_m2", "an area is needed")
	case b.Need == nil:
		return out, bad("need_caco3_g_m2", "a need is needed")
	case b.K2ONeed != nil && *b.K2ONeed < 0:
		return out, bad("k2o_need_g_m2", "a need of 0 or more is needed")
	case b.K2ORoom != nil && *b.K2ORoom < 0:
		return out, bad("k2o_room_g_m2", "a room of 0 or more is needed")
	}
	out.ID, out.Area, out.Need, out.K2ORoom = b.ID, quantity.Area(*b.Area), quantity.Rate(*b.Need), -1
	if b.K2ONeed != nil {
		out.K2ONeed = quantity.Rate(*b.K2ONeed)
	}
	if b.K2ORoom != nil {
		out.K2ORoom = quantity.Rate(*b.K2ORoom)
	}
	known := map[string]bool{}
	for _, s := range shelf {
		known[s.ID] = true
		most, ok := b.Max[s.ID]
		if !ok {
			most = mostBare
		}
		if !(most >= 0) {
			return out, bad("max_g_m2."+s.ID, "an amount of 0 or more is needed")
		}
		out.Most = append(out.Most, quantity.Rate(most))
	}
	for _, id := range slices.Sorted(maps.Keys(b.Max)) {
		if !known[id] {
			return out, bad("max_g_m2."+id, "there is no such stock")
		}
	}
	return out, nil
}

// mostBare is the default limit of a stock for bare figures, g/m²: more than any bed takes.
const mostBare = 1e5

func (r RationRequest) answer(shelf []allocate.Shelf, beds []allocate.Asked, s allocate.Shared) RationAnswer {
	plain := make([]allocate.Demand, len(beds))
	for i := range beds {
		plain[i] = beds[i].Demand
	}
	money := func(x float64) float64 { return quantity.Round(max(0, x), 4) }
	out := RationAnswer{Cost: money(s.Cost), Gap: quantity.Round(s.Gap, 6),
		ShortfallGap: quantity.Round(s.ShortfallGap, 6), K2OGap: quantity.Round(s.K2OGap, 6)}
	for b := range beds {
		row := RationGiven{ID: beds[b].ID, Given: []RationShare{}, HeldBy: []RationHeld{}, Shortfall: tenths(s.Shortfall[b]),
			ShortfallK2O: quantity.Round(float64(s.ShortfallK2O[b]), 2)}
		if room := beds[b].Room; room != nil {
			row.Rest = tenths(room.Rest)
		}
		for m, x := range s.Given[b] {
			if x > 0 {
				row.Given = append(row.Given, RationShare{shelf[m].ID, tenths(x), kilos(x.Over(beds[b].Area))})
			}
		}
		for _, h := range s.Held[b] {
			row.HeldBy = append(row.HeldBy, heldOf(shelf[h.Stock], h))
		}
		out.Beds = append(out.Beds, row)
	}
	for m := range shelf {
		row := RationLeft{ID: shelf[m].ID, UsedKG: kilos(s.Used(plain, m))}
		if left := s.Left[m]; left != nil {
			kg := kilos(*left)
			row.LeftKG = &kg
		}
		if n := s.Next[m]; n.Bed >= 0 {
			row.NextKG = &RationNext{Worth: money(n.Worth), Meets: quantity.Round(float64(n.Meets), 0), Bed: beds[n.Bed].ID}
		}
		out.Stock = append(out.Stock, row)
	}
	shortfall, _ := s.WithoutAsh.Total(plain)
	out.WithoutAsh = RationAlternative{money(s.WithoutAsh.Cost), quantity.Round(float64(shortfall), 0)}
	return out
}

func tenths(x quantity.Rate) float64 { return quantity.Round(float64(x), 1) }

func kilos(m quantity.Mass) float64 { return quantity.Round(float64(m/quantity.Kilogram), 3) }

// heldOf converts what limits a stock on a bed.
func heldOf(s allocate.Shelf, h allocate.Held) RationHeld {
	if len(h.Against) > 0 {
		g := text.Units{}.Guard(h.Against[0])
		return RationHeld{h.Against[0].ID, s.ID, g.Says}
	}
	id := h.Limit
	if id == "year-cap" {
		id = string(s.Of.Family) + "-" + id
	}
	return RationHeld{id, s.ID, text.Sentence(text.Material(s.Of.Kind) + ": " + text.Limit(h.Limit))}
}
