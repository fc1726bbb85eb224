package instrument

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
)

// FileWeather reads weather from a CSV file or from all files of a folder, one line per day, with
// the columns of docs/weather.md. Later files, by name, override earlier ones. A changed file is
// read again.
type FileWeather struct {
	Path string

	mu    sync.Mutex
	stamp string
	days  map[quantity.Day]calendar.Sky
}

// Name implements Weather.
func (w *FileWeather) Name() string { return "Weather of " + filepath.Base(w.Path) }

// Simulated implements Weather.
func (*FileWeather) Simulated() bool { return false }

// Days implements Weather.
func (w *FileWeather) Days(_ context.Context, _ Spot, from, to, _ quantity.Day) (calendar.Skies, error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if err := w.read(); err != nil {
		return nil, err
	}
	var out calendar.Skies
	for _, d := range slices.Sorted(maps.Keys(w.days)) {
		if d >= from && d <= to {
			out = append(out, w.days[d])
		}
	}
	return out, nil
}

// files returns the files in order, with a stamp that changes when one does.
func (w *FileWeather) files() (paths []string, stamp string, err error) {
	info, err := os.Stat(w.Path)
	if err != nil {
		return nil, "", err
	}
	paths = []string{w.Path}
	if info.IsDir() {
		if paths, err = filepath.Glob(filepath.Join(w.Path, "*.csv")); err != nil {
			return nil, "", err
		}
	}
	slices.Sort(paths)
	for _, p := range paths {
		if info, err = os.Stat(p); err != nil {
			return nil, "", err
		}
		stamp += fmt.Sprintln(p, info.Size(), info.ModTime().Format(time.RFC3339Nano))
	}
	return paths, stamp, nil
}

func (w *FileWeather) read() error {
	paths, stamp, err := w.files()
	if err != nil || stamp == w.stamp && w.days != nil {
		return err
	}
	days := map[quantity.Day]calendar.Sky{}
	for _, p := range paths {
		f, err := os.Open(p)
		if err != nil {
			return err
		}
		err = errors.Join(readSkies(f, days), f.Close())
		if err != nil {
			return fmt.Errorf("%s: %w", filepath.Base(p), err)
		}
	}
	w.days, w.stamp = days, stamp
	return nil
}

// skyColumn is a column: how its figures are parsed and bounded, and the field that it sets.
type skyColumn struct {
	read   func(float64) float64
	lo, hi float64
	put    func(*calendar.Sky, float64)
}

func same(x float64) float64       { return x }
func fahrenheit(x float64) float64 { return (x - 32) / 1.8 }
func times(by float64) func(float64) float64 {
	return func(x float64) float64 { return x * by }
}

func degrees(at func(*calendar.Sky) **quantity.Temperature) func(*calendar.Sky, float64) {
	return func(s *calendar.Sky, x float64) { t := quantity.Temperature(x); *at(s) = &t }
}

var (
	putSoil = degrees(func(s *calendar.Sky) **quantity.Temperature { return &s.Soil })
	putAir  = degrees(func(s *calendar.Sky) **quantity.Temperature { return &s.Air })
	putLow  = degrees(func(s *calendar.Sky) **quantity.Temperature { return &s.Low })
	putWind = func(s *calendar.Sky, x float64) { v := quantity.Speed(x); s.Wind = &v }
	putRain = func(s *calendar.Sky, x float64) { v := quantity.Rainfall(x); s.Rain = &v }
	putSnow = func(s *calendar.Sky, x float64) { v := quantity.Depth(x); s.Snow = &v }
)

const inch, mile = 0.0254, 1609.344 // m

// skyColumns are the columns by heading.
var skyColumns = map[string]skyColumn{
	"soil_c": {same, -40, 60, putSoil}, "soil_f": {fahrenheit, -40, 60, putSoil},
	"air_c": {same, -60, 60, putAir}, "air_f": {fahrenheit, -60, 60, putAir},
	"low_c": {same, -60, 60, putLow}, "low_f": {fahrenheit, -60, 60, putLow},
	"wind_m_s": {same, 0, 90, putWind}, "wind_km_h": {times(1 / 3.6), 0, 90, putWind}, "wind_mph": {times(mile / 3600), 0, 90, putWind},
	"rain_mm": {same, 0, 1500, putRain}, "rain_in": {times(inch * 1000), 0, 1500, putRain},
	"snow_cm": {times(0.01), 0, 20, putSnow}, "snow_in": {times(inch), 0, 20, putSnow},
}

// ReadSkies parses a table of days with the columns of docs/weather.md.
func ReadSkies(from io.Reader) (calendar.Skies, error) {
	days := map[quantity.Day]calendar.Sky{}
	if err := readSkies(from, days); err != nil {
		return nil, err
	}
	var out calendar.Skies
	for _, d := range slices.Sorted(maps.Keys(days)) {
		out = append(out, days[d])
	}
	return out, nil
}

// readSkies parses one file into days; an empty cell is unknown.
func readSkies(from io.Reader, days map[quantity.Day]calendar.Sky) error {
	r := csv.NewReader(from)
	r.TrimLeadingSpace = true
	heads, err := r.Read()
	if err != nil {
		return fmt.Errorf("the line of heads: %w", err)
	}
	for i := range heads {
		heads[i] = strings.ToLower(strings.TrimSpace(strings.TrimPrefix(heads[i], "\ufeff")))
		if _, ok := skyColumns[heads[i]]; !ok && heads[i] != "date" {
			return fmt.Errorf("no column is called %q", heads[i])
		}
	}
	at := slices.Index(heads, "date")
	if at < 0 {
		return errors.New("a column called date is needed")
	}
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		line, _ := r.FieldPos(at)
		day, err := quantity.ParseDay(strings.TrimSpace(row[at]))
		if err != nil {
			return fmt.Errorf("line %d: %w", line, err)
		}
		sky := days[day]
		sky.Day = day
		for i, cell := range row {
			if i == at || strings.TrimSpace(cell) == "" {
				continue
			}
			c := skyColumns[heads[i]]
			x, err := strconv.ParseFloat(strings.ReplaceAll(strings.TrimSpace(cell), ",", "."), 64)
			if v := c.read(x); err != nil || math.IsNaN(v) || v < c.lo || v > c.hi {
				return fmt.Errorf("line %d: %q is no %s", line, cell, heads[i])
			}
			c.put(&sky, c.read(x))
		}
		days[day] = sky
	}
}
