DROP TABLE seats;
