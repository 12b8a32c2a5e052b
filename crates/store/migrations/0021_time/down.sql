ALTER TABLE attempts DROP COLUMN began_passed_s;
ALTER TABLE school DROP COLUMN passed_s;
