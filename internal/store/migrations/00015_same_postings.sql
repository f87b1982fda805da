-- Postings that may say the same stand together.

-- +goose Up
CREATE INDEX posting_same ON posting (period, project, amount, day, cost_code);

-- +goose Down
SELECT 1;
