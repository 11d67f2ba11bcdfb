-- The shop as it stands on its reports; the last line is in force.
CREATE TABLE shop_changes (
  id          INTEGER PRIMARY KEY,
  document    TEXT NOT NULL CHECK (json_valid(document)),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE TRIGGER shop_stays BEFORE UPDATE ON shop_changes
BEGIN SELECT raise(ABORT, 'what was said of the shop is appended, never changed'); END;
CREATE TRIGGER shop_remains BEFORE DELETE ON shop_changes
BEGIN SELECT raise(ABORT, 'what was said of the shop is appended, never removed'); END;
CREATE TRIGGER who_named_the_shop AFTER INSERT ON shop_changes BEGIN
  INSERT INTO audit (what, row) VALUES ('shop', NEW.id);
END;
