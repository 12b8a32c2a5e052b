DROP TABLE prospects;
DROP TABLE sheets;
