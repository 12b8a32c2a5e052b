-- Time as it passes at the school: seconds that its server has run, which no clock that is set wrong gives or takes.
ALTER TABLE school ADD COLUMN passed_s BIGINT NOT NULL DEFAULT 0;
ALTER TABLE attempts ADD COLUMN began_passed_s BIGINT;
