package instrument

import (
	"context"
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
	"syscall"
	"time"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bounded"
)

// Limits of weather files: a station's file of a day, or of fifty years.
const (
	mostFiles    = 1000
	mostFileSize = 4 << 20 // bytes
	mostSize     = 8 << 20 // bytes of all files
	mostSkyLine  = 4 << 10 // bytes
	mostSkies    = 40_000  // days
)

// FileWeather reads weather from a CSV file or from all files of a folder, one line per day, with
// the columns of docs/weather.md. Later files, by name, override earlier ones. A changed file is
// read again. Pipes and devices in the folder are passed over: reading one could wait for good.
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
	} else if !info.Mode().IsRegular() {
		return nil, "", fmt.Errorf("%s is no file", filepath.Base(w.Path))
	}
	slices.Sort(paths)
	var total int64
	regular := paths[:0]
	for _, p := range paths {
		if info, err = os.Stat(p); err != nil {
			return nil, "", err
		}
		if !info.Mode().IsRegular() {
			continue
		}
		if total += info.Size(); info.Size() > mostFileSize || total > mostSize || len(regular) == mostFiles {
			return nil, "", fmt.Errorf("%s: there is more weather than %d MB a file, %d MB and %d files in all", filepath.Base(p),
				mostFileSize>>20, mostSize>>20, mostFiles)
		}
		regular = append(regular, p)
		stamp += fmt.Sprintln(p, info.Size(), info.ModTime().Format(time.RFC3339Nano))
	}
	return regular, stamp, nil
}

func (w *FileWeather) read() error {
	paths, stamp, err := w.files()
	if err != nil || stamp == w.stamp && w.days != nil {
		return err
	}
	days := map[quantity.Day]calendar.Sky{}
	for _, p := range paths {
		if err := readSkyFile(p, days); err != nil {
			return fmt.Errorf("%s: %w", filepath.Base(p), err)
		}
	}
	w.days, w.stamp = days, stamp
	return nil
}

// readSkyFile parses one file. It was a regular one when it was listed; opening does not wait even if it has become a
// pipe since.
func readSkyFile(path string, days map[quantity.Day]calendar.Sky) (err error) {
	f, err := os.OpenFile(path, os.O_RDONLY|syscall.O_NONBLOCK, 0)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, f.Close()) }()
	info, err := f.Stat()
	if err != nil {
		return err
	}
	if !info.Mode().IsRegular() {
		return errors.New("it is no file")
	}
	return readSkies(&bounded.Reader{R: f, Left: mostFileSize + 1}, days)
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
	r := bounded.NewCSV(from, mostSkyLine)
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
		if slices.Contains(heads[:i], heads[i]) {
			return fmt.Errorf("two columns are called %q", heads[i])
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
		sky, known := days[day]
		if !known && len(days) == mostSkies {
			return fmt.Errorf("line %d: there are more than %d days", line, mostSkies)
		}
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
