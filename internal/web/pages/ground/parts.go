package ground

import (
	"net/url"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// partLink is a part of the garden that can be shown alone.
type partLink struct {
	Name, Href, Beds string
	On               bool
}

// partly reduces a view to the beds of one part, if it exists, and lists the parts if there are at
// least two.
func partly(v *bedstate.View, asked, query string) (links []partLink, part string) {
	count := map[string]int{}
	for _, p := range v.Beds {
		count[p.Bed.Part]++
	}
	var names []string
	for n := range count {
		if n != "" {
			names = append(names, n)
		}
	}
	if len(count) < 2 {
		return nil, ""
	}
	slices.SortFunc(names, func(a, b string) int { return strings.Compare(garden.Fold(a), garden.Fold(b)) })
	if slices.Contains(names, asked) {
		part = asked
	}
	links = append(links, partLink{"All", "/?" + strings.TrimPrefix(query, "&"), strconv.Itoa(len(v.Beds)), part == ""})
	for _, n := range names {
		links = append(links, partLink{n, "/?part=" + url.QueryEscape(n) + query, strconv.Itoa(count[n]), n == part})
	}
	if part != "" {
		of := v.Beds
		v.Beds = nil // the view is shared: its list is not modified
		for _, p := range of {
			if p.Bed.Part == part {
				v.Beds = append(v.Beds, p)
			}
		}
		v.Marks = beside(v.Marks, v.Beds)
	}
	return links, part
}

// besidePart is how far from its beds a path or wall still belongs to a part, m.
const besidePart = 2

// beside returns the paths and walls among beds.
func beside(marks []garden.Mark, ps []bedstate.State) (out []garden.Mark) {
	low, high := ps[0].Bed.Bounds()
	for _, p := range ps[1:] {
		l, h := p.Bed.Bounds()
		low.X, low.Y, high.X, high.Y = min(low.X, l.X), min(low.Y, l.Y), max(high.X, h.X), max(high.Y, h.Y)
	}
	for _, m := range marks {
		off := func(p garden.Point) bool {
			return p.X < low.X-besidePart || p.X > high.X+besidePart || p.Y < low.Y-besidePart || p.Y > high.Y+besidePart
		}
		if !slices.ContainsFunc(m.Points, off) {
			out = append(out, m)
		}
	}
	return out
}
