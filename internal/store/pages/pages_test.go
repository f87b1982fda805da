package pages

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"
)

func TestSum(t *testing.T) {
	page := make([]byte, 512)
	page[7] = 3
	require.True(t, sound(page, 9), "a page of a journal has no sum yet")
	put(page, 9)
	require.True(t, sound(page, 9))
	require.False(t, sound(page, 10), "in another place")
	for bit := range 512 * 8 {
		page[bit/8] ^= 1 << (bit % 8)
		require.False(t, sound(page, 9), "bit %d", bit)
		page[bit/8] ^= 1 << (bit % 8)
	}
	require.False(t, sound(make([]byte, 512), 9), "a page that is lost")
	empty := make([]byte, 512)
	put(empty, 9)
	require.True(t, sound(empty, 9), "a page of zeros that was written")
}

func TestIsPage(t *testing.T) {
	for _, c := range []struct {
		length int32
		offset int64
		want   bool
	}{
		{4096, 0, true},
		{4096, 8192, true},
		{512, 512, true},
		{65536, 131072, true},
		{4096, 512, false},
		{100, 0, false},
		{256, 256, false},
		{4096 + 24, 0, false},
	} {
		require.Equal(t, c.want, isPage(c.length, c.offset), "%d at %d", c.length, c.offset)
	}
}

// TestOtherDatabasesAreAsEver: one without room for sums is neither written nor read with
// them; sealing or checking it is an error.
func TestOtherDatabasesAreAsEver(t *testing.T) {
	require.NoError(t, Use())
	path := filepath.Join(t.TempDir(), "x.db")
	db, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	_, err = db.Exec("CREATE TABLE x (y); INSERT INTO x VALUES (zeroblob(20000))")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	sums, err := Sealed(path)
	require.NoError(t, err)
	require.False(t, sums)
	require.ErrorIs(t, Seal(path), ErrUnsealed)
	_, err = Check(path)
	require.ErrorIs(t, err, ErrUnsealed)
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	b[len(b)-1] ^= 1
	require.NoError(t, os.WriteFile(path, b, 0o600))
	db, err = sqlx.Open("sqlite", path)
	require.NoError(t, err)
	var n int
	require.NoError(t, db.Get(&n, "SELECT length(y) FROM x"))
	require.Equal(t, 20000, n)
	require.NoError(t, db.Close())
}

// TestSealAndCheck: what another program changed is found, and found sound once sealed.
func TestSealAndCheck(t *testing.T) {
	require.NoError(t, Use())
	path := filepath.Join(t.TempDir(), "x.db")
	db, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	c, err := db.Conn(t.Context())
	require.NoError(t, err)
	require.NoError(t, Reserve(t.Context(), c))
	_, err = c.ExecContext(t.Context(), "VACUUM; CREATE TABLE x (y); INSERT INTO x VALUES (zeroblob(20000)), ('a')")
	require.NoError(t, err)
	require.NoError(t, c.Close())
	require.NoError(t, db.Close())
	bad, err := Check(path)
	require.NoError(t, err)
	require.Empty(t, bad)
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Zero(t, len(b)%4096)
	b[4096*2+100] ^= 4
	require.NoError(t, os.WriteFile(path, b, 0o600))
	bad, err = Check(path)
	require.NoError(t, err)
	require.Equal(t, []uint32{3}, bad)
	require.NoError(t, Seal(path))
	bad, err = Check(path)
	require.NoError(t, err)
	require.Empty(t, bad)
	require.NoError(t, os.WriteFile(path, b[:len(b)-100], 0o600))
	_, err = Check(path)
	require.ErrorContains(t, err, "ends in the middle of a page")
}

// TestLargeValuesOfAnyLength: SQLite reads what does not fit a page without the ends of its
// pages, and of the last one as much as there is: of any length it is what was written, and a
// bit that turns in any of its pages is told.
func TestLargeValuesOfAnyLength(t *testing.T) {
	require.NoError(t, Use())
	path := filepath.Join(t.TempDir(), "x.db")
	db, err := sqlx.Open("sqlite", path)
	require.NoError(t, err)
	c, err := db.Conn(t.Context())
	require.NoError(t, err)
	require.NoError(t, Reserve(t.Context(), c))
	_, err = c.ExecContext(t.Context(), "VACUUM; CREATE TABLE x (n INTEGER PRIMARY KEY, y BLOB, z BLOB)")
	require.NoError(t, err)
	// A value with another behind it ends anywhere in a page.
	var lengths []int
	for _, rest := range [...]int{512, 1024, 2048} {
		for n := rest - 24; n < rest+24; n++ {
			lengths = append(lengths, 4084+488+n)
		}
	}
	for i, n := range lengths {
		_, err := c.ExecContext(t.Context(), "INSERT INTO x VALUES (?, ?, zeroblob(6000))", i+1, bytes.Repeat([]byte{byte(i), 7}, n)[:n])
		require.NoError(t, err)
	}
	require.NoError(t, c.Close())
	require.NoError(t, db.Close())
	bad, err := Check(path)
	require.NoError(t, err)
	require.Empty(t, bad)
	read := func() (wrong int) {
		db, err := sqlx.Open("sqlite", path)
		require.NoError(t, err)
		defer db.Close()
		for i, n := range lengths {
			var y []byte
			if err := db.Get(&y, "SELECT y FROM x WHERE n = ?", i+1); err != nil {
				wrong++
				continue
			}
			require.Equal(t, bytes.Repeat([]byte{byte(i), 7}, n)[:n], y)
		}
		return wrong
	}
	require.Zero(t, read())
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	turned := 0
	for page := 40; page < len(b)/4096; page += 1 + len(b)/4096/40 {
		was := b[page*4096+100]
		b[page*4096+100] ^= 4
		require.NoError(t, os.WriteFile(path, b, 0o600))
		if read() > 0 { // what follows the values is not read
			turned++
		}
		b[page*4096+100] = was
	}
	require.Greater(t, turned, 10)
}
