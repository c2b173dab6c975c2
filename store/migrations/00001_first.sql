-- +goose Up
CREATE TABLE settings (
    key   TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT;

-- A client's file as it stands; earlier versions are kept beside it.
CREATE TABLE clients (
    id         TEXT PRIMARY KEY,
    version    INTEGER NOT NULL,
    name       TEXT NOT NULL,
    doc        TEXT NOT NULL,
    created_at TEXT NOT NULL,
    updated_at TEXT NOT NULL
) STRICT;

CREATE TABLE client_versions (
    client_id TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    version   INTEGER NOT NULL,
    doc       TEXT NOT NULL,
    at        TEXT NOT NULL,
    PRIMARY KEY (client_id, version)
) STRICT;

-- A plan holds its whole text, and the client as it was planned for, so that
-- later changes to library or client do not rewrite it.
CREATE TABLE plans (
    id         TEXT PRIMARY KEY,
    client_id  TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    on_date    TEXT NOT NULL,
    at_time    TEXT NOT NULL DEFAULT '',
    state      TEXT NOT NULL CHECK (state IN ('planned', 'taught')),
    revision   INTEGER NOT NULL,
    doc        TEXT NOT NULL,
    client_doc TEXT NOT NULL,
    created_at TEXT NOT NULL,
    updated_at TEXT NOT NULL
) STRICT;
CREATE INDEX plans_by_client ON plans (client_id, on_date);
CREATE INDEX plans_by_date ON plans (on_date, at_time);

CREATE TABLE plan_revisions (
    plan_id  TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    doc      TEXT NOT NULL,
    what     TEXT NOT NULL,
    at       TEXT NOT NULL,
    PRIMARY KEY (plan_id, revision)
) STRICT;

CREATE TABLE records (
    id         TEXT PRIMARY KEY,
    plan_id    TEXT NOT NULL UNIQUE REFERENCES plans (id) ON DELETE CASCADE,
    client_id  TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    on_date    TEXT NOT NULL,
    doc        TEXT NOT NULL,
    created_at TEXT NOT NULL
) STRICT;
CREATE INDEX records_by_client ON records (client_id, on_date);

-- Corrections and follow-ups are added, never written over.
CREATE TABLE record_additions (
    id        TEXT PRIMARY KEY,
    record_id TEXT NOT NULL REFERENCES records (id) ON DELETE CASCADE,
    kind      TEXT NOT NULL CHECK (kind IN ('follow_up', 'note')),
    doc       TEXT NOT NULL,
    at        TEXT NOT NULL
) STRICT;
CREATE INDEX record_additions_by_record ON record_additions (record_id, at);
