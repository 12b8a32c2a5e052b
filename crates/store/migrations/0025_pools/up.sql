-- Lessons of one difficulty that an assignment deals out: neighbours get different ones, and whoever begins again a fresh one.
CREATE TABLE pools (
    assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
    lesson_id INTEGER NOT NULL REFERENCES lessons (id),
    PRIMARY KEY (assignment_id, lesson_id)
);
