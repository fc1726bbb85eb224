-- +goose Up
-- What was moved by hand, how an amount was told, and the days on which the gardener works.
ALTER TABLE tasks ADD COLUMN chosen INTEGER NOT NULL DEFAULT 0;
ALTER TABLE applications ADD COLUMN told TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN work_days TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN away TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE garden DROP COLUMN away;
ALTER TABLE garden DROP COLUMN work_days;
ALTER TABLE applications DROP COLUMN told;
ALTER TABLE tasks DROP COLUMN chosen;
