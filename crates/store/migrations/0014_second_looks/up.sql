-- How the school says marks: its rounding and its grades, as JSON.
ALTER TABLE school ADD COLUMN scale TEXT NOT NULL DEFAULT '{}';
-- A student asks for a second look at a line of a sheet, once; an instructor answers, once.
CREATE TABLE second_looks (
    id INTEGER PRIMARY KEY NOT NULL,
    attempt_id INTEGER NOT NULL REFERENCES attempts (id) ON DELETE CASCADE,
    criterion TEXT NOT NULL,
    asked TEXT NOT NULL,
    asked_at BIGINT NOT NULL,
    answer TEXT,
    -- Marks were given for it; otherwise they were kept.
    changed BOOLEAN NOT NULL DEFAULT 0,
    answered_at BIGINT,
    answered_by TEXT,
    UNIQUE (attempt_id, criterion)
);
CREATE INDEX open_second_looks ON second_looks (attempt_id) WHERE answered_at IS NULL;
