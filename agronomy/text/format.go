// Package text turns the ids and values of a working, of guards and of the tables into
// sentences. Pages, print and the command line use it, so that each fact is worded once.
package text

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"zephyrfield/agronomy/quantity"
)

// Mass returns an amount that a person can weigh, in metric.
func Mass(m quantity.Mass) string { return Units{}.Mass(m) }

// MassExact returns an amount to the gram.
func MassExact(m quantity.Mass) string { return Units{}.MassExact(m) }

// Rate formats in grams per square metre.
func Rate(r quantity.Rate) string { return Units{}.Rate(r) }

// PH formats with one decimal.
func PH(p quantity.PH) string { return trim(float64(p), 1, 1) }

// PH2 formats with two decimals, for the working.
func PH2(p quantity.PH) string { return trim(float64(p), 2, 2) }

// PPM returns a soil test figure.
func PPM(c quantity.Concentration) string { return trim(float64(c), 0, 0) + " ppm" }

// Percent formats without needless decimals.
func Percent(p quantity.Percent) string { return trim(float64(p), 0, 1) + " %" }

// Area formats in square metres.
func Area(a quantity.Area) string { return Units{}.Area(a) }

// Depth formats in centimetres.
func Depth(d quantity.Depth) string { return Units{}.Depth(d) }

// Day returns a day without its year: 28 Nov.
func Day(d quantity.Day) string {
	if d.IsZero() {
		return ""
	}
	return d.Time().Format("2 Jan")
}

// DayYear returns a day with its year: 28 Nov 2026.
func DayYear(d quantity.Day) string {
	if d.IsZero() {
		return ""
	}
	return d.Time().Format("2 Jan 2006")
}

// Month returns a month with its year: November 2026.
func Month(d quantity.Day) string { return d.Time().Format("January 2006") }

// Weekday returns a day as a diary has it: Sat 28 Nov.
func Weekday(d quantity.Day) string {
	if d.IsZero() {
		return ""
	}
	return d.Time().Format("Mon 2 Jan")
}

// NearDay words the year only when it is not that of today.
func NearDay(d, today quantity.Day) string {
	if d.IsZero() || d.Year() == today.Year() {
		return Day(d)
	}
	return DayYear(d)
}

// Temperature formats in whole degrees.
func Temperature(t quantity.Temperature) string { return trim(float64(t), 0, 0) + " °C" }

// Count words a number with its noun.
func Count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return strconv.Itoa(n) + " " + many
}

// Cored returns the sentence on how many cores are taken, and at how many stops where they are
// taken close together.
func Cored(cores, stops int) string {
	says := Count(cores, "core", "cores")
	if stops < cores && stops > 0 {
		says += " at " + Count(stops, "stop", "stops")
		if cores%stops == 0 {
			says += ", " + strconv.Itoa(cores/stops) + " close together at each"
		}
	}
	return says
}

// Spelled returns small numbers as words: "two".
func Spelled(n int) string {
	small := []string{"no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"}
	if n >= 0 && n < len(small) {
		return small[n]
	}
	return strconv.Itoa(n)
}

// Capital makes the first letter a capital.
func Capital(s string) string { return first(s, unicode.ToUpper) }

// Lower makes the first letter small, for a name inside a sentence.
func Lower(s string) string { return first(s, unicode.ToLower) }

func first(s string, change func(rune) rune) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 || r == utf8.RuneError {
		return s
	}
	return string(change(r)) + s[n:]
}

// List joins things with commas and a last "and".
func List(xs []string) string {
	switch len(xs) {
	case 0:
		return ""
	case 1:
		return xs[0]
	}
	return strings.Join(xs[:len(xs)-1], ", ") + " and " + xs[len(xs)-1]
}

// mostTold is the largest number of faults told at once.
const mostTold = 20

// Several joins faults in one text, a sentence each; of many the first, and how many more there are.
func Several(faults []string) string {
	more := ""
	if n := len(faults) - mostTold; n > 0 {
		faults, more = faults[:mostTold], sprintf(". %d more", n)
	}
	return strings.Join(faults, ". ") + more
}

// trim formats with at least low and at most high decimals, and a real minus.
func trim(x float64, low, high int) string {
	s := strconv.FormatFloat(quantity.Round(x, high), 'f', high, 64)
	for n := high; n > low && strings.HasSuffix(s, "0"); n-- {
		s = s[:len(s)-1]
	}
	s = strings.TrimSuffix(s, ".")
	if strings.HasPrefix(s, "-") {
		if strings.Trim(s, "-0.") == "" {
			return s[1:]
		}
		return "−" + s[1:]
	}
	return s
}

func num(x float64, high int) string { return trim(x, 0, high) }

func sprintf(f string, a ...any) string { return fmt.Sprintf(f, a...) }

// Sentence returns a phrase with capital and full stop.
func Sentence(s string) string {
	s = Capital(strings.TrimSpace(s))
	if s == "" || strings.HasSuffix(s, ".") || strings.HasSuffix(s, "?") {
		return s
	}
	return s + "."
}

// Off returns a distance outside a range, "at its edge" if it rounds to nothing.
func Off(off quantity.PH) string {
	if off < 0.05 {
		return "less than 0.1"
	}
	return PH(off)
}
