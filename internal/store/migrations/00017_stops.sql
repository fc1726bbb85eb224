-- +goose Up
-- Cores that are taken close together at one stop, a corer of a sample's own, and a tray that cores are cut in; 0 stops is one a core,
-- and 0 m the round's corer.
ALTER TABLE rounds ADD COLUMN tray INTEGER NOT NULL DEFAULT 0;
ALTER TABLE samples ADD COLUMN corer_m REAL NOT NULL DEFAULT 0;
ALTER TABLE sample_beds ADD COLUMN stops INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE sample_beds DROP COLUMN stops;
ALTER TABLE samples DROP COLUMN corer_m;
ALTER TABLE rounds DROP COLUMN tray;
