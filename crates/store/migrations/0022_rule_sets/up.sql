-- Rules of lessons under a name, to be used again: of the whole school, each of the one who keeps it.
CREATE TABLE rule_sets (
    id INTEGER PRIMARY KEY NOT NULL,
    name TEXT NOT NULL UNIQUE,
    author_id INTEGER NOT NULL REFERENCES users (id),
    rules TEXT NOT NULL
);
