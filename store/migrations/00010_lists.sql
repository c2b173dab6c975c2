-- +goose Up
-- What lists show and are searched by, kept beside the rows by the database itself, so that
-- no list has to read a whole plan or record. Nothing here is exported: it follows from the rest.
CREATE INDEX clients_by_name ON clients (gone, name COLLATE NOCASE, id);
CREATE INDEX clients_by_change ON clients (gone, updated_at);
CREATE INDEX records_by_day ON records (on_date, id);
CREATE INDEX plans_by_state ON plans (client_id, state, on_date);

CREATE TABLE plan_heads (
    plan_id TEXT PRIMARY KEY REFERENCES plans (id) ON DELETE CASCADE,
    minutes INTEGER NOT NULL,
    place   TEXT NOT NULL,
    items   INTEGER NOT NULL,
    seconds REAL NOT NULL
) STRICT;

-- +goose StatementBegin
CREATE TRIGGER plan_head_new AFTER INSERT ON plans BEGIN
    INSERT INTO plan_heads VALUES (NEW.id, COALESCE(NEW.doc ->> '$.minutes_asked', 0), COALESCE(NEW.doc ->> '$.place', ''), COALESCE(json_array_length(NEW.doc, '$.items'), 0), COALESCE(NEW.doc ->> '$.seconds_total', 0.0));
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER plan_head_changed AFTER UPDATE OF doc ON plans BEGIN
    UPDATE plan_heads SET minutes = COALESCE(NEW.doc ->> '$.minutes_asked', 0), place = COALESCE(NEW.doc ->> '$.place', ''), items = COALESCE(json_array_length(NEW.doc, '$.items'), 0), seconds = COALESCE(NEW.doc ->> '$.seconds_total', 0.0) WHERE plan_id = NEW.id;
END;
-- +goose StatementEnd
INSERT INTO plan_heads SELECT id, COALESCE(doc ->> '$.minutes_asked', 0), COALESCE(doc ->> '$.place', ''), COALESCE(json_array_length(doc, '$.items'), 0), COALESCE(doc ->> '$.seconds_total', 0.0) FROM plans;

-- The words of records: who it was, the exercises, how each ended, notes. A record whose
-- words have changed stands in it once more; who searches looks at what is found.
CREATE VIRTUAL TABLE record_words USING fts5 (record_id UNINDEXED, words, tokenize = "unicode61 remove_diacritics 2 tokenchars '_'", prefix = '3', detail = none);

-- +goose StatementBegin
CREATE TRIGGER record_words_new AFTER INSERT ON records BEGIN
    INSERT INTO record_words SELECT NEW.id, concat_ws(' ', (SELECT name FROM clients WHERE id = NEW.client_id), NEW.doc ->> '$.notes',
        (SELECT group_concat(concat_ws(' ', i.value ->> '$.name', 'ended_' || (i.value ->> '$.ended'), iif(i.value ->> '$.pain' IS NULL, NULL, 'ended_pain')), ' ') FROM json_each(NEW.doc, '$.items') i));
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER record_words_corrected AFTER INSERT ON record_additions WHEN NEW.kind = 'correction' BEGIN
    INSERT INTO record_words SELECT NEW.record_id, concat_ws(' ', (SELECT k.name FROM records r JOIN clients k ON k.id = r.client_id WHERE r.id = NEW.record_id), NEW.doc ->> '$.record.notes',
        (SELECT group_concat(concat_ws(' ', i.value ->> '$.name', 'ended_' || (i.value ->> '$.ended'), iif(i.value ->> '$.pain' IS NULL, NULL, 'ended_pain')), ' ') FROM json_each(NEW.doc, '$.record.items') i));
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER record_words_renamed AFTER UPDATE OF name ON clients WHEN NEW.name <> OLD.name BEGIN
    INSERT INTO record_words SELECT r.id, concat_ws(' ', NEW.name, r.doc ->> '$.notes',
        (SELECT group_concat(concat_ws(' ', i.value ->> '$.name', 'ended_' || (i.value ->> '$.ended'), iif(i.value ->> '$.pain' IS NULL, NULL, 'ended_pain')), ' ') FROM json_each(r.doc, '$.items') i)) FROM records r WHERE r.client_id = NEW.id ORDER BY r.on_date, r.id;
END;
-- +goose StatementEnd
INSERT INTO record_words SELECT r.id, concat_ws(' ', (SELECT name FROM clients WHERE id = r.client_id), r.doc ->> '$.notes',
        (SELECT group_concat(concat_ws(' ', i.value ->> '$.name', 'ended_' || (i.value ->> '$.ended'), iif(i.value ->> '$.pain' IS NULL, NULL, 'ended_pain')), ' ') FROM json_each(r.doc, '$.items') i)) FROM records r ORDER BY r.on_date, r.id;
INSERT INTO record_words SELECT a.record_id, concat_ws(' ', (SELECT k.name FROM records r JOIN clients k ON k.id = r.client_id WHERE r.id = a.record_id), a.doc ->> '$.record.notes',
        (SELECT group_concat(concat_ws(' ', i.value ->> '$.name', 'ended_' || (i.value ->> '$.ended'), iif(i.value ->> '$.pain' IS NULL, NULL, 'ended_pain')), ' ') FROM json_each(a.doc, '$.record.items') i)) FROM record_additions a WHERE a.kind = 'correction' ORDER BY a.seq;
