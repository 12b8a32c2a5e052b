-- All benches of an assignment stand still since then: "eyes up".
ALTER TABLE assignments ADD COLUMN paused_at BIGINT;
-- What is said from the front to a bench, or to all of an assignment.
CREATE TABLE words (
    id INTEGER PRIMARY KEY NOT NULL,
    assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
    student_id INTEGER REFERENCES users (id) ON DELETE CASCADE,
    author TEXT NOT NULL,
    said TEXT NOT NULL,
    at BIGINT NOT NULL
);
CREATE INDEX words_of_an_assignment ON words (assignment_id);
