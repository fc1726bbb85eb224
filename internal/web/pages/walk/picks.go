package walk

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

// Ways to select many beds at once, and whether each gets its own sample.
const (
	pickAll   = "all"
	pickNone  = "none"
	pickDue   = "due"
	pickPart  = "part:"
	pickRow   = "row:"
	pickReach = "reach"
	shareEach = "each"
)

// leastRow is the least number of numbered beds offered as a row.
const leastRow = 3

// counted matches a numbered name.
var counted = regexp.MustCompile(`^(.*[^\s0-9])\s*[0-9]+$`)

// rowOf returns the stem of a numbered name; "" for another.
func rowOf(name string) string {
	if m := counted.FindStringSubmatch(name); m != nil {
		return m[1]
	}
	return ""
}

// picks returns the ways to select many beds in this garden.
func picks(all []rounds.Candidate) []view.Option {
	out := []view.Option{{Value: pickAll, Text: "All"}, {Value: pickNone, Text: "None"}, {Value: pickDue, Text: "Those that are due"}}
	rows := map[string]int{}
	named := make([]string, len(all))
	for i := range all {
		named[i] = rowOf(all[i].State.Bed.Name)
		rows[named[i]]++
	}
	for i := range all {
		b, row := &all[i].State.Bed, named[i]
		for _, p := range []view.Option{{Value: pickPart + b.Part, Text: b.Part}, {Value: pickRow + row, Text: row}} {
			if p.Text == "" || p.Value == pickRow+row && rows[row] < leastRow {
				continue
			}
			if !slices.ContainsFunc(out, func(o view.Option) bool { return o.Text == p.Text }) {
				out = append(out, p)
			}
		}
	}
	return out
}

// picked selects many beds at once. A part, row or stretch replaces the proposal and adds to beds
// chosen by hand; a part or row asked for again is deselected.
func picked(all []rounds.Candidate, c *rounds.RoundChoice, pick, from, to string) {
	due, group := map[int64]bool{}, map[int64]bool{}
	for i := range all {
		x := &all[i]
		b := &x.State.Bed
		part, ofPart := strings.CutPrefix(pick, pickPart)
		row, ofRow := strings.CutPrefix(pick, pickRow)
		if x.Due != "" {
			due[b.ID] = true
		}
		if ofPart && b.Part == part || ofRow && rowOf(b.Name) == row || pick == pickAll {
			group[b.ID] = true
		}
	}
	switch {
	case pick == pickDue:
		c.Beds = due
	case pick == pickAll:
		c.Beds = group
	case pick == pickNone:
		c.Beds = map[int64]bool{}
	case pick == pickReach:
		if sameBeds(c.Beds, due) {
			c.Beds = map[int64]bool{}
		}
		for _, id := range reach(all, from, to) {
			c.Beds[id] = true
		}
	case sameBeds(c.Beds, due):
		c.Beds = group
	default:
		off := true
		for id := range group {
			off = off && c.Beds[id]
		}
		for id := range group {
			if c.Beds[id] = true; off {
				delete(c.Beds, id)
			}
		}
	}
}

func sameBeds(a, b map[int64]bool) bool {
	if len(a) != len(b) {
		return false
	}
	for id := range a {
		if !b[id] {
			return false
		}
	}
	return true
}

// reach returns the beds between two of the list, whichever comes first.
func reach(all []rounds.Candidate, from, to string) (out []int64) {
	a, b := -1, -1
	list := listed(all)
	for n := range list {
		id := strconv.FormatInt(list[n].State.Bed.ID, 10)
		if id == from {
			a = n
		}
		if id == to {
			b = n
		}
	}
	if a < 0 || b < 0 {
		return nil
	}
	for n := min(a, b); n <= max(a, b); n++ {
		out = append(out, list[n].State.Bed.ID)
	}
	return out
}

// listed returns the candidates in the list's order: due ones first.
func listed(all []rounds.Candidate) []*rounds.Candidate {
	var due, rest []*rounds.Candidate
	for i := range all {
		if x := &all[i]; text.DueFor(x.Due) != "" {
			due = append(due, x)
		} else {
			rest = append(rest, x)
		}
	}
	return append(due, rest...)
}

// usualCorer returns the last round's corer, else the default.
func usualCorer(rounds []garden.Round) quantity.Depth {
	if len(rounds) > 0 {
		return rounds[0].Corer
	}
	return sampling.UsualCorer
}

// usedCorers returns the corer widths of all rounds, narrowest first.
func usedCorers(rounds []garden.Round, u text.Units) (out []string) {
	var all []quantity.Depth
	for _, r := range rounds {
		all = append(all, r.Corer)
	}
	slices.Sort(all)
	for _, d := range slices.Compact(all) {
		out = append(out, form.Figure(float64(d), u.Corers(), 2))
	}
	return out
}
