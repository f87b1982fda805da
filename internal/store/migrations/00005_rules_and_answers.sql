-- +goose Up
CREATE TABLE rule_scoped (
  id INTEGER PRIMARY KEY, dimension TEXT NOT NULL, reading TEXT NOT NULL, from_period INTEGER NOT NULL, direction TEXT, watch TEXT, act TEXT,
  scope TEXT NOT NULL DEFAULT '', title TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (dimension, reading, from_period, scope)
) STRICT;
INSERT INTO rule_scoped (id, dimension, reading, from_period, direction, watch, act, extra, file, line, batch)
  SELECT id, dimension, reading, from_period, direction, watch, act, extra, file, line, batch FROM rule;
DROP TABLE rule;
ALTER TABLE rule_scoped RENAME TO rule;
CREATE TABLE dimension (
  id INTEGER PRIMARY KEY, dimension TEXT NOT NULL UNIQUE, title TEXT, apart TEXT, weight INTEGER,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
CREATE TABLE policy (
  id INTEGER PRIMARY KEY, policy TEXT NOT NULL, from_period INTEGER NOT NULL, how TEXT, act_share INTEGER, watch_share INTEGER,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (policy, from_period)
) STRICT;
CREATE TABLE checking (
  id INTEGER PRIMARY KEY, code TEXT NOT NULL, from_period INTEGER NOT NULL, severity TEXT, bound TEXT, over_records TEXT, expression TEXT, title TEXT, says TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (code, from_period)
) STRICT;
CREATE TABLE check_off (
  id INTEGER PRIMARY KEY, project INTEGER NOT NULL REFERENCES project, code TEXT NOT NULL, from_period INTEGER NOT NULL, until_period INTEGER, reason TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (project, code, from_period)
) STRICT;
CREATE TABLE answer (
  id INTEGER PRIMARY KEY, project INTEGER NOT NULL REFERENCES project, code TEXT NOT NULL, record TEXT NOT NULL DEFAULT '', from_period INTEGER NOT NULL,
  answer TEXT, until_period INTEGER, reason TEXT, resting_on TEXT, said_by TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (project, code, record, from_period)
) STRICT;

-- +goose Down
SELECT 1;
