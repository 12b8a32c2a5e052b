-- When somebody left: they sign in no more and are given nothing, and their work stays.
ALTER TABLE users ADD COLUMN retired_at BIGINT;
-- Names are found without regard to capitals.
UPDATE OR IGNORE users SET name = lower(trim(name));
