-- What is given out may belong to a category, and a class weighs its categories: "bench work" twice, "practice" once.
ALTER TABLE assignments ADD COLUMN category TEXT NOT NULL DEFAULT '';
CREATE TABLE category_weights (
    class_id INTEGER NOT NULL REFERENCES classes (id) ON DELETE CASCADE,
    category TEXT NOT NULL,
    weight DOUBLE NOT NULL,
    PRIMARY KEY (class_id, category)
);
