-- +goose Up
-- What of a dose waits for its test: it has no day. Plans made before had their second halves dated among the tasks.
CREATE TABLE rests (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  plan_id INTEGER NOT NULL REFERENCES plans (id),
  material TEXT NOT NULL,
  batch_id INTEGER REFERENCES batches (id),
  rate_g_m2 REAL NOT NULL,
  total_g REAL NOT NULL,
  state TEXT NOT NULL,
  settled TEXT,
  reading_id INTEGER REFERENCES readings (id),
  why TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX rests_bed ON rests (bed_id);
CREATE INDEX rests_plan ON rests (plan_id);
CREATE INDEX rests_waiting ON rests (bed_id) WHERE state = 'waiting';
ALTER TABLE plans ADD COLUMN rests_apart INTEGER NOT NULL DEFAULT 0;
ALTER TABLE garden ADD COLUMN pace_school TEXT NOT NULL DEFAULT '';
-- A garden that was made as a rehearsal is one for good.
ALTER TABLE garden ADD COLUMN rehearsal INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE garden DROP COLUMN rehearsal;
ALTER TABLE garden DROP COLUMN pace_school;
ALTER TABLE plans DROP COLUMN rests_apart;
DROP TABLE rests;
