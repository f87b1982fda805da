-- +goose Up
-- Postings that may say the same are those that say something.
DROP INDEX posting_same;
CREATE INDEX posting_same ON posting (period, project, amount, day, cost_code) WHERE supplier <> '' OR text <> '';

-- +goose Down
SELECT 1;
