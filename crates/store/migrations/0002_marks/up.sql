-- What an instructor gave instead of a computed mark, or said about it. The last word on a line counts;
-- earlier ones stay on record.
CREATE TABLE given_marks (
    id INTEGER PRIMARY KEY NOT NULL,
    attempt_id INTEGER NOT NULL REFERENCES attempts (id),
    criterion TEXT NOT NULL,
    marks DOUBLE,
    reason TEXT NOT NULL,
    author_id INTEGER NOT NULL REFERENCES users (id),
    at BIGINT NOT NULL
);
