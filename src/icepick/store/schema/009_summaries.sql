-- How often each visit was written to, and a line that a list shows of it. The line's facts are kept by the triggers below, in the
-- transaction that changes them; what an examination says of the visit is written when it is examined.

ALTER TABLE visits ADD COLUMN revision INTEGER NOT NULL DEFAULT 0;
CREATE INDEX visits_by_revision ON visits (revision);
CREATE INDEX visits_by_unit_revision ON visits (unit_revision_id, opened_at);
CREATE INDEX visits_by_day ON visits (opened_at);
CREATE INDEX units_by_site ON units (site_id);
CREATE INDEX sites_by_name ON sites (name);

CREATE TABLE summaries (
  visit_id  INTEGER PRIMARY KEY REFERENCES visits (id),
  unit_id   INTEGER NOT NULL,
  opened_at TEXT NOT NULL,
  site      TEXT NOT NULL,
  unit      TEXT NOT NULL,
  complaint TEXT,
  modes     TEXT NOT NULL,
  notes     TEXT NOT NULL,
  -- From here on by the examination of that revision of the visit, beside earlier ones as they were when the records had come to
  -- as_of, by that program and those limits.
  revision  INTEGER NOT NULL DEFAULT -1,
  as_of     INTEGER NOT NULL DEFAULT -1,
  basis     TEXT NOT NULL DEFAULT '',
  outcome   TEXT,
  headline  TEXT,
  top_fault TEXT,
  called    TEXT NOT NULL DEFAULT '',
  said      TEXT NOT NULL DEFAULT '',
  trouble   TEXT,
  -- What it said of the same readings before the limits were changed.
  former_outcome  TEXT,
  former_headline TEXT
) STRICT;
-- Holds all that lists are narrowed by: they are counted and paged without reading the rows.
CREATE INDEX summaries_by_day ON summaries (opened_at, visit_id, unit_id, outcome, modes);
CREATE INDEX summaries_by_unit ON summaries (unit_id, opened_at);

CREATE VIEW visit_facts AS
  SELECT visits.id AS visit_id, units.id AS unit_id,
         coalesce(strftime('%Y-%m-%dT%H:%M:%fZ', visits.opened_at), visits.opened_at) AS opened_at,
         sites.name AS site, coalesce(json_extract(unit_revisions.document, '$.label'), '') AS unit, visits.complaint,
         (SELECT coalesce(group_concat(mode, ' '), '') FROM (
            SELECT mode FROM standing_runs WHERE visit_id = visits.id ORDER BY id)) AS modes,
         (SELECT coalesce(group_concat(text, char(10)), '') FROM (
            SELECT (SELECT text FROM note_revisions WHERE run_id = runs.id ORDER BY id DESC LIMIT 1) AS text
            FROM standing_runs AS runs WHERE visit_id = visits.id ORDER BY id)) AS notes
  FROM visits JOIN unit_revisions ON unit_revisions.id = visits.unit_revision_id
  JOIN units ON units.id = unit_revisions.unit_id JOIN sites ON sites.id = units.site_id;

INSERT INTO summaries (visit_id, unit_id, opened_at, site, unit, complaint, modes, notes)
  SELECT * FROM visit_facts WHERE visit_id IN (SELECT id FROM standing_visits);

CREATE VIRTUAL TABLE summary_words USING fts5 (
  site, unit, called, notes, said, content = 'summaries', content_rowid = 'visit_id', prefix = '2 3',
  tokenize = "unicode61 remove_diacritics 2"
);
INSERT INTO summary_words (summary_words) VALUES ('rebuild');
CREATE TRIGGER summary_comes AFTER INSERT ON summaries BEGIN
  INSERT INTO summary_words (rowid, site, unit, called, notes, said)
    VALUES (NEW.visit_id, NEW.site, NEW.unit, NEW.called, NEW.notes, NEW.said);
END;
CREATE TRIGGER summary_goes AFTER DELETE ON summaries BEGIN
  INSERT INTO summary_words (summary_words, rowid, site, unit, called, notes, said)
    VALUES ('delete', OLD.visit_id, OLD.site, OLD.unit, OLD.called, OLD.notes, OLD.said);
END;
CREATE TRIGGER summary_changes AFTER UPDATE OF site, unit, called, notes, said ON summaries
WHEN (OLD.site, OLD.unit, OLD.called, OLD.notes, OLD.said) != (NEW.site, NEW.unit, NEW.called, NEW.notes, NEW.said) BEGIN
  INSERT INTO summary_words (summary_words, rowid, site, unit, called, notes, said)
    VALUES ('delete', OLD.visit_id, OLD.site, OLD.unit, OLD.called, OLD.notes, OLD.said);
  INSERT INTO summary_words (rowid, site, unit, called, notes, said)
    VALUES (NEW.visit_id, NEW.site, NEW.unit, NEW.called, NEW.notes, NEW.said);
END;

-- Every visit begins a line.
CREATE TRIGGER visit_opened AFTER INSERT ON visits BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.id;
  INSERT INTO summaries (visit_id, unit_id, opened_at, site, unit, complaint, modes, notes)
    SELECT * FROM visit_facts WHERE visit_id = NEW.id;
END;
CREATE TRIGGER visit_removed AFTER INSERT ON removed_visits BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
  DELETE FROM summaries WHERE visit_id = NEW.visit_id;
END;

-- Whatever is written of a visit moves its revision on; what its line shows, its line.
CREATE TRIGGER visit_described AFTER UPDATE OF unit_revision_id, complaint ON visits BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.id;
  UPDATE summaries SET (site, unit, complaint) = (SELECT site, unit, complaint FROM visit_facts WHERE visit_id = NEW.id)
    WHERE visit_id = NEW.id;
END;
CREATE TRIGGER run_added AFTER INSERT ON runs BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
  UPDATE summaries SET modes = (SELECT modes FROM visit_facts WHERE visit_id = NEW.visit_id) WHERE visit_id = NEW.visit_id;
END;
CREATE TRIGGER run_changed AFTER UPDATE ON runs BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
  UPDATE summaries SET modes = (SELECT modes FROM visit_facts WHERE visit_id = NEW.visit_id) WHERE visit_id = NEW.visit_id;
END;
CREATE TRIGGER run_removed AFTER INSERT ON removed_runs BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM runs WHERE id = NEW.run_id);
  UPDATE summaries SET (modes, notes) = (SELECT modes, notes FROM visit_facts WHERE visit_id = summaries.visit_id)
    WHERE visit_id = (SELECT visit_id FROM runs WHERE id = NEW.run_id);
END;
CREATE TRIGGER note_written AFTER INSERT ON note_revisions BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM runs WHERE id = NEW.run_id);
  UPDATE summaries SET notes = (SELECT notes FROM visit_facts WHERE visit_id = summaries.visit_id)
    WHERE visit_id = (SELECT visit_id FROM runs WHERE id = NEW.run_id);
END;
CREATE TRIGGER reading_taken AFTER INSERT ON readings BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM runs WHERE id = NEW.run_id);
END;
CREATE TRIGGER observation_made AFTER INSERT ON observations BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM runs WHERE id = NEW.run_id);
END;
CREATE TRIGGER recording_added AFTER INSERT ON recordings BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
END;
CREATE TRIGGER mark_set AFTER INSERT ON marks BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits)
    WHERE id = (SELECT visit_id FROM recordings WHERE id = NEW.recording_id);
END;
CREATE TRIGGER entry_taken_back AFTER INSERT ON withdrawals BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id IN (
    SELECT visit_id FROM runs JOIN readings ON readings.run_id = runs.id WHERE readings.entry_key = NEW.entry_key
    UNION ALL
    SELECT visit_id FROM runs JOIN observations ON observations.run_id = runs.id
      WHERE observations.entry_key = NEW.entry_key
    UNION ALL SELECT visit_id FROM recordings WHERE entry_key = NEW.entry_key
    UNION ALL
    SELECT visit_id FROM recordings JOIN marks ON marks.recording_id = recordings.id WHERE marks.entry_key = NEW.entry_key);
END;
CREATE TRIGGER closing_pressed AFTER INSERT ON closings BEGIN
  UPDATE visits SET revision = (SELECT max(revision) + 1 FROM visits) WHERE id = NEW.visit_id;
END;
