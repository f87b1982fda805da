-- A batch of any origin can be taken back, whole or without the projects that
-- later work stands on: then kept counts those. The history is searched by
-- table, project and file; what a batch touched is kept with it, as SQL tables
-- and kinds of parts, so that a list need not read its changes.

-- +goose Up
ALTER TABLE batch ADD COLUMN undone INTEGER NOT NULL DEFAULT 0;
ALTER TABLE batch ADD COLUMN kept INTEGER NOT NULL DEFAULT 0;
UPDATE batch SET undone = coalesce((SELECT undone FROM run WHERE run.batch = batch.id), 0);
ALTER TABLE run DROP COLUMN undone;
ALTER TABLE batch ADD COLUMN touched TEXT NOT NULL DEFAULT '';
ALTER TABLE batch ADD COLUMN projects INTEGER NOT NULL DEFAULT 0;
UPDATE batch SET
  touched = coalesce((SELECT group_concat(what) FROM (SELECT DISTINCT tbl AS what FROM change c WHERE c.batch = batch.id UNION SELECT DISTINCT CAST(kind AS TEXT) FROM part_change pc WHERE pc.batch = batch.id)), ''),
  projects = (SELECT count(DISTINCT project) FROM part_change pc WHERE pc.batch = batch.id);
CREATE INDEX batch_undone ON batch (undone) WHERE undone <> 0;
DROP INDEX change_batch;
CREATE INDEX change_batch ON change (batch, tbl);
CREATE INDEX file_batch ON file (batch);

-- +goose Down
SELECT 1;
