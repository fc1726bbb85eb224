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

// LineProbe reads a probe that writes lines of text: a serial device, a pipe, a file. A line is a
// pH, or fields like "ph=6.12 t=11.5"; other lines are skipped. See docs/instruments.md.
type LineProbe struct {
	name string
	now  func() time.Time
	// Patience is how long Read waits for the next line.
	Patience time.Duration
	// newest holds the last unread line.
	newest chan line
}

type line struct {
	shown Shown
	at    time.Time
}

// freshFor is how long a line counts as current.
const freshFor = 10 * time.Second

const usualPatience = 5 * time.Second

// NewLineProbe reads lines until r ends; now returns the current time.
func NewLineProbe(name string, r io.Reader, now func() time.Time) *LineProbe {
	p := &LineProbe{name: name, now: now, Patience: usualPatience, newest: make(chan line, 1)}
	go p.follow(r)
	return p
}

func (p *LineProbe) follow(r io.Reader) {
	in := bufio.NewReaderSize(r, longestLine)
	for {
		raw, err := in.ReadSlice('\n')
		for errors.Is(err, bufio.ErrBufferFull) { // longer than any probe's line: skipped
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
		select { // replaces an unread older line
		case <-p.newest:
		default:
		}
		p.newest <- line{s, p.now()}
		if err != nil {
			return
		}
	}
}

// longestLine is the limit of a line in bytes.
const longestLine = 4096

// ParseLine parses one line; ok is false without a pH.
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

// Read implements Probe: it returns the last line if it is fresh and unread, else waits for the
// next, so that consecutive readings are consecutive lines.
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
