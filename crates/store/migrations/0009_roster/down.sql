DROP INDEX classes_by_code;
ALTER TABLE classes DROP COLUMN code;
ALTER TABLE users DROP COLUMN pin_hash;
DROP INDEX classes_by_source;
ALTER TABLE classes DROP COLUMN source;
DROP INDEX users_by_source;
ALTER TABLE users DROP COLUMN source;
