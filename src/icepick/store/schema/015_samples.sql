-- What the recorder writes while probes run. A recording's line says what it is of; its series come when their probes do, its samples
-- second by second, its ending once.

CREATE TABLE recorded_series (
  id           INTEGER PRIMARY KEY,
  recording_id INTEGER NOT NULL REFERENCES recordings (id),
  station      TEXT NOT NULL,
  quantity     TEXT NOT NULL,
  unit         TEXT NOT NULL,
  method       TEXT,
  UNIQUE (recording_id, station, quantity)
) STRICT;

-- Seconds first to last, one row of the moments' numbers and one of values for each series there was then, as packed numbers.
CREATE TABLE samples (
  recording_id INTEGER NOT NULL REFERENCES recordings (id),
  first        REAL NOT NULL,
  last         REAL NOT NULL,
  series       INTEGER NOT NULL,
  packed       BLOB NOT NULL,
  PRIMARY KEY (recording_id, first)
) STRICT, WITHOUT ROWID;

CREATE TABLE recording_ends (
  recording_id INTEGER PRIMARY KEY REFERENCES recordings (id),
  ended_at     TEXT NOT NULL,
  how          TEXT NOT NULL CHECK (how IN ('stopped', 'cut_off'))
) STRICT;

CREATE VIEW growing_recordings AS
  SELECT id FROM recordings WHERE EXISTS (SELECT 1 FROM recorded_series WHERE recording_id = recordings.id)
    AND NOT EXISTS (SELECT 1 FROM recording_ends WHERE recording_id = recordings.id);

-- Where each probe of the shop's sits, as it was last said.
CREATE TABLE probe_places (
  address   TEXT NOT NULL,
  measures  TEXT NOT NULL,
  station   TEXT,
  quantity  TEXT,
  said_at   TEXT NOT NULL,
  PRIMARY KEY (address, measures)
) STRICT, WITHOUT ROWID;

CREATE TRIGGER series_stay BEFORE UPDATE ON recorded_series
BEGIN SELECT raise(ABORT, 'series are appended, never changed'); END;
CREATE TRIGGER series_remain BEFORE DELETE ON recorded_series
BEGIN SELECT raise(ABORT, 'series are appended, never removed'); END;
CREATE TRIGGER ends_stay BEFORE UPDATE ON recording_ends
BEGIN SELECT raise(ABORT, 'a recording ends once'); END;
CREATE TRIGGER ends_remain BEFORE DELETE ON recording_ends
BEGIN SELECT raise(ABORT, 'a recording ends once'); END;

-- While it grows nobody examines it; what it holds is looked at when it has ended.
CREATE TRIGGER recording_ended AFTER INSERT ON recording_ends BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM recordings WHERE id = NEW.recording_id);
END;
