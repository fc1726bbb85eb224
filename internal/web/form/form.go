// Package form reads posted values, keeps them with their faults, and resolves the fields of a
// form for its template.
package form

import (
	"errors"
	"maps"
	"math"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/view"
)

// Form holds what was typed, so that an answer can give it back, and what is
// wrong with it.
type Form struct {
	Values map[string]string
	Faults garden.Faults
	// Conflicts are the fields in which what was typed differs from what another window
	// saved since the form was opened.
	Conflicts []view.Conflict
}

// Compare lays what was typed beside what stands now: saved again, it goes in its place. What was not
// typed is left alone.
func (f *Form) Compare(now Form) {
	for _, n := range slices.Sorted(maps.Keys(now.Values)) {
		is := now.Values[n]
		yours, typed := f.Values[n]
		if n != "version" && typed && yours != is {
			f.Conflicts = append(f.Conflicts, view.Conflict{Name: nameOf(n), Yours: yours, Now: is})
		}
	}
	f.Values["version"] = now.Values["version"]
}

// NoForm returns a form that nothing was typed in.
func NoForm() Form { return Form{Values: map[string]string{}, Faults: garden.Faults{}} }

// Value returns what stands in a field.
func (f Form) Value(name string) string { return f.Values[name] }

// Usual puts what is usual in a field that was not posted.
func (f Form) Usual(name, value string) {
	if _, posted := f.Values[name]; !posted {
		f.Values[name] = value
	}
}

// Fault returns the sentence at a field, "" when all is well.
func (f Form) Fault(name string) string { return f.Faults[name] }

// Is reports whether a field holds a value, for options and radios.
func (f Form) Is(name, value string) bool { return f.Values[name] == value }

// Posted reads what a form posted, the first of each name.
func Posted(c *gin.Context) Form {
	c.PostForm("") // reads the body, in parts too
	return formOf(c.Request.PostForm)
}

// Asked reads what a form put into the address, the first of each name.
func Asked(c *gin.Context) Form { return formOf(c.Request.URL.Query()) }

func formOf(values url.Values) Form {
	f := NoForm()
	for name, all := range values {
		if len(all) > 0 {
			f.Values[name] = strings.TrimSpace(all[0])
		}
	}
	return f
}

// mostTyped is the largest figure that is read at all, in any unit; what a field
// may hold is bounded further by the garden's limits.
const mostTyped = 1e9

// clipped shortens what was typed, to be shown again in a sentence.
func clipped(s string) string {
	if r := []rune(s); len(r) > 30 {
		return string(r[:30]) + "…"
	}
	return s
}

// Number reads a figure; a comma serves as the point. Nothing typed gives ok
// false without a fault.
func (f Form) Number(name string) (x float64, ok bool) {
	s := strings.ReplaceAll(f.Values[name], ",", ".")
	if s == "" {
		return 0, false
	}
	x, err := strconv.ParseFloat(s, 64)
	if err != nil || x != x {
		f.Faults[name] = "“" + clipped(f.Values[name]) + "” is not a number"
		return 0, false
	}
	if x > mostTyped || x < -mostTyped {
		f.Faults[name] = "“" + clipped(f.Values[name]) + "” is more than can be meant"
		return 0, false
	}
	return x, true
}

// Needed reads a figure that must be there.
func (f Form) Needed(name, what string) float64 {
	x, ok := f.Number(name)
	if !ok && f.Faults[name] == "" {
		f.Faults[name] = what
	}
	return x
}

// Optional reads a figure that may be missing, times the size of its unit.
func Optional[T ~float64](f Form, name string, factor float64) *T {
	x, ok := f.Number(name)
	if !ok {
		return nil
	}
	v := T(x * factor)
	return &v
}

// Whole reads a whole number.
func (f Form) Whole(name string) int {
	x, ok := f.Number(name)
	if ok && x != float64(int(x)) {
		f.Faults[name] = "a whole number is needed"
	}
	return int(x)
}

// Figures reads figures with spaces between.
func (f Form) Figures(name string) (out []float64) {
	for _, x := range strings.Fields(f.Values[name]) {
		v, err := strconv.ParseFloat(strings.ReplaceAll(x, ",", "."), 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			f.Faults[name] = "“" + x + "” is not a number; figures with spaces between are meant"
			return nil
		}
		out = append(out, v)
	}
	return out
}

// Day reads a day; nothing typed gives no day.
func (f Form) Day(name string) quantity.Day {
	if f.Values[name] == "" {
		return 0
	}
	d, err := quantity.ParseDay(f.Values[name])
	if err != nil {
		f.Faults[name] = err.Error()
	}
	return d
}

// Add joins faults of the garden to those of the form, where their fields have the same names; false
// when err is something else.
func (f Form) Add(err error) bool {
	return f.AddAt(err, func(path string) string { return path })
}

// AddAt joins them where fieldOf gives the field of a fault's path.
func (f Form) AddAt(err error, fieldOf func(path string) string) bool {
	var more garden.Faults
	if !errors.As(err, &more) {
		return false
	}
	for path, says := range more {
		if field := fieldOf(path); f.Faults[field] == "" {
			f.Faults[field] = says
		}
	}
	return true
}

// Sentences gives each fault its capital and its stop, ready to stand at its field.
func (f Form) Sentences() {
	for k, v := range f.Faults {
		if k != garden.SureField {
			f.Faults[k] = text.Sentence(v)
		}
	}
}

// Usual writes what is usual in a form's unit, as a person begins with it there.
func Usual(x float64, in text.Scale) string { return Figure(in.Handy(x), in, 1) }

// Figure writes an inside value in a form's unit.
func Figure(x float64, in text.Scale, decimals int) string {
	return strconv.FormatFloat(quantity.Round(x/in.Size, decimals), 'f', -1, 64)
}
