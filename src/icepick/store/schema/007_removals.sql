-- A run that holds nothing, made by a slip of the hand, can be removed, and with the last one its visit. Both stay in the file.

CREATE TABLE removed_runs (
  run_id      INTEGER PRIMARY KEY REFERENCES runs (id),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE TABLE removed_visits (
  visit_id    INTEGER PRIMARY KEY REFERENCES visits (id),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE VIEW standing_runs AS SELECT * FROM runs WHERE id NOT IN (SELECT run_id FROM removed_runs);
CREATE VIEW standing_visits AS SELECT * FROM visits WHERE id NOT IN (SELECT visit_id FROM removed_visits);
