-- Where the students of a class sit, as seen from the front.
CREATE TABLE seats (
    class_id INTEGER NOT NULL REFERENCES classes (id) ON DELETE CASCADE,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    place_column INTEGER NOT NULL,
    place_row INTEGER NOT NULL,
    PRIMARY KEY (class_id, user_id),
    UNIQUE (class_id, place_column, place_row)
);
