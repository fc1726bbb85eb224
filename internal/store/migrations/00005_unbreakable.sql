-- +goose Up
-- Who is signed in: since when, last seen when, from where.
ALTER TABLE sessions ADD COLUMN made TEXT NOT NULL DEFAULT '';
ALTER TABLE sessions ADD COLUMN seen TEXT NOT NULL DEFAULT '';
ALTER TABLE sessions ADD COLUMN whence TEXT NOT NULL DEFAULT '';

-- What was sent under a key, so that other content under it is told.
ALTER TABLE posted ADD COLUMN digest TEXT NOT NULL DEFAULT '';

-- A bed's name as names are compared: SQLite folds the letters of English only.
-- The next step fills it.
DROP INDEX beds_name;
ALTER TABLE beds ADD COLUMN name_key TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE beds DROP COLUMN name_key;
CREATE UNIQUE INDEX beds_name ON beds (name COLLATE NOCASE);
ALTER TABLE posted DROP COLUMN digest;
ALTER TABLE sessions DROP COLUMN whence;
ALTER TABLE sessions DROP COLUMN seen;
ALTER TABLE sessions DROP COLUMN made;
