-- The school itself: one row, once it is open.
CREATE TABLE school (
    id INTEGER PRIMARY KEY NOT NULL CHECK (id = 1),
    name TEXT NOT NULL,
    opened_at BIGINT NOT NULL
);
-- What each person is; one may be more than one thing.
CREATE TABLE roles (
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    role TEXT NOT NULL CHECK (role IN ('administrator', 'instructor', 'assistant', 'student')),
    PRIMARY KEY (user_id, role)
);
INSERT INTO roles (user_id, role) SELECT id, role FROM users;
-- Somebody looks after the people: the instructor who was there first.
INSERT INTO roles (user_id, role)
    SELECT id, 'administrator' FROM users WHERE role = 'instructor' ORDER BY id LIMIT 1;
INSERT INTO school (id, name, opened_at) SELECT 1, 'School', 0 WHERE EXISTS (SELECT 1 FROM users);
ALTER TABLE users DROP COLUMN role;
CREATE TABLE classes (
    id INTEGER PRIMARY KEY NOT NULL,
    name TEXT NOT NULL,
    made_at BIGINT NOT NULL,
    -- When it was over: nothing is given out any more, and what was done stays.
    over_at BIGINT
);
-- Who is in a class, and as what. What is done in a class is its instructors' and assistants' alone.
CREATE TABLE members (
    class_id INTEGER NOT NULL REFERENCES classes (id) ON DELETE CASCADE,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    role TEXT NOT NULL CHECK (role IN ('instructor', 'assistant', 'student')),
    PRIMARY KEY (class_id, user_id)
);
CREATE INDEX classes_of_a_person ON members (user_id);
-- Everybody who was there before is in one class.
INSERT INTO classes (id, name, made_at) SELECT 1, 'Class', 0 WHERE EXISTS (SELECT 1 FROM users);
INSERT INTO members (class_id, user_id, role)
    SELECT 1, user_id, role FROM roles WHERE role IN ('instructor', 'student');
-- A lesson given to a class, and how.
CREATE TABLE assignments (
    id INTEGER PRIMARY KEY NOT NULL,
    class_id INTEGER NOT NULL REFERENCES classes (id),
    lesson_id INTEGER NOT NULL REFERENCES lessons (id),
    -- Whoever joins the class later is given it too.
    whole_class BOOLEAN NOT NULL,
    opens_at BIGINT,
    due_at BIGINT,
    closes_at BIGINT,
    attempts INTEGER NOT NULL CHECK (attempts >= 1),
    counts TEXT NOT NULL CHECK (counts IN ('last', 'best', 'mean')),
    -- When its students see their sheets: once handed in, once all have handed in or it is closed, or when released.
    sheets TEXT NOT NULL CHECK (sheets IN ('handed_in', 'all_done', 'released')),
    released_at BIGINT,
    made_at BIGINT NOT NULL
);
CREATE INDEX assignments_of_a_class ON assignments (class_id);
CREATE INDEX assignments_of_a_lesson ON assignments (lesson_id);
-- To whom, and what is otherwise for one of them.
CREATE TABLE assigned (
    assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    extra_minutes DOUBLE NOT NULL DEFAULT 0,
    excused_at BIGINT,
    PRIMARY KEY (assignment_id, user_id)
);
-- An attempt belongs to an assignment, or is an instructor's own trial; and there may be more than one.
CREATE TABLE attempts_anew (
    id INTEGER PRIMARY KEY NOT NULL,
    lesson_id INTEGER NOT NULL REFERENCES lessons (id),
    student_id INTEGER NOT NULL REFERENCES users (id),
    given_at BIGINT NOT NULL,
    assignment_id INTEGER REFERENCES assignments (id),
    no INTEGER NOT NULL DEFAULT 1,
    -- The time of its last step, once that has handed it in.
    handed_in_at BIGINT,
    UNIQUE (assignment_id, student_id, no)
);
INSERT INTO assignments (class_id, lesson_id, whole_class, attempts, counts, sheets, made_at)
    SELECT 1, lesson_id, 0, 1, 'best', 'handed_in', min(given_at)
    FROM attempts JOIN members m ON m.user_id = student_id AND m.role = 'student'
    GROUP BY lesson_id;
INSERT INTO assigned (assignment_id, user_id)
    SELECT s.id, a.student_id FROM attempts a
    JOIN members m ON m.user_id = a.student_id AND m.role = 'student'
    JOIN assignments s ON s.lesson_id = a.lesson_id;
INSERT INTO attempts_anew (id, lesson_id, student_id, given_at, assignment_id, handed_in_at)
    SELECT a.id, a.lesson_id, a.student_id, a.given_at, s.id,
           (SELECT max(at) FROM steps WHERE attempt_id = a.id AND action = '{"do":"hand_in"}')
    FROM attempts a
    LEFT JOIN members m ON m.user_id = a.student_id AND m.role = 'student'
    LEFT JOIN assignments s ON s.lesson_id = a.lesson_id AND m.user_id IS NOT NULL;
DROP TABLE attempts;
ALTER TABLE attempts_anew RENAME TO attempts;
CREATE INDEX attempts_of_a_student ON attempts (student_id);
CREATE INDEX attempts_of_a_lesson ON attempts (lesson_id);
-- Where and when somebody signed in, so that they can see it and end it.
ALTER TABLE sign_ins ADD COLUMN began_at BIGINT NOT NULL DEFAULT 0;
ALTER TABLE sign_ins ADD COLUMN browser TEXT NOT NULL DEFAULT '';
-- Who did what to whom.
CREATE TABLE audit (
    id INTEGER PRIMARY KEY NOT NULL,
    at BIGINT NOT NULL,
    actor TEXT NOT NULL,
    act TEXT NOT NULL,
    whom TEXT NOT NULL
);
