-- +goose Up
-- A brief that was made, frozen in each form. Withdrawn: the reason, or NULL.
CREATE TABLE brief (
  id INTEGER PRIMARY KEY, title TEXT NOT NULL, spec TEXT NOT NULL, period INTEGER NOT NULL, hash BLOB NOT NULL,
  at INTEGER NOT NULL, actor TEXT NOT NULL, leaves INTEGER NOT NULL, withdrawn TEXT, withdrawn_by TEXT, withdrawn_at INTEGER
) STRICT;
CREATE TABLE brief_form (
  brief INTEGER NOT NULL REFERENCES brief, form TEXT NOT NULL, sum BLOB NOT NULL, body BLOB NOT NULL, PRIMARY KEY (brief, form)
) STRICT, WITHOUT ROWID;

-- +goose Down
SELECT 1;
