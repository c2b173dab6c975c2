-- +goose Up
-- What was added to records, in the order in which it came: a clock that goes back
-- changes nothing. A correction stands beside what it corrects.
CREATE TABLE record_additions_2 (
    seq       INTEGER PRIMARY KEY AUTOINCREMENT,
    id        TEXT NOT NULL UNIQUE,
    record_id TEXT NOT NULL REFERENCES records (id) ON DELETE CASCADE,
    kind      TEXT NOT NULL CHECK (kind IN ('follow_up', 'note', 'correction')),
    doc       TEXT NOT NULL,
    at        TEXT NOT NULL
) STRICT;
INSERT INTO record_additions_2 (id, record_id, kind, doc, at) SELECT id, record_id, kind, doc, at FROM record_additions ORDER BY at, id;
DROP TABLE record_additions;
ALTER TABLE record_additions_2 RENAME TO record_additions;
CREATE INDEX record_additions_by_record ON record_additions (record_id, seq);

-- A plan or a client that was taken away can be brought back: the day is empty while
-- it is there.
ALTER TABLE plans ADD COLUMN gone TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN gone TEXT NOT NULL DEFAULT '';
