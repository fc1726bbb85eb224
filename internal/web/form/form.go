// Package form reads posted values, keeps them with their faults, and resolves a form's fields for
// its template.
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

// Form holds what was typed, so that an answer can show it again, and what is wrong with it.
type Form struct {
	Values map[string]string
	Faults garden.Faults
	// Conflicts are the fields whose typed value differs from what another window saved since the
	// form was opened.
	Conflicts []view.Conflict
}

// Compare sets the conflicts between what was typed and the current values; saving again overwrites
// those. Fields not posted are ignored.
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

// NoForm returns an empty form.
func NoForm() Form { return Form{Values: map[string]string{}, Faults: garden.Faults{}} }

// Value returns a field's value.
func (f Form) Value(name string) string { return f.Values[name] }

// Usual sets a field that was not posted to a default.
func (f Form) Usual(name, value string) {
	if _, posted := f.Values[name]; !posted {
		f.Values[name] = value
	}
}

// Fault returns the message at a field, "" if there is none.
func (f Form) Fault(name string) string { return f.Faults[name] }

// Is reports whether a field has a value, for options and radios.
func (f Form) Is(name, value string) bool { return f.Values[name] == value }

// Posted returns a posted form, with the first value of each name.
func Posted(c *gin.Context) Form {
	c.PostForm("") // parses the body, multipart too
	return formOf(c.Request.PostForm)
}

// Asked returns a form sent in the URL, with the first value of each name.
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

// mostTyped is the largest figure accepted in any unit; the garden's limits bound fields further.
const mostTyped = 1e9

// clipped shortens what was typed, for messages.
func clipped(s string) string {
	if r := []rune(s); len(r) > 30 {
		return string(r[:30]) + "…"
	}
	return s
}

// Number parses a figure; a comma is a decimal point. An empty field gives ok false without a
// fault.
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
		f.Faults[name] = "“" + clipped(f.Values[name]) + "” is too large"
		return 0, false
	}
	return x, true
}

// Needed parses a required figure.
func (f Form) Needed(name, what string) float64 {
	x, ok := f.Number(name)
	if !ok && f.Faults[name] == "" {
		f.Faults[name] = what
	}
	return x
}

// Optional parses an optional figure and multiplies it by the size of its unit.
func Optional[T ~float64](f Form, name string, factor float64) *T {
	x, ok := f.Number(name)
	if !ok {
		return nil
	}
	v := T(x * factor)
	return &v
}

// Whole parses a whole number.
func (f Form) Whole(name string) int {
	x, ok := f.Number(name)
	if ok && x != float64(int(x)) {
		f.Faults[name] = "a whole number is needed"
	}
	return int(x)
}

// Figures parses figures separated by spaces.
func (f Form) Figures(name string) (out []float64) {
	for _, x := range strings.Fields(f.Values[name]) {
		v, err := strconv.ParseFloat(strings.ReplaceAll(x, ",", "."), 64)
		if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
			f.Faults[name] = "“" + x + "” is not a number; figures with spaces between them are needed"
			return nil
		}
		out = append(out, v)
	}
	return out
}

// Day parses a day; an empty field gives 0.
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

// Add adds the garden's faults to fields of the same names; false when err is another error.
func (f Form) Add(err error) bool {
	return f.AddAt(err, func(path string) string { return path })
}

// AddAt is Add with a mapping from a fault's path to a field.
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

// Sentences gives each fault a capital and a full stop.
func (f Form) Sentences() {
	for k, v := range f.Faults {
		if k != garden.SureField {
			f.Faults[k] = text.Sentence(v)
		}
	}
}

// Usual formats a default value in a form's unit, rounded as usual there.
func Usual(x float64, in text.Scale) string { return Figure(in.Handy(x), in, 1) }

// Figure formats an internal value in a form's unit.
func Figure(x float64, in text.Scale, decimals int) string {
	return strconv.FormatFloat(quantity.Round(x/in.Size, decimals), 'f', -1, 64)
}
