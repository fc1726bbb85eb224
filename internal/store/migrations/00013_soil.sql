-- +goose Up
-- What the soil's temperature really was, day by day.
CREATE TABLE soil_days (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  day TEXT NOT NULL UNIQUE,
  soil_c REAL NOT NULL,
  source TEXT NOT NULL DEFAULT ''
) STRICT;

-- +goose Down
DROP TABLE soil_days;
