package dose

import (
	"errors"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// nothing is the smallest need worth telling, g CaCO₃/m².
const nothing quantity.Rate = 0.05

// tenth is the smallest amount that can be put on, g/m².
const tenth quantity.Rate = 0.1

// The doubts that are told: nine in ten, and two in three.
const (
	p05, p95     = 0.05, 0.95
	z95          = 1.6449
	sixth, fifth = 1.0 / 6, 5.0 / 6
)

// For works a request. Errors are *InputError and name the field.
func For(r Request) (Answer, error) {
	if err := r.check(); err != nil {
		return Answer{}, err
	}
	s := begin(&r)
	a := Answer{PH: s.ph, SD: s.sd, Crop: s.crop, Target: s.target, Reading: r.Reading, Stand: s.facts.Stand, Profile: s.profile}
	if s.fizzDusting() {
		s.dust(&a)
		return a, nil
	}
	if a.Guards = guard.Check(guard.OfRequest, &s.facts); guard.Stopped(a.Guards) {
		a.Direction = Refused
		s.answerPotassium(&a)
		return a, nil
	}
	if err := s.chooseSchool(); err != nil {
		return Answer{}, err
	}
	s.need(&a)
	a.Guards = guard.Check(guard.OfRequest, &s.facts)
	if a.Direction != Leave {
		s.options(&a)
	}
	s.answerPotassium(&a)
	return a, nil
}

// begin finds the ground as it is to be reckoned with, and joins the readings.
func begin(r *Request) *sum {
	var muck bool
	r.Ground, muck = r.Ground.AsFound()
	joined := soil.Join(r.readings(), movers(r.History))
	r.Reading = joined.Reading
	if lime := joined.FreeLime; lime != "" && r.Ground.FreeLime == soil.LimeUnknown {
		r.Ground.FreeLime = lime
	}
	s := newSum(r, joined)
	s.facts.FoundMuck = muck
	return s
}

// sum is a request being worked.
type sum struct {
	r *Request
	// ph is what the bed is judged by, sd the doubt of the reading.
	ph     quantity.PH
	sd     float64
	joined soil.Joined
	crop   crop.Crop
	target quantity.PH
	k      soil.PotassiumNow
	// profile is how the bed reads by depth.
	profile soil.Profile
	buffer  soil.Buffering
	// course is the bed from its reading on, with what was put on before; doubt is
	// all that may be otherwise.
	course forecast.Course
	doubt  forecast.Doubt
	// hasCurve is set once a school of buffering has been applied.
	hasCurve bool
	// onWay is the CaCO₃ that earlier goes have yet to bring.
	onWay  quantity.Rate
	want   quantity.Rate
	season calendar.Season
	facts  guard.Facts
	// forK is set while potassium is dosed; wantK is what it takes.
	forK  bool
	wantK quantity.Rate
	// found is room for the findings of one option after the other.
	found []guard.Finding
}

// SeasonOf is what the calendar must know of the bed of a request, for whoever
// asks about its days without a dose.
func SeasonOf(r Request) calendar.Season { return bedOf(&r).season }

// bedOf finds how a bed stands on the day: its crop, its profile, its potassium
// and its season.
func bedOf(r *Request) *sum {
	s := &sum{r: r, crop: crop.Unnamed}
	f := &s.facts
	if r.Crop != nil {
		var ok bool
		s.crop, f.First, f.Second, ok = crop.Together(append([]crop.Crop{r.Crop.ByRule()}, byRule(r.With)...))
		f.Conflict = !ok
		f.Tomatoes = r.Crop.ID == tomato || slices.ContainsFunc(r.With, func(c crop.Crop) bool { return c.ID == tomato })
	}
	s.profile = soil.ProfileOf(r.Ground, r.Reading)
	s.ph = s.profile.Judge(r.Ground.Worked, s.crop.Band.Low, s.crop.Band.High)
	s.k = PotassiumOn(r.Ground, r.Reading, r.History, r.Grown, r.Date)
	s.season = s.seasonOf()
	return s
}

func newSum(r *Request, joined soil.Joined) *sum {
	s := bedOf(r)
	s.joined, s.sd = joined, r.Reading.SD()
	f := &s.facts
	muck := r.Ground.Texture.ID == soil.Muck && !s.crop.Is(crop.AcidLover)
	s.aim(muck)
	single := 0.0
	if joined.N == 1 {
		single = s.sd
	}
	f.Stand = r.Schools.Act.Judge(s.crop, s.target, s.ph, single, muck)
	f.Date, f.Ground, f.Reading, f.PH, f.Crop, f.Target = r.Date, r.Ground, r.Reading, s.ph, s.crop, s.target
	f.TargetTyped, f.Potassium, f.AshSchool, f.Buffering, f.Water = r.Target != nil, s.k, r.Schools.Ash, r.Schools.Buffering, r.Water
	f.WaterIgnored, f.NoTomatoAsh = r.Schools.Water == WaterIgnored, r.Schools.TomatoAsh == NoTomatoAsh
	f.Joined, f.UsedAfter, f.Profile, f.Lands = joined, usedAfter(*r), s.profile, s.profile.Lands(r.Ground.Worked)
	f.SinceAsh, f.SinceLime = since(*r)
	return s
}

func byRule(cs []crop.Crop) []crop.Crop {
	out := slices.Clone(cs)
	for i := range out {
		out[i] = out[i].ByRule()
	}
	return out
}

// aim finds the target: what was typed, else the crop's or the muck's aim. A
// crop that is kept sour against scab is brought no further than out of lock-up.
func (s *sum) aim(muck bool) {
	s.target = s.crop.Aim
	if muck {
		s.target = crop.MuckAim
	}
	if s.r.Target != nil {
		s.target = *s.r.Target
	}
	if s.crop.Is(crop.Scab) && s.ph > 0 && s.ph < crop.LockOut {
		s.target = min(s.target, crop.LockOutAim)
	}
}

// seasonOf is what the calendar must know.
func (s *sum) seasonOf() calendar.Season {
	r := s.r
	season := calendar.Season{
		Climate: r.Climate, Starts: r.starts(), Cleared: r.Cleared, SowingGap: s.crop.SowingGap(),
		Perennial: r.Ground.Use == soil.UseLawn || r.Ground.Use == soil.UseTree || s.crop.Is(crop.Perennial),
		Dug:       r.Ground.Worked == soil.Dug, History: r.History,
	}
	// Something dug in wants clear ground, so only ash left on top can be a side
	// dressing; what stands for years takes it while dormant, unless it welcomes it.
	onBed := r.Ground.Use != soil.UseLawn && r.Ground.Use != soil.UseTree
	wanted := s.crop.Is(crop.AshWelcome) || s.k.State == soil.Short && !s.crop.Is(crop.Perennial)
	season.SideDress = onBed && r.Ground.Worked != soil.Dug && s.profile.Top < 6.5 && wanted
	if st := r.Ground.State; st != "" && st != soil.Open {
		season.ShutUntil = r.Date + calendar.LookAgain
	}
	return season
}

// movers are the days on which something that moves pH went on.
func movers(history []calendar.Put) (days []quantity.Day) {
	for i := range history {
		if p := &history[i]; p.Material.MovesPH() && p.Rate > 0 {
			days = append(days, p.Date)
		}
	}
	return days
}

// since counts the days from the last ash and the last lime before the
// reading; -1 when there was none.
func since(r Request) (ash, lime quantity.Day) {
	ash, lime = -1, -1
	for i := range r.History {
		p := &r.History[i]
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

// usedAfter tells whether something that moves pH went on after the reading
// and was not planned from it.
func usedAfter(r Request) bool {
	return slices.ContainsFunc(r.History, func(p calendar.Put) bool {
		return p.Date > r.Reading.Date && !p.Planned && p.Material.MovesPH()
	})
}

// chooseSchool applies the school of buffering.
func (s *sum) chooseSchool() error {
	r := s.r
	buffer, err := soil.Buffer(r.Schools.Buffering, r.Ground, r.Reading, s.target)
	if err != nil {
		var m *soil.MissingError
		if errors.As(err, &m) {
			return &InputError{m.Field, m.Why}
		}
		return err
	}
	s.buffer, s.hasCurve = buffer, true
	s.facts.Beyond = buffer.Beyond
	if !buffer.Gives {
		table, err := soil.Buffer(soil.ByTable, r.Ground, r.Reading, s.target)
		if err != nil {
			return err
		}
		s.facts.ByTable = table.Raise.Need(s.ph, s.target)
	}
	return nil
}

// What is offered when no material is named; they are only read.
var (
	usualRaising   = usual(material.CalciticLime, material.DolomiticLime, material.HardwoodAsh)
	usualLowering  = usual(material.SulfurPowder)
	usualPotassium = usual(material.HardwoodAsh, material.PotassiumSulfate, material.Compost)
)

func usual(kinds ...material.Kind) []material.Batch {
	out := make([]material.Batch, 0, len(kinds))
	for _, k := range kinds {
		m, _ := material.Find(k)
		out = append(out, material.Batch{Material: m, Condition: material.Dry, Source: material.Clean})
	}
	return out
}

// inOrder gives the places of a list's batches by what they are, so that the
// order in which they were named changes nothing.
func inOrder(list []material.Batch) []int {
	at := make([]int, len(list))
	for i := range at {
		at[i] = i
	}
	if len(list) > 1 {
		slices.SortStableFunc(at, func(i, j int) int { return list[i].Compare(&list[j]) })
	}
	return at
}

func (s *sum) options(a *Answer) {
	list := s.r.Materials
	if len(list) == 0 {
		list = usualRaising
		if s.want < 0 {
			list = usualLowering
		}
	}
	s.found = make([]guard.Finding, 0, 12)
	plans := make([]part, 0, len(list))
	a.Options = make([]Option, 0, 2*len(list))
	for _, i := range inOrder(list) {
		b := &list[i]
		p, against := s.weigh(i, b, s.want)
		if against != nil {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, against})
			continue
		}
		plans = append(plans, p)
		a.Options = append(a.Options, s.assemble(plans[len(plans)-1:]))
	}
	a.Options = append(a.Options, s.mixes(a.Options)...)
	s.rank(a.Options)
	if len(a.Options) > 0 {
		return
	}
	a.Direction = Refused
	for _, x := range a.Refused {
		for _, g := range x.Guards {
			if g.ID == guard.TooLittle {
				// So little is wanted that no go is worth it: that leaves the bed alone.
				a.Direction, a.Guards = Leave, append(a.Guards, g)
				return
			}
		}
	}
}

// weigh takes a material through the guards and plans it; against is what
// refuses it.
func (s *sum) weigh(i int, b *material.Batch, want quantity.Rate) (p part, against []guard.Finding) {
	s.facts.Material, s.facts.Worth = b, s.worth(b)
	if found := guard.Check(guard.OfMaterial, &s.facts); guard.Refuses(found) {
		return p, found
	}
	p, no := s.plan(i, b, s.facts.Worth, want, s.r.Date)
	if no != nil {
		return p, []guard.Finding{*no}
	}
	return p, nil
}

// worth is what a batch does beside the stone that the school is printed in. The
// potash of ash that lay for years is not known: it is reckoned at the most its
// kind can hold.
func (s *sum) worth(b *material.Batch) material.Worth {
	stone := s.buffer.Stone
	if !s.hasCurve {
		stone = 1
	}
	w := b.WorthBeside(stone)
	if b.Family == material.Ash && b.Potash == nil && b.Burnt != 0 && s.r.Date-b.Burnt > material.StaleDays {
		w.K2O *= float64(b.K2O.High / b.K2O.Typical)
	}
	return w
}

// rank puts the best option first: hydrated lime behind all others; what meets
// the need; the lime that the magnesium asks for; fewest cautions; what costs
// least where prices are known; what acts soonest.
func (s *sum) rank(options []Option) {
	slices.SortStableFunc(options, func(x, y Option) int {
		switch {
		case s.better(&x, &y):
			return -1
		case s.better(&y, &x):
			return 1
		}
		return 0
	})
}

func (s *sum) better(x, y *Option) bool {
	if hx, hy := x.has(material.HydratedLime), y.has(material.HydratedLime); hx != hy {
		return hy
	}
	if mx, my := x.met(s.forK), y.met(s.forK); mx != my {
		return mx
	}
	if ox, oy := s.oddMagnesium(x), s.oddMagnesium(y); ox != oy {
		return oy
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

// met tells whether an option meets what it is for.
func (o *Option) met(potassium bool) bool {
	if potassium {
		return o.UnmetK2O == 0
	}
	return o.Unmet == 0
}

// oddMagnesium tells whether an option has the lime that the magnesium speaks
// against: dolomitic where it is not low, any other where it is.
func (s *sum) oddMagnesium(o *Option) bool {
	if s.want <= 0 || s.forK {
		return false
	}
	mg := s.r.Reading.Magnesium
	low := mg != nil && *mg < soil.MagnesiumLow
	dolomitic := slices.ContainsFunc(o.Parts, func(p Part) bool { return p.Kind == material.DolomiticLime })
	return dolomitic != low
}
