-- +goose Up
-- What was seen on a bed, with a photograph if one was taken.
CREATE TABLE sights (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  day TEXT NOT NULL,
  sign TEXT NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  pictured INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX sights_bed ON sights (bed_id);
CREATE TABLE photos (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  sight_id INTEGER NOT NULL UNIQUE REFERENCES sights (id),
  jpeg TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE photos;
DROP TABLE sights;
