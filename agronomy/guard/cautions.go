package guard

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// cautions must be read before a rate is applied.
var cautions = []Rule{
	{ID: "weak-method", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { d := trust(f).Dose; return d == soil.WithCaution || d == soil.HalfFirst },
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("method", f.Reading.Method), working.Num("sd", working.PH, f.Reading.SD()),
				working.Int("half", working.Count, int(trust(f).Dose))}
		}},
	{ID: "not-learned-yet", Level: Caution, Scope: OfRequest, Source: "learned",
		Holds: func(f *Facts) bool { return f.Unlearned != nil },
		With: func(f *Facts) working.Values {
			return working.Values{working.Int("tests", working.Count, *f.Unlearned), working.ID("school", f.Buffering)}
		}},
	{ID: "fizz-dusting", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Dusting },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("cap", working.Rate, material.DustingCap)}
		}},
	{ID: "outranked", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Outranked }},
	{ID: "outlier", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Outliers > 0 },
		With: func(f *Facts) working.Values {
			return working.Values{working.Int("n", working.Count, f.Joined.Outliers)}
		}},
	{ID: "fizz-doubts", Level: Caution, Scope: OfRequest, Source: "trust",
		Holds: func(f *Facts) bool { return f.Joined.Doubted }},
	{ID: "buried-acid", Level: Caution, Scope: OfRequest, Source: "layers",
		Holds: func(f *Facts) bool { return f.Profile.Below > 0 && f.Profile.Below < f.Crop.Range.Low },
		With: func(f *Facts) working.Values {
			return rangeAnd(f, working.Num("below", working.PH, f.Profile.Below), working.Num("depth", working.Depth, f.Ground.Depth))
		}},
	{ID: "potassium-too-much", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool { return f.K.State == soil.TooMuch }, With: ceiling},
	{ID: "potassium-stale", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool { return f.K.Stale },
		With: func(f *Facts) working.Values {
			return working.Values{working.On("date", f.K.Date), working.Int("months", working.Count, soil.KStaleMonths),
				working.ID("state", f.K.State)}
		}},
	{ID: "potassium-extractant", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool {
			return f.K.Read != nil && !f.K.Sure && f.Ground.Texture.ID != soil.Muck
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("extractant", f.Reading.Extractant)}
		}},
	{ID: "potassium-muck", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool {
			return f.K.Read != nil && f.Reading.KRange == nil && f.Ground.Texture.ID == soil.Muck
		}},
	{ID: "hard-water", Level: Caution, Scope: OfRequest, Source: "water",
		Holds: func(f *Facts) bool { return f.Water != nil && *f.Water >= hardWater && !f.WaterIgnored },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("alkalinity", working.None, *f.Water)}
		}},
	{ID: "adams-evans-range", Level: Caution, Scope: OfRequest, Source: "adams-evans",
		Holds: func(f *Facts) bool {
			return f.Buffering == soil.ByAdamsEvans && f.Raising &&
				(f.Target > soil.AdamsEvansTop || f.Ground.CationExchangeCapacity() > soil.AdamsEvansCEC)
		}},
	{ID: "smp-range", Level: Caution, Scope: OfRequest, Source: "smp",
		Holds: func(f *Facts) bool { return f.Raising && f.Beyond }, With: span},
	{ID: "buffer-gives-nothing", Level: Caution, Scope: OfRequest, Source: "soil-survey",
		Holds: func(f *Facts) bool { return f.ByTable > 0 },
		With: func(f *Facts) working.Values {
			return rangeAnd(f, working.Num("table", working.Rate, f.ByTable))
		}},
	{ID: "layers-differ", Level: Caution, Scope: OfRequest, Source: "layers",
		Holds: func(f *Facts) bool {
			return f.Ground.Worked == soil.Dug && f.Profile.Layered && f.Profile.Apart(f.PH, f.Crop.Range.Low, f.Crop.Range.High)
		},
		With: func(f *Facts) working.Values {
			v := working.Values{working.Num("mixed", working.PH, f.PH)}
			for _, s := range f.Profile.In {
				v = append(v, working.Num("from", working.Depth, s.From), working.Num("to", working.Depth, s.To),
					working.Num("ph", working.PH, s.PH))
			}
			return v
		}},
	{ID: "stale-reading", Level: Caution, Scope: OfRequest, Source: "trust", Holds: Stale,
		With: func(f *Facts) working.Values {
			return working.Values{working.On("date", f.Reading.Date),
				working.Int("months", working.Count, soil.StaleAfter(f.Ground.Texture.ID)), working.Int("old", working.Count, bit(old(f)))}
		}},
	{ID: "sampled-too-soon", Level: Caution, Scope: OfRequest, Source: "retest",
		Holds: func(f *Facts) bool {
			return f.SinceAsh >= 0 && f.SinceAsh < calendar.AfterAsh || f.SinceLime >= 0 && f.SinceLime < calendar.AfterLime
		}},
	{ID: "large-change", Level: Caution, Scope: OfRequest, Source: "caps",
		Holds: func(f *Facts) bool {
			return f.PH > 0 && (f.Raising || f.Lowering) && (f.Target-f.PH > 1 || f.PH-f.Target > 1)
		}, With: span},
	{ID: "lowering-impractical", Level: Caution, Scope: OfRequest, Source: "free-lime",
		Holds: func(f *Facts) bool {
			switch f.Ground.FreeLime {
			case soil.LimeClear, soil.LimeStrong:
				return f.Lowering
			case soil.LimeFaint:
				return f.Lowering && f.PH > LimyFrom
			}
			return false
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.ID("free_lime", f.Ground.FreeLime),
				working.Num("acid", working.Rate, f.Ground.FreeLimeAcid(f.Ground.FreeLime.Share()))}
		}},
	{ID: "free-lime-trace", Level: Caution, Scope: OfRequest, Source: "free-lime",
		Holds: func(f *Facts) bool {
			return f.Lowering && f.PH >= FreeLimeFrom-edge && f.Ground.FreeLime == soil.LimeNone
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("acid", working.Rate, f.Ground.FreeLimeAcid(soil.LimeFaint.Share()))}
		}},
	{ID: "target-outside-band", Level: Caution, Scope: OfRequest, Source: "crops",
		Holds: func(f *Facts) bool { return f.TargetTyped && f.Crop.ID != "" && !f.Crop.Range.Holds(f.Target) }, With: span},
	{ID: "magnesium-low", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool {
			return f.Reading.Magnesium != nil && *f.Reading.Magnesium < soil.MagnesiumLow
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("mg", working.PPM, *f.Reading.Magnesium)}
		}},

	{ID: "potassium-beside-magnesium", Level: Caution, Scope: OfRequest, Source: "potassium",
		Holds: func(f *Facts) bool {
			k, mg := f.K.Now, f.Reading.Magnesium
			return k != nil && mg != nil && *mg > 0 && *k / *mg > soil.KMgHigh
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("k", working.PPM, *f.K.Now), working.Num("mg", working.PPM, *f.Reading.Magnesium)}
		}},

	{ID: "overshoot", Level: Caution, Scope: OfOption, Source: "forecast",
		Holds: func(f *Facts) bool { return f.Raising && tooOften(f) }, With: past},
	{ID: "undershoot", Level: Caution, Scope: OfOption, Source: "forecast",
		Holds: func(f *Facts) bool { return f.Lowering && tooOften(f) }, With: past},
	{ID: "ash-over-common-advice", Level: Caution, Scope: OfOption, Source: "caps",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Total > material.AshCommonAdvice },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("total", working.Rate, f.Total), working.Int("mix", working.Count, bit(f.Mix))}
		}},
	{ID: "potassium-unknown", Level: Caution, Scope: OfOption, Source: "potassium",
		Holds: func(f *Facts) bool { return isAsh(f) && f.K.State == soil.Unknown }},
	{ID: "potassium-magnesium", Level: Caution, Scope: OfOption, Source: "potassium",
		Holds: func(f *Facts) bool {
			if !bringsK(f) || f.KAfter == nil || *f.KAfter <= f.K.Scale.EnoughTo {
				return false
			}
			share := float64(*f.KAfter) / 391 / float64(f.Ground.CationExchangeCapacity())
			mg := f.Reading.Magnesium
			return share > 0.07 || mg != nil && *mg > 0 && *f.KAfter / *mg > soil.KMgHigh
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("k", working.PPM, *f.KAfter)}
		}},
	{ID: "dolomite-magnesium", Level: Caution, Scope: OfOption, Source: "potassium",
		Holds: func(f *Facts) bool {
			mg, k := f.Reading.Magnesium, f.K.Now
			if f.Material.Kind != material.DolomiticLime || mg == nil {
				return false
			}
			return *mg > soil.MagnesiumHigh || k != nil && *mg > 0 && *k / *mg < soil.KMgLow
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("mg", working.PPM, *f.Reading.Magnesium)}
		}},
	{ID: "ash-years", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && (f.AshFiveYears > material.MuchAsh || f.AshRunning) },
		With: func(f *Facts) working.Values {
			return working.Values{working.Num("total", working.Rate, f.AshFiveYears),
				working.Int("running", working.Count, bit(f.AshRunning))}
		}},
	{ID: "seed-crop", Level: Caution, Scope: OfOption, Source: "crops",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Crop.Is(crop.TenderSeed) }, With: span},
	{ID: "ash-wet", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Material.Condition == material.Wet && (f.Worth.Typical || f.Material.Potash == nil)
		}},
	{ID: "ash-old", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool {
			return isAsh(f) && f.Material.Burnt != 0 && f.Date-f.Material.Burnt > material.OldDays
		},
		With: func(f *Facts) working.Values {
			return working.Values{working.Int("days", working.Days, int(f.Date-f.Material.Burnt))}
		}},
	{ID: "black-walnut", Level: Caution, Scope: OfOption, Source: "ash",
		Holds: func(f *Facts) bool { return isAsh(f) && f.Material.Walnut }},
	{ID: "aluminium-sour", Level: Caution, Scope: OfOption, Source: "caps",
		Holds: func(f *Facts) bool { return f.Material.Family == material.Aluminium && f.PH < 5 }},
	{ID: "salt-seedlings", Level: Caution, Scope: OfOption, Source: "caps",
		Holds: func(f *Facts) bool {
			switch f.Material.Family {
			case material.Ammonium, material.UreaFeed, material.Potash:
				return f.Crop.Is(crop.TenderSeed)
			}
			return false
		}},
	{ID: "hydrated-lime", Level: Caution, Scope: OfOption, Source: "safety",
		Holds: func(f *Facts) bool { return f.Material.Family == material.HydratedLime }},
	{ID: "lime-acid-lover", Level: Caution, Scope: OfOption, Source: "crops",
		Holds: func(f *Facts) bool { return isLime(f) && f.Crop.Is(crop.AcidLover) }, With: span},
	{ID: "surface-slow", Level: Caution, Scope: OfOption, Source: "surface",
		Holds: func(f *Facts) bool { return f.Ground.Worked == soil.Surface && f.Material.MovesPH() },
		With: func(f *Facts) working.Values {
			return working.Values{working.Int("lawn", working.Count, bit(f.Ground.Use == soil.UseLawn))}
		}},
	{ID: "established-shrubs", Level: Caution, Scope: OfOption, Source: "surface",
		Holds: func(f *Facts) bool { return f.Ground.Worked == soil.Established && f.Ground.Use != soil.UseLawn }},
	{ID: "days-left-out", Level: Caution, Scope: OfOption, Source: "calendar",
		Holds: func(f *Facts) bool { return f.LeftOut }},
}
