-- name: setting
SELECT value FROM settings WHERE key = ?;

-- name: set_setting
INSERT INTO settings (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value;

-- name: clients
SELECT id, version, name, doc, created_at, updated_at, gone FROM clients k WHERE gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY name COLLATE NOCASE, id;

-- name: client
SELECT id, version, name, doc, created_at, updated_at, gone FROM clients k WHERE id = ? AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?));

-- name: take_client_away
UPDATE clients SET gone = ? WHERE id = ? AND (gone = '') = (? <> '');

-- name: client_version
SELECT doc FROM client_versions WHERE client_id = ? AND version = ?;

-- name: add_client
INSERT INTO clients (id, version, name, doc, created_at, updated_at) VALUES (?, 1, ?, ?, ?, ?);

-- name: change_client
UPDATE clients SET version = version + 1, name = ?, doc = ?, updated_at = ? WHERE id = ? AND version = ?;

-- name: keep_client_version
INSERT INTO client_versions (client_id, version, doc, at) SELECT id, version, doc, updated_at FROM clients WHERE id = ?;

-- name: intakes
SELECT i.id, i.client_id, i.step, s.form, i.updated_at FROM intakes i JOIN (SELECT ? AS p) v JOIN intake_steps s ON s.intake_id = i.id AND s.step = i.step WHERE (? = '' OR i.client_id = '' AND i.person_id = v.p OR EXISTS (SELECT 1 FROM client_people y WHERE y.client_id = i.client_id AND y.person_id = v.p)) ORDER BY i.updated_at DESC;

-- name: intake
SELECT i.id, i.client_id, i.step, s.form, i.updated_at FROM intakes i JOIN intake_steps s ON s.intake_id = i.id AND s.step = i.step WHERE i.id = ?;

-- name: intake_of
SELECT i.id, i.client_id, i.step, s.form, i.updated_at FROM intakes i JOIN intake_steps s ON s.intake_id = i.id AND s.step = i.step WHERE i.client_id = ? ORDER BY i.updated_at DESC LIMIT 1;

-- name: keep_intake
INSERT INTO intakes (id, client_id, step, updated_at, person_id) VALUES (?, ?, ?, ?, ?)
ON CONFLICT (id) DO UPDATE SET step = excluded.step, updated_at = excluded.updated_at;

-- name: drop_later_intake_steps
DELETE FROM intake_steps WHERE intake_id = ? AND step >= ?;

-- name: keep_intake_step
INSERT INTO intake_steps (intake_id, step, form) VALUES (?, ?, ?);

-- name: step_back_intake
UPDATE intakes SET step = step - 1, updated_at = ? WHERE id = ? AND step > 1;

-- name: drop_intake
DELETE FROM intakes WHERE id = ?;

-- name: made_by
SELECT digest, made FROM form_keys WHERE key = ?;

-- name: keep_key
INSERT INTO form_keys (key, digest, made, made_at) VALUES (?, ?, ?, ?);

-- name: add_plan
INSERT INTO plans (id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at)
VALUES (?, ?, ?, ?, 'planned', 1, ?, ?, ?, ?);

-- name: plan
SELECT id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at, gone FROM plans WHERE id = ? AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = plans.client_id AND v.person_id = ?));

-- name: plans_on
SELECT id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at, gone
FROM plans WHERE on_date = ? AND gone = '' AND client_id IN (SELECT id FROM clients WHERE gone = '') ORDER BY at_time = '', at_time, created_at;

-- name: change_plan
UPDATE plans SET revision = ?, doc = ?, updated_at = ? WHERE id = ? AND revision = ? AND state = 'planned' AND gone = '';

-- name: take_plan_away
UPDATE plans SET gone = ? WHERE id = ? AND state = 'planned' AND (gone = '') = (? <> '');

-- name: plan_for
UPDATE plans SET client_doc = ? WHERE id = ? AND state = 'planned';

-- name: schedule_plan
UPDATE plans SET on_date = ?, at_time = ?, updated_at = ? WHERE id = ? AND state = 'planned';

-- name: templates
SELECT id, name, doc, created_at FROM templates WHERE NOT forgotten ORDER BY name COLLATE NOCASE;

-- name: template
SELECT id, name, doc, created_at FROM templates WHERE id = ?;

-- name: add_template
INSERT INTO templates (id, name, doc, created_at) VALUES (?, ?, ?, ?)
ON CONFLICT (name) DO UPDATE SET forgotten = 0, doc = excluded.doc, created_at = excluded.created_at;

-- name: forget_template
UPDATE templates SET forgotten = ? WHERE id = ?;

-- name: teach_plan
UPDATE plans SET state = 'taught', updated_at = ? WHERE id = ? AND state = 'planned' AND gone = '';

-- name: drop_later_revisions
DELETE FROM plan_revisions WHERE plan_id = ? AND revision > ?;

-- name: keep_revision
INSERT INTO plan_revisions (plan_id, revision, doc, what, at) VALUES (?, ?, ?, ?, ?);

-- name: revision
SELECT doc, what FROM plan_revisions WHERE plan_id = ? AND revision = ?;

-- name: add_record
INSERT INTO records (id, plan_id, client_id, on_date, doc, created_at) VALUES (?, ?, ?, ?, ?, ?);

-- name: record
SELECT id, plan_id, client_id, on_date, doc, created_at FROM records WHERE id = ? AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = records.client_id AND v.person_id = ?));

-- name: record_of_plan
SELECT id, plan_id, client_id, on_date, doc, created_at FROM records WHERE plan_id = ?;

-- name: records_of
SELECT id, plan_id, client_id, on_date, doc, created_at FROM records WHERE client_id = ? ORDER BY on_date, created_at;

-- name: records_between
SELECT id, plan_id, client_id, on_date, doc, created_at FROM records WHERE on_date >= ? AND on_date <= ? AND client_id IN (SELECT id FROM clients WHERE gone = '') ORDER BY on_date DESC, created_at DESC;

-- name: add_to_record
INSERT INTO record_additions (id, record_id, kind, doc, at) VALUES (?, ?, ?, ?, ?);

-- name: revisions
SELECT doc FROM plan_revisions WHERE plan_id = ? ORDER BY revision;

-- name: keep_mark
INSERT INTO marks (id, plan_id, doc, kept_at) VALUES (?, ?, ?, ?);

-- name: mark
SELECT plan_id, doc FROM marks WHERE id = ?;

-- name: marks
SELECT doc FROM marks WHERE plan_id = ? ORDER BY seq;

-- name: keep_series
INSERT INTO series (id, plan_id, doc, kept_at) VALUES (?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET doc = excluded.doc, kept_at = excluded.kept_at;

-- name: series
SELECT doc FROM series WHERE plan_id = ? ORDER BY kept_at;

-- name: homes_of
SELECT h.id, h.client_id, h.revision, h.on_day, h.gone, r.doc, r.what FROM homes h JOIN home_revisions r ON r.home_id = h.id AND r.revision = h.revision
WHERE h.client_id = ? AND h.gone = '' ORDER BY h.created_at DESC, h.id DESC;

-- name: home
SELECT h.id, h.client_id, h.revision, h.on_day, h.gone, r.doc, r.what FROM homes h JOIN home_revisions r ON r.home_id = h.id AND r.revision = h.revision
WHERE h.id = ? AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = h.client_id AND v.person_id = ?));

-- name: add_home
INSERT INTO homes (id, client_id, revision, on_day, created_at) VALUES (?, ?, 1, ?, ?);

-- name: add_home_revision
INSERT INTO home_revisions (home_id, revision, doc, what, kept_at) VALUES (?, ?, ?, ?, ?);

-- name: drop_home_revisions
DELETE FROM home_revisions WHERE home_id = ? AND revision > ?;

-- name: move_home
UPDATE homes SET revision = ? WHERE id = ? AND revision = ?;

-- name: home_away
UPDATE homes SET gone = ? WHERE id = ? AND (gone = '') = (? <> '');

-- name: add_diary
INSERT INTO diaries (id, home_id, doc, kept_at) VALUES (?, ?, ?, ?) ON CONFLICT (id) DO NOTHING;

-- name: diaries_of
SELECT id, home_id, doc, kept_at FROM diaries WHERE home_id = ? ORDER BY kept_at, id;

-- name: every_plan_of
SELECT id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at, gone FROM plans
WHERE client_id = ? ORDER BY on_date, at_time, id;

-- name: add_class
INSERT INTO classes (id, name, on_day, at_time, revision, doc, created_at) VALUES (?, ?, ?, ?, 1, ?, ?);

-- name: change_class
UPDATE classes SET name = ?, on_day = ?, at_time = ?, doc = ?, revision = revision + 1 WHERE id = ? AND revision = ? AND gone = '';

-- name: add_class_person
INSERT INTO class_people (class_id, person, client_id, plan_id) VALUES (?, ?, ?, NULLIF(?, ''));

-- name: drop_class_people
DELETE FROM class_people WHERE class_id = ?;

-- name: class
SELECT id, name, on_day, at_time, revision, doc, gone FROM classes WHERE id = ? AND NOT EXISTS (SELECT 1 FROM class_people x WHERE x.class_id = classes.id AND ? <> '' AND NOT EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?));

-- name: classes
SELECT id, name, on_day, at_time, revision, doc, gone FROM classes WHERE gone = '' AND on_day >= ? AND on_day <= ? AND NOT EXISTS (SELECT 1 FROM class_people x WHERE x.class_id = classes.id AND ? <> '' AND NOT EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?)) ORDER BY on_day, at_time, created_at LIMIT 200;

-- name: classes_before
SELECT id, name, on_day, at_time, revision, doc, gone FROM classes WHERE gone = '' AND on_day < ? AND NOT EXISTS (SELECT 1 FROM class_people x WHERE x.class_id = classes.id AND ? <> '' AND NOT EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?)) ORDER BY on_day DESC, at_time DESC LIMIT 20;

-- name: class_people
SELECT p.person, p.client_id, COALESCE(p.plan_id, ''), COALESCE(l.state, '') FROM class_people p LEFT JOIN plans l ON l.id = p.plan_id WHERE p.class_id = ? ORDER BY p.person;

-- name: class_of_plan
SELECT class_id FROM class_people WHERE plan_id = ?;

-- name: class_away
UPDATE classes SET gone = ? WHERE id = ? AND (gone = '') = (? <> '');

-- name: add_course
INSERT INTO courses (id, client_id, doc, created_at) VALUES (?, ?, ?, ?);

-- name: course_away
UPDATE courses SET gone = ? WHERE id = ? AND (gone = '') = (? <> '');

-- name: courses_of
SELECT id, client_id, doc, gone FROM courses WHERE client_id = ? AND gone = '' ORDER BY created_at DESC, id DESC;

-- name: plans_between
SELECT p.id, p.client_id, c.name, p.on_date, p.at_time, p.state, CAST(p.doc ->> '$.minutes_asked' AS INTEGER), COALESCE((SELECT class_id FROM class_people x WHERE x.plan_id = p.id), ''), COALESCE((SELECT r.id FROM records r WHERE r.plan_id = p.id), '')
FROM plans p JOIN clients c ON c.id = p.client_id WHERE p.on_date >= ? AND p.on_date <= ? AND p.gone = '' AND c.gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = c.id AND v.person_id = ?)) ORDER BY p.on_date, p.at_time = '', p.at_time, p.created_at;

-- name: plans_using
SELECT p.id, p.client_id, c.name, p.on_date, p.at_time, p.state, CAST(p.doc ->> '$.minutes_asked' AS INTEGER), COALESCE((SELECT class_id FROM class_people x WHERE x.plan_id = p.id), ''), COALESCE((SELECT r.id FROM records r WHERE r.plan_id = p.id), '')
FROM plans p JOIN clients c ON c.id = p.client_id WHERE p.on_date >= ? AND p.on_date <= ? AND p.gone = '' AND c.gone = '' AND instr(p.doc, '"variant":"' || ? || '"') > 0 AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = c.id AND v.person_id = ?)) ORDER BY p.on_date, p.at_time = '', p.at_time, p.created_at LIMIT ?;

-- name: homes_open
SELECT h.id, h.client_id, c.name, h.on_day, r.doc FROM homes h JOIN home_revisions r ON r.home_id = h.id AND r.revision = h.revision JOIN clients c ON c.id = h.client_id
WHERE h.gone = '' AND c.gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = c.id AND v.person_id = ?)) ORDER BY c.name, h.created_at;

-- name: schedule_class
UPDATE classes SET on_day = ?, at_time = ? WHERE id = ? AND gone = '';

-- name: client_page
SELECT k.id, k.version, k.name, k.doc, k.created_at, k.updated_at, k.gone, COALESCE((SELECT max(r.on_date) FROM records r WHERE r.client_id = k.id), '')
FROM clients k WHERE k.gone = '' AND (k.name COLLATE NOCASE, k.id) > (?, ?) AND k.name LIKE ? ESCAPE '\' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY k.name COLLATE NOCASE, k.id LIMIT ?;

-- name: client_count
SELECT count(*) FROM clients k WHERE gone = '' AND name LIKE ? ESCAPE '\' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?));

-- name: clients_of_late
SELECT id, version, name, doc, created_at, updated_at, gone FROM clients k WHERE gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY updated_at DESC LIMIT ?;

-- name: never_asked
SELECT id, version, name, doc, created_at, updated_at, gone FROM clients k WHERE gone = '' AND json_extract(doc, '$.red_flags') IS NULL AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY name COLLATE NOCASE, id LIMIT ?;

-- name: plans_coming
SELECT id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at, gone
FROM plans WHERE client_id = ? AND state = 'planned' AND gone = '' ORDER BY on_date, created_at LIMIT ?;

-- name: plans_taught
SELECT id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at, gone
FROM plans WHERE client_id = ? AND state = 'taught' AND gone = '' ORDER BY on_date DESC, created_at DESC LIMIT ?;

-- name: taught_count
SELECT count(*), COALESCE(min(NULLIF(on_date, '')), '') FROM plans WHERE client_id = ? AND state = 'taught' AND gone = '';

-- name: plan_heads_of
SELECT p.id, p.client_id, p.on_date, p.at_time, p.state, h.minutes, h.place, h.items, h.seconds, p.created_at
FROM plans p JOIN plan_heads h ON h.plan_id = p.id WHERE p.client_id = ? AND p.gone = '' ORDER BY p.on_date DESC, p.created_at DESC LIMIT ?;

-- name: visits_on
SELECT p.id, p.client_id, p.on_date, p.at_time, p.state, p.revision, p.doc, p.client_doc, p.created_at, p.updated_at, p.gone, k.version, k.doc, COALESCE((SELECT r.id FROM records r WHERE r.plan_id = p.id), '')
FROM plans p CROSS JOIN clients k ON k.id = p.client_id
WHERE p.on_date = ? AND p.gone = '' AND k.gone = '' AND NOT EXISTS (SELECT 1 FROM class_people x JOIN classes c ON c.id = x.class_id WHERE x.plan_id = p.id AND c.gone = '' AND c.on_day = p.on_date) AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?))
ORDER BY p.at_time = '', p.at_time, p.created_at LIMIT ?;

-- name: count_on
SELECT count(*) FROM plans WHERE on_date = ? AND gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = plans.client_id AND v.person_id = ?));

-- name: to_follow_up
SELECT r.id, r.client_id, k.name, r.on_date, COALESCE(r.doc ->> '$.pain.after', -1), r.created_at
FROM records r CROSS JOIN clients k ON k.id = r.client_id
WHERE r.on_date >= ? AND r.on_date <= ? AND k.gone = '' AND (r.created_at < ? OR r.created_at > ?) AND r.doc -> '$.follow_up' IS NULL
AND NOT EXISTS (SELECT 1 FROM record_additions a WHERE a.record_id = r.id AND a.kind = 'follow_up') AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY r.on_date, r.id LIMIT ?;

-- name: record_page
SELECT r.id, r.plan_id, r.client_id, r.on_date, r.doc, r.created_at, k.name, 0 FROM records r CROSS JOIN clients k ON k.id = r.client_id
WHERE r.on_date >= ? AND (r.on_date, r.id) < (?, ?) AND k.gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY r.on_date DESC, r.id DESC LIMIT ?;

-- name: record_hits
SELECT r.id, r.plan_id, r.client_id, r.on_date, r.doc, r.created_at, k.name, w.rowid FROM record_words w
CROSS JOIN records r ON r.id = w.record_id CROSS JOIN clients k ON k.id = r.client_id
WHERE record_words MATCH ? AND w.rowid < ? AND r.on_date >= ? AND r.on_date <= ? AND k.gone = '' AND (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = k.id AND v.person_id = ?)) ORDER BY w.rowid DESC LIMIT ?;

-- name: additions_of
SELECT record_id, kind, doc, at FROM record_additions WHERE record_id IN (SELECT value FROM json_each(?)) ORDER BY seq;

-- name: plans_of
SELECT id, client_id, on_date, at_time, state, revision, doc, client_doc, created_at, updated_at, gone
FROM plans WHERE client_id = ? AND gone = '' ORDER BY on_date DESC, created_at DESC;

-- name: people
SELECT p.id, p.name, p.login, p.role, p.password, p.once, p.short, p.epoch, p.gone, (SELECT count(*) FROM client_people x WHERE x.person_id = p.id) FROM people p ORDER BY p.gone <> '', p.name COLLATE NOCASE;

-- name: person
SELECT p.id, p.name, p.login, p.role, p.password, p.once, p.short, p.epoch, p.gone, (SELECT count(*) FROM client_people x WHERE x.person_id = p.id) FROM people p WHERE p.id = ?;

-- name: person_named
SELECT p.id, p.name, p.login, p.role, p.password, p.once, p.short, p.epoch, p.gone, (SELECT count(*) FROM client_people x WHERE x.person_id = p.id) FROM people p WHERE p.login = ? AND p.gone = '';

-- name: owners
SELECT count(*) FROM people WHERE role = 'owner' AND gone = '';

-- name: add_person
INSERT INTO people (id, name, login, role, password, created_at) VALUES (?, ?, ?, ?, ?, ?);

-- name: change_person
UPDATE people SET name = ?, login = ?, role = ?, password = ?, once = ?, short = ?, epoch = ?, gone = ? WHERE id = ?;

-- name: works_with
INSERT INTO client_people (client_id, person_id) VALUES (?, ?) ON CONFLICT DO NOTHING;

-- name: works_not_with
DELETE FROM client_people WHERE client_id = ? AND person_id = ?;

-- name: working_with
SELECT person_id FROM client_people WHERE client_id = ?;

-- name: trail_end
SELECT hash FROM trail ORDER BY seq DESC LIMIT 1;

-- name: add_line
INSERT INTO trail (at, person_id, person, client_id, what, hash) VALUES (?, ?, ?, ?, ?, ?);

-- name: trail
SELECT seq, at, person_id, person, client_id, what, hash FROM trail WHERE seq < ? ORDER BY seq DESC LIMIT ?;

-- name: trail_of
SELECT seq, at, person_id, person, client_id, what, hash FROM trail WHERE client_id = ? AND seq < ? ORDER BY seq DESC LIMIT ?;

-- name: whole_trail
SELECT seq, at, person_id, person, client_id, what, hash FROM trail ORDER BY seq;

-- name: about_clients
SELECT x.id, (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.id AND v.person_id = ?)) FROM clients x WHERE x.id = ?;

-- name: about_plans
SELECT x.client_id, (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?)) FROM plans x WHERE x.id = ?;

-- name: about_records
SELECT x.client_id, (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?)) FROM records x WHERE x.id = ?;

-- name: about_homes
SELECT x.client_id, (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?)) FROM homes x WHERE x.id = ?;

-- name: about_classes
SELECT x.client_id, (? = '' OR EXISTS (SELECT 1 FROM client_people v WHERE v.client_id = x.client_id AND v.person_id = ?)) FROM class_people x WHERE x.class_id = ?;

-- name: about_intakes
SELECT x.client_id, (? = '' OR x.client_id = '' AND x.person_id = v.p OR EXISTS (SELECT 1 FROM client_people y WHERE y.client_id = x.client_id AND y.person_id = v.p)) FROM (SELECT ? AS p) v JOIN intakes x WHERE x.id = ?;

-- name: restricted
SELECT restricted FROM clients WHERE id = ?;

-- name: restrict
UPDATE clients SET restricted = ? WHERE id = ?;

-- name: erase_client
DELETE FROM clients WHERE id = ?;

-- name: erase_classes
DELETE FROM classes WHERE id IN (SELECT class_id FROM class_people WHERE client_id = ?);

-- name: erase_intakes
DELETE FROM intakes WHERE client_id = ?;

-- name: erase_words
DELETE FROM record_words WHERE rowid IN (SELECT w.rowid FROM record_words w JOIN records r ON r.id = w.record_id WHERE r.client_id = ?);

-- name: keep_erasure
INSERT INTO erasures (client_id, at, by_person, why) VALUES (?, ?, ?, ?);

-- name: erasures
SELECT client_id, at, by_person, why FROM erasures ORDER BY at DESC LIMIT ?;

-- name: add_consent
INSERT INTO consents (id, client_id, what, given, on_day, note, kept_at) VALUES (?, ?, ?, ?, ?, ?, ?);

-- name: consents_of
SELECT what, given, on_day, note FROM consents WHERE client_id = ? ORDER BY kept_at DESC, id DESC;

-- name: thin_revisions
DELETE FROM plan_revisions WHERE plan_id IN (SELECT plan_id FROM records WHERE created_at < ?);

-- name: thin_keys
DELETE FROM form_keys WHERE made_at < ?;
