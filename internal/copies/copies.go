// Package copies keeps a continuous copy of a database elsewhere: every second what was
// written meanwhile, so that an office whose machine is lost has all but that; and gets one
// back as it was at a moment.
package copies

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/url"
	"path/filepath"
	"strings"
	"time"

	"github.com/benbjohnson/litestream"
	"github.com/benbjohnson/litestream/file"
	_ "github.com/benbjohnson/litestream/s3" // targets that begin with s3://
	_ "github.com/benbjohnson/litestream/sftp"
)

// ErrTarget is the error of a target that copies cannot go to.
var ErrTarget = errors.New("copies go to a directory, to s3://bucket/path or to sftp://user@host/path")

// client gives the way to a target.
func client(target string) (litestream.ReplicaClient, error) {
	if !strings.Contains(target, "://") {
		if target == "" {
			return nil, ErrTarget
		}
		path, err := filepath.Abs(target)
		if err != nil {
			return nil, err
		}
		return file.NewReplicaClient(path), nil
	}
	u, err := url.Parse(target)
	if err != nil || u.Scheme != "s3" && u.Scheme != "sftp" && u.Scheme != "file" {
		return nil, fmt.Errorf("%q: %w", Redacted(target), ErrTarget)
	}
	c, err := litestream.NewReplicaClientFromURL(target)
	if err != nil {
		return nil, fmt.Errorf("%q: %w: %w", Redacted(target), ErrTarget, err)
	}
	return c, nil
}

// Redacted is a target without a password, for messages.
func Redacted(target string) string {
	if u, err := url.Parse(target); err == nil && u.Scheme != "" {
		return u.Redacted()
	}
	return target
}

// Check tells what is wrong with a target, or nothing; it is not gone to.
func Check(target string) error {
	_, err := client(target)
	return err
}

// Copier copies a database while it is in use.
type Copier struct {
	db    *litestream.DB
	store *litestream.Store
}

// Begin begins to copy a database, which is there already, to a target. Where the target
// does not answer it goes on trying, and the office goes on too.
func Begin(ctx context.Context, path, target string, log *slog.Logger) (*Copier, error) {
	c, err := client(target)
	if err != nil {
		return nil, err
	}
	db := litestream.NewDB(path)
	db.Replica = litestream.NewReplicaWithClient(db, c)
	store := litestream.NewStore([]*litestream.DB{db}, litestream.DefaultCompactionLevels)
	store.Logger = log.With("system", "copies")
	db.SetLogger(store.Logger)
	if err := store.Open(ctx); err != nil {
		return nil, fmt.Errorf("copies to %s: %w", Redacted(target), err)
	}
	return &Copier{db, store}, nil
}

// Sync copies what was written until now, and waits for it.
func (c *Copier) Sync(ctx context.Context) error { return c.db.SyncAndWait(ctx) }

// Close copies what was written until now, and ends.
func (c *Copier) Close(ctx context.Context) error {
	return errors.Join(c.Sync(ctx), c.store.Close(ctx))
}

// Restore writes a database from its copies to a path where nothing is: as it was at a
// moment, or, with the zero time, as it was copied last. What it gives has to be verified.
func Restore(ctx context.Context, target, path string, at time.Time) error {
	c, err := client(target)
	if err != nil {
		return err
	}
	if err := c.Init(ctx); err != nil {
		return fmt.Errorf("copies in %s: %w", Redacted(target), err)
	}
	opts := litestream.NewRestoreOptions()
	opts.OutputPath, opts.Timestamp = path, at
	r := litestream.NewReplicaWithClient(nil, c)
	if err := r.Restore(ctx, opts); err != nil {
		return fmt.Errorf("copies in %s: %w", Redacted(target), err)
	}
	return nil
}
