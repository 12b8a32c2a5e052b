DROP TABLE second_looks;
ALTER TABLE school DROP COLUMN scale;
