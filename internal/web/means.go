package web

import (
	"math"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/draw"
)

// meaningView says what a reading that is being typed would mean.
type meaningView struct {
	Says    string
	Rule    *draw.Rule
	Verdict []run
	Lines   []string
	Guards  []words.Guarded
}

// means reads the form as it stands and says what it would mean; what is still
// missing is no fault here.
func (s *server) means(c *gin.Context) {
	v := meaningView{Says: "Type a pH, and what it means stands here."}
	f := asked(c, readingFields...)
	r := readingFrom(f, s.units(c))
	bed, err := strconv.ParseInt(f.Value("bed"), 10, 64)
	if code := f.Value("sample"); code != "" {
		var beds []garden.Bed
		if _, beds, _, err = s.keep.SampleFor(c.Request.Context(), code); err == nil && len(beds) > 0 {
			bed = beds[0].ID
		}
	}
	r.BedID = bed
	if err == nil && len(f.Faults) == 0 && (r.PH != nil || r.Method == soil.Fizz) {
		w, err := s.keep.Try(c.Request.Context(), r, s.Clock.Today())
		switch {
		case f.add(err):
		case err != nil:
			s.failWith(c, err)
			return
		default:
			v = meaningOf(w)
		}
	}
	s.renderPart(c, "bench", "means", v)
}

func meaningOf(w garden.Worked) meaningView {
	v := meaningView{Verdict: verdict(w.Plot), Guards: w.Garden.Units().Guards(w.Answer.Guards)}
	if w.Used.PH == nil {
		v.Verdict = nil
		judged, weak := w.Used.Soil().Fizz.Judge()
		v.Lines = append(v.Lines, fizzWords[judged])
		if weak {
			v.Lines = append(v.Lines, "Both jars alike: weak evidence. Use distilled or rain water; tap water fizzes by itself.")
		}
	} else {
		rule := phRule(w.Plot, w)
		v.Rule = &rule
		v.Lines = append(v.Lines, besides(w)...)
	}
	if w.Used.Method == soil.Fizz {
		v.Lines = append(v.Lines, "It may not carry a dose: a jar never does, by itself.")
		return v
	}
	switch a := w.Answer; a.Direction {
	case dose.Raise, dose.Lower:
		v.Lines = append(v.Lines, "It may carry a dose: "+words.Lower(answerOf(w, "", w.Request.Date).Headline)+".")
	case dose.Leave:
		v.Lines = append(v.Lines, "Nothing needs doing.")
	case dose.Refused:
		v.Lines = append(v.Lines, "It may not carry a dose as it stands.")
	}
	return v
}

// fizzWords say what two jars tell.
var fizzWords = map[soil.Reaction]string{
	soil.Alkaline:    "Only the vinegar fizzed: alkaline, with free lime in it.",
	soil.Acid:        "Only the soda fizzed: sour. How sour, a jar cannot say.",
	soil.NearNeutral: "Near neutral, as far as jars can tell.",
}

// besides holds a reading against the last of its season and against other
// methods near it.
func besides(w garden.Worked) (out []string) {
	ph := w.Used.Soil().Water()
	const year, season = 365, 45
	for i := len(w.Readings) - 1; i >= 0; i-- {
		r := w.Readings[i]
		gap := int(w.Used.Date - r.Date)
		off := gap % year
		if r.PH == nil || gap < season || off > season && off < year-season || math.Abs(float64(r.Depth-w.Used.Depth)) > 0.021 {
			continue
		}
		was := r.Soil().Water()
		out = append(out, "Same season and depth on "+words.DayYear(r.Date)+": "+words.PH(was)+", "+moved(ph-was)+".")
		break
	}
	for _, r := range w.Beside {
		if r.PH == nil || r.Method == w.Used.Method {
			continue
		}
		was := r.Soil().Water()
		out = append(out, words.Capital(words.Short(r.Method))+" said "+words.PH(was)+" on "+words.DayYear(r.Date)+", "+apart(ph-was)+".")
	}
	return out
}

func moved(d quantity.PH) string {
	switch {
	case d >= 0.05:
		return "up by " + words.PH(d)
	case d <= -0.05:
		return "down by " + words.PH(-d)
	}
	return "no change"
}

func apart(d quantity.PH) string {
	if d < 0 {
		d = -d
	}
	return words.PH(d) + " apart"
}

// renderPart writes one named part of a page.
func (s *server) renderPart(c *gin.Context, page, part string, view any) {
	c.Header("Content-Type", "text/html; charset=utf-8")
	c.Status(http.StatusOK)
	if err := s.pages[page].ExecuteTemplate(c.Writer, part, view); err != nil {
		s.Log.Error("part", "name", part, "error", err)
	}
}
