package main

import (
	"context"
	"time"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/web/pages/soiltemps"
	"zephyrfield/internal/web/site"
)

// soilEvery is the interval of reading a station's file.
const soilEvery = time.Hour

// soilBack is how far back it is read the first time, soilAgain each time after: a station may
// correct its last days.
const (
	soilBack  quantity.Day = 3 * 365
	soilAgain quantity.Day = 14
)

// takeSoil imports soil temperatures from a station's file, at once and then regularly. Simulated
// ones are not imported.
func takeSoil(ctx context.Context, k layout.Service, cfg site.Config, every time.Duration) {
	if cfg.Weather == nil || cfg.Weather.Simulated() {
		return
	}
	tick := time.NewTicker(every)
	defer tick.Stop()
	for back := soilBack; ; back = soilAgain {
		today := cfg.Clock.Today()
		skies, err := cfg.Weather.Days(ctx, instrument.Spot{}, today-back, today, today)
		if err == nil {
			_, _, err = k.ImportSoil(ctx, garden.Actor{Who: "station", At: cfg.Clock.Now(), Today: today},
				soiltemps.SoilOf(skies, cfg.Weather.Name(), today))
		}
		if err != nil && ctx.Err() == nil {
			cfg.Log.Error("the soil’s temperature could not be taken in", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}
