-- +goose Up
-- A template is a plan kept under a name, for other days and clients.
CREATE TABLE templates (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL UNIQUE,
    doc        TEXT NOT NULL,
    created_at TEXT NOT NULL
) STRICT;
