-- Circuits as they were: the last before a change, once in a while, so that one can go back.
CREATE TABLE kept_versions (
    circuit_id INTEGER NOT NULL REFERENCES circuits (id) ON DELETE CASCADE,
    version INTEGER NOT NULL,
    document TEXT NOT NULL,
    changed_at BIGINT NOT NULL,
    PRIMARY KEY (circuit_id, version)
);
