package help

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// helpView is the content of Help: terms, questions that growers differ on, methods, and safety.
type helpView struct {
	view.Page
	House, Field []text.Term
	Rule         svg.Rule
	Questions    []helpQuestion
	Cores        []helpCores
	Feels        []view.Choice
	Jar          svg.Jar
	JarSays      string
	Fizz         []view.Choice
	Methods      []helpMethod
	Safety       []helpSafety
	Keys         []helpKey
	// Asked is what is searched for; Tasks and Found are what answers it, all tasks without a search.
	Asked string
	Tasks []task
	Found []text.Term
	None  string
}

type helpQuestion struct {
	Question string
	Ways     []helpWay
}

type helpWay struct {
	Name, Why string
	Usual     bool
}

type helpCores struct{ UpTo, Cores string }

type helpMethod struct{ Name, Doubt string }

type helpSafety struct {
	Name string
	Says []string
}

type helpKey struct{ Keys, Does string }

// helpKeys are shortcuts besides those that open pages.
var helpKeys = []helpKey{{"[ ]", "A month back, a month on"}, {"{ }", "A year back, a year on"}, {"t", "Today"}, {"/", "Find a bed"},
	{"n", "New reading"}, {"+ − 0", "On the plan: larger, smaller, all of it"}, {"?", "The list of keys"}}

// helpMaterials are the materials with safety advice on the page.
var helpMaterials = []material.Kind{material.HardwoodAsh, material.CalciticLime, "hydrated-lime", "elemental-sulfur-powder"}

// Help shows the page.
func (s *Handler) Help(c *gin.Context) error {
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	u := g.Units()
	asked := strings.TrimSpace(c.Query("q"))
	v := helpView{Asked: asked, House: text.House, Field: text.Field, Fizz: present.FizzJars(nil)[0].Strengths}
	tomato, _ := crop.Find("tomato")
	v.Rule = svg.RuleOf(420, tomato.Range, tomato.Name+" range", "sour", 5.6, 0.14, tomato.Range.High-0.3,
		"A ruler of pH: a peg at 5.6, the crop’s range as a bracket, the target as a ring.")
	for i := range dose.Questions {
		q := &dose.Questions[i]
		x := helpQuestion{Question: text.Question(q.Name)}
		for n, id := range q.Habits {
			x.Ways = append(x.Ways, helpWay{text.Capital(text.Name(id)), text.Why(id), n == 0})
		}
		v.Questions = append(v.Questions, x)
	}
	for _, area := range []quantity.Area{10, 100, 300} {
		n, _ := sampling.CoresFor(area)
		v.Cores = append(v.Cores, helpCores{u.Area(area), text.Count(n, "core", "cores")})
	}
	for _, x := range present.Feels {
		v.Feels = append(v.Feels, view.Choice{Value: x.ID, Text: x.Says, Aside: text.Name(x.Is.Class().ID)})
	}
	const sand, silt, clay = 60, 60, 30
	v.Jar = svg.JarOf(sand, silt, clay)
	if name, _, share, ok := (soil.JarTest{Sand: sand, Silt: silt, Clay: clay}).Class(); ok {
		v.JarSays = name + ", " + text.Percent(share) + " clay"
	}
	for _, m := range soil.Methods {
		if m.SD > 0 {
			v.Methods = append(v.Methods, helpMethod{text.Capital(text.Name(m.Method)), "± " + text.PH2(quantity.PH(soil.UsualSD(m.Method)))})
		}
	}
	for _, k := range helpMaterials {
		m, _ := material.Find(k)
		v.Safety = append(v.Safety, helpSafety{text.Capital(m.Name), text.Safety(k)})
	}
	for _, t := range site.Tabs {
		v.Keys = append(v.Keys, helpKey{"g " + t.Key, t.Name})
	}
	v.Keys = append(v.Keys, helpKeys...)
	title := "How do I …"
	if v.Tasks, v.Found = find(asked); asked != "" {
		n := len(v.Tasks) + len(v.Found)
		title = text.Count(n, "answer", "answers") + " for “" + asked + "”"
		if n == 0 {
			v.None = "Try another word, or fewer."
		}
	}
	v.Page = s.Page(c, g, "Help", title)
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "help", v)
	return nil
}
