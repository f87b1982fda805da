package export

import (
	"context"

	"turret/internal/right"
	"turret/internal/store"
)

// Backup writes a consistent, verified copy of the database while it is in
// use.
func (o Room) Backup(ctx context.Context, a right.Actor, target string) error {
	if err := right.Check(a, right.Install); err != nil {
		return err
	}
	return o.Store().Backup(ctx, target)
}

// Restore puts a backup in place of a database that does not exist, once it is
// verified.
func Restore(ctx context.Context, a right.Actor, backup, target string) error {
	if err := right.Check(a, right.Install); err != nil {
		return err
	}
	return store.Restore(ctx, backup, target)
}

// RestoreWith puts a database in place of one that does not exist, which fill writes to a
// path, once it is verified.
func RestoreWith(ctx context.Context, a right.Actor, target string, fill func(path string) error) error {
	if err := right.Check(a, right.Install); err != nil {
		return err
	}
	return store.RestoreWith(ctx, target, fill)
}

// Verify tells why a database or a backup is not as it was written; nil where it is.
func Verify(ctx context.Context, a right.Actor, path string) error {
	if err := right.Check(a, right.Install); err != nil {
		return err
	}
	return store.Verify(ctx, path)
}

// Accept takes a database that nobody has open for right as it is.
func Accept(ctx context.Context, a right.Actor, path string) error {
	if err := right.Check(a, right.Install); err != nil {
		return err
	}
	return store.Accept(ctx, path)
}
