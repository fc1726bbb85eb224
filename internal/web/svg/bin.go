package svg

import "zephyrfield/agronomy/quantity"

// Bin is a drawn bin with its contents.
type Bin struct {
	// Fill is its contents as a path, Label its text alternative.
	Fill  Path
	Label string
	// Barred crosses it out.
	Barred bool
}

// The bin's inside in its own units: wider at the top.
const (
	binTop, binFoot    = 32.0, 72.5
	binWide, binNarrow = 23.5, 20.0 // half of its width at top and foot
	binMiddle          = 32.0
)

// BinOf draws a bin with a share of it filled.
func BinOf(share float64, barred bool, label string) Bin {
	share = min(1, max(0, share))
	top := binFoot - share*(binFoot-binTop)
	half := binNarrow + share*(binWide-binNarrow)
	b := Bin{Barred: barred, Label: label}
	if share > 0 {
		b.Fill = moveTo(Px(binMiddle-half), Px(top)).lineTo(Px(binMiddle+half), Px(top)).
			lineTo(binMiddle+binNarrow, binFoot).lineTo(binMiddle-binNarrow, binFoot).closed()
	}
	return b
}

// The bag's inside in the units of a bin, its sides straight.
const bagLeft, bagRight, bagTop, bagFoot = 12.0, 52.0, 20.0, 72.5

// BagOf draws a bag with a share of it filled.
func BagOf(share float64, label string) Bin {
	b := Bin{Label: label}
	if share = min(1, max(0, share)); share > 0 {
		top := bagFoot - share*(bagFoot-bagTop)
		b.Fill = moveTo(bagLeft, Px(top)).lineTo(bagRight, Px(top)).lineTo(bagRight, bagFoot).lineTo(bagLeft, bagFoot).closed()
	}
	return b
}

// ShareOf returns how full a bin is relative to its fullest.
func ShareOf(left *quantity.Mass, most quantity.Mass) float64 {
	if left == nil || most <= 0 {
		return 0
	}
	return float64(*left / most)
}
