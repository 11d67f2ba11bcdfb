-- Recordings: what probes wrote down through time, as one document each; the marks set while they ran are appended one by one.

CREATE TABLE recordings (
  id          INTEGER PRIMARY KEY,
  visit_id    INTEGER NOT NULL REFERENCES visits (id),
  key         TEXT NOT NULL,
  document    TEXT NOT NULL CHECK (json_valid(document)),
  recorded_at TEXT NOT NULL,
  entry_key   TEXT NOT NULL UNIQUE,
  UNIQUE (visit_id, key)
) STRICT;

CREATE TABLE marks (
  id           INTEGER PRIMARY KEY,
  recording_id INTEGER NOT NULL REFERENCES recordings (id),
  document     TEXT NOT NULL CHECK (json_valid(document)),
  recorded_at  TEXT NOT NULL,
  entry_key    TEXT NOT NULL UNIQUE
) STRICT;
CREATE INDEX marks_by_recording ON marks (recording_id, id);

CREATE TRIGGER recordings_stay BEFORE UPDATE ON recordings
BEGIN SELECT raise(ABORT, 'recordings are appended, never changed'); END;
CREATE TRIGGER recordings_remain BEFORE DELETE ON recordings
BEGIN SELECT raise(ABORT, 'recordings are appended, never removed'); END;
CREATE TRIGGER marks_stay BEFORE UPDATE ON marks
BEGIN SELECT raise(ABORT, 'marks are appended, never changed'); END;
CREATE TRIGGER marks_remain BEFORE DELETE ON marks
BEGIN SELECT raise(ABORT, 'marks are appended, never removed'); END;
