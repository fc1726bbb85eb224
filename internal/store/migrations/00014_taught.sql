-- +goose Up
-- From which day on a bed's retests teach: what they said before it was put aside.
ALTER TABLE beds ADD COLUMN taught_from TEXT;

-- +goose Down
ALTER TABLE beds DROP COLUMN taught_from;
