package store

import (
	"context"
	"crypto/sha256"
	"fmt"
	"io/fs"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/require"

	"turret/internal/store/format"
	"turret/internal/store/pages"
)

// TestEveryEarlierSchemaIsBroughtUp: a database of each version before this one
// opens, keeps what it held, and can be written to.
func TestEveryEarlierSchemaIsBroughtUp(t *testing.T) {
	ctx := context.Background()
	for version := int64(1); version < newestMigration(); version++ {
		path := filepath.Join(t.TempDir(), "old.db")
		db, err := sqlx.Open("sqlite", dsn(path, "journal_mode(WAL)"))
		require.NoError(t, err)
		if version >= sealedSince {
			c, err := db.Conn(ctx)
			require.NoError(t, err)
			require.NoError(t, pages.Reserve(ctx, c))
			_, err = c.ExecContext(ctx, "VACUUM")
			require.NoError(t, err)
			require.NoError(t, c.Close())
		}
		sub, err := fs.Sub(migrations, "migrations")
		require.NoError(t, err)
		p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
		require.NoError(t, err)
		_, err = p.UpTo(ctx, version)
		require.NoError(t, err)
		for _, q := range []string{
			"PRAGMA application_id = 0x54757272",
			"INSERT INTO batch (id, at, actor, origin, records) VALUES (1, 5, 'old', 'gather', 1)",
			fmt.Sprintf("INSERT INTO content (hash, size, body) VALUES (x'%x', 1, x'%x')", sha256.Sum256([]byte("a")), format.Compress([]byte("a"))),
			fmt.Sprintf("INSERT INTO file (id, hash, name, sender, at, batch) VALUES (1, x'%x', 'old.csv', 'old', 5, 1)", sha256.Sum256([]byte("a"))),
			"INSERT INTO refusal (batch, file, line, field, value, reason, cells) VALUES (1, 1, 2, 'a', 'b', 'c', '{\"a\":\"b\"}')",
			"INSERT INTO programme (id, programme, batch) VALUES (1, 'G', 1)",
		} {
			_, err := db.ExecContext(ctx, q)
			require.NoError(t, err, q)
		}
		require.NoError(t, db.Close())
		s, err := Open(ctx, path, false)
		require.NoError(t, err, "from version %d", version)
		list, err := s.Refusals(ctx, 0, Waiting, 10)
		require.NoError(t, err)
		require.Len(t, list, 1)
		require.Equal(t, map[string]string{"a": "b"}, list[0].Cells)
		runs, err := s.Runs(ctx, 10)
		require.NoError(t, err)
		require.Empty(t, runs, "what came before runs were kept is no run")
		id, err := s.Commit(
			ctx,
			&Batch{
				Base:    1,
				Actor:   "new",
				Origin:  "drop",
				Settled: []Settled{{IDs: []int64{list[0].ID}, State: Dropped, Why: "old"}},
			},
		)
		require.NoError(t, err)
		require.Equal(t, int64(2), id)
		require.NoError(t, s.Close())
	}
}
