-- Marks as they were given: an attempt keeps every sheet that was made for it, and one of them stands.
CREATE TABLE sheets (
    id INTEGER PRIMARY KEY NOT NULL,
    attempt_id INTEGER NOT NULL REFERENCES attempts (id),
    engine TEXT NOT NULL,
    made_at BIGINT NOT NULL,
    sheet TEXT NOT NULL,
    debrief TEXT NOT NULL,
    stands BOOLEAN NOT NULL
);
CREATE INDEX sheets_of_attempt ON sheets (attempt_id);
CREATE UNIQUE INDEX one_sheet_stands ON sheets (attempt_id) WHERE stands;
-- What a lesson is in for, as an engine worked it out.
CREATE TABLE prospects (
    lesson_id INTEGER PRIMARY KEY NOT NULL REFERENCES lessons (id) ON DELETE CASCADE,
    engine TEXT NOT NULL,
    prospect TEXT NOT NULL
);
