-- +goose Up
-- The choices between rules that growers differ on; '' is the usual one.
ALTER TABLE garden ADD COLUMN fizz_school TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN tomato_ash TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN water_school TEXT NOT NULL DEFAULT '';
ALTER TABLE garden ADD COLUMN retest_rhythm TEXT NOT NULL DEFAULT '';

-- Stones by volume, and plants that were put out rather than sown.
ALTER TABLE beds ADD COLUMN stones_pct REAL NOT NULL DEFAULT 0 CHECK (stones_pct BETWEEN 0 AND 80);
ALTER TABLE plantings ADD COLUMN planted_out INTEGER NOT NULL DEFAULT 0 CHECK (planted_out IN (0, 1));

-- What went on keeps the strength that it had, whatever its batch is tested at
-- later.
ALTER TABLE applications ADD COLUMN cce_pct REAL;
ALTER TABLE applications ADD COLUMN k2o_pct REAL;
ALTER TABLE applications ADD COLUMN condition TEXT NOT NULL DEFAULT '';
UPDATE applications SET
  cce_pct = (SELECT COALESCE(b.effective_pct, b.cce_pct) FROM batches b WHERE b.id = applications.batch_id),
  k2o_pct = (SELECT b.k2o_pct FROM batches b WHERE b.id = applications.batch_id),
  condition = COALESCE((SELECT b.condition FROM batches b WHERE b.id = applications.batch_id), '')
WHERE batch_id IS NOT NULL;

-- +goose Down
ALTER TABLE applications DROP COLUMN condition;
ALTER TABLE applications DROP COLUMN k2o_pct;
ALTER TABLE applications DROP COLUMN cce_pct;
ALTER TABLE plantings DROP COLUMN planted_out;
ALTER TABLE beds DROP COLUMN stones_pct;
ALTER TABLE garden DROP COLUMN retest_rhythm;
ALTER TABLE garden DROP COLUMN water_school;
ALTER TABLE garden DROP COLUMN tomato_ash;
ALTER TABLE garden DROP COLUMN fizz_school;
