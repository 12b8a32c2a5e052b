-- Counts the changes of a circuit, so that two instructors do not overwrite each other.
ALTER TABLE circuits ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
