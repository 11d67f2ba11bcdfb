-- What it was in the end, with what had been said of it; the last line of a visit is in force. Runs that were made after a repair.

ALTER TABLE runs ADD COLUMN after_repair INTEGER NOT NULL DEFAULT 0 CHECK (after_repair IN (0, 1));

CREATE TABLE outcomes (
  id          INTEGER PRIMARY KEY,
  visit_id    INTEGER NOT NULL REFERENCES visits (id),
  document    TEXT NOT NULL CHECK (json_valid(document)),
  said        TEXT NOT NULL CHECK (json_valid(said)),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX outcomes_by_visit ON outcomes (visit_id, id);
CREATE TRIGGER outcomes_stay BEFORE UPDATE ON outcomes
BEGIN SELECT raise(ABORT, 'outcomes are appended, never changed'); END;
CREATE TRIGGER outcomes_remain BEFORE DELETE ON outcomes
BEGIN SELECT raise(ABORT, 'outcomes are appended, never removed'); END;
CREATE TRIGGER outcome_told AFTER INSERT ON outcomes BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
END;
CREATE TRIGGER who_told_the_outcome AFTER INSERT ON outcomes BEGIN
  INSERT INTO audit (what, row, visit_id) VALUES ('outcome', NEW.id, NEW.visit_id);
END;
