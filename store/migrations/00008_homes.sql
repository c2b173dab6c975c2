-- +goose Up
-- What a client does alone at home, each change a revision of its own, so that it can be
-- taken back.
CREATE TABLE homes (
    id         TEXT PRIMARY KEY,
    client_id  TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    revision   INTEGER NOT NULL,
    on_day     TEXT NOT NULL,
    gone       TEXT NOT NULL DEFAULT '',
    created_at TEXT NOT NULL
) STRICT;
CREATE INDEX homes_by_client ON homes (client_id, created_at);

CREATE TABLE home_revisions (
    home_id  TEXT NOT NULL REFERENCES homes (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    doc      TEXT NOT NULL,
    what     TEXT NOT NULL,
    kept_at  TEXT NOT NULL,
    PRIMARY KEY (home_id, revision)
) STRICT;

-- What the client noted at home, as it came back: one row for each day and exercise.
CREATE TABLE diaries (
    id      TEXT PRIMARY KEY,
    home_id TEXT NOT NULL REFERENCES homes (id) ON DELETE CASCADE,
    doc     TEXT NOT NULL,
    kept_at TEXT NOT NULL
) STRICT;
CREATE INDEX diaries_by_home ON diaries (home_id, kept_at);
