-- A reading that the class is asked to predict before it is shown, and what each expected.
CREATE TABLE votes (
    id INTEGER PRIMARY KEY NOT NULL,
    assignment_id INTEGER NOT NULL REFERENCES assignments (id) ON DELETE CASCADE,
    asked TEXT NOT NULL,
    asked_at BIGINT NOT NULL,
    shown_at BIGINT,
    ended_at BIGINT
);
CREATE INDEX votes_of_assignment ON votes (assignment_id);
CREATE TABLE vote_answers (
    vote_id INTEGER NOT NULL REFERENCES votes (id) ON DELETE CASCADE,
    user_id INTEGER NOT NULL REFERENCES users (id) ON DELETE CASCADE,
    expected TEXT NOT NULL,
    PRIMARY KEY (vote_id, user_id)
);
