package store_test

import (
	"context"
	"fmt"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"turret/internal/store"
)

// logged is a database with so many entries in its log of access, at moments 1, 2, 3.
func logged(t *testing.T, n int) (*store.Store, string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "log.db")
	s, err := store.Open(context.Background(), path, true)
	require.NoError(t, err)
	for i := range n {
		require.NoError(t, s.LogAccess(context.Background(), store.Access{
			At: int64(i + 1), Account: int64(i % 2), Name: fmt.Sprint("N", i), Source: "127.0.0.1", What: []string{"signed in", "took"}[i%2], Detail: fmt.Sprintf("/page%d <ü>", i),
		}, 0))
	}
	return s, path
}

func TestAccessLog(t *testing.T) {
	ctx := context.Background()
	s, path := logged(t, 6)
	ids := func(ask store.AccessAsk) (out []int64) {
		t.Helper()
		if ask.Most == 0 {
			ask.Most = 10
		}
		list, err := s.AccessLog(ctx, ask)
		require.NoError(t, err)
		for _, a := range list {
			out = append(out, a.ID)
		}
		return out
	}
	for _, c := range []struct {
		ask  store.AccessAsk
		want []int64
	}{
		{store.AccessAsk{}, []int64{6, 5, 4, 3, 2, 1}},
		{store.AccessAsk{Most: 2}, []int64{6, 5}},
		{store.AccessAsk{Before: 5, Most: 2}, []int64{4, 3}},
		{store.AccessAsk{What: []string{"took"}}, []int64{6, 4, 2}},
		{store.AccessAsk{Text: "PAGE3"}, []int64{4}},
		{store.AccessAsk{Text: "127.0"}, []int64{6, 5, 4, 3, 2, 1}},
		{store.AccessAsk{Text: "n5"}, []int64{6}},
		{store.AccessAsk{Text: "%"}, nil},
		{store.AccessAsk{From: 3, Until: 5}, []int64{4, 3}},
	} {
		require.Equal(t, c.want, ids(c.ask), "%+v", c.ask)
	}
	require.NoError(t, s.LogAccess(ctx, store.Access{At: 7, What: "took"}, 4)) // and forgets what is older
	require.Equal(t, []int64{7, 6, 5, 4}, ids(store.AccessAsk{}))
	require.NoError(t, s.LogAccess(ctx, store.Access{At: 8, What: "took"}, 100))
	require.Equal(t, []int64{8}, ids(store.AccessAsk{}), "the last stays")
	require.NoError(t, s.Close())
	require.NoError(t, store.Verify(ctx, path), "what was forgotten leaves a chain that begins later")
}

// TestAlteredLog: an entry that is altered, taken out, put in, swapped, or cut off at either
// end shows.
func TestAlteredLog(t *testing.T) {
	for name, sql := range map[string]string{
		"a name":          "UPDATE access SET name = 'Somebody' WHERE id = 3",
		"a moment":        "UPDATE access SET at = 9 WHERE id = 3",
		"a page":          "UPDATE access SET detail = '' WHERE id = 6",
		"one is gone":     "DELETE FROM access WHERE id = 3",
		"the first gone":  "DELETE FROM access WHERE id = 1",
		"the last gone":   "DELETE FROM access WHERE id = 6",
		"all gone":        "DELETE FROM access",
		"one is more":     "INSERT INTO access SELECT 7, at, account, name, source, what, detail, hash FROM access WHERE id = 6",
		"two are swapped": "UPDATE access SET id = CASE id WHEN 2 THEN 30 ELSE id END; UPDATE access SET id = 2 WHERE id = 3; UPDATE access SET id = 3 WHERE id = 30",
		"its ends":        "UPDATE access_ends SET first = last",
		"no ends":         "DELETE FROM access_ends",
	} {
		s, path := logged(t, 6)
		require.NoError(t, s.Close())
		require.NoError(t, store.Verify(context.Background(), path), name)
		db, err := sqlx.Open("sqlite", path)
		require.NoError(t, err)
		_, err = db.Exec(sql)
		require.NoError(t, err)
		require.NoError(t, db.Close())
		require.ErrorIs(t, store.Verify(context.Background(), path), store.ErrDamaged, name)
	}
}
