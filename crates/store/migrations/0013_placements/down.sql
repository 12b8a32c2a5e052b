DROP TABLE placements;
CREATE TABLE layouts (
    shape TEXT NOT NULL PRIMARY KEY,
    document TEXT NOT NULL
);
