package instrument

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"math/rand/v2"

	"zephyrfield/agronomy/quantity"
)

// FakeProbe is a stand-in for a pH probe with noise, settling, drift, and a slope below the ideal.
// The same seed gives the same figures.
type FakeProbe struct {
	Seed uint64
	// Slope is its slope, 1 for ideal; Offset is added.
	Slope, Offset float64
}

// NewFakeProbe returns a probe with a typical slope and offset.
func NewFakeProbe(seed uint64) *FakeProbe { return &FakeProbe{Seed: seed, Slope: 0.95, Offset: 0.08} }

// Name implements Probe.
func (*FakeProbe) Name() string { return "Simulated probe" }

// Simulated implements Probe.
func (*FakeProbe) Simulated() bool { return true }

const (
	probeNoise  = 0.02
	probeDrift  = 0.002 // pH per reading
	probeSettle = 0.35  // error of the first reading; it halves with each
	slurryCold  = 14
)

// Read implements Probe.
func (p *FakeProbe) Read(_ context.Context, in In) (Shown, error) {
	rng := rand.New(rand.NewPCG(p.Seed, uint64(in.Bed)<<20|uint64(in.N)<<4|uint64(in.Bottle)))
	truth, t := float64(in.Bottle), quantity.Temperature(20)
	if in.Bottle == 0 {
		// The slurry is its own sample, near the bed's estimate.
		own := rand.New(rand.NewPCG(p.Seed, uint64(in.Bed)))
		truth = float64(in.Truth) + 0.12*own.NormFloat64()
		t = slurryCold + quantity.Temperature(own.IntN(5))
	}
	// A probe's slope grows with absolute temperature.
	slope := p.Slope * (273.15 + float64(t)) / 298.15
	shown := 7 + (truth-7)*slope + p.Offset + probeDrift*float64(in.N) + probeNoise*rng.NormFloat64()
	settle := probeSettle
	for range in.N {
		settle /= 2
	}
	return Shown{PH: quantity.PH(quantity.Round(shown+settle, 2)), Temperature: t, HasTemperature: true}, nil
}

// FakeLab is a stand-in for a postal lab. The same seed gives the same report.
type FakeLab struct{ Seed uint64 }

// Name implements Lab.
func (FakeLab) Name() string { return "Simulated lab" }

// Simulated implements Lab.
func (FakeLab) Simulated() bool { return true }

// labDays is the least time for post and lab.
const labDays = 5

// days returns a sample's time, five to nine days.
func (l FakeLab) days(code string) quantity.Day {
	return labDays + quantity.Day(l.rng(code).IntN(5))
}

func (l FakeLab) rng(code string) *rand.Rand {
	h := l.Seed
	for _, c := range code {
		h = h*1099511628211 + uint64(c)
	}
	return rand.New(rand.NewPCG(l.Seed, h))
}

// Report implements Lab.
func (l FakeLab) Report(_ context.Context, sent []Sent, today quantity.Day) (r Report, ok bool, err error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	if err := w.Write([]string{"Sample", "Sampled", "pH (water)", "Buffer pH SMP", "K (ppm)", "Mg (ppm)", "Ca (ppm)", "P (ppm)", "OM %",
		"CEC", "Remarks"}); err != nil {
		return r, false, err
	}
	for _, s := range sent {
		if today < s.On+l.days(s.Code) {
			continue
		}
		rng := l.rng(s.Code + "figures")
		ph := float64(s.PH) + 0.1*rng.NormFloat64()
		k := float64(s.Potassium) * (1 + 0.08*rng.NormFloat64())
		buffer := min(7.0, 5.2+0.25*ph+0.05*rng.NormFloat64())
		row := []string{s.Code, s.On.String(), fmt.Sprintf("%.1f", ph), fmt.Sprintf("%.1f", buffer), fmt.Sprintf("%.0f", k),
			fmt.Sprintf("%.0f", 70+40*rng.Float64()),
			fmt.Sprintf("%.0f", 900+800*rng.Float64()), fmt.Sprintf("%.0f", 15+25*rng.Float64()), fmt.Sprintf("%.1f",
				2.5+2*rng.Float64()), fmt.Sprintf("%.1f", 9+5*rng.Float64()), "simulated"}
		if err := w.Write(row); err != nil {
			return r, false, err
		}
		r.Codes = append(r.Codes, s.Code)
	}
	w.Flush()
	r.Name, r.Data = "simulated-lab-"+today.String()+".csv", b.Bytes()
	return r, len(r.Codes) > 0, w.Error()
}
