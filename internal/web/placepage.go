package web

import (
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
)

var placeFields = []string{"name", "climate", "hemisphere", "table", "buffering", "ash", "act", "version"}

type placeView struct {
	Page
	Form        Form
	Climates    []Option
	Hemispheres []Option
	Choices     []choiceView
	Months      []monthView
	TempsFault  string
}

// choiceView is a choice between rules, each with its sentence.
type choiceView struct {
	Name, Label, Fault string
	Options            []choiceOption
}

type choiceOption struct {
	ID, Value, Text, Why string
	On                   bool
}

type monthView struct{ ID, Name, Value, Usual string }

func monthField(m int) string { return "t" + strconv.Itoa(m+1) }

func (s *server) place(c *gin.Context) {
	g, err := s.keep.Place(c.Request.Context())
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := Form{Values: map[string]string{"name": g.Name, "climate": g.Climate, "hemisphere": g.Hemisphere, "table": string(g.SoilTable),
		"buffering": g.Buffering, "ash": g.AshSchool, "act": g.ActSchool, "version": strconv.FormatInt(g.Version, 10)}, Faults: garden.Faults{}}
	for m, t := range g.SoilTemps {
		f.Values[monthField(m)] = strconv.FormatFloat(float64(t), 'f', -1, 64)
	}
	s.showPlace(c, http.StatusOK, f)
}

func (s *server) showPlace(c *gin.Context, status int, f Form) {
	g, err := s.keep.Place(c.Request.Context())
	if err != nil {
		s.failWith(c, err)
		return
	}
	v := placeView{Page: s.page(c, g, "Place", "The place and its habits"), Form: f, TempsFault: f.Fault("temps")}
	v.begin(c, beginPlace, "Where the garden is. What you do not know stays as it is; all of it can be changed later.")
	for _, x := range soil.Climates {
		v.Climates = append(v.Climates, Option{x.ID, words.Capital(words.Name(x.ID))})
	}
	v.Hemispheres = []Option{{soil.North, "North"}, {soil.South, "South"}}
	usual, _ := soil.FindClimate(f.Value("climate"), f.Value("hemisphere"))
	for m := range usual.Normal {
		name := monthField(m)
		if v.TempsFault == "" {
			v.TempsFault = f.Fault(name)
		}
		v.Months = append(v.Months, monthView{name, time.Month(m + 1).String()[:3], f.Value(name), strconv.FormatFloat(float64(usual.Normal[m]), 'f', -1, 64)})
	}
	v.Choices = []choiceView{
		choicesOf(f, "table", "Lime table", soil.CoolTable, soil.WarmTable),
		choicesOf(f, "buffering", "How stubborn the soil is", soil.ByTable, soil.ByOrganicMatter),
		choicesOf(f, "ash", "How strong ash counts", material.AshSchools...),
		choicesOf(f, "act", "When to step in", crop.ActSchools...),
	}
	s.render(c, status, "place", v)
}

func choicesOf[T ~string](f Form, name, label string, ids ...T) choiceView {
	v := choiceView{Name: name, Label: label, Fault: f.Fault(name)}
	for _, id := range ids {
		text := words.Name(id)
		if name == "table" {
			text = words.Capital(string(id))
		}
		v.Options = append(v.Options, choiceOption{name + "-" + string(id), string(id), text, words.Why(id), f.Is(name, string(id))})
	}
	return v
}

func (s *server) setPlace(c *gin.Context) {
	f := posted(c, placeFields...)
	g := garden.Garden{Name: f.Value("name"), Climate: f.Value("climate"), Hemisphere: f.Value("hemisphere"), SoilTable: soil.TableClimate(f.Value("table")),
		Buffering: f.Value("buffering"), AshSchool: f.Value("ash"), ActSchool: f.Value("act")}
	g.ID = 1
	version, err := strconv.ParseInt(f.Value("version"), 10, 64)
	if err != nil {
		s.failWith(c, garden.ErrStale)
		return
	}
	g.Version = version
	for m := range 12 {
		name := monthField(m)
		f.Values[name] = c.PostForm(name)
		if t, ok := f.number(name); ok {
			g.SoilTemps = append(g.SoilTemps, quantity.Temperature(t))
		}
	}
	if len(f.Faults) == 0 {
		r, err := s.keep.SetPlace(c.Request.Context(), s.act(c), g)
		if err == nil {
			s.done(c, onFrom(c, beginPlace, 0, "/place"), r)
			return
		}
		if !f.add(err) {
			s.failWith(c, err)
			return
		}
	}
	f.sentences()
	s.showPlace(c, http.StatusUnprocessableEntity, f)
}
