-- +goose Up
-- What a form with a key has made, so that a form sent twice makes it once. The digest
-- tells the same form from another one under its key.
CREATE TABLE form_keys (
    key     TEXT PRIMARY KEY,
    digest  TEXT NOT NULL,
    made    TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;
