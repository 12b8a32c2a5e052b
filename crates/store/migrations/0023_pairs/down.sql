DROP TABLE asked;
ALTER TABLE steps DROP COLUMN by_partner;
DROP INDEX attempts_by_partner;
ALTER TABLE attempts DROP COLUMN partner_id;
