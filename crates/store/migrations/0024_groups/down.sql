DROP TABLE grouped;
DROP TABLE class_groups;
