-- Who may sign in, who has, and who wrote what. acting() is the account on whose behalf this connection writes
-- (store/database.py); NULL where nobody signs in.

CREATE TABLE accounts (
  id         INTEGER PRIMARY KEY,
  name       TEXT NOT NULL COLLATE NOCASE UNIQUE,
  role       TEXT NOT NULL CHECK (role IN ('lead', 'technician', 'apprentice', 'office')),
  passphrase TEXT NOT NULL,
  made_at    TEXT NOT NULL,
  ended_at   TEXT
) STRICT;

-- Kept by a digest of what the browser holds: who reads the file can't sign in with it.
CREATE TABLE sessions (
  token      TEXT PRIMARY KEY,
  account_id INTEGER NOT NULL REFERENCES accounts (id),
  csrf       TEXT NOT NULL,
  began_at   TEXT NOT NULL,
  seen_at    TEXT NOT NULL
) STRICT;
CREATE INDEX sessions_by_account ON sessions (account_id);

-- Wrong passphrases of the last hour, by a digest of the name that was typed.
CREATE TABLE failures (
  id      INTEGER PRIMARY KEY,
  name    TEXT NOT NULL,
  address TEXT NOT NULL,
  at      TEXT NOT NULL
) STRICT;

-- What was written, by whom. row is the row of the record it is about, said what no record keeps.
CREATE TABLE audit (
  id         INTEGER PRIMARY KEY,
  at         TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%f+00:00', 'now')),
  account_id INTEGER REFERENCES accounts (id) DEFAULT (acting()),
  what       TEXT NOT NULL,
  row        INTEGER,
  visit_id   INTEGER,
  said       TEXT
) STRICT;
-- By account it is searched as it stands: each index is a page more to be forced to disk with every reading.
CREATE INDEX audit_by_visit ON audit (visit_id, id);
CREATE TRIGGER audit_stays BEFORE UPDATE ON audit
BEGIN SELECT raise(ABORT, 'the audit is appended, never changed'); END;
CREATE TRIGGER audit_remains BEFORE DELETE ON audit
BEGIN SELECT raise(ABORT, 'the audit is appended, never removed'); END;

CREATE TRIGGER who_opened_a_visit AFTER INSERT ON visits BEGIN
  INSERT INTO audit (what, row, visit_id) VALUES ('visit', NEW.id, NEW.id);
END;
CREATE TRIGGER who_added_a_run AFTER INSERT ON runs BEGIN
  INSERT INTO audit (what, row, visit_id) VALUES ('run', NEW.id, NEW.visit_id);
END;
CREATE TRIGGER who_changed_a_run AFTER UPDATE ON runs BEGIN
  INSERT INTO audit (what, row, visit_id, said) VALUES ('run_changed', NEW.id, NEW.visit_id, json_object(
    'minutes_running', NEW.minutes_running, 'started_at', NEW.started_at,
    'compressor_stage', NEW.compressor_stage, 'compressor_speed', NEW.compressor_speed));
END;
CREATE TRIGGER who_removed_a_run AFTER INSERT ON removed_runs BEGIN
  INSERT INTO audit (what, row, visit_id) SELECT 'run_removed', id, visit_id FROM runs WHERE id = NEW.run_id;
END;
CREATE TRIGGER who_took_a_reading AFTER INSERT ON readings BEGIN
  INSERT INTO audit (what, row, visit_id) SELECT 'reading', NEW.id, visit_id FROM runs WHERE id = NEW.run_id;
END;
CREATE TRIGGER who_observed AFTER INSERT ON observations BEGIN
  INSERT INTO audit (what, row, visit_id) SELECT 'observation', NEW.id, visit_id FROM runs WHERE id = NEW.run_id;
END;
CREATE TRIGGER who_took_back AFTER INSERT ON withdrawals BEGIN
  INSERT INTO audit (what, row, visit_id)
    SELECT 'reading_taken_back', readings.id, visit_id FROM readings JOIN runs ON runs.id = run_id
      WHERE entry_key = NEW.entry_key
    UNION ALL
    SELECT 'observation_taken_back', observations.id, visit_id FROM observations JOIN runs ON runs.id = run_id
      WHERE entry_key = NEW.entry_key
    UNION ALL SELECT 'recording_taken_back', id, visit_id FROM recordings WHERE entry_key = NEW.entry_key
    UNION ALL
    SELECT 'mark_taken_back', marks.id, visit_id FROM marks JOIN recordings ON recordings.id = recording_id
      WHERE marks.entry_key = NEW.entry_key;
END;
CREATE TRIGGER who_wrote_a_note AFTER INSERT ON note_revisions BEGIN
  INSERT INTO audit (what, row, visit_id) SELECT 'note', NEW.id, visit_id FROM runs WHERE id = NEW.run_id;
END;
CREATE TRIGGER who_added_a_recording AFTER INSERT ON recordings BEGIN
  INSERT INTO audit (what, row, visit_id) VALUES ('recording', NEW.id, NEW.visit_id);
END;
CREATE TRIGGER who_set_a_mark AFTER INSERT ON marks BEGIN
  INSERT INTO audit (what, row, visit_id) SELECT 'mark', NEW.id, visit_id FROM recordings WHERE id = NEW.recording_id;
END;
CREATE TRIGGER who_closed AFTER INSERT ON closings BEGIN
  INSERT INTO audit (what, row, visit_id)
    VALUES (CASE WHEN NEW.closed THEN 'closed' ELSE 'reopened' END, NEW.id, NEW.visit_id);
END;
CREATE TRIGGER who_described_a_unit AFTER INSERT ON unit_revisions BEGIN
  INSERT INTO audit (what, row) VALUES ('unit', NEW.id);
END;
CREATE TRIGGER who_changed_a_limit AFTER INSERT ON practice_changes BEGIN
  INSERT INTO audit (what, row) VALUES ('limit', NEW.id);
END;
