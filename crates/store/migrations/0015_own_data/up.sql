-- Work that is erased for good: the one exception from steps that are never deleted. An attempt stands here only
-- within the transaction that erases it.
CREATE TABLE erasing (
    attempt_id INTEGER PRIMARY KEY NOT NULL
);
DROP TRIGGER steps_are_not_deleted;
CREATE TRIGGER steps_are_not_deleted BEFORE DELETE ON steps
WHEN NOT EXISTS (SELECT 1 FROM erasing WHERE attempt_id = OLD.attempt_id)
BEGIN
    SELECT RAISE(ABORT, 'steps are append-only');
END;
-- Marks of erased work, of nobody any more, for the means of a class.
CREATE TABLE figures (
    id INTEGER PRIMARY KEY NOT NULL,
    assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
    total DOUBLE NOT NULL
);
CREATE INDEX figures_of_an_assignment ON figures (assignment_id);
-- Months after which work is erased, counted from when it was last gone on with; never where it is absent.
ALTER TABLE school ADD COLUMN kept_months INTEGER;
-- Erased work leaves its marks behind, without a name.
ALTER TABLE school ADD COLUMN keeps_figures BOOLEAN NOT NULL DEFAULT 0;
-- A link by which somebody sets a new password, once.
CREATE TABLE reset_links (
    token_hash TEXT PRIMARY KEY NOT NULL,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    expires_at BIGINT NOT NULL
);
