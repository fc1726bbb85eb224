-- +goose Up
-- The part of the garden that a bed lies in: a tunnel, a field, a terrace.
ALTER TABLE beds ADD COLUMN part TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE beds DROP COLUMN part;
