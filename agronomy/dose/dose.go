package dose

import (
	"errors"
	"slices"

	"zephyrfield/agronomy/bed"
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

// The doubts that are reported: nine in ten, and two in three.
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
	a := Answer{Target: s.target, Stand: s.facts.Stand}
	err := s.work(&a)
	a.Judgement, a.Buffering, a.Course, a.OnWay, a.asked = s.Judgement, s.buffer, s.course, s.onWay, &r
	_, a.StartSD = s.start()
	return a, err
}

func (s *sum) work(a *Answer) error {
	if s.fizzDusting() {
		s.dust(a)
		return nil
	}
	if a.Guards = guard.Check(guard.OfRequest, &s.facts); guard.Stopped(a.Guards) {
		a.Direction = Refused
		s.answerPotassium(a)
		return nil
	}
	if err := s.chooseMethod(); err != nil {
		return err
	}
	s.need(a)
	a.Guards = guard.Check(guard.OfRequest, &s.facts)
	if a.Direction != Leave {
		s.options(a)
		a.waits()
	}
	s.answerPotassium(a)
	s.answerMagnesium(a)
	return nil
}

// waits reports at the top where nothing is offered because as much as the reading carries is on.
func (a *Answer) waits() {
	if len(a.Options) > 0 {
		return
	}
	for _, r := range a.Refused {
		for _, g := range r.Guards {
			if g.ID == guard.HalfGoneID || g.ID == guard.FirstPartGoneID {
				a.Guards = append([]guard.Finding{g}, a.Guards...)
				return
			}
		}
	}
}

// sum is a request being worked.
type sum struct {
	// State is how the bed stands.
	bed.Judgement
	r      *Request
	target quantity.PH
	// buffer is zero until a lime method has been applied.
	buffer soil.Buffering
	// course is the bed from its reading on, with what was applied before; doubt is
	// all that may be otherwise.
	course forecast.Course
	doubt  forecast.Doubt
	// onWay is the CaCO₃ that earlier applications have yet to bring.
	onWay quantity.Rate
	want  quantity.Rate
	facts guard.Facts
	// forK is set while potassium is dosed; wantK is what it takes.
	forK  bool
	wantK quantity.Rate
	// whole is set where a year's room is asked for, whatever the pace; leaves, where it is set, is the CaCO₃ that the other parts
	// of an option leave of what may be applied before a test.
	whole  bool
	leaves *quantity.Rate
	// found is room for the findings of one option after the other.
	found []guard.Finding
}

// hasCurve reports whether a lime method has been applied.
func (s *sum) hasCurve() bool { return s.buffer.Method != "" }

func begin(r *Request) *sum {
	s := &sum{r: r, Judgement: bed.Judge(&r.Record)}
	s.aim()
	s.facts = guard.Facts{Judgement: &s.Judgement, Target: s.target, TargetTyped: r.Target != nil,
		Stand:       r.Methods.Act.Judge(s.Crop, s.target, s.PH, s.Single(), s.Muck()),
		AshApproach: r.Methods.Ash, Buffering: r.Methods.Buffering,
		Surprise: r.Surprise, Untaught: r.Untaught,
		WaterIgnored: r.Methods.Water == WaterIgnored, NoTomatoAsh: r.Methods.TomatoAsh == NoTomatoAsh}
	return s
}

// aim finds the target: what was typed, else the crop's or the muck's aim. A
// crop that is kept sour against scab is brought no further than out of lock-up.
func (s *sum) aim() {
	s.target = s.Crop.Aim
	if s.Muck() {
		s.target = crop.MuckAim
	}
	if s.r.Target != nil {
		s.target = *s.r.Target
	}
	if s.Crop.Is(crop.Scab) && s.PH > 0 && s.PH < crop.LockOut {
		s.target = min(s.target, crop.LockOutAim)
	}
}

// chooseMethod applies the lime method.
func (s *sum) chooseMethod() error {
	r := s.r
	buffer, err := soil.Buffer(r.Methods.Buffering, s.Ground, s.Reading, s.target)
	if err != nil {
		var m *soil.MissingError
		if errors.As(err, &m) {
			return &InputError{m.Field, m.Why}
		}
		return err
	}
	s.buffer = buffer
	s.facts.Beyond = buffer.Beyond
	if !buffer.Gives {
		table, err := soil.Buffer(soil.ByTable, s.Ground, s.Reading, s.target)
		if err != nil {
			return err
		}
		s.facts.ByTable = table.Raise.Need(s.PH, s.target)
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
	alone := make([]Option, 0, 2*len(list))
	for _, i := range inOrder(list) {
		b := &list[i]
		p, against := s.weigh(i, b, s.want)
		if against != nil {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, against})
			continue
		}
		plans = append(plans, p)
		alone = append(alone, s.assemble(p))
	}
	a.Options = append(s.worthIt(a, alone, plans), s.mixes(alone, plans)...)
	a.First = s.rank(a.Options)
	if len(a.Options) > 0 {
		return
	}
	a.Direction = Refused
	for _, x := range a.Refused {
		for _, g := range x.Guards {
			if g.ID == guard.TooLittle {
				// So little is wanted that no application is worth it: that leaves the bed alone.
				a.Direction, a.Guards = Leave, append(a.Guards, g)
				return
			}
		}
	}
}

// worthIt leaves out what moves the bed too little by itself, since a limit holds it there: with another material it may still serve.
func (s *sum) worthIt(a *Answer, alone []Option, plans []part) (out []Option) {
	out = make([]Option, 0, 2*len(alone))
	for i := range alone {
		p := &plans[i]
		n := s.tooLittle(p.Of, p.Rate, p.caco3()+p.restCaCO3())
		switch {
		case n == nil, p.Limit == "dusting": // that school puts little on on purpose
			out = append(out, alone[i])
			continue
		case s.spent(p):
			*n = guard.AcidSpent(s.course.FreeLime)
		case p.Limit != "":
			*n = guard.NothingToGive(p.Limit)
		}
		a.Refused = append(a.Refused, Refusal{p.Batch, p.Kind, []guard.Finding{*n}})
	}
	return out
}

// spent reports whether all the acid of a part is spent on free lime before pH can move.
func (s *sum) spent(p *part) bool {
	acid := -(s.onWay + p.caco3() + p.restCaCO3())
	return acid > 0 && s.course.FreeLime > 0 && acid <= s.course.FreeLime
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

// worth is what a batch does beside the stone that the method is printed in. The
// potash of ash that lay for years is not known: it is computed at the most its
// kind can hold.
func (s *sum) worth(b *material.Batch) material.Worth {
	stone := s.buffer.Stone
	if !s.hasCurve() {
		stone = 1
	}
	w := b.WorthBeside(stone)
	if b.Family == material.Ash && b.Potash == nil && b.Burnt != 0 && s.r.Date-b.Burnt > material.StaleDays {
		w.K2O *= float64(b.K2O.High / b.K2O.Typical)
	}
	return w
}
