-- Diagrams are laid out in current tracks by the server: what pages laid out before is of no use.
DROP TABLE layouts;
CREATE TABLE placements (
    shape TEXT PRIMARY KEY NOT NULL,
    document TEXT NOT NULL
);
