ALTER TABLE sheets DROP COLUMN computed;
