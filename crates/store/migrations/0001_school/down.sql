DROP TABLE steps;
DROP TABLE attempts;
DROP TABLE lessons;
DROP TABLE circuits;
DROP TABLE sign_ins;
DROP TABLE users;
