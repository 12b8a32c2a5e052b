DROP TABLE words;
ALTER TABLE assignments DROP COLUMN paused_at;
