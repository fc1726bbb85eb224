package dose

import (
	"errors"
	"math"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// nothing is the smallest need worth acting on, g CaCO₃/m².
const nothing quantity.Rate = 0.05

// tenths is the smallest amount that is worth putting on, g/m².
const tenth quantity.Rate = 0.1

// z95 is the normal deviate that 5 % lie above.
const z95 = 1.6449

// For works a request. Errors are *InputError and name the field.
func For(r Request) (Answer, error) {
	if err := r.check(); err != nil {
		return Answer{}, err
	}
	joined := soil.Join(r.readings())
	r.Reading = joined.Reading
	if lime := joined.FreeLime; lime != "" && r.Ground.FreeLime == soil.LimeUnknown {
		r.Ground.FreeLime = lime
	}
	s := newSum(&r)
	s.facts.Joined = joined
	s.facts.UsedAfter = usedAfter(r)
	s.facts.SinceAsh, s.facts.SinceLime = since(r)
	a := Answer{PH: s.ph, SD: s.sd, Crop: s.crop, Target: s.target, Potassium: s.scale, Reading: joined.Reading}
	if t, _ := soil.FindMethod(r.Reading.Method); t.Dose == soil.Never || joined.Disagree || s.facts.Conflict {
		a.Direction, a.Guards = Refused, guard.Check(guard.OfRequest, &s.facts)
		return a, nil
	}
	buffer, err := soil.Buffer(r.Schools.Buffering, r.Ground, r.Reading, s.target)
	if err != nil {
		var m *soil.MissingError
		if errors.As(err, &m) {
			return Answer{}, &InputError{m.Field, m.Why}
		}
		return Answer{}, err
	}
	s.buffer = buffer
	s.need(&a)
	a.Guards = guard.Check(guard.OfRequest, &s.facts)
	if a.Direction == Leave {
		return a, nil
	}
	s.options(&a)
	if len(a.Options) == 0 {
		a.Direction = Refused
	}
	return a, nil
}

// sum is a request being worked.
type sum struct {
	r      *Request
	ph     quantity.PH
	sd     float64
	crop   crop.Crop
	target quantity.PH
	scale  soil.PotassiumScale
	buffer soil.Buffering
	curve  soil.Curve
	// from is the pH that the whole layer counts as: the reading, or what its
	// layers come to.
	from quantity.PH
	// onWay is the CaCO₃ that earlier goes have yet to bring.
	onWay  quantity.Rate
	want   quantity.Rate
	season calendar.Season
	facts  guard.Facts
	// found is room for the findings of one option after the other.
	found []guard.Finding
}

func newSum(r *Request) *sum {
	s := &sum{r: r, ph: r.Reading.Water(), sd: r.Reading.SD(), crop: crop.Unnamed}
	if r.Crop != nil {
		var ok bool
		s.crop, s.facts.First, s.facts.Second, ok = crop.Together(append([]crop.Crop{*r.Crop}, r.With...))
		s.facts.Conflict = !ok
	}
	s.target = s.crop.Aim
	if r.Ground.Texture.ID == soil.Muck && !s.crop.Is(crop.AcidLover) {
		s.target = crop.MuckAim
	}
	if r.Target != nil {
		s.target = *r.Target
	}
	s.scale = soil.PotassiumBands(r.Ground)
	if k := r.Reading.KRange; k != nil {
		// The lab's own range goes before this program's.
		s.scale = soil.PotassiumScale{Critical: k.From, EnoughTo: k.To, Ceiling: max(2*k.From, k.To)}
	}
	perennial := r.Ground.Use == soil.UseLawn || r.Ground.Use == soil.UseTree || s.crop.Is(crop.Perennial)
	short := s.scale.Judge(r.Reading.Potassium) == soil.Short
	s.season = calendar.Season{
		Climate: r.Climate, Sowing: r.Sowing, Cleared: r.Cleared, SowingGap: s.crop.SowingGap(),
		Perennial: perennial, Dug: r.Ground.Worked == soil.Dug, History: r.History,
		// Something dug in wants clear ground, so only ash left on top can be a
		// side dressing.
		SideDress: r.Ground.Worked != soil.Dug && s.ph < 6.5 && (short || s.crop.Is(crop.AshWelcome)),
	}
	if st := r.Ground.State; st != "" && st != soil.Open {
		s.season.ShutUntil = r.Date + calendar.LookAgain
	}
	f := &s.facts
	f.Date, f.Ground, f.Reading, f.PH, f.Crop, f.Target = r.Date, r.Ground, r.Reading, s.ph, s.crop, s.target
	f.TargetTyped, f.Potassium, f.AshSchool, f.Buffering, f.Water = r.Target != nil, s.scale, r.Schools.Ash, r.Schools.Buffering, r.Water
	return s
}

// since counts the days from the last ash and the last lime before the
// reading; -1 when there was none.
func since(r Request) (ash, lime quantity.Day) {
	ash, lime = -1, -1
	for _, p := range r.History {
		if p.Date > r.Reading.Date {
			continue
		}
		at := &lime
		switch {
		case p.Material.Family == material.Ash:
			at = &ash
		case !p.Material.Raises():
			continue
		}
		if gap := r.Reading.Date - p.Date; *at < 0 || gap < *at {
			*at = gap
		}
	}
	return ash, lime
}

// need finds the amount and the direction.
func (s *sum) need(a *Answer) {
	r := s.r
	muck := r.Ground.Texture.ID == soil.Muck && !s.crop.Is(crop.AcidLover)
	s.facts.Acts = r.Schools.Act.Acts(s.crop.Band, s.target, s.ph, muck)
	s.assumed(a)
	gross := s.gross(a)
	s.credit(a)
	net := gross - s.onWay
	// What is on its way may meet the need, never turn it round.
	if gross > 0 && net < 0 || gross < 0 && net > 0 {
		net = 0
	}
	if net < 0 {
		lime := s.freeLimeAcid()
		if lime > 0 {
			net -= lime
			a.Need.Working = append(a.Need.Working, working.Step{
				ID: "free-lime", Result: working.Num("need", working.Rate, net), Source: "free-lime",
				From: working.Values{
					working.Num("share", working.Percent, r.Ground.FreeLime.Share()),
					working.Num("soil", working.SoilMass, r.Ground.SoilMass()),
					working.Num("acid", working.Rate, lime),
				},
			})
		}
	}
	// A typed target overrides the act school.
	if r.Target == nil && !s.facts.Acts || math.Abs(float64(net)) < float64(nothing) {
		a.Direction = Leave
		if r.Target != nil || s.facts.Acts {
			return
		}
		a.Need.Working = append(a.Need.Working, working.Step{
			ID: "left-alone", Source: "act-schools", Result: working.Num("need", working.Rate, 0.0),
			From: working.Values{
				working.ID("school", r.Schools.Act), working.Num("ph", working.PH, s.ph),
				working.Num("low", working.PH, s.crop.Band.Low), working.Num("high", working.PH, s.crop.Band.High),
			},
		})
		return
	}
	s.want = net
	a.Direction = Raise
	if net < 0 {
		a.Direction = Lower
	}
	s.facts.Raising, s.facts.Lowering = net > 0, net < 0
	spread := quantity.Rate(s.buffer.RelativeSD) * net
	a.Need.CaCO3, a.Need.Low, a.Need.High = net, net-spread, net+spread
}

// usedAfter tells whether something that moves pH went on after the reading
// and was not planned from it.
func usedAfter(r Request) bool {
	return slices.ContainsFunc(r.History, func(p calendar.Put) bool {
		return p.Date > r.Reading.Date && !p.Planned && (p.Material.Raises() || p.Material.Lowers())
	})
}

// assumed states what was taken for granted.
func (s *sum) assumed(a *Answer) {
	from := s.r.Assumed
	if s.r.Ground.CEC == nil {
		from = append(slices.Clip(from), working.Num("cec", working.CEC, s.r.Ground.Capacity()))
	}
	if s.r.Ground.ClayShare == nil && s.r.Schools.Buffering == soil.ByOrganicMatter {
		from = append(slices.Clip(from), working.Num("clay", working.Percent, s.r.Ground.Clays()))
	}
	if len(from) > 0 {
		a.Need.Working = append(a.Need.Working, working.Step{ID: "assumed", Source: "defaults", Result: working.Int("assumed", working.Count, len(from)), From: from})
	}
}

// gross is the need before credits, with its working: of the one pH, or of the
// layers.
func (s *sum) gross(a *Answer) quantity.Rate {
	r := s.r
	s.from = s.ph
	s.curve = s.buffer.Curve(s.ph, s.target)
	if r.Reading.Basis != soil.Water {
		a.Need.Working = append(a.Need.Working, working.Step{ID: "basis", Source: "trust", Result: working.Num("ph", working.PH, s.ph),
			From: working.Values{working.Num("read", working.PH, r.Reading.PH), working.ID("basis", r.Reading.Basis)}})
	}
	if n := len(r.More); n > 0 {
		a.Need.Working = append(a.Need.Working, working.Step{ID: "joined", Source: "trust", Result: working.Num("ph", working.PH, s.ph),
			From: working.Values{working.Int("readings", working.Count, n+1), working.Num("sd", working.PH, s.sd)}})
	}
	if len(r.Reading.Layers) == 0 {
		a.Need.Working = append(a.Need.Working, s.buffer.Working(r.Reading, s.ph, s.target)...)
		return s.curve.Need(s.ph, s.target)
	}
	slices, below := r.Reading.Slices(r.Ground.Depth)
	s.facts.Below = below
	var sum quantity.Rate
	for _, l := range slices {
		// Each layer goes its own way: some may want lime, others acid.
		curve := s.buffer.Curve(l.PH, s.target)
		need := curve.Need(l.PH, s.target) * quantity.Rate(l.Thick/r.Ground.Depth)
		kept := need
		if r.Ground.Worked != soil.Dug && need < 0 {
			kept = 0
		}
		sum += kept
		a.Need.Working = append(a.Need.Working, working.Step{ID: "layer", Source: "layers", Result: working.Num("need", working.Rate, kept),
			From: working.Values{working.Num("thick", working.Depth, l.Thick), working.Num("ph", working.PH, l.PH), working.Num("to", working.PH, s.target), working.Num("need", working.Rate, need)}})
	}
	s.curve = s.buffer.Raise
	if sum < 0 {
		s.curve = s.buffer.Lower
	}
	s.from = s.curve.Move(s.target, -sum)
	id := "layers-mixed"
	if r.Ground.Worked != soil.Dug {
		id = "layers-lacking"
	}
	a.Need.Working = append(a.Need.Working, working.Step{ID: id, Source: "layers", Result: working.Num("need", working.Rate, sum),
		From: working.Values{working.Int("layers", working.Count, len(slices)), working.Num("depth", working.Depth, r.Ground.Depth), working.Num("from", working.PH, s.from)}})
	return sum
}

// credit reckons what earlier goes have yet to bring.
func (s *sum) credit(a *Answer) {
	r := s.r
	for _, p := range r.History {
		w := material.Batch{Material: p.Material, Condition: material.Dry}.Worth()
		if w.Strength == 0 || p.Rate == 0 {
			continue
		}
		left := 1.0
		if p.Date <= r.Reading.Date {
			left = forecast.Unreacted(p.Material.Reacts, &r.Climate, r.Ground.Worked == soil.Dug, p.Date, r.Reading.Date)
		}
		got := quantity.Rate(float64(p.Rate) * w.Strength * left)
		if math.Abs(float64(got)) < 0.5 {
			continue
		}
		s.onWay += got
		a.Need.Working = append(a.Need.Working, working.Step{ID: "on-its-way", Source: "on-its-way",
			Result: working.Num("credit", working.Rate, -got),
			From: working.Values{working.On("date", p.Date), working.ID("kind", p.Material.Kind),
				working.Num("rate", working.Rate, p.Rate), working.Num("strength", working.Percent, 100*w.Strength),
				working.Num("left", working.Percent, 100*left)}})
	}
}

// freeLimeAcid is the acid that known free lime takes before pH can move. From
// 7.5 up the printed sulfur table counts ordinary free lime itself.
func (s *sum) freeLimeAcid() quantity.Rate {
	if s.ph >= 7.5 {
		return 0
	}
	return quantity.Rate(float64(s.r.Ground.FreeLime.Share()) * 10 * s.r.Ground.SoilMass())
}

// What is offered when no material is named; they are only read.
var (
	usualRaising  = usual(material.CalciticLime, material.DolomiticLime, material.HardwoodAsh)
	usualLowering = usual(material.SulfurPowder)
)

func usual(kinds ...material.Kind) []material.Batch {
	out := make([]material.Batch, 0, len(kinds))
	for _, k := range kinds {
		m, _ := material.Find(k)
		out = append(out, material.Batch{Material: m, Condition: material.Dry, Source: material.Clean})
	}
	return out
}

func (s *sum) options(a *Answer) {
	list := s.r.Materials
	if len(list) == 0 {
		list = usualRaising
		if s.want < 0 {
			list = usualLowering
		}
	}
	s.found = make([]guard.Finding, 0, 8)
	plans := make([]part, 0, len(list))
	a.Options = make([]Option, 0, 2*len(list))
	for i := range list {
		b := &list[i]
		s.facts.Material, s.facts.Worth = b, s.worth(b)
		if found := guard.Check(guard.OfMaterial, &s.facts); guard.Refuses(found) {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, found})
			continue
		}
		p, against := s.plan(i, b, s.facts.Worth, s.want, s.r.Date)
		if against != nil {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, []guard.Finding{*against}})
			continue
		}
		plans = append(plans, p)
		a.Options = append(a.Options, s.assemble(plans[len(plans)-1:]))
	}
	a.Options = append(a.Options, s.mixes(plans, list)...)
	slices.SortStableFunc(a.Options, func(x, y Option) int {
		switch {
		case better(&x, &y):
			return -1
		case better(&y, &x):
			return 1
		}
		return 0
	})
}

// worth is what a batch does. The potash of ash that lay for years is not
// known: it is reckoned at the most its kind can hold.
func (s *sum) worth(b *material.Batch) material.Worth {
	w := b.Worth()
	if b.Family == material.Ash && b.Potash == nil && b.Burnt != 0 && s.r.Date-b.Burnt > material.StaleDays {
		w.K2O *= float64(b.K2O.High / b.K2O.Typical)
	}
	return w
}

// better ranks: meets the need, fewest cautions, costs least where prices are
// known, acts soonest.
func better(x, y *Option) bool {
	mx, my := x.Unmet == 0, y.Unmet == 0
	if mx != my {
		return mx
	}
	_, cx := guard.Worst(x.Guards)
	_, cy := guard.Worst(y.Guards)
	if cx != cy {
		return cx < cy
	}
	if x.Cost != nil && y.Cost != nil && *x.Cost != *y.Cost {
		return *x.Cost < *y.Cost
	}
	return x.Acts < y.Acts
}
