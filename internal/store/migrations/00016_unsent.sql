-- What people have typed and not sent yet.

-- +goose Up
CREATE TABLE unsent (
  account INTEGER NOT NULL REFERENCES account (id) ON DELETE CASCADE, project INTEGER NOT NULL, kind TEXT NOT NULL, period INTEGER NOT NULL,
  begun INTEGER NOT NULL, at INTEGER NOT NULL, body TEXT NOT NULL,
  PRIMARY KEY (account, project, kind, period)
) STRICT;

-- +goose Down
DROP TABLE unsent;
