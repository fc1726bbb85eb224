package garden

import (
	"context"
	"errors"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
)

// Label is what a code on a label stands for: a mixed sample, or one of the
// layers that were kept apart in it.
type Label struct {
	Sample Sample
	Beds   []Bed
	Cores  int
	// Layers are those kept apart; none where the sample is whole.
	Layers []sampling.Stretch
	// Layer is the number of the layer that the code names, 0 for the sample.
	Layer int
	// Read is the reading of the sample that stands already, 0 for none.
	Read int64
}

// splitCode takes the layer off a code: 1A-2 is the second layer of 1A.
func splitCode(code string) (sample string, layer int) {
	code = strings.ToUpper(strings.TrimSpace(code))
	if i := strings.LastIndexByte(code, '-'); i > 0 {
		if n, err := strconv.Atoi(code[i+1:]); err == nil && n > 0 {
			return code[:i], n
		}
	}
	return code, 0
}

// LayersOf are the layers that a round keeps apart in a bed.
func LayersOf(r Round, b Bed) []sampling.Stretch {
	if !r.Layered {
		return nil
	}
	if all := sampling.Layers(b.Ground(soil.CoolTable)); len(all) > 1 {
		return all
	}
	return nil
}

// Label reads what a code stands for; ErrMissing when nothing does.
func (k Keeper) Label(ctx context.Context, code string) (l Label, err error) {
	err = k.Store.Read(ctx, func(r Reader) error {
		base, n := splitCode(code)
		if l.Sample, err = One[Sample](r, "code", base); err != nil {
			return err
		}
		in, err := Where[SampleBed](r, "sample_id", l.Sample.ID)
		if err != nil {
			return err
		}
		for _, x := range in {
			b, err := Get[Bed](r, x.BedID)
			if err != nil {
				return err
			}
			l.Beds, l.Cores = append(l.Beds, b), l.Cores+x.Cores
		}
		round, err := Get[Round](r, l.Sample.RoundID)
		if err != nil {
			return err
		}
		if len(l.Beds) > 0 {
			l.Layers = LayersOf(round, l.Beds[0])
		}
		if l.Layer = n; n > len(l.Layers) {
			return ErrMissing
		}
		read, err := Where[Reading](r, "sample_id", l.Sample.ID)
		for _, x := range read {
			if x.Stands() {
				l.Read = x.ID
			}
		}
		return err
	})
	return l, err
}

// Codes are those of all samples, each with the layers kept apart in it.
func (k Keeper) Codes(ctx context.Context) (codes map[string][]sampling.Stretch, of map[string]int64, err error) {
	codes, of = map[string][]sampling.Stretch{}, map[string]int64{}
	err = k.Store.Read(ctx, func(r Reader) error {
		all, err := r.Codes()
		for _, c := range all {
			codes[c.Code], of[c.Code] = nil, c.BedID
			if c.Layered {
				codes[c.Code] = LayersOf(Round{Layered: true}, Bed{Kind: c.Kind, Worked: c.Worked, Depth: c.Depth})
			}
		}
		return err
	})
	return codes, of, err
}

// SampleCode is a sample's code with what its layers go by.
type SampleCode struct {
	Code    string         `db:"code"`
	BedID   int64          `db:"bed_id"`
	Layered bool           `db:"layered"`
	Kind    string         `db:"kind"`
	Worked  soil.Worked    `db:"worked"`
	Depth   quantity.Depth `db:"depth_m"`
}

// FindCode finds what a code of a lab's file stands for among the garden's.
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

// ErrNoLayers is told when layers are to be joined and there are none.
var ErrNoLayers = errors.New("no layers to join")

// JoinLayers makes one reading of those of the layers of one sample: its pH is
// their mean by thickness, what else was found is that of the top.
func JoinLayers(rs []Reading, layers []sampling.Stretch) (Reading, error) {
	if len(rs) == 0 || len(rs) != len(layers) {
		return Reading{}, ErrNoLayers
	}
	out := rs[0]
	out.Depth = 0
	sum, thick := 0.0, 0.0
	for i, r := range rs {
		if r.PH == nil {
			return Reading{}, Faults{"ph": "a pH is needed for each layer"}
		}
		l := layers[i]
		out.Layers = append(out.Layers, []float64{float64(l.From), float64(l.To), float64(*r.PH)})
		d := float64(l.To - l.From)
		sum, thick = sum+float64(*r.PH)*d, thick+d
		out.Depth = max(out.Depth, l.To)
	}
	ph := quantity.PH(quantity.Round(sum/thick, 2))
	out.PH = &ph
	return out, nil
}

// Code is the code as it stands on the label.
func (l Label) Code() string {
	if l.Layer > 0 {
		return l.Sample.Code + "-" + strconv.Itoa(l.Layer)
	}
	return l.Sample.Code
}
