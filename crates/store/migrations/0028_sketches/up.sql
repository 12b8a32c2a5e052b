-- What somebody sketched on the diagram of a machine, from lesson to lesson.
CREATE TABLE sketches (
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    machine TEXT NOT NULL,
    marks TEXT NOT NULL,
    changed_at BIGINT NOT NULL,
    PRIMARY KEY (user_id, machine)
);
