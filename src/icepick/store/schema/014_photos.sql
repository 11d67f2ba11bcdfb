-- Photos of a visit. The pictures lie beside the database, each under its SHA-256; a line here says of what they are.
CREATE TABLE photos (
  id          INTEGER PRIMARY KEY,
  visit_id    INTEGER NOT NULL REFERENCES visits (id),
  about       TEXT NOT NULL,
  caption     TEXT,
  sha256      TEXT NOT NULL,
  width       INTEGER NOT NULL,
  height      INTEGER NOT NULL,
  recorded_at TEXT NOT NULL,
  entry_key   TEXT NOT NULL UNIQUE
) STRICT;
CREATE INDEX photos_by_visit ON photos (visit_id, id);
CREATE TRIGGER photos_stay BEFORE UPDATE ON photos
BEGIN SELECT raise(ABORT, 'photos are appended, never changed'); END;
CREATE TRIGGER photos_remain BEFORE DELETE ON photos
BEGIN SELECT raise(ABORT, 'photos are appended, never removed'); END;
CREATE TRIGGER photo_added AFTER INSERT ON photos BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
END;
CREATE TRIGGER who_added_a_photo AFTER INSERT ON photos BEGIN
  INSERT INTO audit (what, row, visit_id) VALUES ('photo', NEW.id, NEW.visit_id);
END;
CREATE TRIGGER photo_taken_back AFTER INSERT ON withdrawals
WHEN EXISTS (SELECT 1 FROM photos WHERE entry_key = NEW.entry_key) BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM photos WHERE entry_key = NEW.entry_key);
  INSERT INTO audit (what, row, visit_id)
    SELECT 'photo_taken_back', id, visit_id FROM photos WHERE entry_key = NEW.entry_key;
END;
