-- +goose Up
-- Turning a bed over: for which planting, its steps among the tasks, and ways of one's own.
CREATE TABLE turnings (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  planting_id INTEGER NOT NULL REFERENCES plantings (id),
  template TEXT NOT NULL,
  made TEXT NOT NULL,
  closed TEXT
) STRICT;
CREATE INDEX turnings_bed ON turnings (bed_id, id);
CREATE TABLE ways (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  name TEXT NOT NULL,
  name_key TEXT NOT NULL UNIQUE,
  steps TEXT NOT NULL
) STRICT;
ALTER TABLE tasks ADD COLUMN turning_id INTEGER REFERENCES turnings (id);
ALTER TABLE tasks ADD COLUMN step TEXT NOT NULL DEFAULT '';
ALTER TABLE tasks ADD COLUMN place INTEGER NOT NULL DEFAULT 0;
ALTER TABLE tasks ADD COLUMN wait_days INTEGER NOT NULL DEFAULT 0;
ALTER TABLE tasks ADD COLUMN before_days INTEGER NOT NULL DEFAULT 0;
ALTER TABLE tasks ADD COLUMN says TEXT NOT NULL DEFAULT '';
CREATE INDEX tasks_turning ON tasks (turning_id) WHERE turning_id IS NOT NULL;

-- +goose Down
DROP INDEX tasks_turning;
ALTER TABLE tasks DROP COLUMN says;
ALTER TABLE tasks DROP COLUMN before_days;
ALTER TABLE tasks DROP COLUMN wait_days;
ALTER TABLE tasks DROP COLUMN place;
ALTER TABLE tasks DROP COLUMN step;
ALTER TABLE tasks DROP COLUMN turning_id;
DROP TABLE ways;
DROP TABLE turnings;
