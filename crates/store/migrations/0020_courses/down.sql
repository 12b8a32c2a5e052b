ALTER TABLE classes DROP COLUMN course_id;
DROP TABLE course_lessons;
DROP TABLE courses;
