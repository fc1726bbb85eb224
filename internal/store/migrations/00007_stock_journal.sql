-- +goose Up
-- What came to a batch or left it, and what it weighed: its level is the sum.
CREATE TABLE movements (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  batch_id INTEGER NOT NULL REFERENCES batches (id),
  date TEXT NOT NULL,
  kind TEXT NOT NULL,
  amount_g REAL NOT NULL CHECK (amount_g >= 0),
  application_id INTEGER UNIQUE REFERENCES applications (id),
  note TEXT NOT NULL
) STRICT;
CREATE INDEX movements_batch ON movements (batch_id, date, id);
CREATE INDEX applications_batch ON applications (batch_id) WHERE batch_id IS NOT NULL;

-- Which beds a line of the journal touches: found anew from its changes, so it is no
-- record of its own.
CREATE TABLE journal_beds (
  bed_id INTEGER NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id),
  PRIMARY KEY (bed_id, journal_id)
) STRICT, WITHOUT ROWID;
INSERT OR IGNORE INTO journal_beds (bed_id, journal_id)
  SELECT bed_id, journal_id FROM (
    SELECT j.id AS journal_id, CASE json_extract(x.value, '$.table')
      WHEN 'beds' THEN json_extract(x.value, '$.id')
      WHEN 'cores' THEN (SELECT s.bed_id FROM sample_beds s
        WHERE s.id = coalesce(json_extract(x.value, '$.after.sample_bed_id'), json_extract(x.value, '$.before.sample_bed_id')))
      ELSE coalesce(json_extract(x.value, '$.after.bed_id'), json_extract(x.value, '$.before.bed_id')) END AS bed_id
    FROM journal j, json_each(j.changes) x)
  WHERE bed_id IS NOT NULL;

-- +goose Down
DROP TABLE journal_beds;
DROP INDEX applications_batch;
DROP TABLE movements;
