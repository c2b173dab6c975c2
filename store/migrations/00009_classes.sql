-- +goose Up
-- One session for several people. Each who takes part has a plan of her own, which is what
-- is taught, marked and kept.
CREATE TABLE classes (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL,
    on_day     TEXT NOT NULL,
    at_time    TEXT NOT NULL,
    revision   INTEGER NOT NULL,
    doc        TEXT NOT NULL,
    gone       TEXT NOT NULL DEFAULT '',
    created_at TEXT NOT NULL
) STRICT;
CREATE INDEX classes_by_day ON classes (on_day);

-- The people of a class in their order; who is left out has no plan.
CREATE TABLE class_people (
    class_id  TEXT NOT NULL REFERENCES classes (id) ON DELETE CASCADE,
    person    INTEGER NOT NULL,
    client_id TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    plan_id   TEXT REFERENCES plans (id) ON DELETE SET NULL,
    PRIMARY KEY (class_id, person)
) STRICT;
CREATE INDEX class_people_by_plan ON class_people (plan_id);

-- Weeks ahead for a client, as they were kept: the days to come.
CREATE TABLE courses (
    id         TEXT PRIMARY KEY,
    client_id  TEXT NOT NULL REFERENCES clients (id) ON DELETE CASCADE,
    doc        TEXT NOT NULL,
    gone       TEXT NOT NULL DEFAULT '',
    created_at TEXT NOT NULL
) STRICT;
CREATE INDEX courses_by_client ON courses (client_id, created_at);
