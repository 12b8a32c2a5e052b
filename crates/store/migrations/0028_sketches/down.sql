DROP TABLE sketches;
