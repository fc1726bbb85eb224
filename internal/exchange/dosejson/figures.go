package dosejson

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// leastFigure is the smallest figure above 0 of a request in any unit: what is divided by a smaller one overflows.
const leastFigure = 1e-12

// checkFigures refuses a figure that is closer to 0 than any that is measured, by the name of its field. What is no
// JSON is left to the decoder.
func checkFigures(request []byte) error {
	if !maybeTiny(request) {
		return nil
	}
	d := json.NewDecoder(bytes.NewReader(request))
	d.UseNumber()
	w := walker{d: d}
	return w.value("", 0)
}

// deepest is deeper than any request; the decoder refuses what lies below.
const deepest = 20

// maybeTiny reports whether a request may hold such a figure: with a negative exponent, or many zeros.
func maybeTiny(request []byte) bool {
	return bytes.Contains(request, []byte("e-")) || bytes.Contains(request, []byte("E-")) || bytes.Contains(request, []byte("0000000000"))
}

type walker struct{ d *json.Decoder }

// value walks one value at a path of fields.
func (w *walker) value(at string, depth int) error {
	t, err := w.d.Token()
	if err != nil || depth > deepest {
		return nil // told by the decoder
	}
	switch x := t.(type) {
	case json.Number:
		if tiny(string(x)) {
			return bad(at, "%.20s is too small to be a figure", string(x))
		}
	case json.Delim:
		return w.inside(x, at, depth)
	}
	return nil
}

// tiny reports whether a number is too small, also where it is so small that it is read as 0.
func tiny(number string) bool {
	f, err := strconv.ParseFloat(number, 64)
	if f != 0 || err != nil {
		return err == nil && math.Abs(f) < leastFigure
	}
	digits, _, _ := strings.Cut(strings.ToLower(number), "e")
	return strings.ContainsAny(digits, "123456789")
}

// inside walks a list or an object to its end.
func (w *walker) inside(start json.Delim, at string, depth int) error {
	for i := 0; w.d.More(); i++ {
		name := fmt.Sprintf("%s[%d]", at, i)
		if start == '{' {
			key, err := w.d.Token()
			if err != nil {
				return nil
			}
			name = fmt.Sprint(key)
			if at != "" {
				name = at + "." + name
			}
		}
		if err := w.value(name, depth+1); err != nil {
			return err
		}
	}
	_, _ = w.d.Token() // its end
	return nil
}
