-- Accounts whose owners sign in at a provider, by what it knows them by.

-- +goose Up
CREATE TABLE identity (
  issuer TEXT NOT NULL, subject TEXT NOT NULL, account INTEGER NOT NULL REFERENCES account (id) ON DELETE CASCADE, since INTEGER NOT NULL,
  PRIMARY KEY (issuer, subject)
) STRICT, WITHOUT ROWID;

-- +goose Down
DROP TABLE identity;
