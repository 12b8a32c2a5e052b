ALTER TABLE circuits DROP COLUMN version;
