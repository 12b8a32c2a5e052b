-- A lesson that is changed is another version of it: work that was begun keeps the one that it began with.
ALTER TABLE lessons ADD COLUMN family INTEGER NOT NULL DEFAULT 0;
ALTER TABLE lessons ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
-- Where it is kept, and when it was put away; both are the same for all its versions.
ALTER TABLE lessons ADD COLUMN folder TEXT NOT NULL DEFAULT '';
ALTER TABLE lessons ADD COLUMN retired_at BIGINT;
UPDATE lessons SET family = id;
CREATE UNIQUE INDEX versions_of_a_lesson ON lessons (family, version);
