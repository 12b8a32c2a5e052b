-- The computed total of a sheet beside it: a book of marks reads a thousand of them at once.
ALTER TABLE sheets ADD COLUMN computed DOUBLE NOT NULL DEFAULT 0;
UPDATE sheets SET computed = coalesce(json_extract(sheet, '$.computed'), 0);
