DROP TABLE layouts;
