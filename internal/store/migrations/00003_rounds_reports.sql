-- +goose Up
-- A round of sampling, its mixed samples, the beds of each, and every core.
CREATE TABLE rounds (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  made TEXT NOT NULL,
  corer_m REAL NOT NULL CHECK (corer_m > 0),
  wanted_g REAL NOT NULL CHECK (wanted_g > 0),
  layered INTEGER NOT NULL CHECK (layered IN (0, 1)),
  walk_m REAL NOT NULL,
  ended TEXT
) STRICT;

CREATE TABLE samples (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  round_id INTEGER NOT NULL REFERENCES rounds (id),
  code TEXT NOT NULL UNIQUE,
  depth_m REAL NOT NULL CHECK (depth_m > 0),
  overruled TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('planned', 'taken', 'at-lab', 'read')),
  taken TEXT,
  sent TEXT,
  read TEXT
) STRICT;
CREATE INDEX samples_round ON samples (round_id);

CREATE TABLE sample_beds (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  sample_id INTEGER NOT NULL REFERENCES samples (id),
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  cores INTEGER NOT NULL CHECK (cores > 0),
  place INTEGER NOT NULL,
  note TEXT NOT NULL
) STRICT;
CREATE INDEX sample_beds_sample ON sample_beds (sample_id, place);

CREATE TABLE cores (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  sample_bed_id INTEGER NOT NULL REFERENCES sample_beds (id),
  n INTEGER NOT NULL CHECK (n > 0),
  at TEXT NOT NULL,
  UNIQUE (sample_bed_id, n)
) STRICT;

-- The rest of a lab's report, and readings that were struck out.
ALTER TABLE readings ADD COLUMN sample_id INTEGER REFERENCES samples (id);
CREATE INDEX readings_sample ON readings (sample_id) WHERE sample_id IS NOT NULL;
ALTER TABLE readings ADD COLUMN ca_ppm REAL;
ALTER TABLE readings ADD COLUMN p_ppm REAL;
ALTER TABLE readings ADD COLUMN k_extractant TEXT NOT NULL DEFAULT '';
ALTER TABLE readings ADD COLUMN k_from_ppm REAL;
ALTER TABLE readings ADD COLUMN k_to_ppm REAL;
ALTER TABLE readings ADD COLUMN organic_matter_pct REAL;
ALTER TABLE readings ADD COLUMN cec REAL;
ALTER TABLE readings ADD COLUMN buffer_kind TEXT NOT NULL DEFAULT '';
ALTER TABLE readings ADD COLUMN buffer_ph REAL;
ALTER TABLE readings ADD COLUMN buffer_capacity_mg_kg REAL;
ALTER TABLE readings ADD COLUMN lab_rate_g_m2 REAL;
ALTER TABLE readings ADD COLUMN lab_rate_depth_m REAL;
ALTER TABLE readings ADD COLUMN lab_rate_cce_pct REAL;
ALTER TABLE readings ADD COLUMN lab_rate_target_ph REAL;
-- [[from m, to m, pH], …] and [[g CaCO₃ a kg, pH], …]
ALTER TABLE readings ADD COLUMN layers TEXT NOT NULL DEFAULT '';
ALTER TABLE readings ADD COLUMN jars TEXT NOT NULL DEFAULT '';
-- The doubt of a kit by its chips; none: the method's own.
ALTER TABLE readings ADD COLUMN doubt_ph REAL;
ALTER TABLE readings ADD COLUMN struck TEXT;
ALTER TABLE readings ADD COLUMN struck_why TEXT NOT NULL DEFAULT '';

-- A lab's file between its coming in and its being taken, and the layouts of
-- labs that were matched before. Neither is a record of the garden.
CREATE TABLE lab_files (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL,
  made TEXT NOT NULL,
  cells TEXT NOT NULL
) STRICT;
CREATE TABLE lab_layouts (
  head TEXT PRIMARY KEY,
  layout TEXT NOT NULL
) STRICT;

-- The pH of each chip of the gardener's colour kit.
ALTER TABLE garden ADD COLUMN kit_chips TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE readings DROP COLUMN struck_why;
ALTER TABLE readings DROP COLUMN struck;
ALTER TABLE readings DROP COLUMN doubt_ph;
ALTER TABLE garden DROP COLUMN kit_chips;
ALTER TABLE readings DROP COLUMN jars;
ALTER TABLE readings DROP COLUMN layers;
ALTER TABLE readings DROP COLUMN lab_rate_target_ph;
ALTER TABLE readings DROP COLUMN lab_rate_cce_pct;
ALTER TABLE readings DROP COLUMN lab_rate_depth_m;
ALTER TABLE readings DROP COLUMN lab_rate_g_m2;
ALTER TABLE readings DROP COLUMN buffer_capacity_mg_kg;
ALTER TABLE readings DROP COLUMN buffer_ph;
ALTER TABLE readings DROP COLUMN buffer_kind;
ALTER TABLE readings DROP COLUMN cec;
ALTER TABLE readings DROP COLUMN organic_matter_pct;
ALTER TABLE readings DROP COLUMN k_to_ppm;
ALTER TABLE readings DROP COLUMN k_from_ppm;
ALTER TABLE readings DROP COLUMN k_extractant;
ALTER TABLE readings DROP COLUMN p_ppm;
ALTER TABLE readings DROP COLUMN ca_ppm;
DROP INDEX readings_sample;
ALTER TABLE readings DROP COLUMN sample_id;
DROP TABLE lab_layouts;
DROP TABLE lab_files;
DROP TABLE cores;
DROP TABLE sample_beds;
DROP TABLE samples;
DROP TABLE rounds;
