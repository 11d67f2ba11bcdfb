-- What the shop changed of the practice limits. Appended; the newest row of a name is in force, NULL restores the default.

CREATE TABLE practice_changes (
  id          INTEGER PRIMARY KEY,
  name        TEXT NOT NULL,
  value       REAL,
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX practice_changes_by_name ON practice_changes (name, id);
CREATE TRIGGER practice_changes_stay BEFORE UPDATE ON practice_changes
BEGIN SELECT raise(ABORT, 'practice changes are appended, never changed'); END;
CREATE TRIGGER practice_changes_remain BEFORE DELETE ON practice_changes
BEGIN SELECT raise(ABORT, 'practice changes are appended, never removed'); END;
