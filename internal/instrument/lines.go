package instrument

import (
	"bufio"
	"context"
	"errors"
	"io"
	"strconv"
	"strings"
	"time"

	"zephyrfield/agronomy/quantity"
)

// LineProbe reads a probe that writes lines of text: a serial meter's device
// file, a pipe, a file. A line is a pH, or words like "ph=6.12 t=11.5"; what is
// neither is passed over. docs/instruments.md describes more.
type LineProbe struct {
	name string
	now  func() time.Time
	// Patience is how long a reading waits for the next line.
	Patience time.Duration
	// newest holds the last line until it is read; each is read once.
	newest chan line
}

type line struct {
	shown Shown
	at    time.Time
}

// freshFor is how long what a probe showed counts as now.
const freshFor = 10 * time.Second

const usualPatience = 5 * time.Second

// NewLineProbe reads lines until r ends; now tells the moment.
func NewLineProbe(name string, r io.Reader, now func() time.Time) *LineProbe {
	p := &LineProbe{name: name, now: now, Patience: usualPatience, newest: make(chan line, 1)}
	go p.follow(r)
	return p
}

func (p *LineProbe) follow(r io.Reader) {
	in := bufio.NewReaderSize(r, longestLine)
	for {
		raw, err := in.ReadSlice('\n')
		for errors.Is(err, bufio.ErrBufferFull) { // no probe says so much: it is passed over
			raw = nil
			_, err = in.ReadSlice('\n')
		}
		s, ok := ParseLine(strings.TrimSpace(string(raw)))
		if !ok {
			if err != nil {
				return
			}
			continue
		}
		select { // an older line that nobody read gives way
		case <-p.newest:
		default:
		}
		p.newest <- line{s, p.now()}
		if err != nil {
			return
		}
	}
}

// longestLine is how much of a line is read, bytes.
const longestLine = 4096

// ParseLine reads one line of a probe; ok is false when it holds no pH.
func ParseLine(line string) (s Shown, ok bool) {
	for _, w := range strings.FieldsFunc(line, func(r rune) bool { return r == ' ' || r == '\t' || r == ';' || r == ',' }) {
		name, value, named := strings.Cut(strings.ToLower(w), "=")
		if !named {
			name, value = "ph", name
		}
		x, err := strconv.ParseFloat(value, 64)
		if err != nil {
			continue
		}
		switch {
		case name == "ph" && x >= 0 && x <= 14 && !ok:
			s.PH, ok = quantity.PH(x), true
		case name == "t" && x > -10 && x < 60:
			s.Temperature, s.HasTemperature = quantity.Temperature(x), true
		}
	}
	return s, ok
}

// Name implements Probe.
func (p *LineProbe) Name() string { return p.name }

// Simulated implements Probe.
func (*LineProbe) Simulated() bool { return false }

// Read implements Probe: the last line, if it is fresh and was not read before;
// else the next one, so that a row of readings is a row of lines.
func (p *LineProbe) Read(ctx context.Context, _ In) (Shown, error) {
	late := time.NewTimer(p.Patience)
	defer late.Stop()
	for {
		select {
		case l := <-p.newest:
			if p.now().Sub(l.at) <= freshFor {
				return l.shown, nil
			}
		case <-ctx.Done():
			return Shown{}, ErrNoReading
		case <-late.C:
			return Shown{}, ErrNoReading
		}
	}
}
