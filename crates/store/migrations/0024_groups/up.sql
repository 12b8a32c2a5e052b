-- Some students of a class under a name, to whom work is given together.
CREATE TABLE class_groups (
    id INTEGER PRIMARY KEY NOT NULL,
    class_id INTEGER NOT NULL REFERENCES classes (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    UNIQUE (class_id, name)
);
CREATE TABLE grouped (
    group_id INTEGER NOT NULL REFERENCES class_groups (id) ON DELETE CASCADE,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    PRIMARY KEY (group_id, user_id)
);
