-- Who is at work now is asked for whenever an instructor begins.
CREATE INDEX steps_at ON steps (at);
-- The lines of every sheet beside it: what a class can do, criterion by criterion, is read of a thousand at once.
CREATE TABLE sheet_lines (
    sheet_id INTEGER NOT NULL REFERENCES sheets (id) ON DELETE CASCADE,
    criterion TEXT NOT NULL,
    title TEXT NOT NULL,
    share DOUBLE NOT NULL,
    PRIMARY KEY (sheet_id, criterion)
) WITHOUT ROWID;
INSERT INTO sheet_lines (sheet_id, criterion, title, share)
SELECT s.id, l.value ->> 'criterion', l.value ->> 'title', (l.value ->> 'marks') / (l.value ->> 'out_of')
FROM sheets s, json_each(CASE WHEN json_valid(s.sheet) THEN s.sheet ELSE '{}' END, '$.lines') l
WHERE l.value ->> 'out_of' > 0;
CREATE TRIGGER lines_of_a_sheet AFTER INSERT ON sheets
BEGIN
    INSERT INTO sheet_lines (sheet_id, criterion, title, share)
    SELECT NEW.id, l.value ->> 'criterion', l.value ->> 'title', (l.value ->> 'marks') / (l.value ->> 'out_of')
    FROM json_each(CASE WHEN json_valid(NEW.sheet) THEN NEW.sheet ELSE '{}' END, '$.lines') l
    WHERE l.value ->> 'out_of' > 0;
END;
