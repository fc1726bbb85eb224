package instrument

import (
	"bufio"
	"context"
	"io"
	"strconv"
	"strings"
	"sync"
	"time"

	"zephyrfield/agronomy/quantity"
)

// LineProbe reads a probe that writes lines of text: a serial meter's device
// file, a pipe, a file. A line is a pH, or words like "ph=6.12 t=11.5"; what is
// neither is passed over. docs/instruments.md tells more.
type LineProbe struct {
	name string

	mu   sync.Mutex
	last Shown
	at   time.Time
	now  func() time.Time
}

// freshFor is how long what a probe showed counts as now.
const freshFor = 10 * time.Second

// NewLineProbe reads lines until r ends; now tells the moment.
func NewLineProbe(name string, r io.Reader, now func() time.Time) *LineProbe {
	p := &LineProbe{name: name, now: now}
	go p.follow(r)
	return p
}

func (p *LineProbe) follow(r io.Reader) {
	in := bufio.NewScanner(r)
	for in.Scan() {
		if s, ok := ParseLine(in.Text()); ok {
			p.mu.Lock()
			p.last, p.at = s, p.now()
			p.mu.Unlock()
		}
	}
}

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

// Read implements Probe: the last line, if it is fresh.
func (p *LineProbe) Read(context.Context, In) (Shown, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.at.IsZero() || p.now().Sub(p.at) > freshFor {
		return Shown{}, ErrNoReading
	}
	return p.last, nil
}
