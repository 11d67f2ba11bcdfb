-- What is brought in from other books: the names under which these know a unit and a visit, and who wrote there what stands here.

ALTER TABLE units ADD COLUMN uid TEXT;
-- The same in every copy of these records.
UPDATE units SET uid = lower(hex(printf('%d %s', id, created_at)));
CREATE UNIQUE INDEX units_by_uid ON units (uid);
CREATE TRIGGER unit_named AFTER INSERT ON units WHEN NEW.uid IS NULL BEGIN
  UPDATE units SET uid = lower(hex(randomblob(16))) WHERE id = NEW.id;
END;
ALTER TABLE visits ADD COLUMN uid TEXT;
UPDATE visits SET uid = lower(hex(printf('%d %s', id, opened_at)));
CREATE UNIQUE INDEX visits_by_uid ON visits (uid);
CREATE TRIGGER visit_named AFTER INSERT ON visits WHEN NEW.uid IS NULL BEGIN
  UPDATE visits SET uid = lower(hex(randomblob(16))) WHERE id = NEW.id;
END;

-- A unit that stood in two books, described word for word alike, is one; the other book's name of it is kept.
CREATE TABLE unit_aliases (
  uid     TEXT PRIMARY KEY,
  unit_id INTEGER NOT NULL REFERENCES units (id)
) STRICT;

-- The audit says who brought a record in; this, who wrote it, and when: NULL where nobody had signed in there, or the other
-- book was older than its audit.
CREATE TABLE hands (
  audit_id INTEGER PRIMARY KEY REFERENCES audit (id),
  at       TEXT,
  name     TEXT
) STRICT;
CREATE TRIGGER hands_stay BEFORE UPDATE ON hands
BEGIN SELECT raise(ABORT, 'hands are appended, never changed'); END;
CREATE TRIGGER hands_remain BEFORE DELETE ON hands
BEGIN SELECT raise(ABORT, 'hands are appended, never removed'); END;
CREATE VIEW signed AS
  SELECT audit.id, audit.what, audit.row, audit.visit_id, audit.said,
         CASE WHEN hands.audit_id IS NULL THEN audit.at ELSE hands.at END AS at,
         CASE WHEN hands.audit_id IS NULL THEN accounts.name ELSE hands.name END AS name
  FROM audit LEFT JOIN hands ON hands.audit_id = audit.id LEFT JOIN accounts ON accounts.id = audit.account_id;
-- Not one more page to be forced to disk with a reading: those are of a visit.
CREATE INDEX audit_of_the_book ON audit (what, row) WHERE visit_id IS NULL;
