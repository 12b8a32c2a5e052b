-- A circuit can be put away and deleted. Its number is never given again: a page that was left open would otherwise
-- store what it holds over another circuit.
CREATE TABLE new_circuits (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    title TEXT NOT NULL,
    document TEXT NOT NULL,
    updated_at BIGINT NOT NULL,
    version INTEGER NOT NULL DEFAULT 1,
    retired_at BIGINT
);
INSERT INTO new_circuits (id, title, document, updated_at, version)
SELECT id, title, document, updated_at, version FROM circuits;
DROP TABLE circuits;
ALTER TABLE new_circuits RENAME TO circuits;
