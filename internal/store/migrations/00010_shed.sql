-- +goose Up
-- What a label, a hand and a fire tell of a batch, and what of it is in each go.
ALTER TABLE batches ADD COLUMN scoop_name TEXT NOT NULL DEFAULT '';
ALTER TABLE batches ADD COLUMN bag_g REAL;
ALTER TABLE batches ADD COLUMN fineness_pct TEXT NOT NULL DEFAULT '';
ALTER TABLE batches ADD COLUMN crushed INTEGER NOT NULL DEFAULT 0;
ALTER TABLE batches ADD COLUMN moisture_pct REAL NOT NULL DEFAULT 0;
ALTER TABLE batches ADD COLUMN fire TEXT NOT NULL DEFAULT '';
ALTER TABLE batches ADD COLUMN woods TEXT NOT NULL DEFAULT '';
ALTER TABLE batches ADD COLUMN burnt TEXT;
ALTER TABLE batches ADD COLUMN embers INTEGER NOT NULL DEFAULT 0;
ALTER TABLE batches ADD COLUMN walnut INTEGER NOT NULL DEFAULT 0;
ALTER TABLE batches ADD COLUMN charcoal_pct REAL NOT NULL DEFAULT 0;
ALTER TABLE batches ADD COLUMN vinegar_ml TEXT NOT NULL DEFAULT '';
ALTER TABLE batches ADD COLUMN vinegar_pct REAL;
ALTER TABLE batches ADD COLUMN keeping TEXT NOT NULL DEFAULT '';
ALTER TABLE batches ADD COLUMN gone TEXT;
ALTER TABLE applications ADD COLUMN fineness_pct TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE applications DROP COLUMN fineness_pct;
ALTER TABLE batches DROP COLUMN gone;
ALTER TABLE batches DROP COLUMN keeping;
ALTER TABLE batches DROP COLUMN vinegar_pct;
ALTER TABLE batches DROP COLUMN vinegar_ml;
ALTER TABLE batches DROP COLUMN charcoal_pct;
ALTER TABLE batches DROP COLUMN walnut;
ALTER TABLE batches DROP COLUMN embers;
ALTER TABLE batches DROP COLUMN burnt;
ALTER TABLE batches DROP COLUMN woods;
ALTER TABLE batches DROP COLUMN fire;
ALTER TABLE batches DROP COLUMN moisture_pct;
ALTER TABLE batches DROP COLUMN crushed;
ALTER TABLE batches DROP COLUMN fineness_pct;
ALTER TABLE batches DROP COLUMN bag_g;
ALTER TABLE batches DROP COLUMN scoop_name;
