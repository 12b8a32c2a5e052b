ALTER TABLE users DROP COLUMN retired_at;
