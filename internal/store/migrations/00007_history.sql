-- A batch of any origin can be taken back, whole or without the projects that
-- later work stands on: then kept counts those. The history is searched by
-- table, project and file.

-- +goose Up
ALTER TABLE batch ADD COLUMN undone INTEGER NOT NULL DEFAULT 0;
ALTER TABLE batch ADD COLUMN kept INTEGER NOT NULL DEFAULT 0;
UPDATE batch SET undone = coalesce((SELECT undone FROM run WHERE run.batch = batch.id), 0);
ALTER TABLE run DROP COLUMN undone;
CREATE INDEX batch_undone ON batch (undone) WHERE undone <> 0;
DROP INDEX change_batch;
CREATE INDEX change_batch ON change (batch, tbl);
CREATE INDEX file_batch ON file (batch);

-- +goose Down
SELECT 1;
