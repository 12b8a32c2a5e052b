-- Where everything stands on the diagram of a circuit of one shape: worked out once by a page that has
-- the layout library, so that the others need not load it.
CREATE TABLE layouts (
    shape TEXT NOT NULL PRIMARY KEY,
    document TEXT NOT NULL
);
