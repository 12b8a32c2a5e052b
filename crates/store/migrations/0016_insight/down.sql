DROP TRIGGER lines_of_a_sheet;
DROP TABLE sheet_lines;
DROP INDEX steps_at;
