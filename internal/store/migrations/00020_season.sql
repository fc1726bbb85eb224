-- +goose Up
-- The month from which a season runs; 0: the usual one of the hemisphere.
ALTER TABLE garden ADD COLUMN season_from INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE garden DROP COLUMN season_from;
