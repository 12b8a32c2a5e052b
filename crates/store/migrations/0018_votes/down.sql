DROP TABLE vote_answers;
DROP TABLE votes;
