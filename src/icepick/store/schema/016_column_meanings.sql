-- What a column of a file meant when that was last said, by its heading: a logger heads its columns the same day after day.
-- Without a place it is left out; one with a unit alone is a clock that counts in it.

CREATE TABLE column_meanings (
  heading   TEXT PRIMARY KEY,
  station   TEXT,
  quantity  TEXT,
  unit      TEXT,
  said_at   TEXT NOT NULL
) STRICT, WITHOUT ROWID;
