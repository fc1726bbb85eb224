// Package demo is Hollin Terrace: a made-up two-person cut-flower and salad
// holding on an old tree-nursery slope in a cool wet maritime place, with four
// seasons of records.
package demo

import (
	"zephyrfield/internal/garden"
)

// Today is the day on which the demo's calendar starts.
const Today = "2026-11-24"

// bedRow is a bed with its seasons of crops: "crop sown cleared" each, "-" for
// not cleared yet.
type bedRow struct {
	garden.Bed
	om, cec float64
	crops   []string
}

func rect(x, y, w, h float64) garden.Bed {
	return garden.Bed{Kind: garden.KindBed, Shape: garden.ShapeRect, X: x, Y: y, W: w, H: h,
		Texture: "loam", Depth: 0.15, Worked: "dug", FreeLime: "unknown"}
}

func named(b garden.Bed, name, note string, with func(*garden.Bed)) garden.Bed {
	b.Name, b.Note = name, note
	if with != nil {
		with(&b)
	}
	return b
}

// beds are the twelve places to grow and the compost heap.
var beds = []bedRow{
	{named(rect(1.2, 1.8, 6.4, 1.5), "Upper ledge", "Old nursery loam. Ash trial on dahlias: north half with, south half without.",
		nil), 3.4, 12,
		[]string{"dahlia 2023-05-18 2023-11-04", "sweet-pea 2024-04-10 2024-10-20", "dahlia 2025-05-16 2025-11-02",
			"dahlia 2026-05-19 2026-11-07", "sweet-pea 2027-04-12 -"}},
	{named(rect(1.2, 3.8, 6.4, 1.5), "Middle ledge", "Old nursery loam, sour since the conifers stood here.", nil), 3.1, 12,
		[]string{"sweet-pea 2023-04-12 2023-10-15", "dahlia 2024-05-17 2024-11-03", "sweet-pea 2025-04-08 2025-10-12",
			"sweet-pea 2026-04-14 2026-10-18", "dahlia 2027-05-15 -"}},
	{named(rect(1.2, 5.8, 6.4, 1.5), "Lower ledge", "Old nursery loam.", nil), 2.9, 12,
		[]string{"dahlia 2023-05-20 2023-11-05", "dahlia 2024-05-18 2024-11-01", "sweet-pea 2025-04-10 2025-10-19",
			"dahlia 2026-05-20 2026-11-08", "dahlia 2027-05-17 -"}},
	{named(rect(8.5, 1.8, 7.0, 2.8), "Salad tunnel", "Watered with hard tap water: creeping up.", func(b *garden.Bed) {
		b.FreeLime,
			b.Watered = "none", garden.Tap
	}), 5.2, 14,
		[]string{"lettuce 2023-03-01 2023-10-30", "lettuce 2024-02-26 2024-11-03", "lettuce 2025-02-28 2025-10-28",
			"lettuce 2026-03-02 2026-11-01", "lettuce 2027-03-08 -"}},
	{named(rect(12.2, 5.1, 4.0, 2.2), "Blueberry pocket", "Limed by mistake in November 2024. Coming down with sulfur.",
		func(b *garden.Bed) {
			b.Worked, b.Texture, b.Depth, b.FreeLime = "established", "sandy-loam", 0.20, "none"
		}), 6.5, 11,
		[]string{"blueberry 2021-11-10 -"}},
	{named(rect(16.8, 1.8, 7.5, 2.9), "Quarry end", "Limestone rubble under the turf line: fizzes strongly.",
		func(b *garden.Bed) { b.FreeLime = "strong" }), 2.2, 15,
		[]string{"sweet-pea 2023-04-15 2023-10-20", "rye 2024-05-01 2024-09-20", "sweet-pea 2025-04-12 2025-10-22",
			"sweet-pea 2026-04-16 2026-10-24", "sweet-pea 2027-04-10 -"}},
	{named(rect(16.8, 5.2, 7.5, 2.1), "Cutting strip", "Rubble of an old lime-mortar wall was dug in, in the autumn of 2022: far too "+
		"sweet, then left alone.", func(b *garden.Bed) { b.FreeLime = "none" }), 3.0, 12,
		[]string{"sweet-pea 2023-04-18 2023-10-16", "sweet-pea 2024-04-15 2024-10-14", "sweet-pea 2025-04-14 2025-10-13",
			"sweet-pea 2026-04-20 2026-10-20", "sweet-pea 2027-04-14 -"}},
	{named(rect(1.2, 10.2, 5.4, 3.9), "Kale and roots", "Heavy clay loam at the foot of the slope.",
		func(b *garden.Bed) { b.Texture = "clay-loam" }), 3.8, 20,
		[]string{"kale 2023-05-25 2024-02-20", "carrot 2024-04-20 2024-10-25", "kale 2025-05-28 2026-02-18",
			"carrot 2026-04-22 2026-10-30", "kale 2027-05-24 -"}},
	{named(rect(7.3, 10.2, 4.5, 3.9), "New ground", "Turf until this autumn. Nobody has tested it.", nil), 0, 0,
		[]string{"general-vegetables 2027-05-10 -"}},
	{named(rect(12.4, 10.2, 6.4, 4.8), "Top lawn", "Cut weekly, clippings taken.", func(b *garden.Bed) {
		b.Kind, b.Worked, b.Depth, b.Texture = garden.KindLawn, "surface", 0.10, "sandy-loam"
	}), 4.1, 9,
		[]string{"lawn 2015-09-01 -"}},
	{named(rect(19.4, 11.0, 5.4, 1.6), "Plum row", "Three plums, mulched rings.", func(b *garden.Bed) {
		b.Kind, b.Shape, b.Rings, b.Worked, b.Depth = garden.KindTree, garden.ShapeRings, 3, "established", 0.20
	}), 3.6, 12,
		[]string{"plum 2012-11-20 -"}},
	{named(rect(8.5, 5.1, 3.3, 2.2), "Seedling bench", "Pots and trays, home-made mix.", func(b *garden.Bed) {
		b.Kind, b.Texture, b.Depth = garden.KindPots, "muck", 0.10
	}), 0, 0,
		[]string{"lettuce 2026-01-20 2026-10-10", "lettuce 2027-01-25 -", "ranunculus 2027-01-25 -"}},
	{named(rect(20.6, 13.5, 3.0, 1.5), "Compost heap", "A little ash in thin layers, no more.", func(b *garden.Bed) {
		b.Kind, b.Texture, b.Depth, b.Worked = garden.KindHeap, "muck", 0.30, "surface"
	}), 0, 0, nil},
}

// ownCrops are those that the book lacks.
var ownCrops = []garden.OwnCrop{
	{Code: "ranunculus", Name: "ranunculus", Low: 6.0, High: 6.8, Aim: 6.4, Removal: 8, Flags: "tender-seed not-food"},
}

// round is the last walk through the garden.
var round = struct {
	day, read string
	beds      []string
	cores     int
}{"2026-11-12", "2026-11-20", []string{"Upper ledge", "Middle ledge", "Lower ledge"}, 12}

// marks are the paths and the wall.
var marks = []garden.Mark{
	{Name: "Cart path", Kind: garden.MarkPath, Width: 0.9, Points: garden.Corners{{X: 1.2, Y: 8.75}, {X: 24.8, Y: 8.75}}},
	{Kind: garden.MarkPath, Width: 0.5, Points: garden.Corners{{X: 8.05, Y: 1.8}, {X: 8.05, Y: 8.3}}},
	{Name: "Old wall", Kind: garden.MarkWall, Width: 0.2, Points: garden.Corners{{X: 16.5, Y: 1.8}, {X: 16.5, Y: 7.8}, {X: 24.3, Y: 7.8}}},
}

// batchRow is something on the shelf; 0 is "not known".
type batchRow struct {
	name, kind          string
	cce, effective, k2o float64
	condition, source   string
	kg, scoopGrams      float64
	// price is for a kilogram, bag what one holds, kg.
	price, bag float64
	note       string
	// What follows is of ash: where it was burnt, of what, when, how it is kept, and the
	// runs of its vinegar test, mL.
	fire, woods, burnt, keeping string
	vinegar                     []float64
}

var batches = []batchRow{
	{name: "Oven ash, autumn batch", kind: "wood-ash-hardwood", condition: "dry", source: "clean", kg: 41, scoopGrams: 100,
		fire: "oven", woods: "split oak and beech", burnt: "2026-10-24", vinegar: []float64{118, 120, 122},
		keeping: "lidded bin by the oven, on stone", note: "Shared bread oven. Vinegar test 3 November."},
	{name: "Pellet stove ash", kind: "wood-ash-softwood", condition: "dry", source: "clean", kg: 5, scoopGrams: 85,
		fire: "pellet-stove", woods: "softwood pellets", burnt: "2026-11-08", keeping: "steel bucket with a lid", note: "Not tested yet."},
	{name: "Fire-pit ash", kind: "wood-ash-unknown", condition: "dry", source: "driftwood", kg: 12, fire: "fire-pit",
		note: "Beach driftwood, salt and all, went into the fire pit. Waste collection."},
	{name: "Ground limestone", kind: "calcitic-lime", effective: 97, kg: 50, price: 0.35, bag: 25, note: "Bag says 97 effective."},
	{name: "Sulfur powder", kind: "elemental-sulfur-powder", kg: 6, price: 3.2, bag: 2},
	{name: "Gypsum", kind: "gypsum", kg: 5, note: "Left from the path."},
}

// weighings are what batches weighed on the shared scale.
var weighings = []struct {
	batch, day string
	kg         float64
	note       string
}{{"Oven ash, autumn batch", "2026-11-03", 41, "On the kitchen scale, bucket by bucket."}}

// fires are what was emptied into a bin since it was entered.
var fires = []struct {
	batch, day string
	kg         float64
}{{"Pellet stove ash", "2026-10-31", 2.2}, {"Pellet stove ash", "2026-11-15", 1.8}}

// readings are "date method pH" with, where known, k (potassium ppm), mg
// (magnesium ppm), n (cores) and the basis; fizz has vinegar/soda instead.
var readings = map[string][]string{
	"Upper ledge": {
		"2023-03-11 kit 5.5 n=6", "2023-10-28 lab 5.6 k=96 mg=88 n=12", "2024-03-16 meter 5.8 n=10", "2024-10-27 lab 6.1 k=118 mg=90 n=12",
		"2025-03-15 meter 6.3 n=10", "2025-11-08 lab 6.4 k=131 mg=87 n=12", "2026-03-14 kit 6.5 n=6", "2026-07-04 meter-stale 6.3 n=8",
		"2026-11-12 lab 6.6 k=138 mg=86 n=12"},
	"Middle ledge": {
		"2023-03-11 kit 6.5 n=6", "2023-10-28 lab 6.3 k=124 mg=92 n=12", "2024-03-16 meter 6.2 n=10", "2024-10-27 lab 6.1 k=112 mg=90 n=12",
		"2025-03-15 meter 6.0 n=10", "2025-11-08 lab 5.9 k=97 mg=86 n=12", "2026-03-14 kit 6.0 n=6", "2026-07-04 meter-stale 5.9 n=8",
		"2026-11-12 lab 5.7 k=82 mg=84 n=12"},
	"Lower ledge": {
		"2023-03-11 kit 6.0 n=6", "2023-10-28 lab 6.1 k=116 mg=89 n=12", "2024-03-16 meter 6.0 n=10", "2024-10-27 lab 5.8 k=104 mg=88 n=12",
		"2025-03-15 meter 6.1 n=10", "2025-11-08 lab 6.2 k=121 mg=85 n=12", "2026-03-14 kit 6.0 n=6", "2026-07-04 meter 6.0 n=10",
		"2026-11-12 lab 5.9 k=101 mg=83 n=12"},
	"Salad tunnel": {
		"2023-02-18 kit 6.5 n=6", "2023-11-04 lab 6.3 k=165 mg=120 n=12", "2024-02-17 meter 6.4 n=10",
		"2024-11-09 lab 6.5 k=170 mg=118 n=12",
		"2025-02-15 meter 6.6 n=10", "2025-11-08 lab 6.7 k=158 mg=121 n=12", "2026-02-21 probe 6.9 n=4", "2026-06-13 kit 7.0 n=6",
		"2026-11-14 lab 6.9 k=162 mg=119 n=12"},
	"Blueberry pocket": {
		"2023-03-18 kit 5.0 n=5", "2023-10-29 lab 4.9 k=88 mg=70 n=8", "2024-03-17 probe 4.8 n=4", "2024-10-28 lab 4.9 k=86 mg=72 n=8",
		"2025-04-05 meter 6.1 n=8", "2025-10-30 lab 6.2 k=90 mg=74 n=8", "2026-04-04 meter 6.0 n=8", "2026-08-01 kit 6.0 n=5",
		"2026-11-13 lab 5.9 k=85 mg=73 n=10"},
	"Quarry end": {
		"2023-03-18 kit 8.0 n=6", "2023-10-29 lab 7.8 k=142 mg=96 n=12", "2023-10-29 fizz strong/none n=12",
		"2024-05-11 meter 7.7 n=10", "2024-10-28 lab 7.9 k=140 mg=98 n=12",
		"2025-05-10 probe 7.5 n=4", "2025-11-01 lab 7.8 k=137 mg=95 n=12", "2026-05-16 kit 8.0 n=6", "2026-11-13 lab 7.8 k=139 mg=97 n=12"},
	"Cutting strip": {
		"2023-03-12 kit 7.5 n=6", "2023-10-28 lab 7.6 k=141 mg=80 n=12", "2024-03-16 meter 7.8 n=10", "2024-10-27 lab 7.7 k=138 mg=76 n=12",
		"2025-03-15 meter 7.6 n=10", "2025-11-08 lab 7.3 k=133 mg=78 n=12", "2026-03-14 meter 7.2 n=10", "2026-07-05 kit 7.0 n=6",
		"2026-11-12 lab 7.0 k=128 mg=81 n=12"},
	"Kale and roots": {
		"2023-03-25 kit 6.0 n=6", "2023-11-11 lab 6.2 k=150 mg=130 n=14", "2024-04-06 meter 6.4 n=12",
		"2024-11-02 lab 6.5 k=158 mg=128 n=14",
		"2025-04-05 meter 6.4 n=12", "2025-09-20 probe 6.0 n=4", "2026-03-07 lab 6.1 k=139 mg=126 n=14",
		"2026-07-18 meter-stale 6.2 n=8", "2026-11-02 lab 6.0 k=133 mg=125 n=14 cacl2=5.4"},
	"Top lawn": {
		"2023-09-02 kit 6.0 n=8", "2024-03-30 probe 5.8 n=5", "2024-09-07 lab 5.9 k=82 mg=75 n=14", "2025-03-29 meter 6.1 n=12",
		"2025-09-06 lab 6.1 k=88 mg=74 n=14", "2026-03-28 meter 6.2 n=12", "2026-09-05 lab 6.2 k=92 mg=76 n=14"},
	"Plum row": {
		"2023-10-30 lab 6.4 k=133 mg=99 n=9", "2024-03-30 probe 6.2 n=3", "2024-10-30 meter 6.5 n=9", "2025-04-06 kit 6.5 n=6",
		"2025-11-03 lab 6.5 k=129 mg=97 n=9", "2026-04-11 kit 6.5 n=6", "2026-11-03 meter 6.5 n=9"},
	"Seedling bench": {"2025-02-02 fizz none/none n=3", "2026-02-07 fizz none/faint n=3"},
}

// puts are "date kind g/m² batch|- note".
var puts = map[string][]string{
	"Upper ledge": {
		"2023-11-18 calcitic-lime 180 - Raked in.", "2024-11-23 wood-ash-hardwood 120 -", "2025-02-15 wood-ash-hardwood 110 -",
		"2025-11-22 wood-ash-hardwood 60 - Trial: north half only.", "2026-02-14 wood-ash-hardwood 60 - Trial: north half only."},
	"Middle ledge": {"2023-12-02 wood-ash-hardwood 60 -", "2024-12-07 compost 3000 -", "2025-11-29 compost 2500 -"},
	"Lower ledge": {
		"2023-12-02 wood-ash-hardwood 50 -", "2024-11-23 wood-ash-hardwood 150 -", "2025-01-25 wood-ash-hardwood 150 -",
		"2025-12-06 compost 3000 -", "2026-06-20 ammonium-sulfate 20 - Side dressing."},
	"Salad tunnel": {
		"2023-11-18 compost 4000 -", "2024-11-16 compost 4000 -", "2025-11-15 compost 3500 -", "2026-06-27 ammonium-sulfate 15 -"},
	"Blueberry pocket": {
		"2024-11-16 calcitic-lime 250 - By mistake: this was the plum row’s lime.", "2025-05-24 elemental-sulfur-powder 35 -",
		"2026-05-23 elemental-sulfur-powder 35 -", "2026-04-18 pine-needles 2000 - Mulch."},
	"Quarry end": {"2023-05-27 compost 3000 -", "2024-06-01 compost 3000 -", "2025-06-07 ammonium-sulfate 20 -",
		"2026-06-06 ammonium-sulfate 20 -"},
	"Cutting strip": {"2023-06-10 ammonium-sulfate 20 -", "2024-06-08 ammonium-sulfate 20 -", "2025-06-14 ammonium-sulfate 25 -"},
	"Kale and roots": {
		"2023-03-04 wood-ash-unknown 80 -", "2023-11-25 calcitic-lime 300 -", "2024-11-30 compost 4000 -",
		"2025-03-08 wood-ash-softwood 70 -", "2026-06-13 ammonium-sulfate 20 - Carrots looked pale."},
	"Top lawn": {
		"2024-12-14 wood-ash-softwood 45 -", "2025-03-01 wood-ash-softwood 45 -", "2025-12-13 wood-ash-softwood 40 -"},
	"Plum row": {
		"2023-12-09 wood-ash-hardwood 60 -", "2024-12-14 compost 2000 -", "2025-12-06 wood-ash-hardwood 50 -",
		"2026-11-14 manure 2500 - Well spread, off the trunks."},
}

// skips are goes that were planned and left out: "bed|due|kind|g/m²|settled|why".
var skips = []string{
	"Middle ledge|2024-11-30|wood-ash-hardwood|120|2024-12-01|Rain all week, ground waterlogged.",
	"Middle ledge|2025-11-29|wood-ash-hardwood|140|2025-12-02|Ash bin was empty.",
	"Lower ledge|2026-02-21|wood-ash-hardwood|100|2026-02-22|Ground frozen.",
	"Cutting strip|2024-11-30|wood-ash-hardwood|60|2024-11-20|pH 7.7 by the lab: no ash here.",
	"Kale and roots|2025-11-22|calcitic-lime|250|2025-11-30|Kale still standing.",
	"Top lawn|2026-02-28|wood-ash-softwood|45|2026-03-01|Windy, next door’s washing out.",
}

// plans are doses that were put in the year before the demo opens: the bed, the
// day it was done, and what was chosen.
var plans = []struct{ bed, day, batch string }{
	{"Kale and roots", "2026-11-21", "Ground limestone"},
	{"Lower ledge", "2026-11-24", "Oven ash, autumn batch"},
	{"Blueberry pocket", "2026-11-22", "Sulfur powder"},
}
