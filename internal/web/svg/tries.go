package svg

import (
	"math"
	"strconv"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/outlook"
)

// Tries are up to three alternatives for a bed, beside each other: pH above potassium.
type Tries struct {
	W, H, X0, X1, Top, Foot, Today Px
	Years                          []Tick
	PH, K                          Panel
	Lines                          []TryPath
	Says                           string
}

// TryLine is an alternative's forecast.
type TryLine struct {
	N     int
	Name  string
	PH, K []forecast.Spread
}

// TryPath is a drawn alternative: N selects its stroke, At is its name's place.
type TryPath struct {
	N     int
	PH, K Path
	At    Text
}

// TriesOf draws alternatives over w units.
func TriesOf(s *outlook.Forecast, lines []TryLine, w float64) Tries {
	from, to := s.Today.AddMonths(-12), s.Today.AddMonths(outlook.Ahead)
	from = max(from, s.Run.PH[0].Date)
	x := scale{float64(from), float64(to), 40, w - 24}
	d := Tries{W: Px(w), H: kFoot + 24, X0: 40, X1: Px(w - 24), Top: seasonTop, Foot: kFoot, Today: x.at(float64(s.Today))}
	for y := from.Year() + 1; y <= to.Year(); y++ {
		d.Years = append(d.Years, Tick{At: x.at(float64(quantity.Date(y, 1, 1))), Label: strconv.Itoa(y)})
	}
	d.PH, d.K = triesPanel(s, lines, from, x), kTriesPanel(s, lines, x)
	d.PH.read(s, from, x)
	past := within(s.Run.PH, from, s.Today)
	for _, p := range past {
		d.PH.Past = d.PH.Past.to(x.at(float64(p.Date)), d.PH.y.clamped(p.Median))
	}
	for _, l := range lines {
		path := TryPath{N: l.N}
		for _, p := range within(l.PH, s.Today, to) {
			at := Text{x.at(float64(p.Date)), d.PH.y.clamped(p.Median), l.Name}
			path.PH = path.PH.to(at.X, at.Y)
			path.At = Text{at.X + 4, at.Y + 4, l.Name}
		}
		if d.K.Has {
			for _, p := range within(l.K, s.Today, to) {
				path.K = path.K.to(x.at(float64(p.Date)), d.K.y.clamped(p.Median))
			}
		}
		d.Lines = append(d.Lines, path)
	}
	d.Says = text.Count(len(lines), "option", "options") + ", for five years"
	return d
}

func triesPanel(s *outlook.Forecast, lines []TryLine, from quantity.Day, x scale) Panel {
	span := s.Record.State.Crop.Range
	low, high := float64(span.Low)-0.3, float64(span.High)+0.3
	for _, l := range lines {
		for _, p := range l.PH {
			if p.Date >= s.Today {
				low, high = min(low, p.Median-0.1), max(high, p.Median+0.1)
			}
		}
	}
	for _, p := range within(s.Run.PH, from, s.Today) {
		low, high = min(low, p.Median-0.1), max(high, p.Median+0.1)
	}
	for _, r := range readIn(s, from) {
		low, high = min(low, float64(r.Soil().Water())-0.1), max(high, float64(r.Soil().Water())+0.1)
	}
	p := Panel{Has: true, X0: Px(x.px0), X1: Px(x.px1), RangeW: Px(x.px1 - x.px0), Top: seasonTop, Foot: phFoot,
		Title: Text{40, seasonTop - 8, "pH"}, y: scale{low, high, phFoot, seasonTop}}
	p.RangeY, p.RangeH = p.y.clamped(float64(span.High)), p.y.clamped(float64(span.Low))-p.y.clamped(float64(span.High))
	p.Range = Text{p.X1 - 4, p.RangeY + 15, rangeOf(s.Record.State.Crop)}
	for _, v := range stepsFrom(math.Ceil(low/0.5)*0.5, high, 0.5) {
		p.Ticks = append(p.Ticks, Tick{At: p.y.at(v), Label: text.PH(quantity.PH(v))})
	}
	return p
}

func kTriesPanel(s *outlook.Forecast, lines []TryLine, x scale) Panel {
	if len(s.K) == 0 {
		return Panel{}
	}
	low, high := float64(s.Scale.Critical)*0.6, float64(s.Scale.EnoughTo)*1.1
	for _, l := range lines {
		for _, p := range l.K {
			if p.Date >= s.Today {
				low, high = min(low, p.Median), max(high, p.Median)
			}
		}
	}
	low, high = math.Max(0, math.Floor(low/20)*20), math.Ceil(high/20)*20
	p := Panel{Has: true, X0: Px(x.px0), X1: Px(x.px1), RangeW: Px(x.px1 - x.px0), Top: kTop, Foot: kFoot,
		Title: Text{40, kTop - 8, "Potassium, ppm"}, y: scale{low, high, kFoot, kTop}}
	p.RangeY = p.y.clamped(float64(s.Scale.EnoughTo))
	p.RangeH = p.y.clamped(float64(s.Scale.Critical)) - p.RangeY
	p.Range = Text{p.X1 - 4, p.RangeY + 14, "enough"}
	for _, v := range stepsFrom(math.Ceil(low/50)*50, high, 50) {
		p.Ticks = append(p.Ticks, Tick{At: p.y.at(v), Label: text.Whole(v)})
	}
	return p
}
