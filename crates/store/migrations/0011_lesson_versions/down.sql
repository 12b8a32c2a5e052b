DROP INDEX versions_of_a_lesson;
ALTER TABLE lessons DROP COLUMN retired_at;
ALTER TABLE lessons DROP COLUMN folder;
ALTER TABLE lessons DROP COLUMN version;
ALTER TABLE lessons DROP COLUMN family;
