-- +goose Up
-- Long work: how it stands, so that it is told after a restart too. No record of the
-- garden.
CREATE TABLE jobs (
  name TEXT PRIMARY KEY,
  state TEXT NOT NULL,
  step INTEGER NOT NULL,
  "of" INTEGER NOT NULL,
  journal_id INTEGER NOT NULL,
  says TEXT NOT NULL,
  at TEXT NOT NULL
) STRICT;

-- +goose Down
DROP TABLE jobs;
