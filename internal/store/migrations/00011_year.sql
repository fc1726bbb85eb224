-- +goose Up
-- What was moved by hand, and the days on which the gardener works.
ALTER TABLE tasks ADD COLUMN chosen INTEGER NOT NULL DEFAULT 0;
ALTER TABLE garden ADD COLUMN work_days TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN away TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE garden DROP COLUMN away;
ALTER TABLE garden DROP COLUMN work_days;
ALTER TABLE tasks DROP COLUMN chosen;
