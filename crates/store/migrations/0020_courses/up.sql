-- Courses: lessons in the order they are taught, by what all versions of a lesson have in common. A class may take one.
CREATE TABLE courses (
    id INTEGER PRIMARY KEY NOT NULL,
    title TEXT NOT NULL,
    about TEXT NOT NULL,
    author_id INTEGER NOT NULL REFERENCES users (id),
    made_at BIGINT NOT NULL,
    retired_at BIGINT
);
CREATE TABLE course_lessons (
    course_id INTEGER NOT NULL REFERENCES courses (id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    family INTEGER NOT NULL,
    chapter TEXT NOT NULL,
    PRIMARY KEY (course_id, place),
    UNIQUE (course_id, family)
);
ALTER TABLE classes ADD COLUMN course_id INTEGER REFERENCES courses (id);
