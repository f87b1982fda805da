package store

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestFilesAreTheOwners: a database, what it writes beside itself, its backups and what is
// restored from them are read by their owner alone.
func TestFilesAreTheOwners(t *testing.T) {
	dir := t.TempDir()
	s := open(t, filepath.Join(dir, "a.db"))
	require.NoError(t, s.Backup(ctx, filepath.Join(dir, "b.db")))
	require.NoError(t, Restore(ctx, filepath.Join(dir, "b.db"), filepath.Join(dir, "c.db")))
	list, err := os.ReadDir(dir)
	require.NoError(t, err)
	var names []string
	for _, f := range list {
		info, err := f.Info()
		require.NoError(t, err)
		require.Equal(t, os.FileMode(0o600), info.Mode().Perm(), f.Name())
		names = append(names, f.Name())
	}
	require.Subset(t, names, []string{"a.db", "b.db", "c.db", "a.db-wal"})
}

// TestWhatIsThereIsLeft: a file that came meanwhile is never emptied; what a broken-off
// restore left does not stand in the way.
func TestWhatIsThereIsLeft(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "a.db")
	s := open(t, path)
	_, err := private(path)
	require.ErrorIs(t, err, os.ErrExist)
	require.NoError(t, s.Backup(ctx, filepath.Join(dir, "b.db")))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "c.db.part"), []byte("half"), 0o644))
	require.NoError(t, Restore(ctx, filepath.Join(dir, "b.db"), filepath.Join(dir, "c.db")))
	info, err := os.Stat(filepath.Join(dir, "c.db"))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), info.Mode().Perm())
}
