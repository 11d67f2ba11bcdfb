-- A visit is closed by a press or at the end of its day, and opened again by a press: each press is a line here.

CREATE TABLE closings (
  id          INTEGER PRIMARY KEY,
  visit_id    INTEGER NOT NULL REFERENCES visits (id),
  closed      INTEGER NOT NULL CHECK (closed IN (0, 1)),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX closings_by_visit ON closings (visit_id, id);
CREATE TRIGGER closings_stay BEFORE UPDATE ON closings
BEGIN SELECT raise(ABORT, 'closings are appended, never changed'); END;
CREATE TRIGGER closings_remain BEFORE DELETE ON closings
BEGIN SELECT raise(ABORT, 'closings are appended, never removed'); END;
