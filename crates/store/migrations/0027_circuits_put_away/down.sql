ALTER TABLE circuits DROP COLUMN retired_at;
