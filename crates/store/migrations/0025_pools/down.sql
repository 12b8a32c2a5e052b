DROP TABLE pools;
