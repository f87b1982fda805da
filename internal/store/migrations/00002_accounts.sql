-- +goose Up
-- Who may sign in. The password is an argon2id hash; '' until one is set.
CREATE TABLE account (
  id INTEGER PRIMARY KEY, login TEXT NOT NULL UNIQUE, name TEXT NOT NULL, role TEXT NOT NULL,
  password TEXT NOT NULL DEFAULT '', disabled INTEGER NOT NULL DEFAULT 0, made INTEGER NOT NULL
) STRICT;
CREATE TABLE account_project (
  account INTEGER NOT NULL REFERENCES account, project INTEGER NOT NULL REFERENCES project, PRIMARY KEY (account, project)
) STRICT, WITHOUT ROWID;
-- One-time codes, by their hash. Account 0: the first administrator.
CREATE TABLE pass (
  hash BLOB PRIMARY KEY, account INTEGER NOT NULL, expires INTEGER NOT NULL
) STRICT;
CREATE TABLE session (
  hash BLOB PRIMARY KEY, account INTEGER NOT NULL DEFAULT 0, value BLOB NOT NULL,
  begun INTEGER NOT NULL, expires INTEGER NOT NULL, agent TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX session_account ON session (account);
CREATE TABLE account_event (
  id INTEGER PRIMARY KEY, at INTEGER NOT NULL, actor TEXT NOT NULL, account INTEGER NOT NULL, what TEXT NOT NULL
) STRICT;
-- Named states of the board: the query of its address.
CREATE TABLE view (
  id INTEGER PRIMARY KEY, account INTEGER NOT NULL REFERENCES account, name TEXT NOT NULL, query TEXT NOT NULL, shared INTEGER NOT NULL DEFAULT 0,
  UNIQUE (account, name)
) STRICT;
CREATE TABLE view_default (
  account INTEGER PRIMARY KEY REFERENCES account, view INTEGER NOT NULL REFERENCES view ON DELETE CASCADE
) STRICT;
CREATE INDEX part_change_project ON part_change (project);
CREATE INDEX change_record ON change (tbl, record);

-- +goose Down
SELECT 1;
