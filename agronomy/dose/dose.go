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

// nothing is the least need that counts, g CaCO₃/m².
const nothing quantity.Rate = 0.05

// tenth is the least amount that can be applied, g/m².
const tenth quantity.Rate = 0.1

// The normal quantiles of the reported intervals: 90 % and 67 %.
const (
	p05, p95     = 0.05, 0.95
	z95          = 1.6449
	sixth, fifth = 1.0 / 6, 5.0 / 6
)

// For computes the answer to a request. Errors are *InputError and name the field.
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

// waits adds the finding that nothing is offered because all that the reading supports is already
// applied.
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

// sum is the state of one computation.
type sum struct {
	// State is the verdict on the bed.
	bed.Judgement
	r      *Request
	target quantity.PH
	// buffer is zero until a lime method has been applied.
	buffer soil.Buffering
	// course is the bed's course from its reading on, with earlier applications; doubt is the
	// uncertainty of all inputs.
	course forecast.Course
	doubt  forecast.Doubt
	// onWay is the CaCO₃ that earlier applications have yet to bring.
	onWay quantity.Rate
	want  quantity.Rate
	facts guard.Facts
	// forK is set while potassium is dosed; wantK is the needed K₂O.
	forK  bool
	wantK quantity.Rate
	// whole is set when a year's room is asked for, whatever the pace; leaves, if set, is the CaCO₃
	// that the other parts of an option leave of the amount for before a test.
	whole  bool
	leaves *quantity.Rate
	// found is a buffer for the findings of one option after another.
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
		Surprise: r.Surprise, Unlearned: r.Unlearned,
		WaterIgnored: r.Methods.Water == WaterIgnored, NoTomatoAsh: r.Methods.TomatoAsh == NoTomatoAsh}
	return s
}

// aim sets the target: the typed one, else the crop's or muck's. A crop kept at low pH against scab
// is brought no further than soil.LockOutAim.
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

// What is offered when no material is named; read-only.
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

// inOrder returns the indexes of batches in canonical order, so that the order of the request does
// not matter.
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
				// So little is needed that no application is worthwhile; the bed is left alone.
				a.Direction, a.Guards = Leave, append(a.Guards, g)
				return
			}
		}
	}
}

// worthIt drops options that a limit holds to a negligible move; together with another material
// they may still serve.
func (s *sum) worthIt(a *Answer, alone []Option, plans []part) (out []Option) {
	out = make([]Option, 0, 2*len(alone))
	for i := range alone {
		p := &plans[i]
		n := s.tooLittle(p.Of, p.Rate, p.caco3()+p.restCaCO3())
		switch {
		case n == nil, p.Limit == "dusting": // that method applies little on purpose
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

// spent reports whether free lime consumes all the acid of a part before pH can move.
func (s *sum) spent(p *part) bool {
	acid := -(s.onWay + p.caco3() + p.restCaCO3())
	return acid > 0 && s.course.FreeLime > 0 && acid <= s.course.FreeLime
}

// weigh checks a material against the guards and plans it; against is what refuses it.
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

// worth returns the effect of a batch relative to the method's stone. The potash of ash stored for
// years is unknown and taken at its kind's maximum.
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
