CREATE TABLE users (
    id INTEGER PRIMARY KEY NOT NULL,
    name TEXT NOT NULL UNIQUE,
    display TEXT NOT NULL,
    role TEXT NOT NULL CHECK (role IN ('instructor', 'student')),
    password_hash TEXT NOT NULL
);
CREATE TABLE sign_ins (
    token_hash TEXT PRIMARY KEY NOT NULL,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    expires_at BIGINT NOT NULL
);
CREATE TABLE circuits (
    id INTEGER PRIMARY KEY NOT NULL,
    title TEXT NOT NULL,
    document TEXT NOT NULL,
    updated_at BIGINT NOT NULL
);
CREATE TABLE lessons (
    id INTEGER PRIMARY KEY NOT NULL,
    title TEXT NOT NULL,
    document TEXT NOT NULL,
    author_id INTEGER NOT NULL REFERENCES users (id),
    created_at BIGINT NOT NULL
);
CREATE TABLE attempts (
    id INTEGER PRIMARY KEY NOT NULL,
    lesson_id INTEGER NOT NULL REFERENCES lessons (id),
    student_id INTEGER NOT NULL REFERENCES users (id),
    given_at BIGINT NOT NULL,
    UNIQUE (lesson_id, student_id)
);
CREATE TABLE steps (
    attempt_id INTEGER NOT NULL REFERENCES attempts (id),
    no INTEGER NOT NULL,
    request TEXT NOT NULL,
    action TEXT NOT NULL,
    answer TEXT NOT NULL,
    minutes DOUBLE NOT NULL,
    at BIGINT NOT NULL,
    PRIMARY KEY (attempt_id, no),
    UNIQUE (attempt_id, request)
);
-- Steps are append-only: what was done and answered is never changed.
CREATE TRIGGER steps_are_not_changed BEFORE UPDATE ON steps
BEGIN
    SELECT RAISE(ABORT, 'steps are append-only');
END;
CREATE TRIGGER steps_are_not_deleted BEFORE DELETE ON steps
BEGIN
    SELECT RAISE(ABORT, 'steps are append-only');
END;
