-- What was sent of packs: a brief to a reader, by a link of which the hash alone is kept. The
-- occasion is why it was sent: nothing is sent twice of one.

-- +goose Up
CREATE TABLE sending (
  id INTEGER PRIMARY KEY, pack TEXT NOT NULL, occasion TEXT NOT NULL, brief INTEGER NOT NULL REFERENCES brief, forms TEXT NOT NULL, account INTEGER NOT NULL,
  address TEXT NOT NULL, reader TEXT NOT NULL, hash BLOB NOT NULL UNIQUE, at INTEGER NOT NULL, until INTEGER NOT NULL, actor TEXT NOT NULL,
  revoked INTEGER NOT NULL DEFAULT 0, opened INTEGER NOT NULL DEFAULT 0, opens INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX sending_pack ON sending (pack, id);

-- +goose Down
SELECT 1;
