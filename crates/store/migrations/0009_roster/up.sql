-- What a person or a class is called in the school's own records: it is known again by that.
ALTER TABLE users ADD COLUMN source TEXT;
CREATE UNIQUE INDEX users_by_source ON users (source);
ALTER TABLE classes ADD COLUMN source TEXT;
CREATE UNIQUE INDEX classes_by_source ON classes (source);
-- A student without a password has a PIN, which holds only behind the code of a class of theirs.
ALTER TABLE users ADD COLUMN pin_hash TEXT;
ALTER TABLE classes ADD COLUMN code TEXT;
CREATE UNIQUE INDEX classes_by_code ON classes (code);
