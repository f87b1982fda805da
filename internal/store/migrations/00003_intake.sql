-- +goose Up
-- How the file or sheet was read, as JSON; '' is Turret's own form.
ALTER TABLE file ADD COLUMN layout TEXT NOT NULL DEFAULT '';
-- The column whose code nothing matched, and the row's amount, for the tray of
-- codes; the batch that settled the row, by whom and why.
ALTER TABLE refusal ADD COLUMN waits TEXT NOT NULL DEFAULT '';
ALTER TABLE refusal ADD COLUMN amount TEXT NOT NULL DEFAULT '';
ALTER TABLE refusal ADD COLUMN currency TEXT NOT NULL DEFAULT '';
ALTER TABLE refusal ADD COLUMN settled INTEGER NOT NULL DEFAULT 0;
ALTER TABLE refusal ADD COLUMN why TEXT NOT NULL DEFAULT '';
CREATE INDEX refusal_state ON refusal (state, waits);
CREATE INDEX refusal_batch ON refusal (batch);
-- What a gather made of each sheet, as JSON; undone is the batch that undid it.
CREATE TABLE run (
  batch INTEGER PRIMARY KEY REFERENCES batch, sheets TEXT NOT NULL, undone INTEGER NOT NULL DEFAULT 0
) STRICT;
-- How files of one source are read. Look: the heads that tell the source; ''
-- for rules of every source. Every version is kept; body '' is one taken away.
CREATE TABLE mapping (
  id INTEGER NOT NULL, version INTEGER NOT NULL, name TEXT NOT NULL, look TEXT NOT NULL, body TEXT NOT NULL,
  at INTEGER NOT NULL, actor TEXT NOT NULL, PRIMARY KEY (id, version)
) STRICT, WITHOUT ROWID;
-- The office's own words for columns.
CREATE TABLE word (word TEXT PRIMARY KEY, col TEXT NOT NULL, actor TEXT NOT NULL, at INTEGER NOT NULL) STRICT;
-- Files that were sent and wait to be accepted, with what was said about them.
CREATE TABLE draft (
  id INTEGER PRIMARY KEY AUTOINCREMENT, account INTEGER NOT NULL, actor TEXT NOT NULL, at INTEGER NOT NULL, answers TEXT NOT NULL DEFAULT '{}'
) STRICT;
CREATE TABLE draft_file (
  draft INTEGER NOT NULL REFERENCES draft ON DELETE CASCADE, place INTEGER NOT NULL, name TEXT NOT NULL, hash BLOB NOT NULL REFERENCES content,
  PRIMARY KEY (draft, place)
) STRICT, WITHOUT ROWID;

-- +goose Down
SELECT 1;
