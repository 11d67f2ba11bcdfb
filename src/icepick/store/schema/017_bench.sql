-- The practice bench: cases that were set by hand, attempts at cases, what was done in each and what was said in the end. Apart from
-- the visits: nothing here was measured, and nothing of it is a customer's.

CREATE TABLE bench_cases (
  code       TEXT PRIMARY KEY,
  document   TEXT NOT NULL CHECK (json_valid(document)),
  account_id INTEGER REFERENCES accounts (id),
  made_at    TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- The case as it was when the attempt began: lessons change, what somebody worked on does not.
CREATE TABLE bench_attempts (
  id         INTEGER PRIMARY KEY,
  code       TEXT NOT NULL,
  document   TEXT NOT NULL CHECK (json_valid(document)),
  account_id INTEGER REFERENCES accounts (id),
  started_at TEXT NOT NULL
) STRICT;
CREATE INDEX bench_attempts_by_account ON bench_attempts (account_id, id);

CREATE TABLE bench_steps (
  id          INTEGER PRIMARY KEY,
  attempt_id  INTEGER NOT NULL REFERENCES bench_attempts (id),
  entry_key   TEXT NOT NULL UNIQUE,
  asked       TEXT NOT NULL,
  document    TEXT NOT NULL CHECK (json_valid(document)),
  recorded_at TEXT NOT NULL
) STRICT;
CREATE INDEX bench_steps_by_attempt ON bench_steps (attempt_id, id);

-- With what an expert would have done, worked out once, and what it was worth.
CREATE TABLE bench_sayings (
  attempt_id  INTEGER PRIMARY KEY REFERENCES bench_attempts (id),
  document    TEXT NOT NULL CHECK (json_valid(document)),
  plan        TEXT NOT NULL CHECK (json_valid(plan)),
  score       TEXT NOT NULL CHECK (json_valid(score)),
  recorded_at TEXT NOT NULL
) STRICT;

CREATE TRIGGER bench_cases_stay BEFORE UPDATE ON bench_cases
BEGIN SELECT raise(ABORT, 'cases are set, never changed'); END;
CREATE TRIGGER bench_attempts_stay BEFORE UPDATE ON bench_attempts
BEGIN SELECT raise(ABORT, 'attempts are appended, never changed'); END;
CREATE TRIGGER bench_steps_stay BEFORE UPDATE ON bench_steps
BEGIN SELECT raise(ABORT, 'steps are appended, never changed'); END;
CREATE TRIGGER bench_sayings_stay BEFORE UPDATE ON bench_sayings
BEGIN SELECT raise(ABORT, 'what was said stays said'); END;
