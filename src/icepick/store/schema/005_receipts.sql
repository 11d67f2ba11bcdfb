-- What was made under which key: a unit, a visit or a run asked for twice is made once. Readings and observations carry their
-- keys themselves.

CREATE TABLE receipts (
  entry_key   TEXT PRIMARY KEY,
  what        TEXT NOT NULL,
  content     TEXT NOT NULL,
  made        TEXT NOT NULL,
  recorded_at TEXT NOT NULL
) STRICT;
CREATE TRIGGER receipts_stay BEFORE UPDATE ON receipts
BEGIN SELECT raise(ABORT, 'receipts are appended, never changed'); END;
CREATE TRIGGER receipts_remain BEFORE DELETE ON receipts
BEGIN SELECT raise(ABORT, 'receipts are appended, never removed'); END;
