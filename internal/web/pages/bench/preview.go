package bench

import (
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/svg"
)

// meaningView is the meaning of a reading being typed.
type meaningView struct {
	Says string
	// Worked is how the figure was computed, for the meter, the probe or the jars.
	Worked  []string
	Series  *svg.JarSeries
	Rule    *svg.Rule
	Verdict []present.Run
	Lines   []string
	Guards  []text.Guarded
}

// Preview reads the unfinished form and returns its meaning; missing fields are not faults.
func (s *Handler) Preview(c *gin.Context) error {
	v := meaningView{Says: "Type a pH to see what it means."}
	f := form.Asked(c)
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	r := ReadingFrom(f, g)
	made, series := madeOf(f, r)
	bed, err := strconv.ParseInt(f.Value("bed"), 10, 64)
	if code := f.Value("sample"); code != "" {
		var l readings.Label
		if l, err = s.App(c).Readings.Label(c.Request.Context(), code); err == nil && len(l.Beds) > 0 {
			bed = l.Beds[0].ID
		}
	}
	r.BedID = bed
	for _, name := range []string{"tries", "cal_7", "cal_date", "places", "temp", "jars"} {
		if says := f.Fault(name); says != "" {
			v.Says = text.Sentence(says)
			break
		}
	}
	if err == nil && len(f.Faults) == 0 && (r.PH != nil || r.Method == soil.Fizz) {
		w, err := s.App(c).Dosing.Preview(c.Request.Context(), r, s.Clock.Today())
		switch {
		case f.Add(err):
		case err != nil:
			return err
		default:
			v = meaningOf(&w)
		}
	}
	v.Worked, v.Series = made, series
	s.RenderPart(c, "bench", "means", v)
	return nil
}

// madeOf returns how a computed figure came about.
func madeOf(f form.Form, r garden.Reading) (made []string, series *svg.JarSeries) {
	switch way := f.Value("method"); {
	case way == byJars && len(r.Jars) > 0:
		jars := r.Soil().Jars
		fit, err := soil.FitJars(jars)
		if err != nil {
			return []string{text.Count(len(jars), "jar", "jars") + " so far; a series needs four, with the pH rising."}, nil
		}
		s := svg.JarSeriesOf(jars, fit)
		return []string{"Each inner jar lies " + text.PH2(quantity.PH(fit.LeftOut)) +
			" of the change between its neighbours, as a rule. Choose the measured curve on the dose to use it."}, &s
	case way == string(soil.Meter):
		if cal := calibrationOf(f); len(cal.Points) >= 2 && cal.On != 0 {
			is := "counts as freshly calibrated."
			if cal.Method(r.Date) != soil.Meter {
				is = "counts as an old calibration: a slope from " + strconv.Itoa(soil.LowSlope) + " to " +
					strconv.Itoa(soil.HighSlope) + " %, not older than a week, would change that."
			}
			made = append(made, "Slope "+text.Percent(cal.Slope())+", of "+text.DayYear(cal.On)+": "+is)
		}
		if ph, ok := soil.Agreed(ShownIn(f, "tries")); ok && r.PH != nil {
			made = append(made, "Agreed at "+text.PH2(ph)+", corrected "+text.PH2(*r.PH)+".")
		}
	case way == string(soil.Probe):
		shown := ShownIn(f, "places")
		if ph, far := soil.OfPlaces(shown); len(shown) > 0 {
			made = append(made, "The middle of "+text.Count(len(shown), "place", "places")+" is "+text.PH2(ph)+".")
			if len(far) > 0 {
				made = append(made, present.FiguresText(far)+" lies more than "+text.PH(soil.Outlier)+" off it: read that place again.")
			}
		}
	}
	return made, nil
}

func meaningOf(w *dosing.Dose) meaningView {
	v := meaningView{Verdict: append(present.SurpriseRuns(&w.Record), present.Verdict(w.Record.State)...),
		Guards: w.Garden.Units().Guards(w.Answer.Guards)}
	if w.Used.PH == nil {
		v.Verdict = nil
		judged, weak := w.Used.Soil().Fizz.Judge()
		v.Lines = append(v.Lines, fizzWords[judged], "The vinegar tells of "+text.FreeLime(w.Used.Vinegar)+".")
		if weak {
			v.Lines = append(v.Lines, "Both jars alike: weak evidence. Use distilled or rain water; tap water fizzes by itself.")
		}
	} else {
		rule := present.PHRule(w.Record.State, w)
		v.Rule = &rule
		v.Lines = append(v.Lines, besides(w)...)
	}
	if w.Used.Method == soil.Fizz {
		v.Lines = append(v.Lines, "No dose from this: a jar alone is never enough.")
		return v
	}
	switch a := w.Answer; a.Direction {
	case dose.Raise, dose.Lower:
		v.Lines = append(v.Lines, "A dose can be worked out from this: "+text.Lower(present.NeedWords(w)))
	case dose.Leave:
		v.Lines = append(v.Lines, "Nothing needs doing.")
	case dose.Refused:
		v.Lines = append(v.Lines, "No dose can be worked out from this as it is.")
		v.Guards = append(v.Guards, against(w)...)
	}
	return v
}

// against returns the findings against each material in the wanted direction, each sentence once,
// with what lifts it.
func against(w *dosing.Dose) (out []text.Guarded) {
	need := w.Answer.Need.CaCO3
	for _, r := range w.Answer.Refused {
		m, ok := material.Find(r.Kind)
		if !ok || len(r.Guards) == 0 || !(need < 0 && m.Lowers() || need > 0 && m.Raises()) {
			continue
		}
		g := w.Garden.Units().Guard(r.Guards[0])
		if !slices.ContainsFunc(out, func(x text.Guarded) bool { return x.Says == g.Says }) {
			out = append(out, g)
		}
	}
	return out
}

// fizzWords are the results of two jars.
var fizzWords = map[soil.Reaction]string{
	soil.Alkaline:    "Only the vinegar fizzed: alkaline, with free lime in it.",
	soil.Acid:        "Only the soda fizzed: sour. How sour, a jar cannot say.",
	soil.NearNeutral: "Near neutral, as far as jars can tell.",
}

// besides compares a reading with the last of its season and with other methods near it.
func besides(w *dosing.Dose) (out []string) {
	ph := w.Used.Soil().Water()
	const year, season = 365, 45
	for i := len(w.Record.Readings) - 1; i >= 0; i-- {
		r := w.Record.Readings[i]
		gap := int(w.Used.Date - r.Date)
		off := gap % year
		if r.PH == nil || gap < season || off > season && off < year-season || !soil.SameDepth(r.Depth, w.Used.Depth) {
			continue
		}
		was := r.Soil().Water()
		out = append(out, "Same season and depth on "+text.DayYear(r.Date)+": "+text.PH(was)+", "+moved(ph-was)+".")
		break
	}
	for _, r := range w.Beside {
		if r.PH == nil || r.Method == w.Used.Method {
			continue
		}
		was := r.Soil().Water()
		out = append(out, text.Capital(text.Short(r.Method))+" said "+text.PH(was)+" on "+text.DayYear(r.Date)+", "+apart(ph-was)+".")
	}
	return out
}

func moved(d quantity.PH) string {
	switch {
	case d >= 0.05:
		return "up by " + text.PH(d)
	case d <= -0.05:
		return "down by " + text.PH(-d)
	}
	return "no change"
}

func apart(d quantity.PH) string {
	if d < 0 {
		d = -d
	}
	return text.PH(d) + " apart"
}
