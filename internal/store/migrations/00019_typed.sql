-- What people have typed into forms and not sent.

-- +goose Up
CREATE TABLE typed (
  account INTEGER NOT NULL REFERENCES account (id) ON DELETE CASCADE, place TEXT NOT NULL, form TEXT NOT NULL, title TEXT NOT NULL,
  begun INTEGER NOT NULL, at INTEGER NOT NULL, body TEXT NOT NULL,
  PRIMARY KEY (account, place, form)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE typed;
