-- +goose Up
-- An intake that is being filled in: the form as it stood each time it was kept,
-- right or wrong. Nothing of it is a client's until it is saved.
CREATE TABLE intakes (
    id         TEXT PRIMARY KEY,
    client_id  TEXT NOT NULL DEFAULT '',
    step       INTEGER NOT NULL,
    updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE intake_steps (
    intake_id TEXT NOT NULL REFERENCES intakes (id) ON DELETE CASCADE,
    step      INTEGER NOT NULL,
    form      TEXT NOT NULL,
    PRIMARY KEY (intake_id, step)
) STRICT;
