DROP TABLE reset_links;
ALTER TABLE school DROP COLUMN keeps_figures;
ALTER TABLE school DROP COLUMN kept_months;
DROP TABLE figures;
DROP TRIGGER steps_are_not_deleted;
CREATE TRIGGER steps_are_not_deleted BEFORE DELETE ON steps
BEGIN
    SELECT RAISE(ABORT, 'steps are append-only');
END;
DROP TABLE erasing;
