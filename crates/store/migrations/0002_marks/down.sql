DROP TABLE given_marks;
