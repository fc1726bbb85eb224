package guard

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// stops forbid any rate.
var stops = []Rule{
	{ID: "fizz-only", Level: Stop, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return trust(f).Dose == soil.Never && !f.Dusting }},
	{ID: "heap-no-dose", Level: Stop, Scope: OfRequest, Source: "mixes",
		Holds: func(f *Facts) bool { return f.Ground.Use == soil.UseHeap }},
	{ID: "pots-by-recipe", Level: Stop, Scope: OfRequest, Source: "mixes",
		Holds: func(f *Facts) bool { return f.Ground.Use == soil.UsePot }},
	{ID: SurprisingID, Level: Stop, Scope: OfRequest, Source: "surprise",
		Holds: func(f *Facts) bool { return f.Surprise != nil },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("read", working.PH, f.Surprise.Read.PH), working.Num("expected", working.PH, f.Surprise.Expected),
				working.On("test", f.Surprise.Test), working.On("date", f.Surprise.Read.Date), working.Int("more", working.Count, bit(f.Surprise.More))}
		}},
	{ID: "methods-disagree", Level: Stop, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Disagree },
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("a", f.Joined.A), working.ID("b", f.Joined.B),
				working.Num("apart", working.PH, f.Joined.Apart)}
		}},
	{ID: "sulfides", Level: Stop, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool {
			return f.PH > 0 && f.Ground.Texture.ID != soil.Muck && f.Profile.Sourest <= soil.SulfidePH+edge
		}, With: ends},
	{ID: "sodium", Level: Stop, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Profile.Sweetest >= soil.SodiumPH-edge }, With: ends},
	{ID: "crops-conflict", Level: Stop, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool { return f.Conflict },
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("a", f.First.ID), working.Num("low", working.PH, f.First.Range.Low),
				working.ID("b", f.Second.ID), working.Num("high", working.PH, f.Second.Range.High)}
		}},

	{ID: "above-band-top", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool { return raises(f) && f.Lands >= f.Crop.Range.High-edge }, With: landing},
	{ID: "ash-acid-lover", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Crop.Is(crop.AcidLover) }, With: span},
	{ID: "potato-year", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool { return raises(f) && f.Crop.Is(crop.Scab) && !(isLime(f) && lockedOut(f)) }},
	{ID: "ash-unsuited-crop", Level: Stop, Scope: OfMaterial, Source: "crops",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Crop.Is(crop.NoAsh) && !f.Crop.Is(crop.AcidLover) && !f.Crop.Is(crop.Scab)
		}, With: span},
	{ID: "ash-at-6.5", Level: Stop, Scope: OfMaterial, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && !f.Lowering && f.Lands >= material.AshTop-edge }, With: landing},
	{ID: "ash-tomato", Level: Stop, Scope: OfMaterial, Source: "ash-schools",
		Holds: func(f *Facts) bool { return isAsh(f) && f.NoTomatoAsh && f.Tomatoes }},
	{ID: "hydrated-acid-lover", Level: Stop, Scope: OfMaterial, Source: "caps",
		Holds: func(f *Facts) bool {
			return f.Material.Family == material.HydratedLime && f.Crop.Is(crop.AcidLover)
		}, With: span},
	{ID: "ash-source", Level: Stop, Scope: OfMaterial, Source: "ash",
		Holds: func(f *Facts) bool { return f.Material.Barred() },
		With:  func(f *Facts) working.Values { return working.Values{working.ID("source", f.Material.Source)} }},
	{ID: "ash-not-measured", Level: Stop, Scope: OfMaterial, Source: "ash-schools",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.AshApproach == material.MeasuredOnly && f.Worth.Typical
		}},
	{ID: "ash-hot", Level: Stop, Scope: OfMaterial, Source: "ash",
		Holds: func(f *Facts) bool {
			return f.Material.Hot(f.Date)
		},
		With: func(f *Facts) working.Values {
			if f.Date >= f.Material.Cool() {
				return nil // embers do not depend on the day
			}
			return working.Values{working.On("cool", f.Material.Cool())}
		}},
	{ID: "aluminium-food", Level: Stop, Scope: OfMaterial, Source: "caps",
		Holds: func(f *Facts) bool { return f.Material.Family == material.Aluminium && !f.Crop.Is(crop.NotFood) }},
	{ID: "manure-pots", Level: Stop, Scope: OfMaterial, Source: "manure",
		Holds: func(f *Facts) bool { return f.Material.Manure() && f.Ground.Use == soil.UsePot }},
	{ID: "manure-seed-bed", Level: Stop, Scope: OfMaterial, Source: "manure",
		Holds: func(f *Facts) bool {
			strong := f.Material.Family == material.FreshManure || f.Material.Manure() && f.Material.Chalky
			return strong && f.Ground.Use != soil.UsePot && f.Crop.Is(crop.TenderSeed)
		}, With: span},
	{ID: "chalky-acid-lover", Level: Stop, Scope: OfMaterial, Source: "manure",
		Holds: func(f *Facts) bool { return f.Material.Chalky && f.Crop.Is(crop.AcidLover) },
		With: func(f *Facts) working.Values {
			return rangeAnd(f, working.ID("kind", f.Material.Kind))
		}},
	{ID: "potassium-ceiling", Level: Stop, Scope: OfMaterial, Source: "potassium",
		Holds: func(f *Facts) bool {
			return bringsK(f) && f.K.Now != nil && *f.K.Now >= f.K.Scale.Ceiling
		},
		With: func(f *Facts) working.Values {
			return append(ceiling(f), working.Int("ash", working.Count, bit(isAsh(f))))
		}},
	{ID: "sulfur-after-lime", Level: Stop, Scope: OfMaterial, Source: "overshot",
		Holds: func(f *Facts) bool {
			return f.Material.Family == material.Sulfur && f.Lowering && !f.Crop.Is(crop.AcidLover) && !limed(f).IsZero()
		},
		With: func(f *Facts) working.Values { return rangeAnd(f, working.On("date", limed(f))) }},
	{ID: "sulfur-free-lime", Level: Stop, Scope: OfMaterial, Source: "free-lime", Holds: sulfurOnLime,
		With: func(f *Facts) working.Values {
			return working.Values{
				working.ID("free_lime", f.Ground.FreeLime),
				working.Num("acid", working.Rate, f.Ground.FreeLimeAcid(f.Ground.FreeLime.Share())),
			}
		}},
}
