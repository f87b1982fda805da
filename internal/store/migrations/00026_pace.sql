-- How the pace of a project's backlog is taken.

-- +goose Up
ALTER TABLE project ADD COLUMN pace_periods INTEGER;
ALTER TABLE project ADD COLUMN grace_days INTEGER;

-- +goose Down
SELECT 1;
