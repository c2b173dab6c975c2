-- +goose Up
-- What happened in a lesson, mark by mark, in the order in which it came. Nothing is
-- written over: a wrong mark is corrected by another.
CREATE TABLE marks (
    seq     INTEGER PRIMARY KEY AUTOINCREMENT,
    id      TEXT NOT NULL UNIQUE,
    plan_id TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    doc     TEXT NOT NULL,
    kept_at TEXT NOT NULL
) STRICT;
CREATE INDEX marks_by_plan ON marks (plan_id, seq);

-- What a device measured in a lesson, as a small series.
CREATE TABLE series (
    id      TEXT PRIMARY KEY,
    plan_id TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    doc     TEXT NOT NULL,
    kept_at TEXT NOT NULL
) STRICT;
CREATE INDEX series_by_plan ON series (plan_id);
