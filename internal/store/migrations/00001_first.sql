-- +goose Up
CREATE TABLE garden (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  version INTEGER NOT NULL,
  name TEXT NOT NULL,
  climate TEXT NOT NULL,
  hemisphere TEXT NOT NULL CHECK (hemisphere IN ('north', 'south')),
  soil_table TEXT NOT NULL CHECK (soil_table IN ('cool', 'warm')),
  buffering TEXT NOT NULL,
  ash_school TEXT NOT NULL,
  act_school TEXT NOT NULL,
  soil_temp_c TEXT NOT NULL,
  started TEXT
) STRICT;
INSERT INTO garden VALUES (1, 1, 'My garden', 'maritime', 'north', 'cool', 'table', 'equivalence', 'below-band', '', NULL);

CREATE TABLE beds (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  name TEXT NOT NULL CHECK (name <> ''),
  kind TEXT NOT NULL CHECK (kind IN ('bed', 'lawn', 'tree', 'pot', 'heap')),
  shape TEXT NOT NULL CHECK (shape IN ('rect', 'circle', 'rings', 'outline')),
  x_m REAL NOT NULL,
  y_m REAL NOT NULL,
  w_m REAL NOT NULL CHECK (w_m > 0),
  h_m REAL NOT NULL CHECK (h_m > 0),
  rings INTEGER NOT NULL CHECK (rings >= 0),
  turn_deg REAL NOT NULL CHECK (turn_deg >= -360 AND turn_deg <= 360),
  corners_m TEXT NOT NULL,
  texture TEXT NOT NULL,
  depth_m REAL NOT NULL CHECK (depth_m > 0),
  worked TEXT NOT NULL,
  organic_matter_pct REAL,
  clay_pct REAL,
  cec REAL,
  free_lime TEXT NOT NULL,
  note TEXT NOT NULL,
  retired TEXT
) STRICT;
CREATE UNIQUE INDEX beds_name ON beds (name COLLATE NOCASE);

CREATE TABLE plantings (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  crop TEXT NOT NULL,
  sown TEXT NOT NULL,
  cleared TEXT
) STRICT;
CREATE INDEX plantings_bed ON plantings (bed_id, sown);

CREATE TABLE batches (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  name TEXT NOT NULL CHECK (name <> ''),
  kind TEXT NOT NULL,
  cce_pct REAL,
  effective_pct REAL,
  k2o_pct REAL,
  condition TEXT NOT NULL,
  source TEXT NOT NULL,
  on_hand_g REAL,
  scoop_g REAL,
  note TEXT NOT NULL
) STRICT;

CREATE TABLE readings (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  date TEXT NOT NULL,
  method TEXT NOT NULL,
  basis TEXT NOT NULL,
  ph REAL CHECK (ph BETWEEN 3 AND 10),
  cores INTEGER NOT NULL CHECK (cores > 0),
  depth_m REAL NOT NULL,
  k_ppm REAL,
  mg_ppm REAL,
  vinegar TEXT NOT NULL,
  soda TEXT NOT NULL,
  note TEXT NOT NULL,
  CHECK ((method = 'fizz') = (ph IS NULL))
) STRICT;
CREATE INDEX readings_bed ON readings (bed_id, date, id);
CREATE INDEX readings_date ON readings (date, id);

CREATE TABLE plans (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  made TEXT NOT NULL,
  reading_id INTEGER NOT NULL REFERENCES readings (id),
  target_ph REAL NOT NULL,
  request TEXT NOT NULL
) STRICT;
CREATE INDEX plans_bed ON plans (bed_id);
CREATE INDEX plans_reading ON plans (reading_id);

CREATE TABLE tasks (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  plan_id INTEGER REFERENCES plans (id),
  kind TEXT NOT NULL CHECK (kind IN ('go', 'retest')),
  due TEXT NOT NULL,
  material TEXT NOT NULL,
  batch_id INTEGER REFERENCES batches (id),
  rate_g_m2 REAL NOT NULL,
  total_g REAL NOT NULL,
  ph_after REAL,
  state TEXT NOT NULL CHECK (state IN ('open', 'done', 'skipped')),
  settled TEXT,
  why TEXT NOT NULL,
  method TEXT NOT NULL,
  depth_m REAL NOT NULL,
  CHECK ((state = 'open') = (settled IS NULL))
) STRICT;
CREATE INDEX tasks_due ON tasks (due);
CREATE INDEX tasks_bed ON tasks (bed_id, due);
CREATE INDEX tasks_open ON tasks (due) WHERE state = 'open';
CREATE INDEX tasks_settled ON tasks (settled) WHERE settled IS NOT NULL;
CREATE INDEX tasks_plan ON tasks (plan_id);

CREATE TABLE applications (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  bed_id INTEGER NOT NULL REFERENCES beds (id),
  task_id INTEGER REFERENCES tasks (id),
  batch_id INTEGER REFERENCES batches (id),
  date TEXT NOT NULL,
  material TEXT NOT NULL,
  rate_g_m2 REAL NOT NULL CHECK (rate_g_m2 >= 0),
  total_g REAL NOT NULL,
  note TEXT NOT NULL
) STRICT;
CREATE INDEX applications_bed ON applications (bed_id, date);
CREATE INDEX applications_task ON applications (task_id);

-- One line for each change: who, when, and each record before and after.
CREATE TABLE journal (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  version INTEGER NOT NULL,
  at TEXT NOT NULL,
  who TEXT NOT NULL,
  what TEXT NOT NULL,
  changes TEXT NOT NULL,
  undoes INTEGER REFERENCES journal (id),
  undone_by INTEGER REFERENCES journal (id)
) STRICT;

-- A key that has landed does not land again.
CREATE TABLE posted (
  key TEXT PRIMARY KEY,
  at TEXT NOT NULL,
  journal_id INTEGER NOT NULL REFERENCES journal (id)
) STRICT;

CREATE TABLE settings (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

-- Only the hash of a session's token is kept.
CREATE TABLE sessions (
  token_hash TEXT PRIMARY KEY,
  expires TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE sessions;
DROP TABLE settings;
DROP TABLE posted;
DROP TABLE journal;
DROP TABLE applications;
DROP TABLE tasks;
DROP TABLE plans;
DROP TABLE readings;
DROP TABLE batches;
DROP TABLE plantings;
DROP TABLE beds;
DROP TABLE garden;
