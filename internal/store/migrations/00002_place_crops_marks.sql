-- +goose Up
-- An empty unit is the usual one: square metres, centimetres, kilograms, g/m².
ALTER TABLE garden ADD COLUMN area_unit TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN depth_unit TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN weight_unit TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN rate_unit TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN currency TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN water_ph REAL CHECK (water_ph BETWEEN 3 AND 11);
ALTER TABLE garden ADD COLUMN water_alkalinity_mg_l REAL CHECK (water_alkalinity_mg_l >= 0);
ALTER TABLE garden ADD COLUMN water_hardness_mg_l REAL CHECK (water_hardness_mg_l >= 0);
ALTER TABLE garden ADD COLUMN rain_mm TEXT NOT NULL DEFAULT '';
-- Month and day, MM-DD; empty: the climate's.
ALTER TABLE garden ADD COLUMN last_frost TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN first_frost TEXT NOT NULL DEFAULT '';

-- How the texture was found, and the layers of the jar in millimetres.
ALTER TABLE beds ADD COLUMN texture_by TEXT NOT NULL DEFAULT '' CHECK (texture_by IN ('', 'jar', 'feel'));
ALTER TABLE beds ADD COLUMN jar_mm TEXT NOT NULL DEFAULT '';
ALTER TABLE beds ADD COLUMN watered TEXT NOT NULL DEFAULT '' CHECK (watered IN ('', 'tap'));

-- For a kilogram, in the place's currency.
ALTER TABLE batches ADD COLUMN price_kg REAL CHECK (price_kg >= 0);

-- Crops of the gardener's own, and rows of the book that were changed.
CREATE TABLE crops (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  code TEXT NOT NULL UNIQUE CHECK (code <> ''),
  name TEXT NOT NULL CHECK (name <> ''),
  low_ph REAL NOT NULL,
  high_ph REAL NOT NULL CHECK (high_ph > low_ph),
  aim_ph REAL NOT NULL CHECK (aim_ph BETWEEN low_ph AND high_ph),
  removal_g_m2 REAL NOT NULL CHECK (removal_g_m2 >= 0),
  flags TEXT NOT NULL
) STRICT;

-- Paths and walls: plain marks on the plan.
CREATE TABLE marks (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  name TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('path', 'wall')),
  width_m REAL NOT NULL CHECK (width_m > 0),
  points_m TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE marks;
DROP TABLE crops;
ALTER TABLE batches DROP COLUMN price_kg;
ALTER TABLE beds DROP COLUMN watered;
ALTER TABLE beds DROP COLUMN jar_mm;
ALTER TABLE beds DROP COLUMN texture_by;
ALTER TABLE garden DROP COLUMN first_frost;
ALTER TABLE garden DROP COLUMN last_frost;
ALTER TABLE garden DROP COLUMN rain_mm;
ALTER TABLE garden DROP COLUMN water_hardness_mg_l;
ALTER TABLE garden DROP COLUMN water_alkalinity_mg_l;
ALTER TABLE garden DROP COLUMN water_ph;
ALTER TABLE garden DROP COLUMN currency;
ALTER TABLE garden DROP COLUMN rate_unit;
ALTER TABLE garden DROP COLUMN weight_unit;
ALTER TABLE garden DROP COLUMN depth_unit;
ALTER TABLE garden DROP COLUMN area_unit;
