-- +goose Up
CREATE TABLE setting (
  id INTEGER PRIMARY KEY, setting TEXT NOT NULL UNIQUE, value TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
CREATE TABLE programme (
  id INTEGER PRIMARY KEY, programme TEXT NOT NULL UNIQUE, name TEXT, parent INTEGER REFERENCES programme DEFERRABLE INITIALLY DEFERRED, owner TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
CREATE TABLE calendar (
  id INTEGER PRIMARY KEY, calendar TEXT NOT NULL, kind TEXT NOT NULL, day TEXT NOT NULL, name TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (calendar, kind, day)
) STRICT;
CREATE TABLE rate (
  id INTEGER PRIMARY KEY, currency TEXT NOT NULL, period INTEGER NOT NULL, rate_set TEXT NOT NULL, rate TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (currency, period, rate_set)
) STRICT;
CREATE TABLE cost_code (
  id INTEGER PRIMARY KEY, cost_code TEXT NOT NULL UNIQUE, name TEXT, parent INTEGER REFERENCES cost_code DEFERRABLE INITIALLY DEFERRED, reserve TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
CREATE TABLE project (
  id INTEGER PRIMARY KEY, project TEXT NOT NULL UNIQUE, name TEXT, programme INTEGER REFERENCES programme, lead TEXT, sponsor TEXT,
  stage TEXT, state TEXT, state_since INTEGER, currency TEXT, start INTEGER, finish INTEGER, calendar TEXT,
  earned_value TEXT, outlook_method TEXT, too_early INTEGER,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;
CREATE TABLE baseline (
  id INTEGER PRIMARY KEY, project INTEGER NOT NULL REFERENCES project, baseline INTEGER NOT NULL, approved INTEGER, reason TEXT, approver TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (project, baseline)
) STRICT;
CREATE TABLE rule (
  id INTEGER PRIMARY KEY, dimension TEXT NOT NULL, reading TEXT NOT NULL, from_period INTEGER NOT NULL, direction TEXT, watch TEXT, act TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (dimension, reading, from_period)
) STRICT;
CREATE TABLE override (
  id INTEGER PRIMARY KEY, project INTEGER NOT NULL REFERENCES project, dimension TEXT NOT NULL, from_period INTEGER NOT NULL,
  until_period INTEGER, standing TEXT, reason TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL, UNIQUE (project, dimension, from_period)
) STRICT;
CREATE TABLE period (
  id INTEGER PRIMARY KEY, period INTEGER NOT NULL UNIQUE, state TEXT,
  extra TEXT, file INTEGER, line INTEGER, batch INTEGER NOT NULL
) STRICT;

-- What was stated about one project, of one kind, for one baseline or period.
CREATE TABLE part (
  id INTEGER PRIMARY KEY, hash BLOB NOT NULL UNIQUE, body BLOB NOT NULL
) STRICT;
CREATE TABLE stated (
  project INTEGER NOT NULL, kind INTEGER NOT NULL, version INTEGER NOT NULL,
  part INTEGER NOT NULL REFERENCES part, batch INTEGER NOT NULL,
  PRIMARY KEY (project, kind, version)
) STRICT, WITHOUT ROWID;
CREATE INDEX stated_batch ON stated (batch);

CREATE TABLE posting (
  id INTEGER PRIMARY KEY, posting TEXT NOT NULL UNIQUE, day INTEGER, period INTEGER NOT NULL, late INTEGER NOT NULL DEFAULT 0,
  project INTEGER NOT NULL, cost_code INTEGER NOT NULL, class TEXT NOT NULL DEFAULT 'opex', cost_centre TEXT NOT NULL DEFAULT '',
  activity INTEGER NOT NULL DEFAULT 0, amount INTEGER NOT NULL, currency TEXT NOT NULL, supplier TEXT NOT NULL DEFAULT '', text TEXT NOT NULL DEFAULT '',
  extra TEXT, digest INTEGER NOT NULL, file INTEGER NOT NULL DEFAULT 0, line INTEGER NOT NULL DEFAULT 0, batch INTEGER NOT NULL
) STRICT;
CREATE INDEX posting_place ON posting (project, period);

-- Every change is one batch: who, when, from what.
CREATE TABLE batch (
  id INTEGER PRIMARY KEY, at INTEGER NOT NULL, actor TEXT NOT NULL, origin TEXT NOT NULL, note TEXT NOT NULL DEFAULT '',
  records INTEGER NOT NULL -- master records changed, the state of periods left out
) STRICT;
CREATE TABLE change (
  batch INTEGER NOT NULL REFERENCES batch, tbl TEXT NOT NULL, record INTEGER NOT NULL, field TEXT NOT NULL, before TEXT, after TEXT
) STRICT;
CREATE INDEX change_batch ON change (batch);
CREATE TABLE part_change (
  batch INTEGER NOT NULL REFERENCES batch, project INTEGER NOT NULL, kind INTEGER NOT NULL, version INTEGER NOT NULL, before INTEGER, after INTEGER
) STRICT;
CREATE INDEX part_change_batch ON part_change (batch);

-- Every file received is kept by the hash of its content.
CREATE TABLE content (
  hash BLOB PRIMARY KEY, size INTEGER NOT NULL, body BLOB NOT NULL
) STRICT;
CREATE TABLE file (
  id INTEGER PRIMARY KEY, hash BLOB NOT NULL REFERENCES content, name TEXT NOT NULL, sheet TEXT NOT NULL DEFAULT '',
  sender TEXT NOT NULL, at INTEGER NOT NULL, batch INTEGER NOT NULL, UNIQUE (hash, name, sheet)
) STRICT;
CREATE TABLE refusal (
  id INTEGER PRIMARY KEY, batch INTEGER NOT NULL REFERENCES batch, file INTEGER NOT NULL REFERENCES file, line INTEGER NOT NULL,
  field TEXT NOT NULL, value TEXT NOT NULL, reason TEXT NOT NULL, cells TEXT NOT NULL, state TEXT NOT NULL DEFAULT 'waiting',
  UNIQUE (file, line, field, reason)
) STRICT;

CREATE TABLE cut (
  id INTEGER PRIMARY KEY, period INTEGER NOT NULL, name TEXT NOT NULL, at INTEGER NOT NULL, actor TEXT NOT NULL,
  batch INTEGER NOT NULL REFERENCES batch, catalogue INTEGER NOT NULL, hash BLOB NOT NULL, inputs BLOB NOT NULL, readings BLOB NOT NULL,
  reopened TEXT
) STRICT;
CREATE INDEX cut_period ON cut (period);

-- +goose Down
SELECT 1;
