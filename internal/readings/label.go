package readings

import (
	"context"
	"errors"
	"strconv"
	"strings"

	"zephyrfield/agronomy/sampling"
	"zephyrfield/internal/garden"
)

// Label is what a printed code refers to: a mixed sample, or one of its separate layers.
type Label struct {
	Sample garden.Sample
	Beds   []garden.Bed
	Cores  int
	// Layers are the separate layers; none for a whole sample.
	Layers []sampling.Stretch
	// Layer is the number of the layer that the code refers to, 0 for the sample.
	Layer int
	// Read is the sample's valid reading, 0 for none.
	Read int64
}

// splitCode splits a code into sample and layer: 1A-2 is the second layer of 1A.
func splitCode(code string) (sample string, layer int) {
	code = strings.ToUpper(strings.TrimSpace(code))
	if i := strings.LastIndexByte(code, '-'); i > 0 {
		if n, err := strconv.Atoi(code[i+1:]); err == nil && n > 0 {
			return code[:i], n
		}
	}
	return code, 0
}

// Label returns what a code refers to; ErrMissing if nothing.
func (svc Service) Label(ctx context.Context, code string) (l Label, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		base, n := splitCode(code)
		if l.Sample, err = garden.One[garden.Sample](r, "code", base); err != nil {
			return err
		}
		in, err := garden.Where[garden.SampleBed](r, "sample_id", l.Sample.ID)
		if err != nil {
			return err
		}
		for _, x := range in {
			b, err := garden.Get[garden.Bed](r, x.BedID)
			if err != nil {
				return err
			}
			l.Beds, l.Cores = append(l.Beds, b), l.Cores+x.Cores
		}
		round, err := garden.Get[garden.Round](r, l.Sample.RoundID)
		if err != nil {
			return err
		}
		if len(l.Beds) > 0 {
			l.Layers = garden.LayersOf(round, l.Beds[0])
		}
		if l.Layer = n; n > len(l.Layers) {
			return garden.ErrMissing
		}
		read, err := garden.Where[garden.Reading](r, "sample_id", l.Sample.ID)
		for _, x := range read {
			if x.Stands() {
				l.Read = x.ID
			}
		}
		return err
	})
	return l, err
}

// Codes returns all samples' codes with their layers.
func (svc Service) Codes(ctx context.Context) (codes map[string][]sampling.Stretch, of map[string]int64, err error) {
	codes, of = map[string][]sampling.Stretch{}, map[string]int64{}
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		all, err := r.Codes()
		for _, c := range all {
			codes[c.Code], of[c.Code] = nil, c.BedID
			if c.Layered {
				codes[c.Code] = garden.LayersOf(garden.Round{Layered: true}, garden.Bed{Kind: c.Kind, Worked: c.Worked, Depth: c.Depth})
			}
		}
		return err
	})
	return codes, of, err
}

// FindCode returns what a code of a lab's file refers to.
func FindCode(codes map[string][]sampling.Stretch, code string) (sample string, layer *sampling.Stretch, ok bool) {
	sample = strings.ToUpper(strings.TrimSpace(code))
	if _, ok := codes[sample]; ok {
		return sample, nil, true
	}
	sample, n := splitCode(code)
	if layers, ok := codes[sample]; ok && n >= 1 && n <= len(layers) {
		return sample, &layers[n-1], true
	}
	return "", nil, false
}

// ErrNoLayers is returned when there are no layers to join.
var ErrNoLayers = errors.New("no layers to join")

// JoinLayers combines the readings of a sample's layers: the pH is their mean by thickness, other
// values are those of the top.
func JoinLayers(rs []garden.Reading, layers []sampling.Stretch) (garden.Reading, error) {
	if len(rs) == 0 || len(rs) != len(layers) {
		return garden.Reading{}, ErrNoLayers
	}
	out := rs[0]
	out.Depth = 0
	for i, r := range rs {
		if r.PH == nil {
			return garden.Reading{}, garden.Faults{"ph": "a pH is needed for each layer"}
		}
		l := layers[i]
		out.Layers = append(out.Layers, []float64{float64(l.From), float64(l.To), float64(*r.PH)})
		out.Depth = max(out.Depth, l.To)
	}
	ph := out.MeanOfLayers()
	out.PH = &ph
	return out, nil
}

// Code returns the code as printed on the label.
func (l Label) Code() string {
	if l.Layer > 0 {
		return l.Sample.Code + "-" + strconv.Itoa(l.Layer)
	}
	return l.Sample.Code
}
