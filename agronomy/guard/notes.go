package guard

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// notes are useful to know.
var notes = []Rule{
	{ID: "no-ph-change", Level: Note, Scope: OfMaterial, Source: "materials",
		Holds: func(f *Facts) bool { return !f.ForPotassium && !f.Material.MovesPH() },
		With:  func(f *Facts) working.Values { return working.Values{working.ID("kind", f.Material.Kind)} }},
	{ID: "wrong-way", Level: Note, Scope: OfMaterial, Source: "materials",
		Holds: func(f *Facts) bool {
			return f.Raising && f.Material.Lowers() || f.Lowering && f.Material.Raises()
		},
		With: func(f *Facts) working.Values {
			way := "raise"
			if f.Lowering {
				way = "lower"
			}
			return working.Values{working.ID("kind", f.Material.Kind), working.ID("way", way)}
		}},
	{ID: "too-close-to-tell", Level: Note, Scope: OfRequest, Source: "act-schools",
		Holds: func(f *Facts) bool { return f.Stand == crop.TooClose && !f.TargetTyped },
		With: func(f *Facts) working.Values {
			return rangeAnd(f, working.Num("sd", working.PH, f.Reading.SD()))
		}},
	{ID: "drifts-down", Level: Note, Scope: OfRequest, Source: "act-schools",
		Holds: func(f *Facts) bool { return f.Stand == crop.Drifts && !f.TargetTyped }, With: span},
	{ID: "potato-lock-out", Level: Note, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool { return f.Raising && f.Crop.Is(crop.Scab) && lockedOut(f) }, With: span},
	{ID: "muck-by-organic-matter", Level: Note, Scope: OfRequest, Source: "defaults",
		Holds: func(f *Facts) bool { return f.FoundMuck },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("om", working.Percent, *f.Ground.OrganicMatter)}
		}},
	{ID: "lime-late", Level: Note, Scope: OfOption, Source: "calendar",
		Holds: func(f *Facts) bool { return f.LateSowing != 0 },
		With: func(f *Facts) working.Values {
			return working.Values{working.On("sowing", f.LateSowing), working.Num("share", working.Percent, 100*f.LateShare)}
		}},
	{ID: "feeds-nitrogen", Level: Note, Scope: OfOption, Source: "materials",
		Holds: func(f *Facts) bool { return f.N > 0 }, With: func(f *Facts) working.Values {
			return working.Values{working.Num("n", working.Rate, f.N)}
		}},
	{ID: "yellow-leaves", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.Crop.Is(crop.AcidLover) && f.PH > f.Crop.Range.High }},
	{ID: "typical-strength", Level: Note, Scope: OfOption, Source: "ash-schools",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Worth.Typical }},
	{ID: "target-overrides", Level: Note, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool {
			return f.TargetTyped && f.Crop.ID != "" && f.Crop.Range.Holds(f.Target) && f.Stand != crop.Act && (f.Raising || f.Lowering)
		}, With: span},
	{ID: "calcium-low", Level: Note, Scope: OfRequest, Source: "calcium",
		Holds: func(f *Facts) bool {
			ca := f.Reading.Calcium
			return ca != nil && soil.CalciumShort(f.Ground, *ca)
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("ca", working.PPM, *f.Reading.Calcium), working.Int("sour", working.Count, bit(f.Raising))}
		}},
	{ID: "lock-up-high", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.PH > LockHigh }},
	{ID: "lock-up-low", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.PH > 0 && f.PH < LockLow && !f.Crop.Is(crop.AcidLover) }},
	{ID: "aluminium-low", Level: Note, Scope: OfRequest, Source: "nutrients",
		Holds: func(f *Facts) bool { return f.PH > 0 && f.PH < LooseMetals && !f.Crop.Is(crop.AcidLover) }},
}
