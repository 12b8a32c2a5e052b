-- Two at one bench: each has an attempt and the whole record of it as they see it, and each attempt knows the other's.
ALTER TABLE attempts ADD COLUMN partner_id INTEGER REFERENCES attempts (id) ON DELETE SET NULL;
-- The foreign key is looked up when an attempt is erased.
CREATE INDEX attempts_by_partner ON attempts (partner_id) WHERE partner_id IS NOT NULL;
ALTER TABLE steps ADD COLUMN by_partner BOOLEAN NOT NULL DEFAULT FALSE;
-- What one of two has asked the machine and waits for the other's expectation.
CREATE TABLE asked (
    attempt_id INTEGER PRIMARY KEY NOT NULL REFERENCES attempts (id) ON DELETE CASCADE,
    action TEXT NOT NULL,
    at BIGINT NOT NULL
);
