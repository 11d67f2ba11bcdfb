-- Sites, units and visits. What a technician recorded is appended, never rewritten.

CREATE TABLE sites (
  id       INTEGER PRIMARY KEY,
  name     TEXT NOT NULL,
  document TEXT NOT NULL CHECK (json_valid(document))
) STRICT;

CREATE TABLE units (
  id         INTEGER PRIMARY KEY,
  site_id    INTEGER NOT NULL REFERENCES sites (id),
  created_at TEXT NOT NULL
) STRICT;

-- A unit changes over its life; a visit keeps the revision it was made on.
CREATE TABLE unit_revisions (
  id          INTEGER PRIMARY KEY,
  unit_id     INTEGER NOT NULL REFERENCES units (id),
  document    TEXT NOT NULL CHECK (json_valid(document)),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX unit_revisions_by_unit ON unit_revisions (unit_id, id);

CREATE TABLE visits (
  id               INTEGER PRIMARY KEY,
  unit_revision_id INTEGER NOT NULL REFERENCES unit_revisions (id),
  complaint        TEXT,
  opened_at        TEXT NOT NULL
) STRICT;

CREATE TABLE runs (
  id              INTEGER PRIMARY KEY,
  visit_id        INTEGER NOT NULL REFERENCES visits (id),
  key             TEXT NOT NULL,
  mode            TEXT NOT NULL,
  minutes_running REAL,
  started_at      TEXT,
  notes           TEXT,
  UNIQUE (visit_id, key)
) STRICT;

-- entry_key is made where the reading was typed, so that one sent twice is kept once.
CREATE TABLE readings (
  id          INTEGER PRIMARY KEY,
  run_id      INTEGER NOT NULL REFERENCES runs (id),
  station     TEXT NOT NULL,
  quantity    TEXT NOT NULL,
  value       REAL NOT NULL,
  unit        TEXT NOT NULL,
  method      TEXT,
  at          TEXT,
  recorded_at TEXT NOT NULL,
  entry_key   TEXT NOT NULL UNIQUE
) STRICT;
CREATE INDEX readings_by_run ON readings (run_id, id);

CREATE TABLE observations (
  id          INTEGER PRIMARY KEY,
  run_id      INTEGER NOT NULL REFERENCES runs (id),
  code        TEXT NOT NULL,
  value       TEXT CHECK (value IS NULL OR json_valid(value)),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX observations_by_run ON observations (run_id, id);

CREATE TRIGGER readings_stay BEFORE UPDATE ON readings
BEGIN SELECT raise(ABORT, 'readings are appended, never changed'); END;
CREATE TRIGGER readings_remain BEFORE DELETE ON readings
BEGIN SELECT raise(ABORT, 'readings are appended, never removed'); END;
CREATE TRIGGER unit_revisions_stay BEFORE UPDATE ON unit_revisions
BEGIN SELECT raise(ABORT, 'unit revisions are appended, never changed'); END;
CREATE TRIGGER unit_revisions_remain BEFORE DELETE ON unit_revisions
BEGIN SELECT raise(ABORT, 'unit revisions are appended, never removed'); END;
