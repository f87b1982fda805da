-- How often the database was written to, so that one which lost its last writes says so;
-- and which database it is. From here on its pages have checksums.

-- +goose Up
CREATE TABLE head (one INTEGER PRIMARY KEY CHECK (one = 1), name BLOB NOT NULL, writes INTEGER NOT NULL) STRICT;
INSERT INTO head VALUES (1, randomblob(16), 0);

-- +goose Down
DROP TABLE head;
