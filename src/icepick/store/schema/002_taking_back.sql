-- Taking back: an entry is never removed, it is marked withdrawn. Notes keep every text they ever had.

CREATE TABLE withdrawals (
  entry_key   TEXT PRIMARY KEY,
  recorded_at TEXT NOT NULL
) STRICT;
CREATE TRIGGER withdrawals_stay BEFORE UPDATE ON withdrawals
BEGIN SELECT raise(ABORT, 'withdrawals are appended, never changed'); END;
CREATE TRIGGER withdrawals_remain BEFORE DELETE ON withdrawals
BEGIN SELECT raise(ABORT, 'withdrawals are appended, never removed'); END;

ALTER TABLE observations ADD COLUMN entry_key TEXT;
UPDATE observations SET entry_key = 'observation-' || id;
CREATE UNIQUE INDEX observations_by_key ON observations (entry_key);

CREATE TABLE note_revisions (
  id          INTEGER PRIMARY KEY,
  run_id      INTEGER NOT NULL REFERENCES runs (id),
  text        TEXT NOT NULL,
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX note_revisions_by_run ON note_revisions (run_id, id);
INSERT INTO note_revisions (run_id, text, recorded_at)
  SELECT id, notes, strftime('%Y-%m-%dT%H:%M:%fZ', 'now') FROM runs WHERE notes IS NOT NULL;
ALTER TABLE runs DROP COLUMN notes;
CREATE TRIGGER note_revisions_stay BEFORE UPDATE ON note_revisions
BEGIN SELECT raise(ABORT, 'notes are appended, never changed'); END;
CREATE TRIGGER note_revisions_remain BEFORE DELETE ON note_revisions
BEGIN SELECT raise(ABORT, 'notes are appended, never removed'); END;
