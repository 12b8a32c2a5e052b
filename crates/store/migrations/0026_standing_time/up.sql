-- When benches were let stand still, by the time that passes at the school: that long nobody's time runs.
ALTER TABLE assignments ADD COLUMN paused_passed_s BIGINT;
