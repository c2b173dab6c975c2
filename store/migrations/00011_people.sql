-- +goose Up
-- Who works in the studio. The words that let somebody in are kept as hashes only.
CREATE TABLE people (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL,
    login      TEXT NOT NULL COLLATE NOCASE UNIQUE,
    role       TEXT NOT NULL CHECK (role IN ('owner', 'instructor', 'assistant', 'reader')),
    password   TEXT NOT NULL,
    once       TEXT NOT NULL DEFAULT '', -- the secret that one-time codes come from
    short      TEXT NOT NULL DEFAULT '', -- the hash of the short code that unlocks
    epoch      INTEGER NOT NULL DEFAULT 1, -- of the sessions that hold
    gone       TEXT NOT NULL DEFAULT '',
    created_at TEXT NOT NULL
) STRICT;

-- Who works with a client. The owner sees everybody.
CREATE TABLE client_people (
    client_id TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    person_id TEXT NOT NULL REFERENCES people (id) ON DELETE CASCADE,
    PRIMARY KEY (client_id, person_id)
) STRICT;
CREATE INDEX client_people_by_person ON client_people (person_id, client_id);

ALTER TABLE intakes ADD COLUMN person_id TEXT NOT NULL DEFAULT '';

-- Who saw, changed, took out or cleared what and when. Each line holds the hash of itself and
-- the line before, so that no line can be changed, put in or taken out unseen.
CREATE TABLE trail (
    seq       INTEGER PRIMARY KEY AUTOINCREMENT,
    at        TEXT NOT NULL,
    person_id TEXT NOT NULL,
    person    TEXT NOT NULL,
    client_id TEXT NOT NULL,
    what      TEXT NOT NULL,
    hash      TEXT NOT NULL
) STRICT;
CREATE INDEX trail_by_client ON trail (client_id, seq);
CREATE TRIGGER trail_stays BEFORE UPDATE ON trail BEGIN SELECT RAISE(ABORT, 'the trail is not written over'); END;
CREATE TRIGGER trail_is_whole BEFORE DELETE ON trail BEGIN SELECT RAISE(ABORT, 'the trail is not shortened'); END;

-- What a client agreed to, and took back.
CREATE TABLE consents (
    id        TEXT PRIMARY KEY,
    client_id TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    what      TEXT NOT NULL,
    given     INTEGER NOT NULL,
    on_day    TEXT NOT NULL,
    note      TEXT NOT NULL,
    kept_at   TEXT NOT NULL
) STRICT;
CREATE INDEX consents_by_client ON consents (client_id, kept_at);

-- A client who asked that nothing more is done with her data.
ALTER TABLE clients ADD COLUMN restricted TEXT NOT NULL DEFAULT '';

-- That somebody was erased, and when the last copy that may hold her is gone. It says
-- nothing of who she was.
CREATE TABLE erasures (
    client_id TEXT PRIMARY KEY,
    at        TEXT NOT NULL,
    by_person TEXT NOT NULL,
    why       TEXT NOT NULL
) STRICT;

-- What is erased is gone from the words too.
INSERT INTO record_words (record_words, rank) VALUES ('secure-delete', 1);
