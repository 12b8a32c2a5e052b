ALTER TABLE assignments DROP COLUMN paused_passed_s;
